import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { boxMesh, cylinderMesh } from '../../../testkit/shapes.ts';
import {
  applyToPoint,
  boxDiagonal,
  boxesOverlap,
  boxInside,
  composePlacements,
  cross,
  determinant,
  distanceToStretch,
  dot,
  identityPlacement,
  invertPlacement,
  length,
  meshBox,
  meshColour,
  meshVolume,
  normalize,
  placementFromAxes,
  stretchesCross,
  stretchMeetsBox,
  uniteBoxes,
  type Box2,
  type Placement,
  type Vec2,
  type Vec3,
} from './index.ts';

const number = fc.integer({ min: -1000, max: 1000 }).map((value) => value / 8);
const vector: fc.Arbitrary<Vec3> = fc.tuple(number, number, number);
const placement: fc.Arbitrary<Placement> = fc
  .tuple(vector, vector, vector)
  .map(([origin, axis, reference]) => placementFromAxes(origin, axis, reference));
const near = (a: readonly number[], b: readonly number[], tolerance = 1e-6) =>
  a.forEach((value, at) => expect(Math.abs(value - b[at])).toBeLessThan(tolerance));

describe('placements', () => {
  test('one made from axes turns without stretching or mirroring, whatever directions it is given', () => {
    fc.assert(
      fc.property(placement, (m) => {
        const [x, y, z]: Vec3[] = [
          [m[0], m[4], m[8]],
          [m[1], m[5], m[9]],
          [m[2], m[6], m[10]],
        ];
        near([length(x), length(y), length(z), dot(x, y), dot(y, z), dot(z, x), determinant(m)], [1, 1, 1, 0, 0, 0, 1]);
      }),
    );
  });
  test('its z is the given axis and its x as near to the reference as can be', () => {
    near(placementFromAxes([1, 2, 3], [0, 0, 5], [7, 0, 9]), [1, 0, 0, 1, 0, 1, 0, 2, 0, 0, 1, 3]);
    near(placementFromAxes([0, 0, 0], null, null), identityPlacement);
  });
  test('the inverse leads back', () => {
    fc.assert(fc.property(placement, vector, (m, p) => near(applyToPoint(invertPlacement(m), applyToPoint(m, p)), p)));
  });
  test('composing is doing one after the other', () => {
    fc.assert(
      fc.property(placement, placement, vector, (a, b, p) =>
        near(applyToPoint(composePlacements(a, b), p), applyToPoint(a, applyToPoint(b, p))),
      ),
    );
  });
  test('a placement that flattens has no inverse', () => {
    expect(() => invertPlacement([1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0])).toThrow(RangeError);
  });
  test('a direction without length falls back', () => {
    expect(normalize([0, 0, 0], [1, 0, 0])).toEqual([1, 0, 0]);
    expect(cross([1, 0, 0], [0, 1, 0])).toEqual([0, 0, 1]);
  });
});

describe('meshes', () => {
  test('volume and box of a box', () => {
    expect(meshVolume(boxMesh(2, 3, 4))).toBeCloseTo(24, 9);
    expect(meshBox(boxMesh(2, 3, 4), [1, 0, 0, 10, 0, 1, 0, 0, 0, 0, 1, -1])).toEqual([10, 0, -1, 12, 3, 3]);
  });
  test('a tessellated cylinder is a little smaller than the true one', () => {
    const share = meshVolume(cylinderMesh(10, 5, 64)) / (Math.PI * 100 * 5);
    expect(share).toBeLessThan(1);
    expect(share).toBeGreaterThan(0.995);
  });
  test('a mesh without vertices has no diagonal', () => {
    const empty = { ...boxMesh(1, 1, 1), positions: new Float64Array(0) };
    expect(boxDiagonal(meshBox(empty))).toBe(0);
    expect(uniteBoxes(meshBox(empty), [0, 0, 0, 1, 1, 1])).toEqual([0, 0, 0, 1, 1, 1]);
  });
  test('a colour is the mesh’s only when all faces have it', () => {
    const mesh = boxMesh(1, 1, 1);
    expect(meshColour(mesh)).toBeNull();
    expect(meshColour({ ...mesh, faceColours: new Int32Array(6).fill(0x5f7f5a) })).toBe(0x5f7f5a);
    expect(meshColour({ ...mesh, faceColours: Int32Array.of(1, 1, 1, 1, 1, 2) })).toBeNull();
  });
});

describe('on paper', () => {
  const point: fc.Arbitrary<Vec2> = fc.tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }));
  /** Points along a stretch, ends left out. */
  const along = ([a, b]: readonly Vec2[], steps = 400) =>
    Array.from({ length: steps }, (_, at): Vec2 => [
      a[0] + ((at + 0.5) / steps) * (b[0] - a[0]),
      a[1] + ((at + 0.5) / steps) * (b[1] - a[1]),
    ]);
  test('the distance to a stretch is that to its nearest point', () => {
    fc.assert(
      fc.property(point, point, point, (p, a, b) => {
        const nearest = Math.min(...[a, b, ...along([a, b])].map(([x, y]) => Math.hypot(x - p[0], y - p[1])));
        expect(Math.abs(distanceToStretch(p, a, b) - nearest)).toBeLessThan(0.08);
      }),
    );
  });
  test('crossing stretches cross whichever is asked first, and touching ends do not count', () => {
    fc.assert(
      fc.property(point, point, point, point, (a, b, c, d) => {
        expect(stretchesCross(a, b, c, d)).toBe(stretchesCross(d, c, a, b));
        expect(stretchesCross(a, b, b, c)).toBe(false);
      }),
    );
    expect(stretchesCross([0, 0], [10, 10], [0, 10], [10, 0])).toBe(true);
  });
  test('a stretch meets a box when one of its points lies inside', () => {
    fc.assert(
      fc.property(point, point, point, fc.integer({ min: 1, max: 15 }), (a, b, corner, size) => {
        const box: Box2 = [corner[0], corner[1], corner[0] + size, corner[1] + size];
        const inside = along([a, b]).some(([x, y]) => x > box[0] && x < box[2] && y > box[1] && y < box[3]);
        if (inside) expect(stretchMeetsBox(a, b, box)).toBe(true);
        if (!stretchMeetsBox(a, b, box)) expect(inside).toBe(false);
      }),
    );
  });
  test('boxes that only touch do not overlap; a box is inside itself', () => {
    expect(boxesOverlap([0, 0, 1, 1], [1, 0, 2, 1])).toBe(false);
    expect(boxesOverlap([0, 0, 1, 1], [0.9, 0.9, 2, 2])).toBe(true);
    expect(boxInside([0, 0, 1, 1], [0, 0, 1, 1])).toBe(true);
    expect(boxInside([0, 0, 1, 1.1], [0, 0, 1, 1])).toBe(false);
  });
});
