import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { logError, whyAway } from '../errors.ts';
import { withRetry } from '../database.ts';
import type { JobRow } from '../entities.ts';
import { LEFT, type JobKind, type JobProgress, type JobRunner } from '../jobs.ts';

const LEASE = 8000; // ms a claimed job stays with its runner without being renewed: a killed one's is taken up after it
const RENEW = 2000;
const REPORT = 500; // ms between two writes of progress
const POLL = 1000; // ms between two looks for jobs of other servers
const UNWANTED = 20_000; // ms after which a view that nobody waits for is not drawn
const TIDY = 3_600_000; // ms between two clearings of jobs that are over
const OVER = 24 * 3_600_000; // ms that a job stays readable
const ATTEMPTS = 3;

/**
 * Why a job's signal is aborted when its server goes down: the job is not over, another server or the next start goes
 * on.
 */
export class ServerStopping extends Error {
  override readonly name = 'ServerStopping';
}

/** Thrown by work that finds in the database that its job was cancelled, before its signal says so. */
export class JobCancelled extends Error {
  override readonly name = 'JobCancelled';
}

export interface JobContext {
  /** Of the job: what it makes once is made under a name that comes from it, so that doing it twice makes it once. */
  readonly id: string;
  readonly signal: AbortSignal;
  readonly report: (progress: JobProgress) => void;
  /** Says something about work that is done, for those who follow the job. */
  readonly note: (sentence: string) => void;
}
/** Does the work; answers with the project that it made or changed, if any. Doing it twice must be harmless. */
export type JobHandler = (payload: unknown, context: JobContext) => Promise<string | null>;

/** In a sentence, without the insides of a library: those stand in the log. */
function whyFailed(error: unknown, kind: JobKind): string {
  if (error instanceof Refusal) return error.message;
  const away = whyAway(error);
  if (away) return `${away} Try again then; ${LEFT[kind]}.`;
  return `Something went wrong in the program (${logError(error, `a job (${kind})`)}); ${LEFT[kind]}. The log says more under this number.`;
}

/** @param parallel jobs that are worked on at once */
export function runJobs(
  database: DataSource,
  handlers: Readonly<Record<JobKind, JobHandler>>,
  parallel = 2,
): JobRunner {
  const owner = randomUUID();
  const running = new Map<string, AbortController>();
  let stopped = false;
  const work = new Set<Promise<void>>();

  /** One short transaction: take the oldest job that is free or whose server let it go. */
  const claim = () =>
    withRetry(() =>
      database.transaction(async (manager) => {
        const [row] = (await manager.query(
          "SELECT * FROM job WHERE state = 'queued' OR (state = 'running' AND leaseUntil < ?) ORDER BY created LIMIT 1 FOR UPDATE SKIP LOCKED",
          [new Date()],
        )) as JobRow[];
        if (!row) return null;
        const exhausted = row.attempts >= ATTEMPTS;
        await manager.query(
          `UPDATE job SET state = ?, owner = ?, leaseUntil = ?, attempts = attempts + 1, reason = ?${exhausted ? ', claim = NULL' : ''} WHERE id = ?`,
          exhausted
            ? [
                'failed',
                null,
                null,
                `It was tried ${ATTEMPTS} times and the server stopped each time. Try again, or look into the server's log.`,
                row.id,
              ]
            : ['running', owner, new Date(Date.now() + LEASE), null, row.id],
        );
        return exhausted ? null : row;
      }),
    );

  const finish = (id: string, state: JobRow['state'], reason: string | null, project: string | null) =>
    withRetry(() =>
      database.query(
        'UPDATE job SET state = ?, reason = ?, project = ?, owner = NULL, leaseUntil = NULL, claim = NULL WHERE id = ? AND owner = ?',
        [state, reason, project, id, owner],
      ),
    );

  const run = async (row: JobRow) => {
    const controller = new AbortController();
    running.set(row.id, controller);
    let progress: JobProgress | null = null;
    let note: string | null = null;
    const report = setInterval(() => {
      if (!progress) return;
      const text = JSON.stringify(progress);
      progress = null;
      void database
        .query('UPDATE job SET progress = ? WHERE id = ? AND owner = ?', [text, row.id, owner])
        .catch(() => {});
    }, REPORT);
    const renew = setInterval(
      () =>
        void database
          .query('UPDATE job SET leaseUntil = ? WHERE id = ? AND owner = ?', [
            new Date(Date.now() + LEASE),
            row.id,
            owner,
          ])
          .catch(() => {}),
      RENEW,
    );
    const watch = setInterval(
      () =>
        void database.query('SELECT cancel FROM job WHERE id = ?', [row.id]).then(
          ([found]: { cancel: number }[]) => found?.cancel && controller.abort(new Error('cancelled')),
          () => {},
        ),
      REPORT,
    );
    try {
      const project = await handlers[row.kind](JSON.parse(row.payload), {
        id: row.id,
        signal: controller.signal,
        report: (next) => (progress = next),
        note: (sentence) => (note = sentence),
      });
      await finish(row.id, 'done', note, project);
    } catch (error) {
      if (stopped) return; // the lease runs out and another server, or the next start, takes it up
      if (controller.signal.aborted || error instanceof JobCancelled)
        await finish(row.id, 'cancelled', `It was cancelled; ${LEFT[row.kind]}.`, null);
      else {
        await finish(row.id, 'failed', whyFailed(error, row.kind), null);
      }
    } finally {
      for (const timer of [report, renew, watch]) clearInterval(timer);
      running.delete(row.id);
    }
  };

  /** Views that nobody waits for are not drawn. */
  const dropUnwanted = () =>
    database.query(
      "UPDATE job SET state = 'cancelled', reason = 'Nobody waited for it any more.', claim = NULL WHERE kind = 'view' AND state = 'queued' AND wanted < ?",
      [new Date(Date.now() - UNWANTED)],
    );
  const tidy = () =>
    void database
      .query("DELETE FROM job WHERE state IN ('done', 'failed', 'cancelled') AND created < ?", [
        new Date(Date.now() - OVER),
      ])
      .catch(() => {});
  const tidying = setInterval(tidy, TIDY);
  tidy();
  // Who waited while no server ran gets time to say so again.
  const begun = database
    .query("UPDATE job SET wanted = ? WHERE kind = 'view' AND state = 'queued'", [new Date()])
    .catch(() => {});

  const letGo = (id: string) =>
    database
      .query(
        "UPDATE job SET state = 'queued', owner = NULL, leaseUntil = NULL, attempts = GREATEST(attempts - 1, 0) WHERE id = ? AND owner = ?",
        [id, owner],
      )
      .catch(() => {});

  const look = async () => {
    await begun;
    await dropUnwanted().catch(() => {});
    while (!stopped && running.size < parallel) {
      const row = await claim().catch(() => null);
      if (!row) return;
      if (stopped) return void (await letGo(row.id)); // claimed while the server went down
      const one = run(row)
        .catch((error) => console.error(error))
        .finally(() => {
          work.delete(one);
          lookSoon();
        });
      work.add(one);
    }
  };
  const looks = new Set<Promise<void>>();
  const lookSoon = () => {
    const one = look().finally(() => looks.delete(one));
    looks.add(one);
  };
  const poll = setInterval(lookSoon, POLL);
  lookSoon();

  return {
    look: lookSoon,
    cancelled: (id) => running.get(id)?.abort(new Error('cancelled')),
    stop: async () => {
      stopped = true;
      clearInterval(poll);
      clearInterval(tidying);
      for (const [id, controller] of running) {
        controller.abort(new ServerStopping('stopping'));
        await letGo(id);
      }
      await Promise.allSettled(looks);
      await Promise.allSettled(work);
    },
  };
}
