import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { DataSource } from 'typeorm';
import type { DerivedStore } from '../../../engine/src/index.ts';
import { execute, inTransaction, NOW } from './database.ts';

const CHUNK = 1 << 20; // bytes; within any server's default packet size

/** Bytes in the database, in chunks. Content and derived values are written once and never changed. */
export interface BlobStore extends DerivedStore {
  /** A file's bytes, a piece at a time. */
  readonly putFile: (key: string, path: string) => Promise<void>;
  /** The same store; what is made of views in it belongs to a project and goes with it. */
  readonly forProject: (project: string) => BlobStore;
  /** Bytes; null for what is not there. */
  readonly size: (key: string) => Promise<number | null>;
  readonly has: (key: string) => Promise<boolean>;
  /** Of these keys those that are there. */
  readonly those: (keys: readonly string[]) => Promise<ReadonlySet<string>>;
  readonly remove: (key: string) => Promise<void>;
  /** Of the store of a project: removes what belongs to it and has keys that begin so, but for some; up to 40 letters. */
  readonly removeOthers: (beginning: string, kept: string) => Promise<void>;
}

const readable = (key: string): string => key.slice(0, 40).replace(/[^a-zA-Z0-9]+/g, '-');

/** Keys may be long; the row's id is their hash, with a readable beginning. */
export const blobId = (key: string): string =>
  `${readable(key)} ${createHash('sha256').update(key).digest('hex').slice(0, 40)}`;

const isOfView = (key: string): boolean => /^(lines|spots|foreseen|cut) /.test(key);

/** @param project to whom lines, spots, cut plans and what is foreseen belong that are stored; null: nobody */
export function blobStore(database: DataSource, project: string | null = null): BlobStore {
  /** One transaction: whoever looks sees all of it or nothing. */
  const store = (key: string, size: number, pieces: (keep: (piece: Buffer) => Promise<void>) => Promise<void>) =>
    inTransaction(database, async (manager) => {
      const id = blobId(key);
      const [known] = (await manager.query('SELECT id FROM `blob` WHERE id = ?', [id])) as unknown[];
      if (known) return;
      const owner = isOfView(key) ? project : null;
      await manager.query(`INSERT IGNORE INTO \`blob\` (id, size, created, project) VALUES (?, ?, ${NOW}, ?)`, [
        id,
        size,
        owner,
      ]);
      let part = 0;
      await pieces(async (piece) => {
        await execute(manager, 'INSERT IGNORE INTO blob_chunk (`blob`, part, bytes) VALUES (?, ?, ?)', [
          id,
          part++,
          piece,
        ]);
      });
    });
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
    put: (key, bytes) =>
      store(key, bytes.length, async (keep) => {
        for (let at = 0; at < bytes.length; at += CHUNK) await keep(Buffer.from(bytes.subarray(at, at + CHUNK)));
      }),
    putFile: async (key, path) => {
      const { size } = await stat(path);
      await store(key, size, async (keep) => {
        for await (const piece of createReadStream(path, { highWaterMark: CHUNK })) await keep(piece as Buffer);
      });
    },
    forProject: (owner) => blobStore(database, owner),
    size: async (key) => {
      const [row] = (await database.query('SELECT size FROM `blob` WHERE id = ?', [blobId(key)])) as { size: number }[];
      return row ? Number(row.size) : null;
    },
    has: async (key) =>
      ((await database.query('SELECT id FROM `blob` WHERE id = ?', [blobId(key)])) as unknown[]).length > 0,
    those: async (keys) => {
      if (keys.length === 0) return new Set();
      const keyOf = new Map(keys.map((key) => [blobId(key), key]));
      const rows = (await database.query('SELECT id FROM `blob` WHERE id IN (?)', [[...keyOf.keys()]])) as {
        id: string;
      }[];
      return new Set(rows.map(({ id }) => keyOf.get(id)!));
    },
    remove: async (key) => {
      await database.query('DELETE FROM `blob` WHERE id = ?', [blobId(key)]);
    },
    removeOthers: async (beginning, kept) => {
      await database.query('DELETE FROM `blob` WHERE project = ? AND id LIKE ? AND id NOT LIKE ?', [
        project,
        `${readable(beginning)}%`,
        `${readable(kept)}%`,
      ]);
    },
  };
}

/**
 * A file is stored once, however often it is imported.
 * @param hash SHA-256 in hexadecimal
 */
export const fileKey = (hash: string): string => `file ${hash}`;
