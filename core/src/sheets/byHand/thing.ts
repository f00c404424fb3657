import equal from 'fast-deep-equal';
import type { Balloon } from '../../balloons/index.ts';
import type { Box2, Vec2 } from '../../geometry/index.ts';
import type { DrawnSheet } from '../drawn/drawSheet.ts';
import type { Paper } from '../paper/paper.ts';
import type { Sheet, SheetDimension, SheetNote, SheetView } from '../records.ts';

/** Names nothing more than the record that it is of. */
type Whole = Record<never, never>;

/** Of every kind of thing what names one besides the id of the stored record that it is, or belongs to. */
interface ThingParts {
  readonly titleBlock: Whole;
  readonly view: Whole;
  /** The lower right corner of a view: how large it is. */
  readonly viewSize: Whole;
  /** The text of a view. */
  readonly caption: Whole;
  /** The piece of a view that the detail of this id enlarges. */
  readonly region: Whole;
  /** The border of that piece. */
  readonly regionSize: Whole;
  /** A piece of a view that is cut open, counted from 0. */
  readonly cutPiece: { readonly piece: number };
  /** The border of that piece. */
  readonly cutPieceSize: { readonly piece: number };
  /** Of the section of this id, on the view that shows it. */
  readonly cuttingLine: Whole;
  /** A corner of it, counted from 0. */
  readonly cuttingPoint: { readonly at: number };
  /** Of a view; see `CentreLine.id`. */
  readonly centreLine: { readonly line: string };
  readonly table: Whole;
  /** The border by which a column of a list is made wider; columns are counted from 0. */
  readonly columnEdge: { readonly column: number };
  /** The heading of a column. */
  readonly columnHead: { readonly column: number };
  readonly note: Whole;
  readonly dimension: Whole;
  readonly rail: Whole;
  readonly railEnd: { readonly end: 0 | 1 };
  readonly balloon: Whole;
  /** What a balloon points with. */
  readonly leaderEnd: Whole;
  /** A corner of a balloon's leader, counted from the balloon; or a new one in the middle of the piece of that number. */
  readonly bend: { readonly at: number; readonly isNew?: boolean };
}
export type ThingKind = keyof ThingParts;
/** A thing of one kind. */
export type ThingOf<Kind extends ThingKind> = {
  readonly [Each in Kind]: { readonly kind: Each; readonly id: string } & ThingParts[Each];
}[Kind];
/** Something on a sheet that can be picked. */
export type SheetThing = ThingOf<ThingKind>;
export const isSameThing = (one: SheetThing, other: SheetThing): boolean => equal(one, other);

/** A thing and the room it takes on paper; mm. */
export interface PlacedThing {
  readonly thing: SheetThing;
  readonly box: Box2;
  /** Convex, where it takes less room than its box: something slanted. */
  readonly outline?: readonly Vec2[];
}

/** A thing, and how far it goes; mm on paper. */
export interface Move<Kind extends ThingKind> {
  readonly thing: ThingOf<Kind>;
  readonly by: Vec2;
}
/** How far each thing goes. */
export type Ways = readonly Move<ThingKind>[];

/** Where things lie that cannot be moved without knowing it. */
export type LaidThings = Partial<Pick<DrawnSheet['layout'], 'dimensions' | 'tables' | 'balloons' | 'views'>>;
/** What a move of some things knows of all that moves with them. */
export interface AllMoves {
  /** As it was. */
  readonly before: Sheet;
  readonly laid: LaidThings;
  /** How far the whole thing of a record goes. */
  readonly wayOf: (kind: ThingKind, id: string) => Vec2 | undefined;
}

/** What was copied from a sheet; the balloons and dimensions of a copied view are among it. */
export interface Copied {
  readonly views: readonly SheetView[];
  readonly notes: readonly SheetNote[];
  readonly balloons: readonly Balloon[];
  readonly dimensions: readonly SheetDimension[];
}
/** Where copies are put. */
interface PasteOn {
  readonly sheet: Sheet;
  readonly newId: () => string;
  /** The copy of a view, or the same view where that is on this sheet. */
  readonly viewFor: (view: string) => { readonly id: string; readonly isCopy: boolean } | undefined;
  /** Where a copy stands: where it stood, or a little aside of one that stands there; mm. */
  readonly aside: (at: Vec2, taken: readonly Vec2[]) => Vec2;
}
export type Copies = { readonly [List in keyof Copied]?: Copied[List] };

/** Whose inspector tells of a thing. */
export type ThingAbout = 'view' | 'balloon' | 'dimension' | 'centreLine' | 'note' | 'titleBlock' | 'list' | 'sheet';

/** All that the program knows of a kind of thing; what a kind cannot do, it leaves out. */
export interface KindOfThing<Kind extends ThingKind> {
  /** As undo and menus name it. */
  readonly called: string;
  readonly about: ThingAbout;
  /** All of them on a sheet, with the room they take. */
  readonly placed?: (drawn: Pick<DrawnSheet, 'layout' | 'notes'>, paper: Paper) => PlacedThing[];
  /** It is not picked with others by a frame around them, nor by picking everything. */
  readonly isPickedAlone?: true;
  /** It can be brought in line with others. */
  readonly isAligned?: true;
  /** What it may not lie over; a balloon may well stand in the box of a view. */
  readonly clashes?: readonly ThingKind[];
  /** What undo says of its move. */
  readonly moving?: string;
  /** The sheet with these things moved, also together with others. */
  readonly move?: (sheet: Sheet, moves: readonly Move<Kind>[], all: AllMoves) => Sheet;
  /** The sheet with one thing drawn out by itself; `free` takes the measure that comes out, not a round one. */
  readonly draw?: (sheet: Sheet, thing: ThingOf<Kind>, by: Vec2, laid: LaidThings, free: boolean) => Sheet;
  /** What undo says of drawing it out. */
  readonly drawing?: (after: Sheet, thing: ThingOf<Kind>) => string;
  /** The sheet without these things. @param members of centre lines, by their id, see CentreLine */
  readonly remove?: (
    sheet: Sheet,
    things: readonly ThingOf<Kind>[],
    members: (centreLine: string) => readonly string[],
  ) => Sheet;
  /** What a copy of some of them takes along. */
  readonly copy?: (sheet: Sheet, isPicked: (kind: ThingKind, id: string) => boolean) => Copies;
  /** The things that are put on a sheet of what was copied. */
  readonly paste?: (copied: Copied, on: PasteOn) => Copies;
}

export const plus = ([x, y]: Vec2, [dx, dy]: Vec2): Vec2 => [x + dx, y + dy];

export const idsOf = (things: readonly { readonly id: string }[]): ReadonlySet<string> =>
  new Set(things.map(({ id }) => id));
