import { dot, scale, type Vec3 } from '../geometry/index.ts';
import type { Axis, FramedSolid } from './blocking.ts';
import type { Meetings, State, Way } from './meetings.ts';
import { signatureOf, type Unit } from './units.ts';

/** A unit that has left, in the order of leaving. */
export interface Left {
  readonly unit: number;
  readonly way: Way;
  /** Units in its way; none where it is free. */
  readonly blockedBy: readonly number[];
}

/** How far the contents of a place reach beyond its seat when it is open, along a way; mm. */
export type Reach = (along: Vec3) => number;
/** Free space between things that have left: share of the machine's diagonal, and of the thing's own breadth. */
const GAP_SHARE = 0.012,
  GAP_OWN = 0.2;
/** Of a box across an axis. */
export const breadthOf = (box: FramedSolid['box'], axis: Axis): number => {
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
  return Math.sqrt((box[u + 3] - box[u]) * (box[v + 3] - box[v]));
};
export const gapOf = (breadth: number, size: number): number => GAP_SHARE * size + GAP_OWN * breadth;
/** Of the room to what is ahead, how much may be taken. */
const SPARE = 0.9;
/**
 * How far each goes, in the order of leaving, and which of them (by that order) are stopped short by what thing that leaves later.
 * @param reaches of the contents of each; nothing is open where null
 */
export function distances(
  units: readonly Unit[],
  left: readonly Left[],
  meetings: Meetings,
  reaches: readonly Reach[] | null,
  state: State,
): { readonly far: number[]; readonly stoppedBy: ReadonlyMap<number, number> } {
  const orderOf = new Map(left.map(({ unit }, order) => [unit, order]));
  const stoppedBy = new Map<number, number>();
  const settle = (least: (order: number) => number): number[] => {
    const far = new Array<number>(left.length).fill(0);
    // What left last stands nearest: the others go beyond it.
    for (let order = left.length - 1; order >= 0; order--) {
      const one = left[order];
      const { unit, way } = one;
      const { box } = meetings.solid(unit, way.frame);
      const gap = gapOf(breadthOf(box, way.axis), state.size);
      const back = reaches?.[unit](scale(way.along, -1)) ?? 0;
      far[order] = Math.max(gap, least(order));
      let room = Infinity,
        ahead = -1;
      for (const { other, by, free } of meetings.on(unit, way)) {
        const before = orderOf.get(other);
        if (before !== undefined && before < order) continue; // it left earlier: it goes beyond this one
        if (free < Infinity) {
          // It is ahead, and still there.
          if (free < room) [room, ahead] = [free, other];
          continue;
        }
        let stands = 0;
        if (before !== undefined) {
          const along = dot(left[before].way.along, way.along);
          if (Math.abs(along) < 0.999) continue; // it went aside, out of this one's way
          stands = Math.sign(along) * far[before];
        }
        far[order] = Math.max(far[order], stands + by + back + (reaches?.[other](way.along) ?? 0) + gap);
      }
      if (one.blockedBy.length > 0 || far[order] <= SPARE * room) continue;
      far[order] = SPARE * room; // it stops before what is ahead
      if (orderOf.has(ahead)) stoppedBy.set(order, ahead);
    }
    return far;
  };
  const first = settle(() => 0);
  const twins = new Twins(
    left.map(({ unit, way }, order) => ({ kind: signatureOf(units[unit]), along: way.along, far: first[order] })),
  );
  return { far: settle((order) => twins.farOf(order)), stoppedBy };
}

/** Twins that leave the same way go equally far, and those that leave the opposite way too where that is about as far. */
class Twins {
  private readonly names: readonly (readonly [own: string, opposite: string])[];
  private readonly far = new Map<string, number>();

  constructor(left: readonly { readonly kind: string; readonly along: Vec3; readonly far: number }[]) {
    const nameOf = (kind: string, along: Vec3, sign: number) =>
      `${kind} ${along.map((value) => Math.round(value * sign * 100) / 100 + 0).join()}`;
    this.names = left.map(({ kind, along }) => [nameOf(kind, along, 1), nameOf(kind, along, -1)] as const);
    left.forEach(({ far }, order) => {
      const [own] = this.names[order];
      this.far.set(own, Math.max(this.far.get(own) ?? 0, far));
    });
  }

  farOf(order: number): number {
    const [own, opposite] = this.names[order].map((name) => this.far.get(name) ?? 0);
    return opposite > own && opposite < ABOUT_AS_FAR * own ? opposite : own;
  }
}
const ABOUT_AS_FAR = 1.5;
