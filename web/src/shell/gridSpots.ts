import type { RowIndex } from '../../../core/src/assembly/index.ts';
/** A cell by its row and its place among the shown columns. */
export interface Spot {
  readonly row: RowIndex;
  readonly column: number;
}
interface Limits {
  readonly rows: number;
  readonly columns: number;
}

export const clampSpot = ({ row, column }: Spot, { rows, columns }: Limits): Spot => ({
  row: Math.max(0, Math.min(rows - 1, row)),
  column: Math.max(0, Math.min(columns - 1, column)),
});

/** Upper left and lower right cell of a selection; both null where nothing is selected. */
export function cornersOf(one: Spot | null, other: Spot | null): [Spot, Spot] | [null, null] {
  if (!one || !other) return [null, null];
  return [
    { row: Math.min(one.row, other.row), column: Math.min(one.column, other.column) },
    { row: Math.max(one.row, other.row), column: Math.max(one.column, other.column) },
  ];
}

/** Where a key leads, as in a spreadsheet; null for keys that do not move. @param page rows that are seen at once */
export function moveSpot(
  { row, column }: Spot,
  { key, shiftKey, ctrlKey }: { key: string; shiftKey: boolean; ctrlKey: boolean },
  limits: Limits,
  page: number,
): Spot | null {
  if (limits.rows === 0) return null;
  const to = (nextRow: number, nextColumn: number) => clampSpot({ row: nextRow, column: nextColumn }, limits);
  switch (key) {
    case 'ArrowDown':
      return to(ctrlKey ? limits.rows - 1 : row + 1, column);
    case 'ArrowUp':
      return to(ctrlKey ? 0 : row - 1, column);
    case 'ArrowRight':
      return to(row, ctrlKey ? limits.columns - 1 : column + 1);
    case 'ArrowLeft':
      return to(row, ctrlKey ? 0 : column - 1);
    case 'PageDown':
      return to(row + page, column);
    case 'PageUp':
      return to(row - page, column);
    case 'Home':
      return to(ctrlKey ? 0 : row, 0);
    case 'End':
      return to(ctrlKey ? limits.rows - 1 : row, limits.columns - 1);
    case 'Tab': {
      const at = row * limits.columns + column + (shiftKey ? -1 : 1);
      // Past the last cell, or before the first, Tab leaves the grid.
      return at < 0 || at >= limits.rows * limits.columns
        ? null
        : { row: Math.floor(at / limits.columns), column: at % limits.columns };
    }
    default:
      return null;
  }
}
