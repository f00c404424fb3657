import equal from 'fast-deep-equal';
import type { Assembly, ComponentKey, ComponentIndex } from '../../assembly/index.ts';
import {
  makeBill,
  usualNumbering,
  type Address,
  type LedgerEntry,
  type Numbering,
  type QuantityKind,
  type Row,
} from '../../bill/index.ts';
import { newColumn, type Column, type ColumnSource } from '../../columns/index.ts';
import type { ListColumn, ListFacts } from '../../sources/index.ts';
import { newBill, type BillDocument } from '../kinds/bill.ts';

const SOURCES: Partial<Readonly<Record<ListColumn['role'], ColumnSource>>> = {
  item: 'item',
  quantity: 'quantity',
  partNumber: 'partNumber',
  name: 'name',
  description: 'description',
  revision: 'revision',
  source: 'source',
};

/**
 * The bill that a structure list is: its columns under its headings, its depth, its item numbers, what it counts
 * otherwise than by the piece. A list that this program wrote reads as it was written.
 * @param assembly read from that list
 * @returns the bill, and item numbers that it cannot have, as they are written
 */
export function billOfList(assembly: Assembly, list: ListFacts, name: string): { bill: BillDocument; lost: string[] } {
  const usual = newBill(assembly, name);
  const columns = columnsOf(list);
  const numbering = numberingOf(list);
  const quantityOf: Record<ComponentKey, QuantityKind> = {};
  for (const { component, amount } of list.lines) if (amount) quantityOf[assembly.components[component].key] ??= amount;
  const recipe: BillDocument['recipe'] = {
    ...usual.recipe,
    depth: list.indented ? 'structured' : 'parts-only',
    ...(Object.keys(quantityOf).length > 0 ? { quantityOf } : {}),
    ...(numbering ? { numbering } : {}),
  };
  const blank: BillDocument = { ...usual, recipe, ...(columns.length > 0 ? { columns } : {}) };
  return withNumbers(assembly, list, blank);
}

const columnsOf = ({ columns }: ListFacts): Column[] => {
  const known = new Set<string>();
  return columns.flatMap((column): Column[] => {
    const { role, heading, number, sum } = column;
    const source = role === 'property' ? (`property:${heading}` as const) : SOURCES[role];
    if (!source || known.has(source)) return [];
    known.add(source);
    return [
      {
        ...newColumn(source),
        heading,
        ...(number
          ? {
              format: {
                unit: number.unit,
                decimals: number.decimals,
                ...(number.unitPlace === 'heading' ? { unitPlace: 'heading' as const } : {}),
                ...(number.decimalSign === ',' ? { decimalSign: ',' as const } : {}),
              },
              ...(sum ? { total: sum === 'pieces' || ('one each' as const) } : {}),
            }
          : {}),
      },
    ];
  });
};

/** The last part of an item number: 2 of 1.2, of 1-02, of 1b, of P-002. */
const LAST = /^(.*?)(\d+|[a-z]+)$/;

/** How the list writes its numbers; null where as usual. */
function numberingOf({ lines }: ListFacts): Numbering | null {
  const tops = lines.filter(({ parent, item }) => parent === null && item !== '').map(({ item }) => item);
  const below = lines.filter(({ parent, item }) => parent !== null && item !== '').map(({ item }) => item);
  const [first] = tops;
  if (first === undefined) return null;
  const prefix = LAST.exec(first)?.[1] ?? '';
  const digits = tops.map((item) => (item.startsWith(prefix) ? item.slice(prefix.length) : ''));
  const width = digits.some((text) => /^0\d/.test(text)) ? digits[0].length : 1;
  const letters = below.length > 0 && below.every((item) => /\d[a-z]+$/.test(item) || /[a-z]$/.test(item));
  const separator = letters ? '.' : (/\d([.\-/])\d+$/.exec(below[0] ?? '')?.[1] ?? '.');
  const numbering: Numbering = { ...usualNumbering, prefix, width, letters, separator };
  return equal(numbering, usualNumbering) ? null : numbering;
}

/** Gives the lines of the bill the numbers of the list, as far as they can have them. */
function withNumbers(
  assembly: Assembly,
  { lines, indented }: ListFacts,
  bill: BillDocument,
): { bill: BillDocument; lost: string[] } {
  const items = new Map<string, string>();
  const keyOf = (component: ComponentIndex, parent: number | null) =>
    indented ? `${component} ${parent ?? ''}` : `${component}`;
  for (const { component, parent, item } of lines) {
    const key = keyOf(component, parent);
    if (item !== '' && !items.has(key)) items.set(key, item);
  }
  const { rows } = makeBill(assembly, bill.recipe);
  const ledger: Record<Address, LedgerEntry> = {};
  for (const row of rows) {
    const above = row.parent < 0 ? null : rows[row.parent].components[0];
    const item = row.components.map((component) => items.get(keyOf(component, above))).find(Boolean);
    const number = item === undefined ? null : numberOf(item);
    if (number !== null) for (const address of row.addresses) ledger[address] = { number };
  }
  const numbered: BillDocument = { ...bill, ledger };
  const made = makeBill(assembly, bill.recipe, { treatments: [], ledger }).rows;
  const itemOf = ({ components, parent }: Row) =>
    items.get(keyOf(components[0], parent < 0 ? null : made[parent].components[0]));
  const lost = made.flatMap((row) => {
    const item = itemOf(row);
    return item === undefined || item === row.item ? [] : [item];
  });
  return { bill: numbered, lost };
}

function numberOf(item: string): number | null {
  const last = LAST.exec(item)?.[2] ?? '';
  const number = /^\d+$/.test(last)
    ? Number(last)
    : [...last].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 96, 0);
  return Number.isSafeInteger(number) && number >= 1 && number <= 1e9 ? number : null;
}
