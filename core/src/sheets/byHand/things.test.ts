import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Balloon } from '../../balloons/index.ts';
import { boxesOverlap, type Box2, type Vec2 } from '../../geometry/index.ts';
import {
  alignments,
  alignThings,
  blankSheet,
  boxed,
  copyThings,
  distributeThings,
  frameBox,
  inLineThings,
  moveByHand,
  movedThings,
  moveThings,
  nextOfBalloon,
  offTitleBlock,
  overlapsOf,
  pasteThings,
  resizeView,
  sizeColumn,
  thingAt,
  thingsWithin,
  titleBlockBox,
  usualPaper,
  withColumnWidth,
  withoutThings,
  type PlacedThing,
  type Sheet,
  type SheetView,
} from '../index.ts';

const paper = usualPaper('A3');
const view = (id: string, centre: Vec2, more: Partial<SheetView> = {}): SheetView => ({
  id,
  direction: 'front',
  scale: 0.1,
  centre,
  byHand: false,
  ...more,
});
const balloon = (id: string, of: string): Balloon => ({
  id,
  view: of,
  path: [],
  anchor: [0, 0, 0],
  end: 'dot',
  offset: [20, -20],
  byHand: false,
});
const sheet: Sheet = {
  ...blankSheet('S', paper),
  views: [
    view('a', [100, 100]),
    view('right', [200, 100], { projectedFrom: { of: 'a', side: 'right' } }),
    view('piece', [300, 100], { detail: { of: 'a', letter: 'A', centre: [0, 0], radius: 50 } }),
  ],
  tables: [{ id: 'list', place: 'title-block' }],
  balloons: [balloon('b', 'a'), balloon('p', 'piece')],
  notes: [{ id: 'n', at: [50, 200], width: 80, lettering: 3.5, text: 'Wax the runners' }],
  dimensions: [{ id: 'd', view: 'a', kind: 'width', offset: 40 }],
};
const thing = (kind: PlacedThing['thing']['kind'], id: string, more: object = {}) =>
  ({ kind, id, ...more }) as PlacedThing['thing'];
const centreOf = (of: Sheet, id: string) => of.views.find((one) => one.id === id)!.centre;

test('what lies at a point is the uppermost thing there; something slanted only along its own line', () => {
  const slanted = {
    thing: thing('dimension', 'd'),
    box: [0, 0, 100, 100],
    outline: [
      [0, 4],
      [4, 0],
      [100, 96],
      [96, 100],
    ],
  };
  const placed = [{ thing: thing('view', 'a'), box: [0, 0, 100, 100] }, slanted] as unknown as PlacedThing[];
  expect(thingAt(placed, [50, 50])).toEqual(thing('dimension', 'd'));
  expect(thingAt(placed, [20, 80])).toEqual(thing('view', 'a'));
  expect(thingAt(placed, [120, 50])).toBeUndefined();
});

describe('moving things', () => {
  test('a caption goes by itself, or with its view; taken away it is off', () => {
    const by = (...ways: readonly ['view' | 'caption', Vec2][]) =>
      moveThings(
        sheet,
        ways.map(([kind, way]) => ({ thing: thing(kind, 'a'), by: way })),
      ).views[0];
    expect(by(['caption', [5, -8]])).toMatchObject({ centre: [100, 100], captionBy: [5, -8], byHand: false });
    expect(by(['view', [10, 0]], ['caption', [10, 0]])).toEqual({
      ...sheet.views[0],
      centre: [110, 100],
      byHand: true,
    });
    const off = withoutThings(sheet, [thing('caption', 'a')]);
    expect(off.views).toEqual([{ ...sheet.views[0], caption: '' }, ...sheet.views.slice(1)]);
  });
  test('several at once; a balloon whose view goes too is not moved twice', () => {
    const moved = moveThings(sheet, [
      { thing: thing('view', 'a'), by: [10, 5] },
      { thing: thing('balloon', 'b'), by: [10, 5] },
      { thing: thing('balloon', 'p'), by: [10, 5] },
      { thing: thing('note', 'n'), by: [10, 5] },
    ]);
    expect(centreOf(moved, 'a')).toEqual([110, 105]);
    expect(moved.balloons.map(({ offset, byHand }) => [offset, byHand])).toEqual([
      [[20, -20], false],
      [[30, -15], true],
    ]);
    expect(moved.notes[0].at).toEqual([60, 205]);
  });
  test('a list is put where its corner was dragged, and hangs again near where it hung', () => {
    const laid = { table: sheet.tables[0], corner: [400, 240], home: [400, 240] } as never;
    const put = (...by: Vec2) =>
      moveThings(sheet, [{ thing: thing('table', 'list'), by }], { tables: [laid], dimensions: [] }).tables[0];
    expect(put(-30, -50)).toEqual({ id: 'list', place: 'title-block', at: [370, 190] });
    expect(put(2, -3)).toEqual({ id: 'list', place: 'title-block' });
    expect(put(-5000, -5000).at).toEqual(frameBox(paper).slice(0, 2)); // could not be taken hold of beyond
  });
  test('a column is made wider by the border on its free side, and fits again', () => {
    const laid = (side: 'left' | 'right') =>
      ({
        table: sheet.tables[0],
        side,
        measured: { widths: [12, 40] },
        columns: [{ id: 'i' }, { id: 'name' }],
      }) as never;
    const wider = sizeColumn(sheet, laid('left'), 1, 7.3);
    expect(wider.tables[0].columnWidths).toEqual([{ column: 'name', width: 47.5 }]);
    expect(sizeColumn(sheet, laid('right'), 1, 7.3).tables[0].columnWidths).toEqual([{ column: 'name', width: 32.5 }]);
    expect(sizeColumn(sheet, laid('left'), 0, -500).tables[0].columnWidths).toEqual([{ column: 'i', width: 3 }]);
    expect(withColumnWidth(wider, 'list', 'name', null).tables).toEqual(sheet.tables);
  });
  test('a projected view goes with its view, and alone only along its line', () => {
    expect(centreOf(moveThings(sheet, [{ thing: thing('view', 'a'), by: [10, 5] }]), 'right')).toEqual([210, 105]);
    expect(centreOf(moveThings(sheet, [{ thing: thing('view', 'right'), by: [10, 5] }]), 'right')).toEqual([210, 100]);
  });
  test('a dimension moves across its line only, a detail’s border makes it larger', () => {
    const moved = moveThings(
      sheet,
      [
        { thing: thing('dimension', 'd'), by: [30, 4] },
        { thing: thing('regionSize', 'piece'), by: [2, 9] },
        { thing: thing('region', 'piece'), by: [1, 1] },
      ],
      { tables: [], dimensions: [{ dimension: sheet.dimensions![0], across: [0, 1] } as never] },
    );
    expect(moved.dimensions![0].offset).toBe(44);
    expect(moved.views[2].detail).toMatchObject({ radius: 70, centre: [10, -10] });
  });
});

describe('a view drawn larger by its corner', () => {
  const box: Box2 = [50, 50, 150, 150];
  const scaleOf = (by: Vec2, free = false) => resizeView(sheet, 'a', box, by, free).views[0].scale;
  test('takes a standard scale where that is near, else one of two figures', () => {
    expect(scaleOf([50, 0])).toBe(0.2);
    expect(scaleOf([48.5, 0])).toBe(0.2);
    expect(scaleOf([48.5, 0], true)).toBeCloseTo(0.197, 9);
    expect(1 / scaleOf([15, 3])).toBeCloseTo(7.7, 9);
  });
  test('never vanishes, and stays where it is', () => {
    expect(scaleOf([-500, -500])).toBeGreaterThan(0);
    expect(resizeView(sheet, 'a', box, [50, 0], false).views[0].centre).toEqual([100, 100]);
  });
  test('the border of a box is drawn out each way by itself', () => {
    const piece = { ...sheet.views[2], detail: boxed(sheet.views[2].detail!, [40, 30]) };
    const moved = moveThings({ ...sheet, views: [sheet.views[0], piece] }, [
      { thing: thing('regionSize', 'piece'), by: [1, 2] },
    ]);
    expect(moved.views[1].detail!.half).toEqual([50, 50]);
    expect(moved.views[1].detail!.radius).toBeCloseTo(Math.hypot(50, 50), 9);
  });
});

const boxes = fc.array(
  fc
    .tuple(fc.integer({ min: 20, max: 380 }), fc.integer({ min: 12, max: 260 }), fc.nat(60), fc.nat(60))
    .map(([x, y, w, h]): Box2 => [x, y, x + w + 1, y + h + 1]),
  { minLength: 3, maxLength: 12 },
);
const placed = boxes.map((all) => all.map((box, at): PlacedThing => ({ thing: thing('note', `n${at}`), box })));

describe('in line and at equal gaps', () => {
  test('aligned things share the edge or the middle, and the outermost stays', () => {
    const edge = { left: 0, top: 1, right: 2, bottom: 3 } as const;
    fc.assert(
      fc.property(placed, fc.constantFrom(...alignments), (things, how) => {
        const after = movedThings(things, alignThings(things, how)).map(({ box }) => box);
        const lines = after.map((box) =>
          how === 'centre' ? (box[0] + box[2]) / 2 : how === 'middle' ? (box[1] + box[3]) / 2 : box[edge[how]],
        );
        for (const line of lines) expect(line).toBeCloseTo(lines[0], 9);
        if (how !== 'centre' && how !== 'middle') {
          const all = things.map(({ box }) => box[edge[how]]);
          expect(lines[0]).toBeCloseTo(how === 'left' || how === 'top' ? Math.min(...all) : Math.max(...all), 9);
        }
      }),
    );
  });
  test('gaps come out equal, and nothing is turned round', () => {
    fc.assert(
      fc.property(placed, fc.constantFrom(0 as const, 1 as const), (things, axis) => {
        const ways = distributeThings(things, axis); // in their order along the axis
        const after = ways.map((way) => movedThings(things, [way])[0].box);
        const gaps = after.slice(1).map((box, at) => box[axis] - after[at][axis + 2]);
        for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0], 6);
      }),
    );
  });
  test('balloons of a picked view are not brought in line: they come along', () => {
    const all: PlacedThing[] = [
      { thing: thing('view', 'a'), box: [50, 50, 150, 150] },
      { thing: thing('balloon', 'b'), box: [160, 40, 172, 52] },
      { thing: thing('note', 'n'), box: [50, 200, 130, 210] },
    ];
    const picked = all.map((one) => one.thing);
    expect(inLineThings(sheet, all, picked).map((one) => one.thing.id)).toEqual(['a', 'n']);
    expect(inLineThings(sheet, all, picked.slice(1)).map((one) => one.thing.id)).toEqual(['b', 'n']);
  });
});

describe('the title block', () => {
  test('is never left covered by what was moved, where there is room beside it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 100, max: 400 }), fc.integer({ min: 150, max: 280 }), fc.nat(50), (x, y, size) => {
        const there: PlacedThing[] = [{ thing: thing('note', 'n'), box: [x, y, x + size + 1, y + size / 2 + 1] }];
        const ways = offTitleBlock(paper, titleBlockBox(paper), there);
        const after = ways.length > 0 ? movedThings(there, ways) : there;
        expect(boxesOverlap(after[0].box, titleBlockBox(paper))).toBe(false);
        expect(after[0].box[0]).toBeGreaterThanOrEqual(Math.min(frameBox(paper)[0], x));
      }),
    );
  });
  test('things over one another are told while they are dragged, but a balloon may stand in the box of its view', () => {
    const all: PlacedThing[] = [
      { thing: thing('view', 'a'), box: [50, 50, 150, 150] },
      { thing: thing('balloon', 'b'), box: [140, 40, 152, 52] },
      { thing: thing('note', 'n'), box: [140, 140, 200, 160] },
    ];
    expect(overlapsOf(all, [thing('view', 'a')])).toEqual([[140, 140, 150, 150]]);
    expect(overlapsOf(all, [thing('balloon', 'b')])).toEqual([]);
    expect(overlapsOf(all, [thing('view', 'a'), thing('note', 'n')])).toEqual([]);
  });
});

describe('picking and taking away', () => {
  test('a frame picks what lies in it altogether', () => {
    const all: PlacedThing[] = [
      { thing: thing('view', 'a'), box: [50, 50, 150, 150] },
      { thing: thing('note', 'n'), box: [60, 60, 70, 65] },
      { thing: thing('titleBlock', 'titleBlock'), box: [55, 55, 58, 58] },
    ];
    expect(thingsWithin(all, [40, 40, 100, 100])).toEqual([thing('note', 'n')]);
    expect(thingsWithin(all, [40, 40, 160, 160])).toEqual([thing('view', 'a'), thing('note', 'n')]);
  });
  test('a view goes with its details, balloons and dimensions; what was projected from it stands by itself', () => {
    const { dimensions, ...left } = withoutThings(sheet, [thing('view', 'a')]);
    expect(left.views).toEqual([view('right', [200, 100])]);
    expect([left.balloons, dimensions]).toEqual([[], undefined]);
    expect(left.notes).toEqual(sheet.notes);
  });
  test('a centre line that is taken away is remembered as not wanted, with all that lies on it', () => {
    const [first] = withoutThings(sheet, [thing('centreLine', 'a', { line: 'pin:0' })], () => ['pin:0', 'pin:1']).views;
    expect(first.centreLines).toEqual({ smallest: 8, off: ['pin:0', 'pin:1'] });
  });
});

describe('copies', () => {
  let made = 0;
  const newId = () => `new${++made}`;
  const paste = (...picked: PlacedThing['thing'][]) => pasteThings(sheet, copyThings(sheet, picked), newId);

  test('of a view take its balloons and dimensions along, and stand a little aside', () => {
    const { sheet: after, came, picked } = paste(thing('view', 'a'), thing('balloon', 'b'));
    const [copy] = came.views;
    expect(after.views).toEqual([...sheet.views, copy]);
    expect(copy).toMatchObject({ direction: 'front', centre: [115, 115], byHand: true });
    expect(came.balloons.map(({ view: of, offset }) => [of, offset])).toEqual([[copy.id, [20, -20]]]);
    expect(came.dimensions.map(({ view: of, offset }) => [of, offset])).toEqual([[copy.id, 40]]);
    expect(picked).toEqual([thing('view', copy.id)]); // the others move with it
  });
  test('of a balloon alone go to its own view, and nowhere else', () => {
    const { came, picked } = paste(thing('balloon', 'b'));
    expect(came.balloons).toMatchObject([{ view: 'a', offset: [35, -5], byHand: true }]);
    expect(picked).toEqual([thing('balloon', came.balloons[0].id)]);
    const elsewhere = pasteThings({ ...sheet, views: [] }, copyThings(sheet, [thing('balloon', 'b')]), newId);
    expect(elsewhere.came.balloons).toEqual([]);
  });
  test('of a projected view and of a detail stand by themselves', () => {
    const { came } = paste(thing('view', 'right'), thing('view', 'piece'));
    for (const copy of came.views) expect(copy).not.toHaveProperty('projectedFrom');
    for (const copy of came.views) expect(copy).not.toHaveProperty('detail');
  });
});

describe('whatever is picked', () => {
  const everything: PlacedThing['thing'][] = [
    thing('titleBlock', 'titleBlock'),
    ...sheet.views.map(({ id }) => thing('view', id)),
    ...sheet.views.map(({ id }) => thing('caption', id)),
    thing('region', 'piece'),
    thing('regionSize', 'piece'),
    thing('table', 'list'),
    thing('columnEdge', 'list', { column: 0 }),
    thing('note', 'n'),
    thing('dimension', 'd'),
    thing('balloon', 'b'),
    thing('balloon', 'p'),
    thing('leaderEnd', 'b'),
    thing('bend', 'b', { at: 0 }),
  ];
  const some = fc.subarray(everything);
  const ids = (of: Sheet) =>
    [of.views, of.tables, of.notes, of.balloons, of.dimensions ?? []].map((list) => list.map(({ id }) => id));

  test('taking it away leaves nothing that hangs on what is gone, in whichever order', () =>
    fc.assert(
      fc.property(some, (picked) => {
        const left = withoutThings(sheet, picked);
        const views = new Set(left.views.map(({ id }) => id));
        for (const one of [...left.balloons, ...(left.dimensions ?? [])]) expect(views).toContain(one.view);
        for (const { detail, projectedFrom } of left.views)
          for (const other of [detail?.of, projectedFrom?.of])
            expect(other === undefined || views.has(other)).toBe(true);
        expect(withoutThings(sheet, picked.toReversed())).toEqual(left);
        expect(withoutThings(left, picked)).toEqual(left);
      }),
    ));
  test('moving it takes nothing away and adds nothing', () =>
    fc.assert(
      fc.property(some, fc.integer({ min: -50, max: 50 }), (picked, far) => {
        const moved = moveThings(
          sheet,
          picked.map((one) => ({ thing: one, by: [far, far] })),
        );
        expect(ids(moved)).toEqual(ids(sheet));
      }),
    ));
});

test('a balloon leads to the end of its leader, to its corners, and back to itself', () => {
  const bent: Sheet = {
    ...sheet,
    balloons: [
      {
        ...balloon('b', 'a'),
        bends: [
          [5, 5],
          [9, 9],
        ],
      },
    ],
  };
  const way = [thing('balloon', 'b')];
  for (let step = 0; step < 4; step++) way.push(nextOfBalloon(bent, way.at(-1)!)!);
  expect(way.slice(1)).toEqual([
    thing('leaderEnd', 'b'),
    thing('bend', 'b', { at: 0 }),
    thing('bend', 'b', { at: 1 }),
    thing('balloon', 'b'),
  ]);
  expect(nextOfBalloon(bent, thing('view', 'a'))).toBeNull();
});

test('moved by hand, nothing comes to lie over the title block; what stays clear of it goes all the way', () => {
  const block = titleBlockBox(paper);
  const note = thing('note', 'n');
  const box: Box2 = [50, 200, 130, 210];
  const put = (by: Vec2) =>
    moveByHand(sheet, [{ thing: note, by }], [{ thing: note, box }], { titleBlock: block } as never).notes[0].at;
  expect(put([10, 5])).toEqual([60, 205]);
  const onto: Vec2 = [block[0] + 20 - box[0], block[1] + 10 - box[1]];
  const [x, y] = put(onto);
  const after: Box2 = [x, y, x + 80, y + 10];
  expect(boxesOverlap(after, block)).toBe(false);
  expect([x, y]).not.toEqual([50, 200]); // it went beside, not back
});
