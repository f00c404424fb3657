import { groupBy, type RowIndex } from '../assembly/index.ts';
import { freeNumbers, itemText } from './numbers.ts';
import {
  numberingAt,
  usualNumbering,
  type Address,
  type Bill,
  type Ledger,
  type LedgerEntry,
  type Numbering,
  type Row,
} from './records.ts';

/**
 * What the new numbers follow: the structure, the order in which the lines are shown, or the balloons as they run
 * around a view.
 */
export type RenumberOrder = 'structure' | 'shown' | 'balloons';

interface RenumberInput {
  /** As shown. */
  readonly bill: Bill;
  /** The same without filter, order and groups. */
  readonly structure: Bill;
  readonly ledger: Ledger;
  readonly numbering: Numbering;
  readonly order: RenumberOrder;
  /** Rows of `bill` as their balloons run; lines without a balloon come after them as shown. */
  readonly balloons?: readonly number[];
}

interface Renumbering {
  /** Every line that gets another item number than it shows now, in the new order. */
  readonly changes: readonly { readonly row: RowIndex; readonly from: string; readonly to: string }[];
  /** Lines that keep theirs because they are pinned. */
  readonly pinned: number;
  /** For the command that carries it out; null takes an entry away. */
  readonly numbers: Readonly<Record<Address, LedgerEntry | null>>;
}

/**
 * New numbers for the lines shown, level by level. Pinned ones are spared, retired, reserved and hidden ones not
 * given out.
 */
export function renumber({ bill, structure, ledger, numbering, order, balloons = [] }: RenumberInput): Renumbering {
  const places = placesIn(order, bill, structure, balloons);
  const bySiblings = groupBy(bill.rows.keys(), (at) => bill.rows[at].parent);
  const hidden = hiddenNumbers(bill, structure);
  const numbers: Record<Address, LedgerEntry | null> = {};
  const changes: { row: RowIndex; from: string; to: string }[] = [];
  let pinned = 0;
  const visit = (parent: number, above: string): void => {
    const siblings = (bySiblings.get(parent) ?? []).toSorted((a, b) => places[a] - places[b]);
    if (siblings.length === 0) return;
    const entriesOf = (row: Row) =>
      row.addresses.map((address) => ledger[address]).filter((entry) => entry !== undefined);
    const pinnedOf = new Map(siblings.map((at) => [at, entriesOf(bill.rows[at]).find((entry) => entry.pinned)]));
    const spoken = new Set<number>(hidden.get(scopeOf(bill.rows[siblings[0]])));
    for (const entry of pinnedOf.values()) if (entry) spoken.add(entry.number);
    const scope = scopeOf(bill.rows[siblings[0]]);
    for (const [address, entry] of Object.entries(ledger))
      if (entry.retired && (address.split('@')[1] ?? '') === scope) spoken.add(entry.number);
    const here = numberingAt(numbering, bill.rows[siblings[0]].level);
    let next = freeNumbers(here, spoken, here.start - here.step);
    let last = 0;
    for (const at of siblings) {
      const row = bill.rows[at];
      const held = pinnedOf.get(at);
      if (
        numbering.groupRange > 0 &&
        parent < 0 &&
        last > 0 &&
        bill.sections.some((section) => section.level === 1 && section.at === at)
      ) {
        const from = Math.ceil((last + 1) / numbering.groupRange) * numbering.groupRange;
        next = freeNumbers({ ...numbering, start: from }, spoken, from - numbering.step);
      }
      const number = held ? held.number : next();
      if (held) pinned++;
      last = Math.max(last, number);
      for (const address of row.addresses)
        numbers[address] = { ...(ledger[address]?.pinned ? { pinned: true } : {}), number };
      const to = itemText(number, above, here);
      if (to !== row.item || row.provisional) changes.push({ row: at, from: row.provisional ? '' : row.item, to });
      visit(at, to);
    }
  };
  visit(-1, '');
  return { changes, pinned, numbers };
}

/**
 * The ledger of a bill that has none yet: its lines in the order shown, without gaps for what it does not show.
 * @param pinned numbers that are spoken for already
 */
export function firstNumbers(bill: Bill, pinned: Ledger = {}): Ledger {
  const { numbers } = renumber({
    bill,
    structure: bill,
    ledger: pinned,
    numbering: bill.recipe.numbering ?? usualNumbering,
    order: 'shown',
  });
  return numbers as Ledger; // nothing is taken away where nothing was
}

const scopeOf = (row: Row): string => row.addresses[0].split('@')[1] ?? '';

/** Numbers of lines that are left out of what is shown, by scope. */
function hiddenNumbers(bill: Bill, structure: Bill): Map<string, number[]> {
  const shown = new Set(bill.rows.flatMap(({ addresses }) => addresses));
  const numbers = new Map<string, number[]>();
  for (const row of structure.rows) {
    if (row.provisional || row.addresses.some((address) => shown.has(address))) continue;
    const scope = scopeOf(row);
    numbers.set(scope, [...(numbers.get(scope) ?? []), row.number]);
  }
  return numbers;
}

/** Where each row of the bill stands in the wanted order. */
function placesIn(order: RenumberOrder, bill: Bill, structure: Bill, balloons: readonly number[]): number[] {
  if (order === 'structure') {
    const place = new Map<Address, number>();
    structure.rows.forEach(({ addresses }, at) => addresses.forEach((address) => place.set(address, at)));
    return bill.rows.map(({ addresses }) => place.get(addresses[0]) ?? Infinity);
  }
  if (order === 'shown') return bill.rows.map((_, at) => at);
  const place = new Map<number, number>();
  for (const row of balloons) if (!place.has(row)) place.set(row, place.size);
  return bill.rows.map((_, at) => place.get(at) ?? balloons.length + at);
}
