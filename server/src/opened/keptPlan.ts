import { cutPlanKey } from '../../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../../core/src/cutting/index.ts';

interface Kept {
  readonly get: (key: string) => Promise<Uint8Array | null>;
}

/** JSON of a cut plan that is kept; null where there is none. @param key see cutPlanKey */
export async function keptPlanText(store: Kept, key: string): Promise<string | null> {
  const bytes = await store.get(key);
  return bytes ? new TextDecoder().decode(bytes) : null;
}

/** A cut plan that is kept; null where there is none. */
export async function keptPlan(store: Kept, problem: CutProblem): Promise<CutPlan | null> {
  const text = await keptPlanText(store, cutPlanKey(problem));
  return text === null ? null : (JSON.parse(text) as CutPlan);
}

/** Whether a plan is what was found when it was stopped, and not the end of the search. @param plan its JSON */
export const isStopped = (plan: string): boolean => (JSON.parse(plan) as CutPlan).stopped === true;
