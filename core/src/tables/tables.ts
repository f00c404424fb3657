import type { Box2 } from '../geometry/index.ts';
import {
  lineMark,
  boxMark,
  measureText,
  textMark,
  wrapText,
  type Alignment,
  type Mark,
  type MarkSource,
  type Weight,
} from '../marks/index.ts';

/** What a table holds, as text. */
export interface TableContent {
  readonly headings: readonly string[];
  readonly alignments: readonly Alignment[];
  /** One list of texts per row, as long as `headings`. */
  readonly rows: readonly (readonly string[])[];
  /** Rows that are lettered bold: headings of groups and sums. */
  readonly bold?: ReadonlySet<number>;
}

/** Sizes in mm. */
export interface TableStyle {
  /** Height of capitals. */
  readonly lettering: number;
  /** Height of a row of one line. */
  readonly pitch: number;
}
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
  readonly widths: readonly number[];
  /** Lines of text per row and column. */
  readonly lines: readonly (readonly (readonly string[])[])[];
  readonly rowHeights: readonly number[];
  readonly headingLines: readonly (readonly string[])[];
  readonly headingHeight: number;
  readonly strips: readonly Strip[];
  /** Around all strips. */
  readonly box: Box2;
  /** False where the strips do not fit the room even with the smallest lettering; every row is there all the same. */
  readonly fits: boolean;
}

const USUAL_LETTERING = 2.5; // mm, least height on drawings that are to be copied (ISO 3098)
const PAD = 1.4; // mm between text and line, each side
const LINE_PITCH = 1.7; // of the lettering height, between lines of one row
const STRIP_GAP = 3; // mm
const THICK = 0.5;
const THIN = 0.25;

/** Measures a table for a room: lettering, column widths so that every row is one line where it can be, and strips. */
export function layOutTable(content: TableContent, room: TableRoom): MeasuredTable {
  const tries = tableStyles.map((style) => layOutWith(content, style, room));
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

function layOutWith(content: TableContent, style: TableStyle, room: TableRoom): MeasuredTable {
  const roomWidth = room.box[2] - room.box[0];
  const widths = fitWidths(content, style, room.fullWidth || roomWidth);
  const wrapped = (texts: readonly string[], weight: Weight) =>
    texts.map((text, column) => wrapText(text, style.lettering, widths[column] - 2 * PAD + 1e-6, weight));
  const heightOf = (cells: readonly (readonly string[])[]) =>
    style.pitch + (Math.max(...cells.map((cell) => cell.length)) - 1) * style.lettering * LINE_PITCH;
  const lines = content.rows.map((row, at) => wrapped(row, weightOf(content, at)));
  const rowHeights = lines.map(heightOf);
  const headingLines = wrapped(content.headings, 'bold');
  const headingHeight = heightOf(headingLines) + 1;
  const runs = breakIntoStrips(rowHeights, room.box[3] - room.box[1] - headingHeight);
  const own = widths.reduce((sum, width) => sum + width, 0);
  if (runs.length === 1 && room.fullWidth > own) stretch(widths, content.alignments, room.fullWidth - own);
  const width = widths.reduce((sum, one) => sum + one, 0);
  const strips = runs.map(({ from, to, height }, at): Strip => {
    const away = at * (width + STRIP_GAP);
    const x0 = room.side === 'right' ? room.box[2] - away - width : room.box[0] + away;
    const total = height + headingHeight;
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
  return { style, widths, lines, rowHeights, headingLines, headingHeight, strips, box, fits };
}

const weightOf = ({ bold }: TableContent, row: number): Weight => (bold?.has(row) ? 'bold' : 'regular');

/**
 * Each column as wide as its widest text; where all of them together are too wide, those with most to give wrap between
 * words, and only when that is not enough inside of them.
 */
function fitWidths(content: TableContent, style: TableStyle, most: number): number[] {
  const { headings, rows, alignments } = content;
  const widthOf = (text: string, weight: Weight) => measureText(text, style.lettering, weight).width + 2 * PAD;
  const widths = headings.map((heading, column) =>
    rows.reduce(
      (widest, row, at) => Math.max(widest, widthOf(row[column], weightOf(content, at))),
      widthOf(heading, 'bold'),
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
      widestPiece(heading.split(/\s+/), 'bold'),
    ),
  );
  const least = 6 * style.lettering + 2 * PAD;
  giveWay(
    widths,
    whole.map((width) => Math.max(least, width)),
    most,
  );
  giveWay(
    widths,
    whole.map((width) => Math.min(least, width)),
    most,
  );
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

/** Gives spare width to the text columns, in proportion to what they have. */
function stretch(widths: number[], alignments: readonly Alignment[], spare: number): void {
  const flexible = widths.map((_, at) => at).filter((at) => alignments[at] === 'left');
  const takers = flexible.length > 0 ? flexible : widths.map((_, at) => at);
  const total = sum(takers.map((at) => widths[at]));
  for (const at of takers) widths[at] += (spare * widths[at]) / total;
}

function breakIntoStrips(rowHeights: readonly number[], most: number): { from: number; to: number; height: number }[] {
  const strips: { from: number; to: number; height: number }[] = [];
  let from = 0,
    height = 0;
  rowHeights.forEach((row, at) => {
    if (at > from && height + row > most + 1e-6) {
      strips.push({ from, to: at, height });
      from = at;
      height = 0;
    }
    height += row;
  });
  strips.push({ from, to: rowHeights.length, height });
  return strips;
}

/**
 * The marks of a measured table. The heading stands at the anchored end: lowest where the table grows up, and the first
 * row above it.
 * @param sourceOf names what a row belongs to (-1: the heading and the lines)
 */
export function drawTable(
  table: MeasuredTable,
  content: TableContent,
  grows: 'up' | 'down',
  sourceOf: (row: number) => MarkSource,
): Mark[] {
  const marks: Mark[] = [];
  for (const strip of table.strips) {
    const [x0, , x1] = strip.box;
    let y = grows === 'up' ? strip.box[3] : strip.box[1];
    const band = (height: number): [number, number] => {
      const from = y;
      y = grows === 'up' ? y - height : y + height;
      return [Math.min(from, y), Math.max(from, y)];
    };
    const heading = band(table.headingHeight);
    drawCells(marks, sourceOf(-1), table, table.headingLines, content.alignments, x0, heading, 'bold');
    marks.push(lineMark(sourceOf(-1), [x0, y], [x1, y], THICK));
    for (let row = strip.from; row < strip.to; row++) {
      drawCells(
        marks,
        sourceOf(row),
        table,
        table.lines[row],
        content.alignments,
        x0,
        band(table.rowHeights[row]),
        weightOf(content, row),
      );
      if (row + 1 < strip.to) marks.push(lineMark(sourceOf(-1), [x0, y], [x1, y], THIN));
    }
    let x = x0;
    for (const width of table.widths.slice(0, -1)) {
      x += width;
      marks.push(lineMark(sourceOf(-1), [x, strip.box[1]], [x, strip.box[3]], THIN));
    }
    marks.push(boxMark(sourceOf(-1), strip.box, THICK));
  }
  return marks;
}

function drawCells(
  marks: Mark[],
  source: MarkSource,
  table: MeasuredTable,
  cells: readonly (readonly string[])[],
  alignments: readonly Alignment[],
  x0: number,
  [top, bottom]: [number, number],
  weight: 'regular' | 'bold',
): void {
  const { lettering } = table.style;
  let x = x0;
  cells.forEach((lines, column) => {
    const width = table.widths[column];
    const at =
      alignments[column] === 'left' ? x + PAD : alignments[column] === 'right' ? x + width - PAD : x + width / 2;
    lines.forEach((text, line) => {
      const middle = (top + bottom) / 2 + (line - (lines.length - 1) / 2) * lettering * LINE_PITCH;
      if (text) marks.push(textMark(source, text, at, middle, lettering, alignments[column], weight));
    });
    x += width;
  });
}
