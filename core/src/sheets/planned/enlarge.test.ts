import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { spotsWithin, type Spots } from '../../views/index.ts';
import { chooseRegion } from './enlarge.ts';
import { rowsSeenWell } from './seenWell.ts';
import { pictorialScales } from '../laid/scales.ts';

/** Spots on faces: row, place and room; mm. */
function spotsOf(list: readonly (readonly [row: number, x: number, y: number, room: number])[], breadth = 0): Spots {
  const rows = Math.max(...list.map(([row]) => row)) + 1;
  return {
    occurrences: Int32Array.from(list, ([row]) => row),
    paths: Array.from({ length: rows }, (_, row) => `part ${row}` as Spots['paths'][number]),
    onFace: Uint8Array.from(list, () => 1),
    points: Float64Array.from(list.flatMap(([, x, y]) => [x, y])),
    room: Float64Array.from(list, ([, , , room]) => room),
    anchors: new Float64Array(list.length * 3),
    breadths: new Float64Array(rows).fill(breadth),
  };
}
const identity = (spots: Spots) => spots.paths.map((_, row) => row);
const view = { scale: 0.1, direction: 'isometric' } as const;

describe('the piece of a view that is worth enlarging', () => {
  test('shows two small things beside each other rather than one by itself', () => {
    const spots = spotsOf([
      [0, 0, 0, 2],
      [1, 900, 0, 2],
      [2, 930, 20, 2],
    ]);
    const { region, scale, rows } = chooseRegion(spots, identity(spots), new Set([0, 1, 2]), view, 80)!;
    expect([...rows].sort()).toEqual([1, 2]);
    expect(region.centre).toEqual([915, 10]);
    expect(2 * region.radius * scale).toBeLessThanOrEqual(80);
  });
  test('is for what is wanted; nothing else counts, and what no enlargement makes large enough is left', () => {
    const spots = spotsOf([
      [0, 0, 0, 2],
      [1, 900, 0, 2],
      [2, 930, 20, 0.5],
    ]);
    expect([...chooseRegion(spots, identity(spots), new Set([0]), view, 80)!.rows]).toEqual([0]);
    expect(chooseRegion(spots, identity(spots), new Set([2]), view, 80)).toBeNull();
    expect(chooseRegion(spots, identity(spots), new Set(), view, 80)).toBeNull();
  });
  test('is enlarged until there is ample room for the end of a leader, not only just enough', () => {
    const tiny = spotsOf([[0, 900, 0, 4]]);
    // At 1:5 there would be 0.8 mm, which is enough; at 1:1.25 there are 3.2 mm.
    const { scale, rows } = chooseRegion(tiny, [0], new Set([0]), view, 80)!;
    expect([...rows]).toEqual([0]);
    expect(4 * scale).toBeGreaterThanOrEqual(3);
  });
  test('is no slit through which a large thing is seen', () => {
    const small = [[0, 900, 0, 2]] as const;
    expect(chooseRegion(spotsOf(small, 5), [0], new Set([0]), view, 80)).not.toBeNull();
    expect(chooseRegion(spotsOf(small, 200), [0], new Set([0]), view, 80)).toBeNull();
  });
  test('no circle around a spot shows more at any scale, and what it shows is seen well in it', () => {
    const scales = pictorialScales.filter((scale) => scale >= 0.2 && scale <= 1);
    const spot = fc.tuple(
      fc.integer({ min: 0, max: 11 }),
      fc.double({ min: 0, max: 1500, noNaN: true }),
      fc.double({ min: 0, max: 700, noNaN: true }),
      fc.double({ min: 0, max: 8, noNaN: true }),
    );
    fc.assert(
      fc.property(
        fc.array(spot, { minLength: 1, maxLength: 40 }),
        fc.uniqueArray(fc.integer({ min: 0, max: 11 })),
        fc.double({ min: 40, max: 110, noNaN: true }),
        (list, wanted, diameter) => {
          const spots = spotsOf(list);
          const missing = new Set(wanted);
          const counts = scales.flatMap((scale) => {
            const good = list.filter(([row, , , room]) => missing.has(row) && room * scale >= 1.5);
            const near = (diameter / 2 - 6) / scale;
            return good.map(
              ([, x, y]) =>
                new Set(good.filter(([, px, py]) => Math.hypot(px - x, py - y) <= near).map(([row]) => row)).size,
            );
          });
          const chosen = chooseRegion(spots, identity(spots), missing, view, diameter);
          expect(chosen?.rows.size ?? 0).toBeGreaterThanOrEqual(Math.max(0, ...counts));
          if (!chosen) return;
          const { region, scale, rows } = chosen;
          expect(2 * region.radius * scale).toBeLessThanOrEqual(diameter + 1e-9);
          const inside = rowsSeenWell(spotsWithin(spots, region), identity(spots), scale);
          expect([...rows].every((row) => missing.has(row) && inside.has(row))).toBe(true);
        },
      ),
    );
  });
});
