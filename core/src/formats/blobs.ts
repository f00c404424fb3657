import type { Mesh } from '../geometry/index.ts';
import type { Spots, ViewLines } from '../views/index.ts';
import { packRecord, unpackRecord } from './pack.ts';

/** A mesh as bytes, for blobs, caches and the page. */
export const packMesh = (mesh: Mesh): Uint8Array => packRecord(null, { ...mesh });
export const unpackMesh = (bytes: Uint8Array): Mesh => unpackRecord(bytes).arrays as unknown as Mesh;

/** View lines as bytes. */
export function packViewLines({ box, ...arrays }: ViewLines): Uint8Array {
  return packRecord({ box }, { ...arrays });
}
export function unpackViewLines(bytes: Uint8Array): ViewLines {
  const { values, arrays } = unpackRecord(bytes);
  return { ...(arrays as unknown as Omit<ViewLines, 'box'>), box: (values as Pick<ViewLines, 'box'>).box };
}

/** Spots as bytes. */
export const packSpots = (spots: Spots): Uint8Array => packRecord(null, { ...spots });
export const unpackSpots = (bytes: Uint8Array): Spots => unpackRecord(bytes).arrays as unknown as Spots;
