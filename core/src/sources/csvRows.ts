/** Rows of separated text (RFC 4180), and where a quotation mark stands wrong. */
interface SplitText {
  readonly rows: string[][];
  /** Index of the first row in which a text in quotation marks does not end where its cell does; null for none. */
  readonly openIn: number | null;
}

const QUOTE = 34,
  RETURN = 13,
  NEWLINE = 10,
  SPACE = 32,
  TAB = 9;

/**
 * Splits text into rows and cells in one pass, whatever stands in it: libraries look for the next separator and line end
 * from every quotation mark on, which takes minutes where one of them is nowhere. Ends at the first mark that stands wrong.
 * Blanks between a closing mark and the separator are passed over. In its test a library judges it.
 * @param separator one sign
 * @param most rows that are wanted
 */
export function splitRows(text: string, separator: string, most = Infinity): SplitText {
  const split = separator.charCodeAt(0);
  const rows: string[][] = [];
  let row: string[] = [];
  let at = 0;
  const isEnd = (sign: number) => sign === split || sign === NEWLINE || sign === RETURN || Number.isNaN(sign);
  while (rows.length < most) {
    if (text.charCodeAt(at) === QUOTE) {
      const end = endOfQuoted(text, at);
      if (end < 0) return { rows, openIn: rows.length };
      row.push(text.slice(at + 1, end).replaceAll('""', '"'));
      at = end + 1;
      for (
        let sign = text.charCodeAt(at);
        (sign === SPACE || sign === TAB) && sign !== split;
        sign = text.charCodeAt(at)
      )
        at++;
      if (!isEnd(text.charCodeAt(at))) return { rows, openIn: rows.length };
    } else {
      const from = at;
      while (!isEnd(text.charCodeAt(at))) at++;
      row.push(text.slice(from, at));
    }
    if (text.charCodeAt(at) === split) {
      at++;
      continue;
    }
    rows.push(row);
    row = [];
    if (at >= text.length) break;
    at += text.charCodeAt(at) === RETURN && text.charCodeAt(at + 1) === NEWLINE ? 2 : 1;
    if (at >= text.length) break; // the line end of the last row begins no other one
  }
  return { rows, openIn: null };
}

/** The mark that closes a text; two of them are one in it. −1 where none does. */
function endOfQuoted(text: string, from: number): number {
  for (let at = text.indexOf('"', from + 1); at >= 0; at = text.indexOf('"', at + 2))
    if (text.charCodeAt(at + 1) !== QUOTE) return at;
  return -1;
}

const SEPARATORS = [',', ';', '\t', '|'];
/** Rows by which the separator is found. */
const LOOKED_AT = 10;
/** Rows of one column have no separator; the mean of cells beyond which there is one. */
const SEVERAL = 1.99;

/**
 * The separator with which the first rows have the most even count of cells, and of those the most; a comma where none
 * divides them.
 */
export function separatorOf(text: string): string {
  let best: { separator: string; unevenness: number; mean: number } | null = null;
  for (const separator of SEPARATORS) {
    const { rows, openIn } = splitRows(text, separator, LOOKED_AT);
    const counts = rows.filter((row) => !isBlank(row)).map(({ length }) => length);
    if (counts.length === 0) continue;
    const mean = counts.reduce((sum, count) => sum + count, 0) / counts.length;
    const steps = counts.reduce((sum, count, at) => sum + (at === 0 ? 0 : Math.abs(count - counts[at - 1])), 0);
    // A mark that stands wrong with this separator stands right with another, if that is the one.
    const unevenness = steps + (openIn === null ? 0 : 1e9);
    if (mean <= SEVERAL) continue;
    if (!best || unevenness < best.unevenness || (unevenness === best.unevenness && mean > best.mean))
      best = { separator, unevenness, mean };
  }
  return best?.separator ?? ',';
}

export const isBlank = (row: readonly string[]): boolean => row.every((cell) => cell.trim() === '');
