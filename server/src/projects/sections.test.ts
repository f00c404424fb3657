import { decode } from 'fast-png';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Job } from '../../../contract/src/index.ts';
import type { Intention } from '../../../core/src/documents/index.ts';
import { unpackViewLines } from '../../../core/src/formats/index.ts';
import { viewRequest, type Sheet, type SheetSet, type SheetView } from '../../../core/src/sheets/index.ts';
import { lookOrder } from '../../../contract/src/index.ts';
import { coaxialPack } from '../../../demo/machines.ts';
import { productStep } from '../../../demo/writeDemo.ts';
import { startLive, type LiveServer } from '../../../testkit/liveServer.ts';

let live: LiveServer;
let project: string;
beforeAll(async () => {
  live = await startLive('sections');
  project = await live.importFile('coaxial-pack.step', productStep(coaxialPack(), 'coaxial-pack.step'));
});
afterAll(() => live?.stop());

const contents = async <Content>(kind: string) =>
  (await live.open(project)).documents.filter((one) => one.kind === kind) as unknown as {
    id: string;
    content: Content;
  }[];
const parent = { id: 'top', direction: 'top', scale: 0.5, centre: [120, 200], byHand: true } as const;
const section: SheetView = {
  id: 'cut',
  direction: 'front',
  scale: 0.5,
  centre: [120, 90],
  byHand: true,
  section: {
    letter: 'A',
    of: 'top',
    path: {
      points: [
        [-80, 0, 0],
        [80, 0, 0],
      ],
      along: [0, 0, 1],
      towards: [0, -1, 0],
    },
  },
};

describe('a section on a sheet', () => {
  let sheet: string;
  beforeAll(async () => {
    [{ id: sheet }] = await contents<Sheet>('sheet');
    await live.edit(project, sheet, { kind: 'addView', view: parent });
    await live.edit(project, sheet, { kind: 'addView', view: section });
  });
  const svg = () => live.sheetSvg(project, sheet);
  const linesOf = async (view: SheetView, moves?: Parameters<typeof lookOrder>[0]['moves']) => {
    const order = lookOrder({ ...viewRequest(view), ...(moves ? { moves } : {}) }, null);
    const asked = await live.post<{ keys: string[]; job: string | null }>(`/api/projects/${project}/views`, {
      looks: [order],
    });
    await live.done(asked.job);
    const answer = await fetch(`${live.url}/api/views/${asked.keys[0]}/lines`);
    return { status: answer.status, lines: unpackViewLines(new Uint8Array(await answer.arrayBuffer())) };
  };
  test('is kept, and goes out hatched, with its caption, its cutting line and its letters', async () => {
    const text = await svg();
    expect(text).toContain('data-of="hatching cut"');
    expect(text).toContain('data-of="section cut"');
    expect(text).toMatch(/>A–A/);
    expect(text.match(/data-of="section cut"[^>]*>A</g)).toHaveLength(2);
  });
  test('left white where an outline drawing is wanted', async () => {
    await live.edit(project, sheet, {
      kind: 'changeView',
      id: 'cut',
      change: { section: { ...section.section!, unhatched: true } },
    });
    expect(await svg()).not.toContain('data-of="hatching cut"');
    await live.post(`/api/projects/${project}/undo`, { session: 'one' });
    expect(await svg()).toContain('data-of="hatching cut"');
  });
  test('of the machine taken apart cuts what has left its seat where it is now', async () => {
    const { lines: seated } = await linesOf(section);
    const shaft = seated.paths[seated.cutWhole![0]];
    const cut = seated.paths[seated.cutOccurrences![0]];
    const { lines } = await linesOf(section, [{ path: cut, steps: [[0, 300, 0]] }]);
    const paths = [...lines.cutOccurrences!].map((one) => lines.paths[one]);
    expect([paths.includes(cut), lines.paths.includes(shaft)]).toEqual([false, true]);
  });
  test.each([
    [
      'turns back',
      {
        points: [
          [0, 0, 0],
          [50, 0, 0],
          [20, 5, 0],
          [90, 5, 0],
        ],
      },
    ],
    [
      'are one',
      {
        points: [
          [0, 0, 0],
          [0, 0, 0],
        ],
      },
    ],
    [
      'across the way',
      {
        points: [
          [0, 0, 0],
          [50, 0, 0],
        ],
        along: [0, -1, 0],
      },
    ],
  ])('that cannot be cut is refused in words (%s), and nothing is kept', async (words, wrong) => {
    const path = { ...section.section!.path!, ...wrong };
    const before = JSON.stringify(await contents<Sheet>('sheet'));
    const { status, body } = await live.call<{ error: string }>(`/api/projects/${project}/edits`, 'POST', {
      gesture: `wrong-${words}`,
      session: 'one',
      label: 'cut',
      steps: [
        {
          document: sheet,
          version: 99,
          command: { kind: 'addView', view: { ...section, id: 'wrong', section: { ...section.section!, path } } },
        },
      ],
    });
    expect(status).toBe(400);
    expect(JSON.stringify(body)).toContain(words);
    expect(JSON.stringify(await contents<Sheet>('sheet'))).toBe(before);
  });
});

test('goes out as a PNG too, with ink where it is hatched', async () => {
  const [{ id: sheet }] = await contents<Sheet>('sheet');
  const inkOf = async (): Promise<number> => {
    await live.sheetSvg(project, sheet); // its views are drawn
    const answer = await fetch(`${live.url}/api/projects/${project}/sheets/${sheet}/png`);
    expect(answer.headers.get('content-type')).toBe('image/png');
    const { data, channels } = decode(new Uint8Array(await answer.arrayBuffer()));
    let dark = 0;
    for (let at = 0; at < data.length; at += channels) if (data[at] < 128) dark++;
    return dark;
  };
  const hatched = await inkOf();
  const white = {
    kind: 'changeView',
    id: 'cut',
    change: { section: { ...section.section!, unhatched: true } },
  } as const;
  await live.edit(project, sheet, white);
  expect(await inkOf()).toBeLessThan(hatched * 0.98);
  await live.post(`/api/projects/${project}/undo`, { session: 'one' });
});

test('a revision is taken over by a sheet with a section: the line stays, what is cut is that of the new machine', async () => {
  const own = await live.importFile('pack-A.step', productStep(coaxialPack(), 'pack-A.step'));
  const sheets = async () => {
    const { documents, revisions } = await live.open(own);
    const found = documents.find(({ kind }) => kind === 'sheet') as unknown as { id: string; content: Sheet };
    return { ...found, newest: revisions[revisions.length - 1].id };
  };
  const { id: sheet } = await sheets();
  await live.edit(own, sheet, { kind: 'addView', view: parent });
  await live.edit(own, sheet, { kind: 'addView', view: section });
  const before = await live.sheetSvg(own, sheet);
  // Without its spacer and its seal.
  const pack = coaxialPack();
  const later = {
    ...pack,
    contents: pack.contents!.filter(({ product }) => !['Spacer', 'Seal'].includes(product.name)),
  };
  const { job } = await live.post<{ job: string }>(
    `/api/imports?name=pack-B.step&into=${own}&remark=Lighter&who=Ingrid`,
    productStep(later, 'pack-B.step'),
  );
  await live.done(job);
  expect(await live.sheetSvg(own, sheet)).toBe(before);
  const { newest } = await sheets();
  const takeOver: Intention = {
    kind: 'takeOver',
    revision: newest,
    documents: [sheet],
    retire: true,
    clouds: true,
    line: null,
  };
  const taken = await live.post<{ job: string }>(`/api/projects/${own}/intentions`, {
    gesture: 'take-section',
    session: 'one',
    label: 'take over',
    intention: takeOver,
  });
  await live.done(taken.job);
  const { content } = await sheets();
  expect(content.revision).toBe(newest);
  expect(content.views.find(({ id }) => id === 'cut')!.section).toEqual(section.section);
  const after = await live.sheetSvg(own, sheet);
  const hatchingOf = (svg: string) => (svg.match(/<[^>]*data-of="hatching cut"[^>]*>/g) ?? []).join('');
  expect(hatchingOf(after).length).toBeGreaterThan(0);
  expect(hatchingOf(after).length).toBeLessThan(hatchingOf(before).length);
  await live.post(`/api/projects/${own}/undo`, { session: 'one' });
  expect(await live.sheetSvg(own, sheet)).toBe(before);
});

test('a set of the pack has a sheet with its section, on which what is inside has its balloons; undo takes it away', async () => {
  const [{ id: sheet }] = await contents<Sheet>('sheet');
  const names = async () => {
    const all = await contents<Sheet>('sheet');
    const [set] = await contents<SheetSet>('set');
    return [...all]
      .filter(({ content }) => !content.away)
      .sort((a, b) => set.content.order.indexOf(a.id) - set.content.order.indexOf(b.id))
      .map(({ content }) => content.name);
  };
  const intention: Intention = { kind: 'makeSet', sheet, kinds: ['assembly', 'section'] };
  const { job } = await live.post<{ job: string }>(`/api/projects/${project}/intentions`, {
    gesture: 'make-set',
    session: 'one',
    label: 'make the drawing',
    intention,
  });
  expect(((await live.done(job)) as Job).state).toBe('done');
  expect(await names()).toContain('Section');
  const made = (await contents<Sheet>('sheet')).find(({ content }) => content.name === 'Section')!.content;
  const cut = made.views.find((view) => view.section)!;
  expect(made.views.map(({ id }) => id)).toContain(cut.section!.of);
  // Lines that are as clear on the drawing have their one balloon there.
  expect(made.balloons.filter(({ view }) => view === cut.id).length).toBeGreaterThan(1);
  await live.post(`/api/projects/${project}/undo`, { session: 'one' });
  expect(await names()).not.toContain('Section');
});
