import { convert } from './units.ts';
import type { Value } from './values.ts';

export const dateForms = ['2026-03-05', '05.03.2026', '05/03/2026', '03/05/2026', '5 March 2026'] as const;
type DateForm = (typeof dateForms)[number];
export const denominators = [2, 4, 8, 16, 32, 64] as const;

/**
 * How the values of a column are written. Nothing given: up to six significant digits, with the unit behind the
 * number.
 */
export interface Format {
  /** Numbers are converted to this unit where they measure the same. */
  readonly unit?: string;
  /** Where the unit stands; behind each number unless said otherwise. */
  readonly unitPlace?: 'cell' | 'heading' | 'nowhere';
  /** Digits after the sign; wins over `significant`. */
  readonly decimals?: number;
  /** Significant digits instead of decimals. */
  readonly significant?: number;
  /** A point where absent. */
  readonly decimalSign?: '.' | ',';
  /** Inches as fractions: the finest denominator, and 1 3/8 in one line or with raised and lowered figures. */
  readonly fraction?: { readonly denominator: (typeof denominators)[number]; readonly stacked: boolean };
  /** How dates are written; as they are given where absent. */
  readonly date?: DateForm;
  /** Texts in capitals. */
  readonly upperCase?: boolean;
  /** Word for yes. */
  readonly yes?: string;
  /** Word for no. */
  readonly no?: string;
  /** Stands where nothing is known. */
  readonly empty?: string;
  /** Numbers to the right and texts to the left where absent. */
  readonly align?: 'left' | 'centre' | 'right';
}

/** Name under which a picture is kept that a value stands for: `picture:` and the hash of it; null for another text. */
export const pictureIn = (text: string): string | null => /^picture:([0-9a-f]{64})$/.exec(text)?.[1] ?? null;

/** A value as it reads in a cell. */
export function formatValue(value: Value, format: Format = {}): string {
  const { empty = '', yes = 'yes', no = 'no' } = format;
  if (value === null) return empty;
  if (value.kind === 'number') return formatNumber(value.value, value.unit, format);
  if (value.kind === 'flag') return cased(value.value ? yes : no, format);
  if (value.text === '') return empty;
  if (pictureIn(value.text) !== null) return cased('picture', format);
  return cased(format.date ? formatDate(value.text, format.date) : value.text, format);
}

const cased = (text: string, { upperCase }: Format): string => (upperCase ? text.toLocaleUpperCase() : text);

/** The unit that a column's numbers are in, for its heading; empty where it stands elsewhere. */
export const headingUnit = ({ unit, unitPlace }: Format = {}): string => (unitPlace === 'heading' ? (unit ?? '') : '');

/** A number in the unit that it is written in, and the unit where that stands behind it. */
function inShownUnit(
  value: number,
  unit: string,
  format: Format,
): { number: number; behind: string; asFraction: NonNullable<Format['fraction']> | null } {
  const converted = format.unit === undefined ? null : convert(value, unit, format.unit);
  const [shown, shownUnit] = converted === null ? [value, unit] : [converted, format.unit!];
  // A unit that differs from the column's is never dropped: the number would be wrong without it.
  const place = format.unit !== undefined && converted === null && unit !== '' ? 'cell' : (format.unitPlace ?? 'cell');
  const inches = format.fraction && shownUnit !== '' ? convert(shown, shownUnit, 'in') : null;
  const behind = inches !== null ? '"' : shownUnit;
  return {
    number: inches ?? shown,
    behind: place === 'cell' ? behind : '',
    asFraction: inches === null ? null : format.fraction!,
  };
}

function formatNumber(value: number, unit: string, format: Format): string {
  const { number, behind, asFraction } = inShownUnit(value, unit, format);
  const digits = asFraction ? fractionText(number, asFraction) : numberText(number, format);
  return behind ? `${digits}${behind === '"' || behind === '%' ? '' : '\u00a0'}${behind}` : digits;
}

/**
 * A value for a spreadsheet that shall read as it does in the list: a number, a date or a text, with the pattern that
 * writes it.
 */
export type SpreadsheetValue =
  | { readonly kind: 'number'; readonly value: number; readonly pattern: string }
  /** ISO 8601. */
  | { readonly kind: 'date'; readonly value: string; readonly pattern: string }
  | { readonly kind: 'text'; readonly value: string };

const DATE_PATTERNS: Readonly<Record<DateForm, string>> = {
  '2026-03-05': 'yyyy-mm-dd',
  '05.03.2026': 'dd.mm.yyyy',
  '05/03/2026': 'dd/mm/yyyy',
  '03/05/2026': 'mm/dd/yyyy',
  '5 March 2026': 'd mmmm yyyy',
};

/** Number patterns as in ECMA-376 part 1, 18.8.31 (numFmts). */
export function spreadsheetValue(value: Value, format: Format = {}): SpreadsheetValue {
  if (value?.kind === 'number' && Number.isFinite(value.value)) {
    const { number, behind, asFraction } = inShownUnit(value.value, value.unit, format);
    const digits = asFraction
      ? `# ${'?'.repeat(String(asFraction.denominator).length)}/${asFraction.denominator}`
      : format.decimals === undefined
        ? 'General'
        : format.decimals === 0
          ? '0'
          : `0.${'0'.repeat(format.decimals)}`;
    return {
      kind: 'number',
      value: number,
      pattern: behind
        ? `${digits}"${behind === '"' || behind === '%' ? '' : ' '}${behind === '"' ? '″' : behind}"`
        : digits,
    };
  }
  const day = value?.kind === 'text' && format.date ? /^\d{4}-\d{2}-\d{2}/.exec(value.text.trim())?.[0] : undefined;
  if (day && !Number.isNaN(Date.parse(day))) return { kind: 'date', value: day, pattern: DATE_PATTERNS[format.date!] };
  return { kind: 'text', value: formatValue(value, format) };
}

function numberText(value: number, { decimals, significant, decimalSign = '.' }: Format): string {
  const text =
    decimals !== undefined
      ? roundTo(value, decimals).toFixed(decimals)
      : significant !== undefined
        ? significantText(value, significant)
        : plainText(Number(value.toPrecision(6)), value);
  return text.replace('-', '−').replace('.', decimalSign);
}

/** Whole numbers are written whole, however long. */
const plainText = (rounded: number, value: number): string =>
  Number.isSafeInteger(value) ? String(value) : String(rounded);

/** Rounds what is written, not the binary fraction behind it: 1.005 to two decimals is 1.01. */
function roundTo(value: number, decimals: number): number {
  const [digits, exponent = '0'] = String(Math.abs(value)).split('e');
  const rounded = Number(`${Math.round(Number(`${digits}e${Number(exponent) + decimals}`))}e${-decimals}`);
  return Number.isFinite(rounded) ? (value < 0 && rounded !== 0 ? -rounded : rounded) : value;
}

function significantText(value: number, digits: number): string {
  if (value === 0) return (0).toFixed(digits - 1);
  const places = digits - 1 - Math.floor(Math.log10(Math.abs(value)));
  const rounded = roundTo(value, places);
  return rounded.toFixed(Math.min(20, Math.max(0, digits - 1 - Math.floor(Math.log10(Math.abs(rounded))))));
}

const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹',
  LOWERED = '₀₁₂₃₄₅₆₇₈₉';
const figures = (number: number, set: string): string =>
  [...String(number)].map((digit) => set[Number(digit)]).join('');

/** To the nearest fraction of this denominator, in lowest terms: 1.374 in at eighths is 1 3/8. */
function fractionText(inches: number, { denominator, stacked }: NonNullable<Format['fraction']>): string {
  const parts = Math.round(Math.abs(inches) * denominator);
  const whole = Math.floor(parts / denominator);
  let top = parts % denominator,
    bottom: number = denominator;
  while (top > 0 && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2];
  const sign = inches < 0 && parts > 0 ? '−' : '';
  if (top === 0) return `${sign}${whole}`;
  const fraction = stacked ? `${figures(top, RAISED)}⁄${figures(bottom, LOWERED)}` : `${top}/${bottom}`;
  return `${sign}${whole > 0 ? `${whole}${stacked ? '' : ' '}` : ''}${fraction}`;
}

const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** ISO 8601 dates in another form; a text that is no such date stays as it is. */
function formatDate(text: string, form: DateForm): string {
  const match = /^(\d{4})-(\d{2})-(\d{2})(?:[T ].*)?$/.exec(text.trim());
  if (!match) return text;
  const [, year, month, day] = match;
  switch (form) {
    case '2026-03-05':
      return `${year}-${month}-${day}`;
    case '05.03.2026':
      return `${day}.${month}.${year}`;
    case '05/03/2026':
      return `${day}/${month}/${year}`;
    case '03/05/2026':
      return `${month}/${day}/${year}`;
    case '5 March 2026':
      return `${Number(day)} ${MONTHS[Number(month) - 1] ?? month} ${year}`;
  }
}
