import type { Box3, Mesh } from './meshes.ts';

/**
 * Lengths as shares of the box diagonal: a dash and the gap after it (rounded so that an edge ends with a dash), and
 * half a dash's thickness.
 */
const DASH = 1 / 30,
  HALF_THICKNESS = 1 / 1500;
/** The corners and the faces of a bar, counter-clockwise from outside; bit 0, 1, 2 of a corner: far end in x, y, z. */
const FACES = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
];
const OUTWARDS = [
  [0, 0, -1],
  [0, 0, 1],
  [0, -1, 0],
  [0, 1, 0],
  [-1, 0, 0],
  [1, 0, 0],
];

/**
 * A dashed box in place of a shape that could not be made: every edge a row of slim bars. Empty for a box without
 * extent.
 */
export function dashedBox(box: Box3): Mesh {
  const low = box.slice(0, 3),
    size = low.map((value, axis) => box[axis + 3] - value);
  const diagonal = Math.hypot(...size);
  const bars: { from: number[]; to: number[] }[] = [];
  for (let axis = 0; diagonal > 0 && Number.isFinite(diagonal) && axis < 3; axis++) {
    const dashes = Math.floor(size[axis] / (diagonal * DASH) / 2) + 1;
    const length = size[axis] / (2 * dashes - 1);
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    for (let corner = 0; corner < 4 && length > 0; corner++) {
      for (let dash = 0; dash < dashes; dash++) {
        const from = [0, 0, 0],
          to = [0, 0, 0];
        from[axis] = low[axis] + 2 * dash * length;
        to[axis] = from[axis] + length;
        for (const [across, far] of [
          [u, corner & 1],
          [v, corner >> 1],
        ]) {
          from[across] = low[across] + far * size[across] - diagonal * HALF_THICKNESS;
          to[across] = from[across] + 2 * diagonal * HALF_THICKNESS;
        }
        bars.push({ from, to });
      }
    }
  }
  const positions: number[] = [],
    normals: number[] = [],
    triangles: number[] = [],
    faceStarts: number[] = [];
  for (const { from, to } of bars) {
    FACES.forEach((corners, face) => {
      const first = positions.length / 3;
      faceStarts.push(triangles.length / 3);
      for (const corner of corners) {
        positions.push(...from.map((value, axis) => ((corner >> axis) & 1 ? to[axis] : value)));
        normals.push(...OUTWARDS[face]);
      }
      triangles.push(first, first + 1, first + 2, first, first + 2, first + 3);
    });
  }
  return {
    positions: Float64Array.from(positions),
    normals: Float32Array.from(normals),
    triangles: Uint32Array.from(triangles),
    faceStarts: Uint32Array.from([...faceStarts, triangles.length / 3]),
    faceColours: new Int32Array(faceStarts.length).fill(-1),
  };
}
