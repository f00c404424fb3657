import { gunzipSync, gzipSync } from 'node:zlib';
import { refuseNewer } from '../../contract/src/index.ts';
import type { Assembly } from '../../core/src/assembly/index.ts';

/** JSON, compressed. */
export const packAssembly = (assembly: Assembly): Uint8Array => new Uint8Array(gzipSync(JSON.stringify(assembly)));

/** @throws Refusal where a newer program stored it */
export function unpackAssembly(bytes: Uint8Array): Assembly {
  const assembly = JSON.parse(gunzipSync(bytes).toString('utf8')) as Assembly;
  refuseNewer('structure', assembly, 1);
  return assembly;
}
