import { Worker } from 'node:worker_threads';
import { logError } from '../errors.ts';
import type { JobRunner } from './jobs.ts';

/** Bundled entries of the threads. */
export interface ThreadFiles {
  /** engine/src/pool/worker.ts */
  readonly engine: string;
  /** deskWorker.ts */
  readonly desk: string;
  /** work/jobWorker.ts */
  readonly jobs: string;
}
export interface JobThreadData {
  readonly databaseUrl: string;
  readonly threads: ThreadFiles;
}
export type JobThreadOrder = { readonly what: 'look' | 'stop' } | { readonly what: 'cancelled'; readonly id: string };

/** A thread that takes more memory than this is ended; MB. Structures of large machines are in it, shapes are not. */
const MEMORY = 4096;
/** A thread says so often that it gets on; one that says nothing for so long is stuck in one piece of work. ms */
export const ALIVE_EVERY = 5000;
const STUCK = 5 * 60_000;
/** Between the end of a thread that failed and the next one; ms. */
const FIRST_PAUSE = 500,
  LONGEST_PAUSE = 30_000;

/**
 * Does the jobs in a thread of their own, so that no request waits while a large machine is packed, listed or laid out.
 * A thread that fails, or gets stuck, is followed by another one; what it worked on is tried again as a killed server's is.
 */
export function startJobThread(data: JobThreadData, memory = MEMORY, stuckMs = STUCK): JobRunner {
  let stopping = false;
  let pause = FIRST_PAUSE;
  let waiting: NodeJS.Timeout | undefined;
  let ended: Promise<void>;
  let worker = start();

  function start(): Worker {
    const begun = Date.now();
    const thread = new Worker(data.threads.jobs, {
      workerData: data,
      resourceLimits: { maxOldGenerationSizeMb: memory },
    });
    let heard = Date.now();
    thread.on('message', () => (heard = Date.now()));
    const watch = setInterval(() => {
      if (Date.now() - heard < stuckMs) return;
      logError(
        new Error(`It said nothing for ${Math.round(stuckMs / 1000)} s and was ended.`),
        'the thread that does the jobs',
      );
      void thread.terminate();
    }, stuckMs / 4);
    thread.once('exit', () => clearInterval(watch));
    thread.on('error', (error) => void logError(error, 'the thread that does the jobs'));
    ended = new Promise((resolve) => thread.once('exit', () => resolve()));
    void ended.then(() => {
      if (stopping) return;
      pause = Date.now() - begun > LONGEST_PAUSE ? FIRST_PAUSE : Math.min(2 * pause, LONGEST_PAUSE);
      waiting = setTimeout(() => (worker = start()), pause);
    });
    return thread;
  }
  const tell = (order: JobThreadOrder) => worker.postMessage(order);
  return {
    look: () => tell({ what: 'look' }),
    cancelled: (id) => tell({ what: 'cancelled', id }),
    stop: async () => {
      stopping = true;
      clearTimeout(waiting);
      tell({ what: 'stop' }); // one that has ended hears nothing
      await ended;
    },
  };
}
