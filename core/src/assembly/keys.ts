import { blake3 } from '@noble/hashes/blake3.js';
import { bytesToHex } from '@noble/hashes/utils.js';

const encoder = new TextEncoder();
let scratch = new Uint8Array(4096);

/** 128-bit hash of the parts, as 32 hex digits; parts are length-prefixed so that ['ab','c'] and ['a','bc'] differ. */
export function hashKey(...parts: readonly (string | Uint8Array)[]): string {
  const most = parts.reduce((sum, part) => sum + part.length * 3 + 20, 0); // UTF-8 takes up to three bytes per code unit
  if (scratch.length < most) scratch = new Uint8Array(most);
  let size = 0;
  for (const part of parts) {
    // Written behind room for its length, which is known only afterwards, then moved up to it.
    const bytes =
      typeof part === 'string' ? encoder.encodeInto(part, scratch.subarray(size + 20)).written : part.length;
    const prefix = encoder.encodeInto(`${bytes}:`, scratch.subarray(size)).written;
    if (typeof part === 'string') scratch.copyWithin(size + prefix, size + 20, size + 20 + bytes);
    else scratch.set(part, size + prefix);
    size += prefix + bytes;
  }
  const hash = bytesToHex(blake3(scratch.subarray(0, size), { dkLen: 16 }));
  if (scratch.length > 1 << 20) scratch = new Uint8Array(4096); // a whole slice went through; do not keep its room
  return hash;
}

/**
 * A short name for `text` within `scope`, for keys that live only inside one computed value: 16 hex digits, many times
 * faster than hashKey and without its guarantees, so it is never stored and nothing is merged by it.
 */
export function quickKey(scope: string, text: string): string {
  let one = 0x811c9dc5,
    two = 0x9e3779b9;
  const mix = (unit: number) => {
    one = Math.imul(one ^ unit, 0x01000193);
    two = Math.imul(two ^ unit, 0x85ebca6b);
    two ^= two >>> 13;
  };
  for (let at = 0; at < scope.length; at++) mix(scope.charCodeAt(at));
  mix(0xffff);
  for (let at = 0; at < text.length; at++) mix(text.charCodeAt(at));
  one ^= one >>> 15;
  return (one >>> 0).toString(16).padStart(8, '0') + (two >>> 0).toString(16).padStart(8, '0');
}
