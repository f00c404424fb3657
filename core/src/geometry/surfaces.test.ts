import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fitSurface, normalOf, ontoBoth, ontoSurface, placeSurface, radialBend, signedDistance } from './index.ts';
import { symmetricEigen } from './eigen.ts';
import type { FacePoints, Surface, Vec3 } from './index.ts';
import { facetsOf, type Solid } from '../../../testkit/exactShapes.ts';

/** The first face of a solid as it is cut into facets. */
function faceOf(solid: Solid, steps = 40): FacePoints {
  const { positions, triangles, faceStarts } = facetsOf(solid, steps);
  const at = (vertex: number): Vec3 => [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]];
  const used = new Set<number>();
  const middles: Vec3[] = [],
    normals: Vec3[] = [],
    areas: number[] = [];
  for (let t = faceStarts[0]; t < faceStarts[1]; t++) {
    const corners = [0, 1, 2].map((corner) => triangles[t * 3 + corner]);
    corners.forEach((vertex) => used.add(vertex));
    const [a, b, c] = corners.map(at);
    const u = [0, 1, 2].map((axis) => b[axis] - a[axis]),
      v = [0, 1, 2].map((axis) => c[axis] - a[axis]);
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const size = Math.hypot(...n);
    normals.push(n.map((value) => value / size) as unknown as Vec3);
    areas.push(size / 2);
    middles.push([0, 1, 2].map((axis) => (a[axis] + b[axis] + c[axis]) / 3) as unknown as Vec3);
  }
  return { points: [...used].map(at), middles, normals, areas };
}

const size = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
const solids: fc.Arbitrary<[Solid, Surface['kind']]> = fc.oneof(
  size(2, 50).map((radius): [Solid, 'cylinder'] => [
    { kind: 'frustum', low: radius, high: radius, height: 20 },
    'cylinder',
  ]),
  fc
    .tuple(size(5, 50), size(0.1, 4))
    .map(([low, less]): [Solid, 'cone'] => [{ kind: 'frustum', low, high: low - less, height: 15 }, 'cone']),
  size(2, 50).map((radius): [Solid, 'sphere'] => [{ kind: 'sphere', radius }, 'sphere']),
  fc
    .tuple(size(15, 50), size(2, 12))
    .map(([radius, tube]): [Solid, 'torus'] => [{ kind: 'torus', radius, tube }, 'torus']),
);

describe('the surface of a face', () => {
  test('is found from its facets alone: its kind, and every vertex on it', () => {
    fc.assert(
      fc.property(solids, ([solid, kind]) => {
        const face = faceOf(solid);
        const found = fitSurface(face)!;
        expect(found.kind).toBe(kind);
        expect(found.side).toBe(1);
        for (const point of face.points) expect(Math.abs(signedDistance(found, point))).toBeLessThan(1e-6);
      }),
      { numRuns: 100 },
    );
  });
  test('of a cylinder has the radius and normals that it was made with, where averaged facets lag', () => {
    const found = fitSurface(faceOf({ kind: 'frustum', low: 12, high: 12, height: 30 }))!;
    expect(found.profile[2]).toBeCloseTo(12, 9);
    const n = normalOf(found, [12 * Math.cos(1), 12 * Math.sin(1), 3]);
    expect([n[0] - Math.cos(1), n[1] - Math.sin(1), n[2]].every((off) => Math.abs(off) < 1e-9)).toBe(true);
  });
  test('is none for a face of no such kind', () => {
    const face = faceOf({ kind: 'sphere', radius: 20 });
    const wavy = { ...face, points: face.points.map(([x, y, z], at): Vec3 => [x + 0.01 * (at % 3), y, z]) };
    expect(fitSurface(wavy)).toBeNull();
  });
});

describe('points of surfaces', () => {
  const cylinder: Surface = { kind: 'cylinder', origin: [0, 0, 0], axis: [0, 0, 1], profile: [1, 0, 10], side: 1 };
  const plane: Surface = { kind: 'plane', origin: [0, 0, 5], axis: [0, 0, 1], profile: [0, 1, 0], side: 1 };
  const ball: Surface = { kind: 'sphere', origin: [0, 0, 0], axis: [0, 0, 1], profile: [0, 10], side: 1 };
  test('the nearest one, and one of two surfaces', () => {
    expect(ontoSurface(cylinder, [6, 8.5, 2]).map((value) => value.toFixed(3))).toEqual(['5.767', '8.170', '2.000']);
    const both = ontoBoth(cylinder, plane, [6, 7.9, 5.2]);
    expect([Math.hypot(both[0], both[1]), both[2]].map((value) => value.toFixed(6))).toEqual(['10.000000', '5.000000']);
  });
  test('a shaft bends away from the line of sight at its outline, a bore into it', () => {
    const viewer: Vec3 = [0, 1, 0];
    expect(radialBend(cylinder, [10, 0, 3], viewer)).toBeGreaterThan(0);
    expect(radialBend({ ...cylinder, side: -1 }, [10, 0, 3], viewer)).toBeLessThan(0);
    expect(radialBend(ball, [10, 0, 0], viewer)).toBeGreaterThan(0);
  });
  test('a placement that stretches leaves no such surface; one that turns and mirrors does', () => {
    expect(placeSurface(ball, [2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0])).toBeNull();
    expect(placeSurface(ball, [-1, 0, 0, 4, 0, 1, 0, 0, 0, 0, 1, 0])!.origin).toEqual([4, 0, 0]);
  });
});

test('eigenvectors: the matrix does to each what its value says', () => {
  fc.assert(
    fc.property(fc.array(size(-10, 10), { minLength: 21, maxLength: 21 }), (values) => {
      const matrix = Array.from({ length: 6 }, (_, i) =>
        Array.from(
          { length: 6 },
          (__, j) => values[Math.min(i, j) * 6 - (Math.min(i, j) * (Math.min(i, j) + 1)) / 2 + Math.max(i, j)],
        ),
      );
      const { values: found, vectors } = symmetricEigen(matrix);
      vectors.forEach((vector, at) =>
        matrix.forEach((row, i) =>
          expect(row.reduce((sum, value, j) => sum + value * vector[j], 0)).toBeCloseTo(found[at] * vector[i], 8),
        ),
      );
    }),
  );
});
