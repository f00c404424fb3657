import { hashKey, listOccurrences, pathKey, type Assembly, type PathKey, type ShapeKey } from '../assembly/index.ts';
import type { Placement } from '../geometry/index.ts';
import { displacements, movedBy, type PoseMove } from '../poses/index.ts';
import type { Direction } from './directions.ts';
import type { Shading } from './shade.ts';

/**
 * Bumped when meshes that are stored have to be made anew; those of before stay good beside those that are meshed by
 * ourselves now.
 */
export const TESSELLATION_VERSION = 'occt-import-js 0.0.23/2';
/** Bumped when the lines or spots of a view change. */
const VIEW_VERSION = 'view/9';

/** What a drafter says about a view; what it comes to follows from the machine that it is asked of. */
export interface LookRequest {
  readonly direction: Direction;
  /** Places left out, each with everything below it. */
  readonly without?: readonly PathKey[];
  /** Nothing but these places, each with everything below it; the whole machine where absent. */
  readonly only?: readonly PathKey[];
  /** What has left its seat; as assembled where absent. */
  readonly moves?: readonly PoseMove[];
  /** Whether lines that cannot be seen are wanted too. */
  readonly hidden?: true;
  /** In which colours faces are shaded under the lines; not at all where absent. */
  readonly shade?: Shading;
}

/** One thing that is looked at. */
export interface LookedAt {
  readonly path: PathKey;
  readonly shape: ShapeKey;
  /** Own coordinates to machine coordinates: revision, pose, variant, up and front have all come together in it. */
  readonly placement: Placement;
}

/** What is looked at, and from where: everything that the lines of a view depend on, and the one name for it. */
export interface Look {
  /**
   * Hash of all of it and of the versions of what draws it: what is kept under this name never changes. The same in the
   * page, the server and on the command line.
   */
  readonly key: string;
  /** The key of the same without shading: its lines are the same. */
  readonly unshaded: string;
  readonly direction: Direction;
  readonly things: readonly LookedAt[];
  /** What has left its seat among them, in the order in which it did. */
  readonly moves: readonly PoseMove[];
  /** Whether lines that cannot be seen are wanted too. */
  readonly hidden: boolean;
  /** In which colours faces are shaded; null where they are not. */
  readonly shade: Shading | null;
}

const known = new WeakMap<Assembly, Map<string, Look>>();

/**
 * What a request comes to in this machine; worked out once per machine and request.
 * @param assembly as it stands: edits, variant, up and front laid over the file
 * @throws Refusal beyond MAX_SHOWN_OCCURRENCES
 */
export function lookAt(assembly: Assembly, request: LookRequest): Look {
  let looks = known.get(assembly);
  if (!looks) known.set(assembly, (looks = new Map()));
  const name = lookName(request);
  let look = looks.get(name);
  if (!look) looks.set(name, (look = makeLook(assembly, request)));
  return look;
}

/** One name for requests that ask the same of one machine, whatever order they name places in. */
export const lookName = ({ direction, without = [], only, moves = [], hidden, shade }: LookRequest): string =>
  JSON.stringify([direction, [...without].sort(), only ? [...only].sort() : null, hidden, shade]) + movesName(moves);

const named = new WeakMap<readonly PoseMove[], string>();
/** Written once per list: a page asks for its views at every move of the pointer. */
function movesName(moves: readonly PoseMove[]): string {
  let name = named.get(moves);
  if (name === undefined) named.set(moves, (name = JSON.stringify(moves)));
  return name;
}

/** Whether a path or one above it is among these. */
function isUnder(path: PathKey, places: ReadonlySet<string>): boolean {
  for (let end = path.length; end >= 0; end = path.lastIndexOf('/', end - 1)) {
    if (places.has(path.slice(0, end))) return true;
    if (end === 0) break;
  }
  return false;
}

/** Tells of a place whether a request asks for it; whether it can be seen is another question. */
export function shownBy({ without = [], only }: Pick<LookRequest, 'without' | 'only'>): (path: PathKey) => boolean {
  const left = new Set<string>(without);
  const kept = only && new Set<string>(only);
  return (path) => !(left.size > 0 && isUnder(path, left)) && (kept === undefined || isUnder(path, kept));
}

function makeLook(assembly: Assembly, { direction, without = [], only, moves = [], hidden, shade }: LookRequest): Look {
  const isShown = shownBy({ without, only });
  const displaced = displacements(moves);
  const things = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).flatMap(
    ({ path, components, placement }): LookedAt[] => {
      const key = pathKey(path);
      if (!isShown(key)) return [];
      const by = displaced(key);
      const shape = assembly.components[components[components.length - 1]].shape!;
      return [{ path: key, shape, placement: by ? movedBy(placement, by) : placement }];
    },
  );
  const placements = new Float64Array(things.length * 12);
  // Noise below a millionth of a mm, or of a turn, makes no other view. Adding 0 makes −0 the same as 0.
  things.forEach(({ placement }, at) =>
    placement.forEach((value, k) => (placements[at * 12 + k] = Math.round(value * 1e6) + 0)),
  );
  const keyOf = (shading: Shading | undefined) =>
    hashKey(
      `look ${VIEW_VERSION} ${TESSELLATION_VERSION} ${String(direction)}`,
      things.map(({ path, shape }) => `${path} ${shape}`).join('\n'),
      ...(moves.length > 0 ? [movesName(moves)] : []),
      ...(hidden ? ['with hidden lines'] : []),
      ...(shading ? [`shaded in ${shading}`] : []),
      new Uint8Array(placements.buffer),
    );
  const key = keyOf(shade);
  return {
    key,
    unshaded: shade ? keyOf(undefined) : key,
    direction,
    things,
    moves,
    hidden: hidden ?? false,
    shade: shade ?? null,
  };
}
