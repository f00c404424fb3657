import { stretchMeetsBox, type Box2, type Vec2 } from '../geometry/index.ts';
import { LEAST_APART, LEAST_SLANT } from './records.ts';

/** Clear space between two balloons; mm. */
export const GAP = 2;
/** A leader keeps so far from other balloons; mm. */
const LEADER_GAP = 1;

/** What is wrong costs this much leader length; mm. Overlap outweighs all, then crossings, then what only looks bad. */
export const COST = {
  overlap: 100_000,
  crossing: 3000,
  through: 2000,
  sameSpot: 2000,
  obstacle: 2500,
  slant: 250,
  room: 120,
} as const;

/** Where a balloon stands, how far it is drawn out, and where its leader ends. Numbers, since very many are looked at. */
export interface Seat {
  readonly x: number;
  readonly y: number;
  readonly extra: number;
  readonly toX: number;
  readonly toY: number;
}

/** Cost of one leader by itself: its length, and what it runs into. */
export function leaderCost(
  centre: Vec2,
  point: Vec2,
  {
    radius,
    extra,
    obstacles,
  }: { readonly radius: number; readonly extra: number; readonly obstacles: readonly Box2[] },
): number {
  const dx = Math.abs(point[0] - centre[0]),
    dy = Math.abs(point[1] - centre[1]);
  let cost = Math.sqrt(dx * dx + dy * dy);
  const angle = Math.atan2(dy, dx);
  if (angle < LEAST_SLANT || angle > Math.PI / 2 - LEAST_SLANT) cost += COST.slant;
  const beside = Math.max(0, dx - extra);
  if (beside * beside + dy * dy < (radius + 2) ** 2) cost += COST.through;
  for (const box of obstacles) {
    const isBeside =
      Math.max(centre[0], point[0]) <= box[0] ||
      Math.min(centre[0], point[0]) >= box[2] ||
      Math.max(centre[1], point[1]) <= box[1] ||
      Math.min(centre[1], point[1]) >= box[3];
    if (!isBeside && stretchMeetsBox(centre, point, box)) cost += COST.obstacle;
  }
  return cost;
}

/** What two balloons and their leaders cost each other. */
export function pairCost(a: Seat, b: Seat, radius: number): number {
  // Most pairs are far apart: their boxes, widened by a balloon, tell.
  const reach = 2 * radius + GAP + a.extra + b.extra;
  if (
    Math.min(a.x, a.toX) > Math.max(b.x, b.toX) + reach ||
    Math.min(b.x, b.toX) > Math.max(a.x, a.toX) + reach ||
    Math.min(a.y, a.toY) > Math.max(b.y, b.toY) + reach ||
    Math.min(b.y, b.toY) > Math.max(a.y, a.toY) + reach
  )
    return 0;
  let cost = 0;
  if (areTooNear(a.x, a.y, a.extra, b.x, b.y, b.extra, radius)) cost += COST.overlap;
  if (leadersCross(a, b)) cost += COST.crossing;
  if (runsThrough(a, b, radius)) cost += COST.through;
  if (runsThrough(b, a, radius)) cost += COST.through;
  const dx = a.toX - b.toX,
    dy = a.toY - b.toY;
  if (dx * dx + dy * dy < LEAST_APART * LEAST_APART) cost += COST.sameSpot;
  return cost;
}

/** Whether two balloons, each drawn out to its sides, have less than the gap between them. */
export function areTooNear(
  ax: number,
  ay: number,
  aExtra: number,
  bx: number,
  by: number,
  bExtra: number,
  radius: number,
): boolean {
  const dx = Math.max(0, Math.abs(ax - bx) - aExtra - bExtra),
    dy = ay - by,
    least = 2 * radius + GAP - 1e-6;
  return dx * dx + dy * dy < least * least;
}

/** Whether the leaders of two balloons cross. */
export function leadersCross(a: Seat, b: Seat): boolean {
  const dx = a.toX - a.x,
    dy = a.toY - a.y,
    ex = b.toX - b.x,
    ey = b.toY - b.y;
  return (
    (dx * (b.y - a.y) - dy * (b.x - a.x)) * (dx * (b.toY - a.y) - dy * (b.toX - a.x)) < 0 &&
    (ex * (a.y - b.y) - ey * (a.x - b.x)) * (ex * (a.toY - b.y) - ey * (a.toX - b.x)) < 0
  );
}

/** Whether the leader of `one` comes too near to the balloon of `other`. */
export function runsThrough(one: Seat, { x, y, extra }: Seat, radius: number): boolean {
  const least = (radius + LEADER_GAP) ** 2;
  if (extra === 0) return squareToStretch(x, y, one.x, one.y, one.toX, one.toY) < least;
  const dy = one.toY - one.y;
  // Where the leader passes the height of the spine, it must pass beside it.
  if ((one.y - y) * (one.toY - y) < 0) {
    const at = one.x + ((y - one.y) / dy) * (one.toX - one.x);
    if (Math.abs(at - x) <= extra) return true;
  }
  return (
    squareToStretch(x - extra, y, one.x, one.y, one.toX, one.toY) < least ||
    squareToStretch(x + extra, y, one.x, one.y, one.toX, one.toY) < least ||
    squareToStretch(one.x, one.y, x - extra, y, x + extra, y) < least ||
    squareToStretch(one.toX, one.toY, x - extra, y, x + extra, y) < least
  );
}

/** Square of the distance from a point to the stretch a–b. */
function squareToStretch(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax,
    dy = by - ay;
  const square = dx * dx + dy * dy;
  let t = square === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / square;
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const ex = x - ax - t * dx,
    ey = y - ay - t * dy;
  return ex * ex + ey * ey;
}
