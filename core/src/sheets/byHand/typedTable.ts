import type { RowIndex } from '../../assembly/index.ts';
import type { SheetTable, TypedTable } from '../records.ts';

/** What a table that is typed by hand may hold. */
export const MOST_TYPED = { columns: 20, rows: 500, letters: 400 } as const;

/** An empty one. */
export const newTyped = (columns: number, rows: number): TypedTable => ({
  columns: Array.from({ length: columns }, (_, at) => ({ id: `c${at + 1}`, heading: '' })),
  rows: Array.from({ length: rows }, () => Array.from({ length: columns }, () => '')),
});

/** So many rows and columns; new ones at the ends are empty, those that go take their texts along. */
export function withTypedSize(
  { columns, rows }: TypedTable,
  size: { readonly columns?: number; readonly rows?: number },
): TypedTable {
  const within = (wanted: number, most: number) => Math.min(most, Math.max(1, Math.round(wanted)));
  const wide = within(size.columns ?? columns.length, MOST_TYPED.columns),
    high = within(size.rows ?? rows.length, MOST_TYPED.rows);
  const used = new Set(columns.map(({ id }) => id));
  let number = 0;
  const freshId = () => {
    do number++;
    while (used.has(`c${number}`));
    return `c${number}`;
  };
  return {
    columns: Array.from({ length: wide }, (_, at) => columns[at] ?? { id: freshId(), heading: '' }),
    rows: Array.from({ length: high }, (_, row) => Array.from({ length: wide }, (__, at) => rows[row]?.[at] ?? '')),
  };
}

/**
 * Texts put in from a cell on, to the right and down; the table grows where they reach beyond it, as far as it may.
 * @param line −1 for the heading
 */
export function withTypedBlock(
  table: TypedTable,
  line: number,
  column: number,
  block: readonly (readonly string[])[],
): TypedTable {
  const wide = Math.max(0, ...block.map(({ length }) => length));
  const grown = withTypedSize(table, {
    columns: Math.max(table.columns.length, column + wide),
    rows: Math.max(table.rows.length, line + block.length),
  });
  const textAt = (row: RowIndex, at: number, before: string) => {
    const text = block[row - line]?.[at - column];
    return text === undefined || at < column ? before : text.replace(/\s*\n\s*/g, ' ').slice(0, MOST_TYPED.letters);
  };
  return {
    columns: grown.columns.map((one, at) => ({ ...one, heading: textAt(-1, at, one.heading) })),
    rows: grown.rows.map((texts, row) => texts.map((text, at) => textAt(row, at, text))),
  };
}

/** A table to be typed into, that looks like a list. */
export const typedTable = (like: SheetTable): SheetTable & { readonly typed: TypedTable } => ({
  ...like,
  typed: newTyped(3, 4),
});
