import { symmetricEigen } from './eigen.ts';
import { applyToPoint, type Placement } from './placements.ts';
import { hypot, add, cross, dot, length, normalize, scale, subtract, type Vec3 } from './vectors.ts';

/**
 * A surface of revolution whose profile is a straight line (cylinder, cone, plane across the axis) or a circle (sphere,
 * torus), in the coordinates of the points that it was found from; mm. With ρ the distance from the axis and h the way
 * along it from `origin`, the surface is where `distance` is 0.
 */
export interface Surface {
  readonly kind: 'plane' | 'cylinder' | 'cone' | 'sphere' | 'torus';
  readonly origin: Vec3;
  /** Unit vector. */
  readonly axis: Vec3;
  /** Line: normal (ρ, h) of the profile and its offset. Circle: centre ρ (0 for a sphere; h is 0) and radius. */
  readonly profile: readonly [number, number, number] | readonly [number, number];
  /** 1 or −1: turns `normalOf` to the side of the material's outside. */
  readonly side: 1 | -1;
}

/** Farthest vertex from the surface, as a share of the face's diagonal: kernels keep six digits and more. */
const FIT_SHARE = 5e-6;
/** A face's facets may lean this far from the surface; a wrong kind of surface through the same points leans more. Cosine. */
const LEAST_AGREEMENT = Math.cos(0.2);
/** Points looked at while fitting; all are looked at to judge the fit. */
const MOST_FITTED = 80;

/** Distance of a point from the surface, positive on the side away from the axis (or from the circle's centre). */
export function signedDistance(surface: Surface, point: Vec3): number {
  const { profile } = surface;
  const [rho, h] = polar(surface, point);
  return profile.length === 3
    ? profile[0] * rho + profile[1] * h - profile[2]
    : hypot(rho - profile[0], h) - profile[1];
}

/** Unit normal at a point on (or near) the surface, to the outside of the material. */
export function normalOf(surface: Surface, point: Vec3): Vec3 {
  return scale(gradient(surface, point), surface.side);
}

/** The nearest point of the surface. */
export function ontoSurface(surface: Surface, point: Vec3): Vec3 {
  return subtract(point, scale(gradient(surface, point), signedDistance(surface, point)));
}

/**
 * How the normal turns towards the viewer as one goes on the surface towards the viewer, at a point where the view grazes
 * it: positive where the surface bends away on both sides (its outline may be seen), negative where the line of sight runs
 * on into the material (never seen). Source: J. Koenderink, "What does the occluding contour tell us about solid shape?",
 * Perception 13 (1984), the sign of the radial curvature.
 */
export function radialBend(surface: Surface, point: Vec3, viewer: Vec3): number {
  const step = 1e-3 * Math.max(surface.profile.length === 2 ? surface.profile[1] : polar(surface, point)[0], 1e-6);
  const at = (way: number) => dot(normalOf(surface, ontoSurface(surface, add(point, scale(viewer, way)))), viewer);
  return at(step) - at(-step);
}

/** Whether a straight line on the view plane outlines it: cylinders and cones, against spheres and tori. */
export const isRuled = ({ profile }: Surface): boolean => profile.length === 3;

/** Turning, moving and mirroring keep a surface what it is; null where the placement stretches it. */
export function placeSurface(surface: Surface, placement: Placement): Surface | null {
  const m = placement;
  const turned = (a: Vec3): Vec3 => [
    m[0] * a[0] + m[1] * a[1] + m[2] * a[2],
    m[4] * a[0] + m[5] * a[1] + m[6] * a[2],
    m[8] * a[0] + m[9] * a[1] + m[10] * a[2],
  ];
  const axes = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as Vec3[]
  ).map(turned);
  const stretch = Math.max(
    ...axes.map((axis) => Math.abs(length(axis) - 1)),
    ...[0, 1, 2].map((at) => Math.abs(dot(axes[at], axes[(at + 1) % 3]))),
  );
  if (stretch > MOST_STRETCH) return null;
  return { ...surface, origin: applyToPoint(placement, surface.origin), axis: normalize(turned(surface.axis)) };
}

/** Directions of files are given to six digits or so; what is further from a right-handed or mirrored frame is a stretch. */
const MOST_STRETCH = 1e-5;

/**
 * The point of both surfaces nearest to one that is near both, by Newton's steps of least length; where they touch
 * instead of crossing, the point of the first.
 */
export function ontoBoth(one: Surface, other: Surface, point: Vec3): Vec3 {
  let p = point;
  for (let step = 0; step < 4; step++) {
    const [n, m] = [gradient(one, p), gradient(other, p)];
    const [d, e] = [signedDistance(one, p), signedDistance(other, p)];
    const nm = dot(n, m);
    const det = 1 - nm * nm;
    if (det < 1e-4) return ontoSurface(one, point);
    const a = (d - nm * e) / det,
      b = (e - nm * d) / det;
    p = subtract(p, add(scale(n, a), scale(m, b)));
    if (Math.abs(d) + Math.abs(e) < 1e-10) break;
  }
  return p;
}

/** Surfaces this near are one: a share of the radius, or of the way from the origin. */
const SAME_SHARE = 1e-4;

/** Whether two surfaces, found from different faces, are one: then their faces meet in a seam, which is no edge. */
export function isSameSurface(one: Surface, other: Surface): boolean {
  if (one.kind !== other.kind) return false;
  const between = subtract(other.origin, one.origin);
  if (one.kind === 'sphere')
    return length(between) + Math.abs(one.profile[1] - other.profile[1]) <= SAME_SHARE * one.profile[1];
  const off = length(cross(between, one.axis));
  const along = dot(between, one.axis);
  if (length(cross(one.axis, other.axis)) > SAME_SHARE) return false;
  if (one.kind === 'plane') return dot(one.axis, other.axis) > 0 && Math.abs(along) <= SAME_SHARE * Math.max(off, 1e-3);
  const size = Math.max(Math.abs(one.profile[one.profile.length - 1]), Math.abs(one.profile[0]), off);
  const near = (a: number, b: number) => Math.abs(a - b) <= SAME_SHARE * Math.max(size, 1e-9);
  if (!near(off, 0)) return false;
  if (one.kind === 'cylinder') return near(Math.abs(one.profile[2] ?? 0), Math.abs(other.profile[2] ?? 0));
  if (one.kind === 'torus')
    return near(along, 0) && near(one.profile[0], other.profile[0]) && near(one.profile[1], other.profile[1]);
  // Cones: the same radius wherever along the axis they are asked.
  const way = dot(one.axis, other.axis) > 0 ? 1 : -1;
  const radiusAt = ({ profile: [n, m, d = 0] }: Surface, h: number) => (d - m * h) / n;
  return [0, 1].every((h) => near(Math.abs(radiusAt(one, h)), Math.abs(radiusAt(other, way * (h - along)))));
}

/** The plane with this unit normal; `offset` along it. */
export const planeSurface = (normal: Vec3, offset: number): Surface => ({
  kind: 'plane',
  origin: scale(normal, offset),
  axis: normal,
  profile: [0, 1, 0],
  side: 1,
});

/**
 * The point of all of these surfaces (three at most) nearest to one that is near all of them, by Newton's steps of least
 * length; null where they do not meet there.
 */
export function ontoAll(surfaces: readonly Surface[], point: Vec3): Vec3 | null {
  let p = point;
  for (let step = 0; step < 8; step++) {
    const off = surfaces.map((surface) => signedDistance(surface, p));
    if (off.every((value) => Math.abs(value) < 1e-10)) return p;
    const steep = surfaces.map((surface) => gradient(surface, p));
    const shares = solve(steep.map((row, at) => [...steep.map((other) => dot(row, other)), off[at]]));
    if (!shares) return null;
    p = shares.reduce<Vec3>((at, share, k) => subtract(at, scale(steep[k], share)), p);
  }
  return surfaces.every((surface) => Math.abs(signedDistance(surface, p)) < 1e-7) ? p : null;
}

function polar({ origin, axis }: Surface, point: Vec3): [number, number] {
  const from = subtract(point, origin);
  const h = dot(from, axis);
  return [length(subtract(from, scale(axis, h))), h];
}

function gradient(surface: Surface, point: Vec3): Vec3 {
  const { origin, axis, profile } = surface;
  const from = subtract(point, origin);
  const h = dot(from, axis);
  const across = subtract(from, scale(axis, h));
  const rho = length(across);
  const outwards: Vec3 = rho > 1e-12 ? scale(across, 1 / rho) : normalize(cross(axis, [0.36, 0.48, 0.8]));
  const [x, y] = profile.length === 3 ? profile : normal2(rho - profile[0], h);
  return add(scale(outwards, x), scale(axis, y));
}

const normal2 = (x: number, y: number): [number, number] => {
  const size = hypot(x, y);
  return size > 1e-12 ? [x / size, y / size] : [1, 0];
};

/** What is known of a face: its vertices, and its facets by their middle, unit normal (outwards) and area. */
export interface FacePoints {
  readonly points: readonly Vec3[];
  readonly middles: readonly Vec3[];
  readonly normals: readonly Vec3[];
  readonly areas: readonly number[];
}

/**
 * The plane, cylinder, cone, sphere or torus on which the vertices of a face lie, the plainest first (two rims alone lie on
 * a cone and on a ball; facets between them are a cone's); null where none holds them all (free-form faces, faces made
 * of several surfaces).
 * Sources: axis of a surface of revolution as the linear complex that its normals belong to: H. Pottmann, J. Wallner,
 * "Computational Line Geometry" (2001), section 4.1; then least squares by Gauss and Newton.
 */
export function fitSurface(face: FacePoints): Surface | null {
  if (face.points.length < 3 || face.normals.length === 0) return null;
  const { centre, size } = frameOf(face.points);
  if (size === 0) return null;
  const toUnit = (p: Vec3): Vec3 => scale(subtract(p, centre), 1 / size);
  const unit: FacePoints = { ...face, points: face.points.map(toUnit), middles: face.middles.map(toUnit) };
  const sample = spreadOver(unit.points);
  for (const propose of [plane, cylinder, cone, sphere, torus]) {
    for (const found of propose(unit, sample)) {
      const fits = unit.points.every((p) => Math.abs(signedDistance(found, p)) <= FIT_SHARE);
      if (!fits) continue;
      const side = sideOf(found, unit);
      if (side === 0) continue;
      return {
        ...found,
        side,
        origin: add(scale(found.origin, size), centre),
        profile:
          found.profile.length === 3
            ? [found.profile[0], found.profile[1], found.profile[2] * size]
            : [found.profile[0] * size, found.profile[1] * size],
      };
    }
  }
  return null;
}

/** Points from all over the list, since its order follows the facets: multiples of the golden ratio miss no pattern. */
function spreadOver(points: readonly Vec3[]): readonly Vec3[] {
  if (points.length <= MOST_FITTED) return points;
  return Array.from({ length: MOST_FITTED }, (_, at) => points[Math.floor(((at * 0.6180339887) % 1) * points.length)]);
}

function frameOf(points: readonly Vec3[]): { centre: Vec3; size: number } {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (const p of points)
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], p[axis]);
      high[axis] = Math.max(high[axis], p[axis]);
    }
  const centre: Vec3 = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2];
  return { centre, size: hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]) };
}

/** Slivers between points of one rim may lean anyhow; they are at most this share of a face's area. */
const SLIVER_SHARE = 0.02;

/** Which side is outside, by the facets; 0 where they do not agree with the surface. */
function sideOf(surface: Surface, { middles, normals, areas }: FacePoints): 1 | -1 | 0 {
  let outwards = 0,
    inwards = 0,
    leaning = 0;
  for (let at = 0; at < middles.length; at++) {
    const along = dot(gradient(surface, middles[at]), normals[at]);
    if (Math.abs(along) < LEAST_AGREEMENT) leaning += areas[at];
    else if (along > 0) outwards += areas[at];
    else inwards += areas[at];
  }
  const all = outwards + inwards + leaning;
  if (all - Math.max(outwards, inwards) > SLIVER_SHARE * all) return 0;
  return outwards > inwards ? 1 : -1;
}

type Propose = (face: FacePoints, sample: readonly Vec3[]) => Surface[];

const plane: Propose = ({ normals, areas, points }) => {
  const sum = normals.reduce((total, n, at) => add(total, scale(n, areas[at])), [0, 0, 0] as Vec3);
  if (length(sum) < 1e-12) return [];
  const axis = normalize(sum);
  // The plane's own offset: through the middle of the vertices' extent along its normal.
  let low = Infinity,
    high = -Infinity;
  for (const point of points) {
    const along = dot(point, axis);
    if (along < low) low = along;
    if (along > high) high = along;
  }
  const middle = (low + high) / 2;
  return [{ kind: 'plane', origin: scale(axis, middle), axis, profile: [0, 1, 0], side: 1 }];
};

const cylinder: Propose = ({ normals, areas }, sample) => {
  const spread = moment(normals, areas);
  const axis = symmetricEigen(spread).vectors[0] as unknown as Vec3;
  const [u, v] = across(axis);
  const circle = fitCircle(sample.map((p) => [dot(p, u), dot(p, v)]));
  if (!circle) return [];
  const origin = add(scale(u, circle[0]), scale(v, circle[1]));
  return [polish({ kind: 'cylinder', origin, axis, profile: [1, 0, circle[2]], side: 1 }, sample)];
};

const sphere: Propose = (_, sample) => {
  // |p|² = 2 c·p + d
  const solved = leastSquares(
    sample.map((p) => [2 * p[0], 2 * p[1], 2 * p[2], 1]),
    sample.map((p) => dot(p, p)),
  );
  if (!solved) return [];
  const origin: Vec3 = [solved[0], solved[1], solved[2]];
  const square = solved[3] + dot(origin, origin);
  return square > 0 ? [{ kind: 'sphere', origin, axis: [0, 0, 1], profile: [0, Math.sqrt(square)], side: 1 }] : [];
};

/** Points as distance from the axis that the facets' normals meet, and way along it. */
function aboutAxis({ middles, normals, areas }: FacePoints, sample: readonly Vec3[]) {
  const line = axisOfNormals(middles, normals, areas);
  if (!line) return null;
  const start: Surface = { kind: 'cone', ...line, profile: [1, 0, 0], side: 1 };
  return { start, profilePoints: sample.map((p) => polar(start, p)) };
}

/** Of a cone that is almost a cylinder, the normals meet almost anywhere; the cylinder is the better start then. */
const cone: Propose = (face, sample) => {
  const found = aboutAxis(face, sample);
  const profile = found && fitLine(found.profilePoints);
  return [
    ...(profile ? [polish({ ...found.start, profile }, sample)] : []),
    ...cylinder(face, sample).map((start) => polish({ ...start, kind: 'cone' }, sample)),
  ];
};

const torus: Propose = (face, sample) => {
  const found = aboutAxis(face, sample);
  const circle = found && fitCircle(found.profilePoints);
  if (!circle) return [];
  const { origin, axis } = found.start;
  const start: Surface = {
    kind: 'torus',
    origin: add(origin, scale(axis, circle[1])),
    axis,
    profile: [circle[0], circle[2]],
    side: 1,
  };
  return [polish(start, sample)];
};

function moment(vectors: readonly Vec3[], weights: readonly number[]): number[][] {
  const sum = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  vectors.forEach((n, at) => {
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) sum[i][j] += weights[at] * n[i] * n[j];
  });
  return sum;
}

/** Two unit vectors square to the axis and to each other. */
function across(axis: Vec3): [Vec3, Vec3] {
  const u = normalize(cross(axis, Math.abs(axis[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0]));
  return [u, cross(axis, u)];
}

/** The line that all normals meet: c·(p×n) + c̄·n = 0 for each, with c along the line and c̄ its moment. */
function axisOfNormals(
  middles: readonly Vec3[],
  normals: readonly Vec3[],
  areas: readonly number[],
): { origin: Vec3; axis: Vec3 } | null {
  const sum = Array.from({ length: 6 }, () => new Array<number>(6).fill(0));
  middles.forEach((p, at) => {
    const n = normals[at];
    const row = [...cross(p, n), ...n];
    for (let i = 0; i < 6; i++) for (let j = 0; j < 6; j++) sum[i][j] += areas[at] * row[i] * row[j];
  });
  const [c0, c1, c2, m0, m1, m2] = symmetricEigen(sum).vectors[0];
  const way: Vec3 = [c0, c1, c2];
  const size = length(way);
  if (size < 1e-6) return null;
  const axis = scale(way, 1 / size);
  return { axis, origin: cross(axis, scale([m0, m1, m2], 1 / size)) };
}

/** Centre and radius of the circle through points of a plane. Source: I. Kåsa, "A circle fitting procedure", 1976. */
function fitCircle(points: readonly (readonly [number, number])[]): [number, number, number] | null {
  const solved = leastSquares(
    points.map(([x, y]) => [2 * x, 2 * y, 1]),
    points.map(([x, y]) => x * x + y * y),
  );
  if (!solved) return null;
  const square = solved[2] + solved[0] ** 2 + solved[1] ** 2;
  return square > 0 ? [solved[0], solved[1], Math.sqrt(square)] : null;
}

/** Unit normal and offset of the line through points of a plane. */
function fitLine(points: readonly (readonly [number, number])[]): [number, number, number] | null {
  const count = points.length;
  const x0 = points.reduce((sum, [x]) => sum + x, 0) / count,
    y0 = points.reduce((sum, [, y]) => sum + y, 0) / count;
  let xx = 0,
    xy = 0,
    yy = 0;
  for (const [x, y] of points) {
    xx += (x - x0) ** 2;
    xy += (x - x0) * (y - y0);
    yy += (y - y0) ** 2;
  }
  const [normal] = symmetricEigen([
    [xx, xy],
    [xy, yy],
  ]).vectors;
  if (xx + yy === 0) return null;
  const turn = normal[0] < 0 ? -1 : 1;
  return [normal[0] * turn, normal[1] * turn, turn * (normal[0] * x0 + normal[1] * y0)];
}

/** Least squares by normal equations; null where they are singular. */
function leastSquares(rows: readonly (readonly number[])[], values: readonly number[]): number[] | null {
  const size = rows[0].length;
  const a = Array.from({ length: size }, () => new Array<number>(size + 1).fill(0));
  rows.forEach((row, at) => {
    for (let i = 0; i < size; i++) {
      for (let j = 0; j < size; j++) a[i][j] += row[i] * row[j];
      a[i][size] += row[i] * values[at];
    }
  });
  return solve(a);
}

/** Gauss elimination with pivoting on an augmented matrix; mutates it. */
function solve(a: number[][]): number[] | null {
  const size = a.length;
  const scaleOf = Math.max(...a.flat().map(Math.abs));
  for (let column = 0; column < size; column++) {
    let pivot = column;
    for (let row = column + 1; row < size; row++)
      if (Math.abs(a[row][column]) > Math.abs(a[pivot][column])) pivot = row;
    if (Math.abs(a[pivot][column]) <= 1e-14 * scaleOf) return null;
    [a[column], a[pivot]] = [a[pivot], a[column]];
    for (let row = 0; row < size; row++) {
      if (row === column) continue;
      const factor = a[row][column] / a[column][column];
      for (let k = column; k <= size; k++) a[row][k] -= factor * a[column][k];
    }
  }
  return a.map((row, at) => row[size] / row[at]);
}

/** Parameters that a kind of surface may still move by, as small changes. */
const FREE: Readonly<Record<Surface['kind'], number>> = { plane: 0, sphere: 0, cylinder: 5, cone: 6, torus: 7 };
const MOST_STEPS = 12;

/** Gauss and Newton's steps until the surface lies as near to the points as it gets. */
function polish(start: Surface, points: readonly Vec3[]): Surface {
  const free = FREE[start.kind];
  let now = start;
  let error = squares(now, points);
  for (let step = 0; step < MOST_STEPS && error > 1e-24; step++) {
    const zero = new Array<number>(free).fill(0);
    const here = points.map((p) => signedDistance(now, p));
    const SMALL = 1e-6;
    const moved = zero.map((_, k) => nudge(now, zero.with(k, SMALL)));
    const rows = points.map((p, at) => moved.map((surface) => (signedDistance(surface, p) - here[at]) / SMALL));
    const change = leastSquares(
      rows,
      here.map((value) => -value),
    );
    if (!change) break;
    const next = nudge(now, change);
    const after = squares(next, points);
    if (!(after < error)) break;
    [now, error] = [next, after];
  }
  return now;
}

const squares = (surface: Surface, points: readonly Vec3[]): number =>
  points.reduce((sum, p) => sum + signedDistance(surface, p) ** 2, 0);

/** The surface with its axis tilted and moved and its profile changed a little. */
function nudge(surface: Surface, by: readonly number[]): Surface {
  const [u, v] = across(surface.axis);
  const axis = normalize(add(surface.axis, add(scale(u, by[0]), scale(v, by[1]))));
  const origin = add(surface.origin, add(scale(u, by[2]), scale(v, by[3])));
  const { profile } = surface;
  if (profile.length === 2)
    return {
      ...surface,
      axis,
      origin: add(origin, scale(surface.axis, by[6])),
      profile: [profile[0] + by[4], profile[1] + by[5]],
    };
  const turn = by.length > 5 ? by[5] : 0;
  const [x, y] = normal2(profile[0] - turn * profile[1], profile[1] + turn * profile[0]);
  return { ...surface, axis, origin, profile: [x, y, profile[2] + by[4]] };
}
