import type { PathKey } from '../assembly/index.ts';
import { scale, type Vec3 } from '../geometry/index.ts';
import { beyondHolder, pairAlong, type Across, type Axis, type Frame, type FramedSolid } from './blocking.ts';
import type { PoseMove } from './records.ts';
import { frameAlong, ownAxes, sameAxis, type Framer, type Unit } from './units.ts';

/** How a machine is taken apart. */
export interface ExplodeOptions {
  /** How many levels of subassemblies are opened: 1 takes apart the machine itself; all where absent. */
  readonly levels?: number;
  /** Places that leave whole, however deep is opened. */
  readonly whole?: ReadonlySet<PathKey>;
  /**
   * Whether of subassemblies that are alike and stand at one place (sixty rollers) every one is opened; where
   * absent, of more than three the one nearest to the right front upper corner; the others leave whole.
   */
  readonly every?: boolean;
  /** Called now and then with what is done of all. */
  readonly onProgress?: (done: number, of: number) => void;
}

/** A thing that cannot leave. */
export interface Locked {
  readonly path: PathKey;
  /** What is in its way where least is. */
  readonly because: readonly PathKey[];
}

/** A machine while it is taken apart. */
export interface State {
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

/** A way along which something may leave. */
export interface Way {
  readonly along: Vec3;
  /** Of whose axes it is one, or (back) the opposite of one. */
  readonly frame: Frame;
  readonly axis: Axis;
  readonly back: boolean;
}
/** Another unit that lies before or behind on a way. */
export interface Meeting {
  readonly other: number;
  /** How far one can go before one hits it; Infinity where one never does. mm */
  readonly free: number;
  /** The same on the opposite way. mm */
  readonly back: number;
  /** How far one has to go to be beyond it; mm. */
  readonly by: number;
}
/** Ways besides the machine's axes that are looked into per level. */
const MOST_OWN_WAYS = 12;

/** Which units of a level meet on which ways. */
export class Meetings {
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
