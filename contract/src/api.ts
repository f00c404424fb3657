import * as v from 'valibot';
import { shadings, type LookRequest } from '../../core/src/views/index.ts';
import { confidences } from '../../core/src/revisions/index.ts';
import { columnRoles } from '../../core/src/sources/index.ts';
import {
  catalogueSchema,
  catalogueValues,
  directionSchema,
  houseStyleSchema,
  id,
  intentionSchema,
  listOf,
  movesSchema,
  pathSchema,
  wellFormed,
} from './documents/index.ts';
import { catalogueKinds, MOST_CATALOGUE } from '../../core/src/catalogues/index.ts';
import { currencies } from '../../core/src/columns/index.ts';
import { documentKinds } from '../../core/src/documents/index.ts';

/** How far a job is. */
export const jobSchema = v.object({
  id,
  /** Which work it is. */
  kind: v.picklist(['import', 'shapes', 'view', 'intention', 'recognise', 'foresee', 'cutPlans']),
  /** The last three are final. */
  state: v.picklist(['queued', 'running', 'done', 'failed', 'cancelled']),
  /** What it is doing, in words; done of of. */
  progress: v.object({ step: v.string(), done: v.number(), of: v.number() }),
  /** A sentence: why it failed; once done, what there is to say about it. */
  reason: v.nullable(v.string()),
  /** Project made by an import, once done. */
  project: v.nullable(v.string()),
});
export type Job = v.InferOutput<typeof jobSchema>;

export const projectSummarySchema = v.object({
  id,
  /** Of the machine. */
  name: v.string(),
  /** As it was uploaded. */
  fileName: v.string(),
  /** As the file gives it; empty for none. */
  revision: v.string(),
  /** Count of different parts. */
  parts: v.number(),
  /** Pieces in one machine. */
  leafOccurrences: v.number(),
  /** Count of sheets that are there. */
  sheets: v.number(),
  /**
   * Changes in the newest revision where something of the project shows an earlier one, at least 1; 0 where nothing does.
   */
  behind: v.number(),
  /** ISO date and time of the last edit. */
  changed: v.string(),
});
export type ProjectSummary = v.InferOutput<typeof projectSummarySchema>;

export const storedDocumentSchema = v.object({
  id,
  /** Which record its content is. */
  kind: v.picklist(documentKinds),
  /** Count of edits; a gesture is made for one. */
  version: v.number(),
  /** The record, see docs of its kind. */
  content: v.unknown(),
  /**
   * A sentence where what is stored cannot be read: `content` is what it was last when it could be. Nothing of it is
   * changed before it is taken back to that.
   */
  damaged: v.optional(v.string()),
});
export type StoredDocument = v.InferOutput<typeof storedDocumentSchema>;

/** What can be taken back or done again by this session, in words. */
const historySchema = v.object({ undo: v.nullable(v.string()), redo: v.nullable(v.string()) });
export type History = v.InferOutput<typeof historySchema>;

const findingSchema = v.object({
  code: v.string(),
  message: v.string(),
  key: v.optional(v.string()),
  components: v.optional(v.array(v.string())),
  /** Components that belong together, where it proposes to keep groups apart. */
  groups: v.optional(v.array(v.array(v.string()))),
});
const measuredSchema = v.object({
  value: v.union([v.string(), v.number(), v.boolean()]),
  unit: v.optional(v.string()),
  how: v.string(),
});

/** What is known about the shapes of a project so far. */
export const shapesSchema = v.object({
  /** The job that makes those that are missing; null when none does. */
  job: v.nullable(id),
  /** Whether all are made. */
  complete: v.boolean(),
  /** Measured sizes and volumes by shape. */
  facts: v.record(
    v.string(),
    v.object({ sizes: v.record(v.string(), measuredSchema), volume: v.nullable(v.number()) }),
  ),
  /** What was noticed in the shapes. */
  findings: v.array(findingSchema),
});
export type Shapes = v.InferOutput<typeof shapesSchema>;

/** Places that a view names. */
const MOST_PLACES = 10_000;
/** What is to be looked at (see LookRequest of core/views), in which variant of the machine. */
export const lookSchema = v.strictObject({
  /** By name, or as turned. */
  direction: directionSchema,
  /** Paths left out with all below them. */
  without: v.optional(listOf(pathSchema, MOST_PLACES)),
  /** Paths shown with all below them; the whole machine where absent. */
  only: v.optional(listOf(pathSchema, MOST_PLACES)),
  /** What has left its seat; as assembled where absent. */
  moves: v.optional(movesSchema),
  /** Whether lines that cannot be seen are wanted too. */
  hidden: v.optional(v.literal(true)),
  /** How faces are filled; lines alone where absent. */
  shade: v.optional(v.picklist(shadings)),
  /** Variant that is looked at; null for the whole machine. */
  variant: v.nullable(v.pipe(v.string(), v.maxLength(64))),
});
export type LookOrder = v.InferOutput<typeof lookSchema>;
/** The order of what a placed view looks at. */
export const lookOrder = (
  { direction, without, only, moves, hidden, shade }: LookRequest,
  variant: string | null,
): LookOrder => ({
  direction: typeof direction === 'string' ? direction : [...direction],
  without: without && [...without],
  only: only && [...only],
  moves: moves?.map(({ path, steps }) => ({ path, steps: steps.map(([x, y, z]) => [x, y, z]) })),
  hidden,
  shade,
  variant,
});
export const viewsOrderSchema = v.strictObject({
  /** What is to be drawn. */
  looks: listOf(lookSchema, 50, 1),
  /** Revision of the machine that is looked at; the project's where absent. */
  revision: v.optional(id),
});
/** Under which keys the views are, once the job that draws those that are missing is done. */
export const viewsAnswerSchema = v.object({
  /** One for each look, in their order. */ keys: v.array(v.string()),
  /** What draws those that are missing; null when all are there. */ job: v.nullable(id),
});
export type ViewsAnswer = v.InferOutput<typeof viewsAnswerSchema>;
/** The job that makes what is missing; null when all is there. */
export const workSchema = v.object({ /** Id of it. */ job: v.nullable(id) });

/** A file of the machine that was brought into a project. */
const revisionSchema = v.object({
  id,
  /** As the file gives it; empty for none. */
  label: v.string(),
  /** As it was uploaded. */
  fileName: v.string(),
  /** ISO date and time at which it was brought in. */
  created: v.string(),
  /** Why. */
  remark: v.string(),
  /** By whom; as typed. */
  who: v.string(),
  /** Count of different parts. */
  parts: v.number(),
  /** Pieces in one machine. */
  leafOccurrences: v.number(),
  /** Parts that are new, gone or otherwise than in the revision before. */
  changes: v.number(),
  /** Parts of it that were recognised with less than certainty, and nobody has said yet what they are. */
  unsure: v.number(),
});
export type Revision = v.InferOutput<typeof revisionSchema>;

const componentKey = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/));
/** How a revision was recognised, as it is stored. */
export const matchesSchema = v.strictObject({
  /** Of this record, as it is stored. */
  version: v.literal(1),
  /** What the drafter said about pairs: of the earlier revision, of the file as it was read. */
  answers: listOf(v.strictObject({ was: componentKey, is: componentKey, same: v.boolean() }), 20_000),
  /** Parts that are new, gone or otherwise than in the revision that it was recognised against. */
  changes: v.number(),
  /** Key that it was read with → key in the project, where they differ. */
  keys: v.record(componentKey, componentKey),
  /** Recognised with less than certainty, by the keys as read. */
  unsure: v.array(
    v.strictObject({
      is: componentKey,
      was: componentKey,
      confidence: v.picklist(confidences),
      /** What speaks for it and against. */
      why: v.string(),
    }),
  ),
});
export type Matches = v.InferOutput<typeof matchesSchema>;

/** A file that comes in: its name, and where it is a further revision of a project, which, why and by whom. */
export const importSchema = v.object({
  /** Of the file. */
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
  /** Project that it is a further revision of; one of its own where absent. */
  into: v.optional(id),
  /** Why it is brought in. */
  remark: v.optional(v.pipe(v.string(), v.maxLength(400)), ''),
  /** By whom; as typed. */
  who: v.optional(v.pipe(v.string(), v.maxLength(190)), ''),
});

/** Why and by whom a revision was brought in. */
export const remarkSchema = v.strictObject({
  /** Why. */
  remark: v.pipe(v.string(), v.maxLength(400)),
  /** By whom; as typed. */
  who: v.pipe(v.string(), v.maxLength(190)),
});
/** A part of a revision that was recognised with less than certainty. */
export const unsurePartSchema = v.object({
  /** Key that it was read with. */
  is: componentKey,
  /** Key in the project of what it is taken for. */
  was: componentKey,
  /** Key in the project that it has now. */
  key: componentKey,
  /** How sure it is. */
  confidence: v.picklist(confidences),
  /** What speaks for it and against. */
  why: v.string(),
  /** What was said about it; null for nothing yet. */
  same: v.nullable(v.boolean()),
});
export type UnsurePart = v.InferOutput<typeof unsurePartSchema>;
/** Which two revisions are compared; the project's and its newest where they are not said. */
export const comparedSchema = v.object({
  /** Id of the earlier one. */ was: v.optional(id),
  /** Id of the later one. */ is: v.optional(id),
});

/**
 * Two lists of a project that are compared, by their document ids; in a variant by its id, or with an empty text of the
 * machine as a whole. Each as it is where no variant is said.
 */
export const comparedListsSchema = v.object({
  /** The list that is compared with. */
  was: id,
  /** The list that is compared. */
  is: id,
  /** Of the first. */
  wasVariant: v.optional(v.pipe(v.string(), v.maxLength(64))),
  /** Of the second. */
  isVariant: v.optional(v.pipe(v.string(), v.maxLength(64))),
});

/** What the drafter says about parts of a revision: the same as one of the earlier revision, or not. */
export const answersSchema = v.strictObject({
  /** Pairs, each by its two keys. */ answers: matchesSchema.entries.answers,
});

export const projectSchema = v.object({
  /** As on the start page. */
  summary: projectSummarySchema,
  /** Oldest first; which of them each document shows, the document says. */
  revisions: v.array(revisionSchema),
  /** All of them, oldest first. */
  documents: v.array(storedDocumentSchema),
  /** Of the session that asks. */
  history: historySchema,
  /** What was noticed in the file. */
  findings: v.array(findingSchema),
});
export type Project = v.InferOutput<typeof projectSchema>;

/** Largest file that can be brought in; bytes. */
export const MAX_FILE = 600 * 1024 * 1024;

/** What Undo says has no more letters. */
export const MOST_LABEL = 200;

/** One gesture: commands for one or several documents, all carried out or none. */
export const gestureSchema = v.object({
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
  /** What Undo will say; what its first command says of itself where absent. */
  label: v.optional(v.pipe(v.string(), v.maxLength(MOST_LABEL)), ''),
  /** All carried out or none. */
  steps: listOf(
    v.object({
      document: id,
      version: v.pipe(v.number(), v.integer()),
      command: v.looseObject({ kind: v.string() }),
    }),
    100,
    1,
  ),
});
export type Gesture = v.InferOutput<typeof gestureSchema>;
/** What is meant, to be carried out by a job as one gesture of the session. */
export const intendedSchema = v.strictObject({
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
  /** What Undo will say. */
  label: v.pipe(v.string(), v.minLength(1), v.maxLength(MOST_LABEL)),
  /** What is meant. */
  intention: intentionSchema,
});
export const sessionSchema = v.object({
  /** Window that asks. */
  session: id,
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: v.optional(id),
});

/** After a gesture: documents that changed, whole, and the history. */
export const acceptedSchema = v.object({
  /** As they read now. */ documents: v.array(storedDocumentSchema),
  /** Of the session that made it. */ history: historySchema,
});
export type Accepted = v.InferOutput<typeof acceptedSchema>;

/** 409: somebody else was first. */
export const staleSchema = v.object({
  /** A sentence. */
  error: v.string(),
  /** Edits since the version that the gesture was made for, oldest first. */
  since: v.array(
    v.object({ document: id, session: id, label: v.string(), command: v.looseObject({ kind: v.string() }) }),
  ),
  /** As they read now. */
  documents: v.array(storedDocumentSchema),
});
export type Stale = v.InferOutput<typeof staleSchema>;

/** How a structure list is read. */
export const listMappingSchema = v.object({
  /** Index, −1 for none. */
  headingRow: v.pipe(v.number(), v.integer(), v.minValue(-1)),
  /** One per column. */
  roles: listOf(v.picklist(columnRoles), 500),
});
/** An uploaded list before it is brought in: its first rows, how many there are, and what the headings suggest. */
export const listPreviewSchema = v.object({
  /** The first of them, as text. */
  rows: v.array(v.array(v.string())),
  /** How many there are. */
  of: v.number(),
  /** What the headings suggest, or what was chosen before. */
  mapping: listMappingSchema,
  /** True where the mapping was used for a list with these headings before. */ remembered: v.boolean(),
});
export type ListPreview = v.InferOutput<typeof listPreviewSchema>;

/** A picture that is kept, and what it is called. */
export const pictureSchema = v.object({
  /** Its name: SHA-256 of the bytes. */
  blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  /** Width over height. */
  ratio: v.number(),
});

/** Query of a list's import; the mapping as JSON text. */
export const listImportSchema = v.object({
  /** File name. */
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
  /** JSON of how it is read. */
  mapping: v.pipe(v.string(), v.maxLength(20_000), v.parseJson(), v.transform(wellFormed), listMappingSchema),
});

/** A catalogue that is open in a window. */
export const openCatalogueSchema = v.object({
  /** The catalogue alone. */
  documents: v.pipe(v.array(storedDocumentSchema), v.minLength(1)),
  /** Of the session that asks. */
  history: historySchema,
});
/** Query of what comes with a file. */
export const fileNameSchema = v.object({
  /** With its ending, by which its kind is told. */ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)),
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

/** A new bill: a copy of another one, what a recipe file asks for, or blank with the usual house style. */
export const newBillSchema = v.object({
  /** At least one letter. */
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A bill needs a name.'), v.maxLength(400)),
  /** Document id of the bill that is copied. */
  from: v.optional(id),
  /** Content of a recipe file. */
  recipe: v.optional(v.unknown()),
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
});
/** A new sheet: a copy of another one or blank, behind the one named or the last. */
export const newSheetSchema = v.strictObject({
  /** At least one letter. */
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A sheet needs a name.'), v.maxLength(400)),
  /** Document id of the sheet that is copied; blank where absent. */
  from: v.optional(id),
  /** Document id; behind the last where absent. */
  behind: v.optional(id),
  /** Given by the client: a repeated request is answered as the first time. */
  gesture: id,
  /** Window that makes it. */
  session: id,
});
export const madeSheetSchema = v.object({ /** Id of the sheet. */ document: id });
/** What was made, and what a recipe file names that this machine lacks. */
export const madeDocumentSchema = v.object({
  /** Id of it. */ document: id,
  /** Names of properties and columns. */ missing: v.array(v.string()),
});
/** House styles kept for all projects, and the name of the one that new bills begin with. */
export const stylesSchema = v.object({
  /** In alphabetical order. */
  styles: v.array(houseStyleSchema),
  /** Name of one of them; null for none. */
  usual: v.nullable(v.string()),
  /** Names of styles that cannot be read, each with a sentence why. */
  unread: v.array(v.object({ name: v.string(), why: v.string() })),
});
export type Styles = v.InferOutput<typeof stylesSchema>;
export const usualStyleSchema = v.object({
  /** Of a style that is kept; null for none. */ name: v.nullable(v.pipe(v.string(), v.maxLength(150))),
});

export const errorSchema = v.object({ /** A sentence for the drafter. */ error: v.string() });
