import type { PropertyValue } from '../assembly/index.ts';
import { unitOf } from './units.ts';

/** What a cell holds before it is written; null where nothing is known. `unit` is empty for plain numbers. */
export type Value =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'number'; readonly value: number; readonly unit: string }
  | { readonly kind: 'flag'; readonly value: boolean }
  | null;

export const textValue = (text: string): Value => ({ kind: 'text', text });
export const numberValue = (value: number, unit = ''): Value => ({ kind: 'number', value, unit });

export const isEmptyValue = (value: Value): boolean =>
  value === null || (value.kind === 'text' && value.text.trim() === '');

export function valueOfProperty(property: PropertyValue | undefined): Value {
  if (!property) return null;
  const { value, unit } = property;
  if (typeof value === 'number') return numberValue(value, unit ?? '');
  if (typeof value === 'boolean') return { kind: 'flag', value };
  return textValue(unit && value ? `${value} ${unit}` : value);
}

/**
 * As a drafter would type it: a number with or without a unit is a number where one stood before, everything else is
 * text.
 */
export function typedValue(text: string, before: Value): Value {
  if (before?.kind === 'flag' && /^(yes|no)$/i.test(text.trim()))
    return { kind: 'flag', value: /^yes$/i.test(text.trim()) };
  if (before?.kind !== 'number') return textValue(text);
  const number = readNumber(text);
  return number ? numberValue(number.value, number.unit || before.unit) : textValue(text);
}

/** A number as people write it, with `.` or `,` and perhaps a unit behind it; null for anything else. */
export function readNumber(text: string): { value: number; unit: string } | null {
  const match = /^\s*([+\-−]?)\s*(\d+(?:[.,]\d*)?|[.,]\d+)\s*([\p{L}°µ"][^\d\s]*[\d²³]?|"|%)?\s*$/u.exec(text);
  if (!match) return null;
  const value = Number(match[2].replace(',', '.'));
  return Number.isFinite(value)
    ? { value: match[1] === '-' || match[1] === '−' ? -value : value, unit: match[3] ?? '' }
    : null;
}

/**
 * The number in a value, for calculating: a number itself, or a text that is one with a unit that is known (`760
 * mm`), as lists and typed cells have it. Null for anything else.
 */
export function asNumber(value: Value): { value: number; unit: string } | null {
  if (value?.kind === 'number') return value;
  const read = value?.kind === 'text' ? readNumber(value.text) : null;
  return read && unitOf(read.unit) ? read : null;
}

/** Two values that read alike are one: `M8`, `M8 `. Numbers are compared with their unit. */
export const valueKey = (value: Value): string =>
  value === null
    ? ''
    : value.kind === 'text'
      ? value.text && `t ${value.text}`
      : value.kind === 'number'
        ? `n ${value.value} ${value.unit}`
        : `f ${value.value}`;
