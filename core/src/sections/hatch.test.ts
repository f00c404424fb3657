import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Vec2 } from '../geometry/index.ts';
import { areaWithin, hatchLines, hatchStyles, type HatchedArea } from './hatch.ts';

const rectangle = (x0: number, y0: number, x1: number, y1: number): Vec2[] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** A crowded section: a lattice of uneven cells, each of some part; what stands beside what is known from the lattice. */
const crowded = fc
  .record({
    columns: fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 2, maxLength: 7 }),
    rows: fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 2, maxLength: 7 }),
    parts: fc.array(fc.integer({ min: 0, max: 13 }), { minLength: 49, maxLength: 49 }),
  })
  .map(({ columns, rows, parts }) => {
    const ends = (sizes: readonly number[]) =>
      sizes.reduce<number[]>((all, size) => [...all, all[all.length - 1] + size], [0]);
    const [xs, ys] = [ends(columns), ends(rows)];
    const partAt = (column: number, row: number) => `part ${parts[row * 7 + column]}`;
    const areas: HatchedArea[] = [];
    const beside: [string, string][] = [];
    for (let row = 0; row < rows.length; row++)
      for (let column = 0; column < columns.length; column++) {
        const part = partAt(column, row);
        areas.push({ part, rings: [rectangle(xs[column], ys[row], xs[column + 1], ys[row + 1])] });
        if (column + 1 < columns.length) beside.push([part, partAt(column + 1, row)]);
        if (row + 1 < rows.length) beside.push([part, partAt(column, row + 1)]);
      }
    return { areas, beside: beside.filter(([one, other]) => one !== other) };
  });

describe('styles of the parts of a section', () => {
  test('differ wherever two parts stand side by side, however crowded it is, and are the same each time', () => {
    fc.assert(
      fc.property(crowded, ({ areas, beside }) => {
        const styles = hatchStyles([areas]);
        for (const [one, other] of beside) expect(styles.get(one)).not.toEqual(styles.get(other));
        expect(hatchStyles([areas.toReversed()])).toEqual(styles);
      }),
    );
  });
  test('two parts side by side differ in direction first', () => {
    const styles = hatchStyles([
      [
        { part: 'a', rings: [rectangle(0, 0, 10, 10)] },
        { part: 'b', rings: [rectangle(10, 0, 20, 10)] },
      ],
    ]);
    expect([...styles.values()].map(({ angle, pitch }) => [Math.round((angle * 180) / Math.PI), pitch]).sort()).toEqual(
      [
        [135, 1],
        [45, 1],
      ],
    );
  });
});

test('lines of hatching lie in the area, not in its holes, at one pitch', () => {
  const side = fc.integer({ min: 4, max: 40 });
  fc.assert(
    fc.property(
      side,
      side,
      fc.constantFrom(0.5, 1, 2.3),
      fc.double({ min: 0, max: 3.1, noNaN: true }),
      (x, y, pitch, angle) => {
        const hole = rectangle(1, 1, x - 1, y / 2).toReversed();
        const rings = [rectangle(0, 0, x, y), hole];
        const lines = hatchLines(rings, { angle, pitch });
        let length = 0;
        for (let at = 0; at < lines.length; at += 4) {
          const [x0, y0, x1, y1] = lines.slice(at, at + 4);
          length += Math.hypot(x1 - x0, y1 - y0);
          const [u, v] = [(x0 + x1) / 2, (y0 + y1) / 2];
          expect(u > -1e-9 && u < x + 1e-9 && v > -1e-9 && v < y + 1e-9).toBe(true);
          expect(u > 1 + 1e-9 && u < x - 1 - 1e-9 && v > 1 + 1e-9 && v < y / 2 - 1e-9).toBe(false);
        }
        // As many lines as go into it: length times pitch is the area, but for what ends between two lines.
        const round = 2 * (x + y) + 2 * (x - 2 + y / 2 - 1);
        expect(Math.abs(length * pitch - areaWithin(rings))).toBeLessThan(pitch * round);
      },
    ),
  );
});
