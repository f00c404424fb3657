import * as v from 'valibot';
import { MOST_CUT } from '../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../core/src/cutting/index.ts';
import { holds, listOf, type Same } from './documents/index.ts';

const finite = v.pipe(v.number(), v.finite());
const whole = v.pipe(v.number(), v.integer(), v.minValue(0));
const length = v.pipe(finite, v.minValue(0.001), v.maxValue(1e6));
const loss = v.pipe(finite, v.minValue(0), v.maxValue(1e6));
const angle = v.pipe(finite, v.minValue(0), v.maxValue(79.999));

/** Pieces and the bars that they can be cut from. */
export const cutProblemSchema = v.strictObject({
  pieces: listOf(
    v.strictObject({
      lengthMm: length,
      count: v.pipe(whole, v.minValue(1), v.maxValue(MOST_CUT.pieces)),
      ends: v.optional(v.tuple([angle, angle])),
    }),
    MOST_CUT.lengths,
  ),
  stock: listOf(
    v.strictObject({
      lengthMm: length,
      price: v.nullable(v.pipe(finite, v.minValue(0), v.maxValue(1e9))),
      available: v.nullable(v.pipe(whole, v.maxValue(1e9))),
    }),
    MOST_CUT.bars,
  ),
  kerfMm: loss,
  trimMm: loss,
  leastLeftOverMm: loss,
});
holds<Same<typeof cutProblemSchema, CutProblem>>();

export const cutProblemsSchema = v.strictObject({
  problems: listOf(cutProblemSchema, 500, 1),
  /** Plans that were stopped are looked for once more. */
  again: v.optional(v.boolean()),
});

/** A cut plan as it is kept. */
const cutPlanSchema = v.strictObject({
  bars: v.array(
    v.strictObject({
      stock: whole,
      count: whole,
      pieces: v.array(v.strictObject({ piece: whole, count: whole })),
      leftOverMm: finite,
    }),
  ),
  measure: v.picklist(['price', 'length']),
  cost: finite,
  lowerBound: finite,
  optimal: v.boolean(),
  stopped: v.boolean(),
  boughtMm: finite,
  piecesMm: finite,
  keptMm: finite,
  wasteMm: finite,
  tooLong: v.array(whole),
  missing: v.array(v.strictObject({ piece: whole, count: whole })),
});
holds<Same<typeof cutPlanSchema, CutPlan>>();

/** Plans in the order of their problems, null where there is none yet, and the job that makes those. */
export const cutPlansSchema = v.strictObject({
  plans: v.array(v.nullable(cutPlanSchema)),
  job: v.nullable(v.string()),
});

const gesture = {
  gesture: v.pipe(v.string(), v.minLength(1), v.maxLength(64)),
  session: v.pipe(v.string(), v.minLength(1), v.maxLength(64)),
};
const name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(400));
/** A new plan of buying; a copy where `from` names one. */
export const newPlanSchema = v.strictObject({ name, from: v.optional(v.string()), ...gesture });
/** A plan as an order of today; its number is the next one where none is given. */
export const issueSchema = v.strictObject({
  number: v.optional(v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(100))),
  ...gesture,
});
