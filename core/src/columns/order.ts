import { isEmptyValue, type Value } from './values.ts';
import { unitOf } from './units.ts';

const collators = new Map<string, Intl.Collator>();

/** Natural order: M6 before M10, 2 before 10; small and capital letters alike at first. */
export function naturalOrder(locale: string): (one: string, two: string) => number {
  let collator = collators.get(locale);
  if (!collator) collators.set(locale, (collator = collatorOf(locale)));
  return collator.compare;
}

/** A language that there is none of is read as none: the order of the machine's own. */
function collatorOf(locale: string): Intl.Collator {
  const how = { numeric: true, sensitivity: 'variant', caseFirst: 'upper' } as const;
  try {
    return new Intl.Collator(locale || undefined, how);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return new Intl.Collator(undefined, how);
  }
}

/**
 * Numbers by size in whatever unit they are, then texts in natural order, then yes before no; what is empty is not
 * compared here.
 */
export function compareValues(one: Value, two: Value, locale: string): number {
  const [a, b] = [rankOf(one), rankOf(two)];
  if (a !== b) return a - b;
  if (one?.kind === 'number' && two?.kind === 'number') return sizeOf(one) - sizeOf(two);
  if (one?.kind === 'text' && two?.kind === 'text') return naturalOrder(locale)(one.text, two.text);
  if (one?.kind === 'flag' && two?.kind === 'flag') return Number(two.value) - Number(one.value);
  return 0;
}

const rankOf = (value: Value): number =>
  isEmptyValue(value) ? 3 : value!.kind === 'number' ? 0 : value!.kind === 'text' ? 1 : 2;
const sizeOf = ({ value, unit }: { value: number; unit: string }): number => value * (unitOf(unit)?.factor ?? 1);
