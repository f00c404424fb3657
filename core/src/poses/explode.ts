import { groupBy, pathOf, Refusal } from '../assembly/index.ts';
import { dot, hypot, scale, type Vec3 } from '../geometry/index.ts';
import { distances, type Reach } from './distances.ts';
import { leaving } from './leaving.ts';
import type { ExplodeOptions, Locked, State } from './meetings.ts';
import type { PoseMove } from './records.ts';
import { frameAlong, Framer, signatureOf, unitsIn, type Part, type Unit } from './units.ts';

/** A proposed exploded pose. */
export interface Exploded {
  /** In the order in which things leave. */
  readonly moves: readonly PoseMove[];
  /** What cannot leave along any straight way; it is moved all the same. */
  readonly locked: readonly Locked[];
}

/** What a pose holds. */
export const MOST_MOVES = 5000;

/** Faces nearer than this touch: share of the machine's diagonal, and mm. */
const TOUCH_SHARE = 1e-5,
  TOUCH = 0.02;
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

const closed: Reach = () => 0;

/** Units of all levels that are opened, for telling how far it has come. */
function countOf(parts: readonly Part[], depth: number, options: ExplodeOptions): number {
  const units = unitsIn(parts, depth);
  const here = units.length > 1 ? units.length : 0;
  return openedOf(units, options).reduce((sum, unit) => sum + countOf(unit.parts, depth + 1, options), here);
}

/** Which things at one place are taken apart themselves: of more than a few that are alike the one nearest to whoever looks. */
function openedOf(units: readonly Unit[], { levels = Infinity, whole, every }: ExplodeOptions): Unit[] {
  const mayOpen = units.filter(({ parts, path, stays }) => {
    const depth = pathOf(path).length;
    return !stays && depth < levels && !whole?.has(path) && parts.some((part) => part.path.length > depth);
  });
  if (every) return mayOpen;
  const chosen = new Set(
    [...groupBy(mayOpen, signatureOf).values()].flatMap((alike) =>
      alike.length <= FEW
        ? alike
        : [alike.reduce((best, unit) => (nearness(unit) > nearness(best) + NEARER ? unit : best))],
    ),
  );
  return mayOpen.filter((unit) => chosen.has(unit));
}
/** So few that are alike are all opened: which of them is seen well depends on the view. */
const FEW = 3;
/** So much nearer a later one has to be to be taken; mm. */
const NEARER = 1e-3;
/** Where most pictures are made from: the right front upper corner. */
const LOOKS_FROM: Vec3 = [1, -1, 1];
/** How far the seats of a thing's parts lie towards that corner, on average; mm. */
const nearness = ({ parts }: Unit): number =>
  parts.reduce((sum, { placement }) => sum + dot([placement[3], placement[7], placement[11]], LOOKS_FROM), 0) /
  parts.length;

/** Takes apart what stands at one place; its moves come before those inside its subassemblies. */
function takeApart(parts: readonly Part[], depth: number, state: State): Reach {
  const at = state.moves.length;
  const inside = (units: readonly Unit[]): Reach[] => {
    const opened = new Set(openedOf(units, state.options));
    return units.map((unit) => (opened.has(unit) ? takeApart(unit.parts, pathOf(unit.path).length, state) : closed));
  };
  const alone = unitsIn(parts, depth);
  if (alone.length < 2) return inside(alone)[0] ?? closed;
  const { units, meetings, left } = leaving(parts, depth, state);
  const reaches = inside(units);
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
