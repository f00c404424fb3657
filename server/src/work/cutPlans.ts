import * as v from 'valibot';
import { cutPlanKey } from '../../../core/src/buying/index.ts';
import type { Services } from '../http/http.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { ServerStopping, type JobContext } from './jobRunner.ts';
import { JobOverran } from './turns.ts';

/**
 * The job: cut plans, one problem after the other. Where it is cancelled, or takes longer than it may, the best that was
 * found for the one at hand is kept, and the others are not begun.
 */
export async function makeCutPlans(
  payload: unknown,
  { signal, report, sized }: JobContext,
  { blobs, pool }: Pick<Services, 'blobs' | 'pool'>,
): Promise<string> {
  const { project, problems } = v.parse(jobPayloads.cutPlans, payload);
  const store = blobs.forProject(project);
  const step = 'Planning the cuts';
  sized(problems.length);
  for (const [at, problem] of problems.entries()) {
    if (signal.aborted && at > 0) break; // those that were not begun are begun when they are asked for again
    const key = cutPlanKey(problem);
    if (await blobs.has(key)) continue;
    report({ step, done: at, of: problems.length });
    const plan = await pool.planCuts(
      problem,
      ({ cost, lowerBound }) => report({ step: progressWords(step, cost, lowerBound), done: at, of: problems.length }),
      signal,
    );
    if (signal.reason instanceof ServerStopping) throw signal.reason;
    await store.put(key, new TextEncoder().encode(JSON.stringify(plan)));
  }
  // What took longer than it may says so; what was found is kept.
  if (signal.reason instanceof JobOverran) throw signal.reason;
  return project;
}

const progressWords = (step: string, cost: number, lowerBound: number): string =>
  Number.isFinite(cost) && lowerBound > 0
    ? `${step}, at most ${((cost / lowerBound - 1) * 100).toFixed(1)} % above the cheapest`
    : step;
