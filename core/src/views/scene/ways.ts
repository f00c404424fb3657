import { groupBy } from '../../assembly/index.ts';
import { meshBox, uniteBoxes, type Box3, type Mesh, type Vec3 } from '../../geometry/index.ts';
import { displacements, type PoseMove } from '../../poses/index.ts';
import type { Body } from '../records.ts';

/** A straight piece of the way on which something left its seat; machine coordinates, mm. */
export interface PathWay {
  readonly from: Vec3;
  readonly to: Vec3;
}

/**
 * The ways on which things left their seats, from the middle of what moved; one piece per step. What moved on comes along:
 * the way of a part begins where its subassembly has gone. What moved with everything that is shown has no way, nor have things
 * that stay together where one of their kind beside them is taken apart.
 * @param bodies where they stand in the pose
 */
export function pathWays(bodies: readonly Body[], moves: readonly PoseMove[]): PathWay[] {
  if (moves.length === 0) return [];
  const displaced = displacements(moves);
  const seats = new Map<string, Box3>();
  const shown = new Map<string, Mesh[]>();
  const wanted = new Set<string>(moves.map(({ path }) => path));
  for (const { path, mesh, placement } of bodies) {
    const by = displaced(path) ?? [0, 0, 0];
    const box = meshBox(mesh, placement).map((value, at) => value - by[at % 3]) as unknown as Box3;
    for (let end = path.length; end > 0; end = path.lastIndexOf('/', end - 1)) {
      const place = path.slice(0, end);
      if (!wanted.has(place)) continue;
      const within = shown.get(place);
      if (within) within.push(mesh);
      else shown.set(place, [mesh]);
      const known = seats.get(place);
      seats.set(place, known ? uniteBoxes(known, box) : box);
    }
  }
  const repeats = repeated(moves, shown);
  return moves.flatMap(({ path, steps }) => {
    const seat = seats.get(path);
    if (!seat || shown.get(path)!.length === bodies.length || repeats.has(path)) return [];
    const by = displaced(parentOf(path)) ?? [0, 0, 0];
    let at: Vec3 = [0, 1, 2].map((axis) => (seat[axis] + seat[axis + 3]) / 2 + by[axis]) as unknown as Vec3;
    return steps.map((step): PathWay => {
      const from = at;
      at = [from[0] + step[0], from[1] + step[1], from[2] + step[2]];
      return { from, to: at };
    });
  });
}

const parentOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/** Things of which one of their kind beside them is taken apart, while they are not. */
function repeated(moves: readonly PoseMove[], shown: ReadonlyMap<string, readonly Mesh[]>): Set<string> {
  const opened = new Set(moves.map(({ path }) => parentOf(path)));
  const ids = new Map<Mesh, number>();
  const kindOf = (path: string) =>
    `${parentOf(path)} ${(shown.get(path) ?? [])
      .map((mesh) => ids.get(mesh) ?? ids.set(mesh, ids.size).size - 1)
      .sort()
      .join()}`;
  return new Set(
    [
      ...groupBy(
        moves.map(({ path }) => path as string),
        kindOf,
      ).values(),
    ].flatMap((alike) => (alike.some((path) => opened.has(path)) ? alike.filter((path) => !opened.has(path)) : [])),
  );
}
