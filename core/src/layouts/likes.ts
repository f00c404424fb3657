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

/**
 * Whether two flat shapes are the same up to where they stand and what may differ. Every vertex must find one of the other.
 * Cost: vertices of one times vertices of the other for each turn that comes into question.
 */
export function areAlike(one: Mesh, other: Mesh, { turned, mirrored, scaled }: LikeChoice): boolean {
  const [a, b] = [pointsOf(one), pointsOf(other)];
  if (a.length !== b.length || a.length === 0) return false;
  const [sizeA, sizeB] = [sizeOf(a), sizeOf(b)];
  if (!(sizeA > 0 && sizeB > 0)) return false;
  const scale = sizeB / sizeA;
  if (!scaled && Math.abs(scale - 1) > TOLERANCE) return false;
  const near = sizeB * TOLERANCE;
  const points = a.map(([x, y]): [number, number] => [x * scale, y * scale]);
  const far = points.reduce((best, point) => (hypot(...point) > hypot(...best) ? point : best));
  for (const flip of mirrored ? [1, -1] : [1]) {
    const from = Math.atan2(far[1] * flip, far[0]);
    const angles = turned
      ? b.filter((point) => Math.abs(hypot(...point) - hypot(...far)) <= near).map(([x, y]) => Math.atan2(y, x) - from)
      : [0];
    for (const angle of angles) {
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      const fits = points.every(([x, y]) => {
        const [px, py] = [cos * x - sin * y * flip, sin * x + cos * y * flip];
        return b.some(([qx, qy]) => Math.abs(px - qx) <= near && Math.abs(py - qy) <= near);
      });
      if (fits) return true;
    }
  }
  return false;
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
