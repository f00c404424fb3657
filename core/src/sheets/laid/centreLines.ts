import type { Vec2 } from '../../geometry/index.ts';
import type { ViewLines } from '../../views/index.ts';
import type { CentreLineLook, SheetView } from '../records.ts';
import { chain } from './chains.ts';

/** One centre line of a view; several features on one axis have one in common. */
export interface CentreLine {
  /** Of the largest feature on it, see `axisName`. */
  readonly id: string;
  /** Of all features on it. */
  readonly members: readonly string[];
  /** x1, y1, x2, y2 of each dash and dot; mm at the scale of the view, y up, from the origin of the view plane. */
  readonly ends: Float64Array;
}

/** Smallest diameter on paper of what gets a centre line unless another one is asked for; mm. */
export const USUAL_SMALLEST = 8;
/** A view has no more of them than this, the largest: nobody could read more. */
const MOST_LINES = 2000;
/** How far a centre line reaches beyond what it is of; mm on paper (ISO 128-2). */
const BEYOND = 3;
/** Points nearer than this share of the view are one. */
const SAME_SHARE = 1e-5;
const STEPS_ROUND = 90; // of a bolt circle

interface Axis {
  readonly id: string;
  readonly radius: number;
  /** Points on the view plane; one where it is seen end on. */
  readonly points: readonly Vec2[];
}

/** One axis, and what lies on it. */
interface Shared extends Axis {
  readonly members: readonly string[];
}

const known = new WeakMap<ViewLines, Map<string, readonly CentreLine[]>>();
/** A page asks at every move of the pointer. */
const KEPT = 4;

/**
 * The centre lines of a view: a cross on what is seen end on, a line along what is seen from aside or bent, a circle
 * through equal holes around a common middle, one line through the two of a pair. Kept with its lines.
 * @param lines its own lines, with axes; without them there is nothing
 * @param pen width on paper; mm
 */
export function centreLinesOf(
  { scale, centreLines: look }: Pick<SheetView, 'scale' | 'centreLines'>,
  lines: ViewLines,
  pen: number,
): readonly CentreLine[] {
  if (!look) return [];
  let made = known.get(lines);
  if (!made) known.set(lines, (made = new Map()));
  const name = JSON.stringify([scale, look, pen]);
  const before = made.get(name);
  if (before) return before;
  const found = find(look, scale, lines, pen);
  made.set(name, found);
  for (const old of [...made.keys()].slice(0, -KEPT)) made.delete(old);
  return found;
}

function find(look: CentreLineLook, scale: number, lines: ViewLines, pen: number): CentreLine[] {
  const size = Math.max(lines.box[2] - lines.box[0], lines.box[3] - lines.box[1], 1e-9);
  const same = size * SAME_SHARE;
  const axes = axesOf(lines, same);
  const on = new Set(look.on),
    off = new Set(look.off);
  const wanted = ({ id, radius }: Axis) => !off.has(id) && (on.has(id) || 2 * radius * scale >= look.smallest - 1e-9);
  const of = (kind: (points: number) => boolean) => axes.filter(({ points }) => kind(points.length));
  const found = {
    endOn: atOnePoint(
      of((points) => points === 1),
      same,
    ).filter(wanted),
    aside: onOneLine(
      of((points) => points === 2),
      same,
    ).filter(wanted),
    bends: of((points) => points > 2).filter(wanted),
  };
  const largest = new Set(
    [...found.endOn, ...found.aside, ...found.bends].sort((a, b) => b.radius - a.radius).slice(0, MOST_LINES),
  );
  const isDrawn = (axis: Axis) => largest.has(axis);
  const [endOn, aside, bends] = [found.endOn.filter(isDrawn), found.aside.filter(isDrawn), found.bends.filter(isDrawn)];
  const line = ({ id, members }: Shared, ...runs: (readonly Vec2[])[]): CentreLine => ({
    id,
    members,
    ends: Float64Array.from(
      runs.flatMap((run) =>
        chain(
          run.map(([x, y]): Vec2 => [x * scale, y * scale]),
          pen,
        ),
      ),
    ),
  });
  const circles = boltCircles(endOn, same);
  const inCircle = new Map(circles.flatMap((circle) => circle.holes.map((hole) => [hole, circle] as const)));
  const beyond = BEYOND / scale;
  const partner = pairsAmong(
    endOn.filter((cross) => !inCircle.has(cross)),
    same,
  );
  const meets = ([x, y]: Vec2) =>
    bends.some(({ points }) =>
      [points[0], points[points.length - 1]].some((end) => Math.hypot(end[0] - x, end[1] - y) <= 10 * same),
    );
  return [
    ...endOn.map((cross) => {
      const circle = inCircle.get(cross);
      const [centre] = cross.points;
      const far = cross.radius + beyond;
      const other = partner.get(cross);
      if (other) {
        const [[x, y], [ox, oy]] = [centre, other.points[0]];
        const apart = Math.hypot(ox - x, oy - y);
        const [dx, dy] = [(ox - x) / apart, (oy - y) / apart];
        // The first of the pair has the line through both, each a stroke across it.
        const across = arm(centre, -dy, dx, far);
        return cross.id < other.id
          ? line(cross, across, [
              [x - dx * far, y - dy * far],
              [ox + dx * far, oy + dy * far],
            ])
          : line(cross, across);
      }
      if (!circle) return line(cross, arm(centre, 1, 0, far), arm(centre, 0, 1, far));
      // On the circle only a stroke towards its middle.
      const [dx, dy] = [(centre[0] - circle.centre[0]) / circle.radius, (centre[1] - circle.centre[1]) / circle.radius];
      return line(cross, arm(centre, dx, dy, far));
    }),
    ...circles
      .map(({ centre, radius, holes }) => {
        const round = Array.from({ length: STEPS_ROUND + 1 }, (_, at): Vec2 => {
          const turn = (2 * Math.PI * at) / STEPS_ROUND;
          return [centre[0] + radius * Math.cos(turn), centre[1] + radius * Math.sin(turn)];
        });
        return line({ ...holes[0], id: `round ${holes[0].id}`, members: [`round ${holes[0].id}`] }, round);
      })
      .filter(({ id }) => !off.has(id)),
    ...aside.map((axis) => {
      const [from, to] = axis.points;
      const far = Math.hypot(to[0] - from[0], to[1] - from[1]);
      const [dx, dy] = [((to[0] - from[0]) / far) * beyond, ((to[1] - from[1]) / far) * beyond];
      return line(axis, [meets(from) ? from : [from[0] - dx, from[1] - dy], meets(to) ? to : [to[0] + dx, to[1] + dy]]);
    }),
    ...bends.map((bend) => line({ ...bend, members: [bend.id] }, bend.points)),
  ];
}

/** What an axis is called: where its feature is, and which of its shape it is. */
export const axisName = (path: string, feature: number): string => `${path}:${feature}`;

/** The axes of a view, pieces of one bend together. */
function axesOf({ axisEnds, axisRadii, axisOccurrences, axisFeatures, paths }: ViewLines, same: number): Axis[] {
  if (!axisEnds || !axisRadii || !axisOccurrences || !axisFeatures) return [];
  const axes: Axis[] = [];
  for (let at = 0; at < axisRadii.length;) {
    const from = at;
    while (
      at < axisRadii.length &&
      axisOccurrences[at] === axisOccurrences[from] &&
      axisFeatures[at] === axisFeatures[from]
    )
      at++;
    const points: Vec2[] = [[axisEnds[from * 6], axisEnds[from * 6 + 1]]];
    for (let piece = from; piece < at; piece++) points.push([axisEnds[piece * 6 + 3], axisEnds[piece * 6 + 4]]);
    const [first, second] = points;
    const isPoint = points.length === 2 && Math.hypot(second[0] - first[0], second[1] - first[1]) <= same;
    axes.push({
      id: axisName(paths[axisOccurrences[from]], axisFeatures[from]),
      radius: axisRadii[from],
      points: isPoint ? [first] : points,
    });
  }
  return axes;
}

/** Sorts what lies at one place together: places are two numbers each, nearer than `reach` in both is one place. */
function together<One>(all: readonly One[], placeOf: (one: One) => Vec2, reach: Vec2): One[][] {
  const cells = new Map<string, { readonly place: Vec2; readonly list: One[] }[]>();
  const groups: One[][] = [];
  for (const one of all) {
    const place = placeOf(one);
    const cell: Vec2 = [Math.floor(place[0] / reach[0]), Math.floor(place[1] / reach[1])];
    let found: One[] | undefined;
    for (let x = cell[0] - 1; x <= cell[0] + 1 && !found; x++)
      for (let y = cell[1] - 1; y <= cell[1] + 1 && !found; y++)
        found = cells
          .get(`${x} ${y}`)
          ?.find(
            (near) => Math.abs(near.place[0] - place[0]) <= reach[0] && Math.abs(near.place[1] - place[1]) <= reach[1],
          )?.list;
    if (found) {
      found.push(one);
      continue;
    }
    const list = [one];
    groups.push(list);
    const name = `${cell[0]} ${cell[1]}`;
    const there = cells.get(name);
    if (there) there.push({ place, list });
    else cells.set(name, [{ place, list }]);
  }
  return groups;
}

const largestOf = (axes: readonly Axis[]): Axis => axes.reduce((best, one) => (one.radius > best.radius ? one : best));

/** What is seen end on around one point has one cross, as large as the largest of it. */
const atOnePoint = (axes: readonly Axis[], same: number): Shared[] =>
  together(axes, ({ points }) => points[0], [10 * same, 10 * same]).map((group) => ({
    ...largestOf(group),
    members: group.map(({ id }) => id),
  }));

/** Axes on one line that touch or overlap one another have one line in common. */
function onOneLine(axes: readonly Axis[], same: number): Shared[] {
  const directed = axes.map((axis) => {
    const [[x0, y0], [x1, y1]] = axis.points;
    const far = Math.hypot(x1 - x0, y1 - y0);
    let [dx, dy] = [(x1 - x0) / far, (y1 - y0) / far];
    if (dx < -1e-6 || (Math.abs(dx) <= 1e-6 && dy < 0)) [dx, dy] = [-dx, -dy];
    const ends = [x0 * dx + y0 * dy, x1 * dx + y1 * dy].sort((a, b) => a - b);
    return { axis, dx, dy, off: x0 * -dy + y0 * dx, from: ends[0], to: ends[1] };
  });
  return together(directed, ({ dx, dy, off }) => [Math.atan2(dy, dx), off], [1e-4, 10 * same]).flatMap((group) => {
    const shared: Shared[] = [];
    const sorted = group.toSorted((a, b) => a.from - b.from);
    for (let at = 0; at < sorted.length;) {
      const own = [sorted[at]];
      let { to } = sorted[at++];
      for (; at < sorted.length && sorted[at].from <= to + 10 * same; at++) {
        own.push(sorted[at]);
        to = Math.max(to, sorted[at].to);
      }
      const [{ dx, dy, off, from }] = own;
      const point = (along: number): Vec2 => [along * dx - off * dy, along * dy + off * dx];
      const best = largestOf(own.map(({ axis }) => axis));
      shared.push({ ...best, points: [point(from), point(to)], members: own.map(({ axis }) => axis.id) });
    }
    return shared;
  });
}

/**
 * Two that are equal, and the only ones of their size on a component, belong together: each with the other. Larger ones
 * around the same middles, such as counterbores, share the cross anyway.
 */
function pairsAmong(crosses: readonly Shared[], same: number): Map<Shared, Shared> {
  const byPart = new Map<string, Shared[]>();
  for (const cross of crosses) {
    const part = cross.id.slice(0, cross.id.lastIndexOf(':'));
    const list = byPart.get(part);
    if (list) list.push(cross);
    else byPart.set(part, [cross]);
  }
  const pairs = new Map<Shared, Shared>();
  for (const own of byPart.values())
    for (const equal of together(own, ({ radius }) => [radius, 0], [10 * same, 1])) {
      const [one, other] = equal;
      if (equal.length === 2) pairs.set(one, other).set(other, one);
    }
  return pairs;
}

interface BoltCircle {
  readonly centre: Vec2;
  readonly radius: number;
  readonly holes: readonly Shared[];
}

/** More crosses than this are looked through for circles by nobody. */
const MOST_CROSSES = 1500;

/** Three or more equal features at equal distances and angles around the middle of a larger one that holds them all. */
function boltCircles(crosses: readonly Shared[], same: number): BoltCircle[] {
  if (crosses.length > MOST_CROSSES) return [];
  const taken = new Set<Shared>();
  const found: BoltCircle[] = [];
  const sizes = together(crosses, ({ radius }) => [radius, 0], [10 * same, 1]);
  for (const middle of crosses.toSorted((a, b) => a.radius - b.radius))
    for (const equal of sizes) {
      if (equal.length < 3 || equal[0].radius >= middle.radius) continue;
      const [cx, cy] = middle.points[0];
      const away = equal.flatMap((hole) => {
        const far = Math.hypot(hole.points[0][0] - cx, hole.points[0][1] - cy);
        return !taken.has(hole) && far > same && far <= middle.radius ? [{ hole, far }] : [];
      });
      for (const ring of together(away, ({ far }) => [far, 0], [20 * same, 1])) {
        const holes = ring.map(({ hole }) => hole);
        if (holes.length < 3 || !evenlyAround(holes, [cx, cy])) continue;
        holes.forEach((hole) => taken.add(hole));
        found.push({ centre: [cx, cy], radius: ring[0].far, holes });
      }
    }
  return found;
}

/** Whether the steps from one to the next are whole multiples of the smallest one. */
function evenlyAround(holes: readonly Shared[], [cx, cy]: Vec2): boolean {
  const angles = holes.map(({ points: [[x, y]] }) => Math.atan2(y - cy, x - cx)).sort((a, b) => a - b);
  const steps = angles.map((angle, at) =>
    at === 0 ? angle + 2 * Math.PI - angles[angles.length - 1] : angle - angles[at - 1],
  );
  const least = Math.min(...steps);
  return steps.every((step) => Math.abs(step / least - Math.round(step / least)) < 0.01);
}

const arm = ([x, y]: Vec2, dx: number, dy: number, far: number): Vec2[] => [
  [x - dx * far, y - dy * far],
  [x + dx * far, y + dy * far],
];
