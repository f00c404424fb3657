import {
  LEFT_OUT_REASON,
  listOccurrences,
  ownValue,
  pathKey,
  Refusal,
  wordFor,
  type Assembly,
  type PathKey,
  type Treatment,
  type ComponentIndex,
} from '../../../../core/src/assembly/index.ts';
import { propertyText } from '../../../../core/src/columns/index.ts';
import { isLayout } from '../../../../core/src/layouts/index.ts';

/** A place of a component. */
export interface SymbolUse {
  readonly path: PathKey;
  /** Index into the edited assembly, which has what is known of this place. */
  readonly component: ComponentIndex;
}

/**
 * Which components of an edited assembly are one in the structure: of a machine each is by itself; of a layout uses of a symbol are
 * one, whatever their attributes, and shapes that were declared to be one. −1 for shapes that are only drawn.
 */
export function structureGroups(
  assembly: Assembly,
  originals: readonly ComponentIndex[],
  treatments: readonly (Treatment | undefined)[],
): Int32Array {
  if (!isLayout(assembly)) return Int32Array.from(originals, (_, index) => index);
  const declared = new Map<string, number>();
  return Int32Array.from(originals, (original, index) => {
    const { drawn, name } = assembly.components[index];
    if (!drawn) return original;
    const treatment = treatments[index];
    if (treatment && wordFor(treatment) === 'left out' && name === '') return -1;
    const known = declared.get(name);
    if (known === undefined) declared.set(name, original);
    return known ?? original;
  });
}

/**
 * All places of a group in the order of structure; null where there are more than can be stepped through.
 * @param groups see `structureGroups`
 */
export function usesOf(assembly: Assembly, groups: ArrayLike<number>, group: number): SymbolUse[] | null {
  try {
    return listOccurrences(assembly, (index) => groups[index] === group).map(({ path, components }) => ({
      path: pathKey(path),
      component: components[components.length - 1],
    }));
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

/** Names of what uses differ in, in the order of first appearance. */
export function tellingApart({ components }: Assembly, uses: readonly SymbolUse[]): string[] {
  const own = [...new Set(uses.map(({ component }) => component))].map((at) => components[at].properties);
  const names = new Set(own.flatMap((properties) => Object.keys(properties)));
  names.delete(LEFT_OUT_REASON);
  return [...names].filter(
    (name) => new Set(own.map((properties) => propertyText(ownValue(properties, name)))).size > 1,
  );
}
