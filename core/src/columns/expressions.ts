/** A mistake in a text pattern or formula: what, and where in the text as typed. */
interface ExpressionFault {
  readonly message: string;
  /** Offset of the first character concerned, and how many. */
  readonly at: number;
  readonly length: number;
}
export type Checked<Content> =
  { readonly ok: true; readonly content: Content } | { readonly ok: false; readonly fault: ExpressionFault };

/** A piece of a text with `{Column}` in it. */
export type Piece =
  { readonly text: string } | { readonly reference: string; readonly at: number; readonly length: number };

/** Letters that an expression, a list of columns or a rule may have, and a text that a pattern makes. */
export const MOST_LETTERS = { expression: 2000, rules: 4000, columns: 20_000, text: 10_000 } as const;

/** A fault where a text has more letters than may be; null where it fits. */
export const tooLong = (text: string, most: number): { ok: false; fault: ExpressionFault } | null =>
  text.length <= most
    ? null
    : fault(`This has ${text.length} letters; up to ${most} can be read.`, most, text.length - most);

export const fault = (message: string, at: number, length: number): { ok: false; fault: ExpressionFault } => ({
  ok: false,
  fault: { message, at, length },
});

/** Texts and references of an expression, in order. */
export function splitExpression(text: string): Checked<Piece[]> {
  const long = tooLong(text, MOST_LETTERS.expression);
  if (long) return long;
  const pieces: Piece[] = [];
  for (let at = 0; at < text.length;) {
    const open = text.indexOf('{', at),
      stray = text.indexOf('}', at);
    if (stray >= 0 && (open < 0 || stray < open))
      return fault('This } closes nothing: a column is written {Column}.', stray, 1);
    if (open < 0) {
      pieces.push({ text: text.slice(at) });
      break;
    }
    if (open > at) pieces.push({ text: text.slice(at, open) });
    const close = text.indexOf('}', open),
      again = text.indexOf('{', open + 1);
    if (close < 0 || (again >= 0 && again < close))
      return fault('This { is not closed: a column is written {Column}.', open, 1);
    pieces.push({ reference: text.slice(open + 1, close), at: open, length: close + 1 - open });
    at = close + 1;
  }
  return { ok: true, content: pieces };
}

const join = (pieces: readonly Piece[], write: (reference: string) => string): string =>
  pieces.map((piece) => ('text' in piece ? piece.text : `{${write(piece.reference)}}`)).join('');

/**
 * The expression with each column's own name, as typed, replaced by what names it for good. `resolve` gives null for
 * a name that nothing has.
 * @param names all that there are, to name the one that a misspelt one is nearest to
 */
export function toStored(
  typed: string,
  resolve: (name: string) => string | null,
  names: readonly string[] = [],
): Checked<string> {
  const split = splitExpression(typed);
  if (!split.ok) return split;
  for (const piece of split.content) {
    if (!('reference' in piece)) continue;
    const name = piece.reference.trim();
    if (resolve(name) !== null) continue;
    const near = nearestName(name, names);
    return fault(
      `No column or property is called “${name}”${near === null ? '' : `; did you mean “${near}”?`}${near === null ? '.' : ''}`,
      piece.at,
      piece.length,
    );
  }
  return { ok: true, content: join(split.content, (name) => resolve(name.trim())!) };
}

/** The name that a misspelt one is nearest to; null where none is near: more than a third of it would have to change. */
function nearestName(name: string, names: readonly string[]): string | null {
  let best: string | null = null,
    least = Math.floor(Math.max(3, name.length) / 3) + 1;
  for (const one of names) {
    if (Math.abs(one.length - name.length) >= least) continue;
    const steps = editSteps(name.toLowerCase(), one.toLowerCase());
    if (steps < least) [best, least] = [one, steps];
  }
  return best;
}

/** Letters to put in, take out or exchange. Source: R. Wagner, M. Fischer, "The string-to-string correction problem", 1974. */
function editSteps(from: string, to: string): number {
  let row = Array.from({ length: to.length + 1 }, (_, at) => at);
  for (let at = 1; at <= from.length; at++) {
    const next = [at];
    for (let other = 1; other <= to.length; other++)
      next.push(
        Math.min(row[other] + 1, next[other - 1] + 1, row[other - 1] + (from[at - 1] === to[other - 1] ? 0 : 1)),
      );
    row = next;
  }
  return row[to.length];
}

/** The stored expression as the drafter reads it. */
export function toShown(stored: string, nameOf: (reference: string) => string): string {
  const split = splitExpression(stored);
  return split.ok ? join(split.content, nameOf) : stored;
}

/** What a stored expression refers to; nothing for one that cannot be read. */
export function referencesOf(stored: string): string[] {
  const split = splitExpression(stored);
  return split.ok ? split.content.flatMap((piece) => ('reference' in piece ? [piece.reference] : [])) : [];
}

/** The text of a pattern: each reference as its column writes it; where all of them are empty, nothing at all. */
export function fillPattern(stored: string, textOf: (reference: string) => string): string {
  const split = splitExpression(stored);
  if (!split.ok) return stored;
  let found = 0,
    given = 0;
  const text = split.content
    .map((piece) => {
      if ('text' in piece) return piece.text;
      const value = textOf(piece.reference);
      found++;
      if (value !== '') given++;
      return value;
    })
    .join('');
  return found > 0 && given === 0 ? '' : text;
}

/**
 * Where these references (by index) stand in an expression as typed, from the first to the last; all of it where
 * there are none.
 */
export function spanOf(typed: string, references: readonly number[]): { at: number; length: number } {
  const split = splitExpression(typed);
  const pieces = split.ok ? split.content.flatMap((piece) => ('reference' in piece ? [piece] : [])) : [];
  const concerned = references.map((index) => pieces[index]).filter((piece) => piece !== undefined);
  if (concerned.length === 0) return { at: 0, length: typed.length };
  const at = Math.min(...concerned.map((piece) => piece.at));
  return { at, length: Math.max(...concerned.map((piece) => piece.at + piece.length)) - at };
}

/**
 * A chain of columns that leads from one back to itself, or null where none of them does. Every column is asked once for
 * those that its expression names (`refersTo`), so the cost is what all expressions name together.
 */
export function findCircle(columns: Iterable<string>, refersTo: (id: string) => readonly string[]): string[] | null {
  const done = new Set<string>();
  const path: string[] = [];
  const on = new Map<string, number>(); // place in the path
  const next: Iterator<string>[] = [];
  const enter = (id: string) => {
    on.set(id, path.push(id) - 1);
    next.push(refersTo(id)[Symbol.iterator]());
  };
  for (const start of columns) {
    if (done.has(start)) continue;
    enter(start);
    while (path.length > 0) {
      const { value, done: isOver } = next[next.length - 1].next();
      if (isOver) {
        const id = path.pop()!;
        next.pop();
        on.delete(id);
        done.add(id);
      } else if (on.has(value)) return [...path.slice(on.get(value)), value];
      else if (!done.has(value)) enter(value);
    }
  }
  return null;
}
