import { boxMark, lineMark, textMark, type Alignment, type Mark, type MarkSource, type Face } from '../marks/index.ts';
import { textMarks } from './fractions.ts';
import { sum } from './sum.ts';
import {
  boldOf,
  faceOf,
  LINE_PITCH,
  type MeasuredTable,
  type Strip,
  type TableContent,
  type Upright,
} from './model.ts';
import { bandsOf, ENDING, type Band } from './tables.ts';

const GOES_ON = 'Continued on a further sheet';
const ENDING_LETTERING = 2.5; // mm

/**
 * The marks of a measured table.
 * @param sourceOf names what a row belongs to (-1: the heading and the lines)
 */
export function drawTable(table: MeasuredTable, content: TableContent, sourceOf: (row: number) => MarkSource): Mark[] {
  return table.strips.flatMap((strip, at) => drawStrip(table, content, strip, at, sourceOf));
}

function drawStrip(
  table: MeasuredTable,
  content: TableContent,
  strip: Strip,
  number: number,
  sourceOf: (row: number) => MarkSource,
): Mark[] {
  const marks: Mark[] = [];
  const own = sourceOf(-1);
  const [x0, , x1] = strip.box;
  const { pens } = table;
  const level = (y: number, pen: number) => {
    if (pen > 0) marks.push(lineMark(own, [x0, y], [x1, y], pen));
  };
  const { title, heading, rows } = bandsOf(table, strip);
  const { headingLettering, faces, texts } = table;
  const alignOf = (column: number) => texts?.get(column)?.align ?? content.alignments[column];
  const isFoot = table.heading === 'bottom';
  const across = (
    source: MarkSource,
    lines: readonly string[],
    { top, bottom }: Band,
    x: number,
    lettering: number,
    side: Alignment,
    face: Face,
  ) =>
    lines.forEach((text, line) => {
      const middle = (top + bottom) / 2 + (line - (lines.length - 1) / 2) * lettering * LINE_PITCH;
      marks.push(textMark(source, text, x, middle, lettering, side, face));
    });
  if (table.titles.length > 0) {
    across(own, table.titles[number === 0 ? 0 : 1], title, (x0 + x1) / 2, headingLettering, 'centre', faces.heading);
    level(isFoot ? title.top : title.bottom, pens.heading);
  }
  if (table.heading !== 'none') {
    cells(marks, own, table, x0, heading, (column) => ({
      lines: table.headingLines[column],
      lettering: headingLettering,
      indent: 0,
      face: faces.heading,
      align: texts?.get(column)?.headingAlign ?? alignOf(column),
      upright: 'middle',
    }));
    level(isFoot ? heading.top : heading.bottom, pens.heading);
  }
  rows.forEach(({ row, ...band }, at) => {
    const first = marks.length;
    if (content.across?.has(row)) {
      across(
        sourceOf(row),
        table.cells[row][0].lines,
        band,
        x0 + table.padding,
        table.style.lettering,
        'left',
        boldOf(faces.rows),
      );
    } else
      cells(marks, sourceOf(row), table, x0, band, (column) => ({
        ...table.cells[row][column],
        face: faceOf(content, row, faces.rows),
        align: alignOf(column),
        upright: texts?.get(column)?.upright ?? 'middle',
      }));
    if (content.struck?.has(row)) strike(marks, first);
    const picture = content.pictures?.of.get(row);
    if (picture) {
      const { column } = content.pictures!;
      const left = x0 + sum(table.widths.slice(0, column)) + (table.widths[column] - table.pictures) / 2;
      const top = (band.top + band.bottom - table.pictures) / 2;
      marks.push({
        kind: 'picture',
        source: sourceOf(row),
        ...picture,
        box: [left, top, left + table.pictures, top + table.pictures],
      });
    }
    if (at + 1 < rows.length) level(band.bottom, pens.rows);
  });
  // Upright lines beside everything but the title and headings that stand across.
  const upright = [
    ...(table.heading === 'none' ? [] : [heading]),
    ...rows.filter(({ row }) => !content.across?.has(row)),
  ];
  let x = x0;
  for (const width of pens.columns > 0 ? table.widths.slice(0, -1) : []) {
    x += width;
    for (const { top, bottom } of joined(upright)) marks.push(lineMark(own, [x, top], [x, bottom], pens.columns));
  }
  if (pens.frame > 0) marks.push(boxMark(own, strip.box, pens.frame));
  if (table.goesOn && number === table.strips.length - 1) {
    const y = table.grows === 'up' ? strip.box[1] - ENDING / 2 : strip.box[3] + ENDING / 2;
    marks.push(textMark(own, GOES_ON, x1, y, Math.min(ENDING_LETTERING, table.style.lettering), 'right'));
  }
  return marks;
}

/** A line through every text of a row that is struck out. @param from its first mark */
function strike(marks: Mark[], from: number): void {
  for (const mark of marks.slice(from)) {
    if (mark.kind !== 'text') continue;
    const [x, y] = mark.at;
    const middle = y - mark.height / 2;
    marks.push(lineMark(mark.source, [x, middle], [x + mark.width, middle], mark.height / 10));
  }
}

/** Bands that touch as one, from top to bottom. */
function joined(bands: readonly Band[]): Band[] {
  const found: Band[] = [];
  for (const { top, bottom } of bands.toSorted((a, b) => a.top - b.top)) {
    const last = found.at(-1);
    if (last && top - last.bottom < 1e-6) found[found.length - 1] = { top: last.top, bottom };
    else found.push({ top, bottom });
  }
  return found;
}

/** A text in its cell. */
interface Lettered {
  readonly lines: readonly string[];
  readonly lettering: number;
  /** mm */
  readonly indent: number;
  readonly face: Face;
  readonly align: Alignment;
  readonly upright: Upright;
}

function cells(
  marks: Mark[],
  source: MarkSource,
  { widths, padding, style }: MeasuredTable,
  x0: number,
  { top, bottom }: Band,
  cellOf: (column: number) => Lettered,
): void {
  let x = x0;
  widths.forEach((width, column) => {
    const { lines, lettering, indent, face, align, upright } = cellOf(column);
    const at = align === 'left' ? x + padding + indent : align === 'right' ? x + width - padding : x + width / 2;
    const pitch = lettering * LINE_PITCH;
    // As far from the line above or below as in a row of one line.
    const first = Math.max(style.pitch, lettering) / 2;
    const middle =
      upright === 'top'
        ? top + first + ((lines.length - 1) / 2) * pitch
        : upright === 'bottom'
          ? bottom - first - ((lines.length - 1) / 2) * pitch
          : (top + bottom) / 2;
    lines.forEach((text, line) => {
      const y = middle + (line - (lines.length - 1) / 2) * pitch;
      if (text) marks.push(...textMarks(source, text, at, y, lettering, align, face));
    });
    x += width;
  });
}
