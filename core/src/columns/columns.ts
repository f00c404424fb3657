import type { Assembly, Component, PropertyValue } from '../assembly/index.ts';

/** Where a column's values come from: about the line, about the component, or a property by name. */
export type ColumnSource =
  | 'item' | 'quantity' | 'totalQuantity'
  | 'partNumber' | 'name' | 'description' | 'revision' | 'source'
  | `property:${string}`;

/** One column of a bill. */
export interface Column {
  readonly id: string;
  readonly source: ColumnSource;
  readonly heading: string;
}

/** Everything that a column needs to know about a line. */
export interface LineFacts {
  readonly item: string;
  readonly quantity: number;
  readonly totalQuantity: number;
  /** The components that the line stands for, first in structure order first. */
  readonly components: readonly Component[];
}

/** A cell as it reads. `differing` counts the values that the line's components have between them, when more than one. */
export interface Cell {
  readonly text: string;
  readonly differing: number;
}

const headings: Readonly<Record<Exclude<ColumnSource, `property:${string}`>, string>> = {
  item: 'Item', quantity: 'Qty', totalQuantity: 'Total qty', partNumber: 'Part number', name: 'Name', description: 'Description', revision: 'Rev.', source: 'Made or bought',
};

export function newColumn(source: ColumnSource, id: string = source): Column {
  const heading = source.startsWith('property:') ? source.slice('property:'.length) : headings[source as keyof typeof headings];
  return { id, source, heading };
}

/** What a new bill starts with; material only where the machine has one. */
export function defaultColumns(assembly: Assembly): Column[] {
  const known = new Set(knownColumns(assembly).map((column) => column.source));
  const wanted: ColumnSource[] = ['item', 'quantity', 'partNumber', 'name', 'property:Material'];
  return wanted.filter((source) => !source.startsWith('property:') || known.has(source)).map((source) => newColumn(source));
}

export const isNumberColumn = (source: ColumnSource): boolean => source === 'quantity' || source === 'totalQuantity';

/** A column that could be shown, with an example from this machine and how many of its components have a value. */
export interface KnownColumn extends Column {
  readonly example: string;
  readonly filled: number;
  readonly of: number;
}

/** Everything known about the components of an assembly, as columns. */
export function knownColumns(assembly: Assembly): KnownColumn[] {
  const components = assembly.components.filter((_, index) => index !== assembly.root);
  const own: ColumnSource[] = ['item', 'quantity', 'totalQuantity', 'partNumber', 'name', 'description', 'revision', 'source'];
  const names = new Set(components.flatMap((component) => Object.keys(component.properties)));
  const sources = [...own, ...[...names].map((name) => `property:${name}` as const)];
  return sources.map((source) => {
    const values = components.map((component) => componentText(component, source)).filter((text) => text !== '');
    return { ...newColumn(source), example: values[0] ?? '', filled: values.length, of: components.length };
  });
}

/** The text of a cell. */
export function cellOf(line: LineFacts, source: ColumnSource): Cell {
  if (source === 'item') return { text: line.item, differing: 1 };
  if (source === 'quantity') return { text: String(line.quantity), differing: 1 };
  if (source === 'totalQuantity') return { text: String(line.totalQuantity), differing: 1 };
  const values = new Set(line.components.map((component) => componentText(component, source)));
  return { text: [...values][0] ?? '', differing: values.size };
}

function componentText(component: Component, source: ColumnSource): string {
  switch (source) {
    case 'item': case 'quantity': case 'totalQuantity': return '';
    case 'partNumber': case 'name': case 'description': case 'revision': return component[source];
    case 'source': return component.source ?? '';
    default: return propertyText(component.properties[source.slice('property:'.length)]);
  }
}

/** A property as text with its unit: `33.7 mm`, `Ash`, `yes`. */
export function propertyText(property: PropertyValue | undefined): string {
  if (!property) return '';
  const { value, unit } = property;
  const text = typeof value === 'boolean' ? (value ? 'yes' : 'no') : typeof value === 'number' ? numberText(value) : value;
  return unit ? `${text} ${unit}` : text;
}

/** Up to six significant digits, without trailing zeros or exponents for everyday sizes. */
const numberText = (value: number): string => String(Number(value.toPrecision(6)));
