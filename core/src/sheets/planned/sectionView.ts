import type { ComponentKey } from '../../assembly/index.ts';
import { boxHeight, boxWidth, hypot, type Box2, type Vec2, type Vec3 } from '../../geometry/index.ts';
import { pathFault, type CutPath } from '../../sections/index.ts';
import {
  directionNames,
  projectedDirection,
  viewPlacement,
  type Direction,
  type DirectionName,
  type ProjectionSide,
  type ViewLines,
} from '../../views/index.ts';
import { cuttingLineOn } from '../laid/cuttingLines.ts';
import { placeView } from '../laid/layout.ts';
import { placeProjected } from '../laid/projected.ts';
import { frameBox, keepOnPaper, type Paper } from '../paper/paper.ts';
import type { Projection, SheetView } from '../records.ts';
import type { Section } from '../section.ts';
import { CAPTION, freeLetter, unplacedView } from './plan.ts';

/** Lines this near to level or upright on paper are meant to be; sine. */
const NEARLY = 0.005;
/** Between a view and a section that is slanted to it; mm. */
const BETWEEN = 24;

/** A plane across an axis of the machine (0 x, 1 y, 2 z), where it stands; mm. */
export interface AxisPlane {
  readonly axis: 0 | 1 | 2;
  readonly at: number;
}

/** The cutting line through points of a view plane. */
function pathThrough(direction: Direction, line: readonly Vec2[]): CutPath {
  const m = viewPlacement(direction);
  const right: Vec3 = [m[0], m[1], m[2]],
    up: Vec3 = [m[4], m[5], m[6]],
    along: Vec3 = [m[8], m[9], m[10]];
  const mixed = ([x, y]: Vec2): Vec3 => [x * right[0] + y * up[0], x * right[1] + y * up[1], x * right[2] + y * up[2]];
  // Its first stretch says how it is looked at: others may step aside, or end in the middle.
  const [first, second] = line;
  const from: Vec2 = [second[0] - first[0], second[1] - first[1]];
  const size = hypot(...from) || 1;
  const way: Vec2 = [from[0] / size, from[1] / size];
  // From below a level line, from the right of an upright one.
  const below: Vec2 =
    way[0] > NEARLY || (Math.abs(way[0]) <= NEARLY && way[1] > 0) ? [way[1], -way[0]] : [-way[1], way[0]];
  const towards = mixed(below);
  return { points: line.map(mixed), along, towards: rounded(towards) };
}

/** A full cutting line. */
export const pathBetween = (from: Vec3, to: Vec3, along: Vec3, towards: Vec3): CutPath => ({
  points: [from, to],
  along,
  towards,
});

const rounded = (way: Vec3): Vec3 => way.map((one) => (Math.abs(one) < 1e-12 ? 0 : one)) as unknown as Vec3;

/** From which side of the view a section is looked at, where that is square to the view. */
function sideOf(direction: Direction, { towards }: CutPath): ProjectionSide | null {
  const m = viewPlacement(direction);
  const x = m[0] * towards[0] + m[1] * towards[1] + m[2] * towards[2],
    y = m[4] * towards[0] + m[5] * towards[1] + m[6] * towards[2];
  if (Math.abs(x) <= NEARLY) return y < 0 ? 'below' : 'above';
  if (Math.abs(y) <= NEARLY) return x < 0 ? 'left' : 'right';
  return null;
}

/** Index in a view placement: how far up the upright axis of the machine points on paper. */
const UP_OF_Z = 6;

const isSameSight = (one: Direction, other: Direction): boolean => {
  const m = viewPlacement(other);
  return viewPlacement(one).every((value, at) => Math.abs(value - m[at]) < 1e-9);
};

/** From where a section is looked at: as a view that is projected from its parent, else with the line level. */
export function sectionDirection(parent: Direction, path: CutPath): Direction {
  const side = sideOf(parent, path);
  const projected = side && projectedDirection(parent, side);
  // Projected so, the machine may stand on its head: letters and arrows do without.
  if (projected && viewPlacement(projected)[UP_OF_Z] > -0.5) return projected;
  const { along: a, towards: t } = path;
  const right: Vec3 = [a[1] * t[2] - a[2] * t[1], a[2] * t[0] - a[0] * t[2], a[0] * t[1] - a[1] * t[0]];
  const turn: Direction = [...right, ...a, ...t];
  return directionNames.find((name) => isSameSight(name, turn)) ?? turn;
}

/**
 * A section along a line drawn on a view, that has no place yet; a sentence where it cannot be.
 * @param line corners on the view plane of the parent; mm at 1:1
 * @param views of all sheets, those of its own sheet last
 */
export function sectionAlong(
  parent: SheetView,
  line: readonly Vec2[],
  views: readonly SheetView[],
  id: string,
): SheetView | string {
  const path = pathThrough(parent.direction, line);
  const fault = pathFault(path);
  if (fault) return fault;
  const { without, only, pose, tangent, shade } = parent;
  const look = {
    direction: sectionDirection(parent.direction, path),
    ...(without ? { without } : {}),
    ...(only ? { only } : {}),
    ...(pose === undefined ? {} : { pose }),
    ...(shade ? { shade } : {}),
  };
  return {
    ...unplacedView(id, look),
    ...(tangent ? { tangent } : {}),
    ...(parent.centreLines ? { centreLines: { smallest: parent.centreLines.smallest } } : {}),
    scale: parent.scale,
    byHand: true,
    section: { letter: freeLetter(views), of: parent.id, path, ...saidOfParts(views) },
  };
}

/**
 * What was said of parts in the sections that are there: whether they are cut. A new section starts with it; what was said
 * in a later view holds.
 */
export function saidOfParts(views: readonly SheetView[]): Pick<Section, 'whole' | 'through'> {
  const said = new Map<ComponentKey, boolean>();
  for (const { section } of views) {
    for (const part of section?.whole ?? []) said.set(part, true);
    for (const part of section?.through ?? []) said.set(part, false);
  }
  const those = (isWhole: boolean) => [...said].flatMap(([part, one]) => (one === isWhole ? [part] : []));
  const [whole, through] = [those(true), those(false)];
  return { ...(whole.length > 0 ? { whole } : {}), ...(through.length > 0 ? { through } : {}) };
}

/** Where a section may stand. */
interface SectionRoom {
  readonly projection: Projection;
  readonly paper: Paper;
  /** What it would lie over; mm on paper. */
  readonly taken: readonly Box2[];
}

/**
 * A section beside its parent. Square to it, it is aligned with it where first or third angle puts it, or on the other side
 * where there is room: letters and arrows tell what it is (ISO 128-3, 6.1). Slanted, it stands the way that one looks. Where
 * there is no room in either place it stands on free paper, in line with its parent where it can; and where there is none at
 * all, in the less crowded of both.
 */
export function placeSection(
  section: SheetView,
  parent: SheetView,
  { lines, drawn }: { readonly lines: ViewLines; readonly drawn: ViewLines },
  room: SectionRoom,
): SheetView {
  const side = sideOf(parent.direction, section.section!.path!);
  const other: Projection = room.projection === 'first' ? 'third' : 'first';
  const places = [room.projection, other].map((projection): SheetView => {
    if (!side) return { ...section, centre: slantedCentre(section, parent, lines, drawn, projection) };
    const { centre, projectedFrom } = placeProjected(parent, lines, side, projection, section.id, drawn);
    return { ...section, centre, ...(projection === room.projection && projectedFrom ? { projectedFrom } : {}) };
  });
  const [best] = places.toSorted((a, b) => crowding(a, drawn, room) - crowding(b, drawn, room));
  if (crowding(best, drawn, room) === 0) return best;
  const line = cuttingLineOn(section, placeView(parent, lines));
  const free = freePlace(section, parent, drawn, { ...room, taken: line ? [...room.taken, line.box] : room.taken });
  return free ?? { ...best, centre: keepOnPaper(room.paper, best.centre) };
}

/** Free places are looked for in steps of so many mm; out of line with its parent counts as so much farther. */
const STEP = 5,
  OUT_OF_LINE = 60;

/** The nearest place on free paper; null where there is none. */
function freePlace(section: SheetView, parent: SheetView, drawn: ViewLines, room: SectionRoom): SheetView | null {
  const [x0, y0, x1, y1] = frameBox(room.paper);
  const [px, py] = parent.centre;
  const steps = (from: number, to: number, own: number): number[] => [
    own,
    ...Array.from({ length: Math.floor((to - from) / STEP) + 1 }, (_, at) => from + at * STEP),
  ];
  let found: Vec2 | null = null,
    least = Infinity;
  for (const x of steps(x0, x1, px))
    for (const y of steps(y0, y1, py)) {
      const cost = hypot(x - px, y - py) + (x === px || y === py ? 0 : OUT_OF_LINE);
      if (cost >= least || crowding({ ...section, centre: [x, y] }, drawn, room) > 0) continue;
      found = [x, y];
      least = cost;
    }
  return found && { ...section, centre: found };
}

function slantedCentre(
  section: SheetView,
  parent: SheetView,
  lines: ViewLines,
  drawn: ViewLines,
  projection: Projection,
): Vec2 {
  const m = viewPlacement(parent.direction);
  const { towards: t } = section.section!.path!;
  const [x, y] = [m[0] * t[0] + m[1] * t[1] + m[2] * t[2], m[4] * t[0] + m[5] * t[1] + m[6] * t[2]];
  const half = (box: Box2) => (hypot(boxWidth(box), boxHeight(box)) * parent.scale) / 2;
  const far = (half(lines.box) + half(drawn.box)) * 0.8 + BETWEEN;
  // In first angle a view stands behind what it shows; on paper y runs down.
  const way = projection === 'third' ? 1 : -1;
  return [parent.centre[0] + way * x * far, parent.centre[1] - way * y * far];
}

/** How much of a view with its caption lies off the frame or over something; mm². */
function crowding({ centre: [x, y], scale }: SheetView, { box }: ViewLines, { paper, taken }: SectionRoom): number {
  const [dx, dy] = [(boxWidth(box) * scale) / 2, (boxHeight(box) * scale) / 2];
  const own: Box2 = [x - dx - AROUND, y - dy - AROUND, x + dx + AROUND, y + dy + AROUND + CAPTION];
  const frame = frameBox(paper);
  // Each side by itself: a product less a product is not nought.
  const off = [frame[0] - own[0], frame[1] - own[1], own[2] - frame[2], own[3] - frame[3]]
    .map((far, side) => Math.max(0, far) * (side % 2 === 0 ? boxHeight(own) : boxWidth(own)))
    .reduce((sum, one) => sum + one, 0);
  return taken.reduce((sum, one) => sum + sharedArea(own, one), off);
}

/** Free paper around a section; mm. */
const AROUND = 2;

const sharedArea = (one: Box2, other: Box2): number =>
  Math.max(0, Math.min(one[2], other[2]) - Math.max(one[0], other[0])) *
  Math.max(0, Math.min(one[3], other[3]) - Math.max(one[1], other[1]));

/** The same section looked at from the other side. */
export function turnedSection(view: SheetView, parent: SheetView): Pick<SheetView, 'direction' | 'section'> | null {
  const { section } = view;
  if (!section?.path) return null;
  const [x, y, z] = section.path.towards;
  const path = { ...section.path, towards: [0 - x, 0 - y, 0 - z] as Vec3 };
  return pathFault(path)
    ? null
    : { direction: sectionDirection(parent.direction, path), section: { ...section, path } };
}

/**
 * What takes the quarter away that is nearest to the viewer of a pictorial view, about the middle of what it shows; the half
 * before the middle where the view is square to an axis.
 * @param middle of the machine
 */
export function quarterBefore(direction: Direction, middle: Vec3): NonNullable<SheetView['section']> {
  const m = viewPlacement(direction);
  const sight: Vec3 = [m[8], m[9], m[10]];
  const planes = [0, 1].flatMap((axis) => {
    const way = sight[axis];
    if (Math.abs(way) < NEARLY) return [];
    const sign = way > 0 ? -1 : 1;
    const normal: Vec3 = [axis === 0 ? sign : 0, axis === 1 ? sign : 0, 0];
    return [{ normal, offset: sign * middle[axis] }];
  });
  const cut =
    planes.length > 0
      ? planes
      : [{ normal: [0, 0, -Math.sign(sight[2])] as Vec3, offset: -Math.sign(sight[2]) * middle[2] }];
  return { letter: '', cuts: [cut] };
}

/** Where a straight cutting line square to an axis of the machine stands; null for any other. */
export function planeOf({ points, towards }: CutPath): AxisPlane | null {
  const axis = [0, 1, 2].find((one) => Math.abs(Math.abs(towards[one]) - 1) < 1e-9);
  if (axis === undefined || points.some((point) => Math.abs(point[axis] - points[0][axis]) > 1e-6)) return null;
  return { axis: axis as AxisPlane['axis'], at: points[0][axis] };
}

/** The same line elsewhere along that axis. */
export const pathAt = (path: CutPath, { axis, at }: AxisPlane): CutPath => ({
  ...path,
  points: path.points.map((point) => point.map((value, one) => (one === axis ? at : value)) as unknown as Vec3),
});

/** The machine cut open across an axis, as one looks at it in 3D: what is taken away, and from where that is looked at. */
export function openedAcross(
  { axis, at }: AxisPlane,
  isBefore: boolean,
): { readonly direction: DirectionName; readonly cuts: NonNullable<Section['cuts']> } {
  const sides = [
    ['right', 'left'],
    ['back', 'front'],
    ['top', 'bottom'],
  ] as const;
  const sign = isBefore ? 1 : -1;
  const normal = [0, 1, 2].map((one) => (one === axis ? sign : 0)) as unknown as Vec3;
  return { direction: sides[axis][isBefore ? 1 : 0], cuts: [[{ normal, offset: sign * at }]] };
}

/** Features along an axis of the machine are off it by at most this; sine. */
const ALONG_AXIS = 1e-3;

/**
 * Where a machine is cut open: the axis of the largest round feature that is seen and runs along an axis of the machine, and
 * else the middle of what is seen. Machine coordinates.
 */
export function middleOf(direction: Direction, lines: ViewLines): Vec3 {
  const m = viewPlacement(direction);
  const toMachine = ([x, y, z]: Vec3): [number, number, number] => [
    x * m[0] + y * m[4] + z * m[8],
    x * m[1] + y * m[5] + z * m[9],
    x * m[2] + y * m[6] + z * m[10],
  ];
  const { box, depths, axisEnds, axisRadii } = lines;
  let low = Infinity,
    high = -Infinity;
  for (const depth of depths) {
    low = Math.min(low, depth);
    high = Math.max(high, depth);
  }
  const middle = toMachine([(box[0] + box[2]) / 2, (box[1] + box[3]) / 2, (low + high) / 2]);
  const known = [false, false, false];
  const order = Array.from(axisRadii?.keys() ?? []).sort((a, b) => axisRadii![b] - axisRadii![a] || a - b);
  for (const at of order) {
    const [from, to] = [0, 3].map((k) =>
      toMachine([axisEnds![at * 6 + k], axisEnds![at * 6 + k + 1], axisEnds![at * 6 + k + 2]]),
    );
    const way = [0, 1, 2].map((k) => to[k] - from[k]);
    const size = hypot(way[0], way[1], way[2]);
    const along = way.findIndex((one) => Math.abs(Math.abs(one) - size) < ALONG_AXIS * size);
    if (along < 0 || size === 0) continue;
    for (const axis of [0, 1, 2])
      if (axis !== along && !known[axis]) {
        middle[axis] = from[axis];
        known[axis] = true;
      }
  }
  return middle;
}
