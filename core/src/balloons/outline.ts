import { distance2, distanceToStretch, hypot, stretchesCross, type Box2, type Vec2 } from '../geometry/index.ts';

/**
 * Balloons are circles, or, where the number is long, of the same height with straight sides: all points nearer than the
 * radius to a level spine through the middle. `extra` is half the length of that spine; 0 for a circle.
 */
export interface Outline {
  readonly radius: number;
  readonly extra: number;
  /** What is drawn within that; circles, drawn out where need be, where absent. */
  readonly shape?: BalloonShape;
}

/** What is drawn around a number, or below it, or nothing. */
export const balloonShapes = ['circle', 'hexagon', 'square', 'lozenge', 'underlined', 'none'] as const;
export type BalloonShape = (typeof balloonShapes)[number];

/** Half the room for a number in a circle, and for one of two with a bar between; mm per mm of radius. */
const HALF_ROOM = { 1: 0.78, 2: 0.55 } as const;
/** Numbers that stand in a balloon: one, or two with a bar between. */
export type Lines = 1 | 2;
/** Least radius of a balloon with a bar, in heights of its numbers: both stand clear of bar and border. */
export const BARRED_RADIUS = 1.9;
/** What is longer than this many radii on each side is set smaller instead. */
const MOST_EXTRA = 4;

/** Of that room, how much other shapes have; and how much room each mm has by which they are drawn out. */
const ROOM_OF: Readonly<Record<BalloonShape, { readonly share: number; readonly drawnOut: number }>> = {
  circle: { share: 1, drawnOut: 1 },
  hexagon: { share: 0.85, drawnOut: 1 },
  square: { share: 0.95, drawnOut: 1 },
  lozenge: { share: 0.85, drawnOut: 0.55 }, // its sides slant: what stands half its height has little more than half its width
  underlined: { share: 1.1, drawnOut: 1 },
  none: { share: 1.1, drawnOut: 1 },
};

/** How far a balloon is drawn out for a number of this width; mm. */
export function extraFor(textWidth: number, radius: number, lines: Lines = 1, shape: BalloonShape = 'circle'): number {
  const { share, drawnOut } = ROOM_OF[shape];
  const short = textWidth / 2 - radius * HALF_ROOM[lines] * share;
  return Math.min(Math.max(0, short / drawnOut), MOST_EXTRA * radius);
}

/** Room for a number inside; mm. */
export function widthInside({ radius, extra, shape = 'circle' }: Outline, lines: Lines = 1): number {
  const { share, drawnOut } = ROOM_OF[shape];
  return 2 * (radius * HALF_ROOM[lines] * share + extra * drawnOut);
}

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

/**
 * Where a leader to a point leaves the border of a balloon; the point itself where it lies inside. From a line below the
 * number it starts at the end that is nearer to the point.
 */
export function leaves(centre: Vec2, outline: Outline, point: Vec2): Vec2 {
  const { radius, extra, shape = 'circle' } = outline;
  if (shape === 'underlined') {
    const [left, right] = borderPoints(centre, outline);
    return point[0] < centre[0] ? left : right;
  }
  if (shape !== 'circle' && shape !== 'none') {
    const border = borderPoints(centre, outline);
    // Convex, its middle inside: at most one side is crossed.
    for (const [at, from] of border.entries()) {
      const to = border[(at + 1) % border.length];
      const met = meeting(centre, point, from, to);
      if (met) return met;
    }
    return point;
  }
  const [dx, dy] = [point[0] - centre[0], point[1] - centre[1]];
  const far = hypot(dx, dy);
  if (far === 0) return point;
  const [ux, uy] = [Math.abs(dx / far), Math.abs(dy / far)];
  // Through the level side, else through the half circle at the end.
  const side = uy > 0 ? radius / uy : Infinity;
  const along = side * ux <= extra ? side : extra * ux + Math.sqrt(Math.max(0, radius ** 2 - (extra * uy) ** 2));
  return along >= far ? point : [centre[0] + (dx / far) * along, centre[1] + (dy / far) * along];
}

/** Where two stretches meet; null where they do not. */
function meeting(a: Vec2, b: Vec2, c: Vec2, d: Vec2): Vec2 | null {
  const [dx, dy, ex, ey] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const turn = dx * ey - dy * ex;
  if (turn === 0) return null;
  const t = ((c[0] - a[0]) * ey - (c[1] - a[1]) * ex) / turn,
    s = ((c[0] - a[0]) * dy - (c[1] - a[1]) * dx) / turn;
  return t >= 0 && t <= 1 && s >= 0 && s <= 1 ? [a[0] + t * dx, a[1] + t * dy] : null;
}

const STEPS = 24; // of a half circle
/** Of a square in half heights; so it looks as large as a circle. */
const SQUARE = 0.86;
/** How far below the middle a line stands below a number; in radii. */
const UNDERLINE = 0.62;
/** The border as a closed run of points; an open line below the number, no point where nothing is drawn. */
export function borderPoints([x, y]: Vec2, { radius, extra, shape = 'circle' }: Outline): Vec2[] {
  const wide = extra + radius,
    square = SQUARE * radius;
  const around = (...points: Vec2[]) => points.map(([dx, dy]): Vec2 => [x + dx, y + dy]);
  if (shape === 'none') return [];
  if (shape === 'underlined') return around([-wide, UNDERLINE * radius], [wide, UNDERLINE * radius]);
  if (shape === 'lozenge') return around([wide + radius / 3, 0], [0, radius], [-wide - radius / 3, 0], [0, -radius]);
  if (shape === 'square')
    return around(
      [extra + square, square],
      [-extra - square, square],
      [-extra - square, -square],
      [extra + square, -square],
    );
  if (shape === 'hexagon') {
    const flat = extra + radius / 2,
      high = (Math.sqrt(3) / 2) * radius;
    return around([wide, 0], [flat, high], [-flat, high], [-wide, 0], [-flat, -high], [flat, -high]);
  }
  return [1, -1].flatMap((side) =>
    Array.from({ length: STEPS + 1 }, (_, at): Vec2 => {
      const turn = (Math.PI * at) / STEPS - Math.PI / 2;
      return [x + side * (extra + radius * Math.cos(turn)), y + side * radius * Math.sin(turn)];
    }),
  );
}
