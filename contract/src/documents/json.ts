import { wellFormedText } from '../../../core/src/assembly/index.ts';

/** Escapes of halves of pairs: only these can put half a sign into a text that was UTF-8. */
const HALF = /\\u[dD][89a-fA-F]/;

/**
 * JSON from outside or from the database. Half a sign, which no file and no header can hold, becomes `\ufffd`, in names
 * of fields too.
 * @throws SyntaxError where it is no JSON
 */
export function parseJson(text: string): unknown {
  const value: unknown = JSON.parse(text);
  return HALF.test(text) ? wellFormed(value) : value;
}

/** @see parseJson; lists and objects are at most as deep as JSON.parse takes them */
export function wellFormed(value: unknown): unknown {
  if (typeof value === 'string') return wellFormedText(value);
  if (Array.isArray(value)) return value.map(wellFormed);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([name, inner]) => [wellFormedText(name), wellFormed(inner)]));
}
