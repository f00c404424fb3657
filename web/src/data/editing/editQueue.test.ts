// @vitest-environment jsdom
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Project } from '../../../../contract/src/index.ts';
import { applyCommand, newBill, type BillDocument, type Command } from '../../../../core/src/documents/index.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { session } from '../api.ts';
import { EditQueue } from './editQueue.ts';

/** A server in a few lines: one bill, applied and versioned as the real one does it. */
class Server {
  bill: BillDocument = newBill(assemblyOf(node('TOP', [1, leaf('A', { name: 'Slat' })])), 'list');
  version = 1;
  log: { session: string; label: string; command: Command }[] = [];
  down = false;
  requests = 0;

  document() {
    return { id: 'bill', kind: 'bill' as const, version: this.version, content: this.bill };
  }
  apply(label: string, who: string, command: Command) {
    const applied = applyCommand('bill', this.bill, command);
    if (!applied.ok) throw new Error(applied.reason);
    this.bill = applied.document as BillDocument;
    this.version++;
    this.log.push({ session: who, label, command });
  }
  readonly fetch = async (_: string, init?: RequestInit): Promise<Response> => {
    this.requests++;
    if (this.down) throw new TypeError('no connection');
    const {
      label,
      session: who,
      steps,
    } = JSON.parse(String(init?.body)) as {
      label: string;
      session: string;
      steps: { version: number; command: Command }[];
    };
    if (steps[0].version !== this.version) {
      const since = this.log.slice(steps[0].version - 1).map((edit) => ({ document: 'bill', ...edit }));
      return Response.json(
        { error: 'Somebody else changed this meanwhile.', since, documents: [this.document()] },
        { status: 409 },
      );
    }
    try {
      for (const { command } of steps) this.apply(label, who, command);
    } catch (error) {
      return Response.json({ error: (error as Error).message }, { status: 422 });
    }
    return Response.json({ documents: [this.document()], history: { undo: label, redo: null } });
  };
}

let server: Server;
let queue: EditQueue;
let said: string[];
const loaded = (): Project => ({
  summary: {
    id: 'p',
    name: '',
    fileName: '',
    revision: '',
    parts: 0,
    leafOccurrences: 0,
    sheets: 0,
    behind: 0,
    changed: '',
  },
  revisions: [],
  documents: [server.document()],
  history: { undo: null, redo: null },
  findings: [],
});
beforeEach(() => {
  server = new Server();
  vi.stubGlobal('fetch', server.fetch);
  said = [];
  queue = new EditQueue('p', loaded(), (sentence) => said.push(sentence));
});
afterEach(() => vi.unstubAllGlobals());

const shown = () => queue.state().documents[0].content as BillDocument;
const rename = (heading: string, id = 'item'): Command => ({ kind: 'renameColumn', id, heading });
const perform = (label: string, ...commands: Command[]) =>
  queue.perform(
    label,
    commands.map((command) => ({ document: 'bill', command })),
  );
const settled = () => vi.waitFor(() => expect(queue.state().keeping.state).toBe('kept'));

describe('editing alone', () => {
  test('an edit shows at once and is kept a moment later', async () => {
    expect(perform('rename Item', rename('Pos'))).toBe(true);
    expect(shown().columns[0].heading).toBe('Pos');
    expect(queue.state()).toMatchObject({ keeping: { state: 'keeping' }, history: { undo: 'rename Item' } });
    await settled();
    expect(server.bill.columns[0].heading).toBe('Pos');
  });
  test('many quick edits arrive in order', async () => {
    for (const heading of ['a', 'b', 'c', 'd']) perform(heading, rename(heading));
    await settled();
    expect(server.log.map(({ label }) => label)).toEqual(['a', 'b', 'c', 'd']);
    expect(shown().columns[0].heading).toBe('d');
  });
  test('however long a text is typed, what Undo says of it fits and no letter is cut in two', async () => {
    perform(`type ${'🛷'.repeat(300)}`, rename('Pos'));
    await settled();
    expect(server.log[0].label).toMatch(/^type 🛷+$/u);
    expect(server.log[0].label.length).toBeGreaterThan(190);
    expect(server.log[0].label.length).toBeLessThanOrEqual(200);
  });
  test('what cannot be done is said and not sent', () => {
    expect(perform('x', rename('x', 'gone'))).toBe(false);
    expect(said).toEqual(['That column is no longer in the bill.']);
    expect(server.requests).toBe(0);
  });
  test('a gesture with one impossible step changes nothing on the screen', () => {
    perform('x', rename('first'), rename('second', 'gone'));
    expect(shown().columns[0].heading).toBe('Item');
  });
});

describe('with another window', () => {
  test('what touches something else is done on top, without a question', async () => {
    server.apply('level by level', 'other', { kind: 'setDepth', depth: 'structured' });
    perform('rename', rename('Pos'));
    await settled();
    expect([server.bill.columns[0].heading, shown().recipe.depth]).toEqual(['Pos', 'structured']);
  });
  test('what touches the same thing waits for the drafter; mine can be done on top', async () => {
    server.apply('call it No.', 'other', rename('No.'));
    perform('call it Pos', rename('Pos'));
    await vi.waitFor(() =>
      expect(queue.state().keeping).toEqual({ state: 'clash', label: 'call it Pos', other: 'call it No.' }),
    );
    expect(server.bill.columns[0].heading).toBe('No.');
    queue.settle(true);
    await settled();
    expect(server.bill.columns[0].heading).toBe('Pos');
  });
  test('… or theirs left as it is, and what I did after that still counts', async () => {
    server.apply('call it No.', 'other', rename('No.'));
    perform('call it Pos', rename('Pos'));
    perform('merge by name', { kind: 'setIdentity', identity: 'name' });
    await vi.waitFor(() => expect(queue.state().keeping.state).toBe('clash'));
    queue.settle(false);
    await settled();
    expect([server.bill.columns[0].heading, server.bill.recipe.identity]).toEqual(['No.', 'name']);
  });
  test('my own earlier edits never count as another window', async () => {
    server.apply('from this very window', session, rename('No.'));
    perform('rename', rename('Pos'));
    await settled();
    expect(server.bill.columns[0].heading).toBe('Pos');
  });
  test('what others did is taken over when nothing of mine is on its way, and never goes back in time', async () => {
    const old = loaded();
    server.apply('x', 'other', rename('No.'));
    queue.refresh(loaded());
    expect(shown().columns[0].heading).toBe('No.');
    queue.refresh(old);
    expect(shown().columns[0].heading).toBe('No.');
  });
});

describe('whatever comes in whichever order', () => {
  type Stored = { id: string; kind: 'bill'; version: number; content: BillDocument };
  type Gesture = { label: string; steps: { document: string; command: Command }[] };
  /** Two bills; what is asked is done at once and answered when the test says so. */
  class SlowServer {
    documents: Stored[] = ['a', 'b'].map((id) => ({ id, kind: 'bill', version: 1, content: server.bill }));
    label: string | null = null;
    readonly answers: (() => void)[] = [];
    apply(id: string, command: Command) {
      this.documents = this.documents.map((one) => {
        const applied = one.id === id ? applyCommand('bill', one.content, command) : null;
        return applied?.ok ? { ...one, version: one.version + 1, content: applied.document as BillDocument } : one;
      });
    }
    readonly fetch = (_: string, init?: RequestInit): Promise<Response> => {
      const { label, steps } = JSON.parse(String(init?.body)) as Gesture;
      for (const { document, command } of steps) this.apply(document, command);
      this.label = label;
      const touched = this.documents.filter(({ id }) => steps.some(({ document }) => document === id));
      const answer = { documents: touched, history: { undo: label, redo: null } };
      return new Promise((resolve) => this.answers.push(() => resolve(Response.json(answer))));
    };
    read = (): Project => ({ ...loaded(), documents: this.documents, history: { undo: this.label, redo: null } });
  }
  const settledSoon = () => new Promise((resolve) => setTimeout(resolve));
  const document = fc.constantFrom('a', 'b');
  const event = fc.oneof(
    fc.record({ what: fc.constant('mine' as const), document }),
    fc.record({ what: fc.constant('theirs' as const), document }),
    fc.record({ what: fc.constantFrom('look' as const, 'arrive' as const, 'answer' as const) }),
  );
  test('nothing goes back in time, and in the end the page shows what the server has', () =>
    fc.assert(
      fc.asyncProperty(fc.array(event, { maxLength: 30 }), async (events) => {
        const slow = new SlowServer();
        vi.stubGlobal('fetch', slow.fetch);
        const page = new EditQueue('p', slow.read(), () => {});
        const looks: Project[] = [];
        const headings = (of: readonly { content: unknown }[]) =>
          of.map(({ content }) => (content as BillDocument).columns.map(({ heading }) => Number(heading) || 0));
        let before = headings(page.state().documents);
        for (const [at, one] of events.entries()) {
          // Every heading that is given is a larger number than those before.
          const rename = (id: string): Command => ({ kind: 'renameColumn', id, heading: String(at + 1) });
          if (one.what === 'mine') page.perform(`mine ${at}`, [{ document: one.document, command: rename('item') }]);
          else if (one.what === 'theirs') slow.apply(one.document, rename('quantity'));
          else if (one.what === 'look') looks.push(slow.read());
          else if (one.what === 'arrive') page.refresh(looks.shift() ?? slow.read());
          else slow.answers.shift()?.();
          await settledSoon();
          const now = headings(page.state().documents);
          now.forEach((list, which) =>
            list.forEach((value, column) => expect(value).toBeGreaterThanOrEqual(before[which][column])),
          );
          before = now;
        }
        page.refresh(slow.read()); // the last look, whatever is on its way; what comes after it is in an answer
        for (; page.state().keeping.state !== 'kept'; await settledSoon()) slow.answers.shift()?.();
        page.refresh(slow.read());
        expect(page.state().documents).toEqual(slow.documents);
        expect(page.state().history).toEqual({ undo: slow.label, redo: null });
      }),
      { numRuns: 150 },
    ));
  test('a look that came while a gesture was on its way counts once it is kept', async () => {
    const slow = new SlowServer();
    vi.stubGlobal('fetch', slow.fetch);
    const page = new EditQueue('p', slow.read(), () => {});
    page.perform('mine', [{ document: 'a', command: rename('Pos') }]);
    slow.apply('b', rename('theirs'));
    page.refresh(slow.read()); // equal looks that follow are not told again
    slow.answers.shift()!();
    await vi.waitFor(() => expect(page.state().keeping.state).toBe('kept'));
    expect(page.state().documents).toEqual(slow.documents);
  });
  test('a look from before an own gesture brings what is new in another document and leaves the own one', async () => {
    const slow = new SlowServer();
    vi.stubGlobal('fetch', slow.fetch);
    const page = new EditQueue('p', slow.read(), () => {});
    slow.apply('b', rename('theirs'));
    const early = slow.read();
    page.perform('mine', [{ document: 'a', command: rename('Pos') }]);
    slow.answers.shift()!();
    await vi.waitFor(() => expect(page.state().keeping.state).toBe('kept'));
    page.refresh(early);
    expect(page.state().documents).toEqual(slow.documents);
    expect(page.state().history.undo).toBe('mine');
  });
});

describe('when something fails', () => {
  test('without a connection the edit stays on the screen, says so, and is sent again by itself', async () => {
    server.down = true;
    perform('rename', rename('Pos'));
    await vi.waitFor(() => expect(queue.state().keeping.state).toBe('waiting'));
    expect(shown().columns[0].heading).toBe('Pos');
    server.down = false;
    await vi.waitFor(() => expect(queue.state().keeping.state).toBe('kept'), { timeout: 5000 });
    expect(server.bill.columns[0].heading).toBe('Pos');
  });
  test('a server that cannot keep anything now says why, and gets it later', async () => {
    const sentence = 'The disk is full: nothing can be kept until there is room on it.';
    vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ error: sentence }, { status: 503 })));
    perform('rename', rename('Pos'));
    await vi.waitFor(() => expect(queue.state().keeping).toEqual({ state: 'waiting', why: sentence }));
    vi.stubGlobal('fetch', server.fetch);
    await vi.waitFor(() => expect(queue.state().keeping.state).toBe('kept'), { timeout: 5000 });
    expect([server.bill.columns[0].heading, queue.state().aside]).toEqual(['Pos', []]);
  });
  test('an edit at which the server fails again and again is set aside and holds up none behind it', async () => {
    vi.stubGlobal('fetch', async (path: string, init?: RequestInit) =>
      String(init?.body).includes('poison')
        ? Response.json({ error: 'Something went wrong in the program (error 1).' }, { status: 500 })
        : server.fetch(path, init),
    );
    perform('poison', rename('poison'));
    perform('by name', { kind: 'setIdentity', identity: 'name' });
    await vi.waitFor(() => expect(queue.state().keeping.state).toBe('kept'), { timeout: 15_000 });
    const { aside } = queue.state();
    expect(aside.map(({ gesture, reason }) => [gesture.label, reason])).toEqual([
      ['poison', 'Something went wrong in the program (error 1).'],
    ]);
    expect([server.bill.recipe.identity, shown().columns[0].heading]).toEqual(['name', 'Item']);
    vi.stubGlobal('fetch', server.fetch);
    queue.takeUp(aside[0], true);
    await settled();
    expect([server.bill.columns[0].heading, queue.state().aside]).toEqual(['poison', []]);
  });
  test('undo that got no answer is asked again under the same name', async () => {
    const gestures: string[] = [];
    vi.stubGlobal('fetch', (_: string, init?: RequestInit) => {
      gestures.push((JSON.parse(String(init?.body)) as { gesture: string }).gesture);
      if (gestures.length === 1) return Promise.reject(new TypeError('no connection'));
      return Promise.resolve(
        Response.json({ documents: [server.document()], history: { undo: null, redo: 'rename' } }),
      );
    });
    await queue.stepBack('undo');
    expect([gestures.length, new Set(gestures).size, queue.state().history.redo]).toEqual([2, 1, 'rename']);
  });
  test('an edit that the server refuses is taken back from the screen and set aside with its sentence', async () => {
    server.bill = { ...server.bill, columns: server.bill.columns.filter(({ id }) => id !== 'name') };
    perform('take away', { kind: 'removeColumn', id: 'name' });
    await settled();
    expect(queue.state().aside.map(({ reason }) => reason)).toEqual(['That column is no longer in the bill.']);
    expect(shown().columns.some(({ id }) => id === 'name')).toBe(true); // as this window last heard it
  });
});

test('an answer that is not understood is said once, and nothing more is sent', async () => {
  const answers = vi.fn(() => Promise.resolve(Response.json({ surprise: true })));
  vi.stubGlobal('fetch', answers);
  perform('rename', rename('Pos'));
  await vi.waitFor(() => expect(queue.state().keeping).toEqual({ state: 'halted' }));
  perform('rename again', rename('Position'));
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(answers).toHaveBeenCalledTimes(1);
  expect(said).toEqual([
    'The program was changed while this page was open. Reload the page; what is kept is not lost.',
  ]);
  expect(shown().columns[0].heading).toBe('Position'); // still in the page
});
