import { hypot } from './vectors.ts';
import { applyToPoint, type Placement } from './placements.ts';

/** The tessellated shape of one component, in its own coordinates. */
export interface Mesh {
  /** x, y, z per vertex; mm. */
  readonly positions: Float64Array;
  /** x, y, z per vertex; unit length, outwards. */
  readonly normals: Float32Array;
  /** Three vertex indices per triangle, counter-clockwise seen from outside. */
  readonly triangles: Uint32Array;
  /** First triangle of each face of the boundary representation, plus the triangle count as last entry. */
  readonly faceStarts: Uint32Array;
  /** `0xRRGGBB` per face, or -1 where the file gives none. */
  readonly faceColours: Int32Array;
}

/** `[minX, minY, minZ, maxX, maxY, maxZ]`, mm; all infinite for a mesh without vertices. */
export type Box3 = readonly [number, number, number, number, number, number];

/** The box of the mesh after the placement. */
export function meshBox(mesh: Mesh, placement?: Placement): Box3 {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  const { positions } = mesh;
  for (let at = 0; at < positions.length; at += 3) {
    const own = [positions[at], positions[at + 1], positions[at + 2]] as const;
    const p = placement ? applyToPoint(placement, own) : own;
    for (let axis = 0; axis < 3; axis++) {
      if (p[axis] < box[axis]) box[axis] = p[axis];
      if (p[axis] > box[axis + 3]) box[axis + 3] = p[axis];
    }
  }
  return box as unknown as Box3;
}

/** The box around two boxes. */
export const uniteBoxes = (a: Box3, b: Box3): Box3 => [
  Math.min(a[0], b[0]),
  Math.min(a[1], b[1]),
  Math.min(a[2], b[2]),
  Math.max(a[3], b[3]),
  Math.max(a[4], b[4]),
  Math.max(a[5], b[5]),
];

/** What two boxes have in common; its low sides lie above its high ones where that is nothing. */
export const commonBox = (a: Box3, b: Box3): Box3 => [
  Math.max(a[0], b[0]),
  Math.max(a[1], b[1]),
  Math.max(a[2], b[2]),
  Math.min(a[3], b[3]),
  Math.min(a[4], b[4]),
  Math.min(a[5], b[5]),
];

export const boxDiagonal = (box: Box3): number =>
  box[3] < box[0] ? 0 : hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);

/**
 * Enclosed volume in mm³ by the divergence theorem; exact for the triangles, so low by the chord error on round
 * shapes.
 */
export function meshVolume(mesh: Mesh): number {
  const { positions: p, triangles: t } = mesh;
  let six = 0;
  for (let at = 0; at < t.length; at += 3) {
    const a = t[at] * 3,
      b = t[at + 1] * 3,
      c = t[at + 2] * 3;
    six +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return six / 6;
}

/** Whether a mesh is a drawing on a plane: all of it looks up. A solid has another side. */
export function isFlatMesh({ normals }: Mesh): boolean {
  for (let at = 2; at < normals.length; at += 3) if (normals[at] < 0.999) return false;
  return normals.length > 0;
}

/** `0xRRGGBB` of the face colours if they agree on one, else null. */
export function meshColour(mesh: Mesh): number | null {
  const first = mesh.faceColours[0] ?? -1;
  return first >= 0 && mesh.faceColours.every((colour) => colour === first) ? first : null;
}
