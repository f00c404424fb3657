import {
  add,
  applyToDirection,
  applyToPoint,
  cross,
  dot,
  length,
  normalize,
  scale,
  subtract,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import type { Cut, HalfSpace, Standing } from './records.ts';
import { ribsAlong } from './ribs.ts';
import { factsOf, type SolidFacts } from './solidFacts.ts';

/** Planes this near to being along an axis are along it; sine. */
const ALONG = 0.02;
/** A plane passes before the axis of what is shown whole by at most this share of its radius: else it hides the section. */
const FARTHEST_BEFORE = 0.3;
/** Things on one axis are off it by at most this share of its radius. */
const OFF_AXIS = 0.1;

/** Something with an axis, in machine coordinates. */
interface Axis {
  readonly from: Vec3;
  readonly axis: Vec3;
  readonly length: number;
  readonly radius: number;
}
type Rod = Axis & { readonly isHeaded: boolean };

/**
 * What is not cut lengthwise (ISO 128-3: shafts, bolts, screws, nuts, washers, pins, keys, rivets, balls, rollers, ribs), from
 * shapes and what they stand in: solid rods, balls; nuts on a rod, washers on one with a head; keys at the surface of one.
 * Bushes, bearing rings and wheels are cut. A rod is known by its shape alone, so what a machine calls it does not matter.
 * @param cuts in machine coordinates
 * @returns indices of bodies
 */
export function notCutLengthwise(bodies: readonly Standing[], cuts: readonly Cut[]): Set<number> {
  const facts = bodies.map(({ mesh }) => factsOf(mesh));
  const rods = facts.map((one, at) => (one.kind === 'rod' ? rodOf(one, bodies[at].placement) : null));
  // A machine has thousands of screws; a plane meets some of them.
  const all = rods.filter((rod) => rod !== null && cuts.some((cut) => cut.some((half) => isMet(rod, half)))) as Rod[];
  const whole = ribsAlong(bodies, cuts);
  facts.forEach((one, at) => {
    const axis = rods[at] ?? axisOf(one, bodies[at].placement, all);
    if (axis && cuts.every((cut) => isSpared(axis, cut))) whole.add(at);
  });
  return whole;
}

const factor = (placement: Placement): number => length(applyToDirection(placement, [1, 0, 0]));
const turned = (placement: Placement, axis: Vec3): Vec3 => normalize(applyToDirection(placement, axis));

function rodOf(one: Extract<SolidFacts, { kind: 'rod' }>, placement: Placement): Rod {
  const by = factor(placement);
  return {
    from: applyToPoint(placement, one.from),
    axis: turned(placement, one.axis),
    length: one.length * by,
    radius: one.radius * by,
    isHeaded: one.isHeaded,
  };
}

/** The axis along which something other than a rod is not cut; null where it is cut anyhow. */
function axisOf(one: SolidFacts, placement: Placement, rods: readonly Rod[]): Axis | null {
  const by = factor(placement);
  if (one.kind === 'ball')
    return { from: applyToPoint(placement, one.centre), axis: [0, 0, 0], length: 0, radius: one.radius * by };
  if (one.kind === 'ring') {
    const from = applyToPoint(placement, one.from),
      axis = turned(placement, one.axis);
    const isNut = one.sides >= 4;
    const on = rods.some(
      (rod) =>
        isOn(rod, from, axis) &&
        one.bore * by < 1.35 * rod.radius &&
        one.bore * by > 0.7 * rod.radius &&
        (isNut || (rod.isHeaded && one.thickness < 0.6 * one.bore)),
    );
    return on ? { from, axis, length: one.thickness * by, radius: one.reach * by } : null;
  }
  if (one.kind !== 'bar') return null;
  const centre = applyToPoint(placement, one.centre),
    axis = turned(placement, one.axis);
  const on = rods.some((rod) => {
    const way = subtract(centre, rod.from);
    const along = dot(way, rod.axis);
    const off = length(subtract(way, scale(rod.axis, along)));
    return (
      length(cross(axis, rod.axis)) < ALONG &&
      along > 0 &&
      along < rod.length &&
      off > 0.5 * rod.radius &&
      off < 1.3 * rod.radius &&
      one.breadth * by < rod.radius
    );
  });
  return on
    ? {
        from: subtract(centre, scale(axis, (one.length * by) / 2)),
        axis,
        length: one.length * by,
        radius: (one.breadth * by) / 2,
      }
    : null;
}

/** Whether something that begins there, with that axis, stands on a rod. */
function isOn(rod: Rod, from: Vec3, axis: Vec3): boolean {
  const way = subtract(from, rod.from);
  const along = dot(way, rod.axis);
  return (
    length(cross(axis, rod.axis)) < ALONG &&
    length(subtract(way, scale(rod.axis, along))) < OFF_AXIS * rod.radius &&
    along > -rod.length * 0.2 &&
    along < rod.length * 1.2
  );
}

/** Whether a plane comes as near to it as its radius. */
function isMet({ from, axis, length: size, radius }: Axis, { normal, offset }: HalfSpace): boolean {
  const [one, other] = [from, add(from, scale(axis, size))].map((end) => dot(end, normal) - offset);
  return Math.min(one, other) <= radius && Math.max(one, other) >= -radius;
}

/** Whether a cut leaves it alone, or one of its planes goes along it and not so far before its axis that it would hide what is behind. */
function isSpared({ from, axis, length: size, radius }: Axis, cut: Cut): boolean {
  const to = add(from, scale(axis, size));
  const offsOf = ({ normal, offset }: HalfSpace) => [from, to].map((end) => dot(end, normal) - offset);
  if (cut.some((half) => Math.min(...offsOf(half)) >= radius)) return true;
  return cut.some(
    (half) =>
      Math.abs(dot(axis, half.normal)) <= ALONG &&
      offsOf(half).every((off) => off >= -FARTHEST_BEFORE * radius && off <= radius),
  );
}
