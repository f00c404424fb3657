import type { Arrangement, Balloon, BalloonDress } from '../balloons/index.ts';
import type { PathKey, UsageKey } from '../assembly/index.ts';
import type { Vec2, Vec3 } from '../geometry/index.ts';
import type { Pose, PoseMove } from '../poses/index.ts';
import { cutOf, type Section, type SectionLook } from './section.ts';
import { regionBox, type LookRequest, type ProjectionSide, type Region, type TangentLook } from '../views/index.ts';
import type { Paper } from './paper/paper.ts';
import type { ColumnText, ColumnWidth, TableLook } from '../tables/index.ts';
import type { TitleBlock, TitleFields } from './paper/titleBlock.ts';

/** A sheet has no more views than this; its door says so. */
export const MOST_VIEWS = 50;

/** A view standing on a sheet: what is looked at, and where and how large it stands. */
export interface SheetView extends Omit<LookRequest, 'moves' | 'cut' | 'window'> {
  /** Of its own on this sheet; balloons name it. */
  readonly id: string;
  /** Id of the pose that is looked at; as assembled where absent, or where that pose is gone. */
  readonly pose?: string;
  /** Paper mm per model mm: 0.2 for 1:5. */
  readonly scale: number;
  /** Drawn at `scale`, but nothing may be measured in it: caption and title block say so. */
  readonly notToScale?: true;
  /** Middle of the view's box on paper; mm. */
  readonly centre: Vec2;
  /** Turn on paper about its middle, anticlockwise; radian, 0 where absent. Not drawn yet. */
  readonly turn?: number;
  /** Edges at which faces meet smoothly; thin where absent. */
  readonly tangent?: TangentLook;
  /** Whether the ways on which things left their seats are drawn. */
  readonly pathLines?: true;
  /** Where it is an enlarged piece of another view: of which, and which piece. It looks at what that one looks at. */
  readonly detail?: Detail;
  /** Where it is a section: what is taken away; nothing where absent. */
  readonly section?: Section;
  /** Centre lines of round features; none where absent. */
  readonly centreLines?: CentreLineLook;
  /** Text below it; its direction and scale where absent, nothing where empty. */
  readonly caption?: string;
  /** How far its middle stands from its usual place below the view; mm. Where absent it gives way to dimensions. */
  readonly captionBy?: Vec2;
  /** Views of one group, by its name, have their balloons around all of them together. Not drawn yet. */
  readonly group?: string;
  /** What it is projected from and stays aligned with: it has its scale and pose, and moves with it. */
  readonly projectedFrom?: Projected;
  /** Put there by hand: arranging leaves it alone. */
  readonly byHand: boolean;
}

/** Which round features of a view have centre lines. */
export interface CentreLineLook {
  /** Smallest diameter on paper of what gets one; mm. */
  readonly smallest: number;
  /** Names of axes that have none all the same, and of smaller ones that have one. */
  readonly off?: readonly string[];
  /** See there. */
  readonly on?: readonly string[];
}

/** A point of a component that stays on it, wherever it goes. */
export interface DimensionPoint {
  /** Its place in the machine. */
  readonly path: readonly UsageKey[];
  /** In its own coordinates; mm. */
  readonly point: Vec3;
}

export const dimensionDirections = ['x', 'y', 'between'] as const;
interface DimensionBase {
  /** Of its own on this sheet. */
  readonly id: string;
  /** Id of the view that it measures in. */
  readonly view: string;
  /** Of the dimension line from the middle of the view, across the line; mm on paper. */
  readonly offset: number;
}
/** A reference dimension: it says what the model measures, and nothing is made after it. */
export type SheetDimension =
  /** Of all that is seen in the view. */
  | (DimensionBase & { readonly kind: 'width' | 'height' })
  | (DimensionBase & {
      readonly kind: 'distance';
      readonly from: DimensionPoint;
      readonly to: DimensionPoint;
      /** Level, upright, or along the line through both. */
      readonly along: (typeof dimensionDirections)[number];
    })
  | (DimensionBase & {
      readonly kind: 'diameter';
      /** On the axis of the round feature. */
      readonly from: DimensionPoint;
      /** When it was placed: tells features on one axis apart; mm. */
      readonly radius: number;
    });

/** How dimensions say lengths. */
export interface DimensionLook {
  /** Of the number; it is not written beside it. */
  readonly unit: 'mm' | 'in';
  /** At most; 0 to 4. */
  readonly decimals: number;
  /** Instead of a point. */
  readonly comma?: true;
}

/** From which view of the same sheet a view is projected, and from which side of it that is seen. */
interface Projected {
  /** Id of that view. */
  readonly of: string;
  /** Of that view as it lies on paper. */
  readonly side: ProjectionSide;
}

/** Where seen from the left stands: to the right (first angle), or to the left (third angle; ISO 5456-2). */
export const projections = ['first', 'third'] as const;
export type Projection = (typeof projections)[number];

/** A round piece of a view that another view shows enlarged (ISO 128-3, details at a larger scale). */
export interface Detail extends Region {
  /** Id of the view that it is a piece of, on the same sheet. */
  readonly of: string;
  /** Under which both are found. */
  readonly letter: string;
}

/** Where a parts list hangs: on the title block, or in a corner of the frame. It grows away from there. */
export const tablePlaces = ['title-block', 'top-right', 'top-left', 'bottom-right', 'bottom-left'] as const;
export type TablePlace = (typeof tablePlaces)[number];

/** What is typed into a table by hand; words in braces stand for what they name, as in notes. */
export interface TypedTable {
  /** With their headings; ids are of this table. */
  readonly columns: readonly { readonly id: string; readonly heading: string }[];
  /** A text for each column. */
  readonly rows: readonly (readonly string[])[];
}

/** A parts list placed on a sheet, or a table that was typed by hand. */
export interface SheetTable extends Omit<TableLook, 'widths' | 'texts' | 'goesOn' | 'goesOnFrom'> {
  /** Of its own on this sheet. */
  readonly id: string;
  /** Document id of the bill that it shows; the sheet's where absent or gone. */
  readonly bill?: string;
  /** Where it hangs and grows away from. */
  readonly place: TablePlace;
  /** What it shows where it is typed by hand: no bill then. */
  readonly typed?: TypedTable;
  /** Id of the list of this sheet at whose end it hangs, instead of `place`. */
  readonly onList?: string;
  /** Only lines that are ballooned on this sheet. */
  readonly onlyBallooned?: boolean;
  /** Where its anchored corner was put instead of `place`, from which it still grows the same way; mm. */
  readonly at?: Vec2;
  /** Widths of columns by their ids. Those not named fit what stands in them. */
  readonly columnWidths?: readonly ({ readonly column: string } & ColumnWidth)[];
  /** How texts stand in columns, by the ids of these. */
  readonly columnTexts?: readonly ({ readonly column: string } & ColumnText)[];
  /** Whether numbers that are kept for what is gone stand in it, struck out. */
  readonly struckRetired?: true;
  /** Name of the house style that it was given; where that has changed it is offered. */
  readonly look?: string;
  /** The lines that it shows of its bill where others show the rest: those after so many, up to so many. */
  readonly lines?: { readonly after?: number; readonly upTo?: number };
  /** The table, here or on a sheet before, whose lines it goes on with. Not drawn yet. */
  readonly continuedFrom?: { readonly sheet: string; readonly table: string };
}

/** How balloons of a sheet look: height of numbers and radius of circles, mm; long numbers are set smaller. */
export interface BalloonLook extends BalloonDress {
  /** Height of the number; mm. */
  readonly lettering: number;
  /** Half their height; mm. */
  readonly radius: number;
  /** Set by hand: making the drawing keeps it. */
  readonly fixed?: true;
  /** The quantity of the line below its number, with a bar between. */
  readonly quantity?: true;
  /** Ids of columns of which the text stands instead of item number and quantity. */
  readonly columns?: { readonly above?: string; readonly below?: string };
  /** How balloons stand around a view; what suits where absent. */
  readonly arrangement?: Arrangement;
  /** From the view to the first row; mm. What is usual where absent. */
  readonly distance?: number;
}

/** A straight line on which balloons of a view sit and along which they slide. Only people who draw see it. */
export interface BalloonRail {
  /** Of its own on this sheet. */
  readonly id: string;
  /** Of whose balloons. */
  readonly view: string;
  /** Measured on paper from the centre of the view; mm, y down. */
  readonly from: Vec2;
  /** See there. */
  readonly to: Vec2;
}
/** A sheet has no more lists than this. */
export const MOST_LISTS = 20;
/** A sheet has no more rails than this. */
export const MOST_RAILS = 100;

/** Text standing on a sheet; words in braces stand for what they name, see `noteWords`. */
export interface SheetNote {
  /** Of its own on this sheet. */
  readonly id: string;
  /** Upper left corner; mm. */
  readonly at: Vec2;
  /** Width at which lines are broken; mm. */
  readonly width: number;
  /** Height of capitals; mm. */
  readonly lettering: number;
  /** Lines apart by line breaks; see `readNote` for what else it says. */
  readonly text: string;
  /** What it points at; nothing where absent. */
  readonly leader?: {
    /** Id of the view in which that is shown. */
    readonly view: string;
    /** Where on it. */
    readonly point: DimensionPoint;
  };
}

/** A picture standing on a sheet, such as a logo. Cannot be placed yet. */
export interface SheetPicture {
  /** Of its own on this sheet. */
  readonly id: string;
  /** Upper left corner, then width and height; mm. */
  readonly box: readonly [number, number, number, number];
  /** Name under which its bytes are kept. */
  readonly blob: string;
}

/** What changed on a sheet with a revision, to be marked where it is seen. */
export interface ChangeClouds {
  /** In the triangle beside each cloud. */
  readonly letter: string;
  /** Places of the machine that are new or otherwise; with everything below them. */
  readonly paths: readonly PathKey[];
}

/** A sheet as it is stored. */
export interface Sheet {
  /** Of this record, as it is stored; see `upgradeDocument`. */
  readonly version: 2;
  /** In the list of sheets, in file names, in the PDF's title. */
  readonly name: string;
  /** Size, and which way it lies. */
  readonly paper: Paper;
  /** Texts of the title block that differ from the set's. */
  readonly fields: Partial<TitleFields>;
  /** Of further fields of the title block that differ from the set's, by their ids. */
  readonly further?: readonly { readonly id: string; readonly value: string }[];
  /** Document id of the bill whose lines and numbers it shows; the project's first where absent or gone. */
  readonly bill?: string;
  /** Revision of the model that it shows, until a later one is taken over; the project's first where absent. */
  readonly revision?: string;
  /** The first is ballooned before the second. */
  readonly views: readonly SheetView[];
  /** Parts lists, each growing away from where it hangs. */
  readonly tables: readonly SheetTable[];
  /** Their numbers are derived from the bill. */
  readonly balloons: readonly Balloon[];
  /** Of all balloons. */
  readonly balloonLook: BalloonLook;
  /** Texts standing on it. */
  readonly notes: readonly SheetNote[];
  /** Pictures standing on it. */
  readonly pictures: readonly SheetPicture[];
  /** Lines on which balloons sit; none where absent. */
  readonly rails?: readonly BalloonRail[];
  /** Reference dimensions of its views; none where absent. */
  readonly dimensions?: readonly SheetDimension[];
  /** What changed with the last revision that it took over, marked where it is seen; nothing where absent. */
  readonly clouds?: ChangeClouds;
  /** Taken away; kept so that it can come back. */
  readonly away?: true;
}

/** What all sheets of a project share: a document of its own. */
export interface SheetSet {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** Texts of every title block that has none of its own. */
  readonly fields: TitleFields;
  /** Document ids of sheets in their order; those that are not in it come behind, oldest first. */
  readonly order: readonly string[];
  /** Revision of the model that is the project's: the newest that anything took over; its first where absent. */
  readonly revision?: string;
  /** Where projected views stand; first angle where absent. */
  readonly projection?: Projection;
  /** What every title block has besides its usual fields; nothing where absent. */
  readonly block?: TitleBlock;
  /** How dimensions say lengths; millimetres with at most one decimal where absent. */
  readonly dimensionLook?: DimensionLook;
  /** How sections look; see usualSectionLook where absent. */
  readonly sectionLook?: SectionLook;
  /** Arrangements of the components, for the views of all sheets. */
  readonly poses?: readonly Pose[];
}

/** What of a view says what it looks at. */
export type ViewLook = Pick<
  SheetView,
  'direction' | 'without' | 'only' | 'pose' | 'hidden' | 'shade' | 'section' | 'detail'
>;

/** What a view looks at, in its pose. */
export function viewRequest(
  { direction, without, only, pose, hidden, shade, section, detail }: ViewLook,
  poses: readonly Pose[] = [],
): LookRequest {
  const moves = movesOf(pose, poses);
  return {
    direction,
    ...(without ? { without } : {}),
    ...(only ? { only } : {}),
    ...(moves.length > 0 ? { moves } : {}),
    ...(hidden ? { hidden } : {}),
    ...(shade ? { shade } : {}),
    ...(section ? { cut: cutOf(section, direction) } : {}),
    ...(detail ? { window: regionBox(detail) } : {}),
  };
}

/** What has left its seat in a pose; nothing as assembled. */
export const movesOf = (pose: string | undefined, poses: readonly Pose[] = []): readonly PoseMove[] =>
  (pose !== undefined && poses.find(({ id }) => id === pose)?.moves) || nothing;
const nothing: readonly PoseMove[] = [];

/** Something on the sheet that is not as it should be. */
export interface SheetProblem {
  /** What kind it is, for programs. */
  readonly code: string;
  /** A sentence for the drafter. */
  readonly message: string;
  /** Item numbers concerned. */
  readonly items: readonly string[];
}

/** A sheet with nothing on it, all texts of its title block from the set. */
export const blankSheet = (name: string, paper: Paper): Sheet => ({
  version: 2,
  name,
  paper,
  fields: {},
  views: [],
  tables: [],
  balloons: [],
  balloonLook: { lettering: 5, radius: 6 },
  notes: [],
  pictures: [],
});

/** The list that *Make the drawing* hangs on a sheet without one, and that sheets of version 1 had. */
export const USUAL_TABLE = 'list';

/** A sheet as version 1 stored it: at most one list, every text of the title block its own. */
interface FirstSheet extends Omit<Sheet, 'version' | 'tables' | 'fields' | 'notes' | 'pictures'> {
  readonly version: 1;
  readonly fields: TitleFields;
  readonly table: Omit<SheetTable, 'id'> | null;
}

/** Brings a sheet from the first form in which sheets were stored to the second. */
export function upgradeFirstSheet(stored: object): object {
  const { table, ...rest } = stored as FirstSheet;
  return {
    ...rest,
    version: 2,
    tables: table ? [{ id: USUAL_TABLE, ...table }] : [],
    notes: [],
    pictures: [],
  } satisfies Sheet;
}

/** Sheets in the order of their set, without those that were taken away. @param sheets oldest first */
export function sheetsInOrder<One extends { readonly id: string; readonly content: Sheet }>(
  set: SheetSet,
  sheets: readonly One[],
): One[] {
  const place = new Map(set.order.map((id, at) => [id, at]));
  return sheets
    .filter(({ content }) => !content.away)
    .sort((one, other) => (place.get(one.id) ?? Infinity) - (place.get(other.id) ?? Infinity) || 0);
}
