import { distance2, distanceToStretch, hypot, stretchesCross, type Box2, type Vec2 } from '../geometry/index.ts';

/**
 * Balloons are circles, or, where the number is long, of the same height with straight sides: all points nearer than the
 * radius to a level spine through the middle. `extra` is half the length of that spine; 0 for a circle.
 */
export type Outline = { readonly radius: number; readonly extra: number };

/** Clear space on each side of a number; mm per mm of radius. */
const PAD = 0.22;
/** What is longer than this many radii on each side is set smaller instead. */
const MOST_EXTRA = 4;

/** How far a balloon is drawn out for a number of this width; mm. */
export const extraFor = (textWidth: number, radius: number): number =>
  Math.min(Math.max(0, textWidth / 2 - radius * (1 - PAD)), MOST_EXTRA * radius);

/** Room for a number inside; mm. */
export const widthInside = ({ radius, extra }: Outline): number => 2 * (radius * (1 - PAD) + extra);

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
