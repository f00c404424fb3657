import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { moodOf, offerAt, startSuppliers, type Suppliers } from './simulatedSuppliers.ts';
import { askSuppliers } from './suppliers.ts';

let service: Suppliers;
let tick = 7;
beforeAll(async () => {
  service = await startSuppliers(() => tick);
});
afterAll(() => service?.close());
const never = new AbortController().signal;
const quick = { limit: 300, tries: 2, atOnce: 3 };
const ask = (numbers: readonly string[], signal = never) => askSuppliers(service.url, numbers, signal, quick);

describe('the made-up suppliers', () => {
  test('ask the same at the same tick, another price now and then, always in bounds', () => {
    expect(offerAt('BN-0860', 3)).toEqual(offerAt('BN-0860', 3));
    const prices = Array.from({ length: 40 }, (_, at) => offerAt('BN-0860', at).unitCost);
    expect(new Set(prices).size).toBeGreaterThan(1);
    const middle = prices.reduce((sum, one) => sum + one, 0) / prices.length;
    for (const price of prices) expect(Math.abs(price / middle - 1)).toBeLessThan(0.2);
  });
  test('most numbers are answered', () => {
    const moods = Array.from({ length: 500 }, (_, at) => moodOf(`P-${at}`));
    expect(moods.filter((mood) => mood === 'answers').length).toBeGreaterThan(450);
  });
});

describe('asking', () => {
  const known = Array.from({ length: 30 }, (_, at) => `K-${at}`).filter((number) => moodOf(number) === 'answers');
  test('every number is answered in its place, however many are asked at once', async () => {
    tick = 11;
    expect(await ask(known)).toEqual(known.map((number) => offerAt(number, 11)));
  });
  test('what is slow, unknown or nonsense is told for its number; what fails once is tried again', async () => {
    const [slow, unknown, nonsense, fails, fine] = await ask([
      'slow-1',
      'unknown-1',
      'nonsense-1',
      'fails-1',
      known[0],
    ]);
    expect(slow).toEqual({ number: 'slow-1', why: 'No answer within 0.3 s.' });
    expect(unknown).toEqual({ number: 'unknown-1', why: 'Nobody sells it.' });
    expect(nonsense).toEqual({ number: 'nonsense-1', why: 'The answer is not understood.' });
    expect(fails).toEqual(offerAt('fails-1', tick));
    expect(fine).toEqual(offerAt(known[0], tick));
  });
  test('nobody there is said in words, not thrown', async () => {
    const gone = await startSuppliers();
    await gone.close();
    const [answer] = await askSuppliers(gone.url, ['A'], never, quick);
    expect(answer).toMatchObject({ number: 'A', why: expect.stringContaining('It cannot be reached') });
  });
  test('an answer without end is not read to its end', async () => {
    let sent = 0;
    let closed = false;
    const endless = createServer((_, response) => {
      response.once('close', () => (closed = true));
      const more = () => {
        while (!closed && response.write('x'.repeat(10_000))) sent += 10_000;
        if (!closed) response.once('drain', more);
      };
      more();
    });
    await new Promise<void>((ready) => endless.listen(0, '127.0.0.1', ready));
    const url = `http://127.0.0.1:${(endless.address() as AddressInfo).port}`;
    // Given all the time that it could want, it is still left alone.
    const [answer] = await askSuppliers(url, ['A'], never, { ...quick, limit: 60_000 });
    expect(answer).toEqual({ number: 'A', why: 'The answer is not understood.' });
    await expect.poll(() => closed).toBe(true);
    expect(sent).toBeLessThan(20_000_000);
    endless.close();
  });
  test('who leaves is not waited for', async () => {
    const left = new AbortController();
    const asking = ask(['slow-2', 'slow-3'], left.signal);
    left.abort();
    await expect(asking).rejects.toThrow(/abort/i);
  });
});
