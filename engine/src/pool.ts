import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { Refusal, type ShapeMeasurement } from '../../core/src/assembly/index.ts';
import type { Likeness } from '../../core/src/geometry/index.ts';
import type { Table } from '../../core/src/sources/index.ts';
import type { CarriedOut } from '../../core/src/documents/index.ts';
import type { Answer, CarryOutTask, PackedModel, Source, Task, ViewResult, ViewTask } from './tasks.ts';

/** Runs dear computations away from the calling thread. */
export interface Pool {
  /**
   * Structure, slices and meshes of a file of any kind that can be brought in. Rejects with a Refusal where it cannot
   * be taken.
   */
  readonly read: (source: Source, signal?: AbortSignal) => Promise<PackedModel>;
  /** Rows of a structure list (CSV, TSV, or the first sheet of a workbook). Rejects with a Refusal. */
  readonly table: (source: Source) => Promise<Table>;
  /** A packed mesh. Rejects where the shape cannot be tessellated or takes longer than SLICE_LIMIT. */
  readonly tessellate: (text: string, diagonalMm: number, signal?: AbortSignal) => Promise<Uint8Array>;
  readonly measure: (mesh: Uint8Array, signal?: AbortSignal) => Promise<ShapeMeasurement>;
  /** A PNG picture. */
  readonly thumbnail: (mesh: Uint8Array, signal?: AbortSignal) => Promise<Uint8Array>;
  readonly compare: (one: Uint8Array, other: Uint8Array, signal?: AbortSignal) => Promise<Likeness | null>;
  /** What a gesture takes. Rejects with a Refusal where it cannot be carried out. */
  readonly carryOut: (task: Omit<CarryOutTask, 'kind'>, signal?: AbortSignal) => Promise<CarriedOut>;
  readonly view: (task: Omit<ViewTask, 'kind'>, signal?: AbortSignal) => Promise<ViewResult>;
  readonly close: () => Promise<void>;
}

/** One shape may take this long; then its worker is replaced. ms */
const SLICE_LIMIT = 120_000;
/** Idle workers are kept this long for the next piece of work. ms */
const IDLE = 5000;

/** @param workerFile the bundled worker.ts */
export function startPool(workerFile: string): Pool {
  const pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism()),
    idleTimeout: IDLE,
  });
  const ask = async <Content>(task: Task, signal?: AbortSignal): Promise<Content> => {
    const answer = (await pool.run(task, signal ? { signal } : {})) as Answer<Content>;
    if (!answer.ok) throw new Refusal(answer.code, answer.message);
    return answer.content;
  };
  return {
    read: (source, signal) => ask({ kind: 'read', source }, signal),
    table: (source) => ask({ kind: 'table', source }),
    tessellate: (text, diagonalMm, signal) => {
      const limit = AbortSignal.timeout(SLICE_LIMIT);
      return pool.run({ kind: 'tessellate', text, diagonalMm } satisfies Task, {
        signal: signal ? AbortSignal.any([signal, limit]) : limit,
      });
    },
    measure: (mesh, signal) => pool.run({ kind: 'measure', mesh } satisfies Task, signal ? { signal } : {}),
    thumbnail: (mesh, signal) => pool.run({ kind: 'thumbnail', mesh } satisfies Task, signal ? { signal } : {}),
    compare: (one, other, signal) => pool.run({ kind: 'compare', one, other } satisfies Task, signal ? { signal } : {}),
    carryOut: (task, signal) => ask({ kind: 'carryOut', ...task }, signal),
    view: (task, signal) => pool.run({ kind: 'view', ...task } satisfies Task, signal ? { signal } : {}),
    close: () => pool.destroy(),
  };
}
