import { cross, dot, normalize, scale, subtract, type Vec3 } from './vectors.ts';

/**
 * An affine map: rows of a 3×4 matrix, `[r00 r01 r02 tx  r10 r11 r12 ty  r20 r21 r22 tz]`; translation in mm.
 * `p' = R p + t`.
 */
export type Placement = readonly number[];

export const identityPlacement: Placement = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** First `inner`, then `outer`. */
export function composePlacements(outer: Placement, inner: Placement): Placement {
  const out = new Array<number>(12);
  for (let row = 0; row < 3; row++) {
    const a = outer[row * 4],
      b = outer[row * 4 + 1],
      c = outer[row * 4 + 2];
    for (let column = 0; column < 4; column++) {
      out[row * 4 + column] = a * inner[column] + b * inner[4 + column] + c * inner[8 + column];
    }
    out[row * 4 + 3] += outer[row * 4 + 3];
  }
  return out;
}

export const applyToPoint = (m: Placement, p: Vec3): Vec3 => [
  m[0] * p[0] + m[1] * p[1] + m[2] * p[2] + m[3],
  m[4] * p[0] + m[5] * p[1] + m[6] * p[2] + m[7],
  m[8] * p[0] + m[9] * p[1] + m[10] * p[2] + m[11],
];

/** A direction turned (and stretched) by the placement; it is not moved. */
export const applyToDirection = (m: Placement, [x, y, z]: Vec3): Vec3 => [
  m[0] * x + m[1] * y + m[2] * z,
  m[4] * x + m[5] * y + m[6] * z,
  m[8] * x + m[9] * y + m[10] * z,
];

/** Negative for a mirroring placement. */
export const determinant = (m: Placement): number =>
  m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]);

/** @throws RangeError where the placement flattens space (determinant 0) */
export function invertPlacement(m: Placement): Placement {
  const size = determinant(m);
  if (size === 0)
    throw new RangeError('A placement with determinant 0 has no inverse; check the axes it was made from.');
  const r = [
    m[5] * m[10] - m[6] * m[9],
    m[2] * m[9] - m[1] * m[10],
    m[1] * m[6] - m[2] * m[5],
    m[6] * m[8] - m[4] * m[10],
    m[0] * m[10] - m[2] * m[8],
    m[2] * m[4] - m[0] * m[6],
    m[4] * m[9] - m[5] * m[8],
    m[1] * m[8] - m[0] * m[9],
    m[0] * m[5] - m[1] * m[4],
  ].map((value) => value / size);
  const t = [0, 3, 6].map((row) => -(r[row] * m[3] + r[row + 1] * m[7] + r[row + 2] * m[11]));
  return [r[0], r[1], r[2], t[0], r[3], r[4], r[5], t[1], r[6], r[7], r[8], t[2]];
}

/**
 * The frame with this origin, z along `axis` and x as near to `reference` as a right angle allows.
 * Source: ISO 10303-42, axis2_placement_3d (build_axes); missing directions default to z and x as there.
 */
export function placementFromAxes(origin: Vec3, axis: Vec3 | null, reference: Vec3 | null): Placement {
  const z = normalize(axis ?? [0, 0, 1]);
  let near: Vec3 = reference ?? [1, 0, 0];
  let x = subtract(near, scale(z, dot(near, z)));
  if (Math.hypot(...x) < 1e-9) {
    near = Math.abs(z[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
    x = subtract(near, scale(z, dot(near, z)));
  }
  x = normalize(x);
  const y = cross(z, x);
  return [x[0], y[0], z[0], origin[0], x[1], y[1], z[1], origin[1], x[2], y[2], z[2], origin[2]];
}
