import { pathOf, Refusal, type PathKey } from '../assembly/index.ts';
import { hypot, dot, scale, type Vec3 } from '../geometry/index.ts';
import { beyondHolder, pairAlong, type Across, type Axis, type Frame, type FramedSolid } from './blocking.ts';
import type { PoseMove } from './records.ts';
import {
  frameAlong,
  Framer,
  ownAxes,
  roundAxis,
  sameAxis,
  signatureOf,
  unitsIn,
  type Part,
  type Unit,
} from './units.ts';

/** How a machine is taken apart. */
interface ExplodeOptions {
  /** How many levels of subassemblies are opened: 1 takes apart the machine itself; all where absent. */
  readonly levels?: number;
  /** Places that leave whole, however deep is opened. */
  readonly whole?: ReadonlySet<PathKey>;
  /** Called now and then with what is done of all. */
  readonly onProgress?: (done: number, of: number) => void;
}

/** A proposed exploded pose. */
export interface Exploded {
  /** In the order in which things leave. */
  readonly moves: readonly PoseMove[];
  /** What cannot leave along any straight way; it is moved all the same. */
  readonly locked: readonly Locked[];
}

/** A thing that cannot leave. */
export interface Locked {
  readonly path: PathKey;
  /** What is in its way where least is. */
  readonly because: readonly PathKey[];
}

/** Every two units of a place are looked at: beyond this it takes minutes. */
const MOST_UNITS = 1500;
/** What a pose holds. */
export const MOST_MOVES = 5000;

/** A way along which something may leave. */
interface Way {
  readonly along: Vec3;
  /** Of whose axes it is one, or (back) the opposite of one. */
  readonly frame: Frame;
  readonly axis: Axis;
  readonly back: boolean;
}
/** Another unit that lies before or behind on a way. */
interface Meeting {
  readonly other: number;
  /** How far one can go before one hits it; Infinity where one never does. mm */
  readonly free: number;
  /** The same on the opposite way. mm */
  readonly back: number;
  /** How far one has to go to be beyond it; mm. */
  readonly by: number;
}
/** A unit that has left, in the order of leaving. */
interface Left {
  readonly unit: number;
  readonly way: Way;
  /** Units in its way; none where it is free. */
  readonly blockedBy: readonly number[];
}

/** Faces nearer than this touch: share of the machine's diagonal, and mm. */
const TOUCH_SHARE = 1e-5,
  TOUCH = 0.02;
/** Free space between things that have left: share of the machine's diagonal, and of the thing's own breadth. */
const GAP_SHARE = 0.012,
  GAP_OWN = 0.2;
/** Of a box across an axis. */
const breadthOf = (box: FramedSolid['box'], axis: Axis): number => {
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
  return Math.sqrt((box[u + 3] - box[u]) * (box[v + 3] - box[v]));
};
const gapOf = (breadth: number, size: number): number => GAP_SHARE * size + GAP_OWN * breadth;
/** Of a thing's own size: what that adds to the way that it has to go, when it is asked who leaves first. */
const SMALL_FIRST = 0.25;
/** Of a thing's own size: nearer than this it rests on another. */
const NEAR = 0.1;
/** Of the room to what is ahead, how much may be taken. */
const SPARE = 0.9;
/** Ways besides the machine's axes that are looked into per level. */
const MOST_OWN_WAYS = 12;

/**
 * Proposes how a machine comes apart: level by level, things leave one after the other along straight ways on which
 * nothing that is still there is hit; each goes as far as it takes to be seen clear of what it leaves and of what left
 * before it on the same way. Twins go equally far. Deterministic.
 * Sources: R. Wilson, J.-C. Latombe (1994), directional blocking graphs; W. Li, M. Agrawala, B. Curless, D. Salesin,
 * "Automated generation of interactive 3D exploded view diagrams", SIGGRAPH 2008.
 * @param parts everything with a shape, in structure order
 * @throws Refusal beyond MOST_UNITS at one place, or MOST_MOVES altogether
 */
export function explode(parts: readonly Part[], options: ExplodeOptions = {}): Exploded {
  const machine = frameAlong([0, 0, 1]);
  const size = diagonalOf(parts);
  const state: State = {
    framer: new Framer([machine, frameAlong(machine.u), frameAlong(machine.v)]),
    machine,
    size,
    least: Math.max(TOUCH, size * TOUCH_SHARE),
    options,
    met: new WeakMap(),
    done: 0,
    of: countOf(parts, 0, options),
    moves: [],
    locked: [],
  };
  takeApart(parts, 0, state);
  if (state.moves.length > MOST_MOVES)
    throw new Refusal(
      'too-many-moves',
      `Taken apart so deep, ${state.moves.length} things leave their seats; a pose holds ${MOST_MOVES}. Open fewer levels.`,
    );
  return { moves: state.moves, locked: state.locked };
}

interface State {
  readonly framer: Framer;
  readonly machine: Frame;
  /** Diagonal of all; mm. */
  readonly size: number;
  /** Faces nearer than this touch; mm. */
  readonly least: number;
  readonly options: ExplodeOptions;
  /** How units meet in the machine's frame, as far as that is found. */
  readonly met: WeakMap<Unit, Map<Unit, ReturnType<typeof meet>>>;
  done: number;
  readonly of: number;
  readonly moves: PoseMove[];
  readonly locked: Locked[];
}

/** How far the contents of a place reach beyond its seat when it is open, along a way; mm. */
type Reach = (along: Vec3) => number;
const closed: Reach = () => 0;

/** Units of all levels that are opened, for telling how far it has come. */
function countOf(parts: readonly Part[], depth: number, { levels = Infinity, whole }: ExplodeOptions): number {
  const units = unitsIn(parts, depth);
  const here = units.length > 1 ? units.length : 0;
  return units.reduce(
    (sum, unit) => sum + (isOpened(unit, depth, levels, whole) ? countOf(unit.parts, depth + 1, { levels, whole }) : 0),
    here,
  );
}

const isOpened = (
  { parts, path, stays }: Unit,
  depth: number,
  levels: number,
  whole: ReadonlySet<PathKey> | undefined,
): boolean => !stays && depth + 1 < levels && !whole?.has(path) && parts.some((part) => part.path.length > depth + 1);

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
function leaving(parts: readonly Part[], depth: number, state: State): Leaving {
  let units: readonly Unit[] = unitsIn(parts, depth);
  for (let round = 0; ; round++) {
    if (units.length > MOST_UNITS)
      throw new Refusal(
        'too-many-units',
        `${units.length} things stand side by side at one place of the machine; up to ${MOST_UNITS} can be taken apart at once. Open fewer levels.`,
      );
    const meetings = new Meetings(units, state);
    const left = clearOrder(units, meetings, state);
    const opened = round < MOST_ROUNDS ? entangled(units, left, meetings, state) : new Set<number>();
    if (opened.size === 0) return { units, meetings, left };
    meetings.end();
    units = units.flatMap((unit, at) => (opened.has(at) ? unitsIn(unit.parts, pathOf(unit.path).length) : [unit]));
  }
}
/** Subassemblies are opened at one place at most so often; each time all meet anew. */
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

/** Takes apart what stands at one place; its moves come before those inside its subassemblies. */
function takeApart(parts: readonly Part[], depth: number, state: State): Reach {
  const { levels = Infinity, whole } = state.options;
  const at = state.moves.length;
  const inner = (unit: Unit): Reach => {
    const own = pathOf(unit.path).length;
    return isOpened(unit, own - 1, levels, whole) ? takeApart(unit.parts, own, state) : closed;
  };
  const alone = unitsIn(parts, depth);
  if (alone.length < 2) return alone.length === 0 ? closed : inner(alone[0]);
  const { units, meetings, left } = leaving(parts, depth, state);
  const reaches = units.map(inner);
  const { far } = distances(units, left, meetings, reaches, state);
  meetings.end();
  const own = left.map(({ unit, way, blockedBy }, order): PoseMove => {
    const { path } = units[unit];
    if (blockedBy.length > 0) state.locked.push({ path, because: blockedBy.map((other) => units[other].path) });
    return { path, steps: [rounded(scale(way.along, far[order]))] };
  });
  state.moves.splice(at, 0, ...own);
  const by = new Map(left.map(({ unit, way }, order) => [unit, scale(way.along, far[order])]));
  return remembered((along) => {
    const seats = units.map((unit) => state.framer.farthest(unit, along));
    const reached = units.map((_, index) => {
      const moved = by.get(index);
      return seats[index] + (moved ? dot(moved, along) : 0) + reaches[index](along);
    });
    return Math.max(0, largest(reached) - largest(seats));
  });
}

/** Ways come again and again. */
function remembered(reach: Reach): Reach {
  const known = new Map<string, number>();
  return (along) => {
    const name = along.join();
    let value = known.get(name);
    if (value === undefined) known.set(name, (value = reach(along)));
    return value;
  };
}

const largest = (values: readonly number[]): number => values.reduce((most, value) => Math.max(most, value), -Infinity);

const rounded = ([x, y, z]: Vec3): Vec3 => [x, y, z].map((value) => Math.round(value * 100) / 100 + 0) as never;

/** Which units of a level meet on which ways. */
class Meetings {
  /** By frame, unit, and way of the frame: up and down its first axis, its second, its third. */
  private readonly found = new Map<Frame, Meeting[][][]>();
  private readonly solids = new Map<Frame, readonly FramedSolid[]>();
  readonly waysOf: readonly (readonly Way[])[];

  constructor(
    units: readonly Unit[],
    private readonly state: State,
  ) {
    const own = ownFrames(units, state.machine);
    const everything = units.map((_, index) => index);
    this.meet(units, state.machine, everything);
    for (const { frame, units: concerned } of own) this.meet(units, frame, concerned);
    const machine = ([0, 1, 2] as const).flatMap((axis) => waysAlong(state.machine, axis));
    this.waysOf = everything.map((index) => [
      ...own.filter(({ units: concerned }) => concerned.includes(index)).flatMap(({ frame }) => waysAlong(frame, 2)),
      ...machine,
    ]);
  }

  on(unit: number, { frame, axis, back }: Way): readonly Meeting[] {
    return this.found.get(frame)![unit][2 * axis + (back ? 1 : 0)];
  }

  solid(unit: number, frame: Frame): FramedSolid {
    return this.solids.get(frame)![unit];
  }

  /** Gives back what was kept for frames that only these units needed. */
  end(): void {
    for (const frame of this.solids.keys()) if (frame !== this.state.machine) this.state.framer.forget(frame);
  }

  /** How two units meet in a frame; in the machine's found once, however often others are opened beside them. */
  private pair(one: Unit, other: Unit, frame: Frame, a: FramedSolid, b: FramedSolid): ReturnType<typeof meet> {
    const { machine, met, least } = this.state;
    if (frame !== machine) return meet(a, b, least);
    const known = met.get(one) ?? new Map<Unit, ReturnType<typeof meet>>();
    met.set(one, known);
    const found = known.get(other) ?? meet(a, b, least);
    known.set(other, found);
    return found;
  }

  /** Lets some units meet all others in a frame. */
  private meet(units: readonly Unit[], frame: Frame, concerned: readonly number[]): void {
    const { state } = this;
    const all = units.map((unit) => state.framer.unit(unit, frame));
    this.solids.set(frame, all);
    const lists: Meeting[][][] = units.map(() => [[], [], [], [], [], []]);
    this.found.set(frame, lists);
    const isConcerned = new Set(concerned);
    for (const a of concerned) {
      for (let b = 0; b < units.length; b++) {
        if (a === b || (b < a && isConcerned.has(b))) continue;
        for (const { way, meeting } of this.pair(units[a], units[b], frame, all[a], all[b])) {
          lists[a][way].push({ other: b, ...meeting });
          lists[b][way ^ 1].push({ other: a, ...meeting });
        }
      }
      if (frame === state.machine) state.options.onProgress?.(Math.min(++state.done, state.of), state.of);
    }
  }
}

const acrossOf = (pair: ReturnType<typeof pairAlong>): Across => (pair ? [pair.down, pair.up] : [Infinity, Infinity]);

/** How two units meet on the six ways of a frame; for the second one it is the same on the opposite way. */
function meet(a: FramedSolid, b: FramedSolid, least: number): { way: number; meeting: Omit<Meeting, 'other'> }[] {
  const pairs = ([0, 1, 2] as const).map((axis) => pairAlong(a, b, axis, least));
  const held = pairs.map((pair) => (pair ? Number(pair.up < Infinity) + Number(pair.down < Infinity) : 0));
  const all = held[0] + held[1] + held[2];
  return pairs.flatMap((pair, axis) => {
    // A ring on a shaft, a thing in a cup: held across, it is clear only beyond the end of what holds it.
    const inside = all - held[axis] >= 3;
    if (!pair && !inside) return [];
    const { up = Infinity, down = Infinity } = pair ?? {};
    const of = inside
      ? beyondHolder(a, b, axis as Axis, [acrossOf(pairs[(axis + 1) % 3]), acrossOf(pairs[(axis + 2) % 3])])
      : pair!;
    const upBy = of?.upBy ?? b.box[axis + 3] - a.box[axis],
      downBy = of?.downBy ?? a.box[axis + 3] - b.box[axis];
    return [
      { way: 2 * axis, meeting: { free: up, back: down, by: upBy } },
      { way: 2 * axis + 1, meeting: { free: down, back: up, by: downBy } },
    ];
  });
}

const waysAlong = (frame: Frame, axis: Axis): Way[] => {
  const along = [frame.u, frame.v, frame.w][axis];
  return [
    { along, frame, axis, back: false },
    { along: scale(along, -1), frame, axis, back: true },
  ];
};

/** Frames along axes that the shapes of units suggest and the machine does not have. */
function ownFrames(units: readonly Unit[], machine: Frame): { frame: Frame; units: number[] }[] {
  const own: { frame: Frame; units: number[] }[] = [];
  for (const [index, { parts }] of units.entries()) {
    if (parts.length > 1) continue;
    for (const axis of ownAxes(parts[0])) {
      if ([machine.u, machine.v, machine.w].some((known) => sameAxis(known, axis))) continue;
      const known = own.find(({ frame }) => sameAxis(frame.w, axis));
      if (known) known.units.push(index);
      else if (own.length < MOST_OWN_WAYS) own.push({ frame: frameAlong(axis), units: [index] });
    }
  }
  return own;
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
  const volume = (index: number) => {
    const box = boxes[index];
    return (box[3] - box[0]) * (box[4] - box[1]) * (box[5] - box[2]);
  };
  const there = new Set(units.keys());
  const stays = units.map(({ stays: fixed }) => fixed);
  if (!stays.includes(true)) {
    let base = 0;
    for (const index of units.keys()) if (volume(index) > volume(base) * 1.0001) base = index;
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

/**
 * How far each goes, in the order of leaving, and which of them (by that order) are stopped short by what thing that leaves later.
 * @param reaches of the contents of each; nothing is open where null
 */
function distances(
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
          if (along < 0.999) continue; // it went another way, out of this one's
          stands = far[before];
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

function diagonalOf(parts: readonly Part[]): number {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (const { mesh, placement: m } of parts)
    for (let at = 0; at < mesh.positions.length; at += 3)
      for (let row = 0; row < 3; row++) {
        const value =
          m[row * 4] * mesh.positions[at] +
          m[row * 4 + 1] * mesh.positions[at + 1] +
          m[row * 4 + 2] * mesh.positions[at + 2] +
          m[row * 4 + 3];
        if (value < low[row]) low[row] = value;
        if (value > high[row]) high[row] = value;
      }
  return low[0] > high[0] ? 0 : hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
}
