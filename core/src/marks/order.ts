import bidiFactory from 'bidi-js';
import { joinArabic } from './arabic.ts';

/** Hebrew and Arabic with their forms, and signs that turn the direction. */
const RIGHT_TO_LEFT = /[\u0590-\u08ff\u200f\u202b\u202e\u2067\ufb1d-\ufdff\ufe70-\ufefc]/;
/** Signs that say a direction and have no glyph. */
const DIRECTION_SIGNS = /[\u200e\u200f\u202a-\u202e\u2066-\u2069\u061c]/;
/** Stands for characters of two code units, which have no direction of their own here. */
const NEUTRAL = '\ufffc';

let bidi: ReturnType<typeof bidiFactory> | null = null;

/** Whether the characters of a text stand on paper in another order or form than in the text. */
export const isTurned = (text: string): boolean => RIGHT_TO_LEFT.test(text);

/**
 * The characters of a line as they stand on paper, from left to right: Arabic letters joined, what is written from right
 * to left turned, brackets mirrored; a mark comes behind what it stands on. The first letter says which way the line runs.
 * Source: Unicode Standard Annex 9, the bidirectional algorithm.
 */
export function inVisualOrder(text: string): string[] {
  const codes = joinArabic([...text].map((char) => char.codePointAt(0)!));
  const chars = codes.map((code) => String.fromCodePoint(code));
  const plain = chars.map((char) => (char.length > 1 ? NEUTRAL : char)).join('');
  bidi ??= bidiFactory();
  const levels = bidi.getEmbeddingLevels(plain);
  const mirrored = bidi.getMirroredCharactersMap(plain, levels.levels);
  const order = chars.map((_, at) => at);
  for (const [from, to] of bidi.getReorderSegments(plain, levels)) {
    const turned = order.slice(from, to + 1).reverse();
    order.splice(from, turned.length, ...turned);
  }
  const placed: string[] = [];
  let waiting: string[] = []; // marks that turning has put before what they stand on
  for (const at of order) {
    const char = mirrored.get(at) ?? chars[at];
    if (DIRECTION_SIGNS.test(char)) continue;
    if (/\p{M}/u.test(char) && levels.levels[at] % 2 === 1) {
      waiting.unshift(char);
      continue;
    }
    placed.push(char, ...waiting);
    waiting = [];
  }
  return [...placed, ...waiting];
}
