import {
  asNumber,
  convert,
  formatValue,
  headingOf,
  isEmptyValue,
  propertyNameOf,
  type Column,
  type ColumnSource,
} from '../columns/index.ts';
import type { Bill, BillFinding, BillTotals, Row } from './records.ts';

const counted = ({ rows }: Pick<Bill, 'rows'>): Row[] => rows.filter(({ opened }) => !opened);
const massOf = (bill: Pick<Bill, 'values'>, row: Row): number | null => {
  const value = asNumber(bill.values(row, 'massTotal')[0] ?? null);
  return value && convert(value.value, value.unit, 'kg');
};
const piecesOf = (bill: Pick<Bill, 'recipe'>, row: Row): number =>
  row.line ? 0 : row.totalQuantity * (bill.recipe.machines ?? 1);

export function billTotals(bill: Bill, columns: readonly Column[]): BillTotals {
  const rows = counted(bill);
  let pieces = 0,
    mass: number | null = null,
    withoutMass = 0;
  for (const row of rows) {
    pieces += piecesOf(bill, row);
    const own = row.line ? null : massOf(bill, row);
    if (own !== null) mass = (mass ?? 0) + own;
    else if (!row.line) withoutMass++;
  }
  const empty = columns
    .filter(({ hidden, source }) => !hidden && propertyNameOf(source) !== null)
    .flatMap((column) => {
      const lines = emptyIn(
        bill,
        rows.filter(({ line }) => !line),
        column,
      ).length;
      return lines === 0 ? [] : [{ heading: column.heading, lines }];
    });
  return { lines: bill.rows.length, pieces, mass, withoutMass, empty };
}

const emptyIn = (bill: Bill, rows: readonly Row[], column: Column): Row[] =>
  rows.filter((row) => isEmptyValue(bill.cell(row, column).value));

export const chartMeasures = ['mass', 'pieces', 'lines'] as const;
export type ChartMeasure = (typeof chartMeasures)[number];
export interface ChartShare {
  /** What the column says; empty where it says nothing. */
  readonly title: string;
  /** kg, pieces or lines. */
  readonly amount: number;
  readonly lines: number;
  /** Lines whose mass is not known, which the amount lacks. */
  readonly without: number;
}

/** What mass, pieces or lines there are for each text of a column, largest first. */
export function chartShares(bill: Bill, source: ColumnSource, measure: ChartMeasure): ChartShare[] {
  const shares = new Map<string, { title: string; amount: number; lines: number; without: number }>();
  for (const row of counted(bill)) {
    const title = formatValue(bill.values(row, source)[0] ?? null);
    let share = shares.get(title);
    if (!share) shares.set(title, (share = { title, amount: 0, lines: 0, without: 0 }));
    share.lines++;
    const amount = measure === 'lines' ? 1 : measure === 'pieces' ? piecesOf(bill, row) : massOf(bill, row);
    if (amount === null) share.without++;
    else share.amount += amount;
  }
  return [...shares.values()].sort((one, other) => other.amount - one.amount);
}

const NAMED = 8;
const itemsText = (rows: readonly Row[]): string =>
  rows
    .slice(0, NAMED)
    .map(({ item }) => item)
    .join(', ') + (rows.length > NAMED ? ' …' : '');

/** Findings about the columns that are shown: parts of a line that do not agree, and cells that must not be empty. */
export function columnFindings(bill: Bill, columns: readonly Column[]): BillFinding[] {
  const merged = bill.rows.filter(({ components }) => components.length > 1);
  return columns
    .filter(({ hidden }) => !hidden)
    .flatMap((column): BillFinding[] => {
      const differing = merged.filter((row) => bill.cell(row, column).differing > 1);
      const empty = column.required ? emptyIn(bill, bill.rows, column) : [];
      return [
        ...(differing.length === 0
          ? []
          : [
              {
                code: 'values-differ',
                message: `${column.heading}: the parts of ${differing.length === 1 ? 'line' : 'lines'} ${itemsText(differing)} do not agree. The first value is shown; count the property towards what makes lines one, or set it right.`,
              },
            ]),
        ...(empty.length === 0
          ? []
          : [
              {
                code: 'required-empty',
                message: `${headingOf(column)} must not be empty, but ${empty.length === 1 ? 'line' : 'lines'} ${itemsText(empty)} ${empty.length === 1 ? 'has' : 'have'} nothing there.`,
              },
            ]),
      ];
    });
}

/** Longer lists are not looked through for columns that say nothing: it would take longer than a frame. */
const MOST_LOOKED_AT = 20_000;

/**
 * Columns that could be left out: of texts that are empty in every line, or that repeat those of a column before them.
 * Ends at the first line that says otherwise.
 */
export function idleColumns(bill: Bill, columns: readonly Column[]): BillFinding[] {
  const texts = columns.filter(
    ({ hidden, stays, required, source }) => !hidden && !stays && !required && propertyNameOf(source) !== null,
  );
  const rows = bill.rows.filter(({ line }) => !line);
  if (rows.length < 2 || rows.length > MOST_LOOKED_AT) return [];
  const text = (row: Row, column: Column) => bill.cell(row, column).text;
  const idle = new Set<string>();
  return texts.flatMap((column, at): BillFinding[] => {
    const find = (message: string) => {
      idle.add(column.id);
      return [{ code: 'idle-column', key: `idle ${column.id}`, message, idle: column.id }];
    };
    if (rows.every((row) => text(row, column) === '')) return find(`${column.heading} says nothing in any line.`);
    const same = texts
      .slice(0, at)
      .find((other) => !idle.has(other.id) && rows.every((row) => text(row, other) === text(row, column)));
    return same ? find(`${column.heading} repeats ${same.heading} in every line.`) : [];
  });
}

/**
 * Findings about expressions that have no value for some lines, with the reason for the first of them. Looks at every
 * line.
 */
export function faultFindings(bill: Bill, columns: readonly Column[]): BillFinding[] {
  return columns
    .filter(({ hidden, expression }) => !hidden && expression !== undefined)
    .flatMap((column): BillFinding[] => {
      const faulty = bill.rows.filter((row) => bill.cell(row, column).fault !== undefined);
      return faulty.length === 0
        ? []
        : [
            {
              code: 'no-result',
              message: `${column.heading} has no value in ${faulty.length === 1 ? 'line' : 'lines'} ${itemsText(faulty)}: ${bill.cell(faulty[0], column).fault}`,
            },
          ];
    });
}
