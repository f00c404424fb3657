import * as v from 'valibot';
import { shadings, type LookRequest } from '../../../core/src/views/index.ts';
import { directionSchema, id, listOf, movesSchema, pathSchema } from '../documents/index.ts';

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
