import { wrap, type Remote } from 'comlink';
import type { Solver } from './solver.worker.ts';

let started: Remote<Solver> | null = null;

/** The worker that arranges balloons; started at the first question. */
export function solver(): Remote<Solver> {
  started ??= wrap<Solver>(new Worker(new URL('./solver.worker.ts', import.meta.url), { type: 'module' }));
  return started;
}
