import type { Box2 } from '../geometry/index.ts';
import { measureText, wrapText, type Alignment, type Weight } from '../marks/index.ts';

/** What a table holds, as text. */
export interface TableContent {
  readonly headings: readonly string[];
  readonly alignments: readonly Alignment[];
  /** One list of texts per row, as long as `headings`. */
  readonly rows: readonly (readonly string[])[];
  /** Rows that are lettered bold: headings of groups and sums. */
  readonly bold?: ReadonlySet<number>;
  /** Rows of which the first text stands across the whole table: headings of groups. Nothing ends with one. */
  readonly across?: ReadonlySet<number>;
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
  /** Widths in mm, by index of the column; the others fit what stands in them. */
  readonly widths?: ReadonlyMap<number, number>;
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
  /** Lines of text per row and column. */
  readonly lines: readonly (readonly (readonly string[])[])[];
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

const USUAL_LETTERING = 2.5; // mm, least height on drawings that are to be copied (ISO 3098)
export const PAD = 1.4; // mm between text and line, each side
export const LINE_PITCH = 1.7; // of the lettering height, between lines of one row
const STRIP_GAP = 3; // mm
/** Stands where a table without title goes on with the lines of another, and where another goes on with its own. */
const CONTINUED = 'Continued';
/** Room for that at the end of a table; mm. */
export const ENDING = 4.5;
/** Row pitches in heights of capitals, where only the lettering is said: the roomier one where that takes no more strips. */
const PITCHES = [2, 1.68] as const;
/** A last strip of fewer lines than this looks forgotten: then all of them become about equally high. */
const LEAST_LINES = 3;

/**
 * Measures a table for a room: lettering, column widths so that every row is one line where it can be, and strips.
 * Lettering that is said stays, whatever the room.
 */
export function layOutTable(content: TableContent, room: TableRoom, look: TableLook = {}): MeasuredTable {
  const { lettering, pitch } = look;
  const styles =
    lettering !== undefined
      ? (pitch === undefined ? PITCHES.map((share) => share * lettering) : [pitch]).map((one) => ({
          lettering,
          pitch: one,
        }))
      : tableStyles.map((style) => (pitch === undefined ? style : { ...style, pitch }));
  const tries = styles.map((style) => layOutWith(content, style, room, look));
  const width = ({ box }: MeasuredTable) => box[2] - box[0];
  const modest = tries.filter((made) => made.fits && width(made) <= (room.box[2] - room.box[0]) * room.share);
  // A list in one piece reads better than larger lettering in two, as long as the lettering is usual.
  const usual = modest.filter(({ style }) => style.lettering >= USUAL_LETTERING);
  const fewest = Math.min(...usual.map(({ strips }) => strips.length));
  const inOnePiece = usual.filter(({ strips }) => strips.length === fewest);
  // … and a row that is one line reads better than a larger one that wraps.
  return (
    inOnePiece.find(({ lines }) => lines.every((cells) => cells.every((cell) => cell.length <= 1))) ??
    inOnePiece[0] ??
    modest[0] ??
    tries.find(({ fits }) => fits) ??
    tries[tries.length - 1]
  );
}

function layOutWith(content: TableContent, style: TableStyle, room: TableRoom, look: TableLook): MeasuredTable {
  const roomWidth = room.box[2] - room.box[0];
  const { headingLettering = style.lettering, title = '', widths: said = new Map() } = look;
  const { heading = room.grows === 'up' ? 'bottom' : 'top', rows = room.grows } = look;
  const widths = fitWidths(content, style, headingLettering, room.fullWidth || roomWidth, said);
  const wrapped = (texts: readonly string[], weight: Weight, size: number) =>
    texts.map((text, column) => wrapText(text, size, widths[column] - 2 * PAD + 1e-6, weight));
  const heightOf = (cells: readonly (readonly string[])[], size: number) =>
    Math.max(style.pitch, size * LEAST_PITCH) + (Math.max(...cells.map((cell) => cell.length)) - 1) * size * LINE_PITCH;
  const lines = content.rows.map((row, at) =>
    content.across?.has(at)
      ? acrossCells(row, style.lettering, sum(widths))
      : wrapped(row, weightOf(content, at), style.lettering),
  );
  const rowHeights = lines.map((cells) => heightOf(cells, style.lettering));
  const headingLines = heading === 'none' ? [] : wrapped(content.headings, 'bold', headingLettering);
  const headingHeight = heading === 'none' ? 0 : heightOf(headingLines, headingLettering) + 1;
  const further = title === '' ? CONTINUED : `${title} (continued)`;
  const titles =
    title === '' && !look.goesOnFrom
      ? []
      : [look.goesOnFrom ? further : title, further].map((text) => acrossLines(text, headingLettering, sum(widths)));
  const titleHeight = titles.length === 0 ? 0 : heightOf(titles, headingLettering) + 1;
  const runs = breakIntoStrips(
    rowHeights,
    content.across ?? new Set(),
    room.box[3] - room.box[1] - headingHeight - titleHeight - (look.goesOn ? ENDING : 0),
    look,
  );
  const own = widths.reduce((sum, width) => sum + width, 0);
  if (runs.length === 1 && room.fullWidth > own) stretch(widths, content.alignments, room.fullWidth - own, said);
  const width = widths.reduce((sum, one) => sum + one, 0);
  const strips = runs.map(({ from, to, height }, at): Strip => {
    const away = at * (width + STRIP_GAP);
    const x0 = room.side === 'right' ? room.box[2] - away - width : room.box[0] + away;
    const total = height + headingHeight + titleHeight;
    return {
      from,
      to,
      box:
        room.grows === 'up'
          ? [x0, room.box[3] - total, x0 + width, room.box[3]]
          : [x0, room.box[1], x0 + width, room.box[1] + total],
    };
  });
  const box = strips.reduce<Box2>(
    (all, { box: b }) => [
      Math.min(all[0], b[0]),
      Math.min(all[1], b[1]),
      Math.max(all[2], b[2]),
      Math.max(all[3], b[3]),
    ],
    [Infinity, Infinity, -Infinity, -Infinity],
  );
  const fits =
    box[0] >= room.box[0] - 1e-6 &&
    box[1] >= room.box[1] - 1e-6 &&
    box[2] <= room.box[2] + 1e-6 &&
    box[3] <= room.box[3] + 1e-6;
  const at = { headingLettering, heading, rows, titles, titleHeight, goesOn: look.goesOn ?? false, grows: room.grows };
  const { pens = usualPens } = look;
  return { style, pens, ...at, widths, lines, rowHeights, headingLines, headingHeight, strips, box, fits };
}

/** Rows are at least so many heights of capitals high. */
const LEAST_PITCH = 1.3;

const acrossLines = (text: string, lettering: number, width: number): string[] =>
  wrapText(text, lettering, width - 2 * PAD + 1e-6, 'bold');

/** The heading of a group: all that it says in one cell as wide as the list, whichever column it stood in. */
const acrossCells = (row: readonly string[], lettering: number, width: number): string[][] => {
  const lines = acrossLines(row.filter(Boolean).join('  '), lettering, width);
  return row.map((_, at) => (at === 0 ? lines : []));
};

export const weightOf = ({ bold }: TableContent, row: number): Weight => (bold?.has(row) ? 'bold' : 'regular');

/**
 * Each column as wide as its widest text, or as is said; where all of them together are too wide, those of the others with
 * most to give wrap between words, and only when that is not enough inside of them.
 */
function fitWidths(
  content: TableContent,
  style: TableStyle,
  headingLettering: number,
  most: number,
  said: ReadonlyMap<number, number>,
): number[] {
  const { headings, alignments } = content;
  const rows = content.rows.map((row, at) => (content.across?.has(at) ? row.map(() => '') : row));
  const headingWidth = (text: string) => measureText(text, headingLettering, 'bold').width + 2 * PAD;
  const widthOf = (text: string, weight: Weight) => measureText(text, style.lettering, weight).width + 2 * PAD;
  const fixed = (widths: number[]) => widths.map((width, column) => said.get(column) ?? width);
  const widths = fixed(
    headings.map((heading, column) =>
      rows.reduce(
        (widest, row, at) => Math.max(widest, widthOf(row[column], weightOf(content, at))),
        headingWidth(heading),
      ),
    ),
  );
  if (sum(widths) <= most) return widths;
  // What must stay together: words, and in columns of numbers the number with its unit.
  const pieces = (text: string, column: number) => (alignments[column] === 'right' ? [text] : text.split(/\s+/));
  const widestPiece = (texts: readonly string[], weight: Weight) =>
    texts.reduce((widest, text) => Math.max(widest, widthOf(text, weight)), 0);
  const whole = headings.map((heading, column) =>
    rows.reduce(
      (widest, row, at) => Math.max(widest, widestPiece(pieces(row[column], column), weightOf(content, at))),
      Math.max(...heading.split(/\s+/).map(headingWidth)),
    ),
  );
  const least = 6 * style.lettering + 2 * PAD;
  // A width that is said is not taken from.
  giveWay(widths, fixed(whole.map((width) => Math.max(least, width))), most);
  giveWay(widths, fixed(whole.map((width) => Math.min(least, width))), most);
  return widths;
}

/** Takes from the columns that have most above their least, until they are together as wide as they may be. */
function giveWay(widths: number[], least: readonly number[], most: number): void {
  for (let excess = sum(widths) - most; excess > 1e-6; excess = sum(widths) - most) {
    const spare = widths.map((width, at) => width - least[at]);
    const richest = spare.indexOf(Math.max(...spare));
    if (spare[richest] <= 1e-6) return;
    const second = Math.max(...spare.filter((_, at) => at !== richest), 0);
    const gives = second < spare[richest] - 1e-6 ? spare[richest] - second : 1;
    widths[richest] -= Math.min(excess, gives, spare[richest]);
  }
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

/** Gives spare width to the text columns whose width is not said, in proportion to what they have. */
function stretch(
  widths: number[],
  alignments: readonly Alignment[],
  spare: number,
  said: ReadonlyMap<number, number>,
): void {
  const free = widths.map((_, at) => at).filter((at) => !said.has(at));
  const flexible = free.filter((at) => alignments[at] === 'left');
  const takers = flexible.length > 0 ? flexible : free;
  const total = sum(takers.map((at) => widths[at]));
  for (const at of takers) widths[at] += (spare * widths[at]) / total;
}

interface Run {
  readonly from: number;
  readonly to: number;
  readonly height: number;
}

/**
 * Rows in runs that are no higher than they may be: as few as it takes, or so many of about one height. A run never ends
 * with the heading of a group.
 */
function breakIntoStrips(
  rowHeights: readonly number[],
  across: ReadonlySet<number>,
  most: number,
  { strips: wanted = 1, stripLines = Infinity }: TableLook,
): Run[] {
  const within = (height: number) => runsWithin(rowHeights, across, Math.min(height, most), stripLines);
  const filled = within(most);
  const last = filled[filled.length - 1];
  if (wanted <= 1 && (filled.length === 1 || last.to - last.from >= LEAST_LINES || stripLines < Infinity))
    return filled;
  const count = Math.max(wanted, filled.length);
  // The least height that does not take more: between that of one row and of all, found by halving.
  let low = 0,
    high = sum(rowHeights);
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (within(middle).length <= count) high = middle;
    else low = middle;
  }
  return within(high);
}

function runsWithin(
  rowHeights: readonly number[],
  across: ReadonlySet<number>,
  most: number,
  mostLines: number,
): Run[] {
  const runs: Run[] = [];
  let from = 0;
  const end = (to: number) => {
    runs.push({ from, to, height: sum(rowHeights.slice(from, to)) });
    from = to;
  };
  let height = 0;
  for (let at = 0; at < rowHeights.length; at++) {
    if (at > from && (height + rowHeights[at] > most + 1e-6 || at - from >= mostLines)) {
      let to = at;
      while (to - 1 > from && across.has(to - 1)) to--;
      end(to);
      height = sum(rowHeights.slice(from, at));
    }
    height += rowHeights[at];
  }
  end(rowHeights.length);
  return runs;
}

/** Where a band of a table lies on paper; mm. */
export interface Band {
  readonly top: number;
  readonly bottom: number;
}

/** Where title, heading and rows of a strip lie. */
export function bandsOf(
  { titleHeight, heading, headingHeight, rows, rowHeights }: MeasuredTable,
  { box, from, to }: Strip,
): { readonly title: Band; readonly heading: Band; readonly rows: readonly (Band & { readonly row: number })[] } {
  let y = box[1];
  const take = (height: number): Band => ({ top: y, bottom: (y += height) });
  // The title stands beyond the heading.
  const head = heading === 'bottom' ? null : { title: take(titleHeight), heading: take(headingHeight) };
  const order = Array.from({ length: to - from }, (_, at) => (rows === 'down' ? from + at : to - 1 - at));
  const bands = order.map((row) => ({ row, ...take(rowHeights[row]) }));
  const foot = head ? null : { heading: take(headingHeight), title: take(titleHeight) };
  return { ...(head ?? foot!), rows: bands };
}
