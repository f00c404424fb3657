import type { Vec2 } from '../../geometry/index.ts';

/** Long dash, gap and dot of line 04.1 in widths of the pen (ISO 128-2). */
const [DASH, GAP, DOT] = [24, 3, 0.5];

/** The same as lengths of dashes and gaps, for a pen of 1. */
export const CHAIN: readonly number[] = [DASH, GAP, DOT, GAP];

/**
 * A chain line along a run of points: dashes at both ends and in the middle, or one dash where it is short. A closed run
 * has no ends.
 */
export function chain(points: readonly Vec2[], pen: number): number[] {
  const lengths = points.slice(1).map(([x, y], at) => Math.hypot(x - points[at][0], y - points[at][1]));
  const whole = lengths.reduce((sum, one) => sum + one, 0);
  const gaps = (2 * GAP + DOT) * pen;
  const half = Math.round((whole / 2 - (DASH * pen) / 2) / (DASH * pen + gaps));
  if (half <= 0) return cutOut(points, lengths, 0, whole);
  // An even number of gaps, so that the middle lies in a dash; dashes are stretched so that it comes out even.
  const dash = (whole - 2 * half * gaps) / (2 * half + 1);
  const ends: number[] = [];
  for (let at = 0, from = 0; at <= 2 * half; at++, from += dash + gaps) {
    ends.push(...cutOut(points, lengths, from, from + dash));
    if (at === 2 * half) continue;
    const dot = from + dash + GAP * pen;
    ends.push(...cutOut(points, lengths, dot, dot + DOT * pen));
  }
  return ends;
}

/** The stretches of a run between two lengths along it. */
function cutOut(points: readonly Vec2[], lengths: readonly number[], from: number, to: number): number[] {
  const ends: number[] = [];
  let gone = 0;
  for (let at = 0; at < lengths.length && gone < to; gone += lengths[at++]) {
    const start = Math.max(from - gone, 0),
      end = Math.min(to - gone, lengths[at]);
    if (end - start <= 1e-9) continue;
    const [x, y] = points[at];
    const [dx, dy] = [(points[at + 1][0] - x) / lengths[at], (points[at + 1][1] - y) / lengths[at]];
    ends.push(x + dx * start, y + dy * start, x + dx * end, y + dy * end);
  }
  return ends;
}
