import { hypot, type Mesh } from '../geometry/index.ts';
import type { Outline } from './outlines.ts';

/** What may differ between shapes that are taken for one symbol, besides where they stand. */
export interface LikeChoice {
  readonly turned: boolean;
  readonly mirrored: boolean;
  readonly scaled: boolean;
}

/** Points are one where they are closer than this share of the shape's size. */
const TOLERANCE = 2e-3;
/** Shapes of more points are compared by so many of them, evenly chosen. */
const MOST_POINTS = 600;
/** So that rounding never falls between equal shapes of plain numbers. */
const OFF = 0.00137;

/**
 * A name that shapes share which are alike up to move, turn, mirror and scale; others may share it too. What is told apart by it
 * needs no comparing.
 */
export function likeSignature(outlines: readonly Outline[]): string {
  const all = outlines.flatMap(({ points }) => points);
  const [cx, cy] = middle(all);
  let far = 0;
  for (let at = 0; at < all.length; at += 2) far = Math.max(far, hypot(all[at] - cx, all[at + 1] - cy));
  if (!(far > 0)) return '';
  const rounded = (value: number): number => Math.floor((value / far + OFF) * 50);
  return JSON.stringify(
    outlines.map(({ points, closed }) => {
      const radii: number[] = [];
      for (let at = 0; at < points.length; at += 2) radii.push(rounded(hypot(points[at] - cx, points[at + 1] - cy)));
      return [closed, radii.length, radii.sort((a, b) => a - b).slice(0, 40)];
    }),
  );
}

function middle(points: ArrayLike<number>, stride = 2): [number, number] {
  let x = 0,
    y = 0;
  const count = points.length / stride;
  for (let at = 0; at < points.length; at += stride) {
    x += points[at];
    y += points[at + 1];
  }
  return [x / count, y / count];
}

/** Whether two flat shapes are the same up to where they stand and what may differ. */
export const areAlike = (one: Mesh, other: Mesh, choice: LikeChoice): boolean => likesOf(one, [other], choice)[0];

/** A shape made ready for comparing: its points about their middle, and how far they lie from it. */
interface Ready {
  readonly points: readonly (readonly [number, number])[];
  /** Mean distance of the points. */
  readonly size: number;
  /** Ascending. */
  readonly radii: Float64Array;
}

/**
 * Which of these shapes are the same as one up to where they stand and what may differ. Every vertex must find one of the
 * other. Nearly all that are not are told by how far their points lie from the middle; of the turns that bring one point onto
 * those that lie as far, a wrong one ends at the first point that finds none. So the cost of each is a few times its points.
 */
export function likesOf(one: Mesh, others: readonly Mesh[], choice: LikeChoice): boolean[] {
  const own = readyFor(one);
  return others.map((other) => own !== null && isLike(own, readyFor(other), choice));
}

function readyFor(mesh: Mesh): Ready | null {
  const points = pointsOf(mesh);
  const size = sizeOf(points);
  if (points.length === 0 || !(size > 0)) return null;
  return { points, size, radii: Float64Array.from(points, (point) => hypot(...point)).sort() };
}

function isLike(a: Ready, b: Ready | null, { turned, mirrored, scaled }: LikeChoice): boolean {
  if (!b || a.points.length !== b.points.length) return false;
  const scale = b.size / a.size;
  if (!scaled && Math.abs(scale - 1) > TOLERANCE) return false;
  const near = b.size * TOLERANCE;
  // A point that finds another within `near` each way lies as far from the middle, but for the diagonal of that.
  if (a.radii.some((radius, at) => Math.abs(radius * scale - b.radii[at]) > near * Math.SQRT2)) return false;
  const points = a.points.map(([x, y]): [number, number] => [x * scale, y * scale]);
  const [from, onto] = fewestTurns(points, b.points, near);
  const grid = new PointGrid(b.points, near);
  for (const flip of mirrored ? [1, -1] : [1]) {
    const start = Math.atan2(from[1] * flip, from[0]);
    const angles = turned ? onto.map(([x, y]) => Math.atan2(y, x) - start) : [0];
    for (const angle of angles) {
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      if (points.every(([x, y]) => grid.has(cos * x - sin * y * flip, sin * x + cos * y * flip))) return true;
    }
  }
  return false;
}

/** A point far from the middle, and those of the other shape that it may come to lie on: of the far ones with the fewest. */
function fewestTurns(
  points: readonly (readonly [number, number])[],
  others: Ready['points'],
  near: number,
): [from: readonly [number, number], onto: readonly (readonly [number, number])[]] {
  const farthest = points.reduce((most, point) => Math.max(most, hypot(...point)), 0);
  const radii = others.map((point) => hypot(...point));
  const sorted = Float64Array.from(radii).sort();
  const countWithin = (radius: number) =>
    firstFrom(sorted, radius + near * Math.SQRT2) - firstFrom(sorted, radius - near * Math.SQRT2);
  let best = points[0],
    fewest = Infinity;
  for (const point of points) {
    const radius = hypot(...point);
    // One near the middle says too little about the turn.
    if (radius < farthest * FAR_SHARE) continue;
    const count = countWithin(radius);
    if (count > 0 && count < fewest) [best, fewest] = [point, count];
  }
  const radius = hypot(...best);
  return [best, others.filter((_, at) => Math.abs(radii[at] - radius) <= near * Math.SQRT2)];
}
const FAR_SHARE = 0.5;

/** Index of the first that is at least so much. */
function firstFrom(sorted: Float64Array, least: number): number {
  let low = 0,
    high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < least) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Points by cells as wide as they may be off. */
class PointGrid {
  private readonly cells = new Map<number, number[]>();
  constructor(
    private readonly points: Ready['points'],
    private readonly near: number,
  ) {
    points.forEach(([x, y], at) => {
      const cell = this.cell(Math.floor(x / near), Math.floor(y / near));
      const known = this.cells.get(cell);
      if (known) known.push(at);
      else this.cells.set(cell, [at]);
    });
  }
  has(x: number, y: number): boolean {
    const { near, points } = this;
    const [cx, cy] = [Math.floor(x / near), Math.floor(y / near)];
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (const at of this.cells.get(this.cell(cx + dx, cy + dy)) ?? [])
          if (Math.abs(points[at][0] - x) <= near && Math.abs(points[at][1] - y) <= near) return true;
    return false;
  }
  /** Coordinates reach some hundred thousand cells. */
  private cell = (x: number, y: number): number => x * 0x4000000 + y;
}

/** Vertices about their middle. */
function pointsOf({ positions }: Mesh): [number, number][] {
  const count = positions.length / 3;
  const [cx, cy] = middle(positions, 3);
  const step = Math.max(1, Math.ceil(count / MOST_POINTS));
  const points: [number, number][] = [];
  for (let at = 0; at < count; at += step) points.push([positions[at * 3] - cx, positions[at * 3 + 1] - cy]);
  return points;
}
const sizeOf = (points: readonly [number, number][]): number =>
  Math.sqrt(points.reduce((sum, [x, y]) => sum + x * x + y * y, 0) / points.length);
