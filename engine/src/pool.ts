import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { Task, ViewResult, ViewTask } from './worker.ts';

/** Runs dear computations away from the calling thread. */
export interface Pool {
  /** A packed mesh. Rejects where the shape cannot be tessellated or takes longer than SLICE_LIMIT. */
  readonly tessellate: (text: string, diagonalMm: number, signal?: AbortSignal) => Promise<Uint8Array>;
  readonly view: (task: Omit<ViewTask, 'kind'>, signal?: AbortSignal) => Promise<ViewResult>;
  readonly close: () => Promise<void>;
}

/** One shape may take this long; then its worker is replaced. ms */
const SLICE_LIMIT = 120_000;
/** Idle workers are kept this long for the next piece of work. ms */
const IDLE = 5000;

/** @param workerFile the bundled worker.ts */
export function startPool(workerFile: string): Pool {
  const pool = new Piscina({ filename: workerFile, minThreads: 0, maxThreads: Math.max(1, availableParallelism()), idleTimeout: IDLE });
  return {
    tessellate: (text, diagonalMm, signal) => {
      const limit = AbortSignal.timeout(SLICE_LIMIT);
      return pool.run({ kind: 'tessellate', text, diagonalMm } satisfies Task, { signal: signal ? AbortSignal.any([signal, limit]) : limit });
    },
    view: (task, signal) => pool.run({ kind: 'view', ...task } satisfies Task, signal ? { signal } : {}),
    close: () => pool.destroy(),
  };
}
