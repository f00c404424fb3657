import { randomUUID } from 'node:crypto';
import { expect, vi } from 'vitest';
import type { Accepted, Job, Project, ViewsAnswer } from '../contract/src/index.ts';
import { startServer, type RunningServer } from '../server/src/server.ts';
import { testSchema } from './schema.ts';
import { bundledThreads } from './threads.ts';

/** A server, talked to over HTTP as any client would. */
export interface Client {
  readonly url: string;
  /** Status and body: parsed where it is JSON, else text. */
  readonly call: <Body>(path: string, method?: string, body?: unknown) => Promise<{ status: number; body: Body }>;
  readonly get: <Body>(path: string) => Promise<Body>;
  readonly post: <Body>(path: string, body: unknown) => Promise<Body>;
  /** Follows a job until it is done; fails with its reason where it is not. */
  readonly done: (job: string | null) => Promise<Job | null>;
  /** Brings a file in; the project's id. */
  readonly importFile: (name: string, bytes: string | Uint8Array) => Promise<string>;
  readonly open: (project: string, session?: string) => Promise<Project>;
  /** A gesture of one command for the first document of a kind, or for one by its id. */
  readonly edit: (
    project: string,
    document: string,
    command: unknown,
    session?: string,
  ) => Promise<Accepted & { error?: string }>;
  /** Has the views of a sheet drawn, then the sheet as text. */
  readonly sheetSvg: (project: string, sheet: string) => Promise<string>;
}

/** A server on a database of its own, in this process. */
export interface LiveServer extends Client {
  /** Of its database, for looking behind the server. */
  readonly databaseUrl: string;
  readonly stop: () => Promise<void>;
}

/**
 * @param schema what the database is called
 * @param fill fills it before the server starts
 */
export async function startLive(
  schema: string,
  fill: (databaseUrl: string) => Promise<void> = async () => {},
): Promise<LiveServer> {
  const database = testSchema(schema);
  await database.create();
  await fill(database.url);
  const server: RunningServer = await startServer({
    databaseUrl: database.url,
    threads: bundledThreads(),
    page: null,
    port: 0,
    demoFile: null,
  });
  return {
    ...talkTo(server.url),
    databaseUrl: database.url,
    stop: async () => {
      await server.close();
      await database.drop();
    },
  };
}

/** @param url of a server that runs */
export function talkTo(url: string): Client {
  const call = async <Body>(path: string, method = 'GET', body?: unknown) => {
    const raw = typeof body === 'string' || body instanceof Uint8Array;
    const response = await fetch(`${url}${path}`, {
      method,
      ...(body === undefined
        ? {}
        : raw
          ? { body: body as string }
          : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const text = await response.text();
    return { status: response.status, body: (/^[{[]/.test(text) ? JSON.parse(text) : text) as Body };
  };
  const get = async <Body>(path: string) => (await call<Body>(path)).body;
  const post = async <Body>(path: string, body: unknown) => (await call<Body>(path, 'POST', body)).body;
  const open = (project: string, session = 'one') => get<Project>(`/api/projects/${project}?session=${session}`);
  const done = async (id: string | null) => {
    if (id === null) return null;
    await vi.waitFor(
      async () => {
        const { state, reason } = await get<Job>(`/api/jobs/${id}`);
        expect([state, reason]).not.toEqual(['queued', null]);
        expect(state).not.toBe('running');
      },
      { timeout: 60_000, interval: 60 },
    );
    const job = await get<Job>(`/api/jobs/${id}`);
    if (job.state !== 'done') throw new Error(job.reason ?? job.state);
    return job;
  };
  return {
    url,
    call,
    get,
    post,
    done,
    open,
    importFile: async (name, bytes) => {
      const { job } = await post<{ job: string }>(`/api/imports?name=${encodeURIComponent(name)}`, bytes);
      return (await done(job))!.project!;
    },
    edit: async (project, wanted, command, session = 'one') => {
      const { documents } = await open(project, session);
      const document = documents.find(({ id }) => id === wanted) ?? documents.find(({ kind }) => kind === wanted)!;
      return post(`/api/projects/${project}/edits`, {
        gesture: randomUUID(),
        session,
        label: 'test',
        steps: [{ document: document.id, version: document.version, command }],
      });
    },
    sheetSvg: async (project, sheet) => {
      const path = `/api/projects/${project}/sheets/${sheet}`;
      await done((await post<ViewsAnswer>(`${path}/views`, {})).job);
      return get<string>(`${path}/svg`);
    },
  };
}
