import {
  hashKey,
  listOccurrences,
  pathKey,
  type Assembly,
  type ComponentKey,
  type PathKey,
  type ShapeKey,
} from '../../assembly/index.ts';
import type { Cut } from '../../sections/index.ts';
import type { Box2, Placement } from '../../geometry/index.ts';
import { displacements, movedBy, type PoseMove } from '../../poses/index.ts';
import type { Direction } from '../directions.ts';
import type { LookCut, Pane } from '../scene/cutBodies.ts';
import type { Shading } from './shade.ts';

/**
 * Bumped when meshes that are stored have to be made anew; those of before stay good beside those that are meshed by
 * ourselves now.
 */
export const TESSELLATION_VERSION = 'occt-import-js 0.0.23/2';
/** Bumped when the lines or spots of a view change. */
const VIEW_VERSION = 'view/16';

/** What is taken away of a machine so that its inside is seen. */
export interface CutRequest {
  /** In machine coordinates, one after the other. */
  readonly cuts: readonly Cut[];
  /** Pieces of the view in which something else is taken away, see Pane. */
  readonly panes?: readonly Pane[];
  /** Whether shafts, screws and their like are shown whole where a plane goes along them; see notCutLengthwise. */
  readonly lengthwise?: true;
  /** Parts that are shown whole, whatever they are. */
  readonly whole?: readonly ComponentKey[];
  /** Parts that are cut, whatever they are. */
  readonly through?: readonly ComponentKey[];
}

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
  /** What is taken away so that the inside is seen; nothing where absent. */
  readonly cut?: CutRequest;
  /** The piece of the view plane that is looked at, drawn as finely as its size asks for; everything where absent. mm */
  readonly window?: Box2;
}

/** One thing that is looked at. */
interface LookedAt {
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
  readonly cut: LookCut | null;
  readonly window: Box2 | null;
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
const lookName = ({ direction, without = [], only, moves = [], hidden, shade, cut, window }: LookRequest): string =>
  JSON.stringify([direction, [...without].sort(), only ? [...only].sort() : null, hidden, shade]) +
  movesName(moves) +
  (cut ? cutName(cut) : '') +
  (window ? windowName(window) : '');

/** In thousandths of a mm: windows that differ by less are one. */
const windowName = (window: Box2): string => `window ${window.map((side) => Math.round(side * 1e3) + 0).join(' ')}`;

/** Planes that differ by less than a millionth of a mm, or of a turn, are one. */
const cutName = ({ cuts, panes, lengthwise, whole = [], through = [] }: CutRequest): string =>
  JSON.stringify([
    cutsName(cuts),
    lengthwise ?? false,
    [...whole].sort(),
    [...through].sort(),
    ...(panes ? panes.map(paneName) : []),
  ]);
const millionths = (values: readonly number[]): number[] => values.map((one) => Math.round(one * 1e6) + 0);
const cutsName = (cuts: readonly Cut[]) =>
  cuts.map((cut) => cut.map(({ normal, offset }) => millionths([...normal, offset])));
const paneName = ({ cuts, border, beyond, turned }: Pane) => [
  cutsName(cuts),
  border?.map(millionths) ?? null,
  beyond ? millionths([...beyond.from, ...beyond.way]) : null,
  turned ? millionths([...turned.about, ...turned.along, turned.by]) : null,
];

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

/** Everything with a shape that stands in a machine, in structure order. */
interface Listing {
  readonly paths: readonly PathKey[];
  readonly shapes: readonly ShapeKey[];
  readonly components: readonly ComponentKey[];
  readonly placements: readonly Placement[];
  /** Of each place its path and shape in 16 bytes, made when it is asked for. */
  digests: Uint8Array | null;
}
const listings = new WeakMap<Assembly, Listing>();

/** Listed once per machine, however many looks are asked of it. @throws Refusal beyond MAX_SHOWN_OCCURRENCES */
function listingOf(assembly: Assembly): Listing {
  let listing = listings.get(assembly);
  if (!listing) {
    const all = listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
    listing = {
      paths: all.map(({ path }) => pathKey(path)),
      components: all.map(({ components }) => assembly.components[components[components.length - 1]].key),
      shapes: all.map(({ components }) => assembly.components[components[components.length - 1]].shape!),
      placements: all.map(({ placement }) => placement),
      digests: null,
    };
    listings.set(assembly, listing);
  }
  return listing;
}

/** Places of a listing that a request shows, and where each of them stands. */
function selected(listing: Listing, { without = [], only, moves = [] }: LookRequest) {
  const { paths, placements } = listing;
  const isShown = shownBy({ without, only });
  const displaced = displacements(moves);
  const shown: number[] = [];
  const standing: Placement[] = [];
  for (let at = 0; at < paths.length; at++) {
    if (!isShown(paths[at])) continue;
    const by = displaced(paths[at]);
    shown.push(at);
    standing.push(by ? movedBy(placements[at], by) : placements[at]);
  }
  return { shown, standing };
}

/** From so many things on each is hashed once per machine, and looks hash that: paths may be many letters long. */
const MANY_THINGS = 5000;

/**
 * The key that a request has in this machine, see `Look.key`; what is looked at is not listed for it, so keys of many
 * looks at a large machine cost little more than one.
 * @throws Refusal beyond MAX_SHOWN_OCCURRENCES
 */
export function lookKey(assembly: Assembly, request: LookRequest): string {
  const listing = listingOf(assembly);
  const { without, only, moves } = request;
  const name = lookName({
    direction: 'front',
    ...(without ? { without } : {}),
    ...(only ? { only } : {}),
    ...(moves ? { moves } : {}),
  });
  let known = selections.get(listing);
  if (!known) selections.set(listing, (known = new Map()));
  let parts = known.get(name);
  if (!parts) known.set(name, (parts = partsOfKey(listing, selected(listing, request))));
  return keyOf(request, parts);
}
const selections = new WeakMap<Listing, Map<string, readonly (string | Uint8Array)[]>>();

function makeLook(assembly: Assembly, request: LookRequest): Look {
  const { direction, moves = [], hidden, shade, cut, window } = request;
  const listing = listingOf(assembly);
  const selection = selected(listing, request);
  const parts = partsOfKey(listing, selection);
  const key = keyOf(request, parts);
  return {
    key,
    unshaded: shade ? keyOf({ ...request, shade: undefined } as LookRequest, parts) : key,
    direction,
    things: selection.shown.map((at, order): LookedAt => ({
      path: listing.paths[at],
      shape: listing.shapes[at],
      placement: selection.standing[order],
    })),
    moves,
    hidden: hidden ?? false,
    shade: shade ?? null,
    cut: cut ? cutAt(cut, listing) : null,
    window: window ?? null,
  };
}

/** The same cut with the places of the parts that it names. */
function cutAt({ cuts, panes, lengthwise, whole, through }: CutRequest, { paths, components }: Listing): LookCut {
  const placesOf = (parts: readonly ComponentKey[]): PathKey[] => {
    const wanted = new Set(parts);
    return paths.filter((_, at) => wanted.has(components[at]));
  };
  return {
    cuts,
    ...(panes ? { panes } : {}),
    ...(lengthwise ? { lengthwise } : {}),
    ...(whole ? { whole: placesOf(whole) } : {}),
    ...(through ? { through: placesOf(through) } : {}),
  };
}

/** What stands where, as it goes into the key: the things, and behind everything else their placements. */
function partsOfKey(
  listing: Listing,
  { shown, standing }: ReturnType<typeof selected>,
): readonly [things: string | Uint8Array, placements: Uint8Array] {
  const rounded = new Float64Array(standing.length * 12);
  // Noise below a millionth of a mm, or of a turn, makes no other view. Adding 0 makes −0 the same as 0.
  standing.forEach((placement, at) =>
    placement.forEach((value, k) => (rounded[at * 12 + k] = Math.round(value * 1e6) + 0)),
  );
  const placements = new Uint8Array(rounded.buffer);
  const { paths, shapes } = listing;
  if (shown.length <= MANY_THINGS) return [shown.map((at) => `${paths[at]} ${shapes[at]}`).join('\n'), placements];
  const all = (listing.digests ??= digestsOf(listing));
  const things = new Uint8Array(shown.length * DIGEST);
  shown.forEach((at, order) => things.set(all.subarray(at * DIGEST, (at + 1) * DIGEST), order * DIGEST));
  // Short, so that what is kept for each selection is short: a hash of each.
  return [hashKey('things', things), new TextEncoder().encode(hashKey('placements', placements))];
}

const DIGEST = 16; // bytes
function digestsOf({ paths, shapes }: Listing): Uint8Array {
  const digests = new Uint8Array(paths.length * DIGEST);
  paths.forEach((path, at) => {
    const hex = hashKey(path, shapes[at]);
    for (let byte = 0; byte < DIGEST; byte++)
      digests[at * DIGEST + byte] = parseInt(hex.slice(byte * 2, byte * 2 + 2), 16);
  });
  return digests;
}

const keyOf = (
  { direction, moves = [], hidden, shade, cut, window }: LookRequest,
  [things, placements]: readonly (string | Uint8Array)[],
): string =>
  hashKey(
    `look ${VIEW_VERSION} ${TESSELLATION_VERSION} ${String(direction)}`,
    things,
    ...(moves.length > 0 ? [movesName(moves)] : []),
    ...(hidden ? ['with hidden lines'] : []),
    ...(shade ? [`shaded in ${shade}`] : []),
    ...(cut ? [`cut 3 ${cutName(cut)}`] : []),
    ...(window ? [windowName(window)] : []),
    placements,
  );
