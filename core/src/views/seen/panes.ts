import {
  applyToPoint,
  composePlacements,
  growBox,
  hypot,
  uniteBoxes2,
  type Box2,
  type Placement,
  type Vec2,
  type Vec3,
} from '../../geometry/index.ts';
import { PathList } from '../lines/paths.ts';
import type { Body, ViewCuts, ViewLines } from '../records.ts';
import type { Pane, Turned } from '../scene/cutBodies.ts';
import { shareWithin } from '../scene/window.ts';
import { ClosedBorder } from './closedBorder.ts';
import { cutAreas, packedCuts, sharedBy, without } from './cutAreas.ts';
import { axesKept, linesKept, pickSpots, spotsKept } from './keptParts.ts';
import type { DrawnView, Spots } from './spots.ts';

/** How a machine is turned before it is looked at. Source: O. Rodrigues' formula for turns (1840). */
function turn({ about: [px, py, pz], along: [x, y, z], by }: Turned): Placement {
  const [c, s] = [Math.cos(by), Math.sin(by)];
  const t = 1 - c;
  const [a, b, d] = [t * x * x + c, t * x * y - s * z, t * x * z + s * y];
  const [e, f, g] = [t * x * y + s * z, t * y * y + c, t * y * z - s * x];
  const [h, i, j] = [t * x * z - s * y, t * y * z + s * x, t * z * z + c];
  const back = (u: number, v: number, w: number, at: number): number => at - (u * px + v * py + w * pz);
  return [a, b, d, back(a, b, d, px), e, f, g, back(e, f, g, py), h, i, j, back(h, i, j, pz)];
}

/** From where a pane is looked at. */
export const turnedView = (view: Placement, { turned }: Pane): Placement =>
  turned ? composePlacements(view, turn(turned)) : view;

const isBeyond = ({ beyond }: Pane, [x, y]: Vec2 | Vec3): boolean =>
  beyond !== undefined && (x - beyond.from[0]) * beyond.way[0] + (y - beyond.from[1]) * beyond.way[1] > 0;

/**
 * Where a point of the machine is seen, in view coordinates: turned into a pane where it lies there and not around it.
 * @param panes of the cut of the view
 */
export function pointSeen(view: Placement, panes: readonly Pane[], point: Vec3): Vec3 {
  const plain = applyToPoint(view, point);
  const pane = panes.find((one) => one.turned && isBeyond(one, plain));
  if (!pane) return plain;
  const turned = applyToPoint(turnedView(view, pane), point);
  return isBeyond(pane, turned) ? turned : plain;
}

/** How the machine is looked at where this place of the view plane is. */
export function viewAt(view: Placement, panes: readonly Pane[], at: Vec2 | Vec3): Placement {
  const pane = panes.findLast((one) => one.turned && isBeyond(one, at));
  return pane ? turnedView(view, pane) : view;
}

/**
 * The spots of a pane that are found again by where they are on their components: of what is seen around the pane too, the
 * spot there is the one.
 * @param bodies that are seen in the pane
 */
export function ownSpots(spots: Spots, bodies: readonly Body[], view: Placement, pane: Pane): Spots {
  if (!pane.turned) return spots;
  const standing = new Map(bodies.map(({ path, placement }) => [path, placement]));
  return pickSpots(spots, (spot) => {
    const [x, y, z] = spots.anchors.subarray(spot * 3, spot * 3 + 3);
    return isBeyond(
      pane,
      applyToPoint(view, applyToPoint(standing.get(spots.paths[spots.occurrences[spot]])!, [x, y, z])),
    );
  });
}

/** The border of a pane; of one that has no end, as far as these boxes reach. */
export function borderOf({ border, beyond }: Pane, boxes: readonly Box2[]): ClosedBorder {
  if (border || !beyond) return new ClosedBorder(border ?? []);
  const { from, way } = beyond;
  const corners = boxes.flatMap(([x0, y0, x1, y1]): Vec2[] => [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ]);
  const far = 1 + 2 * Math.max(...corners.map(([x, y]) => hypot(x - from[0], y - from[1])));
  const at = (along: number, across: number): Vec2 => [
    from[0] + along * way[0] - across * way[1],
    from[1] + along * way[1] + across * way[0],
  ];
  return new ClosedBorder([at(0, -far), at(far, -far), at(far, far), at(0, far)]);
}

interface PaneOptions {
  /** Planes of the cuts around it, and of panes before it. */
  readonly planes: number;
  /** Whether the view reaches as far as without it. */
  readonly keepsBox: boolean;
  /** Tells where its border is seen; null where none is drawn. */
  readonly isBorderDrawn: ((x: number, y: number) => boolean) | null;
  /** How finely that is told; mm. */
  readonly pixel: number;
}

/** One view outside of a border, another one within. */
export function throughPane(
  outside: DrawnView,
  inside: DrawnView,
  border: ClosedBorder,
  { planes, keepsBox, isBorderDrawn, pixel }: PaneOptions,
): DrawnView {
  const list = new PathList();
  const places = [outside, inside].map(({ lines: { paths } }) => paths.map((path) => list.indexOf(path)));
  const crossings = border.corners.map((): number[] => []);
  const around = linesKept(outside.lines, (ends, at) =>
    border.parts(ends, at, false, ({ side, along }) => crossings[side].push(along)),
  );
  const within = linesKept(inside.lines, (ends, at) => border.parts(ends, at, true));
  const drawn = isBorderDrawn
    ? borderRuns(border, crossings, isBorderDrawn, { pixel, box: outside.lines.box })
    : new Float64Array(0);
  const borders = [...(around.borderEnds ?? []), ...(within.borderEnds ?? []), ...drawn];
  const kept = {
    ends: joined(around.ends, within.ends),
    depths: joined(around.depths, within.depths),
    kinds: Uint8Array.from([...around.kinds, ...within.kinds]),
    visible: Uint8Array.from([...around.visible, ...within.visible]),
    outer: Uint8Array.from([...(around.outer ?? []), ...(within.outer ?? [])]),
    occurrences: renumbered([around.occurrences, within.occurrences], places),
  };
  const lines: ViewLines = {
    ...kept,
    box: keepsBox ? outside.lines.box : boxOf(kept.ends, outside.lines.box),
    ...(around.wayEnds ? { wayEnds: joined(around.wayEnds, within.wayEnds) } : {}),
    ...(around.hiddenEnds ? { hiddenEnds: joined(around.hiddenEnds, within.hiddenEnds) } : {}),
    ...(borders.length > 0 ? { borderEnds: Float64Array.from(borders) } : {}),
    ...joinedAxes(outside.lines, inside.lines, border, places),
    ...joinedCuts(outside.lines, inside.lines, border, { places, planes }),
    paths: list.paths,
  };
  return { lines, spots: joinedSpots(outside.spots, inside.spots, border) };
}

const joined = (one: Float64Array, other: Float64Array = new Float64Array(0)): Float64Array =>
  Float64Array.from([...one, ...other]);

const renumbered = (
  [one, other]: readonly (Int32Array | undefined)[],
  [first, second]: readonly (readonly number[])[],
): Int32Array =>
  Int32Array.from([...Array.from(one ?? [], (at) => first[at]), ...Array.from(other ?? [], (at) => second[at])]);

function boxOf(ends: Float64Array, otherwise: Box2): Box2 {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let at = 0; at < ends.length; at += 2) {
    x0 = Math.min(x0, ends[at]);
    y0 = Math.min(y0, ends[at + 1]);
    x1 = Math.max(x1, ends[at]);
    y1 = Math.max(y1, ends[at + 1]);
  }
  return x0 <= x1 ? [x0, y0, x1, y1] : otherwise;
}

/** Axes of what is seen around it, unless all of one lies within; and those that lie within altogether. */
function joinedAxes(
  outside: ViewLines,
  inside: ViewLines,
  border: ClosedBorder,
  places: readonly (readonly number[])[],
): Partial<ViewLines> {
  const isWithin = ({ axisEnds }: ViewLines, axis: number): boolean =>
    [0, 3].every((k) => border.has(axisEnds![axis * 6 + k], axisEnds![axis * 6 + k + 1]));
  const around = axesKept(outside, (axis) => !isWithin(outside, axis));
  const named = (at: number, axes: typeof around, axis: number): string =>
    `${places[at][axes.axisOccurrences![axis]]} ${axes.axisFeatures![axis]}`;
  const known = new Set(Array.from(around.axisRadii ?? [], (_, axis) => named(0, around, axis)));
  const within = axesKept(inside, (axis) => isWithin(inside, axis) && !known.has(named(1, inside, axis)));
  if (!around.axisEnds || !within.axisEnds) return {};
  return {
    axisEnds: joined(around.axisEnds, within.axisEnds),
    axisRadii: joined(around.axisRadii!, within.axisRadii),
    axisOccurrences: renumbered([around.axisOccurrences, within.axisOccurrences], places),
    axisFeatures: Int32Array.from([...around.axisFeatures!, ...within.axisFeatures!]),
  };
}

function joinedCuts(
  outside: ViewLines,
  inside: ViewLines,
  border: ClosedBorder,
  { places, planes }: { readonly places: readonly (readonly number[])[]; readonly planes: number },
): ViewCuts {
  // However large the border is, areas are as exact as the view is large.
  const box = uniteBoxes2(outside.box, inside.box);
  const extent = hypot(box[2] - box[0], box[3] - box[1]);
  const corners = border.cornersWithin(growBox(box, extent));
  const areas = [
    ...cutAreas(outside).map((rings) => without(rings, [corners], extent)),
    ...cutAreas(inside).map((rings) => sharedBy(rings, [corners], extent)),
  ];
  return {
    ...packedCuts(areas, {
      cutOccurrences: renumbered([outside.cutOccurrences, inside.cutOccurrences], places),
      cutPlanes: Int32Array.from([
        ...(outside.cutPlanes ?? []),
        ...Array.from(inside.cutPlanes ?? [], (plane) => plane + planes),
      ]),
    }),
    cutOpen: once(renumbered([outside.cutOpen, inside.cutOpen], places)),
    cutWhole: once(renumbered([outside.cutWhole, inside.cutWhole], places)),
  };
}
const once = (places: Int32Array): Int32Array => Int32Array.from(new Set(places));

/** Spots of both, by place; nothing has more room than there is to the border. */
function joinedSpots(outside: Spots, inside: Spots, border: ClosedBorder): Spots {
  const list = new PathList();
  const parts = [outside, inside].map((spots, at) =>
    spotsKept(spots, (x, y) => (border.has(x, y) === (at === 1) ? border.distanceTo([x, y]) : 0)),
  );
  const breadths: number[] = [];
  const rows = parts.flatMap((spots) => {
    const places = spots.paths.map((path) => list.indexOf(path));
    places.forEach((place, at) => (breadths[place] = Math.max(breadths[place] ?? 0, spots.breadths[at])));
    return Array.from(spots.occurrences, (own, spot) => ({ place: places[own], spots, spot }));
  });
  // As in one view: by place, the best first.
  const order = rows.toSorted(
    (a, b) =>
      a.place - b.place ||
      b.spots.onFace[b.spot] - a.spots.onFace[a.spot] ||
      b.spots.room[b.spot] - a.spots.room[a.spot],
  );
  return {
    occurrences: Int32Array.from(order, ({ place }) => place),
    paths: list.paths,
    onFace: Uint8Array.from(order, ({ spots, spot }) => spots.onFace[spot]),
    points: Float64Array.from(order.flatMap(({ spots, spot }) => [...spots.points.subarray(spot * 2, spot * 2 + 2)])),
    room: Float64Array.from(order, ({ spots, spot }) => spots.room[spot]),
    anchors: Float64Array.from(order.flatMap(({ spots, spot }) => [...spots.anchors.subarray(spot * 3, spot * 3 + 3)])),
    breadths: Float64Array.from(breadths),
  };
}

/** A run of a border that ends this near to a line of the view ends on it; pixels. */
const SNAP = 3;

/**
 * What is drawn of a border, side by side: where it is seen, from one line of the view that it goes over to the next.
 * @param crossings for each side, where lines of the view go over it
 */
function borderRuns(
  border: ClosedBorder,
  crossings: readonly (readonly number[])[],
  isSeen: (x: number, y: number) => boolean,
  { pixel, box: [x0, y0, x1, y1] }: { readonly pixel: number; readonly box: Box2 },
): Float64Array {
  const runs: number[] = [];
  border.corners.forEach((_, side) => {
    const [[ax, ay], [bx, by]] = border.side(side);
    const size = hypot(bx - ax, by - ay);
    // Beyond the view nothing is seen.
    const half: Vec2 = [(x1 - x0) / 2 + pixel, (y1 - y0) / 2 + pixel];
    const shown = shareWithin(ax - (x0 + x1) / 2, ay - (y0 + y1) / 2, bx - ax, by - ay, half);
    if (!shown) return;
    const [first, last] = shown;
    const steps = Math.max(1, Math.ceil(((last - first) * size) / pixel));
    const shareAt = (step: number) => first + ((last - first) * step) / steps;
    const at = (share: number): Vec2 => [ax + share * (bx - ax), ay + share * (by - ay)];
    const near = (SNAP * pixel) / (size || 1);
    const snapped = (share: number): number => {
      if (share === 0 || share === 1) return share;
      const [nearest] = crossings[side].toSorted((a, b) => Math.abs(a - share) - Math.abs(b - share));
      return nearest !== undefined && Math.abs(nearest - share) < near ? nearest : share;
    };
    let from = -1;
    for (let step = 0; step <= steps; step++) {
      const seen = step < steps && isSeen(...at(shareAt(step + 0.5)));
      if (seen && from < 0) from = shareAt(step);
      if (!seen && from >= 0) {
        runs.push(...at(snapped(from)), ...at(snapped(shareAt(step))));
        from = -1;
      }
    }
  });
  return Float64Array.from(runs);
}
