import { distance2, distanceToStretch, hypot, stretchesCross, type Box2, type Vec2 } from '../geometry/index.ts';

/**
 * Balloons are circles, or, where the number is long, of the same height with straight sides: all points nearer than the
 * radius to a level spine through the middle. `extra` is half the length of that spine; 0 for a circle.
 */
export type Outline = { readonly radius: number; readonly extra: number };

/** Half the room for a number in a circle, and for one of two with a bar between; mm per mm of radius. */
const HALF_ROOM = { 1: 0.78, 2: 0.55 } as const;
/** Numbers that stand in a balloon: one, or two with a bar between. */
export type Lines = 1 | 2;
/** Least radius of a balloon with a bar, in heights of its numbers: both stand clear of bar and border. */
export const BARRED_RADIUS = 1.9;
/** What is longer than this many radii on each side is set smaller instead. */
const MOST_EXTRA = 4;

/** How far a balloon is drawn out for a number of this width; mm. */
export const extraFor = (textWidth: number, radius: number, lines: Lines = 1): number =>
  Math.min(Math.max(0, textWidth / 2 - radius * HALF_ROOM[lines]), MOST_EXTRA * radius);

/** Room for a number inside; mm. */
export const widthInside = ({ radius, extra }: Outline, lines: Lines = 1): number =>
  2 * (radius * HALF_ROOM[lines] + extra);

/** Around a balloon. */
export const balloonBox = ([x, y]: Vec2, { radius, extra }: Outline): Box2 => [
  x - radius - extra,
  y - radius,
  x + radius + extra,
  y + radius,
];

/** Between the spines of two balloons, each drawn out by `extra`. */
export const spinesApart = (a: Vec2, b: Vec2, extra: number): number =>
  extra === 0 ? distance2(a, b) : hypot(Math.max(0, Math.abs(a[0] - b[0]) - 2 * extra), a[1] - b[1]);

/** From the spine of a balloon to a stretch. */
export function spineToStretch(centre: Vec2, extra: number, from: Vec2, to: Vec2): number {
  if (extra === 0) return distanceToStretch(centre, from, to);
  const left: Vec2 = [centre[0] - extra, centre[1]],
    right: Vec2 = [centre[0] + extra, centre[1]];
  if (stretchesCross(left, right, from, to)) return 0;
  return Math.min(
    distanceToStretch(left, from, to),
    distanceToStretch(right, from, to),
    distanceToStretch(from, left, right),
    distanceToStretch(to, left, right),
  );
}

/** Where a leader to a point leaves the border of a balloon; the point itself where it lies inside. */
export function leaves(centre: Vec2, { radius, extra }: Outline, point: Vec2): Vec2 {
  const [dx, dy] = [point[0] - centre[0], point[1] - centre[1]];
  const far = hypot(dx, dy);
  if (far === 0) return point;
  const [ux, uy] = [Math.abs(dx / far), Math.abs(dy / far)];
  // Through the level side, else through the half circle at the end.
  const side = uy > 0 ? radius / uy : Infinity;
  const along = side * ux <= extra ? side : extra * ux + Math.sqrt(Math.max(0, radius ** 2 - (extra * uy) ** 2));
  return along >= far ? point : [centre[0] + (dx / far) * along, centre[1] + (dy / far) * along];
}

const STEPS = 24; // of a half circle
/** The border as a closed run of points. */
export function borderPoints([x, y]: Vec2, { radius, extra }: Outline): Vec2[] {
  return [1, -1].flatMap((side) =>
    Array.from({ length: STEPS + 1 }, (_, at): Vec2 => {
      const turn = (Math.PI * at) / STEPS - Math.PI / 2;
      return [x + side * (extra + radius * Math.cos(turn)), y + side * radius * Math.sin(turn)];
    }),
  );
}
