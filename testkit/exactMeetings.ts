/**
 * A slow, plain judge of where solids pass through one another: the surface of one is divided into ever smaller pieces where
 * that of the other may pass, by its distance function alone. It shares no code with what draws views.
 */
import type { Vec3 } from '../core/src/geometry/index.ts';

/** In its own coordinates; mm. */
export type Solid =
  | { readonly kind: 'box'; readonly x: number; readonly y: number; readonly z: number }
  /** Standing on z = 0; a cylinder where both radii are one. */
  | { readonly kind: 'frustum'; readonly low: number; readonly high: number; readonly height: number }
  /** A ring with a bore, standing on z = 0. */
  | { readonly kind: 'tube'; readonly inner: number; readonly outer: number; readonly height: number }
  | { readonly kind: 'sphere'; readonly radius: number }
  | { readonly kind: 'torus'; readonly radius: number; readonly tube: number };

/** A piece of a surface over the unit square. */
interface Patch {
  readonly at: (u: number, v: number) => Vec3;
  /** Longest ways across, along u and along v; mm. */
  readonly size: readonly [number, number];
}

const { cos, sin, PI, max } = Math;

/** The surface of a solid in its own coordinates. */
function patchesOf(solid: Solid): Patch[] {
  switch (solid.kind) {
    case 'box': {
      const { x, y, z } = solid;
      return [0, 1].flatMap((far): Patch[] => [
        { at: (u, v) => [u * x, v * y, far * z], size: [x, y] },
        { at: (u, v) => [u * x, far * y, v * z], size: [x, z] },
        { at: (u, v) => [far * x, u * y, v * z], size: [y, z] },
      ]);
    }
    case 'frustum': {
      const { low, high, height } = solid;
      return [wall(low, high, height), disc(0, low, 0), disc(0, high, height)];
    }
    case 'tube': {
      const { inner, outer, height } = solid;
      return [
        wall(inner, inner, height),
        wall(outer, outer, height),
        disc(inner, outer, 0),
        disc(inner, outer, height),
      ];
    }
    case 'sphere': {
      const { radius } = solid;
      return [
        {
          at: (u, v) => [
            radius * sin(PI * v) * cos(2 * PI * u),
            radius * sin(PI * v) * sin(2 * PI * u),
            radius * cos(PI * v),
          ],
          size: [2 * PI * radius, PI * radius],
        },
      ];
    }
    case 'torus': {
      const { radius, tube } = solid;
      return [
        {
          at: (u, v) => [
            (radius + tube * cos(2 * PI * v)) * cos(2 * PI * u),
            (radius + tube * cos(2 * PI * v)) * sin(2 * PI * u),
            tube * sin(2 * PI * v),
          ],
          size: [2 * PI * (radius + tube), 2 * PI * tube],
        },
      ];
    }
  }
}

const wall = (low: number, high: number, height: number): Patch => ({
  at: (u, v) => {
    const radius = low + v * (high - low);
    return [radius * cos(2 * PI * u), radius * sin(2 * PI * u), v * height];
  },
  size: [2 * PI * max(low, high), Math.hypot(height, high - low)],
});
const disc = (inner: number, outer: number, z: number): Patch => ({
  at: (u, v) => {
    const radius = inner + v * (outer - inner);
    return [radius * cos(2 * PI * u), radius * sin(2 * PI * u), z];
  },
  size: [2 * PI * outer, outer - inner],
});

/** Nearer than this, surfaces touch; mm. */
const TOUCH = 1e-6;

/**
 * Short stretches of the lines in which the surface of a solid is cut by another's.
 * @param distance from the other solid, negative inside, in this solid's coordinates
 * @param step their length, about; mm
 * @param isWanted whether anything within so far of a point matters
 */
export function meetingStretches(
  solid: Solid,
  distance: (point: Vec3) => number,
  step: number,
  isWanted: (point: Vec3, within: number) => boolean,
): (readonly [Vec3, Vec3])[] {
  const found: (readonly [Vec3, Vec3])[] = [];
  for (const { at, size } of patchesOf(solid)) {
    const cornersOf = (u: number, v: number, du: number, dv: number) => [
      at(u, v),
      at(u + du, v),
      at(u + du, v + dv),
      at(u, v + dv),
    ];
    const look = (u: number, v: number, du: number, dv: number): void => {
      const [wide, high] = [size[0] * du, size[1] * dv];
      const middle = at(u + du / 2, v + dv / 2);
      if (Math.abs(distance(middle)) > (wide + high) / 2 || !isWanted(middle, wide + high)) return;
      if (wide + high < FLUSH && isFlush([middle, ...cornersOf(u, v, du, dv)], distance)) return;
      if (wide > step && wide >= high) return [0, 1].forEach((half) => look(u + (half * du) / 2, v, du / 2, dv));
      if (high > step) return [0, 1].forEach((half) => look(u, v + (half * dv) / 2, du, dv / 2));
      const stretch = crossed(cornersOf(u, v, du, dv), distance);
      if (stretch) found.push(stretch);
    };
    look(0, 0, 1, 1);
  }
  return found;
}

/** Pieces of this size that touch at their corners and middle touch all over; mm. */
const FLUSH = 4;
const isFlush = (points: readonly Vec3[], distance: (point: Vec3) => number): boolean =>
  points.every((point) => Math.abs(distance(point)) < TOUCH);

/** Where a small piece of a surface is cut: between the two sides at which the distance changes its sign. */
function crossed(corners: readonly Vec3[], distance: (point: Vec3) => number): readonly [Vec3, Vec3] | null {
  const off = corners.map(distance);
  const isIn = off.map((value) => value < -TOUCH);
  const points = corners.flatMap((corner, side) => {
    const next = (side + 1) % 4;
    if (isIn[side] === isIn[next]) return [];
    const share = off[side] / (off[side] - off[next]);
    return [corner.map((value, axis) => value + share * (corners[next][axis] - value)) as unknown as Vec3];
  });
  return points.length === 2 ? [points[0], points[1]] : null;
}
