import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { scenesOfShapes } from '../../../../testkit/scenes.ts';
import { at, body, boxMesh, cylinderMesh } from '../../../../testkit/shapes.ts';
import type { Box2 } from '../../geometry/index.ts';
import { drawScene } from '../lines/hiddenLines.ts';
import { buildScene } from '../scene/scene.ts';
import { directionNames, drawLook, linesWithin, regionBox, spotsWithin, viewPlacement } from '../index.ts';

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

describe('a view through a window', () => {
  /** Visible length of each place. */
  const lengths = ({ ends, visible, occurrences, paths }: typeof lines) => {
    const sums = new Map<string, number>(paths.map((path) => [path, 0]));
    visible.forEach((seen, line) => {
      const [ax, ay, bx, by] = ends.subarray(line * 4, line * 4 + 4);
      const path = paths[occurrences[line]];
      if (seen) sums.set(path, sums.get(path)! + Math.hypot(bx - ax, by - ay));
    });
    return sums;
  };
  test('shows of every part what a piece of the whole view shows', () => {
    fc.assert(
      fc.property(
        scenesOfShapes(10, 48),
        fc.constantFrom(...directionNames),
        fc.integer({ min: 4, max: 30 }),
        (bodies, direction, half) => {
          const view = viewPlacement(direction);
          const draw = (window: Box2 | null) => drawScene(buildScene(bodies, view, { hidden: false, window }), bodies);
          const whole = draw(null);
          const [left, low, right, high] = whole.box;
          // A little off the middle, so that no line of the boxes, which stand on whole mm, lies along its border.
          const centre = [(left + right) / 2 + 0.123, (low + high) / 2 + 0.321] as const;
          const region = { centre, radius: half, half: [half, half] as const };
          const own = draw(regionBox(region));
          expect(own.box).toEqual(regionBox(region));
          const piece = lengths(linesWithin(whole, region)),
            found = lengths(own);
          // Curves are divided finer in a window: that is a little longer.
          for (const [path, length] of piece) expect(found.get(path) ?? 0, path).toBeCloseTo(length, 0);
          for (const [path, length] of found) expect(piece.get(path) ?? 0, path).toBeCloseTo(length, 0);
        },
      ),
      { numRuns: 60, seed: 5 },
    );
  });
  test('onto nothing is empty, and as large as the window', () => {
    const { lines: none, spots: nowhere } = drawLook([body(boxMesh(60, 40, 20), 0)], viewPlacement('front'), {
      window: [500, 500, 520, 510],
    });
    expect([none.kinds.length, nowhere.occurrences.length, none.box]).toEqual([0, 0, [500, 500, 520, 510]]);
  });
  test('has spots in it only, nearer to small things than those of the whole view', () => {
    const machine = [body(boxMesh(4000, 100, 10), 0, at(0, -50, -10)), body(cylinderMesh(1, 3, 24), 1)];
    const region = { centre: [0, 0], radius: 5 } as const;
    const whole = drawLook(machine, viewPlacement('top')).spots,
      piece = drawLook(machine, viewPlacement('top'), { window: regionBox(region) }).spots;
    expect(piece.occurrences.length).toBeGreaterThan(2);
    expect(spotsWithin(piece, { ...region, radius: 8 }).occurrences).toHaveLength(piece.occurrences.length);
    const roomOf = ({ occurrences, paths, onFace, room }: typeof spots) =>
      Math.max(...Array.from(room).filter((_, spot) => paths[occurrences[spot]] === '1' && onFace[spot] === 1), 0);
    expect(roomOf(whole)).toBe(0);
    expect(roomOf(piece)).toBeCloseTo(1, 1);
  });
  test('divides a curve of a large machine as finely as its own size asks for', () => {
    const bodies = [body(boxMesh(4000, 100, 10), 0, at(0, -200, 0)), body(cylinderMesh(20, 30, 24), 1)];
    const whole = drawLook(bodies, viewPlacement('top')).lines,
      { lines: piece } = drawLook(bodies, viewPlacement('top'), { window: [-25, -25, 25, 25] });
    const strays = ({ ends, occurrences, paths }: typeof lines) =>
      Math.max(
        ...Array.from(occurrences.keys())
          .filter((line) => paths[occurrences[line]] === '1')
          .map(
            (line) => 20 - Math.hypot(ends[line * 4] + ends[line * 4 + 2], ends[line * 4 + 1] + ends[line * 4 + 3]) / 2,
          ),
      );
    expect(strays(whole)).toBeGreaterThan(0.05);
    expect(strays(piece)).toBeLessThan(0.005);
  });
});
