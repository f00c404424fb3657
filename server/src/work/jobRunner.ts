import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { logError, whyAway } from '../errors.ts';
import { fromNow, NOW, withRetry } from '../store/database.ts';
import type { JobRow } from '../store/entities.ts';
import { LEFT, PROJECT_GONE, type JobKind, type JobProgress, type JobRunner } from '../jobs/jobs.ts';
import { jobLimit, JobOverran, nextJob, usualSlots, type Slots, type WaitingJob } from './turns.ts';

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
  /** Tells about how many things it is, once that is known: how long it may take hangs on it. */
  readonly sized: (things: number) => void;
}
/** Does the work; answers with the project that it made or changed, if any. Doing it twice must be harmless. */
export type JobHandler = (payload: unknown, context: JobContext) => Promise<string | null>;

/** Ends work that takes longer than it may. */
function overrunning(controller: AbortController, limitOf: (things: number) => number) {
  const begun = Date.now();
  const end = (ms: number) => setTimeout(() => controller.abort(new JobOverran(ms)), ms - (Date.now() - begun));
  let timer = end(limitOf(0));
  return {
    sized: (things: number) => {
      clearTimeout(timer);
      timer = end(limitOf(things));
    },
    stop: () => clearTimeout(timer),
  };
}

/** Work that does not hear that it is to end is waited for no longer than this; ms. */
const DEAF = 5000;
/** Rejects a while after the signal: the slot of work that does not hear it is free then. */
const deaf = (signal: AbortSignal): Promise<never> =>
  new Promise((_, reject) => {
    const late = () => void setTimeout(() => reject(new Error('It did not end when it was told to.')), DEAF).unref();
    if (signal.aborted) late();
    else signal.addEventListener('abort', late, { once: true });
  });

/** In a sentence, without the insides of a library: those stand in the log. */
function whyFailed(error: unknown, kind: JobKind): string {
  if (error instanceof Refusal) return error.message;
  const away = whyAway(error);
  if (away) return `${away} Try again then; ${LEFT[kind]}.`;
  return `Something went wrong in the program (${logError(error, `a job (${kind})`)}); ${LEFT[kind]}. The log says more under this number.`;
}

/** Jobs that nobody works on, at a time. */
const FREE = `state = 'queued' OR (state = 'running' AND leaseUntil < ${NOW})`;
/** Of each project and kind, and in all, that are looked at for the next one. */
const OF_EACH = 3,
  AT_ONCE = 300;
const EXHAUSTED = `It was tried ${ATTEMPTS} times and the server stopped each time. Try again, or look into the server's log.`;

interface RunningJob {
  readonly kind: JobKind;
  readonly ofProject: string | null;
  readonly controller: AbortController;
}

/**
 * Takes the job that is next, in one statement that only one server can win; null where there is none for the slots
 * that are free.
 */
async function claimNext(
  database: DataSource,
  owner: string,
  running: readonly RunningJob[],
  slots: Slots,
): Promise<JobRow | null> {
  for (;;) {
    // Of each project and kind the oldest few: one that orders thousands does not hide the others.
    const waiting = (await database.query(
      `SELECT id, kind, ofProject, created FROM (SELECT id, kind, ofProject, created, ROW_NUMBER() OVER (PARTITION BY COALESCE(ofProject, id), kind ORDER BY created) AS place FROM job WHERE ${FREE}) w WHERE place <= ${OF_EACH} ORDER BY created LIMIT ${AT_ONCE}`,
    )) as (Omit<WaitingJob, 'created'> & { created: Date })[];
    const next = nextJob(
      waiting.map((job) => ({ ...job, created: job.created.getTime() })),
      running,
      slots,
    );
    if (!next) return null;
    const { affectedRows } = (await withRetry(() =>
      database.query(
        `UPDATE job SET state = IF(attempts >= ${ATTEMPTS}, 'failed', 'running'), owner = IF(attempts >= ${ATTEMPTS}, NULL, ?), leaseUntil = IF(attempts >= ${ATTEMPTS}, NULL, ${fromNow(LEASE)}), reason = IF(attempts >= ${ATTEMPTS}, ?, NULL), claim = IF(attempts >= ${ATTEMPTS}, NULL, claim), attempts = attempts + 1 WHERE id = ? AND (${FREE})`,
        [owner, EXHAUSTED, next.id],
      ),
    )) as { affectedRows: number };
    if (affectedRows === 0) continue; // another server was first
    const [row] = (await database.query("SELECT * FROM job WHERE id = ? AND owner = ? AND state = 'running'", [
      next.id,
      owner,
    ])) as JobRow[];
    if (row) return row;
  }
}

/** Why a job ended whose project is no longer there; null where it is. */
async function goneReason(database: DataSource, { ofProject }: JobRow): Promise<string | null> {
  if (ofProject === null) return null;
  const [found] = (await database
    .query('SELECT id FROM project WHERE id = ?', [ofProject])
    .catch(() => [{}])) as unknown[];
  return found ? null : PROJECT_GONE;
}

/** Writes progress, renews the lease and looks whether it is cancelled, until it is called. */
function keepRow(
  database: DataSource,
  owner: string,
  id: string,
  controller: AbortController,
): (() => void) & { readonly report: (next: JobProgress) => void } {
  let progress: JobProgress | null = null;
  const say = (sql: string, values: unknown[]) => void database.query(sql, [...values, id, owner]).catch(() => {});
  const report = setInterval(() => {
    if (!progress) return;
    const text = JSON.stringify(progress);
    progress = null;
    say('UPDATE job SET progress = ? WHERE id = ? AND owner = ?', [text]);
  }, REPORT);
  const renew = setInterval(
    () => say(`UPDATE job SET leaseUntil = ${fromNow(LEASE)} WHERE id = ? AND owner = ?`, []),
    RENEW,
  );
  const watch = setInterval(
    () =>
      void database.query('SELECT cancel FROM job WHERE id = ?', [id]).then(
        ([found]: { cancel: number }[]) => found?.cancel && controller.abort(new Error('cancelled')),
        () => {},
      ),
    REPORT,
  );
  const stop = () => {
    for (const timer of [report, renew, watch]) clearInterval(timer);
  };
  return Object.assign(stop, { report: (next: JobProgress) => void (progress = next) });
}

/** @param slots jobs that are worked on at once */
export function runJobs(
  database: DataSource,
  handlers: Readonly<Record<JobKind, JobHandler>>,
  slots: Slots = usualSlots,
  limitOf: (kind: JobKind, things: number) => number = jobLimit,
): JobRunner {
  const owner = randomUUID();
  const running = new Map<string, RunningJob>();
  let stopped = false;
  const work = new Set<Promise<void>>();

  const finish = (id: string, state: JobRow['state'], reason: string | null, project: string | null) =>
    withRetry(() =>
      database.query(
        'UPDATE job SET state = ?, reason = ?, project = ?, owner = NULL, leaseUntil = NULL, claim = NULL WHERE id = ? AND owner = ?',
        [state, reason, project, id, owner],
      ),
    );

  const run = async (row: JobRow) => {
    const controller = new AbortController();
    running.set(row.id, { kind: row.kind, ofProject: row.ofProject, controller });
    const stopKeeping = keepRow(database, owner, row.id, controller);
    const limit = overrunning(controller, (things) => limitOf(row.kind, things));
    let note: string | null = null;
    try {
      const work = handlers[row.kind](JSON.parse(row.payload), {
        id: row.id,
        signal: controller.signal,
        report: stopKeeping.report,
        note: (sentence) => (note = sentence),
        sized: limit.sized,
      });
      const project = await Promise.race([work, deaf(controller.signal)]);
      await finish(row.id, 'done', note, project);
    } catch (error) {
      if (stopped) return; // the lease runs out and another server, or the next start, takes it up
      const overran = controller.signal.reason;
      if (overran instanceof JobOverran) await finish(row.id, 'failed', `${overran.message}; ${LEFT[row.kind]}.`, null);
      else if (controller.signal.aborted || error instanceof JobCancelled)
        await finish(
          row.id,
          'cancelled',
          (await goneReason(database, row)) ?? `It was cancelled; ${LEFT[row.kind]}.`,
          null,
        );
      else await finish(row.id, 'failed', (await goneReason(database, row)) ?? whyFailed(error, row.kind), null);
    } finally {
      limit.stop();
      stopKeeping();
      running.delete(row.id);
    }
  };

  /** Views that nobody waits for are not drawn. */
  const dropUnwanted = () =>
    database.query(
      `UPDATE job SET state = 'cancelled', reason = 'Nobody waited for it any more.', claim = NULL WHERE kind = 'view' AND state = 'queued' AND wanted < ${fromNow(-UNWANTED)}`,
    );
  const tidy = () =>
    void database
      .query(`DELETE FROM job WHERE state IN ('done', 'failed', 'cancelled') AND created < ${fromNow(-OVER)}`)
      .catch(() => {});
  const tidying = setInterval(tidy, TIDY);
  tidy();
  // Who waited while no server ran gets time to say so again.
  const begun = database
    .query(`UPDATE job SET wanted = ${NOW} WHERE kind = 'view' AND state = 'queued'`)
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
    while (!stopped) {
      const row = await claimNext(database, owner, [...running.values()], slots).catch(() => null);
      if (!row) return;
      if (stopped) return void (await letGo(row.id)); // claimed while the server went down
      const one = run(row)
        .catch((error) => void logError(error, 'working on jobs'))
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
    cancelled: (id) => running.get(id)?.controller.abort(new Error('cancelled')),
    stop: async () => {
      stopped = true;
      clearInterval(poll);
      clearInterval(tidying);
      for (const [id, { controller }] of running) {
        controller.abort(new ServerStopping('stopping'));
        await letGo(id);
      }
      await Promise.allSettled(looks);
      await Promise.allSettled(work);
    },
  };
}
