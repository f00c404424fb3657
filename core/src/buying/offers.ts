import { asNumber, currencies, formatValue, isEmptyValue, unitOf, convert, type Value } from '../columns/index.ts';
import type { BuyingRole, Offer, PriceStep } from './records.ts';
import { roleWords } from './roles.ts';

const known = new Set<string>(currencies);
/** A longer text is no list of prices. */
const MOST_LETTERS = 2000;

/** What prices are told in, and what other currencies come to in it. */
export interface Exchange {
  readonly currency: string;
  readonly rates: Readonly<Record<string, number>>;
}
/** A sentence that says why a price is not known. */
export class NotKnown {
  constructor(
    readonly code: 'no-rate' | 'unread',
    readonly message: string,
  ) {}
}

/** An amount in the currency of the plan; one without any is in it already. */
export function exchanged(value: number, unit: string, { currency, rates }: Exchange): number | NotKnown {
  // Prices per metre or per piece are told as such; what they are of is the quantity's unit.
  const [code] = unit.trim().split(/[/ ]/);
  if (code === '' || code === currency) return value;
  if (!known.has(code))
    return new NotKnown('unread', `“${unit}” is no currency that is known; write a code such as EUR.`);
  const rate = Object.hasOwn(rates, code) ? rates[code] : undefined;
  return rate === undefined || !(rate > 0)
    ? new NotKnown('no-rate', `There is no rate for ${code}; say what one ${code} is in ${currency}.`)
    : value * rate;
}

/** A price; null where there is none. Prices are not negative. */
export function priceOf(value: Value, exchange: Exchange): number | null | NotKnown {
  if (isEmptyValue(value)) return null;
  const number = value?.kind === 'text' ? amountIn(value.text) : asNumber(value);
  if (!number || number.value < 0)
    return new NotKnown('unread', `“${formatValue(value)}” is no price; write it as 12.50 or 12.50 EUR.`);
  return exchanged(number.value, number.unit, exchange);
}

/** `12.50`, `12,50 EUR`, `EUR 12.50`. */
function amountIn(text: string): { value: number; unit: string } | null {
  const match = /^\s*([A-Za-z]{3})?\s*(\d+(?:[.,]\d+)?)\s*([A-Za-z]{3}(?:\s*\/\s*\S{1,10})?)?\s*$/.exec(text);
  if (!match) return null;
  return { value: Number(match[2].replace(',', '.')), unit: (match[1] ?? match[3] ?? '').toUpperCase() };
}

/** `50: 14.00; 200: 45.00 EUR`, ascending by count; empty for an empty text. */
export function priceSteps(value: Value, role: BuyingRole, exchange: Exchange): readonly PriceStep[] | NotKnown {
  if (isEmptyValue(value)) return [];
  const text = formatValue(value);
  const unread = () =>
    new NotKnown(
      'unread',
      `${roleWords[role]} “${text.slice(0, 60)}” cannot be read; write counts and prices as 50: 14.00; 200: 45.00.`,
    );
  if (text.length > MOST_LETTERS) return unread();
  const steps: PriceStep[] = [];
  for (const part of text.split(';')) {
    if (part.trim() === '') continue;
    const [, count, price] = /^\s*(\d{1,9})\s*[:=@]\s*(\S.*)$/.exec(part) ?? [];
    const amount = price === undefined ? null : amountIn(price);
    if (!amount || Number(count) < 1) return unread();
    const own = exchanged(amount.value, amount.unit, exchange);
    if (own instanceof NotKnown) return own;
    steps.push({ count: Number(count), price: own });
  }
  return steps.sort((one, other) => one.count - other.count);
}

/** A whole number above 0; null where nothing is said. */
export function countOf(value: Value, role: BuyingRole): number | null | NotKnown {
  if (isEmptyValue(value)) return null;
  const number = asNumber(value);
  return number && Number.isInteger(number.value) && number.value >= 1 && number.value <= 1e9
    ? number.value
    : new NotKnown('unread', `${roleWords[role]} “${formatValue(value).slice(0, 60)}” is no whole number above 0.`);
}

/** Days; a plain number is days already. Null where nothing is said. */
export function daysOf(value: Value): number | null | NotKnown {
  if (isEmptyValue(value)) return null;
  const number = asNumber(value);
  const days = number && (number.unit === '' ? number.value : convert(number.value, number.unit, 'day'));
  return days === null || days < 0
    ? new NotKnown('unread', `Lead time “${formatValue(value).slice(0, 60)}” is no time; write it as 12 or 2 weeks.`)
    : days;
}

/** mm; a plain number is mm already. Null where nothing is said. */
export function lengthOf(value: Value, role: BuyingRole): number | null | NotKnown {
  if (isEmptyValue(value)) return null;
  const number = asNumber(value);
  const lengthMm = number && convert(number.value, number.unit || 'mm', 'mm');
  return lengthMm !== null && lengthMm > 0 && Number.isFinite(lengthMm)
    ? Math.round(lengthMm * 1000) / 1000
    : new NotKnown(
        'unread',
        `${roleWords[role]} “${formatValue(value).slice(0, 60)}” is no length above 0; write it as 760 or 760 mm.`,
      );
}

/** mm²; a plain number is mm² already. Null where nothing is said. */
export function areaOf(value: Value): number | null {
  const number = asNumber(value);
  return number && unitOf(number.unit) ? convert(number.value, number.unit || 'mm²', 'mm²') : null;
}

/** `45/0`, `45`, `22.5° / 45°`: how far each end leans from square; one angle is that of both. */
export function endsOf(value: Value): readonly [number, number] | NotKnown {
  if (isEmptyValue(value)) return [0, 0];
  const text = formatValue(value);
  const angles = text.split('/').map((part) => /^\s*(\d{1,2}(?:[.,]\d+)?)\s*°?\s*$/.exec(part)?.[1].replace(',', '.'));
  const [left, right = left] = angles.map(Number);
  return angles.length > 2 || angles.includes(undefined) || !(left < 80) || !(right < 80)
    ? new NotKnown(
        'unread',
        `Mitred ends “${text.slice(0, 60)}” cannot be read; write how far each end leans from square, as 45/0, less than 80.`,
      )
    : [left, right];
}

export const noOffer: Offer = { unitPrice: null, breaks: [], multiple: 1, packs: [], minimum: 0 };
