import { cutPlanKey } from '../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../core/src/cutting/index.ts';

/** A cut plan that is kept; null where there is none. */
export async function keptPlan(
  store: { readonly get: (key: string) => Promise<Uint8Array | null> },
  problem: CutProblem,
): Promise<CutPlan | null> {
  const bytes = await store.get(cutPlanKey(problem));
  return bytes ? (JSON.parse(new TextDecoder().decode(bytes)) as CutPlan) : null;
}
