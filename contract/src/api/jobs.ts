import * as v from 'valibot';
import { id } from '../documents/index.ts';

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

/** The job that makes what is missing; null when all is there. */
export const workSchema = v.object({ /** Id of it. */ job: v.nullable(id) });

export const errorSchema = v.object({ /** A sentence for the drafter. */ error: v.string() });
