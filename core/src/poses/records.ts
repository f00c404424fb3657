import type { PathKey } from '../assembly/index.ts';
import type { Placement, Vec3 } from '../geometry/index.ts';

/** One thing taken away from its seat: an occurrence with everything below it. */
export interface PoseMove {
  /** What is moved. */
  readonly path: PathKey;
  /** The way from its seat, piece by piece; mm in machine coordinates. Moves of what it stands in come on top. */
  readonly steps: readonly Vec3[];
}

/** A named arrangement of the components: what has left its seat, in the order in which it leaves. */
export interface Pose {
  /** Of its own in the project. */
  readonly id: string;
  /** In lists and captions. */
  readonly name: string;
  /** In the order in which things leave; what is not named stays where it is. */
  readonly moves: readonly PoseMove[];
}

/** How far a move goes altogether; mm. */
export const wholeStep = ({ steps }: PoseMove): Vec3 =>
  steps.reduce<Vec3>((sum, step) => [sum[0] + step[0], sum[1] + step[1], sum[2] + step[2]], [0, 0, 0]);

/**
 * The pose with one place moved so far from its seat, in one step; at its seat where the way has no length. What moved
 * before keeps its rank among the moves, what is new leaves last.
 */
export function withMove(pose: Pose, path: PathKey, step: Vec3): Pose {
  const at = pose.moves.findIndex((move) => move.path === path);
  const stays = step.every((value) => value === 0);
  const move: PoseMove = { path, steps: [step] };
  const moves =
    at < 0 ? (stays ? pose.moves : [...pose.moves, move]) : pose.moves.toSpliced(at, 1, ...(stays ? [] : [move]));
  return { ...pose, moves };
}

/**
 * How far each place stands from its seat: the moves of it and of all that it stands in.
 * @returns mm in machine coordinates, by path; null where nothing moves it
 */
export function displacements(moves: readonly PoseMove[]): Displaced {
  let found = known.get(moves);
  if (!found) known.set(moves, (found = addUp(moves)));
  return found;
}

type Displaced = (path: string) => Vec3 | null;
/** Asked for every balloon of a sheet at every move of the pointer. */
const known = new WeakMap<readonly PoseMove[], Displaced>();

function addUp(moves: readonly PoseMove[]): Displaced {
  const own = new Map<string, Vec3>();
  for (const move of moves) {
    const before = own.get(move.path) ?? [0, 0, 0];
    const step = wholeStep(move);
    own.set(move.path, [before[0] + step[0], before[1] + step[1], before[2] + step[2]]);
  }
  return (path) => {
    let sum: [number, number, number] | null = null;
    for (let end = path.length; end >= 0; end = end === 0 ? -1 : Math.max(0, path.lastIndexOf('/', end - 1))) {
      const step = own.get(path.slice(0, end));
      if (!step) continue;
      sum ??= [0, 0, 0];
      for (let axis = 0; axis < 3; axis++) sum[axis] += step[axis];
    }
    return sum;
  };
}

/** The placement moved by so much in machine coordinates. */
export const movedBy = (placement: Placement, by: Vec3): Placement =>
  placement.map((value, at) => (at % 4 === 3 ? value + by[(at - 3) / 4] : value));
