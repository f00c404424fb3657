import {
  boxMark,
  lineMark,
  textMark,
  type Alignment,
  type Mark,
  type MarkSource,
  type Weight,
} from '../marks/index.ts';
import {
  bandsOf,
  ENDING,
  LINE_PITCH,
  PAD,
  weightOf,
  type Band,
  type MeasuredTable,
  type Strip,
  type TableContent,
} from './tables.ts';

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
  const { headingLettering } = table;
  const isFoot = table.heading === 'bottom';
  const across = (
    source: MarkSource,
    lines: readonly string[],
    { top, bottom }: Band,
    x: number,
    lettering: number,
    side: Alignment,
  ) =>
    lines.forEach((text, line) => {
      const middle = (top + bottom) / 2 + (line - (lines.length - 1) / 2) * lettering * LINE_PITCH;
      marks.push(textMark(source, text, x, middle, lettering, side, 'bold'));
    });
  if (table.titles.length > 0) {
    across(own, table.titles[number === 0 ? 0 : 1], title, (x0 + x1) / 2, headingLettering, 'centre');
    level(isFoot ? title.top : title.bottom, pens.heading);
  }
  if (table.heading !== 'none') {
    cells(marks, own, table, table.headingLines, content.alignments, x0, heading, 'bold', headingLettering);
    level(isFoot ? heading.top : heading.bottom, pens.heading);
  }
  rows.forEach(({ row, ...band }, at) => {
    if (content.across?.has(row)) {
      across(sourceOf(row), table.lines[row][0], band, x0 + PAD, table.style.lettering, 'left');
    } else
      cells(
        marks,
        sourceOf(row),
        table,
        table.lines[row],
        content.alignments,
        x0,
        band,
        weightOf(content, row),
        table.style.lettering,
      );
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

function cells(
  marks: Mark[],
  source: MarkSource,
  table: MeasuredTable,
  texts: readonly (readonly string[])[],
  alignments: readonly Alignment[],
  x0: number,
  { top, bottom }: Band,
  weight: Weight,
  lettering: number,
): void {
  let x = x0;
  texts.forEach((lines, column) => {
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
