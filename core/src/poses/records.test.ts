import * as fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PathKey } from '../assembly/index.ts';
import { identityPlacement, type Vec3 } from '../geometry/index.ts';
import { displacements, movedBy, withMove, type Pose } from './index.ts';

const pose = (...moves: [string, ...Vec3[]][]): Pose => ({
  id: 'p',
  name: 'Exploded',
  moves: moves.map(([path, ...steps]) => ({ path: path as PathKey, steps })),
});

describe('where things stand in a pose', () => {
  test('their own moves and those of what they stand in come together', () => {
    const where = displacements(pose(['head', [0, 0, 100]], ['head/bolt', [0, 5, 0], [0, 0, 40]]).moves);
    expect([where('head'), where('head/bolt'), where('head/nut'), where('frame')]).toEqual([
      [0, 0, 100],
      [0, 5, 140],
      [0, 0, 100],
      null,
    ]);
  });
  test('a name that begins like another is another', () =>
    expect(displacements(pose(['head', [0, 0, 1]]).moves)('head2/bolt')).toBeNull());
  test('only the place of a placement changes', () =>
    expect(movedBy(identityPlacement, [1, 2, 3])).toEqual([1, 0, 0, 1, 0, 1, 0, 2, 0, 0, 1, 3]));
});

describe('a move by hand', () => {
  const two = pose(['a', [1, 0, 0]], ['b', [2, 0, 0]]);
  test('takes the place of what moved before, at its rank', () =>
    expect(withMove(two, 'a' as PathKey, [0, 0, 9])).toEqual(pose(['a', [0, 0, 9]], ['b', [2, 0, 0]])));
  test('of something else comes last', () =>
    expect(withMove(two, 'c' as PathKey, [0, 0, 9]).moves.map(({ path }) => path)).toEqual(['a', 'b', 'c']));
  test('of no length brings back to the seat, and what never left stays', () => {
    expect(withMove(two, 'a' as PathKey, [0, 0, 0])).toEqual(pose(['b', [2, 0, 0]]));
    expect(withMove(two, 'c' as PathKey, [0, 0, 0])).toEqual(two);
  });
  test('stands where it was put, whatever moved before', () => {
    const way = fc.tuple(
      fc.integer({ min: -500, max: 500 }),
      fc.integer({ min: -500, max: 500 }),
      fc.integer({ min: -500, max: 500 }),
    );
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), way)),
        fc.constantFrom('a', 'b', 'c'),
        way,
        (moved, path, step) => {
          const before = moved.reduce((all, [one, by]) => withMove(all, one as PathKey, by), pose());
          const stands = displacements(withMove(before, path as PathKey, step).moves)(path);
          expect(stands ?? [0, 0, 0]).toEqual(step);
        },
      ),
    );
  });
});
