import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { boxMesh, cylinderMesh, latheMesh } from '../../../testkit/shapes.ts';
import { applyToPoint, meshOfTriangles, roundsOf, type Mesh, type Vec3 } from './index.ts';

/** A grid of points as one face, or cut into faces of so many columns. */
function gridMesh(
  rows: number,
  columns: number,
  at: (row: number, column: number) => Vec3,
  faceColumns = columns,
): Mesh {
  const triangles: number[] = [];
  const faceStarts = [0];
  const id = (row: number, column: number) => row * (columns + 1) + column;
  for (let column = 0; column < columns; column++) {
    for (let row = 0; row < rows; row++)
      triangles.push(
        id(row, column),
        id(row, column + 1),
        id(row + 1, column + 1),
        id(row, column),
        id(row + 1, column + 1),
        id(row + 1, column),
      );
    if ((column + 1) % faceColumns === 0) faceStarts.push(triangles.length / 3);
  }
  const points = Array.from({ length: (rows + 1) * (columns + 1) }, (_, index) =>
    at(Math.floor(index / (columns + 1)), index % (columns + 1)),
  );
  return {
    positions: Float64Array.from(points.flat()),
    normals: new Float32Array(points.length * 3),
    triangles: Uint32Array.from(triangles),
    faceStarts: Uint32Array.from(faceStarts),
    faceColours: new Int32Array(faceStarts.length - 1).fill(-1),
  };
}

/** A piece of a cylinder about z: so much of a turn, in so many faces. */
const shell = (radius: number, height: number, share: number, faces: number) =>
  gridMesh(
    1,
    48,
    (row, column) => {
      const turn = (2 * Math.PI * share * column) / 48;
      return [radius * Math.cos(turn), radius * Math.sin(turn), row * height];
    },
    48 / faces,
  );
/** A bent tube: a quarter of a torus about z. */
const bend = (radius: number, tube: number, from: number, to: number) =>
  gridMesh(24, 18, (row, column) => {
    const around = (2 * Math.PI * row) / 24,
      about = from + ((to - from) * column) / 18;
    const rho = radius + tube * Math.cos(around);
    return [rho * Math.cos(about), rho * Math.sin(about), tube * Math.sin(around)];
  });
const turned = (mesh: Mesh, [a, b, c, d]: readonly number[], shift: Vec3): Mesh => {
  const n = Math.hypot(a, b, c, d);
  const [w, x, y, z] = [a / n, b / n, c / n, d / n];
  const placement = [
    ...[1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y), shift[0]],
    ...[2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x), shift[1]],
    ...[2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y), shift[2]],
  ];
  const positions = new Float64Array(mesh.positions.length);
  for (let at = 0; at < positions.length; at += 3)
    positions.set(applyToPoint(placement, [mesh.positions[at], mesh.positions[at + 1], mesh.positions[at + 2]]), at);
  return { ...mesh, positions };
};

describe('round features of a shape', () => {
  test('a cylinder has its axis from end to end', () => {
    const [round, ...others] = roundsOf(cylinderMesh(12, 40));
    expect(others).toEqual([]);
    expect(round.radius).toBeCloseTo(12, 9);
    const heights = round.along.map(([x, y, z]) => {
      expect(Math.hypot(x, y)).toBeLessThan(1e-6);
      return z;
    });
    expect(Math.abs(heights[1] - heights[0])).toBeCloseTo(40, 6);
  });
  test('a stepped shaft has one for each of its diameters, its flat sides have none', () => {
    const shaft = latheMesh([
      [0, 0],
      [10, 0],
      [10, 20],
      [16, 20],
      [16, 50],
      [0, 50],
    ]);
    expect(roundsOf(shaft).map(({ radius }) => Math.round(radius * 1e6) / 1e6)).toEqual([10, 16]);
    expect(roundsOf(boxMesh(1, 2, 3))).toEqual([]);
  });
  test('a hole made of two halves is one; a rounded edge is none, a slot’s end is one', () => {
    expect(roundsOf(shell(5, 8, 1, 2))).toHaveLength(1);
    expect(roundsOf(shell(5, 8, 1, 2))[0].faces).toEqual([0, 1]);
    expect(roundsOf(shell(5, 8, 0.25, 1))).toEqual([]);
    expect(roundsOf(shell(5, 8, 0.5, 1))).toHaveLength(1);
  });
  test('a cone goes with its largest radius, a ring is round about its axis', () => {
    const [cone] = roundsOf(
      latheMesh([
        [0, 0],
        [20, 0],
        [5, 30],
        [0, 30],
      ]),
    );
    expect(cone.radius).toBeCloseTo(20, 9);
    const [ring] = roundsOf(bend(40, 6, 0, 2 * Math.PI));
    expect(ring.radius).toBeCloseTo(46, 6);
    expect(ring.along).toHaveLength(2);
  });
  test('the bend of a tube goes along its middle from end to end', () => {
    const [round] = roundsOf(bend(40, 6, 0.3, 0.3 + Math.PI / 2));
    expect(round.radius).toBeCloseTo(6, 6);
    expect(round.along.length).toBeGreaterThan(10);
    for (const [x, y, z] of round.along) {
      expect(Math.hypot(x, y)).toBeCloseTo(40, 4);
      expect(z).toBeCloseTo(0, 4);
    }
    const ends = [round.along[0], round.along.at(-1)!].map(([x, y]) => Math.atan2(y, x)).sort((a, b) => a - b);
    expect(ends[0]).toBeCloseTo(0.3, 4);
    expect(ends[1]).toBeCloseTo(0.3 + Math.PI / 2, 4);
  });
  test('turning and moving a shape turns and moves them', () => {
    const number = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(number, number, number, number).filter((q) => Math.hypot(...q) > 0.1),
        fc.double({ min: 0.5, max: 300, noNaN: true }),
        fc.double({ min: 1, max: 500, noNaN: true }),
        (q, radius, height) => {
          const plain = roundsOf(shell(radius, height, 1, 2));
          const [round, ...others] = roundsOf(turned(shell(radius, height, 1, 2), q, [70, -30, 11]));
          expect(others).toEqual([]);
          expect(round.radius / plain[0].radius).toBeCloseTo(1, 5);
          const far = Math.hypot(...[0, 1, 2].map((k) => round.along[1][k] - round.along[0][k]));
          expect(far / height).toBeCloseTo(1, 5);
        },
      ),
      { numRuns: 60 },
    );
  });
  test('a shape made of loose triangles has them too, where they lie on a cylinder', () => {
    const { positions, triangles } = cylinderMesh(12, 40);
    const [round, ...others] = roundsOf(meshOfTriangles({ positions, triangles, colours: [-1] }));
    expect(others).toEqual([]);
    expect(round.radius).toBeCloseTo(12, 6);
  });
});
