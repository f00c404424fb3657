import type { TransferListItem } from 'node:worker_threads';
import { shareable, type Shareable } from './sharedView.ts';
import type { Task, ViewResult, ViewTask } from './tasks.ts';

/** Runs a task on a thread. */
type Run = <Content>(task: Task, signal?: AbortSignal, transferList?: TransferListItem[]) => Promise<Content>;

/** A view is shared out from so many bytes of meshes on, each counted where it stands: below that, helping costs more than it gives. */
const LEAST_BYTES = 1_500_000;
const MOST_HELPERS = 7;
/** With fewer threads a helper, which has to place the machine too, gives no more than it takes. */
const LEAST_THREADS = 4;
/** Other work that comes with a view has so long to take the idle threads; ms. */
const OTHERS_FIRST = 25;

/** A view that is being drawn, and how a thread is asked to help. */
interface Underway {
  readonly work: Shareable;
  readonly task: Omit<ViewTask, 'kind'>;
  readonly run: Run;
  readonly signal: AbortSignal | undefined;
}

/** Lets threads that have nothing to do help with views that others draw; work that waits for a thread comes first. */
export class ViewHelp {
  private pending = 0;
  private readonly underway = new Set<Underway>();

  /** @param threads as many as there may be */
  constructor(private readonly threads: number) {}

  /** Counts a piece of work that was given to the threads. */
  async count<Content>(given: Promise<Content>): Promise<Content> {
    this.pending++;
    try {
      return await given;
    } finally {
      this.pending--;
      this.offer();
    }
  }

  /** Draws a view, with the help of idle threads where it is large. */
  async view(task: Omit<ViewTask, 'kind'>, run: Run, signal?: AbortSignal): Promise<ViewResult> {
    const most = Math.min(MOST_HELPERS, this.threads - 1);
    const bytes = task.bodies.reduce((sum, { mesh }) => sum + task.meshes[mesh].bytes.length, 0);
    if (this.threads < LEAST_THREADS || bytes < LEAST_BYTES) return run({ kind: 'view', ...task }, signal);
    const work = shareable(most);
    const { control, ports } = work;
    const one: Underway = { work, task, run, signal };
    this.underway.add(one);
    const later = setTimeout(() => this.offer(), OTHERS_FIRST);
    try {
      return await run({ kind: 'view', ...task, sharedOut: { control, ports } }, signal, [...ports]);
    } finally {
      clearTimeout(later);
      this.underway.delete(one);
    }
  }

  private offer(): void {
    for (const { work, task, run, signal } of this.underway)
      while (this.pending < this.threads) {
        const found = work.seat();
        if (!found) break;
        const { seat, onEnd } = found;
        // One that falls over is not missed: who draws the view makes its lots.
        run({ kind: 'help', ...task, seat }, signal, [seat.port]).then(onEnd, onEnd);
      }
  }
}
