import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { pathKey } from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import type { Spots, ViewLines } from '../../views/index.ts';
import {
  leaderEndAt,
  leaderPlaces,
  leaderScore,
  nextLeaderEnd,
  roomInView,
  withLeaderEnd,
  type LaidView,
} from '../index.ts';

const assembly = assemblyOf(node('TOP', [2, leaf('RUNNER')], [1, leaf('SOLE')]));
const bill = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' });
const paths = assembly.components[assembly.root].usages.map(({ key }) => pathKey([key]));
/** Runner and sole side by side; the first place of the runner has little room. */
const spots: Spots = {
  paths,
  occurrences: Int32Array.from([0, 0, paths.length - 1]),
  onFace: Uint8Array.from([1, 0, 1]),
  points: Float64Array.from([100, 100, 200, 100, 300, 100]),
  room: Float64Array.from([4, 30, 50]),
  anchors: Float64Array.from([1, 2, 3, 4, 5, 6, 7, 8, 9]),
  breadths: new Float64Array(paths.length),
};
const laid = { view: { scale: 0.1 }, toPaper: (x: number, y: number) => [x / 10, y / 10] } as unknown as LaidView;
const rowOf = (number: string) =>
  bill.rows.findIndex(({ components }) => assembly.components[components[0]].partNumber === number);

describe('the end of a leader', () => {
  const places = leaderPlaces(laid, spots, { assembly, bill });
  test('may stand where something with a line is seen; how clear that is is told in mm on paper', () => {
    expect(places.map(({ point, row, end, room, isClear }) => [point, row, end, room, isClear])).toEqual([
      [[10, 10], rowOf('RUNNER'), 'dot', 0.4, false],
      [[20, 10], rowOf('RUNNER'), 'arrow', 3, true],
      [[30, 10], rowOf('SOLE'), 'dot', 5, true],
    ]);
  });
  test('has the most room of a view somewhere, which says in which view a line is seen best', () => {
    const most = (number: string) => roomInView({ scale: 0.1 }, spots, { assembly, bill }, rowOf(number));
    expect([most('RUNNER'), most('SOLE')]).toEqual([3, 5]);
    expect(roomInView({ scale: 0.2 }, spots, { assembly, bill }, rowOf('SOLE'))).toBe(10);
    expect(roomInView({ scale: 0.1 }, spots, { assembly, bill }, 99)).toBe(0);
  });
  test('goes to the nearest place of its own line, a clear one rather than a sliver', () => {
    expect(leaderEndAt(places, [9, 11], rowOf('RUNNER'))!.place.point).toEqual([10, 10]);
    expect(leaderEndAt(places, [14, 10], rowOf('RUNNER'))!.place.point).toEqual([20, 10]);
    expect(leaderEndAt(places, [14, 10], rowOf('SOLE'))!.place.point).toEqual([30, 10]);
  });
  test('over another part it stays on its own, and says over which', () => {
    expect(leaderEndAt(places, [29, 10], rowOf('RUNNER'))).toMatchObject({
      place: { point: [20, 10] },
      over: rowOf('SOLE'),
    });
    expect(leaderEndAt(places, [21, 10], rowOf('RUNNER'))!.over).toBeNull();
    expect(leaderEndAt(places, [29, 10])!.place.row).toBe(rowOf('SOLE'));
    expect(leaderEndAt(places, [0, 0], 99)).toBeNull();
  });
  test('goes on by keys to the next place of its line in that direction', () => {
    expect(nextLeaderEnd(places, [10, 10], [1, 0], rowOf('RUNNER'))!.point).toEqual([20, 10]);
    expect(nextLeaderEnd(places, [20, 10], [-1, 0], rowOf('RUNNER'))!.point).toEqual([10, 10]);
    expect(nextLeaderEnd(places, [20, 10], [1, 0], rowOf('RUNNER'))).toBeNull();
    expect(nextLeaderEnd(places, [10, 10], [0, 1], rowOf('RUNNER'))).toBeNull();
  });
  test('set by hand, arranging leaves it there', () => {
    const balloon = {
      id: 'b',
      view: 'v',
      path: [],
      anchor: [0, 0, 0],
      end: 'dot',
      offset: [9, 9],
      byHand: false,
    } as const;
    expect(withLeaderEnd(balloon, places[1])).toEqual({
      ...balloon,
      path: [assembly.components[assembly.root].usages[0].key],
      anchor: [4, 5, 6],
      end: 'arrow',
      byHand: true,
    });
  });
});

describe('how clearly a leader ends', () => {
  /** An upright line of the runner at 100, one of the sole at 130, and a hidden one at 101. */
  const lines = {
    ends: Float64Array.from([100, 0, 100, 200, 130, 0, 130, 200, 101, 0, 101, 200]),
    visible: Uint8Array.from([1, 1, 0]),
    occurrences: Int32Array.from([0, paths.length - 1, paths.length - 1]),
    paths,
  } as unknown as ViewLines;
  const score = (end: 'dot' | 'arrow', seen: readonly [number, number], path = paths[0]) =>
    leaderScore({ balloon: { path: [path], end }, seen } as unknown as Parameters<typeof leaderScore>[0], laid, lines, {
      assembly,
      bill,
    });
  test('on a face to the nearest line that is seen, on an edge to the nearest one of another part, on paper', () => {
    expect(score('dot', [80, 50])).toEqual({ kind: 'face', freeMm: 2, nearest: null });
    expect(score('dot', [120, 50])).toEqual({ kind: 'face', freeMm: 1, nearest: bill.rows[rowOf('SOLE')].item });
    expect(score('arrow', [100, 50])).toEqual({ kind: 'edge', freeMm: 3, nearest: bill.rows[rowOf('SOLE')].item });
  });
  test('alone in a view nothing is near', () => {
    const alone = { ...lines, occurrences: Int32Array.from([0, 0, 0]) };
    expect(
      leaderScore(
        { balloon: { path: [paths[0]], end: 'arrow' }, seen: [100, 50] } as unknown as Parameters<
          typeof leaderScore
        >[0],
        laid,
        alone,
        { assembly, bill },
      ),
    ).toEqual({ kind: 'edge', freeMm: null, nearest: null });
  });
});
