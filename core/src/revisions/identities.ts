import { parentsFirst, type Assembly, type Component, type ShapeKey } from '../assembly/index.ts';

/** What is known of the components of one assembly without looking at the other; everything by component index. */
export interface Identities {
  readonly assembly: Assembly;
  /** Number that equal contents share on both sides: shapes, or what assemblies hold; −1 for what nothing leads to. */
  readonly contents: Int32Array;
  /** Usages of each component: whose, and which of them. */
  readonly uses: readonly (readonly Use[])[];
  /** 1 where contents say more than names: there is a shape, or something in it. */
  readonly hasContents: Uint8Array;
  /** Part number without case, blanks and dashes, for numbers that were only written differently. */
  readonly plainNumbers: readonly string[];
}
export interface Use {
  readonly parent: number;
  /** Index among the parent's usages. */
  readonly at: number;
}

/** Gives equal texts equal numbers, over both assemblies. */
export interface Numbering {
  readonly of: (text: string) => number;
}
export function numbering(): Numbering {
  const known = new Map<string, number>();
  return {
    of: (text) => {
      let found = known.get(text);
      if (found === undefined) known.set(text, (found = known.size));
      return found;
    },
  };
}

/** @param numbers shared by both sides */
export function identitiesOf(assembly: Assembly, classOf: (shape: ShapeKey) => number, numbers: Numbering): Identities {
  const { components } = assembly;
  const uses: Use[][] = components.map(() => []);
  components.forEach(({ usages }, parent) => usages.forEach(({ child }, at) => uses[child].push({ parent, at })));
  const contents = new Int32Array(components.length).fill(-1);
  // What nothing leads to is not in this order; it has no contents, and is recognised by its names.
  for (const index of [...parentsFirst(assembly)].reverse())
    contents[index] = contentsOf(components[index], classOf, contents, numbers);
  return {
    assembly,
    contents,
    uses,
    hasContents: Uint8Array.from(components, ({ usages, shape }) => (usages.length > 0 || shape ? 1 : 0)),
    plainNumbers: components.map(({ partNumber }) => plainText(partNumber)),
  };
}

export const plainText = (text: string): string => text.toLowerCase().replace(/[\s\-–—_./]+/g, '');

/**
 * Of a part its shape, or what it is called where it has none; of an assembly what it holds and how often, whatever that
 * is called.
 */
function contentsOf(
  { usages, shape, partNumber, name }: Component,
  classOf: (shape: ShapeKey) => number,
  contents: Int32Array,
  numbers: Numbering,
): number {
  const own = shape ? `s${classOf(shape)}` : '';
  if (usages.length === 0) return numbers.of(own || `n${JSON.stringify([partNumber, name])}`);
  const counts = new Map<number, number>();
  for (const { child, quantity } of usages) counts.set(contents[child], (counts.get(contents[child]) ?? 0) + quantity);
  const held = [...counts].sort(([one], [other]) => one - other).map(([content, count]) => `${content}×${count}`);
  return numbers.of(`a${own}|${held.join()}`);
}
