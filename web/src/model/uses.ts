import {
  LEFT_OUT_REASON,
  listOccurrences,
  pathKey,
  Refusal,
  type Assembly,
  type PathKey,
} from '../../../core/src/assembly/index.ts';

/** A place of a component. */
export interface SymbolUse {
  readonly path: PathKey;
  /** Index into the edited assembly, which has what is known of this place. */
  readonly component: number;
  /** Names of what is known of it. */
  readonly names: readonly string[];
}

/**
 * All places of a component in the order of structure; null where there are more than can be stepped through.
 * @param originals component of the file that each component of the assembly is
 */
export function usesOf(assembly: Assembly, originals: readonly number[], component: number): SymbolUse[] | null {
  try {
    return listOccurrences(assembly, (index) => originals[index] === component).map(({ path, components }) => {
      const own = components[components.length - 1];
      const names = Object.keys(assembly.components[own].properties).filter((name) => name !== LEFT_OUT_REASON);
      return { path: pathKey(path), component: own, names };
    });
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}
