import {
  componentsAlong,
  groupBy,
  listOccurrences,
  pathKey,
  pathOf,
  placementAlong,
  type Assembly,
  type PathKey,
} from '../assembly/index.ts';
import { distanceOf } from './usages.ts';

/**
 * Where places of an earlier assembly that the later one has no more went: to the nearest place of the same component,
 * under whatever parent; those of which nothing is left are not in it.
 * @param paths of the earlier assembly
 */
export function placesAgain(before: Assembly, after: Assembly, paths: Iterable<PathKey>): Map<PathKey, PathKey> {
  const lost = [...new Set(paths)].flatMap((path) => {
    const along = componentsAlong(before, pathOf(path));
    return along && !componentsAlong(after, pathOf(path))
      ? [{ path, key: before.components[along[along.length - 1]].key }]
      : [];
  });
  const found = new Map<PathKey, PathKey>();
  if (lost.length === 0) return found;
  const keys = new Set(lost.map(({ key }) => key));
  const places = groupBy(
    listOccurrences(after, (index) => keys.has(after.components[index].key)),
    ({ components }) => after.components[components[components.length - 1]].key,
  );
  for (const { path, key } of lost) {
    const stood = placementAlong(before, pathOf(path));
    let least = Infinity;
    for (const { path: other, placement } of places.get(key) ?? []) {
      const away = stood ? distanceOf(stood, placement) : 0;
      if (away >= least) continue;
      least = away;
      found.set(path, pathKey(other));
    }
  }
  return found;
}
