import { ownValue, ownFields, type Assembly, type Component, type PropertyValue } from '../assembly/index.ts';
import { formatValue, headingUnit, type Format } from './format.ts';
import { textValue, valueOfProperty, type Value } from './values.ts';

/** What the bill itself knows about a line, and a component's own fields. */
export const plainSources = [
  'item',
  'quantity',
  'totalQuantity',
  'unit',
  'partNumber',
  'name',
  'description',
  'revision',
  'source',
  'massEach',
  'massTotal',
  'usedIn',
  'labels',
  'fileName',
  'picture',
  'sheet',
  'zone',
] as const;
type PlainSource = (typeof plainSources)[number];

/**
 * Where a column's values come from: about the line, about the component, a property by name, the quantity in a
 * variant, or an expression over other columns.
 */
export type ColumnSource = PlainSource | `property:${string}` | `variant:${string}` | 'pattern' | 'formula';

/** One column of a bill. */
export interface Column {
  /** Of its own in the bill. */
  readonly id: string;
  /** Where its values come from. */
  readonly source: ColumnSource;
  /** As it reads, without the unit. */
  readonly heading: string;
  /** For a text pattern or formula: `{reference}` names other columns, see `referenceOf`. */
  readonly expression?: string;
  /** How values read; as usual for the source where absent. */
  readonly format?: Format;
  /**
   * Whether the sum of its values stands below the last line: over all pieces, where a value is of one piece (see
   * `isPerPiece`); `one each` adds every line once whatever its quantity.
   */
  readonly total?: boolean | 'one each';
  /** Whether a line that has nothing here is a finding. */
  readonly required?: boolean;
  /** In pixels on screen, where it was drawn to a width by hand. */
  readonly width?: number;
  /** Kept, but not shown. */
  readonly hidden?: boolean;
  /** Stays although it says nothing: it is not proposed for taking out again. */
  readonly stays?: boolean;
}

/** A cell as it reads. */
export interface Cell {
  /** As it reads. */
  readonly text: string;
  /** What stands behind the text; null for nothing. */
  readonly value: Value;
  /** Count of values that the line's components have between them. */
  readonly differing: number;
  /** What the model says, where this bill says otherwise. */
  readonly model?: string;
  /** Why an expression has no value here. */
  readonly fault?: string;
}

/** Whether a column's numbers are of one piece, so that a sum has to count the pieces. */
export const isPerPiece = ({ source }: Pick<Column, 'source'>): boolean =>
  source === 'massEach' || source.startsWith('property:');

const headings: Readonly<Record<PlainSource, string>> = {
  item: 'Item',
  quantity: 'Qty',
  totalQuantity: 'Total qty',
  unit: 'Unit',
  partNumber: 'Part number',
  name: 'Name',
  description: 'Description',
  revision: 'Rev.',
  source: 'Made or bought',
  massEach: 'Mass each',
  massTotal: 'Mass total',
  usedIn: 'Used in',
  labels: 'Labels',
  fileName: 'File name',
  picture: 'Picture',
  sheet: 'Sheet',
  zone: 'Zone',
};

/** What a source is called where it has no column of its own. */
export function sourceName(source: ColumnSource): string {
  if (source.startsWith('property:')) return source.slice('property:'.length);
  if (source.startsWith('variant:')) return 'Qty in a variant';
  return source === 'pattern' ? 'Text' : source === 'formula' ? 'Result' : headings[source as PlainSource];
}

export const newColumn = (source: ColumnSource, id: string = source): Column => ({
  id,
  source,
  heading: sourceName(source),
  ...(source === 'massEach' || source === 'massTotal'
    ? { format: { unit: 'kg', unitPlace: 'heading' as const, decimals: 3 } }
    : {}),
});

/**
 * What a new bill starts with; material only where the machine has one. A column that nothing fills is left out, and part
 * numbers that repeat the name of every part, as files without numbers have them.
 */
export function defaultColumns(assembly: Assembly): Column[] {
  const known = new Set(knownColumns(assembly).map((column) => column.source));
  const wanted: ColumnSource[] = ['item', 'quantity', 'partNumber', 'name', 'property:Material'];
  const parts = assembly.components.filter((_, index) => index !== assembly.root);
  const says = (source: 'partNumber' | 'name') => parts.some((part) => part[source] !== '');
  const repeats = parts.length > 0 && parts.every(({ partNumber, name }) => partNumber === name);
  const isWorthwhile = (source: ColumnSource) => {
    if (source === 'partNumber') return says('partNumber') && !repeats;
    if (source === 'name') return says('name') || !says('partNumber');
    return !source.startsWith('property:') || known.has(source);
  };
  return wanted.filter(isWorthwhile).map((source) => newColumn(source));
}

const NUMBERS = new Set<string>(['quantity', 'totalQuantity', 'massEach', 'massTotal', 'formula']);
export const isNumberColumn = (source: ColumnSource): boolean => NUMBERS.has(source) || source.startsWith('variant:');

/** How a column's cells stand, unless its format says otherwise. */
export const alignmentOf = ({ source, format }: Column): 'left' | 'centre' | 'right' =>
  format?.align ?? (isNumberColumn(source) ? 'right' : source === 'item' || source === 'picture' ? 'centre' : 'left');

/** The heading with the unit where that stands in it. */
export function headingOf({ heading, format }: Column): string {
  const unit = headingUnit(format);
  return unit ? `${heading} [${unit}]` : heading;
}

/** What names a column in an expression: its source where that says all, else the column itself. */
export const referenceOf = ({ id, source }: Column): string =>
  source === 'pattern' || source === 'formula' ? `column:${id}` : source;

/** A column that could be shown, with an example from this machine and how many of its components have a value. */
interface KnownColumn extends Column {
  readonly example: string;
  readonly filled: number;
  readonly of: number;
}

/** Everything known about the components of an assembly, as columns. */
export function knownColumns(assembly: Assembly): KnownColumn[] {
  const components = assembly.components.filter((_, index) => index !== assembly.root);
  const names = new Set(components.flatMap((component) => Object.keys(component.properties)));
  const sources: ColumnSource[] = [...plainSources, ...[...names].map((name) => `property:${name}` as const)];
  return sources.map((source) => {
    const values = components
      .map((component) => formatValue(componentValue(component, source)))
      .filter((text) => text !== '');
    return { ...newColumn(source), example: values[0] ?? '', filled: values.length, of: components.length };
  });
}

/** What a component itself says; null for what only a line can say. */
export function componentValue(component: Component, source: ColumnSource): Value {
  if (source.startsWith('property:'))
    return valueOfProperty(ownValue(component.properties, source.slice('property:'.length)));
  switch (source) {
    case 'partNumber':
    case 'name':
    case 'description':
    case 'revision':
      return textValue(component[source]);
    case 'source':
      return component.source ? textValue(component.source) : null;
    default:
      return null;
  }
}

/**
 * Name under which a value typed into a column belongs to the component, or null for a column that is no property of
 * it.
 */
export function propertyNameOf(source: ColumnSource): string | null {
  if (source.startsWith('property:')) return source.slice('property:'.length);
  const at = (['partNumber', 'name', 'description', 'revision', 'source'] as const).findIndex(
    (field) => field === source,
  );
  return at < 0 ? null : ownFields[at];
}

/** A property as text with its unit: `33.7 mm`, `Ash`, `yes`. */
export const propertyText = (property: PropertyValue | undefined): string =>
  formatValue(valueOfProperty(property)).replace('\u00a0', ' ');
