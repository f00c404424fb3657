import type { DataSource, EntityManager } from 'typeorm';
import { expect, test } from 'vitest';
import { blobStore } from './blobs.ts';
import { inTransaction } from './database.ts';

/** A database that ends so many transactions for a deadlock, as MariaDB does with one of two that wait crosswise. */
function deadlocking(times: number) {
  const kept: unknown[][] = [];
  let begun = 0;
  const connection = { promise: () => ({ execute: async (_: string, values: unknown[]) => void kept.push(values) }) };
  const manager = {
    query: async () => [],
    queryRunner: { connect: async () => connection },
  } as unknown as EntityManager;
  const database = {
    transaction: async (work: (manager: EntityManager) => Promise<unknown>) => {
      begun++;
      const before = kept.length;
      const result = await work(manager);
      if (begun > times) return result;
      kept.length = before; // rolled back
      throw Object.assign(new Error('Deadlock found when trying to get lock'), { code: 'ER_LOCK_DEADLOCK' });
    },
  } as unknown as DataSource;
  return { database, kept, begun: () => begun };
}

test('bytes whose transaction met a deadlock are stored all the same, and once', async () => {
  const { database, kept, begun } = deadlocking(3);
  await blobStore(database).put('file', new Uint8Array(2_500_000).fill(7));
  expect(begun()).toBe(4);
  expect(kept.map(([, part]) => part)).toEqual([0, 1, 2]);
});
test('where the database ends it every time, that is said', async () => {
  const { database } = deadlocking(99);
  await expect(inTransaction(database, async () => 'kept')).rejects.toThrow('Deadlock');
});
test('any other fault is one at once', async () => {
  const { database, begun } = deadlocking(0);
  await expect(
    inTransaction(database, async () => {
      throw new Error('no such table');
    }),
  ).rejects.toThrow('no such table');
  expect(begun()).toBe(1);
});
