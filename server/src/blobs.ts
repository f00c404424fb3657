import { createHash } from 'node:crypto';
import type { DataSource } from 'typeorm';
import type { DerivedStore } from '../../engine/src/index.ts';

const CHUNK = 1 << 20; // bytes; within any server's default packet size

/** Bytes in the database, in chunks. Content and derived values are written once and never changed. */
export interface BlobStore extends DerivedStore {
  readonly has: (key: string) => Promise<boolean>;
  readonly remove: (key: string) => Promise<void>;
}

/** Keys may be long; the row's id is their hash, with a readable beginning. */
export const blobId = (key: string): string =>
  `${key.slice(0, 40).replace(/[^a-zA-Z0-9]+/g, '-')} ${createHash('sha256').update(key).digest('hex').slice(0, 40)}`;

export function blobStore(database: DataSource): BlobStore {
  return {
    get: async (key) => {
      const id = blobId(key);
      const [found] = (await database.query('SELECT size FROM `blob` WHERE id = ?', [id])) as { size: number }[];
      if (!found) return null;
      const bytes = new Uint8Array(Number(found.size));
      let at = 0;
      for (let part = 0; at < bytes.length; part++) {
        const [chunk] = (await database.query('SELECT bytes FROM blob_chunk WHERE `blob` = ? AND part = ?', [
          id,
          part,
        ])) as { bytes: Buffer }[];
        if (!chunk) return null; // written by a server that was killed half-way; it is made again
        bytes.set(chunk.bytes, at);
        at += chunk.bytes.length;
      }
      return bytes;
    },
    put: async (key, bytes) => {
      const id = blobId(key);
      // One transaction: whoever looks sees all of it or nothing.
      await database.transaction(async (manager) => {
        const [known] = (await manager.query('SELECT id FROM `blob` WHERE id = ?', [id])) as unknown[];
        if (known) return;
        await manager.query('INSERT IGNORE INTO `blob` (id, size, created) VALUES (?, ?, ?)', [
          id,
          bytes.length,
          new Date(),
        ]);
        for (let at = 0, part = 0; at < bytes.length; at += CHUNK, part++) {
          await manager.query('INSERT IGNORE INTO blob_chunk (`blob`, part, bytes) VALUES (?, ?, ?)', [
            id,
            part,
            Buffer.from(bytes.subarray(at, at + CHUNK)),
          ]);
        }
      });
    },
    has: async (key) =>
      ((await database.query('SELECT id FROM `blob` WHERE id = ?', [blobId(key)])) as unknown[]).length > 0,
    remove: async (key) => {
      await database.query('DELETE FROM `blob` WHERE id = ?', [blobId(key)]);
    },
  };
}
