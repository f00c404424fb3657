import { MessageChannel } from 'node:worker_threads';
import { Readable } from 'node:stream';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { MAX_FILE, type StoredText } from '../../../contract/src/index.ts';
import { newBill } from '../../../core/src/documents/index.ts';
import { memoryStore } from '../../../engine/src/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { refuseUnfit } from './deepJson.ts';
import { SMALL_BODY, startDesk, type Desk } from './desk.ts';
import { weightOf } from '../opened/openedStructure.ts';
import { packAssembly } from '../opened/packedAssembly.ts';
import { readBody } from './readings.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { remoteStore, serveStore } from './remoteStore.ts';

let desk: Desk;
beforeAll(() => void (desk = startDesk(process.env.SLEDGEBOARD_DESK!)));
afterAll(() => desk?.close());

const bill = newBill(assemblyOf(node('TOP', [2, leaf('A', { name: 'Slat' })])), 'list');
const inUtf8 = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value));
/** With so many numbers that it is worked on in a thread. */
const large = {
  ...bill,
  ledger: Object.fromEntries(
    Array.from({ length: 4000 }, (_, at) => [at.toString(16).padStart(32, '0'), { number: at + 10 }]),
  ),
};
const stored = (content: object): StoredText => ({
  id: 'b',
  kind: 'bill',
  version: 1,
  content: JSON.stringify(content),
});
const rename = (id: string) => JSON.stringify({ kind: 'renameColumn', id, heading: 'Pos' });

describe('what is large is worked on in a thread, and comes to the same as what is small', () => {
  test.each([
    ['small', bill],
    ['large', large],
  ])('%s: gestures, refusals and clashes', async (_, content) => {
    const carried = await desk.carry({
      documents: [stored(content)],
      gestures: ['item', 'gone', 'item'].map((id) => ({ steps: [{ document: 'b', version: 1, command: rename(id) }] })),
      meanwhile: [],
      stays: null,
    });
    expect(carried.outcomes.map(({ what }) => what)).toEqual(['done', 'refused', 'clash']);
    const after = JSON.parse(carried.documents![0].content) as typeof bill;
    expect(after).toEqual({
      ...content,
      columns: content.columns.map((column) => (column.id === 'item' ? { ...column, heading: 'Pos' } : column)),
    });
  });
  test.each([
    ['small', bill],
    ['large', large],
  ])('%s: what was worked out and never kept is not taken for what was', async (_, content) => {
    const order = (heading: string) => ({
      documents: [stored(content)],
      gestures: [
        {
          steps: [
            { document: 'b', version: 1, command: JSON.stringify({ kind: 'renameColumn', id: 'item', heading }) },
          ],
        },
      ],
      meanwhile: [],
      stays: null,
    });
    const [mine] = (await desk.carry(order('Pos'))).documents!;
    // Somebody else was first with the same version, as long as mine to the letter.
    const theirs = { ...mine, content: mine.content.replace('"Pos"', '"Nos"') };
    expect(theirs.content.length).toBe(mine.content.length);
    const [now] = await desk.current([theirs]);
    expect(now.content).toContain('"Nos"');
    const next = { ...order('Qos'), documents: [theirs] };
    next.gestures[0].steps[0].version = theirs.version;
    const inverse = (await desk.carry(next)).outcomes[0];
    expect(JSON.stringify(inverse)).toContain('Nos');
  });
  test.each([
    ['small', { ...bill, surprise: true }],
    ['large', { ...large, surprise: true }],
  ])('%s: what cannot be read is a refusal on both ways', async (_, content) => {
    await expect(desk.current([stored(content)])).rejects.toMatchObject({ name: 'Refusal', code: 'unreadable' });
  });
  test('a gesture of many letters is opened as one of few', async () => {
    const gesture = (label: string, numbers: object) =>
      inUtf8({
        gesture: 'g',
        session: 's',
        label,
        steps: [{ document: 'b', version: 1, command: { kind: 'setNumbers', numbers } }],
      });
    for (const numbers of [{}, large.ledger]) {
      const opened = await desk.read('gesture', gesture('numbers', numbers));
      expect(opened.label).toBe('numbers');
      expect(JSON.parse(opened.steps[0].command)).toEqual({ kind: 'setNumbers', numbers });
      await expect(desk.read('gesture', gesture('x'.repeat(300), numbers))).rejects.toMatchObject({
        code: 'not-as-expected',
      });
    }
  });
});

test('a thread reads the store of the one that lends it, and cannot write there', async () => {
  const { port1, port2 } = new MessageChannel();
  const own = memoryStore();
  await own.put('known', Uint8Array.of(1, 2, 3));
  serveStore(port1, own);
  const lent = remoteStore(port2);
  expect(await Promise.all([lent.get('known'), lent.get('unknown')])).toEqual([Uint8Array.of(1, 2, 3), null]);
  await expect(lent.put('known', new Uint8Array())).rejects.toThrow('read only');
  port1.close();
});

test('JSON a hundred deep is read, deeper is refused; brackets within texts do not count', () => {
  const nested = (deep: number) => '['.repeat(deep) + ']'.repeat(deep);
  const look = (text: string, most = 1000) => refuseUnfit(Buffer.from(text), most);
  expect(() => look(nested(100))).not.toThrow();
  expect(() => look(nested(101))).toThrow('more than 100 deep');
  expect(() => look(`{"a":"${'['.repeat(500)}\\"${'{'.repeat(500)}"}`)).not.toThrow();
});
test('JSON of more values than anything that is meant is refused before it is parsed', () => {
  const look = (text: string) => refuseUnfit(Buffer.from(text), 1000);
  expect(() => look(`[${'1,'.repeat(998)}1]`)).not.toThrow();
  expect(() => look(`[${'1,'.repeat(1000)}1]`)).toThrow('1,002 values; up to 1,000');
  expect(() => look(`["${'1,'.repeat(2000)}"]`)).not.toThrow();
  expect(() => readBody('views', inUtf8({ looks: Array.from({ length: 1_100_000 }, () => 1) }))).toThrow('values');
});
test('a command is as large as what it may say: a name of megabytes is refused, numbers of all lines are not', () => {
  const gesture = (command: object) =>
    inUtf8({ gesture: 'g', session: 's', label: 'l', steps: [{ document: 'b', version: 1, command }] });
  const much = 'x'.repeat(5_000_000);
  expect(() => readBody('gesture', gesture({ kind: 'renameBill', name: much }))).toThrow(
    'What was sent as “renameBill” has 5,000,031 letters; up to 4,194,304 can be taken.',
  );
  expect(readBody('gesture', gesture({ kind: 'setNumbers', numbers: { much } })).steps).toHaveLength(1);
});
test('a few hundred bytes that are a hundred thousand places weigh what listing them takes', async () => {
  const store = memoryStore();
  const weigh = async (levels: number) => {
    let top = node('L0', [2, leaf('A')]);
    for (let level = 1; level < levels; level++) top = node(`L${level}`, [2, top]);
    const packed = packAssembly(assemblyOf(top));
    await store.put(`levels ${levels}`, packed);
    return { weight: await weightOf(`levels ${levels}`, store), packed: packed.length };
  };
  const [few, many] = [await weigh(2), await weigh(17)];
  expect(many.packed).toBeLessThan(SMALL_BODY);
  expect(many.weight).toBeGreaterThan(100 * 2 ** 17);
  expect(few.weight).toBeLessThan(SMALL_BODY);
});
test('work that takes longer than it may is ended and said, and the next is done', async () => {
  const hurried = startDesk(process.env.SLEDGEBOARD_DESK!, {
    reading: 1,
    documents: 1,
    question: 1,
    output: 1,
    set: 1,
  });
  try {
    const reading = hurried.read('gesture', inUtf8({ steps: 'x'.repeat(2 * SMALL_BODY) }));
    await expect(reading).rejects.toMatchObject({ code: 'too-long', message: expect.stringContaining('was given up') });
  } finally {
    await hurried.close();
  }
});
test('work for a request that has gone ends with it', async () => {
  const gone = new AbortController();
  const reading = desk.read('gesture', inUtf8({ steps: 'x'.repeat(2 * SMALL_BODY) }), gone.signal);
  gone.abort();
  await expect(reading).rejects.toMatchObject({ name: 'AbortError' });
});

describe('a file that comes in', () => {
  const folder = mkdtempSync(join(tmpdir(), 'sledge-incoming-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const request = (pieces: Iterable<Buffer> | AsyncIterable<Buffer>, headers: Record<string, string> = {}) =>
    Object.assign(Readable.from(pieces), { headers }) as unknown as IncomingMessage;

  test('is on disk while it is used, with its size and hash, and gone afterwards', async () => {
    let path = '';
    const told = await receiveFile(request([Buffer.from('ice '), Buffer.from('drill')]), folder, async (file) => {
      path = file.path;
      expect(existsSync(path)).toBe(true);
      return [file.size, file.hash];
    });
    // printf 'ice drill' | sha256sum
    expect(told).toEqual([9, 'e1e4318d4873020c635ab0fd5c77b705807fbbeb56272610a6c0f811ae9d8edc']);
    expect(readdirSync(folder)).toEqual([]);
  });
  test('leaves nothing when its use fails, or when it breaks off', async () => {
    await expect(
      receiveFile(request([Buffer.from('x')]), folder, () => Promise.reject(new Error('refused'))),
    ).rejects.toThrow('refused');
    async function* broken() {
      yield Buffer.from('half');
      await Promise.resolve();
      throw new Error('the connection broke');
    }
    await expect(receiveFile(request(broken()), folder, () => Promise.resolve())).rejects.toThrow(
      'the connection broke',
    );
    expect(readdirSync(folder)).toEqual([]);
  });
  test('is refused by its declared size before it is read', async () => {
    let read = false;
    function* pieces() {
      read = true;
      yield Buffer.from('x');
    }
    const declared = { 'content-length': String(MAX_FILE + 1) };
    await expect(receiveFile(request(pieces(), declared), folder, () => Promise.resolve())).rejects.toMatchObject({
      name: 'TooLarge',
    });
    expect(read).toBe(false);
  });
});
