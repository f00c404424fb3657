import {
  listOccurrences,
  pathKey,
  type Assembly,
  type ModelAxis,
  type Occurrence,
  type Orientation,
  type ShapeKey,
  type UsageKey,
} from '../../../../core/src/assembly/index.ts';
import {
  meshBox,
  uniteBoxes,
  type Box3,
  type Mesh,
  type Placement,
  type Vec3,
} from '../../../../core/src/geometry/index.ts';
import { displacements, movedBy, type PoseMove } from '../../../../core/src/poses/index.ts';

/** Occurrences by shape, each with its place in the order of all occurrences. */
export const bodiesByShape = (assembly: Assembly): Map<ShapeKey, Occurrence[]> =>
  byShape(
    assembly,
    listOccurrences(assembly, (index) => assembly.components[index].shape !== null),
  );

/** @param occurrences of the assembly; each has a shape */
export function byShape({ components }: Assembly, occurrences: readonly Occurrence[]): Map<ShapeKey, Occurrence[]> {
  const bodies = new Map<ShapeKey, Occurrence[]>();
  for (const occurrence of occurrences) {
    const shape = components[occurrence.components[occurrence.components.length - 1]].shape!;
    const same = bodies.get(shape);
    if (same) same.push(occurrence);
    else bodies.set(shape, [occurrence]);
  }
  return bodies;
}

/** The bodies where they stand in a pose; lists of shapes of which nothing has moved stay the same. */
export function displaced(
  bodies: ReadonlyMap<ShapeKey, Occurrence[]>,
  moves: readonly PoseMove[],
): Map<ShapeKey, Occurrence[]> {
  const far = displacements(moves);
  return new Map(
    [...bodies].map(([shape, occurrences]) => {
      let some = false;
      const moved = occurrences.map((one) => {
        const by = far(pathKey(one.path));
        if (!by) return one;
        some = true;
        return { ...one, placement: movedBy(one.placement, by) };
      });
      return [shape, some ? moved : occurrences];
    }),
  );
}

/** Box of a placed box: exact for the box, so never too small for what is in it. */
function placedBox([x0, y0, z0, x1, y1, z1]: Box3, m: Placement): Box3 {
  const low = [m[3], m[7], m[11]],
    high = [m[3], m[7], m[11]];
  [
    [x0, x1],
    [y0, y1],
    [z0, z1],
  ].forEach(([from, to], axis) => {
    for (let row = 0; row < 3; row++) {
      const a = m[row * 4 + axis] * from,
        b = m[row * 4 + axis] * to;
      low[row] += Math.min(a, b);
      high[row] += Math.max(a, b);
    }
  });
  return [low[0], low[1], low[2], high[0], high[1], high[2]];
}

/** Box around everything that is shown; null for nothing. */
export function machineBox(
  meshes: readonly (readonly [ShapeKey, Mesh])[],
  bodies: ReadonlyMap<ShapeKey, readonly Occurrence[]>,
): Box3 | null {
  let box: Box3 | null = null;
  for (const [shape, mesh] of meshes) {
    const own = meshBox(mesh);
    for (const { placement } of bodies.get(shape) ?? []) {
      const placed = placedBox(own, placement);
      box = box ? uniteBoxes(box, placed) : placed;
    }
  }
  return box;
}

/** What is picked: components, or one place with everything in it. */
export interface Picks {
  readonly components: ReadonlySet<number>;
  readonly path: readonly UsageKey[] | null;
  /** Single places instead of all that; each with everything in it. */
  readonly places?: readonly (readonly UsageKey[])[];
}

/** Whether an occurrence is, or stands in, what is picked. The top component lights nothing: it is everything. */
export function isIn({ components, path }: Pick<Occurrence, 'components' | 'path'>, picks: Picks): boolean {
  if (picks.places) return picks.places.some((place) => place.every((key, at) => path[at] === key));
  if (picks.path) return picks.path.every((key, at) => path[at] === key);
  for (let at = 1; at < components.length; at++) if (picks.components.has(components[at])) return true;
  return components.length === 1 && picks.components.has(components[0]);
}

/** Every number below `count` once, so that any first part of the order is spread evenly over the whole. */
export function spreadOrder(count: number): Uint32Array {
  // Multiples of the golden section fall evenly into the unit interval (H. Weyl 1916): numbers whose multiple is
  // small lie evenly apart.
  const place = Float64Array.from({ length: count }, (_, at) => (at * 0.6180339887498949) % 1);
  return Uint32Array.from(place.keys()).sort((a, b) => place[a] - place[b]);
}

/** The model axis that a direction of the picture is nearest to, in the machine as it stands. */
export function nearestAxis([x, y, z]: Vec3): ModelAxis {
  const size = [Math.abs(x), Math.abs(y), Math.abs(z)];
  const axis = size.indexOf(Math.max(...size));
  return `${[x, y, z][axis] < 0 ? '-' : '+'}${'xyz'[axis]}` as ModelAxis;
}

/** A direction of the picture in the model's own axes: the picture is turned by `turn`. */
export const inModel = ([x, y, z]: Vec3, turn: Placement | undefined): Vec3 =>
  turn
    ? [
        turn[0] * x + turn[4] * y + turn[8] * z,
        turn[1] * x + turn[5] * y + turn[9] * z,
        turn[2] * x + turn[6] * y + turn[10] * z,
      ]
    : [x, y, z];

/** An orientation with a new up or front; the other axis gives way where both would lie on one. */
export function withAxis(before: Orientation, which: 'up' | 'front', axis: ModelAxis): Orientation {
  const next = { ...before, [which]: axis };
  if (next.up[1] !== next.front[1]) return next;
  const other = which === 'up' ? 'front' : 'up';
  // What gives way takes the axis that has become free.
  return {
    ...next,
    [other]: before[which][1] === axis[1] ? ((axis[1] === 'z' ? '-y' : '+z') as ModelAxis) : before[which],
  };
}
