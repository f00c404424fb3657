import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';

/** Keeps what is dear to compute, under a key that names the function, its version and its inputs. */
export interface DerivedStore {
  readonly get: (key: string) => Promise<Uint8Array | null>;
  readonly put: (key: string, bytes: Uint8Array) => Promise<void>;
}

/** The user's cache folder; whatever cannot be read or written there is computed again. */
export function folderStore(
  folder = join(process.env.XDG_CACHE_HOME || join(homedir(), '.cache'), 'sledgeboard'),
): DerivedStore {
  const pathOf = (key: string) => join(folder, createHash('sha256').update(key).digest('hex').slice(0, 40));
  return {
    get: (key) =>
      readFile(pathOf(key)).then(
        (bytes) => new Uint8Array(bytes),
        () => null,
      ),
    put: async (key, bytes) => {
      try {
        await mkdir(folder, { recursive: true });
        const partial = `${pathOf(key)}.${process.pid}`;
        await writeFile(partial, bytes);
        await rename(partial, pathOf(key)); // never half a file under the final name
      } catch {
        // A full or read-only disk costs time, not the result.
      }
    },
  };
}

export function memoryStore(): DerivedStore {
  const kept = new Map<string, Uint8Array>();
  return { get: async (key) => kept.get(key) ?? null, put: async (key, bytes) => void kept.set(key, bytes) };
}
