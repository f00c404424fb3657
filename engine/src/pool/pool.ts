import type { CutFaces } from '../../../core/src/views/index.ts';
import { availableParallelism, totalmem } from 'node:os';
import { MessageChannel, type TransferListItem } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { FairQueue, inGroup } from './fairQueue.ts';
import { ViewHelp } from './viewHelp.ts';
import { Refusal, type ShapeMeasurement } from '../../../core/src/assembly/index.ts';
import type { CutPlan, CutProblem, CutProgress } from '../../../core/src/cutting/index.ts';
import type { Likeness } from '../../../core/src/geometry/index.ts';
import type { Exploded } from '../../../core/src/poses/index.ts';
import type { FormLook, FoundHeading } from '../../../core/src/forms/index.ts';
import type { Table } from '../../../core/src/sources/index.ts';
import type { CarriedOut } from '../../../core/src/documents/index.ts';
import type { Logo } from '../paper/logo.ts';
import type {
  Answer,
  CarryOutTask,
  ExplodeTask,
  PackedModel,
  Source,
  CutFacesTask,
  ShadeTask,
  Task,
  ViewResult,
  ViewTask,
  CatalogueTask,
} from './tasks.ts';
import type { CataloguePreview, CatalogueText } from '../tables/catalogueTable.ts';

/** Runs dear computations away from the calling thread. */
export interface Pool {
  /**
   * Structure, slices and meshes of a file of any kind that can be brought in. Rejects with a Refusal where it cannot
   * be taken.
   */
  readonly read: (source: Source, signal?: AbortSignal) => Promise<PackedModel>;
  /** Rows of a structure list (CSV, TSV, or the first sheet of a workbook). Rejects with a Refusal. */
  readonly table: (source: Source, signal?: AbortSignal) => Promise<Table>;
  /** How a table would be read as a catalogue. Rejects with a Refusal. */
  readonly previewCatalogue: (source: Source, signal?: AbortSignal) => Promise<CataloguePreview>;
  /** A table as a catalogue, or what it would do to one. Rejects with a Refusal. */
  readonly readCatalogue: (
    task: Omit<Source, 'mapping'> & Pick<CatalogueTask, 'mapping' | 'current'>,
    signal?: AbortSignal,
  ) => Promise<CatalogueText>;
  /** What a company's form looks like. Rejects with a Refusal. */
  readonly lookAtForm: (bytes: Uint8Array, signal?: AbortSignal) => Promise<FormLook>;
  readonly headingsAbove: (
    bytes: Uint8Array,
    at: { readonly sheet: string; readonly cell: string },
    signal?: AbortSignal,
  ) => Promise<readonly FoundHeading[]>;
  /** A packed mesh. Rejects where the shape cannot be tessellated or takes longer than SLICE_LIMIT. */
  readonly tessellate: (text: string, diagonalMm: number, signal?: AbortSignal) => Promise<Uint8Array>;
  readonly measure: (mesh: Uint8Array, signal?: AbortSignal) => Promise<ShapeMeasurement>;
  /** A PNG picture. */
  readonly thumbnail: (mesh: Uint8Array, signal?: AbortSignal) => Promise<Uint8Array>;
  /** A picture for the title block as PNG. Rejects with a Refusal where it is none. */
  readonly logo: (bytes: Uint8Array) => Promise<Logo>;
  readonly compare: (one: Uint8Array, other: Uint8Array, signal?: AbortSignal) => Promise<Likeness | null>;
  /** What a gesture takes. Rejects with a Refusal where it cannot be carried out. */
  readonly carryOut: (task: Omit<CarryOutTask, 'kind'>, signal?: AbortSignal) => Promise<CarriedOut>;
  /** How the machine comes apart. Rejects with a Refusal where it has too many things at one place. */
  readonly explode: (
    task: Omit<ExplodeTask, 'kind' | 'progress'>,
    onProgress: (done: number, of: number) => void,
    signal?: AbortSignal,
  ) => Promise<Exploded>;
  /**
   * How pieces are cut from bars; where the signal ends it, the best that was found until then. Rejects where it finds no
   * moment to look up within STOP_WITHIN.
   */
  readonly planCuts: (
    problem: CutProblem,
    onProgress?: (known: CutProgress) => void,
    signal?: AbortSignal,
  ) => Promise<CutPlan>;
  readonly view: (task: Omit<ViewTask, 'kind'>, signal?: AbortSignal) => Promise<ViewResult>;
  /** All faces that a cut makes. */
  readonly cutFaces: (task: Omit<CutFacesTask, 'kind'>, signal?: AbortSignal) => Promise<CutFaces>;
  /** A PNG of the faces of a view. */
  readonly shade: (task: Omit<ShadeTask, 'kind'>, signal?: AbortSignal) => Promise<Uint8Array>;
  /** The same threads for one group of work, such as a job: groups that wait take turns. */
  readonly of: (group: string) => Pool;
  readonly close: () => Promise<void>;
}

/** One shape may take this long; then its worker is replaced. ms */
const SLICE_LIMIT = 120_000;
/** Reading a file may take this long, a structure list this; ms. */
const READ_LIMIT = 1_200_000,
  TABLE_LIMIT = 60_000;
/** Planning of cuts that is told to end may take this long to do so; ms. */
const STOP_WITHIN = 700,
  FIRST_PLAN_WITHIN = 5000; // one that was told before it began still gives what a moment gives
/** Reading a logo may take this long; ms. */
const LOGO_LIMIT = 20_000;
/** A worker may take this much memory for its records; MB. */
const MEMORY = Math.max(1024, Math.min(6144, Math.floor((totalmem() / 1024 ** 2) * 0.6)));
/** Idle workers are kept this long for the next piece of work, with the meshes that they know. ms */
const IDLE = 30_000;

/** So many threads are started at once where that is asked for; more only when there is work for them. */
const AT_ONCE = 4;

/**
 * @param workerFile the bundled worker.ts
 * @param atOnce whether threads are started now, since there will be work for all of them soon
 * @param threads at most; as many as the machine has where absent
 */
export function startPool(
  workerFile: string,
  { atOnce = false, threads = Math.max(1, availableParallelism()) } = {},
): Pool {
  const pool = new Piscina({
    filename: workerFile,
    taskQueue: new FairQueue(),
    minThreads: atOnce ? Math.min(AT_ONCE, threads) : 0,
    maxThreads: threads,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
  });
  return poolOf(pool, '', new ViewHelp(threads));
}

/** What the threads can do, for one group of work: see FairQueue. */
function poolOf(pool: Piscina, group: string, help: ViewHelp): Pool {
  const run = <Content>(task: Task, signal?: AbortSignal, transferList: TransferListItem[] = []): Promise<Content> =>
    help.count(pool.run(inGroup(task, group), { transferList, ...(signal ? { signal } : {}) }));
  const ask = async <Content>(
    task: Task,
    signal?: AbortSignal,
    transferList: TransferListItem[] = [],
  ): Promise<Content> => {
    const answer = await run<Answer<Content>>(task, signal, transferList);
    if (!answer.ok) throw new Refusal(answer.code, answer.message);
    return answer.content;
  };
  /** Foreign bytes are read within bounds; what goes beyond them is refused. */
  const read = async <Content>(task: Task, ms: number, signal?: AbortSignal): Promise<Content> => {
    const limit = AbortSignal.timeout(ms);
    try {
      return await ask<Content>(task, signal ? AbortSignal.any([signal, limit]) : limit);
    } catch (error) {
      if (signal?.aborted || error instanceof Refusal) throw error;
      if (limit.aborted)
        throw new Refusal(
          'too-slow',
          `Reading the file took more than ${ms / 60_000} minutes and was ended; nothing was stored. Export the parts of the machine as files of their own.`,
        );
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Refusal(
          'too-much-memory',
          `Reading the file takes more memory than there is for it (${MEMORY} MB); nothing was stored. Export the parts of the machine as files of their own.`,
        );
      throw error;
    }
  };
  return {
    read: (source, signal) => read({ kind: 'read', source }, READ_LIMIT, signal),
    table: (source, signal) => read({ kind: 'table', source }, TABLE_LIMIT, signal),
    previewCatalogue: (source, signal) => read({ kind: 'previewCatalogue', source }, TABLE_LIMIT, signal),
    readCatalogue: ({ bytes, fileName, mapping, current }, signal) =>
      read({ kind: 'readCatalogue', source: { bytes, fileName }, mapping, current }, TABLE_LIMIT, signal),
    lookAtForm: (bytes, signal) => read({ kind: 'lookAtForm', bytes }, TABLE_LIMIT, signal),
    headingsAbove: (bytes, at, signal) => read({ kind: 'headingsAbove', bytes, ...at }, TABLE_LIMIT, signal),
    tessellate: (text, diagonalMm, signal) => {
      const limit = AbortSignal.timeout(SLICE_LIMIT);
      return run({ kind: 'tessellate', text, diagonalMm }, signal ? AbortSignal.any([signal, limit]) : limit);
    },
    measure: (mesh, signal) => run({ kind: 'measure', mesh }, signal),
    thumbnail: (mesh, signal) => run({ kind: 'thumbnail', mesh }, signal),
    logo: async (bytes) => {
      const limit = AbortSignal.timeout(LOGO_LIMIT);
      try {
        return await ask<Logo>({ kind: 'logo', bytes }, limit);
      } catch (error) {
        if (error instanceof Refusal) throw error;
        throw new Refusal(
          'no-picture',
          'Reading this picture takes too long or too much memory; export a plainer one.',
        );
      }
    },
    compare: (one, other, signal) => run({ kind: 'compare', one, other }, signal),
    carryOut: (task, signal) => ask({ kind: 'carryOut', ...task }, signal),
    explode: async (task, onProgress, signal) => {
      const { port1, port2 } = new MessageChannel();
      port1.on('message', ([done, of]: [number, number]) => onProgress(done, of));
      try {
        return await ask<Exploded>({ kind: 'explode', ...task, progress: port2 }, signal, [port2]);
      } finally {
        port1.close();
      }
    },
    planCuts: async (problem, onProgress, signal) => {
      const { port1, port2 } = new MessageChannel();
      const stop = new SharedArrayBuffer(4);
      const deaf = new AbortController();
      let patience: NodeJS.Timeout | undefined;
      const end = (ms: number) => {
        Atomics.store(new Int32Array(stop), 0, 1);
        patience = setTimeout(() => deaf.abort(signal?.reason), ms);
      };
      const stopNow = () => end(STOP_WITHIN);
      if (signal?.aborted) end(FIRST_PLAN_WITHIN);
      signal?.addEventListener('abort', stopNow, { once: true });
      port1.on('message', (known: CutProgress) => onProgress?.(known));
      try {
        return await ask<CutPlan>({ kind: 'planCuts', problem, progress: port2, stop }, deaf.signal, [port2]);
      } finally {
        clearTimeout(patience);
        signal?.removeEventListener('abort', stopNow);
        port1.close();
      }
    },
    cutFaces: (task, signal) => run({ kind: 'cutFaces', ...task }, signal),
    shade: (task, signal) => run({ kind: 'shade', ...task }, signal),
    view: (task, signal) => help.view(task, run, signal),
    of: (other) => poolOf(pool, other, help),
    close: () => pool.destroy(),
  };
}
