import * as v from 'valibot';
import type { Cut } from '../../../core/src/sections/index.ts';
import { shadings, type LookRequest } from '../../../core/src/views/index.ts';
import {
  cutsSchema,
  directionSchema,
  id,
  listOf,
  movesSchema,
  panesSchema,
  partsSchema,
  pathSchema,
} from '../documents/index.ts';

/** Where a piece of a detail may reach to, see the schema of sheets. */
const farthest = v.pipe(v.number(), v.finite(), v.minValue(-1e8), v.maxValue(1e8));
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
  /** What is taken away so that the inside is seen; nothing where absent. */
  cut: v.optional(
    v.strictObject({
      /** In machine coordinates, one after the other. */
      cuts: cutsSchema,
      /** Pieces of the view in which something else is taken away. */
      panes: v.optional(panesSchema),
      /** Whether shafts, screws and their like stay whole. */
      lengthwise: v.optional(v.literal(true)),
      /** Parts that stay whole. */
      whole: v.optional(partsSchema),
      /** Parts that are cut. */
      through: v.optional(partsSchema),
    }),
  ),
  /** Left, low, right and high side of the piece of the view plane that is looked at; everything where absent. mm */
  window: v.optional(
    v.pipe(
      v.tuple([farthest, farthest, farthest, farthest]),
      v.check(([x0, y0, x1, y1]) => x0 < x1 && y0 < y1, 'The window has no area'),
    ),
  ),
  /** Variant that is looked at; null for the whole machine. */
  variant: v.nullable(v.pipe(v.string(), v.maxLength(64))),
});
export type LookOrder = v.InferOutput<typeof lookSchema>;
const cutsOrder = (cuts: readonly Cut[]) =>
  cuts.map((one) =>
    one.map(({ normal: [x, y, z], offset }) => ({ normal: [x, y, z] as [number, number, number], offset })),
  );

/** The order of what a placed view looks at. */
export const lookOrder = (
  { direction, without, only, moves, hidden, shade, cut, window }: LookRequest,
  variant: string | null,
): LookOrder => ({
  direction: typeof direction === 'string' ? direction : [...direction],
  without: without && [...without],
  only: only && [...only],
  moves: moves?.map(({ path, steps }) => ({ path, steps: steps.map(([x, y, z]) => [x, y, z]) })),
  hidden,
  shade,
  cut: cut && {
    cuts: cutsOrder(cut.cuts),
    panes: cut.panes?.map(({ cuts, border, beyond, turned }) => ({
      cuts: cutsOrder(cuts),
      border: border?.map(([x, y]) => [x, y]),
      beyond: beyond && { from: [...beyond.from], way: [...beyond.way] },
      turned: turned && { about: [...turned.about], along: [...turned.along], by: turned.by },
    })),
    lengthwise: cut.lengthwise,
    whole: cut.whole && [...cut.whole],
    through: cut.through && [...cut.through],
  },
  window: window && [...window],
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
