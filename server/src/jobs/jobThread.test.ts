import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { JobRunner } from './jobs.ts';
import { startJobThread } from './jobThread.ts';
import { serverLog } from '../logLines.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-thread-'));
let runner: JobRunner | null = null;
afterEach(async () => {
  await runner?.stop();
  runner = null;
  vi.restoreAllMocks();
});

/** A thread that runs this script; `data.databaseUrl` is a file into which it may write. */
function start(name: string, script: string, memory?: number, stuckMs?: number): string {
  const jobs = join(folder, `${name}.mjs`);
  const told = join(folder, `${name}.txt`);
  rmSync(told, { force: true });
  writeFileSync(
    jobs,
    `import { appendFileSync, existsSync } from 'node:fs';
     import { parentPort, workerData } from 'node:worker_threads';
     const told = workerData.databaseUrl;
     ${script}`,
  );
  runner = startJobThread({ databaseUrl: told, threads: { engine: '', desk: '', jobs } }, memory, stuckMs);
  return told;
}
const answering = `parentPort.on('message', (order) => {
  appendFileSync(told, JSON.stringify(order) + '\\n');
  if (order.what === 'stop') parentPort.close();
});`;
const orders = (told: string) => (existsSync(told) ? readFileSync(told, 'utf8').trim().split('\n') : []);

describe('the thread that does the jobs', () => {
  test('is told to look, what was cancelled, and to stop; stopping waits for its end', async () => {
    const told = start('told', answering);
    runner!.look();
    runner!.cancelled('job-1');
    await runner!.stop();
    expect(orders(told)).toEqual(['{"what":"look"}', '{"what":"cancelled","id":"job-1"}', '{"what":"stop"}']);
  });
  test('that fails is in the log and followed by another one', async () => {
    const log = vi.spyOn(serverLog, 'error').mockImplementation(() => {});
    const told = start(
      'fails',
      `if (!existsSync(told)) { appendFileSync(told, ''); throw new Error('it broke'); } ${answering}`,
    );
    await vi.waitFor(() => expect(JSON.stringify(log.mock.calls)).toContain('the thread that does the jobs'), 5000);
    await vi.waitFor(
      () => {
        runner!.look();
        expect(orders(told)).toContain('{"what":"look"}');
      },
      { timeout: 5000, interval: 100 },
    );
  });
  test('that is stuck in one piece of work is ended and followed by another one', async () => {
    const log = vi.spyOn(serverLog, 'error').mockImplementation(() => {});
    const told = start(
      'stuck',
      `setInterval(() => parentPort.postMessage('alive'), 50);
       if (!existsSync(told)) { appendFileSync(told, ''); for (;;); } ${answering}`,
      undefined,
      3000,
    );
    await vi.waitFor(
      () => {
        runner!.look();
        expect(orders(told)).toContain('{"what":"look"}');
      },
      { timeout: 60_000, interval: 100 },
    );
    expect(log.mock.calls.map(([facts]) => String((facts as unknown as { err: unknown }).err)).join()).toContain(
      'said nothing',
    );
  });
  test('that takes all its memory ends, not the server', async () => {
    vi.spyOn(serverLog, 'error').mockImplementation(() => {});
    const told = start(
      'memory',
      `if (!existsSync(told)) { appendFileSync(told, ''); const all = []; for (;;) all.push(new Array(1e6).fill(all.length)); } ${answering}`,
      64,
    );
    await vi.waitFor(
      () => {
        runner!.look();
        expect(orders(told)).toContain('{"what":"look"}');
      },
      { timeout: 60_000, interval: 200 },
    );
  });
});
