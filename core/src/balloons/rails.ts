import { hypot, distance2, type Box2, type Vec2 } from '../geometry/index.ts';
import { distanceToOutline, insideConvex } from './anchors.ts';
import type { Arrangement } from './records.ts';

/** What limits where a balloon's centre may stand. Paper mm. */
export interface RailRoom {
  /** Convex outline of the view or group. */
  readonly hull: readonly Vec2[];
  /** Nothing may leave this: the frame. */
  readonly frame: Box2;
  /** Nothing may touch these: list, title block, other views. */
  readonly obstacles: readonly Box2[];
  readonly radius: number;
  /** How far balloons are drawn out to each side, see Outline; circles where absent. */
  readonly extra?: number;
  /** Along what the rails run; the outline where absent. */
  readonly arrangement?: Arrangement;
}

const PULLS = [1, 0.7, 0.4, 0.1];
const STEP = 2; // mm between neighbouring places of a rail
/** Where a rail follows the frame, places come again within so many. */
const REPEATS = 40;
/** Rows and columns run on beyond the view by this share of its size. */
const BEYOND = 0.5;
const FROM_MACHINE = 3; // mm between a balloon and the outline
const FROM_OTHERS = 1.5; // mm between a balloon and frame, list, title block

/**
 * Places for balloon centres around the outline at this distance, in order around it. Where the frame is nearer, the
 * rail follows the frame; where something stands, it is interrupted.
 */
export function railPlaces(room: RailRoom, distance: number): Vec2[] {
  const { frame, radius, extra = 0 } = room;
  const inset = radius + FROM_OTHERS;
  const places: Vec2[] = [];
  const closest = radius + FROM_MACHINE + 0.01;
  const rails = PULLS.map((pull) => railAt(room, closest + Math.max(0, distance - closest) * pull));
  rails[0].forEach((_, at) => {
    // Where something stands in the way, the rail runs nearer to the machine.
    for (const rail of rails) {
      const [x, y] = rail[Math.min(rail.length - 1, Math.floor((at * rail.length) / rails[0].length))];
      const place: Vec2 = [
        Math.min(frame[2] - inset - extra, Math.max(frame[0] + inset + extra, x)),
        Math.min(frame[3] - inset, Math.max(frame[1] + inset, y)),
      ];
      if (!isFree(place, room)) continue;
      if (places.slice(-REPEATS).every((known) => distance2(known, place) >= STEP / 4)) places.push(place);
      return;
    }
  });
  return places;
}

/** Whether a balloon may stand here as far as machine, frame and obstacles go. */
export function isFree(place: Vec2, { hull, frame, obstacles, radius, extra = 0 }: RailRoom): boolean {
  const inset = radius + FROM_OTHERS - 1e-9;
  if (
    place[0] < frame[0] + inset + extra ||
    place[1] < frame[1] + inset ||
    place[0] > frame[2] - inset - extra ||
    place[1] > frame[3] - inset
  )
    return false;
  const spine = (extra === 0 ? [0] : SPINE).map((share): Vec2 => [place[0] + share * extra, place[1]]);
  if (spine.some((point) => insideConvex(point, hull) || distanceToOutline(point, hull) < radius + FROM_MACHINE))
    return false;
  return obstacles.every((box) => distanceToBox(place, extra, box) >= inset);
}

/** Points of a spine that are looked at: a convex outline comes between them by less than what is kept clear of it. */
const SPINE = [-1, -0.5, 0, 0.5, 1];

const distanceToBox = ([x, y]: Vec2, extra: number, box: Box2): number =>
  hypot(Math.max(box[0] - x - extra, 0, x - extra - box[2]), Math.max(box[1] - y, 0, y - box[3]));

/** Points along the rail at this distance. */
function railAt({ hull, arrangement = 'ring' }: RailRoom, distance: number): Vec2[] {
  if (arrangement === 'ring') return offsetOutline(hull, distance);
  const xs = hull.map(([x]) => x),
    ys = hull.map(([, y]) => y);
  const [x0, y0, x1, y1] = [
    Math.min(...xs) - distance,
    Math.min(...ys) - distance,
    Math.max(...xs) + distance,
    Math.max(...ys) + distance,
  ];
  const run = (from: Vec2, to: Vec2): Vec2[] => {
    const steps = Math.max(1, Math.ceil(distance2(from, to) / STEP));
    return Array.from({ length: steps }, (_, step): Vec2 => {
      const t = step / steps;
      return [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
    });
  };
  const [outX, outY] = [BEYOND * (x1 - x0), BEYOND * (y1 - y0)];
  const above = (out: number) => run([x0 - out, y0], [x1 + out, y0]),
    right = (out: number) => run([x1, y0 - out], [x1, y1 + out]),
    below = (out: number) => run([x1 + out, y1], [x0 - out, y1]),
    left = (out: number) => run([x0, y1 + out], [x0, y0 - out]);
  if (arrangement === 'rows') return [...above(outX), ...below(outX)];
  if (arrangement === 'columns') return [...right(outY), ...left(outY)];
  if (arrangement === 'mixed') return [...above(outX), ...right(outY), ...below(outX), ...left(outY)];
  return [...above(0), ...right(0), ...below(0), ...left(0)];
}

/** Points along the outline set off outwards, with round corners. */
function offsetOutline(hull: readonly Vec2[], distance: number): Vec2[] {
  const middle: Vec2 = [
    hull.reduce((sum, p) => sum + p[0], 0) / hull.length,
    hull.reduce((sum, p) => sum + p[1], 0) / hull.length,
  ];
  const points: Vec2[] = [];
  const outward = (a: Vec2, b: Vec2): number => {
    const normal: Vec2 = [b[1] - a[1], a[0] - b[0]];
    const away = (a[0] - middle[0]) * normal[0] + (a[1] - middle[1]) * normal[1];
    return away < 0 ? Math.atan2(-normal[1], -normal[0]) : Math.atan2(normal[1], normal[0]);
  };
  hull.forEach((corner, at) => {
    const before = hull[(at + hull.length - 1) % hull.length],
      after = hull[(at + 1) % hull.length];
    const from = outward(before, corner);
    let turn = outward(corner, after) - from;
    while (turn > Math.PI) turn -= 2 * Math.PI;
    while (turn < -Math.PI) turn += 2 * Math.PI;
    const arcSteps = Math.max(1, Math.ceil((Math.abs(turn) * distance) / STEP));
    for (let step = 0; step < arcSteps; step++) {
      const angle = from + (turn * step) / arcSteps;
      points.push([corner[0] + distance * Math.cos(angle), corner[1] + distance * Math.sin(angle)]);
    }
    const angle = from + turn;
    const steps = Math.max(1, Math.ceil(distance2(corner, after) / STEP));
    for (let step = 0; step < steps; step++) {
      const t = step / steps;
      points.push([
        corner[0] + t * (after[0] - corner[0]) + distance * Math.cos(angle),
        corner[1] + t * (after[1] - corner[1]) + distance * Math.sin(angle),
      ]);
    }
  });
  return points;
}
