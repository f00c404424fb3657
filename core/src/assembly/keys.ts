import { blake3 } from '@noble/hashes/blake3.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** 128-bit hash of the parts, as 32 hex digits; parts are length-prefixed so that ['ab','c'] and ['a','bc'] differ. */
export function hashKey(...parts: readonly (string | Uint8Array)[]): string {
  const hasher = blake3.create({ dkLen: 16 });
  for (const part of parts) {
    const bytes = typeof part === 'string' ? utf8ToBytes(part) : part;
    hasher.update(utf8ToBytes(`${bytes.length}:`)).update(bytes);
  }
  return bytesToHex(hasher.digest());
}
