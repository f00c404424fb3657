import { describe, expect, test } from 'vitest';
import { boxDiagonal, meshBox, meshVolume, normalize, weldPoints, type Mesh, type Vec3 } from '../geometry/index.ts';
import { facetsOf, deviationOf, distanceTo, type Solid } from '../../../testkit/exactShapes.ts';
import { seeded } from '../../../testkit/mutants.ts';
import { runs } from '../../../testkit/runs.ts';
import { boxMesh, cylinderMesh } from '../../../testkit/shapes.ts';
import { areaOf, cutMesh } from './cutMesh.ts';
import type { Cut, CutShape } from './records.ts';

/** Sides of triangles that are not exactly once there and once back. */
function gaping(mesh: Mesh): number {
  const weld = weldPoints(mesh.positions, boxDiagonal(meshBox(mesh)));
  const counts = new Map<string, number>();
  for (let at = 0; at < mesh.triangles.length; at += 3)
    for (let side = 0; side < 3; side++) {
      const a = weld[mesh.triangles[at + side]],
        b = weld[mesh.triangles[at + ((side + 1) % 3)]];
      if (a === b) continue;
      const name = a < b ? `${a} ${b}` : `${b} ${a}`;
      counts.set(name, (counts.get(name) ?? 0) + (a < b ? 1 : -1));
    }
  return [...counts.values()].filter((count) => count !== 0).length;
}

const areas = ({ faces }: CutShape) => faces.reduce((sum, face) => sum + areaOf(face), 0);
const below = (normal: Vec3, offset: number): Cut => [{ normal: normalize(normal), offset }];

describe('a cut through a box', () => {
  const box = boxMesh(40, 30, 20);
  test('takes what lies on its side and closes what is left', () => {
    const half = cutMesh(box, [below([0, 1, 0], 10)])!;
    expect(meshVolume(half.mesh)).toBeCloseTo(40 * 20 * 20, 6);
    expect([gaping(half.mesh), half.isOpen, half.faces.length]).toEqual([0, false, 1]);
    expect(half.faces[0].normal).toEqual([-0, -1, -0]);
    expect(areas(half)).toBeCloseTo(40 * 20, 6);
  });
  test('leaves it as it is where it passes beside', () => {
    expect(cutMesh(box, [below([0, 1, 0], -1)])!.mesh).toBe(box);
    expect(cutMesh(box, [below([0, 1, 0], 0)])!.mesh).toBe(box);
  });
  test('leaves nothing where all of it is within, also where the plane lies in its last face', () => {
    expect(cutMesh(box, [below([0, 1, 0], 31)])).toBeNull();
    expect(cutMesh(box, [below([0, 1, 0], 30)])).toBeNull();
  });
  test('by two planes takes a quarter, without a gap where they meet', () => {
    const quarter: Cut = [
      { normal: [0, 1, 0], offset: 10 },
      { normal: [-1, 0, 0], offset: -25 },
    ];
    const left = cutMesh(box, [quarter])!;
    expect(meshVolume(left.mesh)).toBeCloseTo(40 * 30 * 20 - 15 * 10 * 20, 6);
    expect(gaping(left.mesh)).toBe(0);
    expect(left.faces.map((face) => [face.plane, areaOf(face)])).toEqual([
      [0, expect.closeTo(15 * 20, 6)],
      [1, expect.closeTo(10 * 20, 6)],
    ]);
  });
  test('several cuts take one after the other', () => {
    const left = cutMesh(box, [below([0, 1, 0], 10), below([1, 0, 0], 8), below([0, 0, 1], 2)])!;
    expect(meshVolume(left.mesh)).toBeCloseTo(32 * 20 * 18, 6);
    expect([gaping(left.mesh), left.faces.map(({ plane }) => plane)]).toEqual([0, [0, 1, 2]]);
    expect(areas(left)).toBeCloseTo(32 * 18 + 20 * 18 + 32 * 20, 6);
  });
  test('says that an open shape is open, and makes no face up', () => {
    const open: Mesh = {
      ...box,
      triangles: box.triangles.slice(3),
      faceStarts: box.faceStarts.map((start, at) => (at === 0 ? 0 : start - 1)),
    };
    const left = cutMesh(open, [below([1, 0, 0], 10)])!;
    expect([left.isOpen, left.faces.length]).toEqual([true, 0]);
  });
});

/** Several solids in one shape, as files have them. */
function together(...parts: readonly (readonly [Mesh, Vec3])[]): Mesh {
  const all = { positions: [] as number[], normals: [] as number[], triangles: [] as number[], starts: [] as number[] };
  for (const [mesh, by] of parts) {
    const [vertex, triangle] = [all.positions.length / 3, all.triangles.length / 3];
    mesh.positions.forEach((value, at) => all.positions.push(value + by[at % 3]));
    all.normals.push(...mesh.normals);
    mesh.triangles.forEach((one) => all.triangles.push(one + vertex));
    all.starts.push(...Array.from(mesh.faceStarts.slice(0, -1), (start) => start + triangle));
  }
  return {
    positions: Float64Array.from(all.positions),
    normals: Float32Array.from(all.normals),
    triangles: Uint32Array.from(all.triangles),
    faceStarts: Uint32Array.from([...all.starts, all.triangles.length / 3]),
    faceColours: new Int32Array(all.starts.length).fill(-1),
  };
}
const turnedOver = (mesh: Mesh): Mesh => ({
  ...mesh,
  normals: mesh.normals.map((value) => -value),
  triangles: mesh.triangles.map((_, at, all) => all[at % 3 === 1 ? at + 1 : at % 3 === 2 ? at - 1 : at]),
});

describe('a shape of several solids', () => {
  const cut = [below([0, 1, 0], 15)];
  test('that lie in one another: the area counts once, and nothing gapes', () => {
    const left = cutMesh(together([boxMesh(40, 30, 20), [0, 0, 0]], [boxMesh(30, 20, 8), [25, 5, 6]]), cut)!;
    expect([left.isOpen, gaping(left.mesh)]).toEqual([false, 0]);
    expect(areas(left)).toBeCloseTo(40 * 20 + 15 * 8, 3);
  });
  test('that touch along a part of their sides', () => {
    const left = cutMesh(together([boxMesh(40, 30, 20), [0, 0, 0]], [boxMesh(12, 30, 7), [40, 0, 6]]), cut)!;
    expect([left.isOpen, areas(left)]).toEqual([false, expect.closeTo(40 * 20 + 12 * 7, 3)]);
  });
  test('with a hollow in one of two that cross', () => {
    const hollow = turnedOver(boxMesh(10, 20, 6));
    const left = cutMesh(
      together([boxMesh(40, 30, 20), [0, 0, 0]], [boxMesh(30, 20, 8), [25, 5, 6]], [hollow, [5, 5, 4]]),
      cut,
    )!;
    expect([left.isOpen, areas(left)]).toEqual([false, expect.closeTo(40 * 20 + 15 * 8 - 60, 3)]);
  });
});

describe('cut faces of round shapes', () => {
  test('are circles, ellipses and rectangles, as exact as the surface is', () => {
    const round = cylinderMesh(15, 60, 24);
    expect(areas(cutMesh(round, [below([0, 0, 1], 30)])!) / (Math.PI * 225)).toBeCloseTo(1, 3);
    expect(areas(cutMesh(round, [below([0, 1, 2], 20)])!) / (Math.PI * 225 * (Math.sqrt(5) / 2))).toBeCloseTo(1, 3);
    const aside = areas(cutMesh(round, [below([1, 0, 0], 9)])!);
    expect(aside).toBeCloseTo(24 * 60, 6);
  });
  test('through the axis, where the plane runs through corners of facets', () => {
    const half = cutMesh(cylinderMesh(15, 60, 48), [below([0, 1, 0], 0)])!;
    expect([gaping(half.mesh), areas(half)]).toEqual([0, expect.closeTo(30 * 60, 6)]);
  });
});

describe('random shapes and planes', () => {
  const solidOf = (next: () => number): Solid => {
    const size = (low: number, high: number) => low + (high - low) * next();
    const kind = Math.floor(next() * 5);
    if (kind === 0) return { kind: 'box', x: size(10, 60), y: size(10, 60), z: size(5, 60) };
    if (kind === 1) return { kind: 'frustum', low: 12, high: 12, height: size(10, 60) };
    if (kind === 2) return { kind: 'frustum', low: size(10, 30), high: size(2, 25), height: size(8, 60) };
    if (kind === 3) return { kind: 'sphere', radius: size(8, 35) };
    return { kind: 'torus', radius: size(15, 30), tube: size(3, 10) };
  };
  const direction = (next: () => number): Vec3 => {
    const named = Math.floor(next() * 6);
    if (named < 3) return [+(named === 0), +(named === 1), +(named === 2)];
    return normalize([next() - 0.5, next() - 0.5, next() - 0.5]);
  };
  /** Matter in a plane within other half spaces, by asking the formula of the solid at points of a lattice. */
  function sampledArea(solid: Solid, cut: Cut, at: number): number {
    const { normal, offset } = cut[at];
    const away: Vec3 = Math.abs(normal[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
    const cross = (a: Vec3, b: Vec3): Vec3 => [
      a[1] * b[2] - a[2] * b[1],
      a[2] * b[0] - a[0] * b[2],
      a[0] * b[1] - a[1] * b[0],
    ];
    const u = normalize(cross(away, normal)),
      v = cross(normal, u);
    const reach = 90,
      step = 1;
    let inside = 0;
    for (let x = -reach; x < reach; x += step)
      for (let y = -reach; y < reach; y += step) {
        const p = [0, 1, 2].map((k) => normal[k] * offset + u[k] * x + v[k] * y) as unknown as Vec3;
        const within = cut.every(
          (half, other) =>
            other === at || p[0] * half.normal[0] + p[1] * half.normal[1] + p[2] * half.normal[2] < half.offset,
        );
        if (within && distanceTo(solid, p) < 0) inside++;
      }
    return inside * step * step;
  }

  test.each(Array.from({ length: runs(40, 400) }, (_, seed) => seed + 1))('areas and closedness (seed %i)', (seed) => {
    const next = seeded(seed);
    const solid = solidOf(next);
    const mesh = facetsOf(solid, 24 + Math.floor(next() * 40));
    const cut: Cut = Array.from({ length: 1 + Math.floor(next() * 3) }, () => ({
      normal: direction(next),
      offset: Math.round((next() - 0.2) * 30),
    }));
    const left = cutMesh(mesh, [cut]);
    const sampled = cut.map((_, at) => sampledArea(solid, cut, at));
    const found = cut.map((_, at) =>
      (left?.faces ?? []).reduce((sum, face) => sum + (face.plane === at ? areaOf(face) : 0), 0),
    );
    const around = 2 * Math.sqrt(Math.PI * Math.max(...sampled, 1)) * 3;
    for (const [at, area] of found.entries())
      expect({ at, off: Math.abs(area - sampled[at]) <= around * (0.5 + deviationOf(solid, 24)), area }).toEqual({
        at,
        off: true,
        area,
      });
    if (!left) return;
    expect({ gaping: gaping(left.mesh), isOpen: left.isOpen }).toEqual({ gaping: 0, isOpen: false });
    expect(meshVolume(left.mesh)).toBeLessThanOrEqual(meshVolume(mesh) * (1 + 1e-2));
  });
});
