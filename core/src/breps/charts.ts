import {
  add,
  dot,
  hypot,
  normalize,
  scale,
  subtract,
  type Placement,
  type Vec2,
  type Vec3,
} from '../geometry/index.ts';
import { NotElementary, type ElementarySurface, type Fineness } from './records.ts';

/**
 * A flat map of an elementary surface: every point of the surface has a place on it, in mm, near enough to true length
 * for facets that are well shaped on the map to serve on the surface; straight lines of cylinders and cones are
 * shortened. The surface's own normal looks at the reader of the map. Source of the parameters: ISO 10303-42, elementary surfaces.
 */
export interface Chart {
  /** Place of a point on (or near) the surface; null at a pole, which is a whole line of the map. */
  readonly place: (point: Vec3) => Vec2 | null;
  readonly point: (place: Vec2) => Vec3;
  /** Unit normal of the surface, whichever side is outside. */
  readonly normal: (place: Vec2) => Vec3;
  /** After how many mm the map repeats itself, in both directions; 0 where it does not. */
  readonly periods: Vec2;
  /** Lines of the map that are one point of the surface, by their second coordinate. */
  readonly poles: { readonly low: number | null; readonly high: number | null };
  /** How far apart points may lie in both directions; infinite along straight lines of the surface. */
  readonly steps: Vec2;
}

/** Distances from a pole below this share of the radius are none. */
const POLE_SHARE = 1e-7;
const ALWAYS = Infinity;

/** Angle between points on a circle. */
export const turnStep = (radius: number, { deflection, angle }: Fineness): number =>
  deflection >= radius ? angle : Math.min(angle, 2 * Math.acos(1 - deflection / radius));

/** Pieces of one edge or seam: more have no part, but a size that is wrong. */
const MOST_PIECES = 100_000;

/** Into how many pieces of at most a step a way is cut. @throws NotElementary where those are too many to be meant */
export function pieceCount(way: number, step: number): number {
  const count = Math.max(1, Math.ceil(Math.abs(way) / step - 1e-6));
  if (!(count <= MOST_PIECES)) throw new NotElementary('sizes that do not go together');
  return count;
}

/** A surface with its own axes. */
interface Axes {
  readonly surface: ElementarySurface;
  readonly fineness: Fineness;
  /** Points of the face. */
  readonly near: readonly Vec3[];
  /** A point along the surface's own axes, from its origin. */
  readonly own: (point: Vec3) => Vec3;
  /** The way back. */
  readonly out: (a: number, b: number, c: number) => Vec3;
  /** The same for a direction. */
  readonly turned: (a: number, b: number, c: number) => Vec3;
  /** Along its third axis. */
  readonly normal: Vec3;
}
const noPoles = { low: null, high: null };

function axesOf(surface: ElementarySurface, fineness: Fineness, near: readonly Vec3[]): Axes {
  const { frame } = surface;
  const [x, y, z, origin] = [axis(frame, 0), axis(frame, 1), axis(frame, 2), axis(frame, 3)];
  const turned = (a: number, b: number, c: number): Vec3 => add(add(scale(x, a), scale(y, b)), scale(z, c));
  const own = (point: Vec3): Vec3 => {
    const from = subtract(point, origin);
    return [dot(from, x), dot(from, y), dot(from, z)];
  };
  return { surface, fineness, near, own, turned, out: (a, b, c) => add(origin, turned(a, b, c)), normal: z };
}

const planeChart = ({ own, out, normal }: Axes): Chart => ({
  place: (point) => {
    const [a, b] = own(point);
    return [a, b];
  },
  point: ([a, b]) => out(a, b, 0),
  normal: () => normal,
  periods: [0, 0],
  poles: noPoles,
  steps: [ALWAYS, ALWAYS],
});

function cylinderChart({ surface: { radius }, fineness, near, own, out, turned }: Axes): Chart {
  const step = radius * turnStep(radius, fineness);
  const along = alongRuling(
    near.map((point) => own(point)[2]),
    step,
  );
  return {
    place: (point) => {
      const [a, b, c] = own(point);
      return [Math.atan2(b, a) * radius, c * along];
    },
    point: ([u, v]) => out(radius * Math.cos(u / radius), radius * Math.sin(u / radius), v / along),
    normal: ([u]) => turned(Math.cos(u / radius), Math.sin(u / radius), 0),
    periods: [2 * Math.PI * radius, 0],
    poles: noPoles,
    steps: [step, ALWAYS],
  };
}

/** @throws NotElementary where it is none, or the face lies on both sides of its apex */
function coneChart({ surface, fineness, near, own, out, turned }: Axes): Chart {
  const { frame, radius, second } = surface;
  if (!(second > 1e-6 && second < Math.PI / 2 - 1e-6)) throw new NotElementary('a cone that is none');
  const slope = Math.tan(second);
  const heights = near.map((point) => own(point)[2]);
  const radii = heights.map((height) => radius + slope * height);
  const widest = radii.reduce((most, wide) => Math.max(most, wide), 0),
    least = radii.reduce((most, wide) => Math.min(most, wide), 0);
  // What lies beyond the apex is the same cone the other way up.
  if (widest < -least * POLE_SHARE)
    return chartOf({ ...surface, frame: upsideDown(frame), radius: -radius }, fineness, near);
  if (!(widest > 0) || least < -POLE_SHARE * widest) throw new NotElementary('a cone on both sides of its apex');
  const size = (widest + radii.reduce((most, wide) => Math.min(most, wide), widest)) / 2;
  const step = size * turnStep(widest, fineness);
  const along = alongRuling(heights, step);
  const apex = -radius / slope;
  const wide = (v: number): number => Math.max(0, radius + (v / along) * slope);
  return {
    place: (point) => {
      const [a, b, c] = own(point);
      return hypot(a, b) < POLE_SHARE * widest ? null : [Math.atan2(b, a) * size, c * along];
    },
    point: ([u, v]) => out(wide(v) * Math.cos(u / size), wide(v) * Math.sin(u / size), v / along),
    normal: ([u]) =>
      turned(Math.cos(u / size) * Math.cos(second), Math.sin(u / size) * Math.cos(second), -Math.sin(second)),
    periods: [2 * Math.PI * size, 0],
    poles: { low: apex * along, high: null },
    steps: [step, ALWAYS],
  };
}

function sphereChart({ surface: { radius }, fineness, own, out, turned }: Axes): Chart {
  const step = radius * turnStep(radius, fineness);
  const quarter = (Math.PI / 2) * radius;
  return {
    place: (point) => {
      const [a, b, c] = own(point);
      const across = hypot(a, b);
      return across < POLE_SHARE * radius ? null : [Math.atan2(b, a) * radius, Math.atan2(c, across) * radius];
    },
    point: ([u, v]) => {
      const [flat, up] = [radius * Math.cos(v / radius), radius * Math.sin(v / radius)];
      return out(flat * Math.cos(u / radius), flat * Math.sin(u / radius), up);
    },
    normal: ([u, v]) =>
      turned(
        Math.cos(v / radius) * Math.cos(u / radius),
        Math.cos(v / radius) * Math.sin(u / radius),
        Math.sin(v / radius),
      ),
    periods: [4 * quarter, 0],
    poles: { low: -quarter, high: quarter },
    steps: [step, step],
  };
}

/** @throws NotElementary where it has no tube */
function torusChart({ surface: { radius, second }, fineness, own, out, turned }: Axes): Chart {
  if (!(second > 0)) throw new NotElementary('a torus without tube');
  // One whose tube is wider than its circle meets itself on the axis: its outside is an apple with two poles.
  const apple = second > radius ? second * Math.acos(-radius / second) : null;
  return {
    place: (point) => {
      const [a, b, c] = own(point);
      const across = hypot(a, b);
      if (apple !== null && across < POLE_SHARE * second) return null;
      return [Math.atan2(b, a) * radius, Math.atan2(c, across - radius) * second];
    },
    point: ([u, v]) => {
      const wide = Math.max(0, radius + second * Math.cos(v / second));
      return out(wide * Math.cos(u / radius), wide * Math.sin(u / radius), second * Math.sin(v / second));
    },
    normal: ([u, v]) =>
      turned(
        Math.cos(v / second) * Math.cos(u / radius),
        Math.cos(v / second) * Math.sin(u / radius),
        Math.sin(v / second),
      ),
    periods: [2 * Math.PI * radius, apple === null ? 2 * Math.PI * second : 0],
    poles: { low: apple === null ? null : -apple, high: apple },
    steps: [radius * turnStep(radius + second, fineness), second * turnStep(second, fineness)],
  };
}

const charts: Readonly<Record<ElementarySurface['kind'], (axes: Axes) => Chart>> = {
  plane: planeChart,
  cylinder: cylinderChart,
  cone: coneChart,
  sphere: sphereChart,
  torus: torusChart,
};

/**
 * The map of a surface.
 * @param near points of the face, by which the map of a cone gets its scale
 * @throws NotElementary for surfaces that meet themselves
 */
export function chartOf(surface: ElementarySurface, fineness: Fineness, near: readonly Vec3[]): Chart {
  const { kind, radius } = surface;
  if (!(radius > 0) && kind !== 'plane' && kind !== 'cone') throw new NotElementary('a surface without radius');
  return charts[kind](axesOf(surface, fineness, near));
}

/**
 * How much shorter the straight lines of a surface are on its map: points on them need no others beside them, so a facet
 * shall rather be long than wide.
 */
function alongRuling(heights: readonly number[], step: number): number {
  const low = heights.reduce((least, height) => Math.min(least, height), Infinity),
    high = heights.reduce((most, height) => Math.max(most, height), -Infinity);
  return high - low > step ? step / (high - low) : 1;
}

/** Turned about the first axis by half a turn. */
const upsideDown = (m: Placement): Placement => m.map((value, at) => (at % 4 === 1 || at % 4 === 2 ? -value : value));

/**
 * Unit normal of a surface at a point on (or near) it, whichever side is outside. Needs no map, so it knows no poles: there
 * it is any normal.
 */
export function normalAt({ kind, frame, radius, second }: ElementarySurface, point: Vec3): Vec3 {
  const z = axis(frame, 2);
  if (kind === 'plane') return z;
  const from = subtract(point, axis(frame, 3));
  if (kind === 'sphere') return normalize(from);
  const along = dot(from, z);
  const across = normalize(subtract(from, scale(z, along)), axis(frame, 0));
  if (kind === 'cylinder') return across;
  if (kind === 'cone') {
    const beyond = radius + Math.tan(second) * along < 0;
    return add(scale(across, Math.cos(second)), scale(z, beyond ? Math.sin(second) : -Math.sin(second)));
  }
  return normalize(subtract(from, scale(across, radius)), across);
}

/** First, second or third axis of a frame, or its origin (3). */
export const axis = (frame: Placement, column: 0 | 1 | 2 | 3): Vec3 => [
  frame[column],
  frame[column + 4],
  frame[column + 8],
];
