import type { Properties, PropertyValue } from '../../assembly/index.ts';
import type { Bill, Row } from '../../bill/index.ts';
import { propertyNameOf, type Column, type Value } from '../../columns/index.ts';
import type { Catalogue, CatalogueColumn } from '../../catalogues/index.ts';

/** What a value is in a catalogue; a text that says nothing is not there. */
function catalogued(value: Value): PropertyValue | null {
  if (value === null || (value.kind === 'text' && value.text.trim() === '')) return null;
  if (value.kind === 'text') return { value: value.text };
  if (value.kind === 'flag') return { value: value.value };
  return { value: value.value, ...(value.unit ? { unit: value.unit } : {}) };
}

const kindOf = (values: readonly PropertyValue[]): Pick<CatalogueColumn, 'kind' | 'unit'> => {
  const [first] = values;
  if (first && values.every(({ value }) => typeof value === 'number'))
    return { kind: 'number', unit: values.every(({ unit }) => unit === first.unit) ? (first.unit ?? '') : '' };
  return { kind: first && values.every(({ value }) => typeof value === 'boolean') ? 'yes or no' : 'text', unit: '' };
};

/**
 * What the lines of a bill say of their parts, as items for a catalogue: of the columns that are shown those that are the
 * parts' own, under the headings that they have as properties. Columns that the catalogue has keep their ids.
 */
export function itemsOfBill(
  bill: Bill,
  columns: readonly Column[],
  rows: readonly Row[],
  { columns: known, key }: Pick<Catalogue, 'columns' | 'key'>,
  newId: () => string,
): { readonly columns: readonly CatalogueColumn[]; readonly items: readonly Properties[] } {
  const own = columns.flatMap(({ source, hidden }) => {
    const name = propertyNameOf(source);
    return hidden || name === null || source === 'partNumber' ? [] : [{ source, name }];
  });
  const told = rows.map((row) => ({
    number: catalogued(bill.values(row, 'partNumber')[0] ?? null),
    values: own.map(({ source }) => catalogued(bill.values(row, source)[0] ?? null)),
  }));
  const idOf = new Map(known.map(({ id, heading }) => [heading.toLowerCase(), id]));
  const fresh: CatalogueColumn[] = [];
  const ids = own.map(({ name }, at) => {
    const there = idOf.get(name.toLowerCase());
    if (there !== undefined) return there;
    const given = told.flatMap(({ values }) => values[at] ?? []);
    const column = { id: newId(), heading: name, ...kindOf(given) };
    if (given.length > 0) fresh.push(column);
    return column.id;
  });
  return {
    columns: [...known, ...fresh],
    items: told.map(({ number, values }) => {
      const item: Record<string, PropertyValue> = number ? { [key[0]]: number } : {};
      values.forEach((value, at) => {
        if (value) item[ids[at]] = value;
      });
      return item;
    }),
  };
}
