import { expect, test } from 'vitest';
import { cutPlanKey } from '../../../core/src/buying/index.ts';
import type { CutProblem } from '../../../core/src/cutting/index.ts';
import { memoryStore } from '../../../engine/src/index.ts';
import type { Services } from '../http/http.ts';
import { makeCutPlans } from './cutPlans.ts';
import { JobOverran } from './turns.ts';

const problem = (lengthMm: number): CutProblem => ({
  pieces: [{ lengthMm, count: 2 }],
  stock: [{ lengthMm: 6000, price: null, available: null }],
  kerfMm: 3,
  trimMm: 0,
  leastLeftOverMm: 0,
});

test('of many problems none is begun any more once the job is cancelled; the plan at hand is kept', async () => {
  const gone = new AbortController();
  const store = memoryStore();
  const begun: number[] = [];
  const pool = {
    planCuts: async ({ pieces }: CutProblem) => {
      begun.push(pieces[0].lengthMm);
      gone.abort();
      return { bars: [], stopped: true };
    },
  };
  const blobs = { has: async (key: string) => (await store.get(key)) !== null, forProject: () => store };
  const things: number[] = [];
  await makeCutPlans(
    { project: 'p', problems: Array.from({ length: 20 }, (_, at) => problem(100 + at)) },
    { id: 'j', signal: gone.signal, report: () => {}, note: () => {}, sized: (count) => things.push(count) },
    { blobs, pool } as unknown as Pick<Services, 'blobs' | 'pool'>,
  );
  expect([begun, things]).toEqual([[100], [20]]);
});

test('planning that takes longer than it may says so, and keeps the plan at hand', async () => {
  const late = new AbortController();
  const store = memoryStore();
  const pool = { planCuts: async () => (late.abort(new JobOverran(600_000)), { bars: [], stopped: true }) };
  const blobs = { has: async () => false, forProject: () => store };
  await expect(
    makeCutPlans(
      { project: 'p', problems: [problem(100), problem(200)] },
      { id: 'j', signal: late.signal, report: () => {}, note: () => {}, sized: () => {} },
      { blobs, pool } as unknown as Pick<Services, 'blobs' | 'pool'>,
    ),
  ).rejects.toThrow('more than 10 minutes');
  expect(await store.get(cutPlanKey(problem(100)))).not.toBeNull();
});
