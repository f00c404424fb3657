import { queueOptionsSymbol, type TaskQueue } from 'piscina';
import { describe, expect, test } from 'vitest';
import { seeded } from '../../../testkit/mutants.ts';
import { FairQueue, inGroup } from './fairQueue.ts';

type Task = Parameters<TaskQueue['push']>[0] & { readonly name: string };
const task = (name: string, group: string | null): Task =>
  (group === null ? { name, [queueOptionsSymbol]: null } : inGroup({ name }, group)) as unknown as Task;
const drained = (queue: FairQueue): string[] => {
  const names: string[] = [];
  for (let next = queue.shift(); next; next = queue.shift()) names.push((next as Task).name);
  return names;
};

describe('what waits for a thread', () => {
  test('of one group comes out as it went in', () => {
    const queue = new FairQueue();
    for (const name of ['a', 'b', 'c']) queue.push(task(name, null));
    expect([queue.size, drained(queue), queue.size]).toEqual([3, ['a', 'b', 'c'], 0]);
  });
  test('of several groups takes turns, whichever brought more', () => {
    const queue = new FairQueue();
    for (let at = 0; at < 4; at++) queue.push(task(`much ${at}`, 'much'));
    queue.push(task('little', 'little'));
    queue.push(task('plain', null));
    expect(drained(queue)).toEqual(['much 0', 'little', 'plain', 'much 1', 'much 2', 'much 3']);
  });
  test('can be taken back, and nothing is lost or comes twice', () => {
    const next = seeded(7);
    const queue = new FairQueue();
    const there = new Set<Task>();
    let last = -1;
    for (let step = 0; step < 3000; step++) {
      const choice = next();
      if (choice < 0.5) {
        const one = task(String(step), next() < 0.3 ? null : `g${Math.floor(next() * 4)}`);
        queue.push(one);
        there.add(one);
      } else if (choice < 0.8) {
        const one = queue.shift() as Task | null;
        expect(one === null).toBe(there.size === 0);
        if (one) expect(there.delete(one)).toBe(true);
      } else {
        const [one] = there;
        if (one) queue.remove(one);
        there.delete(one);
      }
      expect(queue.size).toBe(there.size);
      last = step;
    }
    expect([last, new Set(drained(queue))]).toEqual([2999, new Set([...there].map(({ name }) => name))]);
  });
});
