import { identityPlacement, type Mesh, type Placement } from '../core/src/geometry/index.ts';
import type { PathKey } from '../core/src/assembly/index.ts';
import type { Body } from '../core/src/views/index.ts';

/** For tests: a box with six faces, corner at the origin. */
export function boxMesh(x: number, y: number, z: number): Mesh {
  const positions: number[] = [],
    normals: number[] = [],
    triangles: number[] = [];
  const face = (origin: number[], u: number[], v: number[], n: number[]) => {
    const first = positions.length / 3;
    for (const [a, b] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ]) {
      positions.push(...origin.map((value, axis) => value + a * u[axis] + b * v[axis]));
      normals.push(...n);
    }
    triangles.push(first, first + 1, first + 2, first, first + 2, first + 3);
  };
  face([0, 0, z], [x, 0, 0], [0, y, 0], [0, 0, 1]);
  face([0, y, 0], [x, 0, 0], [0, -y, 0], [0, 0, -1]);
  face([0, 0, 0], [x, 0, 0], [0, 0, z], [0, -1, 0]);
  face([x, y, 0], [-x, 0, 0], [0, 0, z], [0, 1, 0]);
  face([x, 0, 0], [0, y, 0], [0, 0, z], [1, 0, 0]);
  face([0, y, 0], [0, -y, 0], [0, 0, z], [-1, 0, 0]);
  return meshOf(positions, normals, triangles, 2);
}

/** For tests: a closed cylinder standing on the origin, three faces, exact normals. */
export function cylinderMesh(radius: number, height: number, segments = 48): Mesh {
  const positions: number[] = [],
    normals: number[] = [],
    triangles: number[] = [];
  const at = (step: number) => [Math.cos((2 * Math.PI * step) / segments), Math.sin((2 * Math.PI * step) / segments)];
  for (let step = 0; step <= segments; step++) {
    const [c, s] = step === segments ? at(0) : at(step);
    for (const z of [0, height]) {
      positions.push(radius * c, radius * s, z);
      normals.push(c, s, 0);
    }
  }
  for (let step = 0; step < segments; step++)
    triangles.push(step * 2, step * 2 + 2, step * 2 + 3, step * 2, step * 2 + 3, step * 2 + 1);
  const starts = [0, segments * 2];
  for (const [z, up] of [
    [0, -1],
    [height, 1],
  ]) {
    const centre = positions.length / 3;
    positions.push(0, 0, z);
    normals.push(0, 0, up);
    for (let step = 0; step < segments; step++) {
      const [c, s] = at(step);
      positions.push(radius * c, radius * s, z);
      normals.push(0, 0, up);
    }
    for (let step = 0; step < segments; step++) {
      const a = centre + 1 + step,
        b = centre + 1 + ((step + 1) % segments);
      triangles.push(centre, ...(up > 0 ? [a, b] : [b, a]));
    }
    starts.push(triangles.length / 3);
  }
  return {
    ...meshOf(positions, normals, triangles, 1),
    faceStarts: Uint32Array.from(starts),
    faceColours: new Int32Array(3).fill(-1),
  };
}

/**
 * For tests: a closed profile (r, z), counter-clockwise with r to the right and z up, turned about z; a face per side of the
 * profile.
 */
export function latheMesh(profile: readonly (readonly [number, number])[], segments = 48): Mesh {
  const positions: number[] = [],
    normals: number[] = [],
    triangles: number[] = [];
  const starts = [0];
  profile.forEach(([r0, z0], side) => {
    const [r1, z1] = profile[(side + 1) % profile.length];
    const size = Math.hypot(r1 - r0, z1 - z0);
    const first = positions.length / 3;
    for (let step = 0; step <= segments; step++) {
      const turn = (2 * Math.PI * (step % segments)) / segments;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      for (const [r, z] of [
        [r0, z0],
        [r1, z1],
      ]) {
        positions.push(r * c, r * s, z);
        normals.push((c * (z1 - z0)) / size, (s * (z1 - z0)) / size, (r0 - r1) / size);
      }
    }
    for (let step = 0; step < segments; step++) {
      const at = first + step * 2;
      if (r0 > 0) triangles.push(at, at + 2, at + 3);
      if (r1 > 0) triangles.push(at, at + 3, at + 1);
    }
    starts.push(triangles.length / 3);
  });
  return {
    ...meshOf(positions, normals, triangles, 1),
    faceStarts: Uint32Array.from(starts),
    faceColours: new Int32Array(profile.length).fill(-1),
  };
}

function meshOf(positions: number[], normals: number[], triangles: number[], perFace: number): Mesh {
  const count = triangles.length / 3;
  const faceStarts = Uint32Array.from({ length: count / perFace + 1 }, (_, at) => at * perFace);
  return {
    positions: Float64Array.from(positions),
    normals: Float32Array.from(normals),
    triangles: Uint32Array.from(triangles),
    faceStarts,
    faceColours: new Int32Array(faceStarts.length - 1).fill(-1),
  };
}

export const at = (x: number, y: number, z: number): Placement => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
export const body = (mesh: Mesh, occurrence = 0, placement: Placement = identityPlacement): Body => ({
  mesh,
  placement,
  path: String(occurrence) as PathKey,
});
