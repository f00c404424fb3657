import { hashKey, isAssembly, parentsFirst, type Assembly, type Component, type Finding } from '../assembly/index.ts';
import type { Identity } from './records.ts';

/** What makes two lines one, per component: typed, so that number A1 is not name A1. */
export function identityKeys(assembly: Assembly, identity: Identity): { keys: string[]; findings: Finding[] } {
  const base = assembly.components.map((component) => plainIdentity(component, identity));
  const content = contentSignatures(assembly, base);
  const findings: Finding[] = [];
  const seen = new Map<string, string>();
  const told = new Set<string>();
  assembly.components.forEach((component, index) => {
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
  return { keys: base.map((key, index) => `${key} ${content[index]}`), findings };
}

function plainIdentity(component: Component, identity: Identity): string {
  const number = component.partNumber && `number:${component.partNumber}`;
  const name = component.name && `name:${component.name}`;
  return (identity === 'name' ? name || number : number || name) || `component:${component.key}`;
}

/** Hash of what is in each component, down to the parts, by identity and quantity; empty for parts. */
function contentSignatures(assembly: Assembly, base: readonly string[]): string[] {
  const signatures = new Array<string>(assembly.components.length).fill('');
  for (const at of parentsFirst(assembly).reverse()) {
    const component = assembly.components[at];
    if (!isAssembly(component)) continue;
    const quantities = new Map<string, number>();
    for (const { child, quantity } of component.usages) {
      const key = `${base[child]} ${signatures[child]}`;
      quantities.set(key, (quantities.get(key) ?? 0) + quantity);
    }
    signatures[at] = hashKey('contents', ...[...quantities].map(([key, quantity]) => `${quantity} ${key}`).sort());
  }
  return signatures;
}
