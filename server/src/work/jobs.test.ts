import type { DataSource } from 'typeorm';
import { afterAll, afterEach, beforeAll, describe, expect, test, vi } from 'vitest';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { openDatabase } from '../store/database.ts';
import { runJobs, type JobHandler } from './jobRunner.ts';
import { jobLimit, usualSlots } from './turns.ts';
import { jobQueue, type JobKind, type JobQueue } from '../jobs/jobs.ts';
import type { Pool } from '../../../engine/src/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { blobStore } from '../store/blobs.ts';
import { importFile } from './imports.ts';
import { testSchema } from '../../../testkit/schema.ts';
import { serverLog } from '../logLines.ts';

const schema = testSchema('jobs');
let database: DataSource;
/** What the jobs of these tests are given is theirs. */
type AnyQueue = Omit<JobQueue, 'add'> & {
  readonly add: (...job: [JobKind, payload: unknown, about: string, options?: { once?: boolean }]) => Promise<string>;
};
const queues: AnyQueue[] = [];
beforeAll(async () => {
  await schema.create();
  database = await openDatabase(schema.url);
});
afterEach(async () => {
  for (const queue of queues.splice(0)) await queue.stop();
  await database.query('DELETE FROM job');
});
afterAll(async () => {
  await database?.destroy();
  await schema.drop();
});

/** A server's queue and runner, whose imports do this; its other jobs nothing, where nothing is said. */
function serve(
  work: JobHandler,
  others: Partial<Record<JobKind, JobHandler>> = {},
  slots = usualSlots,
  limit = jobLimit,
): AnyQueue {
  const nothing: JobHandler = async () => null;
  const runner = runJobs(
    database,
    {
      import: work,
      shapes: nothing,
      view: nothing,
      intention: nothing,
      recognise: nothing,
      foresee: nothing,
      cutPlans: nothing,
      ...others,
    },
    slots,
    limit,
  );
  const queue = jobQueue(database, runner);
  const both = { ...(queue as AnyQueue), stop: () => Promise.all([runner.stop(), queue.stop()]).then(() => {}) };
  queues.push(both);
  return both;
}
const ends = async (queue: AnyQueue, id: string, state: string) =>
  vi.waitFor(async () => expect((await queue.find(id))?.state).toBe(state), { timeout: 10_000 });

describe('jobs', () => {
  test('are done once, with what they were given, and tell what they made', async () => {
    const seen: unknown[] = [];
    const queue = serve(async (payload) => (seen.push(payload), 'project-1'));
    const id = await queue.add('import', { fileName: 'a.step' }, 'this');
    await ends(queue, id, 'done');
    expect([seen, (await queue.find(id))!.project]).toEqual([[{ fileName: 'a.step' }], 'project-1']);
  });
  test('of which one is enough are added once while they wait or run, and again after', async () => {
    const waiting: (() => void)[] = [];
    const queue = serve(
      (_, { signal }) =>
        new Promise((resolve, reject) => {
          waiting.push(() => resolve(null));
          signal.addEventListener('abort', () => reject(signal.reason as Error));
        }),
    );
    const add = () => queue.add('import', {}, 'the same', { once: true });
    const first = await add();
    await ends(queue, first, 'running');
    expect(await Promise.all([add(), add(), queue.live('import', 'the same')])).toEqual([first, first, first]);
    expect(await queue.add('import', {}, 'another', { once: true })).not.toBe(first);
    waiting.forEach((go) => go());
    await ends(queue, first, 'done');
    expect(await queue.live('import', 'the same')).toBeNull();
    expect(await add()).not.toBe(first);
  });
  test('of several servers on one database never two take the same job', async () => {
    const taken: string[] = [];
    const work =
      (server: string): JobHandler =>
      async (payload) => {
        taken.push(`${(payload as { n: number }).n} ${server}`);
        await new Promise((resolve) => setTimeout(resolve, 5));
        return null;
      };
    const [one] = [serve(work('one')), serve(work('two'))];
    const ids = await Promise.all(Array.from({ length: 12 }, (_, n) => one.add('import', { n }, 'this')));
    for (const id of ids) await ends(one, id, 'done');
    expect(taken.map((entry) => Number(entry.split(' ')[0])).sort((a, b) => a - b)).toEqual(ids.map((_, n) => n));
  });
  test('a server that has stopped takes nothing up any more, not even what it was about to claim', async () => {
    const seen: string[] = [];
    const stopping = serve(async () => (seen.push('stopped server'), null));
    const adding = stopping.add('import', {}, 'this'); // the look for work is under way while the server stops
    await Promise.all([adding, stopping.stop()]);
    const running = serve(async () => (seen.push('running server'), null));
    await ends(running, await adding, 'done');
    expect(seen).toEqual(['running server']);
  });
  test('a job that is cancelled says what it leaves, which is not the same for each kind', async () => {
    const untilStopped: JobHandler = (_, { signal }) =>
      new Promise((__, reject) => signal.addEventListener('abort', () => reject(new Error('stopped'))));
    const queue = serve(untilStopped, { shapes: untilStopped });
    const reasonOf = async (kind: 'import' | 'shapes') => {
      const id = await queue.add(kind, {}, 'this');
      await ends(queue, id, 'running');
      await queue.cancel(id);
      await ends(queue, id, 'cancelled');
      return (await queue.find(id))!.reason;
    };
    expect(await reasonOf('import')).toBe('It was cancelled; nothing was stored.');
    expect(await reasonOf('shapes')).toBe('It was cancelled; what was made is kept.');
  });
  test('a refusal is the reason, word for word', async () => {
    const queue = serve(async () => {
      throw new Refusal('x', 'Line 3: a semicolon is missing.');
    });
    const id = await queue.add('import', {}, 'this');
    await ends(queue, id, 'failed');
    expect((await queue.find(id))!.reason).toBe('Line 3: a semicolon is missing.');
  });
  test('progress stands in the row while the job runs, and a cancelled job stops', async () => {
    const queue = serve(
      (_, { signal, report }) =>
        new Promise((__, reject) => {
          report({ step: 'Making the shapes', done: 3, of: 7 });
          signal.addEventListener('abort', () => reject(new Error('stopped')));
        }),
    );
    const id = await queue.add('import', {}, 'this');
    await vi.waitFor(
      async () => expect((await queue.find(id))!.progress).toEqual({ step: 'Making the shapes', done: 3, of: 7 }),
      { timeout: 5000 },
    );
    await queue.cancel(id);
    await ends(queue, id, 'cancelled');
  });
  test('a job whose server was killed is taken up by the next one', async () => {
    await database.query(
      "INSERT INTO job (id, kind, state, payload, progress, owner, leaseUntil, attempts, cancel, reason, project, created) VALUES ('left', 'import', 'running', '{}', '{\"step\":\"\",\"done\":0,\"of\":1}', 'gone', ?, 1, 0, NULL, NULL, ?)",
      [new Date(Date.now() - 1000), new Date()],
    );
    await ends(
      serve(async () => 'again'),
      'left',
      'done',
    );
  });
  test('a job of another server is left to it, however far ahead the own clock is', async () => {
    await database.query(
      "INSERT INTO job (id, kind, state, payload, progress, owner, leaseUntil, attempts, cancel, reason, project, created, wanted) VALUES ('theirs', 'import', 'running', '{}', '{\"step\":\"\",\"done\":0,\"of\":1}', 'other', UTC_TIMESTAMP(3) + INTERVAL 1 MINUTE, 1, 0, NULL, NULL, UTC_TIMESTAMP(3), NULL), ('looked for', 'view', 'queued', '{}', '{\"step\":\"\",\"done\":0,\"of\":1}', NULL, NULL, 0, 0, NULL, NULL, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) + INTERVAL 10 SECOND)",
    );
    vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + 3_600_000 });
    try {
      const begun: string[] = [];
      const queue = serve(async (_, { id }) => {
        begun.push(id);
        return null;
      });
      await ends(queue, await queue.add('import', {}, 'own'), 'done');
      await ends(queue, 'looked for', 'done');
      expect(begun).not.toContain('theirs');
      const [{ ahead }] = (await database.query(
        'SELECT MAX(TIMESTAMPDIFF(SECOND, UTC_TIMESTAMP(3), created)) AS ahead FROM job',
      )) as { ahead: number }[];
      expect(Number(ahead)).toBeLessThanOrEqual(0);
    } finally {
      vi.useRealTimers();
      await database.query("DELETE FROM job WHERE id = 'theirs'");
    }
  });
  test('… but not for ever: after three attempts it is failed, in words', async () => {
    await database.query(
      "INSERT INTO job (id, kind, state, payload, progress, owner, leaseUntil, attempts, cancel, reason, project, created) VALUES ('tired', 'import', 'running', '{}', '{\"step\":\"\",\"done\":0,\"of\":1}', 'gone', ?, 3, 0, NULL, NULL, ?)",
      [new Date(Date.now() - 1000), new Date()],
    );
    const queue = serve(async () => 'never');
    await ends(queue, 'tired', 'failed');
    expect((await queue.find('tired'))!.reason).toContain('It was tried 3 times');
  });
  test('a server that stops in good order hands its job back at once', async () => {
    const first = serve(
      (_, { signal }) =>
        new Promise((__, reject) => signal.addEventListener('abort', () => reject(new Error('stopped')))),
    );
    const id = await first.add('import', {}, 'this');
    await ends(first, id, 'running');
    await first.stop();
    await ends(
      serve(async () => 'taken over'),
      id,
      'done',
    );
  });
  test('a view that nobody waits for any more is not drawn; one that is followed is', async () => {
    const drawn: string[] = [];
    let free = () => {};
    const blocked = new Promise<void>((resolve) => (free = resolve));
    const draw: JobHandler = async (payload) => {
      const { name } = payload as { name: string };
      if (name === 'first') await blocked;
      drawn.push(name);
      return null;
    };
    const queue = serve(async () => null, { view: draw }, { ...usualSlots, looking: 1 });
    const first = await queue.add('view', { name: 'first' }, 'first');
    await ends(queue, first, 'running');
    const [left, wanted] = [
      await queue.add('view', { name: 'left' }, 'left'),
      await queue.add('view', { name: 'wanted' }, 'wanted'),
    ];
    // Not so long ago that the runner could drop it before the follower says that it is still wanted.
    const before = new Date(Date.now() - 5000);
    await database.query('UPDATE job SET wanted = ? WHERE id = ?', [before, wanted]);
    const told: (string | undefined)[] = [];
    const leave = queue.follow(wanted, (job) => told.push(job?.state));
    await vi.waitFor(
      async () => {
        const said = 'SELECT 1 FROM job WHERE id = ? AND wanted > ?';
        expect(await database.query(said, [wanted, new Date(before.getTime() + 1000)])).toHaveLength(1);
      },
      { timeout: 10_000 },
    );
    expect(told).toEqual(['queued']);
    await database.query('UPDATE job SET wanted = ? WHERE id = ?', [new Date(Date.now() - 60_000), left]);
    // Asking the queue would be waiting for it.
    const states = () => database.query('SELECT state FROM job WHERE id = ?', [left]) as Promise<unknown>;
    await vi.waitFor(async () => expect(await states()).toEqual([{ state: 'cancelled' }]), { timeout: 10_000 });
    free();
    await ends(queue, wanted, 'done');
    expect([drawn, (await queue.find(left))!.reason]).toEqual([['first', 'wanted'], 'Nobody waited for it any more.']);
    await vi.waitFor(() => expect(told.at(-1)).toBe('done'), { timeout: 5000 });
    leave();
  });
  test('a hundred that follow are told by one reader of the database', async () => {
    let free = () => {};
    const blocked = new Promise<void>((resolve) => (free = resolve));
    const queue = serve(async () => (await blocked, 'made'));
    const id = await queue.add('import', {}, 'this');
    const looks = vi.spyOn(database, 'getRepository');
    const told = Array.from({ length: 100 }, () => [] as (string | undefined)[]);
    for (const states of told) queue.follow(id, (job) => states.push(job?.state));
    await vi.waitFor(() => told.forEach((states) => expect(states.at(-1)).toBe('running')), { timeout: 5000 });
    const during = looks.mock.calls.length;
    expect(during).toBeLessThan(20);
    free();
    await vi.waitFor(() => told.forEach((states) => expect(states.at(-1)).toBe('done')), { timeout: 5000 });
    looks.mockRestore();
  });
  test('jobs that are over are cleared after a day', async () => {
    const insert = (id: string, state: string, created: number) =>
      database.query(
        "INSERT INTO job (id, kind, state, payload, progress, attempts, cancel, created) VALUES (?, 'import', ?, '{}', '{}', 1, 0, ?)",
        [id, state, new Date(created)],
      );
    const long = Date.now() - 3 * 24 * 3_600_000;
    await insert('old', 'done', long);
    await insert('fresh', 'failed', Date.now());
    serve(async () => null);
    const ids = async () =>
      ((await database.query('SELECT id FROM job ORDER BY id')) as { id: string }[]).map(({ id }) => id);
    await vi.waitFor(async () => expect(await ids()).toEqual(['fresh']), { timeout: 5000 });
  });
  test('work that takes longer than it may is ended, says so, and leaves its slot to others', async () => {
    const forEver: JobHandler = (_, { sized }) => (sized(2), new Promise(() => {})); // hears nothing
    const queue = serve(
      async () => null,
      { shapes: forEver },
      { ...usualSlots, making: 1 },
      (_, things) => (things === 0 ? 60_000 : things * 100),
    );
    const id = await queue.add('shapes', { project: 'p' }, 'this');
    const next = await queue.add('cutPlans', {}, 'next');
    await ends(queue, id, 'failed');
    expect((await queue.find(id))!.reason).toBe(
      'It took more than 0 minutes, longer than work of this kind and size may; what was made is kept.',
    );
    await ends(queue, next, 'done');
  });
  test('jobs of a project that is deleted end, wait no longer, and say why; those of others go on', async () => {
    const untilStopped: JobHandler = (_, { signal }) =>
      new Promise((__, reject) => signal.addEventListener('abort', () => reject(new Error('stopped'))));
    const queue = serve(untilStopped, { intention: untilStopped }, { ...usualSlots, making: 1 });
    const running = await queue.add('intention', { project: 'gone' }, 'a');
    await ends(queue, running, 'running');
    const waiting = await queue.add('intention', { project: 'gone' }, 'b');
    const coming = await queue.add('import', { into: 'gone' }, 'c');
    const others = await queue.add('cutPlans', { project: 'other' }, 'd');
    await queue.endAllFor('gone');
    for (const id of [running, waiting, coming]) {
      await ends(queue, id, 'cancelled');
      expect((await queue.find(id))!.reason).toMatch(/^The project was deleted meanwhile/);
    }
    await ends(queue, others, 'done');
  });
  test('what takes long holds up neither files that come in nor pictures', async () => {
    const long: JobHandler = (_, { signal }) =>
      new Promise((__, reject) => signal.addEventListener('abort', () => reject(new Error('stopped'))));
    const queue = serve(async () => null, { intention: long, foresee: long });
    for (const project of ['a', 'b', 'c']) await queue.add('intention', { project }, project);
    await ends(queue, await queue.add('import', {}, 'file'), 'done');
    await ends(queue, await queue.add('view', { project: 'a' }, 'view'), 'done');
  });
  test('an error of the program is told without the insides of a library', async () => {
    const log = vi.spyOn(serverLog, 'error').mockImplementation(() => {});
    const queue = serve(async () => {
      throw new TypeError('Cannot read properties of undefined');
    });
    const id = await queue.add('import', {}, 'this');
    await ends(queue, id, 'failed');
    const reason = (await queue.find(id))!.reason!;
    expect(reason).toMatch(
      /^Something went wrong in the program \(error [0-9a-f]{8}\); nothing was stored\. The log says more under this number\.$/,
    );
    expect(log.mock.calls[0][0]).toMatchObject({ id: /error [0-9a-f]{8}/.exec(reason)![0] });
    log.mockRestore();
  });
});

describe('an import that is cancelled', () => {
  /** Imports a machine of one part; while its file is read the job is cancelled in the database, or not. */
  const importing = (isCancelled: boolean) =>
    serve(async (payload, { id, report }) => {
      const pool = {
        read: async () => {
          if (isCancelled) await database.query('UPDATE job SET cancel = 1 WHERE id = ?', [id]);
          return { assembly: assemblyOf(node('TOP', [1, leaf('PART')])), slices: [], meshes: [] };
        },
      } as unknown as Pool;
      // Its signal says nothing: the database does.
      const { signal } = new AbortController();
      return (await importFile(payload, { id, signal, report }, { database, blobs: blobStore(database), pool }))
        .project;
    });
  const projects = async () =>
    ((await database.query('SELECT id FROM project')) as { id: string }[]).map(({ id }) => id);

  test.each([
    ['stores nothing, however late that comes', true, 'cancelled', 0],
    ['is stored where nobody cancelled', false, 'done', 1],
  ] as const)('%s', async (_, isCancelled, state, more) => {
    const fileBlob = `file ${isCancelled}`;
    await blobStore(database).put(fileBlob, new TextEncoder().encode('ISO-10303-21;'));
    const before = await projects();
    const queue = importing(isCancelled);
    const id = await queue.add('import', { fileName: 'a.step', fileBlob, finished: false }, fileBlob);
    await ends(queue, id, state);
    expect((await projects()).length - before.length).toBe(more);
    if (isCancelled) expect((await queue.find(id))?.reason).toBe('It was cancelled; nothing was stored.');
  });
});
