import type { RowIndex } from '../../assembly/index.ts';
import type { Box2, Vec2 } from '../../geometry/index.ts';
import { bandsOf } from '../../tables/index.ts';
import type { LaidTable } from './listsOnSheet.ts';

/** A cell of a list on paper that shows a line of the bill, or of a table that is typed by hand. */
export interface ListCell {
  /** Id of the list. */
  readonly list: string;
  /** Which line of those that the list shows; −1 for the heading of a table that is typed. */
  readonly line: number;
  /** Row of the bill; −1 in a table that is typed. */
  readonly row: RowIndex;
  /** Which of the columns that the list shows. */
  readonly column: number;
  readonly box: Box2;
}

/** Where columns of a list begin and end; mm from the left side of a strip. */
function columnStarts({ measured: { widths } }: LaidTable): number[] {
  const starts = [0];
  for (const width of widths) starts.push(starts[starts.length - 1] + width);
  return starts;
}

/** A cell by its line and column; null where that line is a heading or a sum, or there is none. */
export function listCell(laid: LaidTable, line: number, column: number): ListCell | null {
  const row = laid.billRows[line] ?? -1;
  if (column < 0 || column >= laid.columns.length) return null;
  const { typed } = laid.table;
  if (typed && line === -1) {
    const box = listHeadings(laid)[column];
    return box ? { list: laid.table.id, line, row: -1, column, box } : null;
  }
  if (row < 0 && !typed) return null;
  const strip = laid.measured.strips.find(({ from, to }) => line >= from && line < to);
  const band = strip && bandsOf(laid.measured, strip).rows.find((one) => one.row === line);
  if (!strip || !band) return null;
  const starts = columnStarts(laid);
  const [x0] = strip.box;
  return {
    list: laid.table.id,
    line,
    row,
    column,
    box: [x0 + starts[column], band.top, x0 + starts[column + 1], band.bottom],
  };
}

/** The cell at a point of the paper. */
export function listCellAt(lists: readonly LaidTable[], [x, y]: Vec2): ListCell | null {
  for (const laid of lists)
    for (const strip of laid.measured.strips) {
      if (x < strip.box[0] || x > strip.box[2] || y < strip.box[1] || y > strip.box[3]) continue;
      const band = bandsOf(laid.measured, strip).rows.find(({ top, bottom }) => y >= top && y < bottom);
      const column = columnStarts(laid).findLastIndex((start) => strip.box[0] + start <= x);
      if (band) return listCell(laid, band.row, column);
      const heading = listHeadings(laid).findIndex((box) => x >= box[0] && x < box[2] && y >= box[1] && y < box[3]);
      return laid.table.typed && heading >= 0 ? listCell(laid, -1, heading) : null;
    }
  return null;
}

/** The next cell of a list that shows a line: beside it, around the ends of lines, or above and below it. */
export function nextListCell(
  laid: LaidTable,
  { line, column }: ListCell,
  way: 'left' | 'right' | 'up' | 'down',
): ListCell | null {
  const columns = laid.columns.length;
  // Downwards on paper is towards the end of a list that reads downwards, else towards its beginning.
  const down = laid.measured.rows === 'down' ? 1 : -1;
  let [at, of] = [line, column];
  for (;;) {
    if (way === 'right' && ++of === columns) [at, of] = [at + down, 0];
    if (way === 'left' && --of < 0) [at, of] = [at - down, columns - 1];
    if (way === 'down') at += down;
    if (way === 'up') at -= down;
    if (at < 0 || at >= laid.billRows.length) return null;
    const cell = listCell(laid, at, of);
    if (cell) return cell;
  }
}

/** Where each heading of a list stands, in its first strip. */
export function listHeadings(laid: LaidTable): readonly Box2[] {
  const { measured } = laid;
  if (measured.heading === 'none' || measured.strips.length === 0) return [];
  const [strip] = measured.strips;
  const { heading } = bandsOf(measured, strip);
  const starts = columnStarts(laid);
  return laid.columns.map((_, at): Box2 => [
    strip.box[0] + starts[at],
    heading.top,
    strip.box[0] + starts[at + 1],
    heading.bottom,
  ]);
}

/**
 * Where a heading goes that is dropped at x: which of the columns it is then, and where the edge lies at which it comes to
 * stand; null where it stays.
 */
export function headingDrop(
  laid: LaidTable,
  from: number,
  x: number,
): { readonly to: number; readonly edge: number } | null {
  const boxes = listHeadings(laid);
  // Before how many of the others.
  const before = boxes.filter(([x0, , x1], at) => at !== from && (x0 + x1) / 2 < x).length;
  if (before === from) return null;
  return { to: before, edge: before < from ? boxes[before][0] : boxes[before][2] };
}
