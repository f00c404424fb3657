import { naturalOrder } from '../columns/index.ts';
import type { Address } from '../bill/index.ts';
import type { PlannedGroup } from './cutGroups.ts';
import { cheapestMix, type Mix } from './packs.ts';
import type { RequirementLine } from './records.ts';

/** One line of what to order, or to make. */
export interface OrderLine {
  /** Of its own in the order; the same for the same thing in another one. */
  readonly key: string;
  /** A part to buy, a bar to cut from, or a part that is made. */
  readonly kind: 'buy' | 'bar' | 'make';
  /** Where its choices belong; null for bars. */
  readonly address: Address | null;
  /** Section whose bar it is, or that the part is cut from; null for neither. */
  readonly group: string | null;
  readonly supplier: string;
  readonly orderNumber: string;
  readonly partNumber: string;
  readonly name: string;
  readonly material: string;
  /** Numbers of the list, as they read. */
  readonly items: readonly string[];
  /** Pieces, or in `unit`; null for what is as required, or not known. */
  readonly quantity: number | null;
  /** Empty for pieces. */
  readonly unit: string;
  /** How the pieces are bought, where packs and singles are mixed or more is bought than needed. */
  readonly mix: Mix | null;
  /** Of one piece or unit, in the currency of the plan; null where not known or not the same for all. */
  readonly unitPrice: number | null;
  /** In the currency of the plan; null where not known. */
  readonly cost: number | null;
  /** Days; null where not known. */
  readonly leadDays: number | null;
  /** kg of all; null where not known. */
  readonly massKg: number | null;
}

/** What a part costs, where it is bought in whole pieces or by the unit. */
function priced({ toGet, kind, offer }: RequirementLine): Pick<OrderLine, 'mix' | 'unitPrice' | 'cost' | 'quantity'> {
  if (toGet === null || toGet === 0)
    return { mix: null, unitPrice: offer.unitPrice, cost: toGet === 0 ? 0 : null, quantity: toGet };
  if (kind === 'each' || offer.packs.length > 0 || offer.breaks.length > 0) {
    const mix = cheapestMix(Math.ceil(toGet), offer);
    const plain = mix && mix.packs.length === 0;
    return {
      mix,
      unitPrice: plain ? mix.singlePrice : mix ? null : offer.unitPrice,
      cost: mix?.cost ?? null,
      quantity: mix && kind === 'each' ? mix.pieces : toGet,
    };
  }
  const quantity = Math.max(offer.minimum, Math.ceil(toGet / offer.multiple - 1e-9) * offer.multiple);
  // What is summed, such as metres of rope, comes in multiples only where that is said.
  const amount = offer.multiple > 1 || offer.minimum > toGet ? quantity : toGet;
  return {
    mix: null,
    unitPrice: offer.unitPrice,
    cost: offer.unitPrice === null ? null : offer.unitPrice * amount,
    quantity: amount,
  };
}

const barName = (section: string, lengthMm: number): string => `${section}, L = ${Number(lengthMm.toFixed(2))} mm`;

/**
 * What to order and to make for a requirement: bought parts in the cheapest mix, bars of the cut plans, made parts. By
 * supplier, then by number; bars first, made parts last.
 */
export function orderLines(lines: readonly RequirementLine[], groups: readonly PlannedGroup[]): OrderLine[] {
  const planned = new Set(groups.flatMap(({ group, plan }) => (plan ? [group.key] : [])));
  // A part of which pieces find no bar costs more than the bars of the others.
  const uncut = new Set(
    groups.flatMap(({ group, plan }) =>
      [...(plan?.tooLong ?? []), ...(plan?.missing ?? []).map(({ piece }) => piece)].map(
        (piece) => group.pieces[piece].line,
      ),
    ),
  );
  const parts = lines.flatMap((line): OrderLine[] => {
    const isMade = line.source === 'made';
    const isCut = line.group !== null && planned.has(line.group);
    const own = priced(line);
    if (line.toGet === 0) return [];
    // What a part costs that is cut here is its bars and, where it is said, what cutting costs.
    const cost = isCut && own.cost === null && !uncut.has(line.key) ? 0 : own.cost;
    const mass =
      line.massEach === null || line.toGet === null || line.kind !== 'each' ? null : line.massEach * line.toGet;
    return [
      {
        key: `${isMade ? 'make' : 'buy'} ${line.partNumber || line.name} ${line.material} ${line.section} ${line.unit}`,
        kind: isMade || isCut ? 'make' : 'buy',
        address: line.address,
        group: line.group,
        supplier: isCut ? '' : line.supplier,
        orderNumber: line.orderNumber,
        partNumber: line.partNumber,
        name: line.name,
        material: line.material,
        items: line.items,
        unit: line.unit,
        leadDays: line.leadDays,
        massKg: mass,
        ...own,
        cost,
      },
    ];
  });
  const bars = groups.flatMap(({ group, plan }): OrderLine[] => {
    if (!plan) return [];
    const counts = new Map<number, number>();
    for (const { stock, count } of plan.bars) counts.set(stock, (counts.get(stock) ?? 0) + count);
    return [...counts].map(([index, count]): OrderLine => {
      const bar = group.stock[index];
      return {
        key: `bar ${group.key} ${bar.lengthMm} ${bar.number}`,
        kind: 'bar',
        address: null,
        group: group.key,
        supplier: bar.supplier,
        orderNumber: '',
        partNumber: bar.number,
        name: barName(group.section, bar.lengthMm),
        material: group.material,
        items: [],
        quantity: count,
        unit: '',
        mix: null,
        unitPrice: bar.price,
        cost: bar.price === null ? null : bar.price * count,
        leadDays: bar.leadDays,
        massKg: null,
      };
    });
  });
  const order = naturalOrder('');
  const rank = ({ kind }: OrderLine) => (kind === 'make' ? 1 : 0);
  return withOwnKeys(
    [...bars, ...parts].sort(
      (one, other) =>
        rank(one) - rank(other) ||
        Number(one.supplier === '') - Number(other.supplier === '') ||
        order(one.supplier, other.supplier) ||
        order(one.partNumber || one.name, other.partNumber || other.name),
    ),
  );
}

/** Lines that are kept apart in the list may be of one part; the second of them is told by its place. */
function withOwnKeys(lines: readonly OrderLine[]): OrderLine[] {
  const seen = new Map<string, number>();
  return lines.map((line) => {
    const before = seen.get(line.key) ?? 0;
    seen.set(line.key, before + 1);
    return before === 0 ? line : { ...line, key: `${line.key} #${before + 1}` };
  });
}

/** What an order comes to. What is not known is named and never counted as nothing. */
export interface OrderCost {
  readonly known: number;
  /** Keys of lines whose cost is not known. */
  readonly unknown: readonly string[];
}
export function costOfOrder(lines: readonly OrderLine[]): OrderCost {
  const sum = lines.reduce((all, { cost }) => all + (cost ?? 0), 0);
  return {
    known: Math.round(sum * 1e6) / 1e6,
    unknown: lines.filter(({ cost }) => cost === null).map(({ key }) => key),
  };
}

/** An order as of a day, as it is stored; nothing of it changes any more. */
export interface IssuedOrder {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** Of its own in the project, such as 2026-003. */
  readonly number: string;
  /** 2026-11-28. */
  readonly date: string;
  /** Name of the plan. */
  readonly plan: string;
  /** What it is for, in words: 3 machines. */
  readonly what: string;
  /** Letter of the revision; empty where it has none. */
  readonly revision: string;
  /** ISO 4217. */
  readonly currency: string;
  readonly lines: readonly OrderLine[];
  /** Taken away; kept so that it can come back. */
  readonly away?: true;
}

/** `2026-003` where two orders of that year were issued before. */
export function nextOrderNumber(numbers: readonly string[], year: number): string {
  const taken = numbers.map((number) => Number(new RegExp(`^${year}-(\\d{1,9})$`).exec(number)?.[1] ?? 0));
  return `${year}-${String(Math.max(0, ...taken) + 1).padStart(3, '0')}`;
}

/** How one line of an order stands to what is needed now. */
interface OrderDifference {
  readonly line: OrderLine;
  readonly ordered: number | null;
  readonly now: number | null;
  /** `two more of item 14`. */
  readonly words: string;
}

const NUMBERS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];
const inWords = (count: number): string => NUMBERS[count] ?? String(Number(count.toFixed(3)));
const called = ({ items, name, partNumber }: OrderLine): string =>
  items.length > 0 ? `item ${items.join(', ')}` : partNumber || name;

/** What an order has too few or too many of, compared with what is needed now; lines that agree are left out. */
export function compareOrder({ lines }: Pick<IssuedOrder, 'lines'>, now: readonly OrderLine[]): OrderDifference[] {
  const ordered = new Map(lines.map((line) => [line.key, line]));
  const left = new Map(ordered);
  const differences: OrderDifference[] = [];
  for (const line of now) {
    const was = ordered.get(line.key);
    left.delete(line.key);
    const before = was ? was.quantity : 0;
    if (before === line.quantity) continue;
    differences.push({
      line,
      ordered: before,
      now: line.quantity,
      words: differenceWords(line, was ? before : null, line.quantity),
    });
  }
  for (const line of left.values())
    if (line.quantity !== 0)
      differences.push({
        line,
        ordered: line.quantity,
        now: 0,
        words: `${called(line)} is not needed any more`,
      });
  return differences;
}

function differenceWords(line: OrderLine, before: number | null, now: number | null): string {
  const unit = line.unit ? ` ${line.unit}` : '';
  if (before === null)
    return now === null ? `${called(line)} is new, as required` : `${called(line)} is new: ${inWords(now)}${unit}`;
  if (now === null) return `${called(line)} is as required now`;
  const more = now - before;
  return `${inWords(Math.abs(more))}${unit} ${more > 0 ? 'more' : 'fewer'} of ${called(line)}`;
}
