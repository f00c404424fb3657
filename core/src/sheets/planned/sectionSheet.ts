import { boxHeight, boxWidth, type Box2, type Vec3 } from '../../geometry/index.ts';
import { viewPlacement, type DirectionName, type DrawnView, type ViewLines } from '../../views/index.ts';
import type { Projection, SheetView } from '../records.ts';
import { proposeScale, standardScales } from '../laid/scales.ts';
import { CAPTION, unplacedView } from './plan.ts';
import { pathBetween, sectionDirection, type AxisPlane } from './sectionView.ts';

/** From where a section across each axis is looked at, and the view that shows its cutting line. */
const sights: readonly { readonly towards: Vec3; readonly parent: DirectionName }[] = [
  { towards: [1, 0, 0], parent: 'front' },
  { towards: [0, -1, 0], parent: 'top' },
  { towards: [0, 0, 1], parent: 'front' },
];
/** How far a cutting line reaches beyond what it cuts, as a share of that. */
const BEYOND = 0.07;

/** Extent of what is seen along an axis of the machine, by a view square to it. */
function extentAlong(direction: DirectionName, { box }: ViewLines, axis: number): readonly [number, number] {
  const m = viewPlacement(direction);
  const [across, up] = [m[axis], m[4 + axis]];
  const [low, high] = Math.abs(across) > 0.5 ? [box[0] * across, box[2] * across] : [box[1] * up, box[3] * up];
  return [Math.min(low, high), Math.max(low, high)];
}

/** The view that shows the cutting line of a plane; it has no place yet. */
export const parentOf = ({ axis }: AxisPlane, id: string): SheetView =>
  unplacedView(id, { direction: sights[axis].parent });

/**
 * The section in a plane across an axis; it has no place yet.
 * @param parent with its lines: the view that shows the cutting line
 */
export function sectionIn(
  { axis, at }: AxisPlane,
  letter: string,
  id: string,
  parent: { readonly view: SheetView; readonly lines: ViewLines },
): SheetView {
  const { towards, parent: direction } = sights[axis];
  const m = viewPlacement(direction);
  const along: Vec3 = [m[8], m[9], m[10]];
  // Across the sight of both.
  const other = [0, 1, 2].find((k) => Math.abs(along[k]) < 0.5 && Math.abs(towards[k]) < 0.5)!;
  const [low, high] = extentAlong(direction, parent.lines, other);
  const beyond = (high - low) * BEYOND;
  const end = (value: number): Vec3 =>
    [0, 1, 2].map((k) => (k === other ? value : k === axis ? at : 0)) as unknown as Vec3;
  const path = pathBetween(end(low - beyond), end(high + beyond), along, towards);
  return {
    ...unplacedView(id, {
      direction: sectionDirection(direction, path),
      section: { letter, of: parent.view.id, path },
    }),
  };
}

/** The same section without a cutting line, to be looked at before a view for that is there: it takes the same away. */
export function bareSection({ axis, at }: AxisPlane, id: string): SheetView {
  const { towards, parent } = sights[axis];
  const m = viewPlacement(parent);
  const path = pathBetween([0, 0, 0], [0, 0, 0], [m[8], m[9], m[10]], towards);
  const side = towards[axis];
  const normal: Vec3 = [0 - towards[0], 0 - towards[1], 0 - towards[2]];
  return unplacedView(id, {
    direction: sectionDirection(parent, path),
    section: { letter: '', cuts: [[{ normal, offset: 0 - side * at }]] },
  });
}

/** About how large a section comes out that stands above or beside another view in a room. */
export const roughScale = (room: Box2, { box }: ViewLines, margin: number): number =>
  proposeScale(
    [boxWidth(box), 2 * boxHeight(box)],
    [Math.max(10, boxWidth(room) - 2 * margin), Math.max(10, boxHeight(room) - 2 * margin)],
    standardScales,
  );

/** Planes nearer to one another than this share of the machine show the same. */
const SAME_SHARE = 0.02;
/** So many planes are looked at: each is a view that has to be drawn. */
const MOST_PLANES = 2;
/** Features along an axis of the machine are off it by at most this; sine. */
const ALONG = 1e-3;

/**
 * Planes in which a section may show most: through the axes of round features, those with most of the machine about them
 * first, and through the middle.
 * @param seen the machine from a corner, with its axes
 */
export function candidatePlanes(
  direction: DirectionName,
  { axisEnds, axisRadii, box }: ViewLines,
  middle: Vec3,
): AxisPlane[] {
  const m = viewPlacement(direction);
  const size = Math.hypot(boxWidth(box), boxHeight(box));
  const weights: Map<number, number>[] = [new Map(), new Map(), new Map()];
  const add = (axis: number, value: number, weight: number) => {
    const known = [...weights[axis].keys()].find((other) => Math.abs(other - value) < SAME_SHARE * size);
    weights[axis].set(known ?? value, (weights[axis].get(known ?? value) ?? 0) + weight);
  };
  for (let at = 0; axisEnds && axisRadii && at < axisRadii.length; at++) {
    const [from, to] = [0, 3].map((k) => {
      const [x, y, z] = axisEnds.subarray(at * 6 + k, at * 6 + k + 3);
      return [0, 1, 2].map((axis) => x * m[axis] + y * m[4 + axis] + z * m[8 + axis]);
    });
    const way = [0, 1, 2].map((axis) => to[axis] - from[axis]);
    const far = Math.hypot(...way);
    const along = way.findIndex((one) => Math.abs(Math.abs(one) - far) < ALONG * far);
    if (along < 0 || far === 0) continue;
    for (const axis of [0, 1, 2]) if (axis !== along) add(axis, from[axis], axisRadii[at] ** 2 * far);
  }
  for (const axis of [0, 1, 2]) add(axis, middle[axis], 0);
  // One across each axis at least, then those about which there is most.
  const all = weights.flatMap((own, axis) =>
    [...own]
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])
      .map(([at, weight], rank) => ({ axis: axis as AxisPlane['axis'], at, weight, rank })),
  );
  return all
    .sort((a, b) => Math.sign(a.rank) - Math.sign(b.rank) || b.weight - a.weight || a.axis - b.axis)
    .slice(0, MOST_PLANES)
    .map(({ axis, at }) => ({ axis, at }));
}

/** Between a view and its section: room for balloons of both; mm. */
const BETWEEN = 26;

/**
 * A view and its section in a room of the sheet, in line, at the largest common scale: the section where first or third angle
 * puts it.
 * @param margin around both, for balloons; mm
 */
export function placePair(
  room: Box2,
  parent: { readonly view: SheetView; readonly drawn: DrawnView },
  section: { readonly view: SheetView; readonly drawn: DrawnView },
  projection: Projection,
  margin: number,
): readonly [parent: SheetView, section: SheetView] {
  const sizes = [parent, section].map(({ drawn: { lines } }) => [boxWidth(lines.box), boxHeight(lines.box)] as const);
  const m = viewPlacement(parent.view.direction);
  const { towards: t } = section.view.section!.path!;
  const [x, y] = [m[0] * t[0] + m[1] * t[1] + m[2] * t[2], m[4] * t[0] + m[5] * t[1] + m[6] * t[2]];
  const isUpright = Math.abs(y) > Math.abs(x);
  const free = [boxWidth(room) - 2 * margin, boxHeight(room) - 2 * margin - CAPTION];
  const [width, height] = isUpright
    ? [Math.max(sizes[0][0], sizes[1][0]), sizes[0][1] + sizes[1][1]]
    : [sizes[0][0] + sizes[1][0], Math.max(sizes[0][1], sizes[1][1])];
  const between = BETWEEN + (isUpright ? CAPTION : 0);
  const scale = proposeScale(
    [width, height],
    [Math.max(10, free[0] - (isUpright ? 0 : between)), Math.max(10, free[1] - (isUpright ? between : 0))],
    standardScales,
  );
  // On paper, from the parent to the section; y down.
  const way = (projection === 'third' ? 1 : -1) * Math.sign(isUpright ? -y : x);
  const axis = isUpright ? 1 : 0;
  const lengths = sizes.map((size) => size[axis] * scale);
  const whole = lengths[0] + lengths[1] + between;
  const middle = [(room[0] + room[2]) / 2, (room[1] + room[3] - CAPTION) / 2];
  const centreOf = (at: 0 | 1): [number, number] => {
    const first = (at === 1) === way < 0;
    const centre: [number, number] = [middle[0], middle[1]];
    centre[axis] += (first ? -1 : 1) * (whole / 2 - lengths[at] / 2);
    return centre;
  };
  return [
    { ...parent.view, scale, centre: centreOf(0) },
    { ...section.view, scale, centre: centreOf(1) },
  ];
}
