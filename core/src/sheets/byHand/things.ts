import { boxesOverlap, moveBox, type Box2, type Vec2 } from '../../geometry/index.ts';
import { insideConvex } from '../../balloons/index.ts';
import type { DrawnSheet } from '../drawn/drawSheet.ts';
import { frameBox, type Paper } from '../paper/paper.ts';
import type { Sheet } from '../records.ts';
import { ASIDE, balloonThing, bendThing, leaderEndThing, railEndThing, railThing } from './balloonThings.ts';
import { columnEdgeThing, columnHeadThing, tableThing } from './listThings.ts';
import { cutPieceSizeThing, cutPieceThing, cuttingLineThing, cuttingPointThing } from './sectionThings.ts';
import {
  idsOf,
  isSameThing,
  plus,
  type AllMoves,
  type Copied,
  type Copies,
  type KindOfThing,
  type LaidThings,
  type PlacedThing,
  type SheetThing,
  type ThingKind,
  type Ways,
} from './thing.ts';
import { keepOnPaper } from '../paper/paper.ts';
import { captionThing, centreLineThing, regionSizeThing, regionThing, viewSizeThing, viewThing } from './viewThings.ts';
import { dimensionThing, noteThing, titleBlockThing } from './writtenThings.ts';

/** Every kind of thing on a sheet, as they lie over one another and are met: the title block first, balloons last. */
const kindsOfThings: { readonly [Kind in ThingKind]: KindOfThing<Kind> } = {
  titleBlock: titleBlockThing,
  view: viewThing,
  viewSize: viewSizeThing,
  caption: captionThing,
  table: tableThing,
  columnEdge: columnEdgeThing,
  columnHead: columnHeadThing,
  note: noteThing,
  dimension: dimensionThing,
  centreLine: centreLineThing,
  cuttingLine: cuttingLineThing,
  cuttingPoint: cuttingPointThing,
  region: regionThing,
  regionSize: regionSizeThing,
  cutPiece: cutPieceThing,
  cutPieceSize: cutPieceSizeThing,
  rail: railThing,
  railEnd: railEndThing,
  balloon: balloonThing,
  leaderEnd: leaderEndThing,
  bend: bendThing,
};
const kinds = Object.keys(kindsOfThings) as ThingKind[];
const upwards = kinds.map((kind) => kindOfThing(kind));
/** What lies uppermost goes first: balloons before the rails on which they sit, all before the views. */
const downwards = kinds.toReversed();

/** What is known of a kind of thing, for things of which no more is known than their kind. */
export function kindOfThing(kind: ThingKind): KindOfThing<ThingKind> {
  return kindsOfThings[kind] as unknown as KindOfThing<ThingKind>;
}
export const isMovable = ({ kind }: SheetThing): boolean => kindOfThing(kind).move !== undefined;

/** The uppermost thing at a point of the paper. */
export const thingAt = (things: readonly PlacedThing[], [x, y]: Vec2): SheetThing | undefined =>
  things.findLast(
    ({ box, outline }) =>
      x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3] && (!outline || insideConvex([x, y], outline)),
  )?.thing;

/** Everything that can be picked, from the lowest to the uppermost. */
export const thingsOn = (drawn: Pick<DrawnSheet, 'layout' | 'notes'>, paper: Paper): PlacedThing[] =>
  upwards.flatMap(({ placed }) => placed?.(drawn, paper) ?? []);

/** Where a dimension line would lie on something: on other dimensions, lists, the title block, balloons. @param but one */
export const roomTaken = (layout: DrawnSheet['layout'], but?: string): Box2[] => [
  layout.titleBlock,
  ...layout.tables.flatMap(({ measured: { strips } }) => strips.map(({ box }) => box)),
  ...layout.dimensions.flatMap(({ dimension, box }) => (dimension.id === but ? [] : [box])),
  ...layout.balloons.map(({ box }) => box),
];

/**
 * The sheet with things moved, also several of several kinds: what belongs to something that moves comes along with it and is
 * not moved twice. What was moved stays there when the sheet is arranged.
 * @param laid of the sheet as it was
 */
export function moveThings(sheet: Sheet, ways: Ways, laid: LaidThings = {}): Sheet {
  const byName = new Map(ways.map(({ thing: { kind, id }, by }) => [`${kind} ${id}`, by]));
  const all: AllMoves = { before: sheet, laid, wayOf: (kind, id) => byName.get(`${kind} ${id}`) };
  return downwards.reduce((moved, kind) => {
    const own = ways.filter(({ thing }) => thing.kind === kind);
    return own.length > 0 ? (kindOfThing(kind).move?.(moved, own, all) ?? moved) : moved;
  }, sheet);
}

/**
 * The sheet with one thing drawn out by itself: a corner of a view, the border of a column.
 * @param free takes the measure that comes out, not a round one
 */
export const drawThing = (sheet: Sheet, thing: SheetThing, by: Vec2, laid: LaidThings, free: boolean): Sheet =>
  kindOfThing(thing.kind).draw?.(sheet, thing, by, laid, free) ?? sheet;

/**
 * What takes moved things off the title block, over which nothing may lie: the shortest way up or to the left, where it
 * leaves them inside the frame.
 * @param block where it is
 * @param moved where they are now
 */
export function offTitleBlock(paper: Paper, block: Box2, moved: readonly PlacedThing[]): Ways {
  const [x0, y0] = block;
  const frame = frameBox(paper);
  const gap = 0.5;
  return moved.flatMap(({ thing, box }) => {
    if (!isMovable(thing) || !boxesOverlap(box, block)) return [];
    const ways: Vec2[] = [
      [0, y0 - gap - box[3]],
      [x0 - gap - box[2], 0],
    ];
    const inside = ways.filter(([dx, dy]) => box[0] + dx >= frame[0] && box[1] + dy >= frame[1]);
    const [by] = inside.sort((a, b) => Math.hypot(...a) - Math.hypot(...b));
    return by ? [{ thing, by }] : [];
  });
}

/** Where things are once they have moved. */
export const movedThings = (things: readonly PlacedThing[], ways: Ways): PlacedThing[] =>
  things.flatMap(({ thing, box }) => {
    const way = ways.find((one) => isSameThing(one.thing, thing));
    return way ? [{ thing, box: moveBox(box, way.by[0], way.by[1]) }] : [];
  });

/**
 * The sheet with things moved by hand: nothing comes to lie over the title block, what would is put beside it.
 * @param placed where things were
 * @param layout of the sheet as it was
 */
export function moveByHand(
  sheet: Sheet,
  ways: Ways,
  placed: readonly PlacedThing[],
  layout: DrawnSheet['layout'],
): Sheet {
  const aside = offTitleBlock(sheet.paper, layout.titleBlock, movedThings(placed, ways));
  const whole = ways.map(({ thing, by }) => {
    const more = aside.find((other) => isSameThing(other.thing, thing));
    return { thing, by: more ? plus(by, more.by) : by };
  });
  return moveThings(sheet, whole, layout);
}

/** What is picked with others: not the title block, which stays, nor captions, which go with their views. */
export const severalOf = (things: readonly PlacedThing[]): SheetThing[] =>
  things.map(({ thing }) => thing).filter(({ kind }) => !kindOfThing(kind).isPickedAlone);

/** Things that lie altogether in a box that was drawn around them. */
export const thingsWithin = (things: readonly PlacedThing[], around: Box2): SheetThing[] =>
  severalOf(
    things.filter(
      ({ box }) => box[0] >= around[0] && box[1] >= around[1] && box[2] <= around[2] && box[3] <= around[3],
    ),
  );

/**
 * The sheet without things; what belongs to them goes with them, what cannot go stays.
 * @param members of centre lines, by their id, see CentreLine
 */
export const withoutThings = (
  sheet: Sheet,
  things: readonly SheetThing[],
  members: (centreLine: string) => readonly string[] = (id) => [id],
): Sheet =>
  downwards.reduce((left, kind) => {
    const gone = things.filter((thing) => thing.kind === kind);
    return gone.length > 0 ? (kindOfThing(kind).remove?.(left, gone, members) ?? left) : left;
  }, sheet);

/** Where some of the things lie over others. */
export function overlapsOf(things: readonly PlacedThing[], some: readonly SheetThing[]): Box2[] {
  const own = new Set(some.map(({ kind, id }) => `${kind} ${id}`));
  const isOwn = ({ thing: { kind, id } }: PlacedThing) => own.has(`${kind} ${id}`);
  return things.filter(isOwn).flatMap((one) =>
    things
      .filter((other) => !isOwn(other) && kindOfThing(one.thing.kind).clashes?.includes(other.thing.kind))
      .filter(({ box }) => boxesOverlap(box, one.box))
      .map(({ box }): Box2 => [
        Math.max(box[0], one.box[0]),
        Math.max(box[1], one.box[1]),
        Math.min(box[2], one.box[2]),
        Math.min(box[3], one.box[3]),
      ]),
  );
}

const nothing: Copied = { views: [], notes: [], balloons: [], dimensions: [] };
const together = (all: Copied, more: Copies): Copied => ({
  views: [...all.views, ...(more.views ?? [])],
  notes: [...all.notes, ...(more.notes ?? [])],
  balloons: [...all.balloons, ...(more.balloons ?? [])],
  dimensions: [...all.dimensions, ...(more.dimensions ?? [])],
});

/** What a copy of things takes along: views with their balloons and dimensions, notes, balloons and dimensions alone. */
export function copyThings(sheet: Sheet, things: readonly SheetThing[]): Copied {
  const isPicked = (kind: ThingKind, id: string) => things.some((one) => one.kind === kind && one.id === id);
  return upwards.reduce((all, { copy }) => together(all, copy?.(sheet, isPicked) ?? {}), nothing);
}

/**
 * Things of their own that show what was copied, on this or another sheet; on their own sheet a little aside. Balloons and
 * dimensions without their views come only where their view is.
 * @returns the sheet with them, what came, and what of it is picked then: what comes with a view moves with that
 */
export function pasteThings(
  sheet: Sheet,
  copied: Copied,
  newId: () => string,
): { readonly sheet: Sheet; readonly came: Copied; readonly picked: readonly SheetThing[] } {
  const idOf = new Map(copied.views.map(({ id }) => [id, newId()]));
  const here = idsOf(sheet.views);
  const viewFor = (view: string) => {
    const copy = idOf.get(view);
    return copy !== undefined ? { id: copy, isCopy: true } : here.has(view) ? { id: view, isCopy: false } : undefined;
  };
  const aside = (at: Vec2, taken: readonly Vec2[]): Vec2 =>
    keepOnPaper(sheet.paper, taken.some(([x, y]) => x === at[0] && y === at[1]) ? [at[0] + ASIDE, at[1] + ASIDE] : at);
  const on = { sheet, newId, viewFor, aside };
  const came = upwards.reduce((all, { paste }) => together(all, paste?.(copied, on) ?? {}), nothing);
  const picking = (kind: ThingKind, of: readonly { readonly id: string }[]) =>
    of.map(({ id }) => ({ kind, id }) as SheetThing);
  return {
    came,
    sheet: {
      ...sheet,
      views: [...sheet.views, ...came.views],
      notes: [...sheet.notes, ...came.notes],
      balloons: [...sheet.balloons, ...came.balloons],
      ...(came.dimensions.length > 0 ? { dimensions: [...(sheet.dimensions ?? []), ...came.dimensions] } : {}),
    },
    picked: [
      ...picking('view', came.views),
      ...picking('note', came.notes),
      ...(came.views.length > 0
        ? []
        : [...picking('balloon', came.balloons), ...picking('dimension', came.dimensions)]),
    ],
  };
}
