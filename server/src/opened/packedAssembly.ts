import { gunzipSync, gzipSync } from 'node:zlib';
import { refuseNewer } from '../../../contract/src/index.ts';
import type { Assembly } from '../../../core/src/assembly/index.ts';

/** JSON, compressed. */
export const packAssembly = (assembly: Assembly): Uint8Array => new Uint8Array(gzipSync(JSON.stringify(assembly)));

/** A structure, and the letters of JSON that it is written in. */
export interface Unpacked {
  readonly assembly: Assembly;
  readonly letters: number;
}

/** @throws Refusal where a newer program stored it */
export function unpackAssembly(bytes: Uint8Array): Unpacked {
  const text = gunzipSync(bytes).toString('utf8');
  const assembly = JSON.parse(text) as Assembly;
  refuseNewer('structure', assembly, 1);
  return { assembly, letters: text.length };
}
