import { hypot, type Box2, type Vec2, type Vec3 } from '../geometry/index.ts';
import { pieceCount, type Chart } from './charts.ts';
import { NotElementary } from './records.ts';

/** A corner of an outline: where it stands on the map, and which point of the shape it is. */
export interface Corner {
  readonly place: Vec2;
  /** Index into the points of the shape; corners of one index are one point, at several places of the map. */
  readonly point: number;
}

/** Closed, without the first corner again at the end. */
export type Outline = readonly Corner[];

/** Points of the shape, to which outlines may add some. */
export interface Points {
  readonly at: (index: number) => Vec3;
  readonly add: (point: Vec3) => number;
}

/**
 * The borders of a face on the map of its surface as closed outlines, the material on their left where the surface's
 * normal is the outside (`sense` 1), on their right otherwise (−1). Loops round the axis are closed along a seam, through
 * a pole, or where there is none at all, round the whole map.
 * @param loops indices of points, each loop without its first again at the end
 * @throws NotElementary where the loops do not bound a piece of the map
 */
export function outlinesOf(
  loops: readonly (readonly number[])[],
  chart: Chart,
  sense: 1 | -1,
  points: Points,
): Outline[] {
  if (loops.length === 0) return [wholeMap(chart, sense, points)];
  const walks = loops.map((loop) => walkAround(loop, chart, sense, points));
  const closed = walks.filter(({ shift }) => shift[0] === 0 && shift[1] === 0).map(({ corners }) => corners);
  const open = walks.filter(({ shift }) => shift[0] !== 0 || shift[1] !== 0);
  if (open.length === 2) closed.unshift(joined(open[0], open[1], closed, chart, sense, points));
  else if (open.length === 1) closed.unshift(throughPole(open[0], closed, chart, sense, points));
  else if (open.length > 2) throw new NotElementary('loops that do not close');
  return inOnePlace(closed, chart);
}

// --- walking round one loop

interface Walk {
  /** Once round, without the first corner again. */
  readonly corners: Outline;
  /** Where the first corner stands again after it, seen from where it stood: 0 or a period. */
  readonly shift: Vec2;
}

/** A step may be at most this share of a period, or its sense is not known. */
const MOST_STEP = 0.45;

function walkAround(loop: readonly number[], chart: Chart, sense: 1 | -1, points: Points): Walk {
  const raw = loop.map((point) => ({ point, place: chart.place(points.at(point)) }));
  const first = raw.findIndex(({ place }) => place !== null);
  if (first < 0) throw new NotElementary('a loop without extent');
  const corners: Corner[] = [];
  let last = raw[first].place!;
  let pole: number | null = null;
  for (let step = 0; step <= raw.length; step++) {
    const { point, place } = raw[(first + step) % raw.length];
    if (place === null) {
      pole = point;
      continue;
    }
    const here: Vec2 =
      pole === null
        ? [besideStep(place[0], last[0], chart.periods[0]), besideStep(place[1], last[1], chart.periods[1])]
        : beyondPole(place, last, chart, sense);
    if (pole !== null)
      for (const corner of poleLine(last[0], here[0], poleOf(chart, last), pole, chart)) corners.push(corner);
    pole = null;
    last = here;
    if (step < raw.length) corners.push({ place: here, point });
  }
  const start = raw[first].place!;
  return { corners, shift: [whole(last[0] - start[0], chart.periods[0]), whole(last[1] - start[1], chart.periods[1])] };
}

const whole = (way: number, period: number): number => (period === 0 ? 0 : Math.round(way / period) * period);

/** The value of the same place that is nearest to the last one. */
function besideStep(value: number, last: number, period: number): number {
  if (period === 0) return value;
  const near = value + Math.round((last - value) / period) * period;
  if (Math.abs(near - last) > MOST_STEP * period) throw new NotElementary('an edge across the axis');
  return near;
}

/** The pole that a border comes to: the nearer one. */
function poleOf({ poles }: Chart, last: Vec2): 'low' | 'high' {
  if (poles.low === null) return 'high';
  return poles.high === null || last[1] - poles.low < poles.high - last[1] ? 'low' : 'high';
}

/** Along the line that is a pole the outline goes on with the material on its own side, by more than nothing and at most all. */
function beyondPole(place: Vec2, last: Vec2, chart: Chart, sense: 1 | -1): Vec2 {
  const period = chart.periods[0];
  const way = (poleOf(chart, last) === 'low' ? 1 : -1) * sense;
  return [last[0] + way * within((place[0] - last[0]) * way, period), place[1]];
}

function poleLine(from: number, to: number, which: 'low' | 'high', point: number, chart: Chart): Corner[] {
  const height = chart.poles[which];
  if (height === null) throw new NotElementary('a pole that there is not');
  const count = pieceCount(to - from, chart.steps[0]);
  return Array.from({ length: count + 1 }, (_, step) => ({
    place: [from + ((to - from) * step) / count, height],
    point,
  }));
}

// --- loops that go once round

/** At most so many places for a seam are tried. */
const MOST_SEAMS = 64;

/** The band between two loops round the axis, cut open along a seam that meets no hole. */
function joined(
  one: Walk,
  other: Walk,
  holes: readonly Outline[],
  chart: Chart,
  sense: 1 | -1,
  points: Points,
): Outline {
  if (one.shift[0] !== -other.shift[0] || one.shift[1] !== -other.shift[1])
    throw new NotElementary('loops round the axis in one sense');
  const round = one.shift[0] !== 0 ? 0 : 1;
  const side = Math.sign(one.shift[round]) * sense * (round === 0 ? 1 : -1);
  const stride = Math.ceil(one.corners.length / MOST_SEAMS);
  const seams = one.corners.flatMap(({ place }, start) =>
    start % stride === 0 ? [{ start, ...nearestAround(other.corners, place[round], round, chart.periods[round]) }] : [],
  );
  seams.sort((a, b) => Math.abs(a.way) - Math.abs(b.way) || a.start - b.start);
  for (const { start, end } of seams) {
    const front = turnedTo(one, start),
      back = turnedTo(other, end);
    // The way back begins where the way out ends: beside it, and on a torus round the tube from there on the side of the
    // material.
    const [far, across] = [chart.periods[round], 1 - round];
    const wanted = (axis: number): number => front[0].place[axis] + one.shift[axis] - back[0].place[axis];
    const move: [number, number] = [0, 0];
    move[round] = Math.round(wanted(round) / far) * far;
    if (chart.periods[across] > 0)
      move[across] = wanted(across) + side * within(-wanted(across) * side, chart.periods[across]);
    const returning = back.map((corner) => shifted(corner, move));
    const last = front[front.length - 1];
    if (holes.some((hole) => meets(last.place, returning[0].place, hole, chart))) continue;
    const seam = seamBetween(last, returning[0], one.shift, chart, points);
    return [...front, ...seam.out, ...returning, ...seam.back];
  }
  throw new NotElementary('holes all round the axis');
}

/** A value brought to more than 0 and at most a period by whole periods. */
function within(value: number, period: number): number {
  const rest = value % period;
  return rest <= period * 1e-9 ? rest + period : rest;
}

function nearestAround(corners: Outline, value: number, round: 0 | 1, period: number): { end: number; way: number } {
  let end = 0,
    way = Infinity;
  corners.forEach(({ place }, at) => {
    const off = place[round] - value;
    const near = off - Math.round(off / period) * period;
    if (Math.abs(near) < Math.abs(way)) [end, way] = [at, near];
  });
  return { end, way };
}

/** The corners from this one on until it stands there again, a period further. */
function turnedTo({ corners, shift }: Walk, start: number): Corner[] {
  return [...corners.slice(start), ...corners.slice(0, start + 1).map((corner) => shifted(corner, shift))];
}

/** Corners between both ends of a seam, there and, a period before, back. */
function seamBetween(
  from: Corner,
  to: Corner,
  shift: Vec2,
  chart: Chart,
  points: Points,
): { out: Corner[]; back: Corner[] } {
  const way = [to.place[0] - from.place[0], to.place[1] - from.place[1]];
  const count = Math.max(...way.map((part, axis) => pieceCount(part, chart.steps[axis])));
  const out = Array.from({ length: count - 1 }, (_, step): Corner => {
    const share = (step + 1) / count;
    const place: Vec2 = [from.place[0] + way[0] * share, from.place[1] + way[1] * share];
    return { place, point: points.add(chart.point(place)) };
  });
  const back = out.map((corner) => shifted(corner, [-shift[0], -shift[1]])).reverse();
  return { out, back };
}

/** A cap: one loop round the axis, closed through the pole that lies on the side of its material. */
function throughPole(walk: Walk, holes: readonly Outline[], chart: Chart, sense: 1 | -1, points: Points): Outline {
  if (walk.shift[0] === 0 || walk.shift[1] !== 0) throw new NotElementary('a loop round a tube');
  const which = walk.shift[0] * sense > 0 ? 'high' : 'low';
  const height = chart.poles[which];
  if (height === null) throw new NotElementary('a face without end');
  const point = points.add(chart.point([0, height]));
  for (let start = 0; start < Math.min(walk.corners.length, MOST_SEAMS); start++) {
    const front = turnedTo(walk, start);
    const last = front[front.length - 1];
    const line = poleLine(last.place[0], last.place[0] - walk.shift[0], which, point, chart);
    if (holes.some((hole) => meets(last.place, line[0].place, hole, chart))) continue;
    const seam = seamBetween(last, line[0], walk.shift, chart, points);
    return [...front, ...seam.out, ...line, ...seam.back];
  }
  throw new NotElementary('holes all round the pole');
}

/** The whole of a sphere or torus. */
function wholeMap(chart: Chart, sense: 1 | -1, points: Points): Outline {
  const [round, across] = chart.periods;
  const { low, high } = chart.poles;
  if (round === 0 || (across === 0 && (low === null || high === null))) throw new NotElementary('a face without end');
  let outline: Outline;
  if (low !== null && high !== null) {
    const [south, north] = [low, high].map((height) => points.add(chart.point([0, height])));
    const below = poleLine(0, round, 'low', south, chart),
      above = poleLine(round, 0, 'high', north, chart);
    const seam = seamBetween(below[below.length - 1], above[0], [round, 0], chart, points);
    outline = [...below, ...seam.out, ...above, ...seam.back];
  } else {
    const corner = points.add(chart.point([0, 0]));
    const at = (u: number, v: number): Corner => ({ place: [u, v], point: corner });
    // The border below and the one above are the same points, so are those on both sides.
    const side = seamBetween(at(round, 0), at(round, across), [round, 0], chart, points),
      ring = seamBetween(at(round, across), at(0, across), [0, across], chart, points);
    outline = [
      at(0, 0),
      ...ring.back,
      at(round, 0),
      ...side.out,
      at(round, across),
      ...ring.out,
      at(0, across),
      ...side.back,
    ];
  }
  return sense > 0 ? outline : [...outline].reverse();
}

// --- all outlines of a face

/** Every outline where the widest one is: a map that repeats itself has a hole at many places. */
function inOnePlace(outlines: readonly Outline[], chart: Chart): Outline[] {
  if (outlines.length < 2 || (chart.periods[0] === 0 && chart.periods[1] === 0)) return [...outlines];
  const widest = outlines.reduce((most, outline) =>
    Math.abs(areaWithin(outline)) > Math.abs(areaWithin(most)) ? outline : most,
  );
  const room = boxOf(widest);
  return outlines.map((outline) => {
    if (outline === widest) return outline;
    const box = boxOf(outline);
    for (const shift of shiftsOf(chart)) {
      if (!fits(box, shift, room, chart)) continue;
      const moved = outline.map((corner): Corner => shifted(corner, shift));
      if (liesWithin(moved, widest)) return moved;
    }
    throw new NotElementary('a hole beside its face');
  });
}

const shifted = ({ place, point }: Corner, shift: Vec2): Corner => ({
  place: [place[0] + shift[0], place[1] + shift[1]],
  point,
});

function boxOf(outline: Outline): Box2 {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { place } of outline)
    for (const axis of [0, 1] as const) {
      box[axis] = Math.min(box[axis], place[axis]);
      box[axis + 2] = Math.max(box[axis + 2], place[axis]);
    }
  return box;
}

function fits(box: Box2, shift: Vec2, room: Box2, { periods }: Chart): boolean {
  return ([0, 1] as const).every((axis) => {
    const near = 1e-6 * (periods[axis] || 1) + 1e-9 * (room[axis + 2] - room[axis]);
    return box[axis] + shift[axis] >= room[axis] - near && box[axis + 2] + shift[axis] <= room[axis + 2] + near;
  });
}

function shiftsOf({ periods: [round, across] }: Chart): Vec2[] {
  const turns = [0, 1, -1, 2, -2];
  return (across > 0 ? turns : [0]).flatMap((j) => turns.map((i): Vec2 => [i * round, j * across]));
}

/** Area within an outline, positive where it turns to the left; mm² of the map. */
export function areaWithin(outline: Outline): number {
  let twice = 0;
  outline.forEach(({ place }, at) => {
    const next = outline[(at + 1) % outline.length].place;
    twice += place[0] * next[1] - place[1] * next[0];
  });
  return twice / 2;
}

/** So many corners of a hole are asked where they lie: one or two may touch the border. */
const ASKED = 5;

function liesWithin(outline: Outline, around: Outline): boolean {
  const step = Math.max(1, Math.floor(outline.length / ASKED));
  const asked = outline.filter((_, at) => at % step === 0);
  return asked.filter(({ place }) => isWithin(place, around)).length * 2 > asked.length;
}

function isWithin([x, y]: Vec2, outline: Outline): boolean {
  let odd = false;
  outline.forEach(({ place: a }, at) => {
    const b = outline[(at + 1) % outline.length].place;
    if (a[1] > y !== b[1] > y && x < a[0] + ((y - a[1]) / (b[1] - a[1])) * (b[0] - a[0])) odd = !odd;
  });
  return odd;
}

/** A seam keeps this share of a period off holes: nearer, both are one after round-off. */
const CLEAR_SHARE = 1e-6;

/** Whether a stretch meets, or all but touches, a hole at any of the places where the map shows it. */
function meets(from: Vec2, to: Vec2, hole: Outline, chart: Chart): boolean {
  const off = CLEAR_SHARE * Math.max(...chart.periods);
  const box = boxOf(hole),
    around = boxOf([from, to].map((place) => ({ place, point: -1 })));
  const size = hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const aside: Vec2 = [((from[1] - to[1]) / size) * off, ((to[0] - from[0]) / size) * off];
  return shiftsOf(chart).some((shift) => {
    const apart = ([0, 1] as const).some(
      (axis) => box[axis] + shift[axis] > around[axis + 2] + off || box[axis + 2] + shift[axis] < around[axis] - off,
    );
    if (apart) return false;
    const moved = hole.map((corner) => shifted(corner, shift).place);
    return [-1, 0, 1].some((side) => {
      const [a, b] = [from, to].map(([x, y]): Vec2 => [x + side * aside[0], y + side * aside[1]]);
      return moved.some((place, at) => crosses(a, b, place, moved[(at + 1) % moved.length]));
    });
  });
}

function crosses(a: Vec2, b: Vec2, c: Vec2, d: Vec2): boolean {
  const side = (p: Vec2, q: Vec2, r: Vec2): number => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  return side(a, b, c) * side(a, b, d) <= 0 && side(c, d, a) * side(c, d, b) <= 0;
}
