import * as v from 'valibot';
import { id, intentionSchema, listOf } from '../documents/index.ts';
import { documentKinds } from '../../../core/src/documents/index.ts';
import { revisionSchema } from './revisions.ts';

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
export const historySchema = v.object({
  /** Null where there is nothing to take back. */
  undo: v.nullable(v.string()),
  /** Null where nothing was taken back. */
  redo: v.nullable(v.string()),
});
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
