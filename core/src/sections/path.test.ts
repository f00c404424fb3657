import { describe, expect, test } from 'vitest';
import { meshVolume, type Vec3 } from '../geometry/index.ts';
import { boxMesh } from '../../../testkit/shapes.ts';
import { areaOf, cutMesh } from './cutMesh.ts';
import { alignedCuts, cutsAlong, pathFault, type CutPath } from './path.ts';

/** Drawn on a view from above; looked at from the front. */
const drawn = (...points: readonly (readonly [number, number])[]): CutPath => ({
  points: points.map(([x, y]): Vec3 => [x, y, 7]),
  along: [0, 0, 1],
  towards: [0, -1, 0],
});
const block = boxMesh(60, 40, 10);
const left = (path: CutPath) => {
  const shape = cutMesh(block, cutsAlong(path));
  return shape && { volume: meshVolume(shape.mesh), area: shape.faces.reduce((sum, face) => sum + areaOf(face), 0) };
};

describe('what a cutting line takes away', () => {
  test('a full section: all that lies before the line, beyond its ends too', () => {
    expect(left(drawn([5, 12], [50, 12]))).toEqual({ volume: expect.closeTo(60 * 28 * 10), area: expect.closeTo(600) });
    expect(cutsAlong(drawn([50, 12], [5, 12]))).toEqual(cutsAlong(drawn([5, 12], [50, 12])));
  });
  test('a half section ends where its line turns to the viewer', () => {
    expect(left(drawn([-5, 12], [30, 12], [30, -5]))).toEqual({
      volume: expect.closeTo(60 * 40 * 10 - 30 * 12 * 10),
      area: expect.closeTo(30 * 10 + 12 * 10),
    });
  });
  test('a stepped section: each stretch as deep as it lies', () => {
    expect(left(drawn([-5, 12], [20, 12], [20, 30], [65, 30]))).toEqual({
      volume: expect.closeTo((20 * 28 + 40 * 10) * 10),
      area: expect.closeTo(20 * 10 + 18 * 10 + 40 * 10),
    });
  });
  test('a slanted stretch', () => {
    expect(left(drawn([0, 0], [60, 40]))).toEqual({
      volume: expect.closeTo(12000),
      area: expect.closeTo(Math.hypot(60, 40) * 10),
    });
  });
});

describe('a line that cannot be cut along says why', () => {
  test.each([
    [drawn([0, 0]), 'two points at least'],
    [drawn([0, 0], [0, 0], [5, 0]), 'are one'],
    [drawn([0, 0], [0, 20]), 'straight towards'],
    [drawn([0, 0], [20, 0], [10, 10], [30, 10]), 'turns back'],
    [{ ...drawn([0, 0], [20, 0]), along: [0, -1, 0] as Vec3 }, 'across the way'],
    [drawn(...Array.from({ length: 40 }, (_, at): [number, number] => [at, at % 2])), '24 points at most'],
  ])('%#', (path, words) => {
    expect(pathFault(path)).toContain(words);
  });
  test('a sound one says nothing', () => {
    expect(pathFault(drawn([0, 0], [20, 0], [20, 10], [30, 10]))).toBeNull();
  });
});

describe('a line whose second stretch is turned into one plane', () => {
  const aligned = (...points: readonly (readonly [number, number])[]): CutPath => ({
    ...drawn(...points),
    aligned: true,
  });
  test('has two stretches, the first across the sight; the second does not run back', () => {
    expect(pathFault(aligned([0, 0], [9, 0], [15, 7]))).toBeNull();
    expect(pathFault(aligned([0, 0], [9, 0], [9, 7]))).toBeNull();
    expect(pathFault(aligned([0, 0], [9, 0], [5, 7]))).toBeNull();
    expect(pathFault(aligned([0, 0], [9, 0]))).toContain('two stretches');
    expect(pathFault(aligned([0, 0], [0, 9], [9, 9]))).toContain('draw it across');
    expect(pathFault(aligned([0, 0], [9, 0], [1, 0.1]))).toContain('runs back');
  });
  test('is turned by the angle between them, and takes away what lies before each', () => {
    const { first, second, turn } = alignedCuts(aligned([0, 5], [10, 5], [20, 15]))!;
    expect(turn).toMatchObject({ about: [10, 5, 7], by: expect.closeTo(-Math.PI / 4, 9) });
    const isTaken = ([{ normal, offset }]: typeof first, [x, y]: readonly [number, number]) =>
      normal[0] * x + normal[1] * y < offset;
    expect([isTaken(first, [3, 4]), isTaken(first, [3, 6])]).toEqual([true, false]);
    expect([isTaken(second, [16, 10]), isTaken(second, [14, 10])]).toEqual([true, false]);
  });
  test('is a full section where both are one', () => expect(alignedCuts(aligned([0, 5], [10, 5], [20, 5]))).toBeNull());
});
