import type { Balloon } from '../../balloons/index.ts';
import { growBox, type Vec2 } from '../../geometry/index.ts';
import type { Sheet } from '../records.ts';
import { moveBend, moveRail, snapToRail, withoutBend, withoutRails } from './balloonsByHand.ts';
import { idsOf, plus, type KindOfThing, type SheetThing, type ThingOf } from './thing.ts';

const changeBalloons = (sheet: Sheet, change: (balloon: Balloon) => Balloon): Sheet => ({
  ...sheet,
  balloons: sheet.balloons.map(change),
});

/** A balloon: one whose view moves too comes along with that anyway, and is not moved twice; what shares a leader goes together. */
export const balloonThing: KindOfThing<'balloon'> = {
  called: 'balloon',
  about: 'balloon',
  placed: ({ layout }) => layout.balloons.map(({ balloon: { id }, box }) => ({ thing: { kind: 'balloon', id }, box })),
  isAligned: true,
  clashes: ['titleBlock', 'table', 'note', 'balloon', 'dimension'],
  moving: 'move balloon',
  move: (sheet, _, { before, wayOf }) => {
    const stackWay = new Map(
      before.balloons.flatMap(({ id, view, stack }) => {
        const by = wayOf('balloon', id);
        return by && stack !== undefined ? [[`${view} ${stack}`, by] as const] : [];
      }),
    );
    return changeBalloons(sheet, (balloon) => {
      const by = wayOf('balloon', balloon.id) ?? stackWay.get(`${balloon.view} ${balloon.stack}`);
      if (!by || wayOf('view', balloon.view)) return balloon;
      return snapToRail({ ...balloon, offset: plus(balloon.offset, by), byHand: true }, before.rails);
    });
  },
  remove: (sheet, things) => {
    const gone = idsOf(things);
    return { ...sheet, balloons: sheet.balloons.filter(({ id }) => !gone.has(id)) };
  },
  copy: ({ balloons }, isPicked) => ({
    balloons: balloons.filter(({ id, view }) => isPicked('balloon', id) && !isPicked('view', view)),
  }),
  paste: ({ balloons }, { newId, viewFor }) => ({
    balloons: balloons.flatMap(({ rail: _, ...balloon }) => {
      const view = viewFor(balloon.view);
      if (!view) return [];
      const by = view.isCopy ? 0 : ASIDE;
      return [{ ...balloon, id: newId(), view: view.id, offset: plus(balloon.offset, [by, by]), byHand: true }];
    }),
  }),
};
/** From what it is a copy of, on the same view; mm. */
export const ASIDE = 15;

/** What a balloon points with: dragged over its part, which looks for places on that. */
export const leaderEndThing: KindOfThing<'leaderEnd'> = { called: 'end of the leader', about: 'balloon' };

/** A corner of a leader. */
export const bendThing: KindOfThing<'bend'> = {
  called: 'corner of the leader',
  about: 'balloon',
  moving: 'corner of a leader',
  move: (sheet, moves, { laid: { balloons = [] } }) =>
    changeBalloons(sheet, (balloon) =>
      moves
        .filter(({ thing }) => thing.id === balloon.id)
        .reduce((one, { thing, by }) => {
          const lies = balloons.find((other) => other.balloon.id === balloon.id);
          return lies ? moveBend(one, thing, by, lies) : one;
        }, balloon),
    ),
  remove: (sheet, things) =>
    changeBalloons(sheet, (balloon) =>
      things
        .filter(({ id }) => id === balloon.id)
        .map(({ at }) => at)
        // The last corner first: the others keep their numbers until then.
        .sort((a, b) => b - a)
        .reduce(withoutBend, balloon),
    ),
};

/** From a balloon to the end of its leader, to the corners of that, and back; null for what is none of them. */
export function nextOfBalloon({ balloons }: Sheet, thing: SheetThing): SheetThing | null {
  if (thing.kind !== 'balloon' && thing.kind !== 'leaderEnd' && thing.kind !== 'bend') return null;
  const { id } = thing;
  if (thing.kind === 'balloon') return { kind: 'leaderEnd', id };
  const next = thing.kind === 'leaderEnd' ? 0 : thing.at + 1;
  const bends = balloons.find((one) => one.id === id)?.bends ?? [];
  return next < bends.length ? { kind: 'bend', id, at: next } : { kind: 'balloon', id };
}

/** What is picked once a corner was moved: a new one has the number of the piece that it broke. */
export const movedBend = ({ id, at }: ThingOf<'bend'>): ThingOf<'bend'> => ({ kind: 'bend', id, at });

const RAIL_HALF = 1.5; // mm; as wide as can be hit
/** The corners of a band along a stretch. */
function bandAlong([x0, y0]: Vec2, [x1, y1]: Vec2, half: number): Vec2[] {
  const far = Math.hypot(x1 - x0, y1 - y0) || 1;
  const [ux, uy] = [((x1 - x0) / far) * half, ((y1 - y0) / far) * half];
  return [
    [x0 - ux - uy, y0 - uy + ux],
    [x0 - ux + uy, y0 - uy - ux],
    [x1 + ux + uy, y1 + uy - ux],
    [x1 + ux - uy, y1 + uy + ux],
  ];
}

/** A line on which balloons sit; they go along with it. */
export const railThing: KindOfThing<'rail'> = {
  called: 'rail',
  about: 'sheet',
  placed: ({ layout }) =>
    layout.rails.map(({ rail: { id }, from, to }) => {
      const [xs, ys] = [0, 1].map((axis) => [from[axis], to[axis]]);
      const box = growBox([Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], RAIL_HALF);
      return { thing: { kind: 'rail', id }, box, outline: bandAlong(from, to, RAIL_HALF) };
    }),
  moving: 'move rail',
  move: (sheet, moves) => moves.reduce((moved, { thing, by }) => moveRail(moved, thing.id, by), sheet),
  remove: (sheet, things) => {
    const gone = idsOf(things);
    return withoutRails(sheet, ({ id }) => gone.has(id));
  },
};

/** One end of a rail, by which it is turned and made longer. */
export const railEndThing: KindOfThing<'railEnd'> = {
  called: 'rail',
  about: 'sheet',
  moving: 'end of a rail',
  move: (sheet, moves) => moves.reduce((moved, { thing, by }) => moveRail(moved, thing.id, by, thing.end), sheet),
};
