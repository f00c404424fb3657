import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { Refusal } from '../../core/src/assembly/index.ts';
import type { StepContent } from '../../core/src/step/index.ts';
import type { ReadResult, Task, ViewResult, ViewTask } from './worker.ts';

/** Runs dear computations away from the calling thread. */
export interface Pool {
  /** Structure and shape slices of a STEP file. Rejects with a Refusal where it cannot be taken. */
  readonly read: (bytes: Uint8Array, signal?: AbortSignal) => Promise<StepContent>;
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
    read: async (bytes, signal) => {
      const result: ReadResult = await pool.run({ kind: 'read', bytes } satisfies Task, signal ? { signal } : {});
      if (!result.ok) throw new Refusal(result.code, result.message);
      return result.content;
    },
    tessellate: (text, diagonalMm, signal) => {
      const limit = AbortSignal.timeout(SLICE_LIMIT);
      return pool.run({ kind: 'tessellate', text, diagonalMm } satisfies Task, { signal: signal ? AbortSignal.any([signal, limit]) : limit });
    },
    view: (task, signal) => pool.run({ kind: 'view', ...task } satisfies Task, signal ? { signal } : {}),
    close: () => pool.destroy(),
  };
}
