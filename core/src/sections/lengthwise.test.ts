import { describe, expect, test } from 'vitest';
import { composePlacements, identityPlacement, type Mesh, type Placement } from '../geometry/index.ts';
import { at, boxMesh, latheMesh } from '../../../testkit/shapes.ts';
import { facetsOf } from '../../../testkit/exactShapes.ts';
import { notCutLengthwise } from './lengthwise.ts';
import { parseCut } from './planes.ts';

const standing = (mesh: Mesh, placement: Placement = identityPlacement) => ({ mesh, placement });
const ring = (inner: number, outer: number, height: number) =>
  latheMesh([
    [inner, 0],
    [outer, 0],
    [outer, height],
    [inner, height],
  ]);
const shaft = latheMesh([
  [0, 0],
  [10, 0],
  [10, 40],
  [16, 40],
  [16, 46],
  [10, 46],
  [10, 120],
  [0, 120],
]);
const screw = latheMesh([
  [0, 0],
  [4, 0],
  [4, 30],
  [7, 30],
  [7, 36],
  [0, 36],
]);

describe('what is not cut lengthwise', () => {
  const along = [parseCut('y<0')],
    across = [parseCut('z>20')];
  test('a shaft with a collar, along its axis and not across it', () => {
    expect([...notCutLengthwise([standing(shaft)], along)]).toEqual([0]);
    expect([...notCutLengthwise([standing(shaft)], across)]).toEqual([]);
  });
  test('where the plane passes far before the axis it would hide the section, so it is cut', () => {
    expect([...notCutLengthwise([standing(shaft)], [parseCut('y<2')])]).toEqual([0]);
    expect([...notCutLengthwise([standing(shaft)], [parseCut('y<6')])]).toEqual([]);
  });
  test('a screw with its washer; bushes, bearing rings, covers and wheels on a shaft are cut', () => {
    const bodies = [
      standing(screw),
      standing(ring(4.2, 8, 1.5), at(0, 0, 28.5)),
      standing(shaft, at(50, 0, 0)),
      standing(ring(10, 14, 20), at(50, 0, 60)),
      standing(ring(10.5, 40, 5), at(50, 0, 90)),
    ];
    expect([...notCutLengthwise(bodies, along)]).toEqual([0, 1, 2]);
  });
  test('a washer that stands on nothing is a ring like others', () => {
    expect([...notCutLengthwise([standing(ring(4.2, 8, 1.5))], along)]).toEqual([]);
  });
  test('a key at the surface of a shaft; the same bar elsewhere is cut', () => {
    const key = boxMesh(5, 5, 25);
    expect([...notCutLengthwise([standing(shaft), standing(key, at(7.5, -2.5, 60))], along)]).toEqual([0, 1]);
    expect([...notCutLengthwise([standing(shaft), standing(key, at(70, -2.5, 60))], along)]).toEqual([0]);
  });
  test('balls and rollers', () => {
    const ball = facetsOf({ kind: 'sphere', radius: 6 }, 36),
      roller = facetsOf({ kind: 'frustum', low: 5, high: 5, height: 10 }, 36);
    expect([...notCutLengthwise([standing(ball), standing(roller, at(30, 0, 0))], along)]).toEqual([0, 1]);
  });
  test('tubes, discs and blocks are cut', () => {
    const bodies = [
      standing(ring(8, 10, 100)),
      standing(facetsOf({ kind: 'frustum', low: 30, high: 30, height: 8 }, 36)),
      standing(boxMesh(40, 40, 40), at(-20, -20, 0)),
    ];
    expect([...notCutLengthwise(bodies, along)]).toEqual([]);
  });
  describe('ribs', () => {
    // A base and a wall that meet in a corner, and a gusset of 6 mm between them, its middle at y = 0.
    const base = standing(boxMesh(200, 100, 10), at(0, -50, -10)),
      wall = standing(boxMesh(10, 100, 150), at(-10, -50, -10)),
      rib = standing(boxMesh(60, 6, 80), at(0, -3, 0));
    test('a gusset in a corner is not cut along its plane, and is across it or beside it', () => {
      expect([...notCutLengthwise([base, wall, rib], along)]).toEqual([2]);
      expect([...notCutLengthwise([base, wall, rib], [parseCut('y<2.5')])]).toEqual([2]);
      expect([...notCutLengthwise([base, wall, rib], [parseCut('y<4')])]).toEqual([]);
      expect([...notCutLengthwise([base, wall, rib], [parseCut('x>30')])]).toEqual([]);
    });
    test('wherever the machine stands, also mirrored', () => {
      const [c, s] = [Math.cos(0.4), Math.sin(0.4)];
      const turned: Placement = [c, -s, 0, 5, s, c, 0, 7, 0, 0, 1, 9];
      const mirrored: Placement = [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0];
      const moved = (by: Placement) =>
        [base, wall, rib].map(({ mesh, placement }) => standing(mesh, composePlacements(by, placement)));
      const cut = [[{ normal: [-s, c, 0] as const, offset: -s * 5 + c * 7 }]];
      expect([...notCutLengthwise(moved(turned), cut)]).toEqual([2]);
      expect([...notCutLengthwise(moved(mirrored), along)]).toEqual([2]);
    });
    test('a plate that stands on one thing, and a base on which others stand, are cut', () => {
      expect([...notCutLengthwise([base, rib], along)]).toEqual([]);
      // The base, cut along its own plane, beside two walls: things stand on its large face.
      const machine = [
        base,
        wall,
        standing(boxMesh(200, 10, 150), at(0, 50, -10)),
        standing(boxMesh(80, 80, 40), at(20, -40, 0)),
      ];
      expect([...notCutLengthwise(machine, [parseCut('z>-5')])]).toEqual([]);
    });
    test('a thick block in a corner is no rib', () => {
      const block = standing(boxMesh(60, 50, 80), at(0, -25, 0));
      expect([...notCutLengthwise([base, wall, block], along)]).toEqual([]);
    });
  });
  test('of a quarter one plane along it is enough', () => {
    expect([...notCutLengthwise([standing(shaft)], [parseCut('x>0 & y<0')])]).toEqual([0]);
  });
});

describe('conditions of a cut', () => {
  test.each([
    ['y<0', [[[0, 1, 0], 0]]],
    ['x > -12.5 mm', [[[-1, 0, 0], 12.5]]],
    [
      'X>0&z<1e2',
      [
        [[-1, 0, 0], -0],
        [[0, 0, 1], 100],
      ],
    ],
  ])('%s', (text, planes) => {
    expect(parseCut(text).map(({ normal, offset }) => [normal, offset])).toEqual(planes);
  });
  test.each(['', 'y', 'y=0', 'q<1', 'y<0 &', 'y<1,5', 'y<Infinity', 'x<0 & x>0', 'y<0; rm', 'y<1e99'])(
    '%s is refused in words',
    (text) => {
      expect(() => parseCut(text)).toThrow(/condition of a cut|take nothing away/);
    },
  );
});
