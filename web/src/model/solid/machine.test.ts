import { describe, expect, test } from 'vitest';
import { modelAxes, orientationTurn, type Orientation, type UsageKey } from '../../../../core/src/assembly/index.ts';
import { boxMesh, at } from '../../../../testkit/shapes.ts';
import { inModel, isIn, machineBox, nearestAxis, spreadOrder, withAxis } from './machine.ts';

const keys = (...names: string[]) => names as UsageKey[];
const bolt = { components: [0, 1, 4], path: keys('foot.0', 'bolt.1') };

describe('what is lit', () => {
  test('every occurrence of a picked component, and everything in one', () => {
    for (const [component, lit] of [
      [4, true],
      [1, true],
      [2, false],
      [0, false],
    ] as const)
      expect([component, isIn(bolt, { components: new Set([component]), path: null })]).toEqual([component, lit]);
  });
  test('of one picked place, what stands in it and nothing else', () => {
    for (const [path, lit] of [
      [keys('foot.0'), true],
      [keys('foot.0', 'bolt.1'), true],
      [keys('foot.1'), false],
      [keys('foot.0', 'bolt.2'), false],
    ] as const)
      expect([path, isIn(bolt, { components: new Set([4]), path })]).toEqual([path, lit]);
  });
  test('a machine that is one part is lit when picked', () =>
    expect(isIn({ components: [0], path: [] }, { components: new Set([0]), path: null })).toBe(true));
});

test('the box of a machine is the box of all its placed boxes', () => {
  const mesh = boxMesh(10, 20, 30);
  const turned = [0, -1, 0, 100, 1, 0, 0, 0, 0, 0, 1, 0];
  const bodies = new Map([['s', [{ placement: at(0, 0, 0) }, { placement: turned }]]]) as never;
  expect(machineBox([['s' as never, mesh]], bodies)).toEqual([0, 0, 0, 100, 20, 30]);
  expect(machineBox([], bodies)).toBeNull();
});

test('any first part of an order that is spread stands for the whole', () => {
  for (const count of [1, 2, 7, 40, 1000]) {
    const order = spreadOrder(count);
    expect([...order].sort((a, b) => a - b)).toEqual([...Array(count).keys()]);
    const part = [...order.slice(0, Math.ceil(count / 5))].sort((a, b) => a - b);
    const gaps = part.map((value, at) => (part[at + 1] ?? count) - value);
    expect(Math.max(...gaps)).toBeLessThanOrEqual(Math.max(2, 15));
  }
});

describe('up and front', () => {
  test('a face of the picture says an axis of the model, however the machine is turned', () => {
    for (const up of modelAxes)
      for (const front of modelAxes) {
        if (up[1] === front[1]) continue;
        const turn = orientationTurn({ up, front }) ?? undefined;
        expect([
          up,
          front,
          nearestAxis(inModel([0.1, -0.2, 0.9], turn)),
          nearestAxis(inModel([0.2, -0.9, 0.1], turn)),
        ]).toEqual([up, front, up, front]);
      }
  });
  test('the two never lie on one axis', () => {
    for (const up of modelAxes)
      for (const front of modelAxes)
        for (const which of ['up', 'front'] as const)
          for (const axis of modelAxes) {
            if (up[1] === front[1]) continue;
            const next: Orientation = withAxis({ up, front }, which, axis);
            expect([which, axis, next[which], next.up[1] !== next.front[1]]).toEqual([which, axis, axis, true]);
          }
  });
});
