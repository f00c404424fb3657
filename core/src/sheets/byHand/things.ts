import { boxesOverlap, growBox, moveBox, uniteBoxes2, type Box2, type Vec2 } from '../../geometry/index.ts';
import { groupBy } from '../../assembly/index.ts';
import { insideConvex } from '../../balloons/index.ts';
import type { DrawnSheet } from '../drawn/drawSheet.ts';
import { frameBox, type Paper } from '../paper/paper.ts';
import { USUAL_SMALLEST } from '../laid/centreLines.ts';
import { moveBend, moveRail, readBend, snapToRail, withoutBend, withoutRails } from './balloonsByHand.ts';
import type { LaidBalloon } from '../laid/balloonsOnSheet.ts';
import type { LaidTable } from '../laid/listsOnSheet.ts';
import type { Sheet, SheetTable, SheetView } from '../records.ts';
import { WIDTH_RANGE, type ColumnWidth } from '../../tables/index.ts';
import { alignedWith } from '../laid/projected.ts';
import { standardScales } from '../laid/scales.ts';
import type { Region } from '../../views/index.ts';

/** Something on a sheet that can be picked. */
export interface SheetThing {
  /**
   * `region` and `regionSize`: the piece of a view that the detail of this id enlarges; `viewSize`: how large a view is;
   * `caption`: the text of the view of this id; `leaderEnd`: what the balloon of this id points with; `bend`: see
   * `bendName`; `railEnd`: 0 or 1 behind the id of the rail and a blank; `columnEdge`, `columnHead`: the
   * border and the heading of a column, named by the id of its list and the number of the column with a blank between. A centre line is
   * named by the id of its view and its own, with a blank between.
   */
  readonly kind:
    | 'view'
    | 'caption'
    | 'balloon'
    | 'leaderEnd'
    | 'bend'
    | 'rail'
    | 'railEnd'
    | 'table'
    | 'columnEdge'
    | 'columnHead'
    | 'note'
    | 'titleBlock'
    | 'region'
    | 'regionSize'
    | 'viewSize'
    | 'dimension'
    | 'centreLine';
  readonly id: string;
}
export const isSameThing = (one: SheetThing, other: SheetThing): boolean =>
  one.kind === other.kind && one.id === other.id;

/** A thing and the room it takes on paper; mm. */
export interface PlacedThing {
  readonly thing: SheetThing;
  readonly box: Box2;
  /** Convex, where it takes less room than its box: something slanted. */
  readonly outline?: readonly Vec2[];
}

/** The uppermost thing at a point of the paper. */
export const thingAt = (things: readonly PlacedThing[], [x, y]: Vec2): SheetThing | undefined =>
  things.findLast(
    ({ box, outline }) =>
      x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3] && (!outline || insideConvex([x, y], outline)),
  )?.thing;

/** Everything that can be picked, as it is met from the title block over views and lists to the balloons. */
export function thingsOn({ layout, notes }: Pick<DrawnSheet, 'layout' | 'notes'>, paper: Paper): PlacedThing[] {
  return [
    ...(paper.blank ? [] : [{ thing: { kind: 'titleBlock', id: 'titleBlock' }, box: layout.titleBlock } as const]),
    ...layout.views.map(({ view: { id }, box }): PlacedThing => ({ thing: { kind: 'view', id }, box })),
    ...layout.views.flatMap(({ view: { id }, captionBox: box }): PlacedThing[] =>
      box ? [{ thing: { kind: 'caption', id }, box }] : [],
    ),
    ...layout.tables.map(({ table: { id }, measured: { strips } }): PlacedThing => ({
      thing: { kind: 'table', id },
      box: strips.map(({ box }) => box).reduce(uniteBoxes2),
    })),
    ...notes.map(({ note: { id }, box }): PlacedThing => ({ thing: { kind: 'note', id }, box })),
    ...layout.dimensions
      .filter(({ value }) => value !== null)
      .map(({ dimension: { id }, box, outline }): PlacedThing => ({ thing: { kind: 'dimension', id }, box, outline })),
    ...layout.rails.map(({ rail: { id }, from, to }): PlacedThing => {
      const [xs, ys] = [0, 1].map((axis) => [from[axis], to[axis]]);
      // As wide as can be hit.
      const box = growBox([Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], RAIL_HALF);
      return { thing: { kind: 'rail', id }, box, outline: bandAlong(from, to, RAIL_HALF) };
    }),
    ...layout.balloons.map(({ balloon: { id }, box }): PlacedThing => ({ thing: { kind: 'balloon', id }, box })),
  ];
}

const RAIL_HALF = 1.5; // mm
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

/** Where a dimension line would lie on something: on other dimensions, lists, the title block, balloons. @param but one */
export const roomTaken = (layout: DrawnSheet['layout'], but?: string): Box2[] => [
  layout.titleBlock,
  ...layout.tables.flatMap(({ measured: { strips } }) => strips.map(({ box }) => box)),
  ...layout.dimensions.flatMap(({ dimension, box }) => (dimension.id === but ? [] : [box])),
  ...layout.balloons.map(({ box }) => box),
];

/** Kinds of things that can be moved together. */
const MOVABLE: ReadonlySet<SheetThing['kind']> = new Set([
  'view',
  'caption',
  'note',
  'balloon',
  'bend',
  'rail',
  'railEnd',
  'dimension',
  'table',
]);
export const isMovable = ({ kind }: SheetThing): boolean =>
  MOVABLE.has(kind) || kind === 'region' || kind === 'regionSize';

/** How far each thing goes; mm on paper. */
export type Ways = readonly { readonly thing: SheetThing; readonly by: Vec2 }[];

/**
 * The sheet with things moved. Views and notes stay on the paper; views projected from a moved one move with it, and
 * one that is moved alone stays aligned; balloons whose view moves too come along with it anyway, and are not moved
 * twice. What was moved stays there when the sheet is arranged.
 * @param layout of the sheet: dimensions move across their line only, lists stay in their corner until they are put elsewhere
 */
export function moveThings(
  sheet: Sheet,
  ways: Ways,
  layout: Partial<Pick<DrawnSheet['layout'], 'dimensions' | 'tables' | 'balloons'>> = {},
): Sheet {
  const { dimensions = [], tables = [], balloons = [] } = layout;
  const across = new Map(dimensions.map((one) => [one.dimension.id, one.across]));
  const wayOf = new Map(ways.map(({ thing: { kind, id }, by }) => [`${kind} ${id}`, by]));
  const comesAlong = ({ view }: { readonly view: string }) => wayOf.has(`view ${view}`);
  // What shares a leader moves together.
  const stackWay = new Map(
    sheet.balloons.flatMap(({ id, view, stack }) => {
      const by = wayOf.get(`balloon ${id}`);
      return by && stack !== undefined ? [[`${view} ${stack}`, by] as const] : [];
    }),
  );
  let moved: Sheet = {
    ...sheet,
    views: sheet.views.map((view) => {
      const by = viewWay(sheet.views, view, wayOf);
      if (by) return { ...view, centre: keepOnPaper(sheet.paper, plus(view.centre, by)), byHand: true };
      const text = wayOf.get(`caption ${view.id}`);
      return text ? { ...view, captionBy: plus(view.captionBy ?? [0, 0], text) } : view;
    }),
    tables: sheet.tables.map((table) => {
      const by = wayOf.get(`table ${table.id}`);
      const laid = tables.find((one) => one.table.id === table.id);
      return by && laid ? putTable(table, laid, keepOnPaper(sheet.paper, plus(laid.corner, by))) : table;
    }),
    notes: sheet.notes.map((note) => {
      const by = wayOf.get(`note ${note.id}`);
      return by ? { ...note, at: keepOnPaper(sheet.paper, plus(note.at, by)) } : note;
    }),
    balloons: sheet.balloons.map((balloon) => {
      const by = wayOf.get(`balloon ${balloon.id}`) ?? stackWay.get(`${balloon.view} ${balloon.stack}`);
      if (!by || comesAlong(balloon)) return balloon;
      return snapToRail({ ...balloon, offset: plus(balloon.offset, by), byHand: true }, sheet.rails);
    }),
  };
  moved = withBendsMoved(moved, ways, balloons);
  for (const { thing, by } of ways) {
    if (thing.kind === 'rail') moved = moveRail(moved, thing.id, by);
    if (thing.kind === 'railEnd') moved = moveRail(moved, thing.id.slice(0, -2), by, thing.id.endsWith('0') ? 0 : 1);
  }
  if (sheet.dimensions)
    moved = {
      ...moved,
      dimensions: sheet.dimensions.map((dimension) => {
        const by = wayOf.get(`dimension ${dimension.id}`);
        const way = across.get(dimension.id);
        if (!by || !way || comesAlong(dimension)) return dimension;
        return { ...dimension, offset: dimension.offset + by[0] * way[0] + by[1] * way[1] };
      }),
    };
  for (const { thing, by } of ways)
    if (thing.kind === 'region' || thing.kind === 'regionSize')
      moved = { ...moved, views: withRegion(moved.views, thing.id, thing.kind, by) };
  return moved;
}

function withBendsMoved(sheet: Sheet, ways: Ways, laid: readonly LaidBalloon[]): Sheet {
  const bends = ways.filter(({ thing }) => thing.kind === 'bend');
  if (bends.length === 0) return sheet;
  return {
    ...sheet,
    balloons: sheet.balloons.map((balloon) =>
      bends
        .filter(({ thing }) => readBend(thing.id).balloon === balloon.id)
        .reduce((one, { thing, by }) => {
          const lies = laid.find((other) => other.balloon.id === balloon.id);
          return lies ? moveBend(one, thing.id, by, lies) : one;
        }, balloon),
    ),
  };
}

/** Nearer than this to where it hangs by itself, a list hangs there again; mm. */
const HANGS_WITHIN = 4;

/** A list with its anchored corner at this point. */
function putTable(table: SheetTable, { home }: Pick<LaidTable, 'home'>, corner: Vec2): SheetTable {
  const { at: _, ...hanging } = table;
  return Math.hypot(corner[0] - home[0], corner[1] - home[1]) <= HANGS_WITHIN ? hanging : { ...hanging, at: corner };
}

/**
 * The sheet with a column of a list wider or narrower by dragging its border: the left one of a list that stays at its
 * right, else the right one.
 * @param laid the list as it was
 * @param by across the sheet; mm
 */
export function sizeColumn(
  sheet: Sheet,
  { table: { id }, measured, columns, side }: LaidTable,
  at: number,
  by: number,
): Sheet {
  const wanted = measured.widths[at] + (side === 'right' ? -by : by);
  const width = Math.round(Math.min(Math.max(wanted, WIDTH_RANGE[0]), WIDTH_RANGE[1]) * 2) / 2;
  return withColumnWidth(sheet, id, columns[at].id, { width });
}

/** @param width null for what fits what stands in it */
export const withColumnWidth = (sheet: Sheet, list: string, column: string, width: ColumnWidth | null): Sheet => ({
  ...sheet,
  tables: sheet.tables.map((table): SheetTable => {
    if (table.id !== list) return table;
    const { columnWidths = [], ...rest } = table;
    const others = columnWidths.filter((one) => one.column !== column);
    const all = width === null ? others : [...others, { column, ...width }];
    return all.length > 0 ? { ...rest, columnWidths: all } : rest;
  }),
});

/** How far a view goes: by itself, or with what it is projected from. */
function viewWay(views: readonly SheetView[], view: SheetView, wayOf: ReadonlyMap<string, Vec2>): Vec2 | undefined {
  const own = wayOf.get(`view ${view.id}`);
  const { projectedFrom } = view;
  const parent = projectedFrom && views.find(({ id }) => id === projectedFrom.of);
  const along = parent && viewWay(views, parent, wayOf);
  if (!parent || !projectedFrom || along || !own) return along ?? own;
  return alignedWith(projectedFrom.side, [0, 0], own);
}

const plus = (to: Vec2, by: Vec2): Vec2 => [to[0] + by[0], to[1] + by[1]];

/** The nearest centre inside the frame: a view dragged off the paper could not be taken hold of again. */
export function keepOnPaper(paper: Paper, centre: Vec2): Vec2 {
  const frame = frameBox(paper);
  return [Math.min(frame[2], Math.max(frame[0], centre[0])), Math.min(frame[3], Math.max(frame[1], centre[1]))];
}

/** The views with the piece that a detail shows moved, or its border drawn out, by so much on paper. */
function withRegion(
  views: readonly SheetView[],
  id: string,
  kind: 'region' | 'regionSize',
  by: Vec2,
): readonly SheetView[] {
  return views.map((view) => {
    const parent = view.id === id && view.detail ? views.find((one) => one.id === view.detail!.of) : undefined;
    if (!parent || !view.detail) return view;
    const { centre, radius, half } = view.detail;
    const [dx, dy] = [by[0] / parent.scale, -by[1] / parent.scale];
    const detail =
      kind === 'region'
        ? { ...view.detail, centre: [centre[0] + dx, centre[1] + dy] as Vec2 }
        : half
          ? boxed(view.detail, [Math.max(half[0] / 20, half[0] + dx), Math.max(half[1] / 20, half[1] - dy)])
          : { ...view.detail, radius: Math.max(radius / 20, radius + dx) };
    return { ...view, detail };
  });
}

/** The same piece as a box of this half width and height. */
export const boxed = <Piece extends Region>(piece: Piece, half: Vec2): Piece => ({
  ...piece,
  half,
  radius: Math.hypot(...half),
});

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
  return {
    ...sheet,
    views: sheet.views.map((view) => {
      if (view.id !== id) return view;
      const wanted = view.scale * grown;
      const near = standardScales.find((one) => Math.max(one / wanted, wanted / one) <= NEAR_STANDARD);
      return { ...view, scale: free ? wanted : (near ?? readable(wanted)), byHand: true };
    }),
  };
}

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
    if (!MOVABLE.has(thing.kind) || !boxesOverlap(box, block)) return [];
    const ways: Vec2[] = [
      [0, y0 - gap - box[3]],
      [x0 - gap - box[2], 0],
    ];
    const inside = ways.filter(([dx, dy]) => box[0] + dx >= frame[0] && box[1] + dy >= frame[1]);
    const [by] = inside.sort((a, b) => Math.hypot(...a) - Math.hypot(...b));
    return by ? [{ thing, by }] : [];
  });
}

export const alignments = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type ThingAlignment = (typeof alignments)[number];

/** Of what is picked what can be brought in line: balloons of views that are picked too come along with them. */
export function inLineThings(
  sheet: Sheet,
  placed: readonly PlacedThing[],
  picked: readonly SheetThing[],
): PlacedThing[] {
  const isPicked = (thing: SheetThing) => picked.some((one) => isSameThing(one, thing));
  const comesAlong = ({ kind, id }: SheetThing) => {
    const balloon = kind === 'balloon' && sheet.balloons.find((one) => one.id === id);
    return balloon && isPicked({ kind: 'view', id: balloon.view });
  };
  return placed.filter(
    ({ thing }) => ['view', 'note', 'balloon'].includes(thing.kind) && isPicked(thing) && !comesAlong(thing),
  );
}

/** Brings things in line: by an edge, the outermost of them has it; by the middle, that of all of them together. */
export function alignThings(things: readonly PlacedThing[], how: ThingAlignment): Ways {
  if (things.length === 0) return [];
  const all = things.map(({ box }) => box).reduce(uniteBoxes2);
  const by = (box: Box2): Vec2 => {
    switch (how) {
      case 'left':
        return [all[0] - box[0], 0];
      case 'right':
        return [all[2] - box[2], 0];
      case 'centre':
        return [(all[0] + all[2] - box[0] - box[2]) / 2, 0];
      case 'top':
        return [0, all[1] - box[1]];
      case 'bottom':
        return [0, all[3] - box[3]];
      case 'middle':
        return [0, (all[1] + all[3] - box[1] - box[3]) / 2];
    }
  };
  return things.map(({ thing, box }) => ({ thing, by: by(box) }));
}

/** Puts things at equal gaps between the two outermost, which stay. @param axis 0 from left to right, 1 downwards */
export function distributeThings(things: readonly PlacedThing[], axis: 0 | 1): Ways {
  if (things.length < 3) return [];
  const low = ({ box }: PlacedThing) => box[axis],
    high = ({ box }: PlacedThing) => box[axis + 2];
  const sorted = things.toSorted((a, b) => low(a) + high(a) - low(b) - high(b));
  const free =
    high(sorted[sorted.length - 1]) - low(sorted[0]) - sorted.reduce((sum, one) => sum + high(one) - low(one), 0);
  const gap = free / (sorted.length - 1);
  let at = low(sorted[0]);
  return sorted.map((one) => {
    const by = at - low(one);
    at += high(one) - low(one) + gap;
    return { thing: one.thing, by: axis === 0 ? [by, 0] : [0, by] };
  });
}

/** Where things are once they have moved. */
export const movedThings = (things: readonly PlacedThing[], ways: Ways): PlacedThing[] =>
  things.flatMap(({ thing, box }) => {
    const way = ways.find((one) => isSameThing(one.thing, thing));
    return way ? [{ thing, box: moveBox(box, way.by[0], way.by[1]) }] : [];
  });

/** What is picked with others: not the title block, which stays, nor captions, which go with their views. */
export const severalOf = (things: readonly PlacedThing[]): SheetThing[] =>
  things.map(({ thing }) => thing).filter(({ kind }) => kind !== 'titleBlock' && kind !== 'caption');

/** Things that lie altogether in a box that was drawn around them. */
export const thingsWithin = (things: readonly PlacedThing[], around: Box2): SheetThing[] =>
  severalOf(
    things.filter(
      ({ box }) => box[0] >= around[0] && box[1] >= around[1] && box[2] <= around[2] && box[3] <= around[3],
    ),
  );

/**
 * The sheet without things: views go with their balloons, dimensions and enlarged details, what was projected from them
 * stands by itself; a centre line and a caption are remembered as not wanted. The title block stays.
 * @param members of centre lines, by their id, see CentreLine
 */
export function withoutThings(
  sheet: Sheet,
  things: readonly SheetThing[],
  members: (centreLine: string) => readonly string[] = (id) => [id],
): Sheet {
  const gone = (kind: SheetThing['kind']) => new Set(things.filter((one) => one.kind === kind).map(({ id }) => id));
  const views = new Set([...gone('view'), ...gone('region'), ...gone('regionSize')]);
  for (const { id, detail } of sheet.views) if (detail && views.has(detail.of)) views.add(id);
  const [tables, notes, balloons, dimensions] = [gone('table'), gone('note'), gone('balloon'), gone('dimension')];
  const captions = gone('caption');
  const off = new Map<string, string[]>();
  for (const name of gone('centreLine')) {
    const at = name.indexOf(' ');
    const list = off.get(name.slice(0, at)) ?? [];
    list.push(...members(name.slice(at + 1)));
    off.set(name.slice(0, at), list);
  }
  const rails = gone('rail');
  const bends = groupBy([...gone('bend')].map(readBend), ({ balloon }) => balloon);
  const without = {
    ...withoutRails(sheet, (rail) => rails.has(rail.id) || views.has(rail.view)),
    views: sheet.views.flatMap((view): SheetView[] => {
      if (views.has(view.id)) return [];
      const { projectedFrom, ...alone } = view;
      const stands = projectedFrom && views.has(projectedFrom.of) ? alone : view;
      const kept = captions.has(view.id) ? { ...stands, caption: '' } : stands;
      const lines = off.get(view.id);
      if (!lines) return [kept];
      const { smallest = USUAL_SMALLEST, on = [], off: before = [] } = view.centreLines ?? {};
      const rest = on.filter((one) => !lines.includes(one));
      return [
        {
          ...kept,
          centreLines: { smallest, ...(rest.length > 0 ? { on: rest } : {}), off: [...new Set([...before, ...lines])] },
        },
      ];
    }),
    tables: sheet.tables.filter(({ id }) => !tables.has(id)),
    notes: sheet.notes.filter(({ id }) => !notes.has(id)),
  };
  without.balloons = without.balloons
    .filter(({ id, view }) => !balloons.has(id) && !views.has(view))
    // The last corner first: the others keep their numbers until then.
    .map((one) =>
      (bends.get(one.id) ?? [])
        .map(({ at }) => at)
        .sort((a, b) => b - a)
        .reduce(withoutBend, one),
    );
  if (!sheet.dimensions) return without;
  const { dimensions: _, ...rest } = without;
  const left = sheet.dimensions.filter(({ id, view }) => !dimensions.has(id) && !views.has(view));
  return left.length > 0 ? { ...rest, dimensions: left } : rest;
}

/** Kinds that a thing may not lie over; a balloon may well stand in the box of a view. */
const clashes: Readonly<Partial<Record<SheetThing['kind'], readonly SheetThing['kind'][]>>> = {
  view: ['titleBlock', 'table', 'note', 'view'],
  note: ['titleBlock', 'table', 'note', 'view', 'balloon'],
  caption: ['titleBlock', 'table', 'note', 'balloon', 'dimension'],
  balloon: ['titleBlock', 'table', 'note', 'balloon', 'dimension'],
  dimension: ['titleBlock', 'table', 'note', 'balloon'],
};

/** Where some of the things lie over others. */
export function overlapsOf(things: readonly PlacedThing[], some: readonly SheetThing[]): Box2[] {
  const own = new Set(some.map(({ kind, id }) => `${kind} ${id}`));
  const isOwn = ({ thing: { kind, id } }: PlacedThing) => own.has(`${kind} ${id}`);
  return things.filter(isOwn).flatMap((one) =>
    things
      .filter((other) => !isOwn(other) && clashes[one.thing.kind]?.includes(other.thing.kind))
      .filter(({ box }) => boxesOverlap(box, one.box))
      .map(({ box }): Box2 => [
        Math.max(box[0], one.box[0]),
        Math.max(box[1], one.box[1]),
        Math.min(box[2], one.box[2]),
        Math.min(box[3], one.box[3]),
      ]),
  );
}
