import {
  LEFT_OUT_REASON,
  listOccurrences,
  ownValue,
  pathKey,
  Refusal,
  type Assembly,
  type PathKey,
} from '../../../core/src/assembly/index.ts';

import { propertyText } from '../../../core/src/columns/index.ts';

/** A place of a component. */
export interface SymbolUse {
  readonly path: PathKey;
  /** Index into the edited assembly, which has what is known of this place. */
  readonly component: number;
}

/**
 * All places of a component in the order of structure; null where there are more than can be stepped through.
 * @param originals component of the file that each component of the assembly is
 */
export function usesOf(assembly: Assembly, originals: readonly number[], component: number): SymbolUse[] | null {
  try {
    return listOccurrences(assembly, (index) => originals[index] === component).map(({ path, components }) => {
      return { path: pathKey(path), component: components[components.length - 1] };
    });
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
