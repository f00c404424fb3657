import { groupBy, type RowIndex } from '../assembly/index.ts';
import { formatValue, headingOf, type Column } from '../columns/index.ts';
import type { Bill, Row } from './records.ts';

/** One line as it stands in a list: a row of the bill, the heading of a group, a subtotal, or the total. */
export interface PrintedLine {
  readonly kind: 'row' | 'heading' | 'subtotal' | 'total';
  /** Index of the row; −1 for the others. */
  readonly row: RowIndex;
  /** Of groups: 1 for the outermost. */
  readonly level: number;
  /** Title of a heading, or what is summed. */
  readonly title: string;
  /** Rows that are summed. */
  readonly from: number;
  readonly to: number;
}

/** The lines of a list in order, with headings, subtotals and the total that its columns ask for. */
export function printedLines(bill: Pick<Bill, 'rows' | 'sections'>, columns: readonly Column[]): PrintedLine[] {
  const starts = groupBy(bill.sections, ({ at }) => at),
    ends = groupBy(
      bill.sections.filter(({ subtotal }) => subtotal),
      ({ to }) => to,
    );
  const summed = columns.some(({ total, hidden }) => total && !hidden);
  const lines: PrintedLine[] = [];
  for (let at = 0; at <= bill.rows.length; at++) {
    for (const { level, title, at: from, to } of summed ? (ends.get(at) ?? []).toReversed() : [])
      lines.push({ kind: 'subtotal', row: -1, level, title, from, to });
    for (const { level, title, at: from, to } of starts.get(at) ?? [])
      lines.push({ kind: 'heading', row: -1, level, title: title || 'not given', from, to });
    if (at < bill.rows.length) lines.push({ kind: 'row', row: at, level: 0, title: '', from: at, to: at + 1 });
  }
  if (summed) lines.push({ kind: 'total', row: -1, level: 0, title: 'Total', from: 0, to: bill.rows.length });
  return lines;
}

/** Columns that a list on paper or in a file shows; pictures only stand on screen. */
export const printedColumns = (columns: readonly Column[]): Column[] =>
  columns.filter(({ hidden, source }) => !hidden && source !== 'picture');

/** The texts of a printed line, one per column. A merged line whose parts differ says how many values there are. */
export function printedTexts(
  bill: Bill,
  columns: readonly Column[],
  line: PrintedLine,
  differs: (text: string, values: number) => string = (text) => text,
): string[] {
  if (line.kind === 'row') {
    return columns.map((column) => {
      const { text, differing } = bill.cell(bill.rows[line.row], column);
      return differing > 1 ? differs(text, differing) : text;
    });
  }
  // The title stands in the first column that is wide enough for words and is not summed.
  const words = Math.max(
    0,
    columns.findIndex(({ source, total }) => !total && source !== 'item' && source !== 'quantity' && source !== 'unit'),
  );
  return columns.map((column, at) =>
    line.kind !== 'heading' && column.total
      ? (bill.sum(column, line.from, line.to)?.text ?? '')
      : at === words
        ? line.kind === 'subtotal'
          ? `Sum ${line.title}`
          : line.title
        : '',
  );
}

/** What a drafter calls a line: its name as this bill has it, else its number. */
export function rowLabel(bill: Pick<Bill, 'values'>, row: Row): string {
  const text = (source: 'name' | 'partNumber') => formatValue(bill.values(row, source)[0] ?? null);
  return text('name') || text('partNumber') || '(no name)';
}

export const printedHeadings = (columns: readonly Column[]): string[] => columns.map(headingOf);
