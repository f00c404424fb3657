import * as v from 'valibot';
import { catalogueSchema, catalogueValues, id, listOf, wellFormed } from '../documents/index.ts';
import { catalogueKinds, MOST_CATALOGUE } from '../../../core/src/catalogues/index.ts';
import { currencies } from '../../../core/src/columns/index.ts';
import { storedDocumentSchema, historySchema } from './projects.ts';

/** A catalogue that is open in a window. */
export const openCatalogueSchema = v.object({
  /** The catalogue alone. */
  documents: v.pipe(v.array(storedDocumentSchema), v.minLength(1)),
  /** Of the session that asks. */
  history: historySchema,
});

export const catalogueSummarySchema = v.object({
  id,
  /** Count of edits. */
  version: v.number(),
  /** As it reads. */
  name: v.string(),
  /** Count of them. */
  items: v.number(),
  /** ISO date and time of the last edit. */
  changed: v.string(),
});
export type CatalogueSummary = v.InferOutput<typeof catalogueSummarySchema>;
export const catalogueVersionsSchema = v.array(v.object({ id, version: v.number() }));
/** Query: ids, with commas between them. */
export const catalogueIdsSchema = v.object({
  /** Document ids. */
  ids: v.pipe(
    v.string(),
    v.maxLength(4000),
    v.transform((text) => text.split(',').filter(Boolean)),
    v.array(id),
  ),
});
/** How a table is read as a catalogue. */
export const catalogueMappingSchema = v.strictObject({
  /** Index, −1 for none. */
  headingRow: v.pipe(v.number(), v.integer(), v.minValue(-1), v.maxValue(1000)),
  /** One per column of the table. */
  columns: listOf(
    v.strictObject({
      use: v.boolean(),
      heading: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
      kind: v.picklist(catalogueKinds),
      unit: v.pipe(v.string(), v.maxLength(40)),
    }),
    MOST_CATALOGUE.columns,
  ),
  /** Indices of the columns by which parts are found. */
  key: listOf(v.pipe(v.number(), v.integer(), v.minValue(0)), MOST_CATALOGUE.key, 1),
  /** Sign before the decimals. */
  decimalSign: v.picklist(['.', ',']),
});
/** A table as it would be read. */
export const cataloguePreviewSchema = v.object({
  /** The first rows. */
  rows: v.array(v.array(v.string())),
  /** Count of all. */
  of: v.number(),
  /** As it was read last, or as its headings and cells suggest. */
  mapping: catalogueMappingSchema,
  /** Whether the table does not tell the decimal sign. */
  isUnsure: v.boolean(),
  /** Whether a table with these headings was read before. */
  remembered: v.boolean(),
});
export type CataloguePreview = v.InferOutput<typeof cataloguePreviewSchema>;
/** After an import: the new catalogue, and what could not be read, in sentences. */
export const madeCatalogueSchema = v.object({
  id,
  /** Sentences, one for each that could not be read. */ problems: v.array(v.string()),
});
/** What a table would do to a catalogue. Items are named by their ids, values stand under ids of columns. */
export const tableChangesSchema = v.object({
  /** As they would be. */
  columns: catalogueSchema.pipe[0].entries.columns,
  /** Ids of the columns by which parts are found. */
  key: v.array(v.string()),
  /** Values of what is new. */
  added: v.array(catalogueValues),
  /** Items that say something else, with all of the table's values and the columns that differ. */
  changed: v.array(v.object({ id: v.string(), values: catalogueValues, columns: v.array(v.string()) })),
  /** What the table does not have. */
  gone: v.array(v.string()),
  /** Count of items that stay as they are. */
  same: v.number(),
  /** Sentences. */
  problems: v.array(v.string()),
});
export type TableChanges = v.InferOutput<typeof tableChangesSchema>;
/** Query of the import; the mapping as JSON text. */
export const catalogueImportSchema = v.object({
  /** File name. */
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
  /** JSON of how it is read. */
  mapping: v.pipe(v.string(), v.maxLength(60_000), v.parseJson(), v.transform(wellFormed), catalogueMappingSchema),
  /** Id of the catalogue that it is compared with, instead of making one. */
  into: v.optional(id),
});

const price = v.pipe(v.number(), v.finite(), v.minValue(0), v.maxValue(1e9));
/** What a supplier asks for a part. */
export const offerSchema = v.object({
  /** Part number, as it was asked for. */
  number: v.pipe(v.string(), v.maxLength(400)),
  /** Who offers it. */
  firm: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  /** Of one piece, in the currency. */
  unitCost: price,
  /** ISO 4217. */
  currency: v.picklist(currencies),
  /** Working days. */
  leadDays: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(3650)),
  /** Pieces. */
  stock: v.pipe(v.number(), v.integer(), v.minValue(0)),
});
export type Offer = v.InferOutput<typeof offerSchema>;
/** An offer, or why there is none. */
export const supplierAnswerSchema = v.union([
  offerSchema,
  v.object({ number: v.string(), /** A sentence. */ why: v.string() }),
]);
/** Which numbers suppliers are asked for. */
export const supplierQuestionSchema = v.strictObject({
  /** Part numbers. */
  numbers: listOf(v.pipe(v.string(), v.minLength(1), v.maxLength(400)), 2000, 1),
});
