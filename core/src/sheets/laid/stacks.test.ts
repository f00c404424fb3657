import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import { pathKey } from '../../assembly/index.ts';
import { balloonFaults } from '../../balloons/index.ts';
import { drawSheet, moveThings, planBalloons, stackBalloons, stacksOf, unstack } from '../index.ts';

describe('balloons on one leader', () => {
  const { sheet, inputs, spots, newId, drawn } = drawing(12);
  const ids = ['3', '7', '5'].map((item) => drawn.layout.balloons.find((one) => one.item === item)!.balloon.id);
  const laidOn = (stacked: typeof sheet) => drawSheet({ ...inputs, sheet: stacked });
  const inStack = (of: ReturnType<typeof laidOn>) =>
    of.layout.balloons.filter(({ balloon }) => balloon.stack !== undefined);

  test.each(['row', 'column'] as const)('stand in a %s, touching, behind the first, which alone has a leader', (as) => {
    const stacked = inStack(laidOn(stackBalloons(sheet, ids, as)));
    expect(stacked.map(({ item }) => item)).toEqual(['3', '7', '5']);
    expect(stacked.map(({ leader }) => leader.length)).toEqual([2, 0, 0]);
    const axis = as === 'row' ? 0 : 1;
    for (const [at, one] of stacked.slice(1).entries()) {
      const before = stacked[at];
      const apart = Math.abs(one.centre[axis] - before.centre[axis]);
      expect(apart).toBeCloseTo(before.radius + one.radius + (as === 'row' ? before.extra + one.extra : 0), 1);
      expect(one.centre[1 - axis]).toBe(before.centre[1 - axis]);
    }
  });
  test('no line loses its balloon, and nothing is said to lie over anything', () => {
    const { layout } = laidOn(stackBalloons(sheet, ids, 'row'));
    expect(layout.coverage).toEqual(drawn.layout.coverage);
    const ofStack = layout.balloons.filter(({ balloon }) => balloon.stack !== undefined);
    expect(balloonFaults(ofStack.map((one) => ({ ...one, anchor: one.centre }))).overlapping).toEqual([]);
  });
  test('they move together, by whichever of them is taken', () => {
    const stacked = stackBalloons(sheet, ids, 'row');
    const before = inStack(laidOn(stacked)).map(({ centre }) => centre);
    const moved = moveThings(stacked, [{ thing: { kind: 'balloon', id: ids[1] }, by: [5, -7] }]);
    const after = inStack(laidOn(moved)).map(({ centre }) => centre);
    after.forEach(([x, y], at) => {
      expect(x).toBeCloseTo(before[at][0] + 5, 9);
      expect(y).toBeCloseTo(before[at][1] - 7, 9);
    });
  });
  test('arranging keeps them together, with room for all of them', () => {
    const stacked = stackBalloons(sheet, ids, 'row');
    const { balloons } = planBalloons({ ...inputs, sheet: stacked }, spots, newId);
    const again = laidOn({ ...sheet, balloons });
    expect(stacksOf(balloons)).toHaveLength(1);
    expect(inStack(again).map(({ item }) => item)).toEqual(['3', '7', '5']);
    expect(again.layout.coverage.missing).toEqual([]);
    const laid = again.layout.balloons.map((one) => (one.leader.length > 0 ? one : { ...one, anchor: one.centre }));
    expect(balloonFaults(laid)).toMatchObject({ overlapping: [], crossing: [], through: [] });
  });
  test('put by hand they stay where they are', () => {
    const stacked = moveThings(stackBalloons(sheet, ids, 'column'), [
      { thing: { kind: 'balloon', id: ids[0] }, by: [1, 1] },
    ]);
    const { balloons } = planBalloons({ ...inputs, sheet: stacked }, spots, newId);
    for (const id of ids) expect(balloons).toContainEqual(stacked.balloons.find((one) => one.id === id));
  });
  test('taken apart each has its leader again', () => {
    const stacked = stackBalloons(sheet, ids, 'row');
    const apart = laidOn(unstack(stacked, ids[2], laidOn(stacked).layout.balloons));
    expect(inStack(apart)).toEqual([]);
    expect(apart.layout.balloons.every(({ leader }) => leader.length === 2)).toBe(true);
  });
  test('where the first is taken away, the next one has the leader', () => {
    const stacked = stackBalloons(sheet, ids, 'row');
    const rest = laidOn({ ...stacked, balloons: stacked.balloons.filter(({ id }) => id !== ids[0]) });
    expect(inStack(rest).map(({ item, leader }) => [item, leader.length])).toEqual([
      ['7', 2],
      ['5', 0],
    ]);
  });
  test('where the part that the first points at can no longer be seen, the others have leaders of their own', () => {
    const stacked = stackBalloons(sheet, ids, 'row');
    const [[view, all]] = spots;
    const gone = drawn.layout.balloons.find(({ balloon }) => balloon.id === ids[0])!.row;
    const hidden = pathKey(sheet.balloons.find(({ id }) => id === ids[0])!.path);
    const kept = [...all.occurrences.keys()].filter((at) => all.paths[all.occurrences[at]] !== hidden);
    const few = {
      ...all,
      occurrences: Int32Array.from(kept, (at) => all.occurrences[at]),
      onFace: Uint8Array.from(kept, (at) => all.onFace[at]),
      points: Float64Array.from(kept.flatMap((at) => [...all.points.subarray(at * 2, at * 2 + 2)])),
      room: Float64Array.from(kept, (at) => all.room[at]),
      anchors: Float64Array.from(kept.flatMap((at) => [...all.anchors.subarray(at * 3, at * 3 + 3)])),
    };
    const { balloons } = planBalloons({ ...inputs, sheet: stacked }, new Map([[view, few]]), newId);
    const { layout } = laidOn({ ...sheet, balloons });
    expect(layout.balloons.map(({ row }) => row)).not.toContain(gone);
    expect(layout.coverage.missing).toEqual(['3']);
    expect(stacksOf(balloons)).toEqual([]);
  });
});
