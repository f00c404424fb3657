import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { body, boxMesh } from '../../../../testkit/shapes.ts';
import { drawLook, linesWithin, regionBox, spotsWithin, viewPlacement } from '../index.ts';

const { lines, spots } = drawLook([body(boxMesh(60, 40, 20), 0)], viewPlacement('isometric'));
const [x0, y0, x1, y1] = lines.box;
const regions = fc.record({
  centre: fc.tuple(fc.double({ min: x0, max: x1, noNaN: true }), fc.double({ min: y0, max: y1, noNaN: true })),
  radius: fc.double({ min: 0.5, max: 60, noNaN: true }),
});
/** Whether a point lies on any of these lines. */
const isOn = ({ ends, kinds }: typeof lines, x: number, y: number) =>
  kinds.some((_, at) => {
    const [ax, ay, bx, by] = ends.subarray(at * 4, at * 4 + 4);
    const size = Math.hypot(bx - ax, by - ay) || 1;
    const t = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / size / size;
    const off = Math.abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / size;
    return off < 1e-6 && t > -1e-6 && t < 1 + 1e-6;
  });

describe('a round piece of a view', () => {
  test('has of every line what lies in the circle, and nothing else', () => {
    fc.assert(
      fc.property(
        regions,
        fc.integer({ min: 0, max: lines.kinds.length - 1 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (region, line, t) => {
          const within = linesWithin(lines, region);
          for (let at = 0; at < within.ends.length; at += 2)
            expect(Math.hypot(within.ends[at] - region.centre[0], within.ends[at + 1] - region.centre[1])).toBeLessThan(
              region.radius + 1e-6,
            );
          const [ax, ay, bx, by] = lines.ends.subarray(line * 4, line * 4 + 4);
          const [x, y] = [ax + t * (bx - ax), ay + t * (by - ay)];
          const far = Math.hypot(x - region.centre[0], y - region.centre[1]);
          if (Math.abs(far - region.radius) > 1e-6) expect(isOn(within, x, y)).toBe(far < region.radius);
        },
      ),
    );
  });
  test('as a box it has what lies in the box, with its corners, and is as large as that', () => {
    fc.assert(
      fc.property(
        regions,
        fc.integer({ min: 0, max: lines.kinds.length - 1 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        ({ centre, radius }, line, t) => {
          const half = [radius, radius / 3] as const;
          const box = { centre, radius: Math.hypot(...half), half };
          const within = linesWithin(lines, box);
          const inside = (x: number, y: number) =>
            Math.min(half[0] - Math.abs(x - centre[0]), half[1] - Math.abs(y - centre[1]));
          for (let at = 0; at < within.ends.length; at += 2)
            expect(inside(within.ends[at], within.ends[at + 1])).toBeGreaterThan(-1e-6);
          const [ax, ay, bx, by] = lines.ends.subarray(line * 4, line * 4 + 4);
          const [x, y] = [ax + t * (bx - ax), ay + t * (by - ay)];
          if (Math.abs(inside(x, y)) > 1e-6) expect(isOn(within, x, y)).toBe(inside(x, y) > 0);
          expect(regionBox(box)).toEqual([
            centre[0] - half[0],
            centre[1] - half[1],
            centre[0] + half[0],
            centre[1] + half[1],
          ]);
          spotsWithin(spots, box).room.forEach((room) => expect(room).toBeLessThanOrEqual(half[1] + 1e-9));
        },
      ),
    );
  });
  test('is as large as its circle, whatever lies in it, and is made once', () => {
    const region = { centre: [0, 0], radius: 3 } as const;
    expect(linesWithin(lines, region).box).toEqual([-3, -3, 3, 3]);
    expect(linesWithin(lines, { ...region })).toBe(linesWithin(lines, region));
  });
  test('has the spots in it, with no more room than there is to its border', () => {
    fc.assert(
      fc.property(regions, (region) => {
        const within = spotsWithin(spots, region);
        const far = (points: Float64Array, spot: number) =>
          Math.hypot(points[spot * 2] - region.centre[0], points[spot * 2 + 1] - region.centre[1]);
        expect(within.occurrences.length).toBe(
          Array.from(spots.occurrences.keys()).filter((spot) => far(spots.points, spot) < region.radius).length,
        );
        within.room.forEach((room, spot) =>
          expect(room + far(within.points, spot)).toBeLessThanOrEqual(region.radius + 1e-9),
        );
      }),
    );
  });
});
