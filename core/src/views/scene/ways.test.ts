import { describe, expect, test } from 'vitest';
import { at, boxMesh } from '../../../../testkit/shapes.ts';
import type { PathKey } from '../../assembly/index.ts';
import type { Vec3 } from '../../geometry/index.ts';
import type { PoseMove } from '../../poses/index.ts';
import { drawView, pathWays, viewPlacement, visibleLines, type Body } from '../index.ts';

const body = (path: string, x: number, y: number, z: number, size = 10): Body => ({
  path: path as PathKey,
  mesh: boxMesh(size, size, size),
  placement: at(x, y, z),
});
const move = (path: string, ...steps: Vec3[]): PoseMove => ({ path: path as PathKey, steps });

describe('ways from seats', () => {
  test('run from the middle of the seat to the middle of the place, step by step', () => {
    const moves = [move('a', [0, 0, 40], [25, 0, 0])];
    expect(pathWays([body('a', 25, 0, 40), body('b', 0, 0, -20)], moves)).toEqual([
      { from: [5, 5, 5], to: [5, 5, 45] },
      { from: [5, 5, 45], to: [30, 5, 45] },
    ]);
  });
  test('of what is in a subassembly begin where that has gone; that goes from the middle of all of it', () => {
    const moves = [move('s', [0, 0, 100]), move('s/a', [0, 30, 0])];
    const ways = pathWays([body('s/a', 0, 30, 100), body('s/b', 20, 0, 100), body('t', 0, 0, -50)], moves);
    expect(ways).toEqual([
      { from: [15, 5, 5], to: [15, 5, 105] },
      { from: [5, 5, 105], to: [5, 35, 105] },
    ]);
  });
  test('a subassembly by itself has no way: everything that is shown went along', () => {
    const moves = [move('s', [0, 0, 100]), move('s/a', [0, 30, 0])];
    const ways = pathWays([body('s/a', 0, 30, 100), body('s/b', 20, 0, 100)], moves);
    expect(ways).toEqual([{ from: [5, 5, 105], to: [5, 35, 105] }]);
  });
  test('of rollers of which one is taken apart the others have none; of those that all stay together each has its own', () => {
    const [tube, axle] = [boxMesh(10, 10, 10), boxMesh(2, 2, 30)];
    const bodies = ['r1', 'r2', 'r3'].flatMap((path, at): Body[] => [
      { ...body(`${path}/tube`, 20 * at, 0, 50), mesh: tube },
      { ...body(`${path}/axle`, 20 * at, 0, 50), mesh: axle },
    ]);
    const bed = body('bed', 0, 0, -20);
    const moves = ['r1', 'r2', 'r3'].map((path) => move(path, [0, 0, 50]));
    expect(pathWays([...bodies, bed], moves)).toHaveLength(3);
    const apart = pathWays([...bodies, bed], [...moves, move('r2/axle', [0, 0, 40])]);
    expect(apart.map(({ from }) => Math.round(from[0]))).toEqual([25, 21]);
  });
  test('nothing is drawn of a move whose things are not looked at', () =>
    expect(pathWays([body('b', 0, 0, 0)], [move('a', [0, 0, 9])])).toEqual([]));
});

describe('in a view', () => {
  // From the front: a lifted by 100, and a box before the middle of its way.
  const bodies = [body('a', 0, 0, 100), body('seat', 0, 0, -10), body('before', -5, -60, 40, 20)];
  const view = viewPlacement('front');
  const ways = pathWays(bodies, [move('a', [0, 0, 100])]);
  const drawn = drawView(bodies, view, ways);
  test('they are broken where they pass behind things', () => {
    const stretches = Array.from({ length: drawn.wayEnds!.length / 4 }, (_, way) =>
      [...drawn.wayEnds!.subarray(way * 4, way * 4 + 4)].map((value) => Math.round(value * 1000) / 1000),
    ).sort((one, other) => one[1] - other[1]);
    // Its upper end lies in the box that it leads to, hidden by its front.
    expect(stretches).toEqual([
      [5, 5, 5, 40],
      [5, 60, 5, 100],
    ]);
  });
  test('they are no lines of the machine: those, their box and their order stay', () => {
    const { wayEnds: _, ...lines } = drawn;
    expect(lines).toEqual(drawView(bodies, view));
    expect(visibleLines(drawn).wayEnds).toBe(drawn.wayEnds);
  });
});
