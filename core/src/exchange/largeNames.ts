import { DOUBLE_QUOTE, HASH, isDigit, LESS, MORE, QUOTE, SLASH, STAR } from './cursor.ts';

const ZERO = 48;
const LARGEST = String(Number.MAX_SAFE_INTEGER);
const isTooLarge = (digits: string): boolean =>
  digits.length > LARGEST.length || (digits.length === LARGEST.length && digits > LARGEST);

/** A file whose entity names can all be told apart as numbers, and what the names were that stand for others. */
interface Renamed {
  /** As long as the file was: every offset and line stays what it is. */
  readonly bytes: Uint8Array;
  /** Digits by the number that stands for them. */
  readonly originals: ReadonlyMap<number, string>;
}

/**
 * Gives entity instance names above 2⁵³−1 (ISO 10303-21 sets no bound) other, unused numbers, filled up with zeros to
 * the same length. Texts, binary values, comments and addresses are left alone. One pass; only for files that have such
 * names.
 */
export function withTellableNames(bytes: Uint8Array): Renamed {
  const found: { from: number; to: number; digits: string }[] = [];
  /** Ordinary names so high that a new one could meet them. */
  const taken = new Set<number>();
  for (let at = 0; at < bytes.length; at++) {
    const closing = closes(bytes, at);
    if (closing !== null) {
      at = closing;
      continue;
    }
    if (bytes[at] !== HASH) continue;
    let from = at + 1;
    let to = from;
    while (isDigit(bytes[to])) to++;
    while (from < to - 1 && bytes[from] === ZERO) from++;
    const digits = to - from > 15 ? String.fromCharCode(...bytes.subarray(from, Math.min(to, from + 10_000))) : '';
    if (digits && isTooLarge(digits)) found.push({ from, to, digits });
    else if (digits) taken.add(Number(digits));
    at = to - 1;
  }
  const renamed = bytes.slice();
  const nameOf = new Map<string, number>();
  let next = Number.MAX_SAFE_INTEGER;
  for (const { from, to, digits } of found) {
    let name = nameOf.get(digits);
    if (name === undefined) {
      while (taken.has(next)) next--;
      nameOf.set(digits, (name = next--));
    }
    const text = String(name).padStart(to - from, '0');
    for (let at = 0; at < text.length; at++) renamed[from + at] = text.charCodeAt(at);
  }
  return { bytes: renamed, originals: new Map([...nameOf].map(([digits, name]) => [name, digits])) };
}

/** Where a text, binary value, comment or address that begins here ends; null where none does. */
function closes(bytes: Uint8Array, at: number): number | null {
  const end = (mark: number) => {
    const found = bytes.indexOf(mark, at + 1);
    return found < 0 ? bytes.length : found;
  };
  switch (bytes[at]) {
    case QUOTE: // a doubled one inside closes and opens again
      return end(QUOTE);
    case DOUBLE_QUOTE:
      return end(DOUBLE_QUOTE);
    case LESS:
      return end(MORE);
    case SLASH: {
      if (bytes[at + 1] !== STAR) return null;
      let close = at + 2;
      while (close < bytes.length && !(bytes[close] === STAR && bytes[close + 1] === SLASH)) close++;
      return close + 1;
    }
    default:
      return null;
  }
}

/** A sentence with the names that the file has. */
export const inItsNames = (sentence: string, originals: ReadonlyMap<number, string>): string =>
  originals.size === 0
    ? sentence
    : sentence.replace(/#(\d+)/g, (whole, digits: string) => {
        const original = originals.get(Number(digits));
        return original === undefined ? whole : `#${original}`;
      });
