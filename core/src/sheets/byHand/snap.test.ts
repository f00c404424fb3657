import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Box2 } from '../../geometry/index.ts';
import { snapView, type LaidView } from '../index.ts';

const laid = (id: string, box: Box2) => ({ view: { id }, box }) as unknown as LaidView;
const layout = { frame: [0, 0, 400, 300] as const, views: [laid('a', [50, 50, 150, 100]), laid('b', [0, 0, 40, 30])] };

describe('a dragged view', () => {
  test('comes to lie in line with another one by middle or edge, where it is near', () => {
    expect(snapView(layout, 'b', [101, 200], 3)).toEqual({ centre: [100, 200], guides: [{ axis: 'x', at: 100 }] });
    expect(snapView(layout, 'b', [71, 66.2], 3)).toEqual({
      centre: [70, 65],
      guides: [
        { axis: 'x', at: 50 },
        { axis: 'y', at: 50 },
      ],
    });
  });
  test('with the frame and its middle too', () => {
    expect(snapView(layout, 'b', [199, 149], 3).centre).toEqual([200, 150]);
    expect(snapView(layout, 'b', [21, 284], 3).centre).toEqual([20, 285]);
  });
  test('at the gap that two others have, beside them or between, and the gaps are shown', () => {
    const views = [laid('a', [100, 100, 140, 140]), laid('b', [160, 105, 200, 135]), laid('own', [0, 0, 30, 20])];
    const row = { frame: layout.frame, views };
    expect(snapView(row, 'own', [236.5, 127.5], 2)).toEqual({
      centre: [235, 127.5],
      guides: [
        { axis: 'x', at: 127.5, gap: [140, 160] },
        { axis: 'x', at: 127.5, gap: [200, 220] },
      ],
    });
    expect(snapView(row, 'own', [64, 127.5], 2).centre[0]).toBe(65);
    const between = [laid('a', [100, 100, 140, 140]), laid('b', [240, 105, 280, 135]), laid('own', [0, 0, 30, 20])];
    expect(snapView({ ...row, views: between }, 'own', [191, 127.5], 2)).toEqual({
      centre: [190, 127.5],
      guides: [
        { axis: 'x', at: 127.5, gap: [140, 175] },
        { axis: 'x', at: 127.5, gap: [205, 240] },
      ],
    });
    // What stands elsewhere on the sheet has no gap to it.
    expect(snapView(row, 'own', [236.5, 222], 2).centre[0]).toBe(236.5);
  });
  test('stays where it is put where nothing is near', () =>
    expect(snapView(layout, 'b', [230, 230], 3)).toEqual({ centre: [230, 230], guides: [] }));
  test('is never carried further than that, and lies on every hairline that is shown', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 400, noNaN: true }),
        fc.double({ min: 0, max: 300, noNaN: true }),
        (x, y) => {
          const { centre, guides } = snapView(layout, 'b', [x, y], 4);
          expect(Math.abs(centre[0] - x)).toBeLessThanOrEqual(4);
          expect(Math.abs(centre[1] - y)).toBeLessThanOrEqual(4);
          for (const { axis, at } of guides) {
            const [middle, half] = axis === 'x' ? [centre[0], 20] : [centre[1], 15];
            expect(Math.min(...[middle, middle - half, middle + half].map((line) => Math.abs(line - at)))).toBeLessThan(
              1e-9,
            );
          }
        },
      ),
    );
  });
});
