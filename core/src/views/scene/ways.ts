import { meshBox, uniteBoxes, type Box3, type Vec3 } from '../../geometry/index.ts';
import { displacements, type PoseMove } from '../../poses/index.ts';
import type { Body } from '../records.ts';

/** A straight piece of the way on which something left its seat; machine coordinates, mm. */
export interface PathWay {
  readonly from: Vec3;
  readonly to: Vec3;
}

/**
 * The ways on which things left their seats, from the middle of what moved; one piece per step. What moved on comes along:
 * the way of a part begins where its subassembly has gone. What moved with everything that is shown has no way.
 * @param bodies where they stand in the pose
 */
export function pathWays(bodies: readonly Body[], moves: readonly PoseMove[]): PathWay[] {
  if (moves.length === 0) return [];
  const displaced = displacements(moves);
  const seats = new Map<string, Box3>();
  const shown = new Map<string, number>();
  const wanted = new Set<string>(moves.map(({ path }) => path));
  for (const { path, mesh, placement } of bodies) {
    const by = displaced(path) ?? [0, 0, 0];
    const box = meshBox(mesh, placement).map((value, at) => value - by[at % 3]) as unknown as Box3;
    for (let end = path.length; end > 0; end = path.lastIndexOf('/', end - 1)) {
      const place = path.slice(0, end);
      if (!wanted.has(place)) continue;
      shown.set(place, (shown.get(place) ?? 0) + 1);
      const known = seats.get(place);
      seats.set(place, known ? uniteBoxes(known, box) : box);
    }
  }
  return moves.flatMap(({ path, steps }) => {
    const seat = seats.get(path);
    if (!seat || shown.get(path) === bodies.length) return [];
    const parent = path.slice(0, Math.max(0, path.lastIndexOf('/')));
    const by = displaced(parent) ?? [0, 0, 0];
    let at: Vec3 = [0, 1, 2].map((axis) => (seat[axis] + seat[axis + 3]) / 2 + by[axis]) as unknown as Vec3;
    return steps.map((step): PathWay => {
      const from = at;
      at = [from[0] + step[0], from[1] + step[1], from[2] + step[2]];
      return { from, to: at };
    });
  });
}
