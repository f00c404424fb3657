import { describe, expect, test } from 'vitest';
import { discMesh, machineOf } from '../../../../testkit/flange.ts';
import { at, boxMesh } from '../../../../testkit/shapes.ts';
import { Refusal, type ComponentKey } from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import { defaultColumns } from '../../columns/index.ts';
import { boxesOverlap, boxInside } from '../../geometry/index.ts';
import { drawLook, lookAt, viewPlacement } from '../../views/index.ts';
import {
  drawSheet,
  makeDetailSheets,
  noTitleFields,
  usualPaper,
  viewRequest,
  type DetailRequest,
  type Sheet,
} from '../index.ts';

const turned = [0, -1, 0, 500, 1, 0, 0, 40, 0, 0, 1, 7]; // a quarter about z
const { assembly, bodies } = machineOf([
  { number: 'WEDGE', mesh: boxMesh(200, 60, 20), placement: at(0, 0, 0) },
  {
    number: 'DISC',
    mesh: discMesh,
    placement: at(0, 300, 0),
  },
  { number: 'BAR', mesh: boxMesh(300, 30, 30), placement: turned },
]);
const keyOf = (number: string): ComponentKey =>
  assembly.components.find(({ partNumber }) => partNumber === number)!.key;
const known = new Map<string, ReturnType<typeof drawLook>>();
const lookOf: DetailRequest['look'] = (wish) => {
  const { key, direction, things } = lookAt(assembly, viewRequest(wish));
  const before = known.get(key);
  if (before) return Promise.resolve(before);
  const shown = new Set(things.map(({ path }) => path));
  if (shown.size === 0) throw new Refusal('nothing', 'Nothing of it has a shape.');
  const made = drawLook(
    bodies.filter(({ path }) => shown.has(path)),
    viewPlacement(direction),
  );
  known.set(key, made);
  return Promise.resolve(made);
};
const request = (numbers: readonly string[], more: Partial<DetailRequest> = {}): DetailRequest => {
  let id = 0;
  return {
    parts: numbers.map(keyOf),
    paper: usualPaper('A3'),
    together: false,
    shared: { ...noTitleFields, drawingNumber: 'D-7' },
    poses: [],
    assembly,
    bill: makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }),
    columns: defaultColumns(assembly),
    look: lookOf,
    newId: () => `id${++id}`,
    ...more,
  };
};
async function drawn(sheet: Sheet, made: DetailRequest) {
  const lines = await Promise.all(
    sheet.views.map(async (view) => [view.id, (await lookOf(viewRequest(view))).lines] as const),
  );
  return drawSheet({ ...made, sheet, lines: new Map(lines) });
}

describe('a sheet of a single part', () => {
  test('a plate: three views in line and a pictorial, at one scale, its outer dimensions once each', async () => {
    const made = request(['WEDGE']);
    const { sheets, numbers } = await makeDetailSheets(made);
    const [sheet] = sheets;
    expect(sheet.views).toHaveLength(4);
    expect(new Set(sheet.views.map(({ scale }) => scale)).size).toBe(1);
    const [main, aside, below] = sheet.views;
    expect(aside.centre[1]).toBe(main.centre[1]);
    expect(below.centre[0]).toBe(main.centre[0]);
    expect(below.centre[1]).toBeGreaterThan(main.centre[1]); // first angle: from above stands below
    const { layout, problems } = await drawn(sheet, made);
    expect(layout.dimensions.map(({ text }) => text).sort()).toEqual(['(20)', '(200)', '(60)']);
    const boxes = [...layout.views.map(({ box }) => box), ...layout.dimensions.map(({ box }) => box)];
    boxes.forEach((box, k) => {
      expect(boxInside(box, layout.frame)).toBe(true);
      expect(boxesOverlap(box, layout.titleBlock)).toBe(false);
      boxes.slice(k + 1).forEach((other) => expect(boxesOverlap(box, other)).toBe(false));
    });
    expect(problems.map(({ code }) => code)).not.toContain('view-outside');
    expect(sheet.fields).toMatchObject({ title: 'WEDGE', drawingNumber: 'D-7-01' });
    expect(numbers.get(keyOf('WEDGE'))).toBe('D-7-01');
  });
  test('in third angle what is seen from above stands above', async () => {
    const { sheets } = await makeDetailSheets(request(['WEDGE'], { projection: 'third' }));
    const [main, aside, above] = sheets[0].views;
    expect(aside.projectedFrom?.side).toBe('right');
    expect(above.centre[1]).toBeLessThan(main.centre[1]);
  });
  test('a turned part needs no third view, a square bar no second of its sides', async () => {
    const { sheets } = await makeDetailSheets(request(['DISC', 'BAR']));
    expect(sheets.map(({ views }) => views.length)).toEqual([3, 3]);
    expect(sheets.map(({ name }) => name)).toEqual(['DISC', 'BAR']);
  });
  test('lies as its own axes do, however it stands in the machine', async () => {
    const made = request(['BAR']);
    const { layout } = await drawn((await makeDetailSheets(made)).sheets[0], made);
    expect(layout.dimensions.map(({ text }) => text)).toContain('(300)');
    const [main] = layout.views;
    expect(main.box[2] - main.box[0]).toBeCloseTo(300 * main.view.scale, 6);
  });
  test('several stand on one sheet, each at its own scale with its number below', async () => {
    const made = request(['WEDGE', 'DISC', 'BAR'], { together: true });
    const { sheets, numbers } = await makeDetailSheets(made);
    expect(sheets).toHaveLength(1);
    expect(numbers.size).toBe(0);
    const { layout } = await drawn(sheets[0], made);
    expect(layout.views.map(({ captionText }) => captionText).filter(Boolean)).toEqual([
      expect.stringMatching(/^WEDGE {2}1:\d/),
      expect.stringMatching(/^DISC {2}1:\d/),
      expect.stringMatching(/^BAR {2}1:\d/),
    ]);
    layout.views.forEach(({ box }, k) => {
      expect(boxInside(box, layout.frame)).toBe(true);
      layout.views.slice(k + 1).forEach((other) => expect(boxesOverlap(box, other.box)).toBe(false));
    });
  });
  test('what has no shape is said; where nothing has one, it is refused', async () => {
    const gone = '0'.repeat(32) as ComponentKey;
    const { without, sheets } = await makeDetailSheets({ ...request(['WEDGE']), parts: [keyOf('WEDGE'), gone] });
    expect(sheets).toHaveLength(1);
    expect(without).toEqual(['A part that is gone']);
    await expect(makeDetailSheets({ ...request([]), parts: [gone] })).rejects.toThrow('None of these parts');
  });
});
