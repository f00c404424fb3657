import {
  add,
  cross,
  dot,
  faceSurfaces,
  length,
  meshVolume,
  normalize,
  normalOf,
  roundsOf,
  scale,
  subtract,
  type Mesh,
  type Vec3,
} from '../geometry/index.ts';

/** What of a shape tells whether it is cut lengthwise; coordinates of the shape, mm. */
export type SolidFacts =
  /** Solid about an axis: shaft, bolt, pin, rivet, roller. */
  | {
      readonly kind: 'rod';
      readonly from: Vec3;
      readonly axis: Vec3;
      readonly length: number;
      /** Of most of its length, and farthest from the axis. */
      readonly radius: number;
      readonly reach: number;
      /** Whether it is broader at one end, as a screw is. */
      readonly isHeaded: boolean;
    }
  /** Flat, with a bore through it: washer, nut. `sides` are flats along the axis. */
  | {
      readonly kind: 'ring';
      readonly from: Vec3;
      readonly axis: Vec3;
      readonly thickness: number;
      readonly bore: number;
      readonly reach: number;
      readonly sides: number;
    }
  | { readonly kind: 'ball'; readonly centre: Vec3; readonly radius: number }
  /** A long box, its ends flat or round: a key. */
  | {
      readonly kind: 'bar';
      readonly centre: Vec3;
      readonly axis: Vec3;
      readonly length: number;
      readonly breadth: number;
    }
  | { readonly kind: 'other' };

const known = new WeakMap<Mesh, SolidFacts>();

/** Found once per shape, from the surfaces of its faces. */
export function factsOf(mesh: Mesh): SolidFacts {
  let facts = known.get(mesh);
  if (!facts) known.set(mesh, (facts = ballOf(mesh) ?? roundOf(mesh) ?? barOf(mesh) ?? { kind: 'other' }));
  return facts;
}

const pointAt = (values: ArrayLike<number>, at: number): Vec3 => [
  values[at * 3],
  values[at * 3 + 1],
  values[at * 3 + 2],
];

function ballOf(mesh: Mesh): SolidFacts | null {
  const surfaces = faceSurfaces(mesh);
  const [first] = surfaces;
  if (!first || first.kind !== 'sphere' || first.side !== 1) return null;
  const radius = first.profile[1];
  const isOne = surfaces.every(
    (surface) => surface?.kind === 'sphere' && length(subtract(surface.origin, first.origin)) < 1e-3 * radius,
  );
  // A cap of a ball is none.
  const whole = (4 / 3) * Math.PI * radius ** 3;
  return isOne && meshVolume(mesh) > 0.8 * whole ? { kind: 'ball', centre: first.origin, radius } : null;
}

/** Round features on one axis. */
interface AxisFacts {
  readonly from: Vec3;
  readonly axis: Vec3;
  /** Along the axis, from `from`. */
  readonly outer: { readonly low: number; readonly high: number; readonly radius: number }[];
  readonly inner: { readonly low: number; readonly high: number; readonly radius: number }[];
}

const SAME_AXIS = 1e-3;

function axesOf(mesh: Mesh): AxisFacts[] {
  const surfaces = faceSurfaces(mesh);
  const found: AxisFacts[] = [];
  for (const { along, radius, faces } of roundsOf(mesh)) {
    const [from, to] = [along[0], along[along.length - 1]];
    const surface = surfaces[faces[0]];
    if (along.length !== 2 || !surface) continue;
    let own = found.find(
      ({ from: start, axis }) =>
        length(cross(subtract(from, start), axis)) < SAME_AXIS * radius &&
        length(cross(normalize(subtract(to, from), axis), axis)) < SAME_AXIS,
    );
    if (!own) found.push((own = { from, axis: surface.axis, outer: [], inner: [] }));
    const ends = [from, to].map((end) => dot(subtract(end, own.from), own.axis));
    const stretch = { low: Math.min(...ends), high: Math.max(...ends), radius };
    // Which side the matter is on: the outside of a shaft points away from its axis.
    const beside = add(scale(add(from, to), 0.5), scale(acrossOf(surface.axis), radius));
    const outwards = dot(normalOf(surface, beside), acrossOf(surface.axis)) > 0;
    (outwards ? own.outer : own.inner).push(stretch);
  }
  return found;
}

const acrossOf = (axis: Vec3): Vec3 => normalize(cross(axis, Math.abs(axis[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0]));

/** How far a shape goes along an axis and away from it. */
function extentAbout(mesh: Mesh, from: Vec3, axis: Vec3): { low: number; high: number; reach: number } {
  let low = Infinity,
    high = -Infinity,
    reach = 0;
  for (let at = 0; at * 3 < mesh.positions.length; at++) {
    const way = subtract(pointAt(mesh.positions, at), from);
    const along = dot(way, axis);
    low = Math.min(low, along);
    high = Math.max(high, along);
    reach = Math.max(reach, length(subtract(way, scale(axis, along))));
  }
  return { low, high, reach };
}

/** A rod is at least this long for its diameter; what is shorter is a disc. */
const LEAST_SLENDER = 0.8;
/** Its round sides take up at least this much of its length, and its head is at most so many times as broad. */
const LEAST_ROUND = 0.45,
  BROADEST_HEAD = 3;
/** A centre hole, or the hollow of a screw's head, goes no deeper than this share of it. */
const DEEPEST_HOLE = 0.6;
const THICKEST_RING = 1.4; // of its bore's diameter
const BROADEST_RING = 4;

function roundOf(mesh: Mesh): SolidFacts | null {
  for (const { from, axis, outer, inner } of axesOf(mesh)) {
    const { low, high, reach } = extentAbout(mesh, from, axis);
    const size = high - low;
    const deepest = Math.max(0, ...inner.map((one) => one.high - one.low));
    const start = add(from, scale(axis, low));
    const radius = usualRadius(outer);
    if (
      radius > 0 &&
      covered(outer) >= LEAST_ROUND * size &&
      deepest <= DEEPEST_HOLE * size &&
      reach <= BROADEST_HEAD * radius &&
      size >= LEAST_SLENDER * 2 * radius &&
      size >= 0.5 * reach &&
      fills(mesh, radius, size)
    )
      return {
        kind: 'rod',
        from: start,
        axis,
        length: size,
        radius,
        reach,
        isHeaded: isHeaded(mesh, start, axis, size, radius),
      };
    const bore = Math.min(Infinity, ...inner.map((one) => one.radius));
    if (covered(inner) >= 0.6 * size && size <= THICKEST_RING * 2 * bore && reach <= BROADEST_RING * bore)
      return { kind: 'ring', from: start, axis, thickness: size, bore, reach, sides: flatsAlong(mesh, axis) };
  }
  return null;
}

/** A head is so much broader than its shank, takes up at most so much of the length, and lies at the end but for so much. */
const HEAD = { broader: 1.25, longest: 0.6, off: 0.05 };

function isHeaded(mesh: Mesh, from: Vec3, axis: Vec3, size: number, radius: number): boolean {
  let low = Infinity,
    high = -Infinity;
  for (let at = 0; at * 3 < mesh.positions.length; at++) {
    const way = subtract(pointAt(mesh.positions, at), from);
    const along = dot(way, axis);
    if (length(subtract(way, scale(axis, along))) < HEAD.broader * radius) continue;
    low = Math.min(low, along);
    high = Math.max(high, along);
  }
  return (low < HEAD.off * size || high > (1 - HEAD.off) * size) && high - low < HEAD.longest * size;
}

/** The radius that most of the length has. */
function usualRadius(stretches: AxisFacts['outer']): number {
  let best = 0,
    most = 0;
  for (const { radius } of stretches) {
    const sum = stretches.reduce(
      (total, one) => total + (Math.abs(one.radius - radius) < 0.15 * radius ? one.high - one.low : 0),
      0,
    );
    if (sum > most) [best, most] = [radius, sum];
  }
  return best;
}

/** Length along the axis that the stretches cover. */
function covered(stretches: AxisFacts['outer']): number {
  let sum = 0,
    at = -Infinity;
  for (const { low, high } of stretches.toSorted((a, b) => a.low - b.low)) {
    sum += Math.max(0, high - Math.max(low, at));
    at = Math.max(at, high);
  }
  return sum;
}

/** Whether there is about as much matter as in a rod of that size, and not in a tube. */
const fills = (mesh: Mesh, radius: number, size: number): boolean =>
  meshVolume(mesh) > 0.6 * Math.PI * radius ** 2 * size;

const flatsAlong = (mesh: Mesh, axis: Vec3): number =>
  faceSurfaces(mesh).filter((surface) => surface?.kind === 'plane' && Math.abs(dot(surface.axis, axis)) < 1e-3).length;

/** A long box: its breadth and height are of one size, its length is more. */
function barOf(mesh: Mesh): SolidFacts | null {
  const surfaces = faceSurfaces(mesh);
  if (surfaces.length > 14 || surfaces.some((surface) => !surface || !['plane', 'cylinder'].includes(surface.kind)))
    return null;
  const ways: Vec3[] = [];
  for (const surface of surfaces) {
    if (surface!.kind === 'plane' && ways.every((way) => Math.abs(dot(way, surface!.axis)) < 1e-3))
      ways.push(surface!.axis);
    if (ways.length === 2) ways.push(normalize(cross(ways[0], ways[1])));
    if (ways.length === 3) break;
  }
  if (ways.length < 3) return null;
  const extents = ways.map((axis) => ({ axis, ...extentAbout(mesh, [0, 0, 0], axis) }));
  const sizes = extents.map(({ low, high }) => high - low);
  if (meshVolume(mesh) < 0.75 * sizes[0] * sizes[1] * sizes[2]) return null;
  const [longest, second] = extents.toSorted((a, b) => b.high - b.low - (a.high - a.low));
  const [size, breadth] = [longest.high - longest.low, second.high - second.low];
  if (size < 1.4 * breadth) return null;
  const centre = extents.reduce<Vec3>((sum, { axis, low, high }) => add(sum, scale(axis, (low + high) / 2)), [0, 0, 0]);
  return { kind: 'bar', centre, axis: longest.axis, length: size, breadth };
}
