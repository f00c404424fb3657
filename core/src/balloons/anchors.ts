import { distanceToStretch, type Vec2 } from '../geometry/index.ts';
import type { Spots } from '../views/index.ts';
import { roomEnough, type AnchorChoice } from './records.ts';

/** How many places per row the arrangement may choose from. */
const CHOICES = 10;
/** What a spot says that lies on a cut face; see `Spots.onFace`. */
const ON_CUT_FACE = 2;
/** How much farther from the border a cut face may lie than another place; mm. */
const CUT_FACE_BONUS = 40;

/**
 * For each row the places where its balloon's leader may end, best first: enough room before little room, then near the
 * border of the view (so that leaders do not run long across other parts), then roomy. A hatched area is clearer than any
 * other place, though it lies farther in.
 * @param rows row per entry of `spots.paths`, -1 for none
 * @param toPaper view plane to paper
 * @param scale paper mm per model mm
 * @param hull convex outline of the view on paper
 */
export function anchorChoices(
  spots: Spots,
  rows: readonly number[],
  toPaper: (x: number, y: number) => Vec2,
  scale: number,
  hull: readonly Vec2[],
): Map<number, AnchorChoice[]> {
  const byRow = new Map<number, (AnchorChoice & { score: number })[]>();
  for (let spot = 0; spot < spots.occurrences.length; spot++) {
    const row = rows[spots.occurrences[spot]];
    if (row < 0) continue;
    const point = toPaper(spots.points[spot * 2], spots.points[spot * 2 + 1]);
    const choice: AnchorChoice = {
      point,
      end: spots.onFace[spot] ? 'dot' : 'arrow',
      room: spots.room[spot] * scale,
      spot,
    };
    const depth = distanceToOutline(point, hull);
    const score =
      (roomEnough(choice) ? 0 : 1000 - 100 * Math.min(choice.room, 1)) +
      depth -
      4 * Math.min(choice.room, 3) +
      (choice.end === 'arrow' ? 3 : 0) -
      (spots.onFace[spot] === ON_CUT_FACE ? CUT_FACE_BONUS : 0);
    const list = byRow.get(row);
    if (list) list.push({ ...choice, score });
    else byRow.set(row, [{ ...choice, score }]);
  }
  for (const [row, list] of byRow) byRow.set(row, list.sort((a, b) => a.score - b.score).slice(0, CHOICES));
  return byRow;
}

/** Distance from a point to the nearest side of a polygon. */
export function distanceToOutline(point: Vec2, polygon: readonly Vec2[]): number {
  let nearest = Infinity;
  polygon.forEach(
    (corner, at) => (nearest = Math.min(nearest, distanceToStretch(point, corner, polygon[(at + 1) % polygon.length]))),
  );
  return nearest;
}

/** Whether the point lies inside a convex polygon given counter-clockwise (in a plane where y runs up) or clockwise. */
export function insideConvex([x, y]: Vec2, polygon: readonly Vec2[]): boolean {
  let positive = false,
    negative = false;
  polygon.forEach(([ax, ay], at) => {
    const [bx, by] = polygon[(at + 1) % polygon.length];
    const side = (bx - ax) * (y - ay) - (by - ay) * (x - ax);
    if (side > 0) positive = true;
    if (side < 0) negative = true;
  });
  return !(positive && negative);
}

/**
 * Corners of the convex hull, in order. Source: A. M. Andrew, "Another efficient algorithm for convex hulls in two
 * dimensions", Information Processing Letters 9 (1979).
 */
export function convexHull(points: readonly Vec2[]): Vec2[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (ordered: readonly Vec2[]) => {
    const chain: Vec2[] = [];
    for (const p of ordered) {
      while (chain.length >= 2) {
        const [a, b] = [chain[chain.length - 2], chain[chain.length - 1]];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}
