import type { ComponentIndex } from '../assembly/index.ts';
import { hasUnitColumn, printedLines, printedTexts, type Bill, type PrintedLine } from '../bill/index.ts';
import {
  alignmentOf,
  headingOf,
  isNumberColumn,
  numberValue,
  spreadsheetValue,
  type Cell,
  type Column,
  type SpreadsheetValue,
} from '../columns/index.ts';

/** A bill as the cells of a spreadsheet. */
export interface BillTable {
  readonly columns: readonly {
    readonly heading: string;
    readonly align: 'left' | 'centre' | 'right';
    readonly isPicture: boolean;
    /** In characters. */ readonly width: number;
  }[];
  readonly lines: readonly TableLine[];
}
export interface TableLine {
  readonly kind: PrintedLine['kind'];
  /** Levels that it is indented by: 0 at the top. */
  readonly outline: number;
  /** Index of the component whose picture stands in the line; −1 for none. */
  readonly component: ComponentIndex;
  /** One per column; null where nothing stands. */
  readonly cells: readonly (SpreadsheetValue | null)[];
}

const WIDEST = 60,
  PICTURE_WIDTH = 9;

/**
 * The lines of a bill with typed cells: what is a number in the list is one here, in the unit and with the decimals
 * that it is shown with; every text is a text, also one that begins with = .
 */
export function billTable(bill: Bill, columns: readonly Column[]): BillTable {
  const shown = columns.filter(({ hidden }) => !hidden);
  const unitApart = hasUnitColumn(shown);
  const plainItems = bill.rows.every(({ item }) => /^[1-9]\d{0,14}$/.test(item));
  const typed = (column: Column, { value, text, differing, fault }: Cell): SpreadsheetValue | null => {
    if (fault !== undefined) return { kind: 'text', value: '?' };
    if (differing > 1) return { kind: 'text', value: text };
    if (column.source === 'item')
      return plainItems ? { kind: 'number', value: Number(text), pattern: 'General' } : { kind: 'text', value: text };
    const isQuantity = column.source === 'quantity' || column.source === 'totalQuantity';
    const made = spreadsheetValue(
      value?.kind === 'number' && unitApart && isQuantity ? numberValue(value.value) : value,
      column.format,
    );
    return made.kind === 'text' ? (text === '' ? null : { kind: 'text', value: text.replaceAll('\u00a0', ' ') }) : made;
  };
  const lines = printedLines(bill, shown).map((line): TableLine => {
    const texts = line.kind === 'row' ? [] : printedTexts(bill, shown, line);
    const cells = shown.map((column, at) => {
      if (column.source === 'picture') return null;
      if (line.kind === 'row') return typed(column, bill.cell(bill.rows[line.row], column));
      const sum = line.kind !== 'heading' && column.total ? bill.sum(column, line.from, line.to) : null;
      return sum ? typed(column, sum) : texts[at] ? { kind: 'text' as const, value: texts[at] } : null;
    });
    const row = line.kind === 'row' ? bill.rows[line.row] : null;
    return { kind: line.kind, outline: row ? row.level - 1 : 0, component: row?.components[0] ?? -1, cells };
  });
  const width = (column: Column, at: number): number =>
    lines.reduce(
      (most, { cells }) => {
        const cell = cells[at];
        return Math.max(most, cell ? String(cell.value).length + 2 : 0);
      },
      headingOf(column).length + 2,
    );
  return {
    columns: shown.map((column, at) => ({
      heading: headingOf(column),
      align: alignmentOf(column),
      isPicture: column.source === 'picture',
      width:
        column.source === 'picture'
          ? PICTURE_WIDTH
          : Math.min(isNumberColumn(column.source) ? 16 : WIDEST, width(column, at)),
    })),
    lines,
  };
}
