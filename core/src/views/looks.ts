import { hashKey, listOccurrences, pathKey, type Assembly, type PathKey, type ShapeKey } from '../assembly/index.ts';
import type { Placement } from '../geometry/index.ts';
import type { DirectionName } from './directions.ts';

/** Bumped when tessellation changes, so that meshes, and all that is made of them, are made anew. */
export const TESSELLATION_VERSION = 'occt-import-js 0.0.23/2';
/** Bumped when the lines or spots of a view change. */
const VIEW_VERSION = 'view/4';

/** What a drafter says about a view; what it comes to follows from the machine that it is asked of. */
export interface LookRequest {
  readonly direction: DirectionName;
  /** Places left out, each with everything below it. */
  readonly without?: readonly PathKey[];
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
  readonly direction: DirectionName;
  readonly things: readonly LookedAt[];
}

const known = new WeakMap<Assembly, Map<string, Look>>();

/**
 * What a request comes to in this machine; worked out once per machine and request.
 * @param assembly as it stands: edits, variant, up and front laid over the file
 * @throws Refusal beyond MAX_SHOWN_OCCURRENCES
 */
export function lookAt(assembly: Assembly, { direction, without = [] }: LookRequest): Look {
  let looks = known.get(assembly);
  if (!looks) known.set(assembly, (looks = new Map()));
  const name = JSON.stringify([direction, [...without].sort()]);
  let look = looks.get(name);
  if (!look) looks.set(name, (look = makeLook(assembly, direction, without)));
  return look;
}

function makeLook(assembly: Assembly, direction: DirectionName, without: readonly PathKey[]): Look {
  const left = new Set<string>(without);
  const isLeftOut = (path: PathKey): boolean => {
    for (let end = path.length; end >= 0; end = path.lastIndexOf('/', end - 1)) {
      if (left.has(path.slice(0, end))) return true;
      if (end === 0) break;
    }
    return false;
  };
  const things = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).flatMap(
    ({ path, components, placement }): LookedAt[] => {
      const key = pathKey(path);
      return left.size > 0 && isLeftOut(key)
        ? []
        : [{ path: key, shape: assembly.components[components[components.length - 1]].shape!, placement }];
    },
  );
  const placements = new Float64Array(things.length * 12);
  // Noise below a millionth of a mm, or of a turn, makes no other view. Adding 0 makes −0 the same as 0.
  things.forEach(({ placement }, at) =>
    placement.forEach((value, k) => (placements[at * 12 + k] = Math.round(value * 1e6) + 0)),
  );
  return {
    key: hashKey(
      `look ${VIEW_VERSION} ${TESSELLATION_VERSION} ${direction}`,
      things.map(({ path, shape }) => `${path} ${shape}`).join('\n'),
      new Uint8Array(placements.buffer),
    ),
    direction,
    things,
  };
}
