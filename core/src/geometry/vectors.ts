/** A point or direction; mm where it is a point. */
export type Vec3 = readonly [number, number, number];
/** A point on a view plane or on paper; which of the two, and which way y runs, is said where it is used. */
export type Vec2 = readonly [number, number];
/** `[minX, minY, maxX, maxY]` */
export type Box2 = readonly [number, number, number, number];

/** Length of (x, y, z). Drawings are far from where squares overflow, and `Math.hypot`, which minds that, is ten times as slow. */
export const hypot = (x: number, y: number, z = 0): number => Math.sqrt(x * x + y * y + z * z);

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, factor: number): Vec3 => [a[0] * factor, a[1] * factor, a[2] * factor];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length = (a: Vec3): number => hypot(a[0], a[1], a[2]);

/** The unit vector along `a`; `fallback` where `a` has no direction (length below 1e-12). */
export function normalize(a: Vec3, fallback: Vec3 = [0, 0, 1]): Vec3 {
  const size = length(a);
  return size < 1e-12 ? fallback : scale(a, 1 / size);
}

export const boxWidth = (box: Box2): number => box[2] - box[0];
export const boxHeight = (box: Box2): number => box[3] - box[1];
export const growBox = (box: Box2, by: number): Box2 => [box[0] - by, box[1] - by, box[2] + by, box[3] + by];
export const boxesOverlap = (a: Box2, b: Box2): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];
export const boxInside = (inner: Box2, outer: Box2): boolean =>
  inner[0] >= outer[0] && inner[1] >= outer[1] && inner[2] <= outer[2] && inner[3] <= outer[3];
/** The smallest box around both. */
export const uniteBoxes2 = (a: Box2, b: Box2): Box2 => [
  Math.min(a[0], b[0]),
  Math.min(a[1], b[1]),
  Math.max(a[2], b[2]),
  Math.max(a[3], b[3]),
];
export const moveBox = (box: Box2, dx: number, dy: number): Box2 => [
  box[0] + dx,
  box[1] + dy,
  box[2] + dx,
  box[3] + dy,
];
export const distance2 = (a: Vec2, b: Vec2): number => hypot(a[0] - b[0], a[1] - b[1]);

/** Distance of point p from the stretch a–b; all in one plane. */
export function distanceToStretch(p: Vec2, a: Vec2, b: Vec2): number {
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const square = dx * dx + dy * dy;
  const t = square === 0 ? 0 : Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square));
  return hypot(p[0] - a[0] - t * dx, p[1] - a[1] - t * dy);
}

/** Whether the open stretches a–b and c–d cross in one point; touching ends do not count. */
export function stretchesCross(a: Vec2, b: Vec2, c: Vec2, d: Vec2): boolean {
  const side = (p: Vec2, q: Vec2, r: Vec2) => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/** Whether the stretch a–b has a point inside the box (Liang and Barsky 1984, clipping of a parametric line). */
export function stretchMeetsBox(a: Vec2, b: Vec2, box: Box2): boolean {
  let from = 0;
  let to = 1;
  for (const [start, delta, low, high] of [
    [a[0], b[0] - a[0], box[0], box[2]],
    [a[1], b[1] - a[1], box[1], box[3]],
  ]) {
    if (delta === 0) {
      if (start <= low || start >= high) return false;
      continue;
    }
    const t0 = (low - start) / delta;
    const t1 = (high - start) / delta;
    from = Math.max(from, Math.min(t0, t1));
    to = Math.min(to, Math.max(t0, t1));
  }
  return from < to;
}
