import { describe, expect, test } from 'vitest';
import type { ComponentKey, PathKey } from '../../assembly/index.ts';
import { boxesOverlap, type Box2, type Vec2, type Vec3 } from '../../geometry/index.ts';
import { pathFault } from '../../sections/index.ts';
import { drawLook, lookAt, viewPlacement, type Body, type ViewLines } from '../../views/index.ts';
import { at, boxMesh, latheMesh } from '../../../../testkit/shapes.ts';
import { cuttingLineOn } from '../laid/cuttingLines.ts';
import { placeView } from '../laid/layout.ts';
import { cutAreasOf, hatchingOf, stylesFor } from '../laid/hatching.ts';
import {
  blankSheet,
  cutOpen,
  depthOf,
  drawSheet,
  freeLetter,
  middleOf,
  pathAt,
  planeOf,
  moveThings,
  placeSection,
  quarterBefore,
  sectionAlong,
  sectionsOf,
  turnedSection,
  unplacedView,
  usualPaper,
  viewRequest,
  withoutThings,
  type Sheet,
  type SheetThing,
  type SheetView,
} from '../index.ts';
import { bareSection, candidatePlanes, parentOf, placePair, sectionIn } from './sectionSheet.ts';
import { drawing } from '../../../../testkit/blocks.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';

/** A tube on a plate, its axis at x = 30. */
const bodies: Body[] = [
  { mesh: boxMesh(100, 60, 10), placement: at(0, -30, 0), path: 'plate' as PathKey },
  {
    mesh: latheMesh([
      [10, 10],
      [20, 10],
      [20, 50],
      [10, 50],
    ]),
    placement: at(30, 0, 0),
    path: 'tube' as PathKey,
  },
];
const drawn = (view: Pick<SheetView, 'direction' | 'section'>) => {
  const { cut } = viewRequest(view);
  return drawLook(bodies, viewPlacement(view.direction), cut ? { cut: { cuts: cut.cuts } } : {});
};
const top: SheetView = { ...unplacedView('top', { direction: 'top' }), scale: 1, centre: [150, 100] };
const along = (line: readonly Vec2[], views: readonly SheetView[] = [top]): SheetView => {
  const made = sectionAlong(views[0], line, views, 'section');
  if (typeof made === 'string') throw new Error(made);
  return made;
};
const sheetWith = (...views: SheetView[]): Sheet => ({ ...blankSheet('Assembly', usualPaper('A3')), views });

describe('a section along a line of a view', () => {
  test('is looked at from below a level line, from the right of an upright one, under the next letter', () => {
    expect(
      along([
        [-5, 0],
        [105, 0],
      ]),
    ).toMatchObject({ direction: 'front', section: { letter: 'A', of: 'top' } });
    const upright = along([
      [30, -40],
      [30, 40],
    ]);
    expect(upright.section!.path!.towards).toEqual([1, 0, 0]);
    const second = sectionAlong(
      top,
      [
        [0, 5],
        [90, 5],
      ],
      [
        top,
        along([
          [-5, 0],
          [105, 0],
        ]),
      ],
      'next',
    ) as SheetView;
    expect(second.section!.letter).toBe('B');
  });
  test('is looked at the same whichever end was drawn first', () => {
    const [one, other] = [
      along([
        [-5, 0],
        [105, 0],
      ]),
      along([
        [105, 0],
        [-5, 0],
      ]),
    ];
    expect(other.direction).toEqual(one.direction);
    expect(viewRequest(other).cut!.cuts).toEqual(viewRequest(one).cut!.cuts);
  });
  test('slanted, stands upright with its line level', () => {
    const { direction } = along([
      [0, -30],
      [60, 30],
    ]);
    const m = viewPlacement(direction);
    expect([m[4], m[5], m[6]].map((one) => expect.closeTo(one, 9))).toEqual([0, 0, 1]);
  });
  test('that turns back says so', () => {
    expect(
      sectionAlong(
        top,
        [
          [0, 0],
          [50, 0],
          [20, 5],
          [90, 5],
        ],
        [top],
        'x',
      ),
    ).toContain('turns back');
  });
  test('from the other side it is upright too', () => {
    const view = along([
      [-5, 0],
      [105, 0],
    ]);
    expect(turnedSection(view, top)).toMatchObject({ direction: 'back', section: { path: { towards: [0, 1, 0] } } });
  });
  test('stands aligned with its view, on the side where there is room', () => {
    const view = along([
      [-5, 0],
      [105, 0],
    ]);
    const lines = drawn(top).lines,
      cut = drawn(view).lines;
    const place = (centre: Vec2, projection: 'first' | 'third') =>
      placeSection(view, { ...top, centre }, { lines, drawn: cut }, { projection, paper: usualPaper('A3'), taken: [] });
    expect(place([150, 150], 'first').centre[0]).toBe(150);
    expect(place([150, 200], 'first').centre[1]).toBeLessThan(150);
    expect(place([150, 90], 'third').centre[1]).toBeGreaterThan(120);
    const [x0, y0, x1, y1] = cut.box;
    // Something stands where it would be, on either side: it goes aside, over nothing, with its caption on the paper.
    const taken: Box2[] = [
      [100, 60, 200, 140],
      [20, 10, 400, 45],
      [20, 150, 250, 287],
    ];
    const { centre } = placeSection(
      view,
      { ...top, centre: [150, 100] },
      { lines, drawn: cut },
      { projection: 'first', paper: usualPaper('A3'), taken },
    );
    const [dx, dy] = [(x1 - x0) / 2, (y1 - y0) / 2];
    const own: Box2 = [centre[0] - dx, centre[1] - dy, centre[0] + dx, centre[1] + dy + 10];
    expect(taken.filter((one) => boxesOverlap(one, own))).toEqual([]);
    expect([own[0] > 20, own[1] > 10, own[2] < 410, own[3] < 287, centre[1]]).toEqual([true, true, true, true, 100]);
    // No room anywhere: the less crowded place.
    const nowhere = placeSection(
      view,
      { ...top, centre: [150, 200] },
      { lines, drawn: cut },
      { projection: 'first', paper: usualPaper('A3'), taken: [[0, 0, 420, 297]] },
    );
    expect(nowhere.centre[1]).toBeLessThan(150);
    // No room above.
    expect(place([150, 60], 'first').centre[1]).toBeGreaterThan(90);
  });
});

describe('a cutting line', () => {
  const view = along([
    [-5, 0],
    [105, 0],
  ]);
  const sheet = sheetWith(top, { ...view, scale: 1, centre: [150, 200] });
  const laid = { ...placeView(top, drawn(top).lines), drawn: () => drawn(top).lines };
  test('lies on its view with an arrow and a letter at each end, the way that one looks', () => {
    const line = cuttingLineOn(view, laid)!;
    expect(line.points.map(([x, y]) => [x, y])).toEqual([
      [expect.closeTo(95), expect.closeTo(100)],
      [expect.closeTo(205), expect.closeTo(100)],
    ]);
    // One looks up the paper, so arrows stand below the line.
    expect(line.arrows.map(({ tail, tip }) => tail[1] - tip[1])).toEqual([expect.closeTo(10), expect.closeTo(10)]);
    expect(line.letters.every(([, y]) => y > 110)).toBe(true);
  });
  test('has arrows that leave it at its ends where the set says so, letters as high as that says', () => {
    const line = cuttingLineOn(view, laid, { pitch: 1, lettering: 7, arrows: 'off' })!;
    expect(line.arrows.map(({ tail, tip }) => [tail[1], tip[1]])).toEqual([
      [expect.closeTo(100), expect.closeTo(90)],
      [expect.closeTo(100), expect.closeTo(90)],
    ]);
    expect(line.letters.every(([, y]) => y < 90 - 7 / 2)).toBe(true);
    expect(line.lettering).toBe(7);
  });
  test('is on no view that is not seen along it', () => {
    const turned = { ...laid, view: { ...top, direction: 'isometric' as const } };
    expect(cuttingLineOn(view, turned)).toBeNull();
    expect(cuttingLineOn({ ...view, section: { ...view.section!, of: 'other' } }, laid)).toBeNull();
  });
  test('the end of a half section has no arrow along the line', () => {
    const half = along([
      [-5, 0],
      [30, 0],
      [30, -40],
    ]);
    expect(cuttingLineOn(half, laid)).toMatchObject({ arrows: [{ tip: [expect.closeTo(95), expect.closeTo(100)] }] });
  });
  const thing: SheetThing = { kind: 'cuttingLine', id: 'section' };
  test('moved on paper cuts elsewhere in the machine', () => {
    const moved = moveThings(sheet, [{ thing, by: [0, 10] }]);
    expect(moved.views[1].section!.path!.points.map(([, y]) => y)).toEqual([expect.closeTo(-10), expect.closeTo(-10)]);
    expect(moved.views[1].centre).toEqual(sheet.views[1].centre);
  });
  test('a corner that is moved where nothing can be cut stays where it was', () => {
    const end: SheetThing = { kind: 'cuttingPoint', id: 'section', at: 1 };
    expect(moveThings(sheet, [{ thing: end, by: [-110, 0] }])).toBe(sheet);
    const moved = moveThings(sheet, [{ thing: end, by: [0, 5] }]).views[1].section!.path!;
    expect(moved.points[1][1]).toBeCloseTo(-5);
    expect(pathFault(moved)).toBeNull();
  });
  test('taken away, or with the view that shows it, its section is gone', () => {
    expect(withoutThings(sheet, [thing]).views.map(({ id }) => id)).toEqual(['top']);
    expect(withoutThings(sheet, [{ kind: 'view', id: 'top' }]).views).toEqual([]);
  });
});

describe('a typed place', () => {
  test('moves a straight line along the axis to which it is square', () => {
    const path = along([
      [-5, 3],
      [105, 3],
    ]).section!.path!;
    expect(planeOf(path)).toEqual({ axis: 1, at: 3 });
    expect(planeOf(pathAt(path, { axis: 1, at: -7.25 }))).toEqual({ axis: 1, at: -7.25 });
  });
  test('is none of a slanted or stepped line', () => {
    const slanted: Vec2[] = [
        [0, 0],
        [60, 40],
      ],
      stepped: Vec2[] = [
        [0, 0],
        [50, 0],
        [50, 9],
        [90, 9],
      ];
    expect([slanted, stepped].map((line) => planeOf(along(line).section!.path!))).toEqual([null, null]);
  });
});

describe('a piece taken out of a pictorial view', () => {
  test('is the quarter nearest to the viewer, about the axis of the largest round part', () => {
    const { lines } = drawn({ direction: 'isometric' });
    const middle = middleOf('isometric', lines);
    expect(middle.slice(0, 2).map((one) => expect.closeTo(one, 6))).toEqual([30, 0]);
    const { cuts } = quarterBefore('isometric', middle);
    expect(cuts![0]).toHaveLength(2);
    const cut = drawn({ direction: 'isometric', section: quarterBefore('isometric', middle) }).lines;
    expect(new Set([...cut.cutOccurrences!].map((one) => cut.paths[one]))).toEqual(new Set(['plate', 'tube']));
  });
});

test('sections on other sheets count where they cut the same revision', () => {
  const own = sheetWith(top);
  const cut: SheetView = { ...top, id: 'cut', section: { letter: 'A' } };
  const others = [sheetWith(cut, top), { ...sheetWith({ ...cut, id: 'old' }), revision: 'A' }];
  expect(sectionsOf(others, own).map(({ id }) => id)).toEqual(['cut']);
  expect(sectionsOf(others, { ...own, revision: 'A' }).map(({ id }) => id)).toEqual(['old']);
});

test('letters go on after Z with doubled ones', () => {
  const taken = [...'ABCDEFGHJKLMNPQRSTUVWXYZ', 'AA'].map((letter): SheetView => ({ ...top, section: { letter } }));
  expect(freeLetter(taken)).toBe('BB');
  expect(freeLetter(taken.slice(0, 3))).toBe('D');
});

test('what was said of a part in one section holds for the next one on the sheet; what was said last, where both were said', () => {
  const key = (name: string) => name as ComponentKey;
  const first: SheetView = {
    ...top,
    section: { letter: 'A', whole: [key('pin'), key('key')], through: [key('shaft')] },
  };
  const second: SheetView = { ...top, id: 'b', section: { letter: 'B', through: [key('pin')] } };
  const { whole, through } = along(
    [
      [-5, 0],
      [105, 0],
    ],
    [top, first, second],
  ).section!;
  expect([whole, [...through!].sort()]).toEqual([['key'], ['pin', 'shaft']]);
});

describe('a piece of a view that is cut open', () => {
  const front: SheetView = { ...unplacedView('front', { direction: 'front' }), scale: 0.5, centre: [150, 100] };
  const { lines } = drawn(front);
  const opened = (view: SheetView): SheetView => {
    const section = cutOpen(view, lines, [view]);
    if (typeof section === 'string') throw new Error(section);
    return { ...view, section };
  };
  const sheet = sheetWith(opened(front));
  const pieceOf = (of: Sheet, at = 0) => of.views[0].section!.pieces![at];
  const piece: SheetThing = { kind: 'cutPiece', id: 'front', piece: 0 };
  test('is as deep as the axis of the largest round part, about it, less than what is seen', () => {
    expect(pieceOf(sheet).at).toEqual([30, 0, 25].map((one) => expect.closeTo(one, 6)));
    expect(pieceOf(sheet).half).toEqual([20, 10].map((one) => expect.closeTo(one, 6)));
    expect(depthOf('front', pieceOf(sheet))).toEqual({ axis: 1, at: expect.closeTo(0, 6) });
    expect(depthOf('isometric', pieceOf(sheet))).toBeNull();
  });
  test('is moved on its view, as deep as it was, and drawn out each way by itself', () => {
    const moved = pieceOf(moveThings(sheet, [{ thing: piece, by: [5, 10] }]));
    expect(moved.at).toEqual([40, 0, 5].map((one) => expect.closeTo(one, 6)));
    const size: SheetThing = { kind: 'cutPieceSize', id: 'front', piece: 0 };
    const larger = pieceOf(moveThings(sheet, [{ thing: size, by: [3, 4] }]));
    expect(larger.half).toEqual([26, 18].map((one) => expect.closeTo(one, 6)));
    expect(pieceOf(moveThings(sheet, [{ thing: size, by: [-90, -90] }])).half[0]).toBeGreaterThan(0);
  });
  test('a second one stands beside the first; each is taken away by itself, and the last with the section', () => {
    const two = sheetWith(opened(opened(front)));
    expect(pieceOf(two, 1).at[0] - pieceOf(two).at[0]).toBeGreaterThan(2 * pieceOf(two).half[0]);
    const one = withoutThings(two, [piece]);
    expect(one.views[0].section!.pieces).toEqual([pieceOf(two, 1)]);
    expect(withoutThings(one, [piece]).views[0]).not.toHaveProperty('section');
  });
  test('is none of a view that is a section otherwise, nor beyond the eighth', () => {
    expect(cutOpen({ ...front, section: { letter: '', cuts: [] } }, lines, [])).toContain('section already');
    const many = [...Array(8).keys()].reduce((view) => opened(view), front);
    expect(cutOpen(many, lines, [])).toContain('8 pieces');
  });
});

describe('where a section is proposed', () => {
  test('through the axes of round parts, one across each axis first', () => {
    const { lines } = drawn({ direction: 'isometric' });
    expect(candidatePlanes('isometric', lines, [50, 0, 25])).toEqual([
      { axis: 0, at: expect.closeTo(30, 6) },
      { axis: 1, at: expect.closeTo(0, 6) },
    ]);
  });
  test('through the middle where nothing is round', () => {
    const { axisEnds: _, axisRadii: __, ...lines } = drawn({ direction: 'isometric' }).lines;
    expect(candidatePlanes('isometric', lines, [50, 0, 25])).toEqual([
      { axis: 0, at: 50 },
      { axis: 1, at: 0 },
    ]);
  });
  test.each([0, 1, 2] as const)('across axis %i: both views upright, in line, inside the room, apart', (axis) => {
    const plane = { axis, at: axis === 0 ? 30 : axis === 1 ? 0 : 20 };
    const parent = parentOf(plane, 'parent');
    const lines = drawn(parent).lines;
    const cut = sectionIn(plane, 'A', 'cut', { view: parent, lines });
    expect(pathFault(cut.section!.path!)).toBeNull();
    expect(drawn(cut).lines.cutOccurrences!.length).toBeGreaterThan(0);
    const room = [20, 20, 400, 280] as const;
    for (const projection of ['first', 'third'] as const) {
      const pair = placePair(
        room,
        { view: parent, drawn: drawn(parent) },
        { view: cut, drawn: drawn(cut) },
        projection,
        20,
      );
      const boxes = pair.map((view) => placeView(view, drawn(view).lines).box);
      expect(boxesOverlap(boxes[0], boxes[1])).toBe(false);
      for (const box of boxes)
        expect([box[0] >= 20, box[1] >= 20, box[2] <= 400, box[3] <= 280]).toEqual([true, true, true, true]);
      const inLine = [0, 1].some((k) => Math.abs(pair[0].centre[k] - pair[1].centre[k]) < 1e-9);
      expect([inLine, pair[0].scale]).toEqual([true, pair[1].scale]);
    }
  });
});

test('a section is the same whether a view shows its line or none does: it is drawn once', () => {
  const assembly = assemblyOf(node('TOP', [1, leaf('PLATE', { shape: 'shape' as never })]));
  for (const axis of [0, 1, 2] as const) {
    const plane = { axis, at: 12.5 };
    const parent = parentOf(plane, 'parent');
    const whole = sectionIn(plane, 'A', 'cut', { view: parent, lines: drawn(parent).lines });
    expect(lookAt(assembly, viewRequest(bareSection(plane, 'bare'))).key).toBe(
      lookAt(assembly, viewRequest(whole)).key,
    );
  }
});

describe('hatching', () => {
  const assembly = assemblyOf(node('TOP', [1, leaf('PLATE')], [1, leaf('TUBE')]));
  const section = along([
    [-5, 0],
    [105, 0],
  ]);
  const lines: ViewLines = drawn(section).lines;
  const areas = cutAreasOf(lines, assembly);
  test('parts side by side differ; a part has one style everywhere', () => {
    const styles = stylesFor([areas]);
    expect(areas.map(({ part }) => part)).toEqual(['plate', 'tube']);
    expect(styles.get('plate')).not.toEqual(styles.get('tube'));
    expect(stylesFor([areas, areas])).toEqual(styles);
  });
  test('a part is hatched alike on all sheets of a set, beside whatever it is cut', () => {
    // Across the tube alone, above the plate.
    const across: SheetView = {
      ...unplacedView('across', {
        direction: 'top',
        section: { letter: 'B', cuts: [[{ normal: [0, 0, -1], offset: -30 }]] },
      }),
      scale: 1,
      centre: [150, 100],
    };
    const both: SheetView = { ...section, scale: 1, centre: [150, 100] };
    const linesOf = new Map([across, both].map((view) => [view.id, drawn(view).lines]));
    const { inputs } = drawing(1);
    const angles = (view: SheetView, ...elsewhere: SheetView[]): number[] => {
      const { scene } = drawSheet({
        ...inputs,
        assembly,
        sheet: sheetWith(view),
        lines: linesOf,
        sectionsElsewhere: elsewhere.map(({ id }) => linesOf.get(id)!),
      });
      const ends = scene.marks.flatMap((mark) =>
        mark.kind === 'stretches' && mark.source.kind === 'hatching' ? [...mark.ends] : [],
      );
      const found = new Set<number>();
      for (let at = 0; at < ends.length; at += 4)
        found.add(
          Math.round((Math.atan2(ends[at + 1] - ends[at + 3], ends[at + 2] - ends[at]) * 180) / Math.PI + 360) % 180,
        );
      return [...found].sort((one, other) => one - other);
    };
    expect(angles(both)).toEqual([45, 135]);
    expect(angles(across)).toEqual([45]);
    expect(angles(across, both)).toEqual([135]);
    expect(angles(both, across)).toEqual([45, 135]);
  });
  test('lines lie in the area, as far apart as its size on paper asks for; what is thin is filled', () => {
    const { hatched, filled } = hatchingOf(areas, stylesFor([areas]), { scale: 1, pen: 0.25 });
    expect(filled).toEqual([]);
    expect(hatched.length / 4).toBeGreaterThan(20);
    for (let k = 0; k < hatched.length; k += 2) {
      expect(hatched[k]).toBeGreaterThanOrEqual(-1e-9);
      expect(hatched[k]).toBeLessThanOrEqual(100 + 1e-9);
    }
    const small = hatchingOf(areas, stylesFor([areas]), { scale: 0.1, pen: 0.25 });
    expect(small.filled.length).toBeGreaterThan(0);
  });
});

test('what a section says is part of what is looked at, and of its name', () => {
  const assembly = assemblyOf(node('TOP', [1, leaf('PLATE', { shape: 'shape' as never })]));
  const view = along([
    [-5, 0],
    [105, 0],
  ]);
  const keys = [
    view,
    { ...view, section: { ...view.section!, cutsAll: true as const } },
    { ...view, section: { ...view.section!, letter: 'Q' } },
    {
      ...view,
      section: {
        ...view.section!,
        path: {
          ...view.section!.path!,
          points: [
            [-5, 1, 0],
            [105, 1, 0],
          ] as Vec3[],
        },
      },
    },
    { direction: view.direction },
  ].map((one) => lookAt(assembly, viewRequest(one)).key);
  expect(keys[2]).toBe(keys[0]); // a letter changes nothing that is drawn
  expect(new Set(keys).size).toBe(4);
});
