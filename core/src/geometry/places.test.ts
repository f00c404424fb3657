import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Places, weldPoints } from './index.ts';

describe('places', () => {
  const coordinate = fc.oneof(fc.integer({ min: -3, max: 3 }), fc.constantFrom(1e12, -1e12, 2 ** 32, 0.4, -0));
  test('each thing knows the one that came before it at its place, as a map of texts does', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate, coordinate)),
        fc.integer({ min: 0, max: 4 }),
        (at, room) => {
          const places = new Places(room);
          const last = new Map<string, number>();
          const before = at.map(([x, y, z], thing) => {
            const key = `${x} ${y} ${z}`;
            const known = last.get(key) ?? -1;
            last.set(key, thing);
            expect(places.add(x, y, z)).toBe(known);
            return known;
          });
          expect([...places.before.subarray(0, at.length)]).toEqual(before);
        },
      ),
    );
  });
  test('what has no place is alone', () => {
    const places = new Places(2);
    expect([places.add(NaN, 0, 0), places.add(NaN, 0, 0), places.add(0, 0, 0)]).toEqual([-1, -1, -1]);
  });
});

describe('welding', () => {
  test('every corner becomes the first at its place, whatever lies far below the extent', () => {
    const corners = [0, 0, 0, 5, 0, 0, 1e-9, -1e-9, 0, 5, 1e-9, 0, 5, 0, 1e-3];
    expect([...weldPoints(corners, 10)]).toEqual([0, 1, 0, 1, 4]);
    expect([...weldPoints([], 10)]).toEqual([]);
  });
  test('a grid of many corners, each thrice, becomes the grid', () => {
    const grid = Array.from({ length: 4000 }, (_, at) => [at % 20, Math.floor(at / 20) % 20, Math.floor(at / 400)]);
    const weld = weldPoints([grid, grid, grid].flat(2), 40);
    expect([...weld]).toEqual([0, 1, 2].flatMap(() => grid.map((_, at) => at)));
  });
});
