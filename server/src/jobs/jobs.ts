import { randomUUID } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import * as v from 'valibot';
import { api, buying, type Job } from '../../../contract/src/index.ts';
import { NOW, withRetry } from '../store/database.ts';
import { JobEntity, type JobRow } from '../store/entities.ts';

const FOLLOW = 400; // ms between two looks at the jobs that somebody follows
const WANTED = 5000; // ms between two notes that somebody still waits for a view

export type JobKind = JobRow['kind'];
export interface JobProgress {
  readonly step: string;
  readonly done: number;
  readonly of: number;
}
/** What each kind of job is given. */
export const jobPayloads = {
  import: v.object({
    fileName: v.string(),
    fileBlob: v.string(),
    /** The demo comes with a finished sheet. */ finished: v.boolean(),
    /** Project that it is a further revision of; a project of its own where absent. */ into: v.optional(v.string()),
    /** Of a further revision, as typed. */ remark: v.optional(v.string()),
    who: v.optional(v.string()),
    /** For structure lists. */ mapping: v.optional(api.listMappingSchema),
  }),
  shapes: v.object({ project: v.string(), revision: v.optional(v.string()) }),
  view: v.object({ project: v.string(), looks: v.array(api.lookSchema), revision: v.optional(v.string()) }),
  recognise: v.object({ project: v.string(), revision: v.string(), ...api.answersSchema.entries }),
  foresee: v.object({ project: v.string(), revision: v.string() }),
  cutPlans: v.object({ project: v.string(), problems: v.array(buying.cutProblemSchema) }),
  intention: v.strictObject({ project: v.string(), ...api.intendedSchema.entries }),
} satisfies Record<JobKind, v.GenericSchema>;
type JobPayload<Kind extends JobKind> = v.InferInput<(typeof jobPayloads)[Kind]>;
/** What a job is given, as JSON that was checked already; see `withJson`. */
interface PayloadJson {
  readonly json: string;
  /** Project that it is for. */
  readonly project: string;
}
/** Small things together with an object that is JSON already, which may be large. */
export const withJson = (
  small: { readonly project: string; readonly revision?: string },
  large: string,
): PayloadJson => ({
  project: small.project,
  json: `${JSON.stringify(small).slice(0, -1)},${large.slice(1)}`,
});

/** What a job that ends early leaves: an import nothing, the making of shapes every shape that is made. */
export const LEFT: Readonly<Record<JobKind, string>> = {
  import: 'nothing was stored',
  shapes: 'what was made is kept',
  view: 'nothing was drawn',
  intention: 'nothing was changed',
  recognise: 'nothing was changed',
  foresee: 'nothing was changed',
  cutPlans: 'the best plan so far is kept',
};

/** Why a job ended whose project was deleted. */
export const PROJECT_GONE = 'The project was deleted meanwhile, so this was ended; nothing was stored.';

const projectOf = (payload: object): string | null => {
  const { project, into } = payload as { project?: string; into?: string };
  return project ?? into ?? null;
};

/** Work that takes longer than a request: rows in the database that any server's runner may claim (`jobRunner.ts`). */
export interface JobQueue {
  /**
   * The id of the job; of one that already waits or runs where `once` is said and the kind and what it is about are the
   * same.
   * @param about up to 160 characters
   */
  readonly add: <Kind extends JobKind>(
    kind: Kind,
    payload: JobPayload<Kind> | PayloadJson,
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
  /** Ends all jobs for a project that is no longer there; they leave nothing. */
  readonly endAllFor: (project: string) => Promise<void>;
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

/** Does the jobs that stand in the database. */
export interface JobRunner {
  /** Looks for jobs now; it does so every second anyway. */
  readonly look: () => void;
  /** Stops work on a job that was cancelled, sooner than it would notice. */
  readonly cancelled: (id: string) => void;
  /** Hands back what it works on. */
  readonly stop: () => Promise<void>;
}

/** @param runner is told at once; the others see it in the database */
export function jobQueue(database: DataSource, runner: Pick<JobRunner, 'look' | 'cancelled'>): JobQueue {
  let stopped = false;
  const stillWanted = (ids: readonly string[]) =>
    database.query(`UPDATE job SET wanted = ${NOW} WHERE id IN (?) AND kind = 'view' AND state = 'queued'`, [[...ids]]);

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

  const liveJob = async (claim: string): Promise<string | null> => {
    const [row] = (await database.query('SELECT id FROM job WHERE claim = ?', [claim])) as { id: string }[];
    return row?.id ?? null;
  };

  return {
    add: async (kind, payload, about, { once = false, id = randomUUID() } = {}) => {
      const claim = once ? `${kind} ${about}` : null;
      const insert = () =>
        database.query(
          `INSERT INTO job (id, kind, state, payload, about, claim, progress, owner, leaseUntil, attempts, cancel, reason, project, ofProject, created, wanted) VALUES (?, ?, 'queued', ?, ?, ?, ?, NULL, NULL, 0, 0, NULL, NULL, ?, ${NOW}, ${NOW})`,
          [
            id,
            kind,
            'json' in payload ? (payload as PayloadJson).json : JSON.stringify(payload),
            about,
            claim,
            JSON.stringify({ step: 'Waiting', done: 0, of: 1 }),
            projectOf(payload),
          ],
        );
      for (;;) {
        try {
          await withRetry(insert);
          runner.look();
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
    endAllFor: async (project) => {
      const rows = await withRetry(
        () =>
          database.query("SELECT id FROM job WHERE ofProject = ? AND state IN ('queued', 'running')", [
            project,
          ]) as Promise<{ id: string }[]>,
      );
      if (rows.length === 0) return;
      // What runs is told why, and stops; its slot is free for others then.
      await withRetry(() =>
        database.query(
          "UPDATE job SET cancel = 1, claim = NULL, reason = ?, state = IF(state = 'queued', 'cancelled', state) WHERE ofProject = ? AND state IN ('queued', 'running')",
          [PROJECT_GONE, project],
        ),
      );
      for (const { id } of rows) runner.cancelled(id);
    },
    cancel: async (id) => {
      // Runners claim rows meanwhile: a database that ends one of two statements for that is asked again.
      await withRetry(async () => {
        for (const [kind, left] of Object.entries(LEFT)) {
          await database.query(
            "UPDATE job SET cancel = 1, claim = IF(state = 'queued', NULL, claim), state = IF(state = 'queued', 'cancelled', state), reason = IF(state = 'cancelled', ?, reason) WHERE id = ? AND kind = ? AND state IN ('queued', 'running')",
            [`It was cancelled; ${left}.`, id, kind],
          );
        }
      });
      runner.cancelled(id);
    },
    stop: async () => {
      stopped = true;
      followed.clear();
      await following;
    },
  };
}
