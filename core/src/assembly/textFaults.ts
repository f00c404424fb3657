/** Line and column from 1, for a sentence. */
const placeIn = (text: string, offset: number): string => {
  const before = text.slice(0, offset);
  const line = before.split('\n').length;
  return `line ${line}, column ${offset - before.lastIndexOf('\n')}`;
};

/** Where JSON stops being JSON, for a sentence; what a library says of it is no drafter's language. */
export function jsonFault(text: string, error: unknown): string {
  const at = /position (\d+)/.exec(error instanceof Error ? error.message : '')?.[1];
  return at === undefined || Number(at) >= text.length
    ? 'it breaks off before its end'
    : `at ${placeIn(text, Number(at))}`;
}

/**
 * Where XML stops being XML, for a sentence.
 * @param parser that found it; its place counts from line 1 and column 0
 */
export const xmlFault = ({ line, column }: { readonly line: number; readonly column: number }): string =>
  `it breaks off or is malformed at line ${line}, column ${column + 1}`;
