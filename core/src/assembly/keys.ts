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

/**
 * A short name for `text` within `scope`, for keys that live only inside one computed value: 16 hex digits, many times
 * faster than hashKey and without its guarantees, so it is never stored and nothing is merged by it.
 */
export function quickKey(scope: string, text: string): string {
  let one = 0x811c9dc5, two = 0x9e3779b9;
  const mix = (unit: number) => {
    one = Math.imul(one ^ unit, 0x01000193);
    two = Math.imul(two ^ unit, 0x85ebca6b);
    two ^= two >>> 13;
  };
  for (let at = 0; at < scope.length; at++) mix(scope.charCodeAt(at));
  mix(0xffff);
  for (let at = 0; at < text.length; at++) mix(text.charCodeAt(at));
  one ^= one >>> 15;
  return ((one >>> 0).toString(16).padStart(8, '0') + (two >>> 0).toString(16).padStart(8, '0'));
}
