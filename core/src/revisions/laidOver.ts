import { listOccurrences, pathKey, type Assembly, type Occurrence, type PathKey } from '../assembly/index.ts';
import { distanceOf, sameTurn } from './usages.ts';

/** Where the bodies of two machines stand that are laid over one another. */
export interface LaidOver {
  /** Bodies that are in both, in one place and of one shape; as the later assembly has them. */
  readonly stays: readonly Occurrence[];
  /** Those of the earlier one that are not there any more, stood elsewhere or had another shape. */
  readonly was: readonly Occurrence[];
  /** Those of the later one that are not as they were. */
  readonly is: readonly Occurrence[];
}

/** What has moved by less stands where it stood: no picture of a whole machine shows it. mm */
const UNSEEN = 0.05;

/**
 * Two machines under one set of keys as they stand over one another: what is one in both is there once. Costs one walk
 * through the occurrences of each.
 * @throws Refusal where either has more occurrences than can be shown
 */
export function laidOver(before: Assembly, after: Assembly): LaidOver {
  const bodiesOf = (assembly: Assembly) =>
    listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
  const ownOf = ({ components }: Assembly, occurrence: Occurrence) => components[occurrence.components.at(-1)!];
  const left = new Map<PathKey, Occurrence>(bodiesOf(before).map((one) => [pathKey(one.path), one]));
  const stays: Occurrence[] = [],
    is: Occurrence[] = [];
  for (const one of bodiesOf(after)) {
    const key = pathKey(one.path);
    const was = left.get(key);
    const same =
      was !== undefined &&
      ownOf(before, was).shape === ownOf(after, one).shape &&
      ownOf(before, was).key === ownOf(after, one).key &&
      distanceOf(was.placement, one.placement) <= UNSEEN &&
      sameTurn(was.placement, one.placement);
    if (same) left.delete(key);
    (same ? stays : is).push(one);
  }
  return { stays, was: [...left.values()], is };
}
