import { pathOf, Refusal } from '../assembly/index.ts';
import { dot, hypot, type Vec3 } from '../geometry/index.ts';
import { breadthOf, distances, gapOf, type Left } from './distances.ts';
import { Meetings, type State, type Way } from './meetings.ts';
import { roundAxis, sameAxis, signatureOf, unitsIn, type Part, type Unit } from './units.ts';
import type { Frame } from './blocking.ts';

/** Every two units of a place are looked at: beyond this it takes minutes. */
const MOST_UNITS = 1500;
/** Of a thing's own size: what that adds to the way that it has to go, when it is asked who leaves first. */
const SMALL_FIRST = 0.25;
/** So much is added to each side of things when the largest is looked for: share of the machine's diagonal. */
const STOUTER = 0.05;
/** Of a thing's own size: nearer than this it rests on another. */
const NEAR = 0.1;

/** What stands at one place and leaves as one, in the order in which it leaves. */
interface Leaving {
  readonly units: readonly Unit[];
  readonly meetings: Meetings;
  readonly left: readonly Left[];
}

/**
 * How what stands at one place leaves. A subassembly that cannot leave whole, since something of another stands between its
 * parts (a bolt set through plates), is opened there, and its parts leave each to their side.
 */
export function leaving(parts: readonly Part[], depth: number, state: State): Leaving {
  let units: readonly Unit[] = unitsIn(parts, depth);
  if (units.length > MOST_UNITS)
    throw new Refusal(
      'too-many-units',
      `${units.length} things stand side by side at one place of the machine; up to ${MOST_UNITS} can be taken apart at once. Open fewer levels.`,
    );
  for (let round = 0; ; round++) {
    const meetings = new Meetings(units, state);
    const left = clearOrder(units, meetings, state);
    const opened = round < MOST_ROUNDS ? entangled(units, left, meetings, state) : new Set<number>();
    const next = units.flatMap((unit, at) => (opened.has(at) ? unitsIn(unit.parts, pathOf(unit.path).length) : [unit]));
    if (opened.size === 0 || next.length > MOST_UNITS) return { units, meetings, left };
    meetings.end();
    units = next;
  }
}
/** Subassemblies are opened at one place at most so often; each time the order is found anew. */
const MOST_ROUNDS = 24;

/**
 * Which subassemblies are to be opened, where something cannot leave: the smallest that is held or holds, and its twins. What
 * can leave whole stays whole.
 */
function entangled(
  units: readonly Unit[],
  left: readonly Left[],
  meetings: Meetings,
  { machine, options }: State,
): Set<number> {
  const mayOpen = ({ path, parts, stays }: Unit): boolean =>
    !stays && !options.whole?.has(path) && parts.some((part) => part.path.length > pathOf(path).length);
  const sizeOf = (unit: number): number => {
    const { box } = meetings.solid(unit, machine);
    return hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  };
  for (const { unit, blockedBy } of left) {
    const concerned = blockedBy.length > 0 ? [unit, ...blockedBy].filter((one) => mayOpen(units[one])) : [];
    if (concerned.length === 0) continue;
    const smallest = concerned.reduce((least, one) => (sizeOf(one) < sizeOf(least) ? one : least));
    const kind = signatureOf(units[smallest]);
    return new Set([...units.keys()].filter((one) => mayOpen(units[one]) && signatureOf(units[one]) === kind));
  }
  return new Set();
}

/**
 * The order in which units leave, so that what leaves has room for all that follows it on its way: what stands ahead and would
 * stop it leaves first, where that makes nothing be held.
 */
function clearOrder(units: readonly Unit[], meetings: Meetings, state: State): readonly Left[] {
  const after = new Map<number, Set<number>>();
  let left = leavingOrder(units, meetings, state, after);
  for (let round = 0; round < MOST_CLEARED; round++) {
    const stopped = distances(units, left, meetings, null, state).stoppedBy;
    let isNew = false;
    for (const [order, other] of stopped) {
      const { unit } = left[order];
      const known = after.get(unit) ?? new Set();
      after.set(unit, known);
      if (known.has(other)) continue;
      known.add(other);
      isNew = true;
    }
    if (!isNew) return left;
    const next = leavingOrder(units, meetings, state, after);
    if (heldIn(next) > heldIn(left)) return left;
    left = next;
  }
  return left;
}
/** The order is found anew at most so often; after that what is stopped short stays so. */
const MOST_CLEARED = 6;
const heldIn = (left: readonly Left[]): number => left.filter(({ blockedBy }) => blockedBy.length > 0).length;

/**
 * The order in which units leave and the way of each; one of them, the largest, stays. Of those that can leave, the one
 * that has the shortest way to go leaves first.
 * @param after by unit, units that it does not leave before as long as they are ahead of it
 */
function leavingOrder(
  units: readonly Unit[],
  meetings: Meetings,
  { machine, size }: State,
  after: ReadonlyMap<number, ReadonlySet<number>>,
): Left[] {
  const boxes = units.map((_, index) => meetings.solid(index, machine).box);
  // A long rail carries more than a stout leg: what is thin counts as somewhat thicker.
  const bulk = (index: number) => {
    const box = boxes[index];
    return [0, 1, 2].reduce((product, axis) => product * (box[axis + 3] - box[axis] + STOUTER * size), 1);
  };
  const there = new Set(units.keys());
  const stays = units.map(({ stays: fixed }) => fixed);
  if (!stays.includes(true)) {
    let base = 0;
    for (const index of units.keys()) if (bulk(index) > bulk(base) * 1.0001) base = index;
    stays[base] = true;
  }
  const middle = middleOf(units, meetings, machine);
  const axes = units.map(roundAxis);
  const left: Left[] = [];
  while ([...there].some((index) => !stays[index])) {
    let best: { unit: number; way: Way; cost: number; blockedBy: number[] } | null = null;
    for (const index of there) {
      if (stays[index]) continue;
      for (const way of meetings.waysOf[index]) {
        const met = meetings.on(index, way).filter(({ other }) => there.has(other));
        const { box } = meetings.solid(index, way.frame);
        const breadth = breadthOf(box, way.axis);
        // What is ahead and far enough away need not be passed.
        const behind = met.filter(({ free }) => free === Infinity);
        const escape = behind.reduce((most, { by }) => Math.max(most, by), 0);
        const room = escape + gapOf(breadth, size);
        // Between two parts of one thing it stays between them however far it goes.
        const blockedBy = met.flatMap(({ other, free, back }) =>
          free < room || (free < Infinity && (back < Infinity || after.get(index)?.has(other))) ? [other] : [],
        );
        if (best && blockedBy.length > best.blockedBy.length) continue;
        // What rests on something leaves away from it; small things first; outwards rather than across the middle.
        const outwards = dot(middle(index), way.along) > 0 ? 0 : 0.05 * breadth;
        const own = hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
        const rests = behind.some(({ back }) => back < NEAR * own);
        // What is round leaves along its axis, not off sideways once its shaft is gone.
        const axis = axes[index];
        const aside = axis && !sameAxis(axis, way.along) ? own : 0;
        const cost = escape + outwards + (rests ? 0 : breadth) + aside + SMALL_FIRST * own;
        if (!best || blockedBy.length < best.blockedBy.length || cost < best.cost - 1e-9)
          best = { unit: index, way, cost, blockedBy };
      }
    }
    if (!best) break;
    there.delete(best.unit);
    left.push({ unit: best.unit, way: best.way, blockedBy: best.blockedBy });
  }
  return left;
}

/** Where the middle of a unit lies, seen from the middle of all. */
function middleOf(units: readonly Unit[], meetings: Meetings, machine: Frame): (unit: number) => Vec3 {
  const { u, v, w } = machine;
  const boxes = units.map((_, index) => meetings.solid(index, machine).box);
  const all = [0, 1, 2].map((axis) => {
    // One by one: a call takes no hundred thousand arguments.
    const low = boxes.reduce((least, box) => Math.min(least, box[axis]), Infinity),
      high = boxes.reduce((most, box) => Math.max(most, box[axis + 3]), -Infinity);
    return (low + high) / 2;
  });
  return (unit) => {
    const own = [0, 1, 2].map((axis) => (boxes[unit][axis] + boxes[unit][axis + 3]) / 2 - all[axis]);
    return [0, 1, 2].map((axis) => own[0] * u[axis] + own[1] * v[axis] + own[2] * w[axis]) as never;
  };
}
