import type { Box2 } from '../geometry/index.ts';
import type { Alignment, Face } from '../marks/index.ts';

/** What a table holds, as text. */
export interface TableContent {
  readonly headings: readonly string[];
  readonly alignments: readonly Alignment[];
  /** One list of texts per row, as long as `headings`. */
  readonly rows: readonly (readonly string[])[];
  /** Rows that are lettered bold: headings of groups and sums. */
  readonly bold?: ReadonlySet<number>;
  /** How deep in the structure each row stands, 0 for the outermost; and the column whose texts are indented by that. */
  readonly levels?: readonly number[];
  readonly indented?: number;
  /** Columns whose texts are not broken inside, unless the list says so: part numbers. */
  readonly whole?: ReadonlySet<number>;
  /** Rows of which the first text stands across the whole table: headings of groups. Nothing ends with one. */
  readonly across?: ReadonlySet<number>;
  /** Rows that are struck out: their numbers are kept for what is gone. */
  readonly struck?: ReadonlySet<number>;
  /** The column of pictures, and the picture of each row that has one. */
  readonly pictures?: { readonly column: number; readonly of: ReadonlyMap<number, CellPicture> };
}
/** A square picture in a cell. */
export interface CellPicture {
  /** Shape that it shows. */
  readonly shape: string;
  /** PNG; empty where it is got by its shape. */
  readonly png: Uint8Array;
}

/** Sizes in mm. */
export interface TableStyle {
  /** Height of capitals. */
  readonly lettering: number;
  /** Height of a row of one line. */
  readonly pitch: number;
}
/** Widths of the lines of a table; mm, 0 for none. */
export interface TablePens {
  /** Around each strip. */
  readonly frame: number;
  /** Between heading and rows. */
  readonly heading: number;
  /** Between rows, and between columns. */
  readonly rows: number;
  readonly columns: number;
}
/** What becomes of a text that is wider than its column. */
export const overflows = ['wrap', 'shrink', 'cut'] as const;
export type Overflow = (typeof overflows)[number];
export const uprights = ['top', 'middle', 'bottom'] as const;
export type Upright = (typeof uprights)[number];
/** How texts of one column stand in a list; what is absent is as usual. */
export interface ColumnText {
  /** Across; as the column of the bill says where absent. */
  readonly align?: Alignment;
  /** Of its heading; that of its texts where absent. */
  readonly headingAlign?: Alignment;
  /** In rows that are higher than it takes; in the middle where absent. */
  readonly upright?: Upright;
  /** Wrapped where absent, part numbers never inside. */
  readonly overflow?: Overflow;
}
/** How wide a column is to be: so many mm, so many figures, or its share of what the others leave. */
export type ColumnWidth = { readonly width: number } | { readonly characters: number } | { readonly share: number };
/** Between a picture and the lines around it; mm. */
export const PICTURE_MARGIN = 0.6;
/** Between lines of one row, in heights of capitals. */
export const LINE_PITCH = 1.7;
/** Least height of capitals to which a text is shrunk; mm. */
export const LEAST_SHRUNK = 1.8;
export const PICTURE_RANGE = [4, 60] as const,
  PADDING_RANGE = [0, 10] as const,
  INDENT_RANGE = [0, 20] as const,
  TOTAL_WIDTH_RANGE = [20, 2000] as const,
  CHARACTERS_RANGE = [1, 200] as const,
  SHARE_RANGE = [0.1, 100] as const;

/** Wide and narrow lines of ISO 128-2. */
export const usualPens: TablePens = { frame: 0.5, heading: 0.5, rows: 0.25, columns: 0.25 };
/** mm */
export const PEN_RANGE = [0, 2] as const;

/** How one table is to be; what is absent is chosen by itself. */
export interface TableLook {
  /** Height of capitals of rows; mm. */
  readonly lettering?: number;
  /** Of the heading and the title; that of the rows where absent. */
  readonly headingLettering?: number;
  /** From row to row where each is one line; mm. */
  readonly pitch?: number;
  /** Above the heading, over the whole width. */
  readonly title?: string;
  /** Where the heading stands; at the end where the table hangs where absent. */
  readonly heading?: TableHeading;
  /** Which way rows follow one another; away from where the table hangs where absent. */
  readonly rows?: RowDirection;
  /** By index of the column; the others fit what stands in them. */
  readonly widths?: ReadonlyMap<number, ColumnWidth>;
  /** See there; by index of the column. */
  readonly texts?: ReadonlyMap<number, ColumnText>;
  /** Between texts and the lines beside them; mm. */
  readonly padding?: number;
  /** Whether rows are lettered bold, and whether heading and title are lettered plain. */
  readonly boldRows?: true;
  /** See there. */
  readonly plainHeading?: true;
  /** Whether rows, and heading and title, are lettered in the narrow family. */
  readonly narrowRows?: true;
  /** See there. */
  readonly narrowHeading?: true;
  /** Edge of the pictures of parts; mm. Without pictures where absent. */
  readonly pictures?: number;
  /** By which texts are indented for each level of the structure; mm. */
  readonly indent?: number;
  /** Of the whole list, each strip of it; as wide as it takes, or as what it stands on, where absent. mm */
  readonly totalWidth?: number;
  /** Broken into so many strips of about one height. */
  readonly strips?: number;
  /** Most lines of a strip. */
  readonly stripLines?: number;
  /** Of its lines; usual ones where absent. */
  readonly pens?: TablePens;
  /** Whether it goes on with the lines of another one, and whether another one goes on with its lines. */
  readonly goesOnFrom?: boolean;
  readonly goesOn?: boolean;
}
export const tableHeadings = ['top', 'bottom', 'none'] as const;
export type TableHeading = (typeof tableHeadings)[number];
export const rowDirections = ['down', 'up'] as const;
export type RowDirection = (typeof rowDirections)[number];
/** Heights of capitals in a table, and of its rows; mm. */
export const LETTERING_RANGE = [1, 14] as const,
  PITCH_RANGE = [1.5, 50] as const,
  WIDTH_RANGE = [3, 1000] as const;

/** Tried from the roomiest on until a list fits. ISO 3098 heights. */
export const tableStyles: readonly TableStyle[] = [
  { lettering: 3.5, pitch: 7 },
  { lettering: 2.5, pitch: 6 },
  { lettering: 2.5, pitch: 5 },
  { lettering: 2.5, pitch: 4.2 },
  { lettering: 1.8, pitch: 3.4 },
];

/** Where the table hangs: the corner of this room, and which way it grows from there. */
export interface TableRoom {
  /** Everything the table may cover; strips stand next to each other in it. */
  readonly box: Box2;
  readonly grows: 'up' | 'down';
  readonly side: 'left' | 'right';
  /** A single strip is widened to this, e.g. to the title block's width; 0 for as narrow as fits. */
  readonly fullWidth: number;
  /** Share of the room's width that strips may take before smaller lettering is tried. */
  readonly share: number;
}

/** A text as it stands in its cell. */
export interface CellText {
  readonly lines: readonly string[];
  /** Height of its capitals; mm. */
  readonly lettering: number;
  /** By which it is moved in; mm. */
  readonly indent: number;
  /** Whether something of it is missing. */
  readonly isCut: boolean;
}

/** One of the pieces into which a long table is broken. */
export interface Strip {
  readonly box: Box2;
  /** First row and the one after the last. */
  readonly from: number;
  readonly to: number;
}
export interface MeasuredTable {
  readonly style: TableStyle;
  readonly pens: TablePens;
  /** Height of capitals of heading and title; mm. */
  readonly headingLettering: number;
  readonly heading: TableHeading;
  readonly rows: RowDirection;
  /** Lines of the title, and of that of further strips; nothing without one. */
  readonly titles: readonly (readonly string[])[];
  /** 0 without a title; mm. */
  readonly titleHeight: number;
  readonly widths: readonly number[];
  /** Texts per row and column, broken into lines. */
  readonly cells: readonly (readonly CellText[])[];
  /** Between texts and the lines beside them; mm. */
  readonly padding: number;
  readonly faces: { readonly rows: Face; readonly heading: Face };
  /** Edge of pictures; mm, 0 without. */
  readonly pictures: number;
  readonly texts?: ReadonlyMap<number, ColumnText>;
  readonly rowHeights: readonly number[];
  readonly headingLines: readonly (readonly string[])[];
  readonly headingHeight: number;
  /** Whether another table goes on with its lines; that is said at the end to which it grows. */
  readonly goesOn: boolean;
  readonly grows: 'up' | 'down';
  readonly strips: readonly Strip[];
  /** Around all strips. */
  readonly box: Box2;
  /** False where the strips do not fit the room even with the smallest lettering; every row is there all the same. */
  readonly fits: boolean;
}

/** How a row is lettered. */
export const faceOf = ({ bold }: TableContent, row: number, usual: Face = 'regular'): Face =>
  bold?.has(row) ? boldOf(usual) : usual;
export const boldOf = (face: Face): Face => (face === 'narrow' || face === 'narrowBold' ? 'narrowBold' : 'bold');
