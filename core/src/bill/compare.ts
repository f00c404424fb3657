import type { Assembly } from '../assembly/index.ts';
import { newColumn, referenceOf, type Column } from '../columns/index.ts';
import type { Bill, Row } from './records.ts';

/** One side of a comparison. */
export interface ComparedBill {
  readonly assembly: Assembly;
  readonly bill: Bill;
  readonly columns: readonly Column[];
}
interface LineDifference {
  readonly kind: 'added' | 'removed' | 'changed';
  /** Row index on each side; −1 where it has none. */
  readonly before: number;
  readonly after: number;
  /** What differs, in words, with both texts. */
  readonly changes: readonly { readonly what: string; readonly from: string; readonly to: string }[];
}

/** Lines that only one of two bills has, and those that differ in number, quantity or a column that both show. */
export function compareBills(before: ComparedBill, after: ComparedBill): LineDifference[] {
  const indented = [before, after].every(({ bill }) => bill.recipe.depth === 'structured');
  const known = new Map<string, number>();
  before.bill.rows.forEach((_, at) =>
    namesOf(before, at, indented).forEach((name) => known.has(name) || known.set(name, at)),
  );
  const columns = after.columns
    .filter(({ hidden, source }) => !hidden && !['item', 'quantity', 'totalQuantity', 'picture'].includes(source))
    .flatMap((column) => {
      const other = before.columns.find((one) => referenceOf(one) === referenceOf(column));
      return other && !other.hidden ? [{ before: other, after: column }] : [];
    });
  const matched = new Set<number>();
  const differences: LineDifference[] = [];
  after.bill.rows.forEach((row, at) => {
    const found = namesOf(after, at, indented)
      .map((name) => known.get(name))
      .find((index) => index !== undefined && !matched.has(index));
    if (found === undefined) return void differences.push({ kind: 'added', before: -1, after: at, changes: [] });
    matched.add(found);
    const was = before.bill.rows[found];
    const changes = [
      { what: 'Item', from: was.item, to: row.item },
      { what: 'Quantity', from: quantityText(before, was), to: quantityText(after, row) },
      ...columns.map((pair) => ({
        what: pair.after.heading,
        from: before.bill.cell(was, pair.before).text,
        to: after.bill.cell(row, pair.after).text,
      })),
    ].filter(({ from, to }) => from !== to);
    if (changes.length > 0) differences.push({ kind: 'changed', before: found, after: at, changes });
  });
  before.bill.rows.forEach((_, at) => {
    if (!matched.has(at)) differences.push({ kind: 'removed', before: at, after: -1, changes: [] });
  });
  return differences;
}

/** Total over the machines of the bill, as its own column would write it. */
function quantityText({ bill, columns }: ComparedBill, row: Row): string {
  return bill.cell(row, columns.find(({ source }) => source === 'totalQuantity') ?? newColumn('totalQuantity')).text;
}

/**
 * What a line can be found by on the other side: its components, within those of the line above it where both are
 * indented.
 */
function namesOf({ assembly, bill }: ComparedBill, at: number, indented: boolean): string[] {
  const row = bill.rows[at];
  const above =
    indented && row.parent >= 0 ? `${namesOf({ assembly, bill, columns: [] }, row.parent, true)[0]} > ` : '';
  if (row.components.length === 0) return [`${above}${row.addresses[0]}`];
  return row.components.map((index) => above + assembly.components[index].key);
}
