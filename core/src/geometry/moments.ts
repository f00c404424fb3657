import { symmetricEigen } from './eigen.ts';
import { meshBox, boxDiagonal, type Mesh } from './meshes.ts';
import { hypot, cross, dot, length, normalize, type Vec3 } from './vectors.ts';

/** What a shape measures whatever way it is turned or moved; mm throughout. */
export interface Moments {
  readonly volume: number;
  readonly area: number;
  readonly centroid: Vec3;
  /** Second moments about the centroid along the principal axes, least first; mm⁵, of the solid. */
  readonly principal: Vec3;
  /** Unit vectors of those axes, a right-handed frame. */
  readonly axes: readonly [Vec3, Vec3, Vec3];
}

/**
 * Volume, area, centroid and second moments of the solid that the triangles enclose, by sums over the tetrahedra that
 * they make with the origin. Source: F. Tonon, "Explicit exact formulas for the 3-D tetrahedron inertia tensor in
 * terms of its vertex coordinates", Journal of Mathematics and Statistics 1 (2005).
 */
export function meshMoments(mesh: Mesh): Moments {
  const { positions: p, triangles: t } = mesh;
  const [x0, y0, z0] = meshBox(mesh); // sums about a corner of the shape: far from the origin digits would be lost
  let six = 0,
    area = 0;
  const first = [0, 0, 0],
    second = [0, 0, 0, 0, 0, 0]; // xx yy zz xy yz zx
  for (let at = 0; at < t.length; at += 3) {
    const corner = (n: number): Vec3 => [p[t[at + n] * 3] - x0, p[t[at + n] * 3 + 1] - y0, p[t[at + n] * 3 + 2] - z0];
    const a = corner(0),
      b = corner(1),
      c = corner(2);
    const det = dot(a, cross(b, c));
    area += length(cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]])) / 2;
    six += det;
    for (let i = 0; i < 3; i++) {
      first[i] += det * (a[i] + b[i] + c[i]);
      const j = (i + 1) % 3;
      second[i] += det * (a[i] * a[i] + b[i] * b[i] + c[i] * c[i] + a[i] * b[i] + b[i] * c[i] + c[i] * a[i]) * 2;
      second[i + 3] +=
        det *
        (2 * (a[i] * a[j] + b[i] * b[j] + c[i] * c[j]) +
          a[i] * b[j] +
          a[j] * b[i] +
          b[i] * c[j] +
          b[j] * c[i] +
          c[i] * a[j] +
          c[j] * a[i]);
    }
  }
  const volume = six / 6;
  const centre: Vec3 = six === 0 ? [0, 0, 0] : [first[0] / (4 * six), first[1] / (4 * six), first[2] / (4 * six)];
  const about = (i: number, j: number, sum: number) => sum / 120 - volume * centre[i] * centre[j];
  const { values, vectors } = principalFrame([
    [about(0, 0, second[0]), about(0, 1, second[3]), about(2, 0, second[5])],
    [about(0, 1, second[3]), about(1, 1, second[1]), about(1, 2, second[4])],
    [about(2, 0, second[5]), about(1, 2, second[4]), about(2, 2, second[2])],
  ]);
  return { volume, area, centroid: [centre[0] + x0, centre[1] + y0, centre[2] + z0], principal: values, axes: vectors };
}

/** Eigenvalues, least first, and their axes as a right-handed frame. */
function principalFrame(matrix: number[][]): { values: Vec3; vectors: [Vec3, Vec3, Vec3] } {
  const { values, vectors } = symmetricEigen(matrix);
  const [x, y] = vectors as unknown as Vec3[];
  return { values: values as unknown as Vec3, vectors: [x, y, cross(x, y)] };
}

/** How two shapes are alike: congruent by moving, or only by mirroring; null where they are not. */
export type Likeness = 'same' | 'mirrored';

/** Numbers that are equal for congruent and for mirrored shapes, to this share. */
const INVARIANT_TOLERANCE = 1e-5;
/** Two meshes of one shape have vertices this near, as a share of the diagonal; kernels keep six digits and more. */
const VERTEX_TOLERANCE = 2e-5;
/** Ways to lay one shape on the other that are tried before giving up: symmetric shapes have many. */
const MOST_TRIES = 400;

/** Whether volumes, areas and principal moments agree; only then need shapes be laid on one another. */
export function invariantsAgree(
  a: Pick<Moments, 'volume' | 'area' | 'principal'>,
  b: Pick<Moments, 'volume' | 'area' | 'principal'>,
): boolean {
  const near = (one: number, other: number) =>
    Math.abs(one - other) <= INVARIANT_TOLERANCE * Math.max(Math.abs(one), Math.abs(other));
  return (
    near(a.volume, b.volume) &&
    near(a.area, b.area) &&
    a.principal.every(
      (value, at) =>
        Math.abs(value - b.principal[at]) <= INVARIANT_TOLERANCE * Math.max(...a.principal, ...b.principal),
    )
  );
}

/**
 * Lays one mesh on the other: two far vertices of the first on all pairs of vertices of the second at the same
 * distances, then every vertex must find one of the other's. Meshes of one shape that were cut differently are not
 * recognised; two different shapes never are.
 */
export function compareMeshes(a: Mesh, b: Mesh): Likeness | null {
  const one = centred(a),
    other = centred(b);
  if (one.points.length === 0 || !invariantsAgree(one.moments, other.moments)) return null;
  const tolerance = Math.max(VERTEX_TOLERANCE * boxDiagonal(meshBox(a)), 1e-6);
  const cloud = new PointGrid(other.points, tolerance),
    back = one.points;
  const [a1, a2] = farPair(one.points);
  if (!a1 || !a2) return null;
  const far = (p: Vec3, q: Vec3) => hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  const within = (value: number, wanted: number) => Math.abs(value - wanted) <= 2 * tolerance;
  const firsts = other.points.filter((point) => within(length(point), length(a1))),
    seconds = other.points.filter((point) => within(length(point), length(a2)));
  let tries = 0;
  let mirrored = false;
  for (const b1 of firsts)
    for (const b2 of seconds) {
      if (!within(far(b1, b2), far(a1, a2))) continue;
      if (++tries > MOST_TRIES) return mirrored ? 'mirrored' : null;
      for (const sense of [1, -1] as const) {
        if (sense < 0 && mirrored) continue;
        const map = frameMap(a1, a2, b1, b2, sense);
        if (!back.every((point) => cloud.has(map(point)))) continue;
        if (one.points.length !== other.points.length) continue;
        if (sense > 0) return 'same';
        mirrored = true;
      }
    }
  return mirrored ? 'mirrored' : null;
}

/** Different vertices, from the centroid. */
function centred(mesh: Mesh): { points: Vec3[]; moments: Moments } {
  const moments = meshMoments(mesh);
  const [x, y, z] = moments.centroid;
  const step = Math.max(boxDiagonal(meshBox(mesh)) * 1e-7, 1e-9);
  const seen = new Set<string>();
  const points: Vec3[] = [];
  for (let at = 0; at < mesh.positions.length; at += 3) {
    const p: Vec3 = [mesh.positions[at] - x, mesh.positions[at + 1] - y, mesh.positions[at + 2] - z];
    const key = p.map((value) => Math.round(value / step)).join(' ');
    if (seen.has(key)) continue;
    seen.add(key);
    points.push(p);
  }
  return { points, moments };
}

/** The vertex farthest from the centroid, and the one that spans the largest triangle with both. */
function farPair(points: readonly Vec3[]): [Vec3 | null, Vec3 | null] {
  const most = (size: (point: Vec3) => number) =>
    points.reduce<[Vec3 | null, number]>(
      (best, point) => (size(point) > best[1] ? [point, size(point)] : best),
      [null, 1e-12],
    )[0];
  const first = most(length);
  return [first, first && most((point) => length(cross(first, point)))];
}

/** The map that carries the frame of (a1, a2) onto that of (b1, b2), mirrored for sense −1. */
function frameMap(a1: Vec3, a2: Vec3, b1: Vec3, b2: Vec3, sense: 1 | -1): (point: Vec3) => Vec3 {
  const frame = (p: Vec3, q: Vec3): [Vec3, Vec3, Vec3] => {
    const x = normalize(p),
      z = normalize(cross(p, q));
    return [x, cross(z, x), z];
  };
  const [ax, ay, az] = frame(a1, a2),
    [bx, by, bz] = frame(b1, b2);
  return (p) => {
    const u = dot(p, ax),
      v = dot(p, ay),
      w = sense * dot(p, az);
    return [u * bx[0] + v * by[0] + w * bz[0], u * bx[1] + v * by[1] + w * bz[1], u * bx[2] + v * by[2] + w * bz[2]];
  };
}

/** Asks whether a point lies within the tolerance of any of the given ones. */
class PointGrid {
  private readonly cells = new Map<string, Vec3[]>();
  constructor(
    points: readonly Vec3[],
    private readonly tolerance: number,
  ) {
    for (const point of points) {
      const key = point.map((value) => Math.floor(value / (2 * tolerance))).join(' ');
      const cell = this.cells.get(key);
      if (cell) cell.push(point);
      else this.cells.set(key, [point]);
    }
  }

  has(p: Vec3): boolean {
    const size = 2 * this.tolerance;
    const [x, y, z] = p.map((value) => Math.round(value / size)); // the eight cells around the nearest corner hold all that is near
    for (let dx = -1; dx < 1; dx++)
      for (let dy = -1; dy < 1; dy++)
        for (let dz = -1; dz < 1; dz++) {
          for (const q of this.cells.get(`${x + dx} ${y + dy} ${z + dz}`) ?? [])
            if (hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) <= this.tolerance) return true;
        }
    return false;
  }
}
