import { pathKey, pathOf, placementAlong, type Assembly, type PathKey } from '../../assembly/index.ts';
import {
  applyToPoint,
  boxesOverlap,
  hypot,
  invertPlacement,
  uniteBoxes2,
  type Box2,
  type Vec2,
  type Vec3,
} from '../../geometry/index.ts';
import { lineMark, measureText, textAlong, type Mark, type MarkSource } from '../../marks/index.ts';
import { displacements, movedBy, type Pose } from '../../poses/index.ts';
import { lineKinds, shownBy, type ViewLines } from '../../views/index.ts';
import { ARROW, arrowhead } from './arrows.ts';
import { axisName } from './centreLines.ts';
import type { LaidView } from './laidView.ts';
import { pointAt, seenIn } from '../section.ts';
import { movesOf, type DimensionLook, type DimensionPoint, type SheetDimension, type SheetView } from '../records.ts';

/** A reference dimension on paper. */
export interface LaidDimension {
  readonly dimension: SheetDimension;
  /** What it measures, in mm of the model; null where what it is taken from is gone. */
  readonly value: number | null;
  /** In parentheses, since nothing is made after it (ISO 129-1). */
  readonly text: string;
  readonly marks: readonly Mark[];
  /** Around its line and its text. */
  readonly box: Box2;
  /** Corners around the same, along its line. */
  readonly outline: readonly Vec2[];
  /** Across the dimension line, in which it is dragged; unit vector on paper. */
  readonly across: Vec2;
}

/** What dimensions are laid out with besides their view. */
export interface DimensionFacts {
  readonly assembly: Assembly;
  readonly poses?: readonly Pose[] | undefined;
  readonly look?: DimensionLook | undefined;
  /** Narrow pen of the sheet; mm. */
  readonly pen: number;
}

export const usualDimensionLook: DimensionLook = { unit: 'mm', decimals: 1 };
const LETTERING = 3.5; // mm, ISO 3098
const BEYOND = 2, // mm that extension lines run beyond the dimension line
  GAP = 1; // and begin beside what they are of
const ABOVE = 1; // mm between line and text
/** How far from a view a dimension line stands when it is put there; mm. */
const AWAY = 10;

/** A length of the model as a dimension says it; decimals that say nothing are left off. */
export function dimensionText(value: number, { unit, decimals, comma }: DimensionLook): string {
  const text = String(Number((unit === 'in' ? value / 25.4 : value).toFixed(decimals)));
  return comma ? text.replace('.', ',') : text;
}

/**
 * Where a dimension comes to lie: extension lines from what it measures to its line, arrows between or, where there is no
 * room, outside, the text along the line so that it reads from below or from the right.
 */
export function layOutDimension(dimension: SheetDimension, laid: LaidView, facts: DimensionFacts): LaidDimension {
  const { view, toPaper } = laid;
  const ends = measuredEnds(dimension, laid, facts);
  if (!ends) {
    const [x, y] = view.centre;
    return { dimension, value: null, text: '(?)', marks: [], box: [x, y, x, y], outline: [], across: [0, 1] };
  }
  const [p, q] = [toPaper(...ends.from), toPaper(...ends.to)];
  const way = readable(ends.along ?? towards(p, q));
  const across: Vec2 = [-way[1], way[0]];
  const dot = (a: Vec2, b: Vec2) => a[0] * b[0] + a[1] * b[1];
  const value = Math.abs(dot([q[0] - p[0], q[1] - p[1]], way)) / view.scale;
  const written = dimensionText(value, facts.look ?? usualDimensionLook);
  const text = `(${dimension.kind === 'diameter' ? 'Ø' : ''}${written})`;
  // Along the dimension line, and across it from the middle of the view.
  const onLine = (along: number): Vec2 => [
    view.centre[0] + way[0] * along + across[0] * dimension.offset,
    view.centre[1] + way[1] * along + across[1] * dimension.offset,
  ];
  const alongOf = (point: Vec2) => dot([point[0] - view.centre[0], point[1] - view.centre[1]], way);
  const [first, last] = alongOf(p) <= alongOf(q) ? [p, q] : [q, p];
  const [low, high] = [alongOf(first), alongOf(last)];
  const { width } = measureText(text, LETTERING);
  const arrowsInside = high - low >= 2 * ARROW + 1;
  const textInside = arrowsInside && high - low >= width + 2;
  const source: MarkSource = { kind: 'dimension', id: dimension.id };
  const until = textInside ? high : high + (arrowsInside ? 0 : 2 * ARROW) + width + 2;
  const reach: readonly [number, number] = arrowsInside ? [low, until] : [low - 2 * ARROW, until];
  const middle = textInside ? (low + high) / 2 : until - width / 2 - 1;
  const raised = (point: Vec2, by: number): Vec2 => [point[0] - across[0] * by, point[1] - across[1] * by];
  const { pen } = facts;
  const marks: Mark[] = [
    ...[first, last].flatMap((point) => extension(source, point, onLine(alongOf(point)), pen)),
    // Strokes end inside the arrowheads, so that their round ends do not blunt the points.
    arrowsInside
      ? lineMark(source, onLine(low + ARROW / 2), onLine(textInside ? high - ARROW / 2 : until), pen)
      : lineMark(source, onLine(reach[0]), onLine(low - ARROW / 2), pen),
    ...(arrowsInside
      ? []
      : [
          lineMark(source, onLine(low), onLine(high), pen),
          lineMark(source, onLine(high + ARROW / 2), onLine(until), pen),
        ]),
    arrowhead(source, onLine(low + (arrowsInside ? ARROW : -ARROW)), onLine(low)),
    arrowhead(source, onLine(high - (arrowsInside ? ARROW : -ARROW)), onLine(high)),
    textAlong(source, text, raised(onLine(middle), ABOVE + LETTERING / 2), way, LETTERING),
  ];
  const [start, end] = [onLine(reach[0]), onLine(reach[1])];
  const outline = [
    raised(start, ABOVE + LETTERING),
    raised(end, ABOVE + LETTERING),
    raised(end, -1),
    raised(start, -1),
  ];
  return { dimension, value, text, marks, across, outline, box: around(outline) };
}

const around = (points: readonly Vec2[]): Box2 =>
  points.map(([x, y]): Box2 => [x, y, x, y]).reduce((all, one) => uniteBoxes2(all, one));

/** From beside a point to beyond the dimension line. */
function extension(source: MarkSource, from: Vec2, to: Vec2, pen: number): Mark[] {
  const far = hypot(to[0] - from[0], to[1] - from[1]);
  if (far <= GAP) return [];
  const way = towards(from, to);
  const at = (along: number): Vec2 => [from[0] + way[0] * along, from[1] + way[1] * along];
  return [lineMark(source, at(GAP), at(far + BEYOND), pen)];
}

const towards = (from: Vec2, to: Vec2): Vec2 => {
  const far = hypot(to[0] - from[0], to[1] - from[1]);
  return far < 1e-9 ? [1, 0] : [(to[0] - from[0]) / far, (to[1] - from[1]) / far];
};
/** The same line in the direction in which it reads from below or from the right. */
const readable = ([x, y]: Vec2): Vec2 => (x > 1e-6 || (Math.abs(x) <= 1e-6 && y < 0) ? [x, y] : [-x, -y]);

interface Ends {
  /** On the view plane; mm. */
  readonly from: Vec2;
  readonly to: Vec2;
  /** On paper; along the line through both where absent. */
  readonly along?: Vec2;
}

/** Whether a view shows the machine taken apart: its width is that of nothing that anybody builds. */
export const isApart = (view: SheetView, { poses }: Pick<DimensionFacts, 'poses'>): boolean =>
  movesOf(view.pose, poses).length > 0;

/** Whether two places stand to one another as they do in the machine. */
function movedAlike(
  one: DimensionPoint['path'],
  other: DimensionPoint['path'],
  view: SheetView,
  { poses }: DimensionFacts,
) {
  const by = displacements(movesOf(view.pose, poses));
  const [a, b] = [by(pathKey(one)) ?? [0, 0, 0], by(pathKey(other)) ?? [0, 0, 0]];
  return hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) < 1e-6;
}

/**
 * Between which points of the view plane a dimension measures, and which way; null where they are gone, or where a pose
 * has taken them apart.
 */
function measuredEnds(dimension: SheetDimension, { view, lines }: LaidView, facts: DimensionFacts): Ends | null {
  const [x0, y0, x1, y1] = lines.box;
  switch (dimension.kind) {
    case 'width':
      return isApart(view, facts) ? null : { from: [x0, y0], to: [x1, y0], along: [1, 0] };
    case 'height':
      return isApart(view, facts) ? null : { from: [x1, y0], to: [x1, y1], along: [0, -1] };
    case 'distance': {
      const { from, to, along } = dimension;
      const [p, q] = [pointInView(from, view, facts), pointInView(to, view, facts)];
      if (!p || !q || !movedAlike(from.path, to.path, view, facts)) return null;
      return { from: p, to: q, ...(along === 'x' ? { along: [1, 0] } : along === 'y' ? { along: [0, -1] } : {}) };
    }
    case 'diameter': {
      const middle = pointInView(dimension.from, view, facts);
      const round = middle && roundAt(lines, dimension.from.path, middle, dimension.radius);
      if (!round) return null;
      const { centre, radius, across } = round;
      return {
        from: [centre[0] - across[0] * radius, centre[1] - across[1] * radius],
        to: [centre[0] + across[0] * radius, centre[1] + across[1] * radius],
      };
    }
  }
}

/** A point of a component on the view plane, where it stands in the pose of the view; null where it is gone or left out. */
export function pointInView({ path, point }: DimensionPoint, view: SheetView, facts: DimensionFacts): Vec2 | null {
  const placement = standing(path, view, facts);
  if (!placement) return null;
  const [x, y] = seenIn(view, applyToPoint(placement, point));
  return [x, y];
}

function standing(path: DimensionPoint['path'], view: SheetView, { assembly, poses }: DimensionFacts) {
  const seat = shownBy(view)(pathKey(path)) ? placementAlong(assembly, path) : null;
  const by = displacements(movesOf(view.pose, poses))(pathKey(path));
  return seat && by ? movedBy(seat, by) : seat;
}

/** The seen round feature of a component that is nearest to a point, of those there the one of the nearest radius. */
function roundAt(
  { axisEnds, axisRadii, axisOccurrences, paths, box }: ViewLines,
  path: DimensionPoint['path'],
  [x, y]: Vec2,
  radius: number,
): { centre: Vec2; radius: number; across: Vec2 } | null {
  if (!axisEnds || !axisRadii || !axisOccurrences) return null;
  const occurrence = paths.indexOf(pathKey(path));
  const same = Math.max(box[2] - box[0], box[3] - box[1]) * 1e-5;
  let best: { centre: Vec2; radius: number; across: Vec2; off: number } | null = null;
  for (let at = 0; at < axisRadii.length; at++) {
    if (axisOccurrences[at] !== occurrence) continue;
    const [ax, ay, bx, by] = [axisEnds[at * 6], axisEnds[at * 6 + 1], axisEnds[at * 6 + 3], axisEnds[at * 6 + 4]];
    const far = hypot(bx - ax, by - ay);
    const way: Vec2 = far <= same ? [0, 1] : [(bx - ax) / far, (by - ay) / far];
    const along = far <= same ? 0 : Math.min(far, Math.max(0, (x - ax) * way[0] + (y - ay) * way[1]));
    const centre: Vec2 = [ax + way[0] * along, ay + way[1] * along];
    const off = Math.round(hypot(centre[0] - x, centre[1] - y) / same / 10);
    const closer =
      !best ||
      off < best.off ||
      (off === best.off && Math.abs(axisRadii[at] - radius) < Math.abs(best.radius - radius));
    if (closer) best = { centre, radius: axisRadii[at], across: [way[1], -way[0]], off };
  }
  // A feature that is as far away as it is large is another one.
  return best && best.off * same * 10 <= best.radius ? best : null;
}

/** Something that a dimension can be taken from. */
export interface Measurable {
  /** Id of the view. */
  readonly view: string;
  readonly point: DimensionPoint;
  /** On paper. */
  readonly at: Vec2;
  /** Of the round feature whose middle it is. */
  readonly radius?: number;
  /** Name of the axis of that feature, as centre lines are named. */
  readonly axis?: string;
}

/**
 * What a dimension of a view can be taken from near a spot on paper: the end of a visible line, or the middle of a round
 * feature; null where there is none.
 * @param reach how near is near; mm on paper
 */
export function measurableAt(laid: LaidView, spot: Vec2, reach: number, facts: DimensionFacts): Measurable | null {
  const { lines, toPaper } = laid;
  const { ends, depths, visible, kinds, occurrences, paths } = lines;
  let best: { path: PathKey; seen: Vec3; off: number; radius?: number } | null = null;
  const offer = (occurrence: number, seen: Vec3, favour: number, radius?: number) => {
    const at = toPaper(seen[0], seen[1]);
    const off = hypot(at[0] - spot[0], at[1] - spot[1]) - favour;
    if (off > reach || (best && off >= best.off)) return;
    best = { path: paths[occurrence], seen, off, ...(radius === undefined ? {} : { radius }) };
  };
  const inReach = (x: number, y: number) => {
    const [px, py] = toPaper(x, y);
    return Math.abs(px - spot[0]) <= 2 * reach && Math.abs(py - spot[1]) <= 2 * reach;
  };
  for (let line = 0; line < kinds.length; line++) {
    if (!visible[line] || lineKinds[kinds[line]] === 'tangent') continue;
    for (let end = 0; end < 2; end++) {
      const [x, y] = [ends[line * 4 + end * 2], ends[line * 4 + end * 2 + 1]];
      if (inReach(x, y)) offer(occurrences[line], [x, y, depths[line * 2 + end]], 0);
    }
  }
  const { axisEnds, axisRadii, axisOccurrences } = lines;
  for (let axis = 0; axisEnds && axisRadii && axisOccurrences && axis < axisRadii.length; axis++) {
    const seen = [...axisEnds.subarray(axis * 6, axis * 6 + 3)] as unknown as Vec3;
    // A middle is rarer than the ends of lines, so it is taken first.
    if (inReach(seen[0], seen[1])) offer(axisOccurrences[axis], seen, reach / 4, axisRadii[axis]);
  }
  const found = best as { path: PathKey; seen: Vec3; radius?: number } | null;
  if (!found) return null;
  return measurableOf(laid, facts, found);
}

/** A point that is seen, as one of its component. */
function measurableOf(
  { view, toPaper }: LaidView,
  facts: DimensionFacts,
  { path: key, seen, radius }: { readonly path: PathKey; readonly seen: Vec3; readonly radius?: number },
): Measurable | null {
  const path = pathOf(key);
  const placement = standing(path, view, facts);
  if (!placement) return null;
  const there = pointAt(view, seen);
  if (!there) return null;
  return {
    view: view.id,
    point: { path, point: applyToPoint(invertPlacement(placement), there) },
    at: toPaper(seen[0], seen[1]),
    ...(radius === undefined ? {} : { radius }),
  };
}

/** The seen round feature around a spot on paper: the smallest whose border is near, or whose middle is. */
export function roundNear(laid: LaidView, spot: Vec2, reach: number, facts: DimensionFacts): Measurable | null {
  const { lines, toPaper, view } = laid;
  const { axisEnds, axisRadii, axisOccurrences, paths } = lines;
  if (!axisEnds || !axisRadii || !axisOccurrences) return null;
  let best: { axis: number; off: number } | null = null;
  for (let axis = 0; axis < axisRadii.length; axis++) {
    const a = toPaper(axisEnds[axis * 6], axisEnds[axis * 6 + 1]),
      b = toPaper(axisEnds[axis * 6 + 3], axisEnds[axis * 6 + 4]);
    const far = hypot(b[0] - a[0], b[1] - a[1]);
    const way = far < 1e-6 ? ([0, 0] as const) : towards(a, b);
    const along = Math.min(far, Math.max(0, (spot[0] - a[0]) * way[0] + (spot[1] - a[1]) * way[1]));
    const off = hypot(a[0] + way[0] * along - spot[0], a[1] + way[1] * along - spot[1]);
    const radius = axisRadii[axis] * view.scale;
    const near = Math.min(Math.abs(off - radius), off);
    if (near <= reach && (!best || near < best.off)) best = { axis, off: near };
  }
  if (!best) return null;
  const { axis } = best;
  const seen = [...axisEnds.subarray(axis * 6, axis * 6 + 3)] as unknown as Vec3;
  const path = paths[axisOccurrences[axis]];
  const found = measurableOf(laid, facts, { path, seen, radius: axisRadii[axis] });
  const feature = lines.axisFeatures?.[axis];
  return found && feature !== undefined ? { ...found, axis: axisName(path, feature) } : found;
}

/** How much farther a dimension line stands where it would lie on something. */
const STEP = 8;
const MOST_STEPS = 12;

/**
 * Where a new dimension line stands: beyond the view on the side that is nearer to what it measures, an oblique one beside
 * its points; farther out as long as it would lie on something else.
 * @param taken what stands on the sheet already; mm
 */
export function usualOffset(
  laid: LaidView,
  dimension: SheetDimension,
  facts: DimensionFacts,
  taken: readonly Box2[] = [],
): number {
  const { view, box, toPaper } = laid;
  const ends = measuredEnds(dimension, laid, facts);
  if (!ends) return 0;
  const { across } = layOutDimension({ ...dimension, offset: 0 }, laid, facts);
  const from = ([x, y]: Vec2) => (x - view.centre[0]) * across[0] + (y - view.centre[1]) * across[1];
  const own = [from(toPaper(...ends.from)), from(toPaper(...ends.to))];
  const isOblique = Math.min(Math.abs(across[0]), Math.abs(across[1])) > 0.05;
  const corners: readonly Vec2[] = isOblique
    ? []
    : [
        [box[0], box[1]],
        [box[2], box[3]],
      ];
  const reach = [...own, ...corners.map(from)];
  const [low, high] = [Math.min(...reach), Math.max(...reach)];
  // Below and to the right of what reaches as far as the view does.
  const isHigher = Math.max(...own) - high >= low - Math.min(...own) - 1e-6;
  const side = isOblique ? Math.sign(own[0] + own[1]) || 1 : isHigher ? 1 : -1;
  const first = (side > 0 ? high : low) + side * AWAY;
  for (let step = 0; step < MOST_STEPS; step++) {
    const offset = first + side * STEP * step;
    const { box: stands } = layOutDimension({ ...dimension, offset }, laid, facts);
    if (!taken.some((other) => boxesOverlap(stands, other))) return offset;
  }
  return first;
}
