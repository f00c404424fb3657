import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { at, boxMesh } from '../../../../testkit/shapes.ts';
import {
  listOccurrences,
  pathKey,
  pathOf,
  Refusal,
  type Assembly,
  type PathKey,
  type ShapeKey,
} from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import { defaultColumns } from '../../columns/index.ts';
import { boxesOverlap, type Mesh, type Placement } from '../../geometry/index.ts';
import { explode, type Exploded, type Pose } from '../../poses/index.ts';
import { drawLook, lookAt, pathWays, viewPlacement, type DrawnView } from '../../views/index.ts';
import {
  blankSheet,
  coverageOn,
  drawSheet,
  makeSet,
  noTitleFields,
  usualPaper,
  viewRequest,
  type AxisPlane,
  type MadeSet,
  type Sheet,
  type SheetKind,
} from '../index.ts';

/** A part: its number, size and place. */
type Block = readonly [string, readonly [number, number, number], Placement];

/** A machine of blocks; those of a list within the list stand in a subassembly. */
function machineOf(blocks: readonly (Block | { readonly number: string; readonly blocks: readonly Block[] })[]) {
  const meshes = new Map<ShapeKey, Mesh>();
  const placements: Placement[] = [];
  const leafOf = ([number, size, placement]: Block): readonly [1, ReturnType<typeof leaf>] => {
    meshes.set(`shape ${number}` as ShapeKey, boxMesh(...size));
    placements.push(placement);
    return [1, leaf(number, { shape: `shape ${number}` })];
  };
  const plan = node(
    'TOP',
    ...blocks.map((one) =>
      'blocks' in one ? ([1, node(one.number, ...one.blocks.map(leafOf))] as const) : leafOf(one),
    ),
  );
  const bare = assemblyOf(plan);
  let next = 0;
  const assembly: Assembly = {
    ...bare,
    components: bare.components.map((component) => ({ ...component })),
  };
  // Placements follow the order in which leaves were made.
  const inOrder = (index: number): void => {
    const component = assembly.components[index] as { usages: (typeof bare.components)[number]['usages'] };
    component.usages = component.usages.map((usage) =>
      assembly.components[usage.child].shape ? { ...usage, placement: placements[next++] } : usage,
    );
    for (const { child } of component.usages) if (!assembly.components[child].shape) inOrder(child);
  };
  inOrder(assembly.root);
  return { assembly, meshes };
}

/** Views of a machine, by what they show: a set asks for many of them again. */
const drawnOf = new WeakMap<object, Map<string, DrawnView>>();
function drawOnce(meshes: object, key: string, draw: () => DrawnView): DrawnView {
  const drawn = drawnOf.get(meshes) ?? new Map<string, DrawnView>();
  drawnOf.set(meshes, drawn);
  const view = drawn.get(key) ?? draw();
  drawn.set(key, view);
  return view;
}

/** How a machine comes apart, found once. */
const apartOf = new WeakMap<object, ReturnType<typeof explode>>();
const takeApart = (bodies: readonly { mesh: Mesh; placement: Placement; path: PathKey }[]) =>
  explode(bodies.map((body, at) => ({ ...body, path: pathOf(body.path), shape: String(at) })));

/** Makes the set of a machine, with real pictures and a real exploded pose. */
async function setOf(
  { assembly, meshes }: ReturnType<typeof machineOf>,
  {
    kinds,
    sheet = blankSheet('Assembly', usualPaper('A3')),
    others = [],
    poses = [],
    apart,
    plane,
  }: {
    plane?: AxisPlane | null;
    kinds?: readonly SheetKind[];
    sheet?: Sheet;
    others?: readonly Sheet[];
    poses?: readonly Pose[];
    apart?: () => Promise<Exploded>;
  } = {},
) {
  const bill = makeBill(assembly, { depth: 'structured', identity: 'part-number' });
  let id = 0;
  let asked = 0;
  const bodiesOf = (things: ReturnType<typeof lookAt>['things']) =>
    things.map(({ shape, placement, path }) => ({ mesh: meshes.get(shape)!, placement, path }));
  const look = async (wish: Parameters<typeof viewRequest>[0], all: readonly Pose[]): Promise<DrawnView> => {
    const { key, things, direction, moves, cut } = lookAt(assembly, viewRequest(wish, all));
    return drawOnce(meshes, key, () => {
      const bodies = bodiesOf(things);
      return drawLook(bodies, viewPlacement(direction), {
        ways: pathWays(bodies, moves),
        ...(cut ? { cut } : {}),
      });
    });
  };
  const inputs = {
    others,
    shared: { ...noTitleFields, title: 'Blocks' },
    poses,
    assembly,
    bill,
    columns: defaultColumns(assembly),
  };
  const made = await makeSet({
    ...inputs,
    sheet,
    ...(kinds ? { kinds } : {}),
    ...(plane === undefined ? {} : { plane }),
    look,
    apart:
      apart ??
      (async () => {
        asked++;
        const taken = apartOf.get(meshes) ?? takeApart(bodiesOf(lookAt(assembly, { direction: 'front' }).things));
        apartOf.set(meshes, taken);
        return taken;
      }),
    newId: () => `id${++id}`,
  });
  const all = made.pose ? [...poses, made.pose] : poses;
  const sheets = [...(made.cover ? [made.cover] : []), made.sheet, ...made.further];
  const drawn = await Promise.all(
    sheets.map(async (sheet) =>
      drawSheet({
        ...inputs,
        sheet,
        poses: all,
        lines: new Map(
          await Promise.all(sheet.views.map(async (view) => [view.id, (await look(view, all)).lines] as const)),
        ),
      }),
    ),
  );
  return { made, sheets, drawn, coverage: coverageOn(bill, assembly, sheets), asked };
}

/** A line has one balloon in a set; only a sheet on which nothing is clearest keeps those that it has. */
function expectOnce(drawn: Awaited<ReturnType<typeof setOf>>['drawn']): void {
  const rows = drawn.map(({ layout }) => layout.balloons.map(({ row }) => row));
  const isAgain = (row: number, at: number) => rows.some((others, other) => other !== at && others.includes(row));
  rows.forEach((own, at) => {
    expect(new Set(own).size).toBe(own.length);
    const again = own.filter((row) => isAgain(row, at));
    const withOwn = again.filter((row) =>
      rows.some((others, other) => other !== at && others.includes(row) && others.some((one) => !isAgain(one, other))),
    );
    if (own.length > again.length) expect(withOwn).toEqual([]);
  });
}

/** Nothing stands on anything: views, captions, balloons and title block of each sheet. */
function expectClear(drawn: Awaited<ReturnType<typeof setOf>>['drawn']): void {
  expectOnce(drawn);
  for (const { layout, problems } of drawn) {
    expect(problems.filter(({ code }) => code !== 'missing-balloons')).toEqual([]);
    const circles = layout.balloons.map(({ centre: [x, y], radius: r }) => [x - r, y - r, x + r, y + r] as const);
    const captions = layout.views.flatMap(({ captionBox }) => captionBox ?? []);
    layout.views.forEach(({ box }, at) =>
      layout.views.slice(at + 1).forEach((other) => expect(boxesOverlap(box, other.box)).toBe(false)),
    );
    circles.forEach((circle, at) => {
      for (const other of circles.slice(at + 1)) {
        const apart = Math.hypot(circle[0] - other[0], circle[1] - other[1]);
        expect(apart).toBeGreaterThanOrEqual(circle[2] - circle[0]);
      }
      if (captions.length > 0 && captions.length === layout.views.length)
        expect(boxesOverlap(circle, captions as never)).toBe(false);
    });
  }
}

const row: Block[] = Array.from({ length: 5 }, (_, index) => [`N${index}`, [40, 30, 20], at(60 * index, 0, 0)]);
/** A box around a plate, a pin and a key. */
const closed = [
  ['FLOOR', [200, 200, 5], at(0, 0, 0)],
  ['ROOF', [200, 200, 5], at(0, 0, 195)],
  ['FRONT', [200, 5, 190], at(0, 0, 5)],
  ['BACK', [200, 5, 190], at(0, 195, 5)],
  ['LEFT', [5, 190, 190], at(0, 5, 5)],
  ['RIGHT', [5, 190, 190], at(195, 5, 5)],
  ['INSIDE', [60, 60, 60], at(70, 70, 5)],
] as const satisfies readonly Block[];
/** One machine for all that is asked of it: its views are drawn once. */
const closedMachine = machineOf(closed);

describe('making a set', () => {
  test('where every line is seen well in one view there is one sheet, and nothing is taken apart', async () => {
    const { made, coverage, asked, drawn } = await setOf(machineOf(row));
    expect([made.further, made.cover, made.pose, asked]).toEqual([[], null, null, 0]);
    expect(coverage.missing).toEqual([]);
    expect(made.said).toBe('No further sheet was needed: 5 of 5 lines have a balloon.');
    expectClear(drawn);
  });
  test('what is hidden gets a sheet with the machine taken apart, and a balloon there', async () => {
    const { made, sheets, coverage, drawn } = await setOf(closedMachine);
    expect(sheets.map(({ name }) => name)).toEqual(['Assembly', 'Exploded']);
    expect(coverage.missing).toEqual([]);
    expect(made.pose!.moves.length).toBeGreaterThan(0);
    expect(made.further[0].views[0].pose).toBe(made.pose!.id);
    expectClear(drawn);
  });
  const tiny = machineOf([...row, { number: 'GROUP', blocks: [['PIN', [0.4, 0.4, 0.4], at(20, -30, 4)]] }]);
  test('where three lines or more are seen in a section only, it comes first, in line with the view of its cutting line', async () => {
    const full: Block[] = [
      ...closed,
      ['SHELF', [150, 150, 10], at(20, 20, 90)],
      ['JAR', [40, 40, 60], at(80, 80, 110)],
    ];
    const machine = machineOf(full);
    const { made, sheets, coverage, drawn } = await setOf(machine);
    expect(sheets.map(({ name }) => name)).toEqual(['Assembly', 'Section']);
    expect(coverage.missing).toEqual([]);
    const [cut, parent] = made.further[0].views;
    expect([cut.section!.of, cut.scale]).toEqual([parent.id, parent.scale]);
    expect([0, 1].some((axis) => Math.abs(cut.centre[axis] - parent.centre[axis]) < 1e-9)).toBe(true);
    expectClear(drawn);
    expect((await setOf(machine, { plane: null })).sheets.map(({ name }) => name)).not.toContain('Section');
  });
  test('where a quarter taken away shows more than any plane across, that is shown', async () => {
    // A box divided crosswise: what stands in two of its rooms is hidden by the walls of the third in every plane across.
    const machine = machineOf([
      ...closed,
      ['WEST', [60, 4, 100], at(20, 60, 5)],
      ['CUP', [20, 20, 30], at(30, 80, 5)],
      ['CAN', [20, 20, 30], at(30, 120, 5)],
      ['EAST', [4, 60, 100], at(140, 20, 5)],
      ['LAMP', [20, 20, 30], at(110, 30, 70)],
      ['BOWL', [20, 20, 30], at(160, 30, 70)],
    ]);
    const { made, sheets, coverage, drawn } = await setOf(machine);
    expect(sheets.map(({ name }) => name)).toEqual(['Assembly', 'Section']);
    const [open, ...more] = made.further[0].views;
    // What it still does not show stands beside it: nobody unfolds a sheet for that.
    expect(more.length).toBeGreaterThan(0);
    expect(more.every(({ only, section }) => only?.length === 1 && !section)).toBe(true);
    expect([open.direction, open.section!.of]).toEqual(['isometric', undefined]);
    expect(open.section!.cuts!.map((cut) => cut.map(({ normal }) => normal.findIndex((one) => one !== 0)))).toEqual([
      [0, 1],
    ]);
    expect(made.further[0].balloons.length).toBeGreaterThanOrEqual(3);
    expect(coverage.missing).toEqual([]);
    expectClear(drawn);
  });
  test('a section that is asked for is made, also among other kinds; one that misses is said', async () => {
    const there = await setOf(closedMachine, { plane: { axis: 1, at: 100 }, kinds: ['assembly'] });
    expect(there.sheets.map(({ name }) => name)).toEqual(['Assembly', 'Section']);
    const missed = await setOf(closedMachine, { plane: { axis: 1, at: 900 } });
    expect(missed.sheets.map(({ name }) => name)).not.toContain('Section');
    expect(missed.made.problems.map(({ code }) => code)).toContain('section-misses');
  });
  test('what is too small to see is enlarged beside the view, and has its balloon there', async () => {
    const { made, coverage, drawn } = await setOf(tiny);
    expect([coverage.missing, made.further]).toEqual([[], []]);
    expect(made.said).toBe(
      'No further sheet was needed, one enlarged detail shows what is small: 6 of 6 lines have a balloon.',
    );
    const [whole, detail, ...more] = made.sheet.views;
    expect(more).toEqual([]);
    expect(detail).toMatchObject({ detail: { of: whole.id, letter: 'A' }, byHand: false });
    expect(detail.scale).toBeGreaterThan(4 * whole.scale);
    expect(made.sheet.balloons.filter(({ view }) => view === detail.id)).toHaveLength(1);
    expectClear(drawn);
  });
  test('made again, details that the program chose are where they were, and no more are added', async () => {
    const first = await setOf(tiny);
    const again = await setOf(tiny, { sheet: first.made.sheet });
    expect(again.made.sheet.views).toEqual(first.made.sheet.views);
    expect(again.coverage.missing).toEqual([]);
  });
  test('a detail that was put somewhere by hand stays there', async () => {
    const first = await setOf(tiny);
    const views = first.made.sheet.views.map((view) =>
      view.detail ? { ...view, byHand: true, centre: [60, 60] as const } : view,
    );
    const again = await setOf(tiny, { sheet: { ...first.made.sheet, views } });
    expect(again.made.sheet.views.map(({ centre }) => centre)).toEqual([views[0].centre, [60, 60]]);
  });
  test('where details are asked for as sheets, what is too small gets a picture of its own there', async () => {
    const { made, coverage, drawn } = await setOf(tiny, { kinds: ['assembly', 'details'] });
    expect(coverage.missing).toEqual([]);
    const details = made.further.at(-1)!;
    expect(details.name).toBe('Details');
    expect(details.views.map(({ caption, scale }) => [caption, scale > 5])).toEqual([
      ['{part}  {scale}  {within}', true],
    ]);
    expect(drawn.at(-1)!.layout.views[0].captionText).toMatch(/^PIN {2}\d+:1 {2}in GROUP$/);
    expectClear(drawn);
  });
  test('pictures of subassemblies come before single parts, each for what those before it do not show', async () => {
    const group = (number: string, x: number) => ({
      number,
      blocks: Array.from({ length: 4 }, (_, index): Block => [
        `${number}-${index}`,
        [1, 1, 1],
        at(x + 3 * index, -50, 0),
      ]),
    });
    const { made, coverage, drawn } = await setOf(
      machineOf([['BASE', [900, 400, 20], at(0, 0, 0)], group('A', 0), group('B', 500)]),
      { kinds: ['assembly', 'details'] },
    );
    expect(coverage.missing).toEqual([]);
    const captions = drawn.slice(1).flatMap(({ layout }) => layout.views.map(({ captionText }) => captionText));
    expect(captions.map((caption) => caption.split('  ')[0]).sort()).toEqual(['A', 'B']);
    for (const { views, balloons } of made.further)
      for (const { id } of views) expect(balloons.some(({ view }) => view === id)).toBe(true);
    expectClear(drawn);
  });
  test('a picture in which a part is a speck takes no balloon from the one that shows it', async () => {
    // In the picture of their subassembly two things are seen well, and the nut is a speck.
    const { made, coverage, drawn } = await setOf(
      machineOf([
        ['BASE', [2000, 900, 20], at(0, 0, 0)],
        {
          number: 'SET',
          blocks: [
            ['BAR', [300, 6, 6], at(0, -60, 0)],
            ['CLIP', [8, 8, 8], at(310, -60, 0)],
            ['CLAMP', [9, 9, 9], at(330, -60, 0)],
            ['NUT', [1.5, 1.5, 1.5], at(-30, -60, 0)],
          ],
        },
      ]),
      { kinds: ['assembly', 'details'] },
    );
    expect(coverage.missing).toEqual([]);
    expect(
      drawn.slice(1).flatMap(({ layout }) => layout.views.map(({ captionText }) => captionText.split('  ')[0])),
    ).toEqual(['SET', 'NUT']);
    expect(
      made.further.every(({ views }) => views.every(({ caption }) => caption?.startsWith('{part}  {scale}'))),
    ).toBe(true);
    expectClear(drawn);
  });
  test('where two sheets show a line it has its balloon on the one where it is clearer', async () => {
    // The lid is large on both; what is in the box is a sliver on the drawing, and whole where it is taken apart.
    const { drawn } = await setOf(closedMachine, { kinds: ['assembly', 'exploded'] });
    const items = drawn.map(({ layout }) => layout.balloons.map(({ item }) => item).sort());
    expect(items.every((own) => own.length > 0)).toBe(true);
    expect(items.flat().sort()).toEqual([...new Set(items.flat())].sort());
  });
  test('made again, nothing is missing, so nothing is added; a pose that is there is used', async () => {
    const first = await setOf(closedMachine);
    const { made, asked } = await setOf(closedMachine, { others: first.made.further, poses: [first.made.pose!] });
    expect([made.further, made.pose, asked]).toEqual([[], null, 0]);
    const explodedAgain = await setOf(closedMachine, {
      poses: [first.made.pose!],
      kinds: ['assembly', 'exploded'],
    });
    expect(explodedAgain.made.further[0].views[0].pose).toBe(first.made.pose!.id);
    expect(explodedAgain.asked).toBe(0);
  });
  test('the kinds that are asked for are made, and no others', async () => {
    const kindsMade = async (...kinds: SheetKind[]): Promise<[string | null, string[]]> => {
      const { cover, further } = (await setOf(closedMachine, { kinds })).made as MadeSet;
      return [cover?.name ?? null, further.map(({ name }) => name)];
    };
    expect(await kindsMade('assembly')).toEqual([null, []]);
    expect(await kindsMade('cover', 'assembly')).toEqual(['Cover', []]);
    expect(await kindsMade('assembly', 'exploded')).toEqual([null, ['Exploded']]);
    expect(await kindsMade('assembly', 'details')).toEqual([null, ['Details']]);
  });
  test('what cannot be taken apart is shown as it is, part by part, and that is said', async () => {
    const { made, coverage, drawn } = await setOf(closedMachine, {
      apart: async () => {
        throw new Refusal('too-many', 'There are too many things at one place.');
      },
    });
    expect(made.problems.map(({ message }) => message)).toContain('There are too many things at one place.');
    expect(made.pose).toBeNull();
    // Two parts stand on free paper of the drawing, with their balloons.
    expect(made.further.map(({ name }) => name)).toEqual([]);
    expect(made.sheet.views.slice(1).every(({ only }) => only?.length === 1)).toBe(true);
    expect(made.sheet.views.length).toBeGreaterThan(1);
    expect(coverage.missing).toEqual([]);
    expectClear(drawn);
  });
  test('a line without a shape is said, not searched for', async () => {
    const { assembly, meshes } = machineOf(row);
    const without: Assembly = {
      ...assembly,
      components: assembly.components.map((component) =>
        component.partNumber === 'N2' ? { ...component, shape: null } : component,
      ),
    };
    const { made, coverage } = await setOf({ assembly: without, meshes });
    expect(coverage.missing).toHaveLength(1);
    expect(made.said).toContain('4 of 5 lines have a balloon; not 3');
  });
});

test('places of a machine are those that the plan says', () => {
  const { assembly } = machineOf([
    ['ONE', [1, 1, 1], at(7, 0, 0)],
    { number: 'SUB', blocks: [['TWO', [1, 1, 1], at(9, 0, 0)]] },
  ]);
  const found = listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
  expect(found.map(({ path, placement }) => [pathKey(path).split('/').length, placement[3]])).toEqual([
    [1, 7],
    [2, 9],
  ]);
});
