import {
  ownValue,
  isAssembly,
  parentsFirst,
  wordFor,
  type Assembly,
  type Component,
  type Finding,
  type Treatment,
} from '../assembly/index.ts';
import { valueKey, valueOfProperty } from '../columns/index.ts';
import type { Recipe } from './records.ts';

export interface Identities {
  /** What makes two lines one, per component: typed, so that number A1 is not name A1. */
  readonly keys: readonly string[];
  /** The same without the contents of assemblies. */
  readonly base: readonly string[];
  /** The contents alone; empty for parts. */
  readonly content: readonly string[];
  readonly findings: Finding[];
}

export function identityKeys(
  assembly: Assembly,
  recipe: Pick<Recipe, 'identity' | 'identityWith'>,
  treatments: readonly (Treatment | undefined)[] = [],
): Identities {
  const base = assembly.components.map((component) => plainIdentity(component, recipe));
  const content = contentSignatures(assembly, base, treatments);
  const findings: Finding[] = [];
  const seen = new Map<string, string>();
  const told = new Set<string>();
  assembly.components.forEach((component, index) => {
    // One that nothing uses, as its places all have values of their own, has no contents to speak of.
    if (content[index] === '' && isAssembly(component)) return;
    const known = seen.get(base[index]);
    if (known === undefined) seen.set(base[index], content[index]);
    else if (known !== content[index] && !told.has(base[index])) {
      told.add(base[index]);
      findings.push({
        code: 'same-identity-different-contents',
        message: `“${component.partNumber || component.name}” stands for assemblies with different contents; they are kept as separate lines so that no quantity is wrong.`,
      });
    }
  });
  // Same number, different contents: kept apart, since one line's contents could not be right for both.
  return { keys: base.map((key, index) => `${key} ${content[index]}`), base, content, findings };
}

function plainIdentity(
  component: Component,
  { identity, identityWith = [] }: Pick<Recipe, 'identity' | 'identityWith'>,
): string {
  const number = component.partNumber && `number:${component.partNumber}`;
  const name = component.name && `name:${component.name}`;
  const shape = identity === 'shape' && component.shape && `shape:${component.shape}`;
  const own = (identity === 'name' ? name || number : shape || number || name) || `component:${component.key}`;
  const tag = component.keptApart === undefined ? '' : ` apart:${JSON.stringify(component.keptApart)}`;
  return identityWith.length === 0
    ? `${own}${tag}`
    : `${own}${tag} ${JSON.stringify(identityWith.map((property) => valueKey(valueOfProperty(ownValue(component.properties, property)))))}`;
}

/**
 * A name for what is in each component, down to the parts, by identity and quantity; empty for parts. Equal contents
 * get equal names within one call. Contents are compared as written out, not by hash: a bill may not rest on luck.
 */
function contentSignatures(
  assembly: Assembly,
  base: readonly string[],
  treatments: readonly (Treatment | undefined)[],
): string[] {
  const signatures = new Array<string>(assembly.components.length).fill('');
  const things = new Numbers(),
    contents = new Numbers();
  const thingOf = new Int32Array(assembly.components.length);
  for (const at of parentsFirst(assembly).reverse()) {
    const component = assembly.components[at];
    if (isAssembly(component)) {
      const quantities = new Map<number, number>();
      for (const { child, quantity } of component.usages)
        quantities.set(thingOf[child], (quantities.get(thingOf[child]) ?? 0) + quantity);
      const written = [...quantities]
        .sort((one, two) => one[0] - two[0])
        .map(([thing, quantity]) => `${thing}*${quantity}`)
        .join(' ');
      signatures[at] = `contents ${contents.of(written)}`;
    }
    const treatment = treatments[at]; // one that is treated otherwise inside is other contents
    thingOf[at] = things.of(`${base[at]} ${signatures[at]} ${treatment ? wordFor(treatment) : ''}`);
  }
  return signatures;
}

/** Gives every different text a number, in the order of first appearance. */
class Numbers {
  private readonly known = new Map<string, number>();

  of(text: string): number {
    const before = this.known.get(text);
    if (before !== undefined) return before;
    this.known.set(text, this.known.size);
    return this.known.size - 1;
  }
}
