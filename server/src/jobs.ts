import { randomUUID } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import type { Job } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import { logError, whyAway } from './errors.ts';
import { withRetry } from './database.ts';
import { JobEntity, type JobRow } from './entities.ts';

const LEASE = 8000; // ms a claimed job stays with its server without being renewed: a killed one's is taken up after it
const RENEW = 2000;
const REPORT = 500; // ms between two writes of progress
const POLL = 1000; // ms between two looks for jobs of other servers
const FOLLOW = 400; // ms between two looks at the jobs that somebody follows
const WANTED = 5000; // ms between two notes that somebody still waits for a view
const UNWANTED = 20_000; // ms after which a view that nobody waits for is not drawn
const TIDY = 3_600_000; // ms between two clearings of jobs that are over
const OVER = 24 * 3_600_000; // ms that a job stays readable
const ATTEMPTS = 3;
/** What a job that ends early leaves: an import nothing, the making of shapes every shape that is made. */
const LEFT: Readonly<Record<JobKind, string>> = {
  import: 'nothing was stored',
  shapes: 'what was made is kept',
  view: 'nothing was drawn',
  intention: 'nothing was changed',
};

/**
 * Why a job's signal is aborted when its server goes down: the job is not over, another server or the next start goes
 * on.
 */
export class ServerStopping extends Error {
  override readonly name = 'ServerStopping';
}

export type JobKind = JobRow['kind'];
export interface JobProgress {
  readonly step: string;
  readonly done: number;
  readonly of: number;
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

/** Work that takes longer than a request: rows in the database that any server may claim. */
export interface JobQueue {
  /**
   * The id of the job; of one that already waits or runs where `once` is said and the kind and what it is about are the
   * same.
   * @param about up to 160 characters
   */
  readonly add: (
    kind: JobKind,
    payload: unknown,
    about: string,
    options?: { once?: boolean; id?: string },
  ) => Promise<string>;
  /** The job of this kind about this that waits or runs, if it was added with `once`. */
  readonly live: (kind: JobKind, about: string) => Promise<string | null>;
  readonly find: (id: string) => Promise<Job | null>;
  /**
   * Tells how a job stands, at once and whenever that changes, until it is over; null for a job that is not there. One
   * reader of the database serves all that follow.
   * @returns ends it
   */
  readonly follow: (id: string, listener: (job: Job | null) => void) => () => void;
  readonly cancel: (id: string) => Promise<void>;
  readonly stop: () => Promise<void>;
}

const jobOf = ({ id, kind, state, progress, reason, project }: JobRow): Job => ({
  id,
  kind,
  state,
  progress: JSON.parse(progress) as JobProgress,
  reason,
  project,
});
const isOver = (state: JobRow['state']): boolean => state !== 'queued' && state !== 'running';
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** In a sentence, without the insides of a library: those stand in the log. */
function whyFailed(error: unknown, kind: JobKind): string {
  if (error instanceof Refusal) return error.message;
  const away = whyAway(error);
  if (away) return `${away} Try again then; ${LEFT[kind]}.`;
  return `Something went wrong in the program (${logError(error, `a job (${kind})`)}); ${LEFT[kind]}. The log says more under this number.`;
}

export function startJobs(
  database: DataSource,
  handlers: Readonly<Record<JobKind, JobHandler>>,
  parallel = 2,
): JobQueue {
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
      if (controller.signal.aborted) await finish(row.id, 'cancelled', `It was cancelled; ${LEFT[row.kind]}.`, null);
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
  const stillWanted = (ids: readonly string[]) =>
    database.query("UPDATE job SET wanted = ? WHERE id IN (?) AND kind = 'view' AND state = 'queued'", [
      new Date(),
      [...ids],
    ]);

  interface Follower {
    readonly listener: (job: Job | null) => void;
    told: string;
  }
  const followed = new Map<string, Set<Follower>>();
  let following: Promise<void> | null = null;
  const followAll = async () => {
    for (let noted = 0; followed.size > 0 && !stopped; await pause(FOLLOW)) {
      const ids = [...followed.keys()];
      try {
        const rows = await database.getRepository(JobEntity).findBy({ id: In(ids) });
        const jobs = new Map(rows.map((row) => [row.id, jobOf(row)]));
        for (const id of ids) tell(id, jobs.get(id) ?? null);
        if (Date.now() - noted < WANTED) continue;
        noted = Date.now();
        await stillWanted(ids);
      } catch {
        // The database is away: they are told when it is back.
      }
    }
    following = null;
  };
  const tell = (id: string, job: Job | null) => {
    const text = JSON.stringify(job);
    for (const follower of followed.get(id) ?? []) {
      if (follower.told === text) continue;
      follower.told = text;
      follower.listener(job);
    }
    if (!job || isOver(job.state)) followed.delete(id);
  };

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

  const liveJob = async (claim: string): Promise<string | null> => {
    const [row] = (await database.query('SELECT id FROM job WHERE claim = ?', [claim])) as { id: string }[];
    return row?.id ?? null;
  };

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
    add: async (kind, payload, about, { once = false, id = randomUUID() } = {}) => {
      const claim = once ? `${kind} ${about}` : null;
      const insert = () =>
        database.query(
          "INSERT INTO job (id, kind, state, payload, about, claim, progress, owner, leaseUntil, attempts, cancel, reason, project, created, wanted) VALUES (?, ?, 'queued', ?, ?, ?, ?, NULL, NULL, 0, 0, NULL, NULL, ?, ?)",
          [
            id,
            kind,
            JSON.stringify(payload),
            about,
            claim,
            JSON.stringify({ step: 'Waiting', done: 0, of: 1 }),
            new Date(),
            new Date(),
          ],
        );
      for (;;) {
        try {
          await withRetry(insert);
          lookSoon();
          return id;
        } catch (error) {
          if (!claim || (error as { code?: string }).code !== 'ER_DUP_ENTRY') throw error;
          const other = await liveJob(claim);
          if (other) return other; // else it ended in between: now there is room
        }
      }
    },
    live: (kind, about) => liveJob(`${kind} ${about}`),
    find: async (id) => {
      const row = await database.getRepository(JobEntity).findOneBy({ id });
      if (row?.kind === 'view' && row.state === 'queued') await stillWanted([id]);
      return row && jobOf(row);
    },
    follow: (id, listener) => {
      const follower: Follower = { listener, told: '' };
      followed.set(id, (followed.get(id) ?? new Set()).add(follower));
      following ??= followAll();
      return () => {
        const others = followed.get(id);
        others?.delete(follower);
        if (others?.size === 0) followed.delete(id);
      };
    },
    cancel: async (id) => {
      for (const [kind, left] of Object.entries(LEFT)) {
        await database.query(
          "UPDATE job SET cancel = 1, claim = IF(state = 'queued', NULL, claim), state = IF(state = 'queued', 'cancelled', state), reason = IF(state = 'cancelled', ?, reason) WHERE id = ? AND kind = ? AND state IN ('queued', 'running')",
          [`It was cancelled; ${left}.`, id, kind],
        );
      }
      running.get(id)?.abort(new Error('cancelled'));
    },
    stop: async () => {
      stopped = true;
      clearInterval(poll);
      clearInterval(tidying);
      followed.clear();
      for (const [id, controller] of running) {
        controller.abort(new ServerStopping('stopping'));
        await letGo(id);
      }
      await Promise.allSettled(looks);
      await Promise.allSettled(work);
      await following;
    },
  };
}
