import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { pathKey } from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import type { Vec3 } from '../../geometry/index.ts';
import type { ViewLines } from '../../views/index.ts';
import { blankSheet, fastenerStacks, usualPaper, withFastenerStacks, type SheetLayout } from '../index.ts';

const assembly = assemblyOf(
  node('TOP', [2, leaf('BOLT')], [2, leaf('WASHER')], [2, leaf('NUT')], [1, leaf('PLATE')], [1, leaf('PIN')]),
);
const bill = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' });
const paths = assembly.components[assembly.root].usages.map(({ key }) => pathKey([key]));
const [bolt, bolt2, washer, washer2, nut, nut2, plate, pin] = paths.keys();
const rowOf = (number: string) =>
  bill.rows.findIndex(({ components }) => assembly.components[components[0]].partNumber === number);
const partsOf = (rows: readonly { readonly row: number }[]) =>
  rows.map(({ row }) => assembly.components[bill.rows[row].components[0]].partNumber);

/** Of an occurrence, from one point to another, with a radius. */
type Axis = readonly [number, Vec3, Vec3, number];
const linesWith = (...axes: readonly Axis[]) =>
  ({
    paths,
    axisEnds: Float64Array.from(axes.flatMap(([, from, to]) => [...from, ...to])),
    axisRadii: Float64Array.from(axes.map(([, , , radius]) => radius)),
    axisOccurrences: Int32Array.from(axes.map(([of]) => of)),
    axisFeatures: new Int32Array(axes.length),
  }) as unknown as ViewLines;
const balloons = bill.rows.map((_, row) => ({
  row,
  balloon: { id: `b${row}`, view: 'v', path: [], anchor: [0, 0, 0], end: 'dot', offset: [row, 5], byHand: false },
}));
const layout = { views: [{ view: { id: 'v', scale: 0.2 } }], balloons } as unknown as SheetLayout;
const found = (lines: ViewLines, of = layout) => fastenerStacks(of, new Map([['v', lines]]), { assembly, bill });
/** Along x; the bolt's shank reaches through the plate to its nut. */
const joint: Axis[] = [
  [nut, [38, 0, -8], [44, 0, -8], 5],
  [bolt, [0, 0, -8], [40, 0, -8], 4],
  [washer, [4, 0, -8], [6, 0, -8], 7],
];

describe('small parts on one axis', () => {
  test('that touch are one stack, in their order along the axis', () => {
    const [stack, ...others] = found(linesWith(...joint));
    expect(others).toEqual([]);
    expect(stack.view).toBe('v');
    expect(partsOf(stack.members)).toEqual(['NUT', 'BOLT', 'WASHER']);
    expect(stack.members.map(({ path }) => path)).toEqual([paths[nut], paths[bolt], paths[washer]]);
  });
  test('a second joint of the same lines makes no second stack', () => {
    const second: Axis[] = [
      [bolt2, [0, 90, 0], [40, 90, 0], 4],
      [washer2, [4, 90, 0], [6, 90, 0], 7],
      [nut2, [38, 90, 0], [44, 90, 0], 5],
    ];
    expect(found(linesWith(...joint, ...second))).toHaveLength(1);
  });
  test.each([
    ['beside one another', [washer, [4, 3, -8], [6, 3, -8], 7]],
    ['far apart', [washer, [90, 0, -8], [92, 0, -8], 7]],
    ['turned', [washer, [4, 0, -8], [5, 1, -8], 7]],
    ['large on paper', [washer, [4, 0, -8], [6, 0, -8], 40]],
    ['long on paper', [pin, [-100, 0, -8], [100, 0, -8], 4]],
  ] as const)('those that are %s are none', (_, other) => {
    expect(found(linesWith(joint[1], other))).toEqual([]);
  });
  test('nor is a part with several axes, one without a balloon, or one put by hand', () => {
    const holes: Axis[] = [
      [plate, [4, 0, -8], [10, 0, -8], 4],
      [plate, [4, 30, -8], [10, 30, -8], 4],
    ];
    expect(found(linesWith(joint[1], ...holes))).toEqual([]);
    const without = { ...layout, balloons: layout.balloons.filter(({ row }) => row !== rowOf('BOLT')) };
    expect(found(linesWith(joint[1], joint[2]), without)).toEqual([]);
    const byHand = layout.balloons.map((one) => ({
      ...one,
      balloon: { ...one.balloon, byHand: one.row === rowOf('BOLT') },
    }));
    expect(found(linesWith(joint[1], joint[2]), { ...layout, balloons: byHand })).toEqual([]);
  });
  test('a view without axes has none', () => {
    expect(found({ paths } as unknown as ViewLines)).toEqual([]);
  });
});

test('the sheet then has their balloons on the leader of the first, which points at the part of that joint', () => {
  const sheet = { ...blankSheet('S', usualPaper('A3')), balloons: layout.balloons.map(({ balloon }) => balloon) };
  const made = withFastenerStacks(sheet, layout, found(linesWith(...joint)));
  const stacked = made.balloons.filter(({ stack }) => stack !== undefined);
  expect(stacked.map(({ id }) => id)).toEqual(['NUT', 'BOLT', 'WASHER'].map((number) => `b${rowOf(number)}`));
  expect(pathKey(stacked[0].path)).toBe(paths[nut]);
  expect(made.balloons).toHaveLength(sheet.balloons.length);
});
