import type { Mesh } from '../geometry/index.ts';
import { hashKey } from './keys.ts';
import type { ShapeKey, ShapeMesh } from './records.ts';

const bytesOf = (array: Float64Array | Uint32Array | Int32Array): Uint8Array =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength);

/** A mesh under the hash of its content, so that equal shapes are one across files and revisions. */
export function keyMesh(mesh: Mesh): ShapeMesh {
  return {
    key: hashKey(
      'mesh',
      bytesOf(mesh.positions),
      bytesOf(mesh.triangles),
      bytesOf(mesh.faceStarts),
      bytesOf(mesh.faceColours),
    ) as ShapeKey,
    mesh,
  };
}
