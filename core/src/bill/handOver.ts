import { isAssembly, type Assembly } from '../assembly/index.ts';
import { addressOf, lineAddress, type Amount, type BillData, type Row } from './records.ts';

/**
 * The rows of a bill by columns, for handing them between threads as JSON: a third of the text, and what follows from
 * the assembly (addresses, kinds) is left out. Single numbers stand for lists of one.
 */
export interface PackedBill extends Omit<BillData, 'rows'> {
  readonly keys: readonly string[];
  readonly items: readonly string[];
  /** `ROW` numbers per row, in the order in which packBill writes them. */
  readonly numbers: readonly number[];
  readonly components: readonly (number | readonly number[])[];
  readonly counts: readonly (number | readonly number[])[];
  /** By row, where it is not counted by the piece. */
  readonly amounts: Readonly<Record<number, Amount>>;
  readonly lines: Readonly<Record<number, string>>;
  readonly inVariants: Readonly<Record<number, NonNullable<Row['inVariants']>>>;
}

const ROW = 6;
const PROVISIONAL = 1,
  OPENED = 2,
  CAN_OPEN = 4;
const single = (list: readonly number[]): number | readonly number[] => (list.length === 1 ? list[0] : list);

export function packBill({ rows, ...rest }: BillData): PackedBill {
  const keys: string[] = [],
    items: string[] = [],
    numbers: number[] = [];
  const components: PackedBill['components'][number][] = [],
    counts: PackedBill['counts'][number][] = [];
  const amounts: Record<number, Amount> = {},
    lines: Record<number, string> = {},
    inVariants: Record<number, NonNullable<Row['inVariants']>> = {};
  rows.forEach((row, at) => {
    keys.push(row.key);
    items.push(row.item);
    numbers.push(
      row.number,
      row.level,
      row.parent,
      row.quantity,
      row.totalQuantity,
      (row.provisional ? PROVISIONAL : 0) | (row.opened ? OPENED : 0) | (row.canOpen ? CAN_OPEN : 0),
    );
    components.push(single(row.components));
    counts.push(single(row.counts));
    if (row.amount.kind !== 'each') amounts[at] = row.amount;
    if (row.line !== undefined) lines[at] = row.line;
    if (row.inVariants) inVariants[at] = row.inVariants;
  });
  return { ...rest, keys, items, numbers, components, counts, amounts, lines, inVariants };
}

/** @param assembly the one that the bill was computed from */
export function unpackBill(
  { keys, items, numbers, components, counts, amounts, lines, inVariants, ...rest }: PackedBill,
  assembly: Assembly,
): BillData {
  const { depth } = rest.recipe;
  const rootKey = assembly.components[assembly.root].key;
  // A file of one part is its own only line, in no other.
  const top = depth === 'parts-only' || !isAssembly(assembly.components[assembly.root]) ? null : rootKey;
  const rows: Row[] = [];
  for (let at = 0; at < keys.length; at++) {
    const base = at * ROW,
      parent = numbers[base + 2],
      flags = numbers[base + 5];
    const quantity = numbers[base + 3],
      totalQuantity = numbers[base + 4];
    const own = components[at],
      pieces = counts[at];
    const list = typeof own === 'number' ? [own] : own;
    const scope = parent < 0 ? top : assembly.components[rows[parent].components[0]].key;
    const line = lines[at] as string | undefined;
    rows.push({
      key: keys[at],
      item: items[at],
      number: numbers[base],
      provisional: (flags & PROVISIONAL) !== 0,
      level: numbers[base + 1],
      parent,
      quantity,
      totalQuantity,
      kind: line !== undefined ? 'line' : isAssembly(assembly.components[list[0]]) ? 'assembly' : 'part',
      opened: (flags & OPENED) !== 0,
      canOpen: (flags & CAN_OPEN) !== 0,
      components: list,
      counts: typeof pieces === 'number' ? [pieces] : pieces,
      addresses:
        line !== undefined
          ? [lineAddress(line, scope)]
          : list.map((component) => addressOf(assembly.components[component].key, scope)),
      amount: amounts[at] ?? { kind: 'each', perParent: quantity, total: totalQuantity, unit: '' },
      ...(line !== undefined ? { line } : {}),
      ...(inVariants[at] ? { inVariants: inVariants[at] } : {}),
    });
  }
  return { ...rest, rows };
}
