import type { PropertyValue } from '../assembly/index.ts';
import { propertyText } from '../columns/index.ts';
import { isSameValue, readCell } from './reading.ts';
import type { CatalogueColumn, CatalogueItem } from './records.ts';

const decimals = (value: number): number => /\.(\d+)$/.exec(String(value))?.[1].length ?? 0;

/** A value as it reads in its cell; prices with two decimals at least. */
export function catalogueText(value: PropertyValue | undefined, kind: CatalogueColumn['kind']): string {
  if (value === undefined) return '';
  if (kind !== 'money' || typeof value.value !== 'number') return propertyText(value);
  return [value.value.toFixed(Math.min(10, Math.max(2, decimals(value.value)))), value.unit].filter(Boolean).join(' ');
}

/** A text that is typed into a cell. */
export interface ItemInput {
  readonly item: CatalogueItem;
  readonly column: CatalogueColumn;
  readonly text: string;
}
const kindWords: Readonly<Record<CatalogueColumn['kind'], string>> = {
  text: 'a text',
  number: 'a number',
  money: 'a price, such as 12.50 or 12.50 EUR',
  date: 'a date, such as 2026-03-05',
  'yes or no': 'yes or no',
  link: 'a link',
  picture: 'a picture; bring one in as a file, or paste it',
};

/**
 * Values of what was typed, by item and column, null where a cell was emptied; and in sentences what could not be read.
 * Numbers may have a point or a comma.
 */
export function typedItems(inputs: readonly ItemInput[]): {
  readonly items: Readonly<Record<string, Readonly<Record<string, PropertyValue | null>>>>;
  readonly refused: readonly string[];
} {
  const items: Record<string, Record<string, PropertyValue | null>> = {};
  const refused = new Set<string>();
  for (const { item, column, text } of inputs) {
    const value = readCell(text, column, '.') ?? readCell(text, column, ',');
    if (value === undefined) {
      refused.add(`“${text.trim().slice(0, 60)}” is not ${kindWords[column.kind]}; ${column.heading} stays as it was.`);
      continue;
    }
    const before = Object.hasOwn(item.values, column.id) ? item.values[column.id] : undefined;
    if (value === null ? before === undefined : isSameValue(value, before)) continue;
    (items[item.id] ??= {})[column.id] = value;
  }
  return { items, refused: [...refused] };
}
