import { compareValues, naturalOrder } from './order.ts';
import { convert } from './units.ts';
import { asNumber, isEmptyValue, readNumber, type Value } from './values.ts';

/** Comparisons of one column with a text or number, as they read in a sentence. */
export const comparisons = [
  'is',
  'is not',
  'contains',
  'does not contain',
  'begins with',
  'is empty',
  'is not empty',
  'is more than',
  'is less than',
  'is at least',
  'is at most',
] as const;
export type Comparison = (typeof comparisons)[number];
export const needsOperand = (comparison: Comparison): boolean =>
  comparison !== 'is empty' && comparison !== 'is not empty';

/** One readable rule: “Material is Ash”. `source` names what is looked at, like the source of a column. */
export interface Rule<Source extends string = string> {
  /** Whose value is looked at. */
  readonly source: Source;
  /** How. */
  readonly comparison: Comparison;
  /** With what, as it was typed. */
  readonly operand: string;
}
/** Rules and groups of rules of which all, or any, hold. An empty group holds. */
export interface RuleGroup<Source extends string = string> {
  /** Where all of its members hold, or any. */
  readonly holds: 'all' | 'any';
  /** Rules and groups of rules. */
  readonly of: readonly (Rule<Source> | RuleGroup<Source>)[];
}

const isGroup = <Source extends string>(rule: Rule<Source> | RuleGroup<Source>): rule is RuleGroup<Source> =>
  'of' in rule;

/** Everything that rules look at, in the order of writing. */
export const sourcesIn = <Source extends string>(rules: RuleGroup<Source>): Source[] =>
  rules.of.flatMap((rule) => (isGroup(rule) ? sourcesIn(rule) : [rule.source]));

/** Whether the values that `lookup` gives satisfy the rules. */
export function rulesHold<Source extends string>(
  rule: Rule<Source> | RuleGroup<Source>,
  lookup: (source: Source) => readonly Value[],
): boolean {
  if (!isGroup(rule)) return ruleHolds(rule, lookup(rule.source));
  return (
    rule.of.length === 0 ||
    (rule.holds === 'all'
      ? rule.of.every((one) => rulesHold(one, lookup))
      : rule.of.some((one) => rulesHold(one, lookup)))
  );
}

/** A line with several values satisfies a rule when one of them does; what denies must hold for all of them. */
function ruleHolds({ comparison, operand }: Rule, values: readonly Value[]): boolean {
  const all = values.length > 0 ? values : [null];
  const denies = comparison === 'is not' || comparison === 'does not contain' || comparison === 'is empty';
  return denies
    ? all.every((value) => holdsFor(value, comparison, operand))
    : all.some((value) => holdsFor(value, comparison, operand));
}

function holdsFor(value: Value, comparison: Comparison, operand: string): boolean {
  const text = plain(value),
    wanted = operand.trim().toLocaleLowerCase();
  switch (comparison) {
    case 'is empty':
      return isEmptyValue(value);
    case 'is not empty':
      return !isEmptyValue(value);
    case 'contains':
      return text.includes(wanted);
    case 'does not contain':
      return !text.includes(wanted);
    case 'begins with':
      return text.startsWith(wanted);
    case 'is':
      return equals(value, operand);
    case 'is not':
      return !equals(value, operand);
    default: {
      if (isEmptyValue(value)) return false;
      const order = orderAgainst(value, operand);
      if (comparison === 'is more than') return order > 0;
      if (comparison === 'is less than') return order < 0;
      return comparison === 'is at least' ? order >= 0 : order <= 0;
    }
  }
}

const plain = (value: Value): string =>
  (value === null
    ? ''
    : value.kind === 'text'
      ? value.text
      : value.kind === 'flag'
        ? value.value
          ? 'yes'
          : 'no'
        : `${value.value}${value.unit ? ` ${value.unit}` : ''}`
  )
    .trim()
    .toLocaleLowerCase();

function equals(value: Value, operand: string): boolean {
  const own = asNumber(value),
    number = readNumber(operand);
  // A text is compared as a text first: number 0012 is not number 12.
  if (own && number && (value?.kind === 'number' || number.unit !== '')) {
    const wanted = number.unit === '' ? number.value : convert(number.value, number.unit, own.unit);
    if (wanted !== null) return Math.abs(own.value - wanted) <= 1e-9 * Math.max(1, Math.abs(wanted));
  }
  return plain(value) === operand.trim().toLocaleLowerCase();
}

/** A bare number is in the value's own unit. */
function orderAgainst(value: Value, operand: string): number {
  const own = asNumber(value),
    number = readNumber(operand);
  if (own && number)
    return compareValues(
      { kind: 'number', ...own },
      { kind: 'number', value: number.value, unit: number.unit || own.unit },
      '',
    );
  return naturalOrder('')(plain(value), operand.trim().toLocaleLowerCase());
}

/** In quotes where it would be taken for more than a value when the sentence is read back (readRules). */
const writtenOperand = (operand: string): string =>
  operand.trim() !== operand ||
  operand === '' ||
  /["()]|\s(and|or)\s|^(and|or|not|empty|more|less|at)\b|\b(and|or)$/iu.test(operand)
    ? `"${operand.replaceAll('"', '""')}"`
    : operand;

/** The rules as a sentence; `nameOf` gives the heading of a source. */
export function rulesText<Source extends string>(
  rule: Rule<Source> | RuleGroup<Source>,
  nameOf: (source: Source) => string,
  inner = false,
): string {
  if (!isGroup(rule))
    return `${nameOf(rule.source)} ${rule.comparison}${needsOperand(rule.comparison) ? ` ${writtenOperand(rule.operand)}` : ''}`;
  const text = rule.of.map((one) => rulesText(one, nameOf, true)).join(rule.holds === 'all' ? ' and ' : ' or ');
  return inner && rule.of.length > 1 ? `(${text})` : text;
}
