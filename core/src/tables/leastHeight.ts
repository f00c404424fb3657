import { sum } from './sum.ts';

/** A text that can be broken into lines, measured. mm */
export interface BreakableText {
  /** Of each word: widths of the pieces into which it may be broken. */
  readonly words: readonly (readonly number[])[];
  /** Between two words. */
  readonly space: number;
  /** What its column has to have besides: padding, indentation. */
  readonly beside: number;
}
/** One line of a table whose height follows from its texts. */
export interface BreakableRow {
  /** One text per column. */
  readonly texts: readonly BreakableText[];
  /** By which it grows with each further line; mm. */
  readonly perLine: number;
}
interface LeastHeight {
  /** mm per column */
  readonly widths: number[];
  /** Whether no widths make it lower; false where there were too many to try. */
  readonly isLeast: boolean;
}

/** Rows are looked at so many times at most in the search: some milliseconds. */
const MOST_WORK = 80_000;
const TOUCH = 1e-6; // mm

/**
 * Widths of columns, together no wider than they may be, with which the rows of a table are together as low as they can
 * be; where several are, narrow ones. Finding them is NP-hard in general (Anderson and Sobti 1999, "The table layout
 * problem"); tables have few columns that wrap, so all widths at which a text gains or loses a line are tried, with
 * what cannot be better left out (branch and bound).
 * @param least below which a column is not to go: its widest word
 * @param most above which it gains nothing
 * @param room for all of them; at least the sum of `least`
 * @param start widths to begin with, within all that; nothing worse than these comes out
 */
export function leastHeight(
  rows: readonly BreakableRow[],
  {
    least,
    most,
    room,
    start,
  }: {
    readonly least: readonly number[];
    readonly most: readonly number[];
    readonly room: number;
    readonly start: readonly number[];
  },
): LeastHeight {
  const columns = least.map((_, at) => at);
  const flexible = columns.filter((at) => most[at] > least[at] + TOUCH);
  const spare = room - sum(columns.map((at) => (flexible.includes(at) ? 0 : least[at])));
  const alike = distinct(
    rows.map(({ texts, perLine }) => ({
      perLine,
      steps: flexible.map((at) => stepsOf(texts[at], least[at], most[at])),
    })),
  );
  const choices = flexible.map((column, at) =>
    [...new Set([least[column], ...alike.flatMap(({ steps }) => steps[at])])].toSorted((a, b) => a - b),
  );
  // The column with most choices comes last: it takes what the others leave.
  const order = flexible.map((_, at) => at).toSorted((a, b) => choices[a].length - choices[b].length || a - b);
  const leastOf = (at: number) => least[flexible[at]];

  const first = flexible.map((at) => start[at]);
  let best = { height: heightOf(alike, first), widths: first };
  let work = 0;
  const chosen = flexible.map((_, at) => leastOf(at));
  /** Height if columns from `from` on in the order had all that is left, each for itself: nothing lower comes of it. */
  const heightWith = (from: number, left: number) => {
    work += alike.length;
    const rest = sum(order.slice(from).map(leastOf));
    const widths = chosen.slice();
    for (const at of order.slice(from)) widths[at] = left - rest + leastOf(at);
    return { widths, height: heightOf(alike, widths) };
  };
  const search = (from: number, left: number): void => {
    const bound = heightWith(from, left);
    if (bound.height >= best.height - TOUCH) return;
    if (from >= order.length - 1) {
      best = bound;
      return;
    }
    const at = order[from];
    const rest = sum(order.slice(from + 1).map(leastOf));
    for (const width of choices[at].toReversed()) {
      if (width > left - rest + TOUCH) continue;
      if (work > MOST_WORK) return;
      chosen[at] = width;
      search(from + 1, left - width);
    }
    chosen[at] = leastOf(at);
  };
  search(0, spare);
  const narrow = narrowed(alike, best.widths, choices);
  const widths = least.slice();
  flexible.forEach((column, at) => (widths[column] = narrow[at]));
  return { widths, isLeast: work <= MOST_WORK };
}

/** A row by the least widths for one line, two, three, … of each column. */
interface Steps {
  readonly perLine: number;
  readonly steps: readonly (readonly number[])[];
}

/** Rows that break at the same widths are one that weighs more. */
function distinct(rows: readonly Steps[]): Steps[] {
  const found = new Map<string, Steps>();
  for (const { steps, perLine } of rows) {
    if (steps.every(({ length }) => length === 1)) continue;
    const name = JSON.stringify(steps);
    found.set(name, { steps, perLine: perLine + (found.get(name)?.perLine ?? 0) });
  }
  return [...found.values()];
}

const linesAt = (steps: readonly number[], width: number): number => {
  let lines = 1;
  while (lines < steps.length && width < steps[lines - 1] - TOUCH) lines++;
  return lines;
};
const rowLines = ({ steps }: Steps, widths: readonly number[]): number =>
  steps.reduce((most, one, at) => Math.max(most, linesAt(one, widths[at])), 1);
/** By which all rows are higher than with one line each; mm. */
const heightOf = (rows: readonly Steps[], widths: readonly number[]): number =>
  rows.reduce((height, row) => height + (rowLines(row, widths) - 1) * row.perLine, 0);

/** Each column as narrow as it can be without a row getting a further line. */
function narrowed(
  rows: readonly Steps[],
  widths: readonly number[],
  choices: readonly (readonly number[])[],
): readonly number[] {
  const narrow = widths.slice();
  const lines = rows.map((row) => rowLines(row, widths));
  choices.forEach((list, at) => {
    const needed = rows.reduce(
      (most, { steps }, row) => Math.max(most, steps[at][Math.min(lines[row], steps[at].length) - 1]),
      list[0],
    );
    narrow[at] = Math.min(narrow[at], needed);
  });
  return narrow;
}

/** The least widths of a column with which a text takes one line, two, …; the last is the column's least. */
function stepsOf(text: BreakableText, least: number, most: number): number[] {
  const { beside } = text;
  const [low, high] = [least - beside, most - beside];
  const one = broken(text, Infinity).widest;
  if (one <= low + TOUCH) return [least];
  const steps = [Math.min(one, high)];
  const lines = broken(text, low).lines;
  for (let count = 2; count <= lines; count++) {
    let [from, to] = [low, steps[count - 2]];
    for (let step = 0; step < 24 && to - from > TOUCH; step++) {
      const middle = (from + to) / 2;
      if (broken(text, middle).lines <= count) to = middle;
      else from = middle;
    }
    steps.push(Math.max(low, Math.min(to, broken(text, to).widest)));
  }
  return steps.map((width) => width + beside);
}

/** How a text is broken in a room: as `wrapText` does, by widths alone. */
function broken({ words, space }: BreakableText, room: number): { readonly lines: number; readonly widest: number } {
  let lines = 1,
    line = 0,
    widest = 0;
  const end = () => {
    lines++;
    line = 0;
  };
  const put = (width: number) => {
    line += width;
    widest = Math.max(widest, line);
  };
  for (const pieces of words) {
    const word = sum(pieces);
    const joined = line > 0 ? space + word : word;
    if (line + joined <= room + TOUCH) {
      put(joined);
      continue;
    }
    if (line > 0) end();
    if (word <= room + TOUCH) put(word);
    else
      for (const piece of pieces) {
        if (line > 0 && line + piece > room + TOUCH) end();
        put(piece);
      }
  }
  return { lines, widest };
}
