import { describe, expect, test } from 'vitest';
import { drawing } from '../../../testkit/blocks.ts';
import { balloonFaults } from '../balloons/index.ts';
import { drawSheet, moveThings, planBalloons, stackBalloons, stacksOf, unstack } from './index.ts';

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
});
