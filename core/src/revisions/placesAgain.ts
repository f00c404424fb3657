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
import { distanceOf, sameTurn } from './usages.ts';

/** Nearer than this something stands where it stood, through several placements; mm. */
const SAME_SEAT = 0.01;

/**
 * Where places of an earlier assembly that the later one has no more are under another parent: those whose component
 * stands exactly where it stood.
 * @param paths of the earlier assembly
 */
export function placesMoved(before: Assembly, after: Assembly, paths: Iterable<PathKey>): Map<PathKey, PathKey> {
  const found = new Map<PathKey, PathKey>();
  for (const { path, stood, places } of lostPlaces(before, after, paths)) {
    const seat = places.find(
      ({ placement }) => distanceOf(placement, stood) <= SAME_SEAT && sameTurn(placement, stood),
    );
    if (seat) found.set(path, pathKey(seat.path));
  }
  return found;
}

/**
 * Where places of an earlier assembly that the later one has no more went: to the nearest place of the same component,
 * under whatever parent; those of which nothing is left are not in it.
 * @param paths of the earlier assembly
 */
export function placesAgain(before: Assembly, after: Assembly, paths: Iterable<PathKey>): Map<PathKey, PathKey> {
  const found = new Map<PathKey, PathKey>();
  for (const { path, stood, places } of lostPlaces(before, after, paths)) {
    let least = Infinity;
    for (const { path: other, placement } of places) {
      const away = distanceOf(stood, placement);
      if (away >= least) continue;
      least = away;
      found.set(path, pathKey(other));
    }
  }
  return found;
}

/** Places that the later assembly lacks, where each stood, and where its component stands now. */
function lostPlaces(before: Assembly, after: Assembly, paths: Iterable<PathKey>) {
  const lost = [...new Set(paths)].flatMap((path) => {
    const along = componentsAlong(before, pathOf(path));
    const stood = placementAlong(before, pathOf(path));
    return along && stood && !componentsAlong(after, pathOf(path))
      ? [{ path, stood, key: before.components[along[along.length - 1]].key }]
      : [];
  });
  if (lost.length === 0) return [];
  const keys = new Set(lost.map(({ key }) => key));
  const places = groupBy(
    listOccurrences(after, (index) => keys.has(after.components[index].key)),
    ({ components }) => after.components[components[components.length - 1]].key,
  );
  return lost.map(({ key, ...one }) => ({ ...one, places: places.get(key) ?? [] }));
}
