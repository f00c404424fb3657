import { describe, expect, test } from 'vitest';
import { at, boxMesh, latheMesh } from '../../../testkit/shapes.ts';
import type { PathKey } from '../assembly/index.ts';
import { applyToPoint, composePlacements, type Placement } from '../geometry/index.ts';
import { areaWithin } from '../sections/index.ts';
import { cutAreas, drawLook, viewPlacement, type Body, type ViewLines } from '../views/index.ts';
import { viewRequest } from './records.ts';
import { pointAt, seenIn, type Section } from './section.ts';

const named = (mesh: Body['mesh'], path: string, placement: Placement = at(0, 0, 0)): Body => ({
  mesh,
  placement,
  path: path as PathKey,
});
function areasByPath(lines: ViewLines): Record<string, number> {
  const sums = new Map<string, number>();
  cutAreas(lines).forEach((rings, face) => {
    const path = lines.paths[lines.cutOccurrences![face]];
    sums.set(path, (sums.get(path) ?? 0) + areaWithin(rings));
  });
  return Object.fromEntries(sums);
}

describe('an aligned section', () => {
  const turned = (degrees: number): Placement => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    return [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0];
  };
  // A hub with two spokes, one to the left, one 35° up to the right, seen from above.
  const hub = named(
    latheMesh([
      [0, 0],
      [20, 0],
      [20, 30],
      [0, 30],
    ]),
    'hub',
  );
  const spoke = (path: string, degrees: number) =>
    named(boxMesh(60, 8, 10), path, composePlacements(turned(degrees), at(25, -4, 10)));
  const machine = [hub, spoke('left', 180), spoke('right', 35)];
  const section = (aligned: boolean, from: 1 | -1 = -1): Section => ({
    letter: 'A',
    path: {
      points: [
        [-100, 0, 0],
        [0, 0, 0],
        [82, 82 * Math.tan((35 * Math.PI) / 180), 0],
      ],
      along: [0, 0, 1],
      towards: [0, from, 0],
      ...(aligned ? { aligned: true } : {}),
    },
  });
  const drawn = (own: Section, direction: 'front' | 'back' | 'isometric') => {
    const { cut } = viewRequest({ direction, section: own });
    const { whole: _, through: __, ...rest } = cut!;
    return drawLook(machine, viewPlacement(direction), { cut: { ...rest, lengthwise: undefined } as typeof rest });
  };
  for (const [direction, side] of [
    ['front', -1],
    ['back', 1],
  ] as const)
    test(`seen from the ${direction}, what is cut along the second stretch has its true length, in one plane with the first`, () => {
      const { lines, spots } = drawn(section(true, side), direction);
      expect(areasByPath(lines)).toEqual({
        hub: expect.closeTo(40 * 30, 1),
        left: expect.closeTo(600, 2),
        right: expect.closeTo(600, 2),
      });
      expect(lines.box).toEqual([-85, 0, 85, 30].map((value) => expect.closeTo(value, 6)));
      expect(lines.borderEnds).toBeUndefined();
      // Leaders end on the part where it stands, whatever was turned.
      const best = [...spots.occurrences.keys()].find((k) => spots.paths[spots.occurrences[k]] === 'right')!;
      expect(spots.onFace[best]).toBe(2);
      expect(spots.anchors[best * 3 + 1]).toBeCloseTo(4, 6);
    });
  test('what points at a place of a part points at it in the picture, on either side of the axis', () => {
    const own = section(true);
    const { spots } = drawn(own, 'front');
    const placements = new Map(machine.map(({ path, placement }) => [path, placement]));
    const sides = new Set<boolean>();
    for (const spot of spots.occurrences.keys()) {
      const [x, y, z] = spots.anchors.subarray(spot * 3, spot * 3 + 3);
      const point = applyToPoint(placements.get(spots.paths[spots.occurrences[spot]])!, [x, y, z]);
      const view = { direction: 'front', section: own } as const;
      const seen = seenIn(view, point);
      expect([...spots.points.subarray(spot * 2, spot * 2 + 2)]).toEqual(
        [seen[0], seen[1]].map((value) => expect.closeTo(value, 6)),
      );
      expect(pointAt(view, seen)).toEqual(point.map((value) => expect.closeTo(value, 6)));
      sides.add(seen[0] > 0);
    }
    expect(sides.size).toBe(2);
    // The end of the right spoke, 35° up: turned it is as far out as it is long.
    const [c, s] = [Math.cos((35 * Math.PI) / 180), Math.sin((35 * Math.PI) / 180)];
    expect(seenIn({ direction: 'front', section: own }, [85 * c, 85 * s, 15])[0]).toBeCloseTo(85, 9);
  });
  test('not turned, it is shorter as it is seen', () => {
    const { lines } = drawn(section(false), 'front');
    expect(areasByPath(lines).right).toBeCloseTo(600 * Math.cos((35 * Math.PI) / 180), 2);
  });
  test('seen from a corner nothing is turned', () => {
    expect(viewRequest({ direction: 'isometric', section: section(true) }).cut).not.toHaveProperty('panes');
  });
});
