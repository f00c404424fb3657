import type { ComponentIndex } from '../../../core/src/assembly/index.ts';
import type { Bill } from '../../../core/src/bill/index.ts';

/**
 * Index of the picked row: the one picked in the list itself, else the first that lists the picked component; −1 for
 * none.
 */
export function pickedRowOf(
  { rows }: Pick<Bill, 'rows'>,
  picked: ComponentIndex | null,
  rowKey: string | null,
): number {
  const at = rowKey === null ? -1 : rows.findIndex(({ key }) => key === rowKey);
  if (at >= 0 && (picked === null ? rows[at].components.length === 0 : rows[at].components.includes(picked))) return at;
  return picked === null ? -1 : rows.findIndex(({ components }) => components.includes(picked));
}
