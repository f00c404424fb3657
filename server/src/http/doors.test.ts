import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as v from 'valibot';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { api, routes, type Route } from '../../../contract/src/index.ts';
import { listOf } from '../../../contract/src/documents/shared.ts';
import { makeApp } from '../app.ts';
import { SMALL_BODY, type Desk } from '../desk/desk.ts';
import type { Services } from './http.ts';
import { readBody } from '../desk/readings.ts';
import { serverLog } from '../logLines.ts';

describe('a door looks at no more than it has to', () => {
  /** How many things a schema looked into. */
  const counting = () => {
    const seen = { count: 0 };
    const schema = v.pipe(
      v.unknown(),
      v.check((value) => (seen.count++, value === 'good')),
    );
    return { seen, schema };
  };
  test('the length of a list is asked before anything in it', () => {
    const { seen, schema } = counting();
    expect(v.safeParse(listOf(schema, 50), new Array(1000).fill('good')).success).toBe(false);
    expect(seen.count).toBe(0);
    expect(v.safeParse(listOf(schema, 50), new Array(50).fill('good')).success).toBe(true);
  });
  test('the first fault ends it, in lists within lists too', () => {
    const { seen, schema } = counting();
    const nested = listOf(v.strictObject({ steps: listOf(schema, 1000) }), 100);
    const faulty = new Array(100).fill({ steps: new Array(1000).fill('bad') });
    const result = v.safeParse(nested, faulty);
    expect([result.success, result.issues?.length, seen.count]).toEqual([false, 1, 1]);
  });
  test('a hundred commands with a thousand bad columns each are refused at the first', () => {
    const column = { id: 7 };
    const command = { kind: 'setColumns', columns: new Array(1000).fill(column) };
    const intention = { kind: 'changeBill', bill: 'b', commands: new Array(100).fill(command) };
    const body = Buffer.from(JSON.stringify({ gesture: 'g', session: 's', label: 'l', intention }));
    expect(() => readBody('intention', body)).toThrow(
      /^What was sent is not as expected at intention\.commands\.0\.columns/,
    );
    expect(v.safeParse(api.viewsOrderSchema, { looks: new Array(50).fill(1) }).issues).toHaveLength(1);
  });
});

/**
 * Every route is asked with a body larger than what may be worked on where requests are answered: it says no, or hands the
 * bytes on as they are. So whatever stands in a body, the loop reads no more of it than SMALL_BODY.
 */
test('a file of the page that is not there is 404, a place in the page is the page', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'sledge-page-'));
  writeFileSync(join(folder, 'index.html'), '<title>Sledgeboard</title>');
  const app = makeApp({ page: folder } as unknown as Services);
  const server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  try {
    const at = async (path: string) => {
      const response = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`);
      return [response.status, (await response.text()).slice(0, 60)];
    };
    expect(await at('/assets/gone-1234.js')).toEqual([404, '{"error":"There is no such file; reload the page."}']);
    expect(await at('/projects/some/bill')).toEqual([200, '<title>Sledgeboard</title>']);
  } finally {
    server.close();
    rmSync(folder, { recursive: true });
  }
});

test('work that ends since who asked has gone is no fault of the program', async () => {
  const log = vi.spyOn(serverLog, 'error').mockImplementation(() => {});
  let ended: Promise<unknown> = Promise.resolve();
  let begin = () => {};
  const begun = new Promise<void>((resolve) => (begin = resolve));
  const read = (_: string, __: Uint8Array, signal: AbortSignal) => (
    begin(),
    (ended = new Promise((___, reject) =>
      signal.addEventListener('abort', () => reject(Object.assign(new Error('aborted'), { name: 'AbortError' }))),
    ))
  );
  const server = createServer(makeApp({ desk: { read }, page: null } as unknown as Services));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  try {
    const gone = new AbortController();
    const { port } = server.address() as AddressInfo;
    const asking = fetch(`http://127.0.0.1:${port}/api/projects/x/views`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{}',
      signal: gone.signal,
    });
    void begun.then(() => gone.abort());
    await expect(asking).rejects.toThrow('abort');
    await expect(ended).rejects.toThrow('aborted');
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(log).not.toHaveBeenCalled();
  } finally {
    log.mockRestore();
    server.close();
  }
});

describe('the loop that answers requests takes no large body apart', () => {
  let server: Server;
  const handed: number[] = [];
  beforeAll(async () => {
    const gone = () => Promise.reject(new Error('not asked'));
    const desk = { read: (_: string, bytes: Uint8Array) => (handed.push(bytes.length), gone()) } as unknown as Desk;
    const database = { query: () => Promise.resolve([]), getRepository: gone, transaction: gone };
    const services = { database, desk, blobs: {}, jobs: {}, pool: {}, page: null, scratch: '', suppliers: '' };
    server = createServer(makeApp(services as unknown as Services));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
    vi.spyOn(serverLog, 'error').mockImplementation(() => {});
  });
  afterAll(() => {
    vi.restoreAllMocks();
    server.close();
  });

  const all: readonly Route[] = Object.values(routes).flatMap((subject) => Object.values(subject) as Route[]);
  /** Those that take a file to disk, or a picture, look into nothing. */
  const asked = all.filter(({ verb, sends }) => (verb === 'POST' || verb === 'PUT') && !sends);

  test('the list of routes has those that are meant', () => expect(asked.length).toBeGreaterThan(20));
  test.each(asked.map((one) => [one.verb, one.path, one] as const))('%s %s', async (method, path, { body: schema }) => {
    const parsed: number[] = [];
    const own = JSON.parse;
    const spy = vi.spyOn(JSON, 'parse').mockImplementation((text: string, reviver) => {
      parsed.push(text.length);
      return own(text, reviver) as unknown;
    });
    handed.length = 0;
    const { port } = server.address() as AddressInfo;
    const body = JSON.stringify({ values: new Array(SMALL_BODY).fill(1) });
    const response = await fetch(`http://127.0.0.1:${port}${path.replace(/:\w+/g, 'x')}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body,
    });
    await response.text();
    spy.mockRestore();
    expect(Math.max(0, ...parsed)).toBeLessThanOrEqual(SMALL_BODY);
    // It is refused for its size, handed on whole, or not read at all.
    if (response.status !== 413 && schema) expect(handed).toEqual([body.length]);
  });
});
