import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { at, boxMesh, cylinderMesh, latheMesh } from '../../../testkit/shapes.ts';
import type { PathKey, UsageKey } from '../assembly/index.ts';
import type { Vec3 } from '../geometry/index.ts';
import {
  carriedOn,
  displacements,
  fastenedTo,
  playedTo,
  reordered,
  seated,
  wayAt,
  wayOfFace,
  wholeStep,
  type Part,
  type Pose,
} from './index.ts';

const key = (name: string) => name as PathKey;
const pose: Pose = {
  id: 'p',
  name: 'Apart',
  moves: [
    { path: key('a'), steps: [[0, 0, 10]] },
    {
      path: key('b'),
      steps: [
        [5, 0, 0],
        [0, 0, 20],
      ],
    },
  ],
};
const far = (of: Pose, path: string) => {
  const move = of.moves.find((one) => one.path === path);
  return move ? wholeStep(move) : [0, 0, 0];
};

describe('a pose adjusted by hand', () => {
  test('carries several things on at once; what has not moved leaves last', () => {
    const next = carriedOn(pose, [key('a'), key('c')], [0, 0, 7]);
    expect(next.moves.map(({ path }) => path)).toEqual(['a', 'b', 'c']);
    expect([far(next, 'a'), far(next, 'c')]).toEqual([
      [0, 0, 17],
      [0, 0, 7],
    ]);
  });
  test('turns the last step, or adds one so that the way is bent', () => {
    expect(carriedOn(pose, [key('b')], [1, 2, 3]).moves[1].steps).toEqual([
      [5, 0, 0],
      [1, 2, 23],
    ]);
    expect(carriedOn(pose, [key('b')], [1, 2, 3], true).moves[1].steps).toEqual([
      [5, 0, 0],
      [0, 0, 20],
      [1, 2, 3],
    ]);
  });
  test('what stands in another thing that goes comes along once', () => {
    const next = carriedOn({ ...pose, moves: [] }, [key('s/a'), key('s'), key('sa')], [0, 0, 7]);
    expect(next.moves.map(({ path }) => path)).toEqual(['s', 'sa']);
  });
  test('a thing carried back to its seat has no move any more', () => {
    expect(carriedOn(pose, [key('a')], [0, 0, -10]).moves.map(({ path }) => path)).toEqual(['b']);
    expect(seated(pose, [key('b'), key('unknown')]).moves.map(({ path }) => path)).toEqual(['a']);
  });
  test('moves come earlier or later, never outside the list', () => {
    expect(reordered(pose, 1, -3).moves.map(({ path }) => path)).toEqual(['b', 'a']);
    expect(reordered(pose, 0, 9).moves.map(({ path }) => path)).toEqual(['b', 'a']);
    expect(reordered(pose, 5, 0)).toBe(pose);
  });
  test('carrying on and back again leads to where it was', () => {
    const number = fc.integer({ min: -500, max: 500 });
    fc.assert(
      fc.property(fc.subarray(['a', 'b', 'c', 'd']), fc.tuple(number, number, number), (names, by) => {
        const paths = names.map(key);
        const back = carriedOn(carriedOn(pose, paths, by), paths, by.map((value) => -value) as unknown as Vec3);
        for (const name of ['a', 'b', 'c', 'd'])
          far(back, name).forEach((value, axis) => expect(value).toBeCloseTo(far(pose, name)[axis], 9));
      }),
    );
  });
});

describe('playing a pose', () => {
  test('nothing has left at the beginning, everything at the end', () => {
    expect(playedTo(pose.moves, 0)).toEqual([]);
    expect(playedTo(pose.moves, 1)).toBe(pose.moves);
  });
  test('one after the other, along the steps of each', () => {
    const half = displacements(playedTo(pose.moves, 0.5));
    expect(half('a')).toEqual([0, 0, 10]);
    expect(half('b')).toBeNull();
    expect(displacements(playedTo(pose.moves, 0.75))('b')).toEqual([5, 0, 7.5]);
  });
  test('never goes back', () => {
    const moves = Array.from({ length: 30 }, (_, index) => ({
      path: key(String(index)),
      steps: [[0, 0, index + 1]] as const,
    }));
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (one, two) => {
          const [early, late] = [Math.min(one, two), Math.max(one, two)].map((share) =>
            displacements(playedTo(moves, share)),
          );
          for (const { path, steps } of moves) {
            const [before, after] = [early(path)?.[2] ?? 0, late(path)?.[2] ?? 0];
            expect(before).toBeLessThanOrEqual(after + 1e-9);
            expect(after).toBeLessThanOrEqual(steps[0][2] + 1e-9);
          }
        },
      ),
    );
  });
});

const part = (name: string, mesh: Part['mesh'], x: number, y: number, z: number): Part => ({
  path: [name as UsageKey],
  mesh,
  placement: at(x, y, z),
  shape: name,
});
/** A ring about z. */
const ring = (inner: number, outer: number, height: number) =>
  latheMesh([
    [inner, 0],
    [outer, 0],
    [outer, height],
    [inner, height],
  ]);

describe('what is fastened to a thing', () => {
  const parts = [
    part('plate', ring(5, 60, 10), 0, 0, 0),
    part(
      'bolt',
      latheMesh([
        [0, -6],
        [9, -6],
        [9, 0],
        [5, 0],
        [5, 24],
        [0, 24],
      ]),
      0,
      0,
      0,
    ),
    part('washer', ring(5.5, 10, 2), 0, 0, 10),
    part('nut', ring(5, 9, 5), 0, 0, 12),
    part('other bolt', cylinderMesh(5, 30), 200, 0, 0),
    part('far nut', ring(5, 9, 5), 0, 0, 300),
    part('block', boxMesh(20, 20, 20), 0, 0, 40),
  ];
  test('is the bolt in its hole with its washer and nut, and nothing that stands elsewhere', () =>
    expect(fastenedTo(parts, [key('plate')]).sort()).toEqual(['bolt', 'nut', 'washer']));
  test('from the nut it is not the plate: that is larger', () =>
    expect(fastenedTo(parts, [key('nut')])).not.toContain('plate'));
  test('nothing for what is not there', () => expect(fastenedTo(parts, [key('gone')])).toEqual([]));
});

describe('the way that a face suggests', () => {
  test('is across a plane face and along a round one', () => {
    const shaft = cylinderMesh(5, 30);
    const ways = Array.from({ length: shaft.faceStarts.length - 1 }, (_, face) => wayOfFace(shaft, at(1, 2, 3), face));
    for (const way of ways) expect(Math.abs(way![2])).toBeCloseTo(1, 6);
    const across = wayOfFace(boxMesh(1, 2, 3), at(0, 0, 0), 0)!;
    expect(Math.hypot(...across)).toBeCloseTo(1, 9);
  });
  test('near a straight edge of the face it is along that; arcs and what is farther away suggest nothing', () => {
    const block = boxMesh(40, 20, 10);
    const placed = at(100, 0, 0);
    const top = Array.from({ length: 6 }, (_, face) => face).find(
      (face) => Math.abs(wayOfFace(block, placed, face)![2]) > 0.9,
    )!;
    const corners = [0, 1, 2].map(
      (corner) => block.positions[block.triangles[block.faceStarts[top] * 3 + corner] * 3 + 2],
    );
    const z = corners[0];
    const way = (x: number, y: number) => wayAt(block, placed, top, [100 + x, y, z], 2);
    expect(way(20, 10)).toMatchObject({ of: 'face' });
    expect(way(20, 1)!.of).toBe('edge');
    expect(way(20, 1)!.along.map(Math.abs)).toEqual([1, 0, 0]);
    expect(way(39, 10)!.along.map(Math.abs)).toEqual([0, 1, 0]);
    const shaft = cylinderMesh(5, 30, 36);
    for (let face = 0; face < shaft.faceStarts.length - 1; face++)
      for (const height of [0, 30]) {
        const rim = wayAt(shaft, at(0, 0, 0), face, [5, 0, height], 0.5);
        expect(Math.abs(rim!.along[2])).toBeCloseTo(1, 6);
      }
  });
});
