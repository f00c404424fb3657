import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { jobLimit, nextJob, usualSlots, type Slots, type WaitingJob } from './turns.ts';

const job = (id: string, kind: WaitingJob['kind'], ofProject: string | null, created: number): WaitingJob => ({
  id,
  kind,
  ofProject,
  created,
});

/** Does all jobs, each for one turn, as many at once as there are slots; the order in which they were begun. */
function order(jobs: readonly WaitingJob[], slots: Slots): WaitingJob[] {
  const waiting = [...jobs];
  const begun: WaitingJob[] = [];
  let running: WaitingJob[] = [];
  while (waiting.length > 0 || running.length > 0) {
    for (let next = nextJob(waiting, running, slots); next; next = nextJob(waiting, running, slots)) {
      waiting.splice(waiting.indexOf(next), 1);
      running.push(next);
      begun.push(next);
    }
    running = running.slice(1);
  }
  return begun;
}

describe('which job is next', () => {
  test('the oldest, where all are of one kind and project', () => {
    const jobs = [job('b', 'view', 'p', 2), job('a', 'view', 'p', 1), job('c', 'view', 'p', 3)];
    expect(order(jobs, usualSlots).map(({ id }) => id)).toEqual(['a', 'b', 'c']);
  });
  test('a project that orders a hundred pictures does not hold up another one that orders one later', () => {
    const many = Array.from({ length: 100 }, (_, at) => job(`many ${at}`, 'view', 'many', at));
    const begun = order([...many, job('one', 'view', 'other', 1000)], usualSlots).map(({ id }) => id);
    expect(begun.indexOf('one')).toBeLessThanOrEqual(2);
  });
  test('drawings leave files that come in their slots', () => {
    const drawings = Array.from({ length: 5 }, (_, at) => job(`d${at}`, 'intention', `p${at}`, at));
    const file = job('file', 'import', null, 99);
    expect(nextJob([...drawings, file], drawings.slice(0, 2), usualSlots)).toBe(file);
  });
  test('every job has its turn, none twice, and no lane takes more than its slots', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            kind: fc.constantFrom('import', 'view', 'shapes', 'intention', 'recognise'),
            ofProject: fc.constantFrom(null, 'a', 'b'),
            created: fc.nat(50),
          }),
          { maxLength: 40 },
        ),
        (given) => {
          const jobs = given.map((one, at) => ({ id: String(at), ...one }) as WaitingJob);
          const begun = order(jobs, usualSlots);
          expect(new Set(begun)).toEqual(new Set(jobs));
          expect(begun).toHaveLength(jobs.length);
          const full = [job('x', 'view', 'a', 0), job('y', 'view', 'b', 0)];
          expect(nextJob(jobs, full, usualSlots)?.kind).not.toBe('view');
        },
      ),
    ));
  test('what a job may take grows with what it is about', () => {
    expect(jobLimit('shapes', 0)).toBe(600_000);
    expect(jobLimit('shapes', 1000)).toBeGreaterThan(jobLimit('shapes', 10));
  });
});
