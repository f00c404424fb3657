import type { Mesh } from '../geometry/index.ts';
import type { Spots, ViewLines } from '../views/index.ts';
import { packRecord, unpackRecord } from './pack.ts';

/** A mesh as bytes, for blobs, caches and the page. */
export const packMesh = (mesh: Mesh): Uint8Array => packRecord(null, { ...mesh });
export const unpackMesh = (bytes: Uint8Array): Mesh => unpackRecord(bytes).arrays as unknown as Mesh;

/** View lines as bytes. */
export const packViewLines = ({ box, paths, ...arrays }: ViewLines): Uint8Array =>
  packRecord({ box, paths }, { ...arrays });
export function unpackViewLines(bytes: Uint8Array): ViewLines {
  const { values, arrays } = unpackRecord(bytes);
  return { ...(arrays as unknown as ViewLines), ...(values as Pick<ViewLines, 'box' | 'paths'>) };
}

/** Spots as bytes. */
export const packSpots = ({ paths, ...arrays }: Spots): Uint8Array => packRecord({ paths }, { ...arrays });
export function unpackSpots(bytes: Uint8Array): Spots {
  const { values, arrays } = unpackRecord(bytes);
  return { ...(arrays as unknown as Spots), ...(values as Pick<Spots, 'paths'>) };
}
