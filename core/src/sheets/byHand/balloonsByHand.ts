import type { Balloon, OwnLook } from '../../balloons/index.ts';
import { distance2, type Vec2 } from '../../geometry/index.ts';
import type { LaidBalloon } from '../laid/balloonsOnSheet.ts';
import type { BalloonRail, Sheet } from '../records.ts';

/** What of own looks is set; null leaves it to the sheet again. */
export type OwnLookChange = { readonly [Key in keyof OwnLook]?: OwnLook[Key] | null };

const plus = ([x, y]: Vec2, [dx, dy]: Vec2): Vec2 => [x + dx, y + dy];
const minus = ([x, y]: Vec2, [dx, dy]: Vec2): Vec2 => [x - dx, y - dy];
const between = ([x0, y0]: Vec2, [x1, y1]: Vec2, share: number): Vec2 => [
  x0 + share * (x1 - x0),
  y0 + share * (y1 - y0),
];

const withBalloons = (sheet: Sheet, change: (balloon: Balloon) => Balloon): Sheet => ({
  ...sheet,
  balloons: sheet.balloons.map(change),
});

/** The sheet with these balloons looking otherwise than the others. */
export function withOwnLook(sheet: Sheet, ids: ReadonlySet<string>, change: OwnLookChange): Sheet {
  return withBalloons(sheet, (balloon) => {
    if (!ids.has(balloon.id)) return balloon;
    const { look: before, ...plain } = balloon;
    const look = Object.fromEntries(
      Object.entries({ ...before, ...change }).filter(([, value]) => value !== null),
    ) as OwnLook;
    return Object.keys(look).length > 0 ? { ...plain, look } : plain;
  });
}

/** The corners of a balloon with one moved, or with a new one; what was put by hand stays. */
export function moveBend(
  balloon: Balloon,
  { at, isNew = false }: { readonly at: number; readonly isNew?: boolean },
  by: Vec2,
  laid: Pick<LaidBalloon, 'centre' | 'anchor'>,
): Balloon {
  const { bends = [] } = balloon;
  // From the middle of the balloon, where corners are measured like it from the middle of the view.
  const toOffset = (point: Vec2): Vec2 => plus(balloon.offset, minus(point, laid.centre));
  const points = [balloon.offset, ...bends, toOffset(laid.anchor)];
  if (isNew ? at < 0 || at + 1 >= points.length : at < 0 || at >= bends.length) return balloon;
  const next = isNew
    ? bends.toSpliced(at, 0, plus(between(points[at], points[at + 1], 0.5), by))
    : bends.with(at, plus(bends[at], by));
  return { ...balloon, bends: next, byHand: true };
}

/** The balloon without a corner of its leader. */
export function withoutBend(balloon: Balloon, at: number): Balloon {
  const { bends = [], ...straight } = balloon;
  const left = bends.toSpliced(at, 1);
  return left.length > 0 ? { ...straight, bends: left } : straight;
}

/** The sheet with two balloons in one another's places; leaders go straight from there. */
export function swapBalloons(sheet: Sheet, one: LaidBalloon, other: LaidBalloon): Sheet {
  const places = new Map([
    [one.balloon.id, minus(other.centre, one.centre)],
    [other.balloon.id, minus(one.centre, other.centre)],
  ]);
  return withBalloons(sheet, (balloon) => {
    const by = places.get(balloon.id);
    if (!by) return balloon;
    const { bends: _, rail: __, ...straight } = balloon;
    return { ...straight, offset: plus(balloon.offset, by), byHand: true };
  });
}

/** Middles of balloons along the line through the two that are farthest apart. */
function alongLine(balloons: readonly LaidBalloon[]): {
  readonly ends: readonly [Vec2, Vec2];
  readonly order: LaidBalloon[];
} {
  let ends: [Vec2, Vec2] = [balloons[0].centre, balloons[0].centre];
  for (const [at, { centre }] of balloons.entries())
    for (const other of balloons.slice(at + 1))
      if (distance2(centre, other.centre) > distance2(...ends)) ends = [centre, other.centre];
  const [[x0, y0], [x1, y1]] = ends;
  const share = ({ centre: [x, y] }: LaidBalloon) => (x - x0) * (x1 - x0) + (y - y0) * (y1 - y0);
  return { ends, order: balloons.toSorted((a, b) => share(a) - share(b)) };
}

/** On one line at equal distances, between the two that are farthest apart; those stay. */
export function evenOut(sheet: Sheet, balloons: readonly LaidBalloon[]): Sheet {
  if (balloons.length < 3) return sheet;
  const { ends, order } = alongLine(balloons);
  const ways = new Map(
    order.map(({ balloon: { id }, centre }, at) => [id, minus(between(...ends, at / (order.length - 1)), centre)]),
  );
  return withBalloons(sheet, (balloon) => {
    const by = ways.get(balloon.id);
    return by ? { ...balloon, offset: plus(balloon.offset, by), byHand: true } : balloon;
  });
}

/** Ids of balloons as they are read: from top to bottom in bands as high as a balloon, and in each from left to right. */
export function readingOrder(balloons: readonly LaidBalloon[]): string[] {
  const high = 2 * Math.max(1, ...balloons.map(({ radius }) => radius));
  const left = balloons.toSorted((a, b) => a.centre[1] - b.centre[1]);
  const order: string[] = [];
  while (left.length > 0) {
    const band = left.filter(({ centre }) => centre[1] < left[0].centre[1] + high);
    left.splice(0, band.length);
    order.push(...band.sort((a, b) => a.centre[0] - b.centre[0]).map(({ balloon }) => balloon.id));
  }
  return order;
}

/** Nearer than this to a rail, a balloon that is put somewhere comes to sit on it; mm. */
const RAIL_WITHIN = 4;
/** A rail reaches so far beyond the outermost balloons; mm. */
const BEYOND = 10;

/** The nearest point of a rail, and how far along it that is, 0 to 1. */
function onRail({ from, to }: BalloonRail, [x, y]: Vec2): { readonly point: Vec2; readonly share: number } {
  const [dx, dy] = minus(to, from);
  const share = Math.min(1, Math.max(0, ((x - from[0]) * dx + (y - from[1]) * dy) / (dx * dx + dy * dy || 1)));
  return { point: between(from, to, share), share };
}

/** The balloon on the rail near which it was put, or off the one from which it was taken. */
export function snapToRail(balloon: Balloon, rails: readonly BalloonRail[] = []): Balloon {
  const { rail: _, ...off } = balloon;
  let best: { readonly id: string; readonly point: Vec2; readonly far: number } | null = null;
  for (const rail of rails) {
    if (rail.view !== balloon.view) continue;
    const { point } = onRail(rail, balloon.offset);
    const far = distance2(point, balloon.offset);
    if (far <= RAIL_WITHIN && far < (best?.far ?? Infinity)) best = { id: rail.id, point, far };
  }
  return best ? { ...off, rail: best.id, offset: best.point } : off;
}

/**
 * The sheet with a rail through balloons of one view: along the line through the two that are farthest apart, on which all
 * of them come to sit.
 */
export function railThrough(sheet: Sheet, balloons: readonly LaidBalloon[], id: string): Sheet {
  const view = balloons[0]?.balloon.view;
  const middle = sheet.views.find((one) => one.id === view)?.centre;
  if (balloons.length < 2 || !middle || balloons.some(({ balloon }) => balloon.view !== view)) return sheet;
  const [from, to] = alongLine(balloons).ends.map((end) => minus(end, middle));
  const far = distance2(from, to) || 1;
  const rail: BalloonRail = {
    id,
    view,
    from: between(from, to, -BEYOND / far),
    to: between(to, from, -BEYOND / far),
  };
  const places = spreadOn(rail, balloons);
  return {
    ...withBalloons(sheet, (balloon) => {
      const offset = places.get(balloon.id);
      return offset ? { ...balloon, rail: id, offset, byHand: true } : balloon;
    }),
    rails: [...(sheet.rails ?? []), rail],
  };
}

/** Where balloons come to sit on a rail, by their ids: near where they are, side by side. */
function spreadOn(rail: BalloonRail, balloons: readonly LaidBalloon[]): Map<string, Vec2> {
  const long = distance2(rail.from, rail.to) || 1;
  const level = Math.abs(rail.to[0] - rail.from[0]) > Math.abs(rail.to[1] - rail.from[1]);
  const half = ({ box, radius }: LaidBalloon) => (level ? (box[2] - box[0]) / 2 : radius);
  const order = balloons
    .map((one) => ({ one, along: onRail(rail, one.balloon.offset).share * long }))
    .sort((a, b) => a.along - b.along);
  order.forEach((next, at) => {
    const before = order[at - 1];
    if (before) next.along = Math.max(next.along, before.along + half(before.one) + half(next.one) + SIDE_BY_SIDE);
  });
  return new Map(order.map(({ one, along }) => [one.balloon.id, between(rail.from, rail.to, along / long)]));
}
const SIDE_BY_SIDE = 1; // mm between balloons on a rail

/** The sheet with an upright rail beside a view, on the side where there is more room, for balloons to come. */
export function railBeside(
  sheet: Sheet,
  view: string,
  box: readonly [number, number, number, number],
  widthMm: number,
  id: string,
): Sheet {
  const middle = sheet.views.find((one) => one.id === view)?.centre;
  if (!middle) return sheet;
  const x = box[0] > widthMm - box[2] ? box[0] - RAIL_AWAY : box[2] + RAIL_AWAY;
  const rail: BalloonRail = { id, view, from: minus([x, box[1]], middle), to: minus([x, box[3]], middle) };
  return { ...sheet, rails: [...(sheet.rails ?? []), rail] };
}
const RAIL_AWAY = 20; // mm from the view

/** The sheet with a rail or one of its ends moved; balloons on it go along, at the same share of its length. */
export function moveRail(sheet: Sheet, id: string, by: Vec2, end?: 0 | 1): Sheet {
  const was = sheet.rails?.find((one) => one.id === id);
  if (!was) return sheet;
  const is: BalloonRail = {
    ...was,
    from: end === 1 ? was.from : plus(was.from, by),
    to: end === 0 ? was.to : plus(was.to, by),
  };
  return {
    ...withBalloons(sheet, (balloon) =>
      balloon.rail === id && balloon.view === was.view
        ? { ...balloon, offset: between(is.from, is.to, onRail(was, balloon.offset).share), byHand: true }
        : balloon,
    ),
    rails: sheet.rails!.map((one) => (one.id === id ? is : one)),
  };
}

/** The sheet without some rails; what sat on them stays where it is. */
export function withoutRails(sheet: Sheet, isGone: (rail: BalloonRail) => boolean): Sheet {
  const gone = new Set((sheet.rails ?? []).filter(isGone).map(({ id }) => id));
  if (gone.size === 0) return sheet;
  const { rails = [], ...rest } = sheet;
  const left = rails.filter(({ id }) => !gone.has(id));
  const freed = withBalloons({ ...rest, ...(left.length > 0 ? { rails: left } : {}) }, (balloon) => {
    if (balloon.rail === undefined || !gone.has(balloon.rail)) return balloon;
    const { rail: _, ...off } = balloon;
    return off;
  });
  return freed;
}
