import * as v from 'valibot';
import {
  catalogueKinds,
  MOST_CATALOGUE,
  MOST_LINKS,
  type Catalogue,
  type CatalogueItem,
  type CatalogueLink,
  type KeptValues,
} from '../../../core/src/catalogues/index.ts';
import type { CatalogueCommand } from '../../../core/src/documents/index.ts';
import {
  holds,
  id,
  listOf,
  MOST_ID,
  propertyName,
  propertyValue,
  shortText,
  unitText,
  whole,
  type Same,
} from './shared.ts';

const column = v.strictObject({
  id,
  heading: propertyName,
  kind: v.picklist(catalogueKinds),
  unit: unitText,
});
export const values = v.record(id, propertyValue);
const item = v.strictObject({ id, values });
/**
 * The same by hand: a catalogue has hundreds of thousands of values, which are looked at whenever it is read and kept.
 * What does not pass is looked at once more by the schema, which alone decides.
 */
const quickItem = v.custom<CatalogueItem>(
  (given) => isItem(given) || v.is(item, given),
  'This is no item of a catalogue.',
);
const MOST = { text: 10_000, unit: 40 };
const isId = (text: string): boolean => text.length > 0 && text.length <= MOST_ID && text !== '__proto__';
function isItem(given: unknown): boolean {
  if (!isRecord(given)) return false;
  const { id: name, values: said, ...rest } = given;
  if (typeof name !== 'string' || !isId(name) || !isRecord(said)) return false;
  for (const _ in rest) return false;
  for (const column in said) if (!isId(column) || !isValue(said[column])) return false;
  return true;
}
function isValue(given: unknown): boolean {
  if (!isRecord(given)) return false;
  for (const key in given) if (key !== 'value' && key !== 'unit') return false;
  const { value, unit } = given;
  if (unit !== undefined && (typeof unit !== 'string' || unit.length > MOST.unit)) return false;
  return typeof value === 'string'
    ? value.length <= MOST.text
    : typeof value === 'number'
      ? Number.isFinite(value)
      : typeof value === 'boolean';
}
const isRecord = (given: unknown): given is Record<string, unknown> =>
  typeof given === 'object' && given !== null && !Array.isArray(given);
/** Texts of keys: two columns at most, each as long as a text may be. */
const keyText = v.pipe(
  v.string(),
  v.minLength(1),
  v.maxLength(20_001),
  v.check((name) => name !== '__proto__', 'This is no key.'),
);
const catalogueColumns = listOf(column, MOST_CATALOGUE.columns, 1);
const key = listOf(id, MOST_CATALOGUE.key, 1);

export const catalogueSchema = v.pipe(
  v.strictObject({
    version: v.literal(1),
    name: shortText,
    columns: catalogueColumns,
    items: v.array(quickItem),
    key,
    aliases: v.record(keyText, id),
  }),
  v.check(
    ({ columns, items }) => columns.length * items.length <= MOST_CATALOGUE.cells,
    `A catalogue has at most ${MOST_CATALOGUE.cells / 1e6} million cells.`,
  ),
);

/** What can be done to a catalogue. */
export const catalogueCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('renameCatalogue'), name: shortText }),
  v.strictObject({
    kind: v.literal('typeItems'),
    items: v.record(id, v.record(id, v.nullable(propertyValue))),
  }),
  v.strictObject({
    kind: v.literal('changeItems'),
    remove: v.array(id),
    put: v.array(v.strictObject({ item, at: whole })),
    aliases: v.optional(v.record(keyText, id)),
  }),
  v.strictObject({ kind: v.literal('setCatalogueColumns'), columns: catalogueColumns, key }),
  v.strictObject({ kind: v.literal('acceptKeys'), aliases: v.record(keyText, v.nullable(id)) }),
]);

const catalogueLink = v.strictObject({
  catalogue: id,
  by: v.optional(listOf(shortText, MOST_CATALOGUE.key, 1)),
  columns: v.optional(listOf(id, MOST_CATALOGUE.columns)),
});
export const catalogueLinks = listOf(catalogueLink, MOST_LINKS);
export const keptValues = v.strictObject({
  date: v.pipe(v.string(), v.regex(/^\d{4}-\d{2}-\d{2}$/)),
  catalogues: v.record(id, catalogueSchema),
});

holds<Same<typeof keptValues, KeptValues>>();
holds<Same<typeof catalogueSchema, Catalogue>>();
holds<Same<typeof catalogueCommandSchema, CatalogueCommand>>();
holds<Same<typeof catalogueLink, CatalogueLink>>();
