import type { Box2, Vec2 } from '../../geometry/index.ts';
import type { Region } from '../../views/index.ts';
import { USUAL_SMALLEST } from '../laid/centreLines.ts';
import { alignedWith } from '../laid/projected.ts';
import { scaleText, standardScales } from '../laid/scales.ts';
import type { Sheet, SheetView } from '../records.ts';
import type { Section } from '../section.ts';
import { withoutRails } from './balloonsByHand.ts';
import { idsOf, plus, type AllMoves, type KindOfThing, type PlacedThing } from './thing.ts';
import { keepOnPaper } from '../paper/paper.ts';

const changeViews = (sheet: Sheet, change: (view: SheetView) => SheetView): Sheet => ({
  ...sheet,
  views: sheet.views.map(change),
});

/** How far a view goes: by itself, or with what it is projected from. */
function viewWay(views: readonly SheetView[], view: SheetView, wayOf: AllMoves['wayOf']): Vec2 | undefined {
  const own = wayOf('view', view.id);
  const { projectedFrom } = view;
  const parent = projectedFrom && views.find(({ id }) => id === projectedFrom.of);
  const along = parent && viewWay(views, parent, wayOf);
  if (!parent || !projectedFrom || along || !own) return along ?? own;
  return alignedWith(projectedFrom.side, [0, 0], own);
}

/**
 * Without views, and what stands on them: their balloons, rails, dimensions, enlarged details, sections. What was projected from one
 * stands by itself.
 */
export function withoutViews(sheet: Sheet, things: readonly { readonly id: string }[]): Sheet {
  const gone = new Set(idsOf(things));
  // A detail of a section of a view goes with it too.
  for (let before = -1; before !== gone.size;) {
    before = gone.size;
    for (const { id, detail, section } of sheet.views)
      if (gone.has(detail?.of ?? '') || gone.has(section?.of ?? '')) gone.add(id);
  }
  const { dimensions = [], ...rest } = withoutRails(sheet, ({ view }) => gone.has(view));
  const left = dimensions.filter(({ view }) => !gone.has(view));
  return {
    ...rest,
    ...(left.length > 0 ? { dimensions: left } : {}),
    balloons: rest.balloons.filter(({ view }) => !gone.has(view)),
    views: sheet.views.flatMap((view): SheetView[] => {
      if (gone.has(view.id)) return [];
      const { projectedFrom, ...alone } = view;
      return [projectedFrom && gone.has(projectedFrom.of) ? alone : view];
    }),
  };
}

/** A section whose cutting line no view shows. */
const standingAlone = ({ of: _, ...section }: Section): Section => section;

/** A view: one that is moved stays on the paper; views projected from it go along, and one moved alone stays aligned. */
export const viewThing: KindOfThing<'view'> = {
  called: 'view',
  about: 'view',
  placed: ({ layout }) => layout.views.map(({ view: { id }, box }) => ({ thing: { kind: 'view', id }, box })),
  isAligned: true,
  clashes: ['titleBlock', 'table', 'note', 'view'],
  moving: 'move view',
  move: (sheet, _, { before, wayOf }) =>
    changeViews(sheet, (view) => {
      const by = viewWay(before.views, view, wayOf);
      return by ? { ...view, centre: keepOnPaper(sheet.paper, plus(view.centre, by)), byHand: true } : view;
    }),
  remove: withoutViews,
  copy: ({ views, balloons, dimensions = [] }, isPicked) => ({
    views: views.filter(({ id }) => isPicked('view', id)),
    balloons: balloons.filter(({ view }) => isPicked('view', view)),
    dimensions: dimensions.filter(({ view }) => isPicked('view', view)),
  }),
  paste: ({ views }, { sheet, viewFor, aside }) => ({
    views: views.map(({ detail: _, projectedFrom: __, section, ...view }): SheetView => ({
      ...view,
      ...(section ? { section: standingAlone(section) } : {}),
      id: viewFor(view.id)!.id,
      centre: aside(
        view.centre,
        sheet.views.map(({ centre }) => centre),
      ),
      byHand: true,
    })),
  }),
};

/** The text of a view: it goes with its view, or by itself; taken away it is remembered as not wanted. */
export const captionThing: KindOfThing<'caption'> = {
  called: 'caption',
  about: 'view',
  placed: ({ layout }) =>
    layout.views.flatMap(({ view: { id }, captionBox: box }): PlacedThing[] =>
      box ? [{ thing: { kind: 'caption', id }, box }] : [],
    ),
  isPickedAlone: true,
  clashes: ['titleBlock', 'table', 'note', 'balloon', 'dimension'],
  moving: 'move caption',
  move: (sheet, moves, { before, wayOf }) =>
    changeViews(sheet, (view) => {
      const move = moves.find(({ thing }) => thing.id === view.id);
      if (!move || viewWay(before.views, view, wayOf)) return view;
      return { ...view, captionBy: plus(view.captionBy ?? [0, 0], move.by) };
    }),
  remove: (sheet, things) => {
    const gone = idsOf(things);
    return changeViews(sheet, (view) => (gone.has(view.id) ? { ...view, caption: '' } : view));
  },
};

/** The nearest scale that reads with two figures: 1:12, 3.5:1. */
const readable = (scale: number): number =>
  scale >= 1 ? Number(scale.toPrecision(2)) : 1 / Number((1 / scale).toPrecision(2));
/** Dragged to about a standard scale, a view takes that. */
const NEAR_STANDARD = 1.05;

/**
 * The sheet with a view drawn larger or smaller by its lower right corner; its middle stays.
 * @param box of the view as it was; mm
 * @param free takes the scale that comes out; else a standard one where that is near, or one of two figures
 */
export function resizeView(sheet: Sheet, id: string, box: Box2, [dx, dy]: Vec2, free: boolean): Sheet {
  const [width, height] = [box[2] - box[0], box[3] - box[1]];
  const grown = Math.max((width + 2 * dx) / Math.max(width, 1e-6), (height + 2 * dy) / Math.max(height, 1e-6), 0.05);
  return changeViews(sheet, (view) => {
    if (view.id !== id) return view;
    const wanted = view.scale * grown;
    const near = standardScales.find((one) => Math.max(one / wanted, wanted / one) <= NEAR_STANDARD);
    return { ...view, scale: free ? wanted : (near ?? readable(wanted)), byHand: true };
  });
}

/** How large a view is. */
export const viewSizeThing: KindOfThing<'viewSize'> = {
  called: 'view',
  about: 'view',
  draw: (sheet, { id }, by, { views = [] }, free) => {
    const laid = views.find(({ view }) => view.id === id);
    return laid ? resizeView(sheet, id, laid.box, by, free) : sheet;
  },
  drawing: ({ views }, { id }) => `scale ${scaleText(views.find((one) => one.id === id)?.scale ?? 1)}`,
};

/** The same piece as a box of this half width and height. */
export const boxed = <Piece extends Region>(piece: Piece, half: Vec2): Piece => ({
  ...piece,
  half,
  radius: Math.hypot(...half),
});

/** The sheet with the piece that a detail shows changed, by so much on paper. */
function changeRegion(
  sheet: Sheet,
  id: string,
  [x, y]: Vec2,
  change: (detail: NonNullable<SheetView['detail']>, by: Vec2) => NonNullable<SheetView['detail']>,
): Sheet {
  return changeViews(sheet, (view) => {
    const parent = view.id === id && view.detail ? sheet.views.find((one) => one.id === view.detail!.of) : undefined;
    if (!parent || !view.detail) return view;
    return { ...view, detail: change(view.detail, [x / parent.scale, -y / parent.scale]) };
  });
}

/** The piece of a view that a detail enlarges. */
export const regionThing: KindOfThing<'region'> = {
  called: 'detail',
  about: 'view',
  moving: 'move what the detail shows',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by: way }) =>
        changeRegion(moved, thing.id, way, (detail, by) => ({ ...detail, centre: plus(detail.centre, by) })),
      sheet,
    ),
  remove: withoutViews,
};

/** The border of that piece, drawn out. */
export const regionSizeThing: KindOfThing<'regionSize'> = {
  called: 'detail',
  about: 'view',
  moving: 'size of the detail',
  move: (sheet, moves) =>
    moves.reduce(
      (moved, { thing, by }) =>
        changeRegion(moved, thing.id, by, (detail, [dx, dy]) => {
          const { half, radius } = detail;
          return half
            ? boxed(detail, [Math.max(half[0] / 20, half[0] + dx), Math.max(half[1] / 20, half[1] - dy)])
            : { ...detail, radius: Math.max(radius / 20, radius + dx) };
        }),
      sheet,
    ),
  remove: withoutViews,
};

/** A centre line; taken away it is remembered as not wanted, with all that lies on it. */
export const centreLineThing: KindOfThing<'centreLine'> = {
  called: 'centre line',
  about: 'centreLine',
  remove: (sheet, things, members) =>
    changeViews(sheet, (view) => {
      const lines = things.filter(({ id }) => id === view.id).flatMap(({ line }) => members(line));
      if (lines.length === 0) return view;
      const { smallest = USUAL_SMALLEST, on = [], off = [] } = view.centreLines ?? {};
      const rest = on.filter((one) => !lines.includes(one));
      return {
        ...view,
        centreLines: { smallest, ...(rest.length > 0 ? { on: rest } : {}), off: [...new Set([...off, ...lines])] },
      };
    }),
};
