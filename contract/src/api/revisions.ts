import * as v from 'valibot';
import { confidences } from '../../../core/src/revisions/index.ts';
import { id, listOf } from '../documents/index.ts';

/** A file of the machine that was brought into a project. */
export const revisionSchema = v.object({
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
