// Columns, order and rules as a person writes them on one line. What the sentence of a recipe says is read back alike.
import type { Column, ColumnSource } from './columns.ts';
import { newColumn } from './columns.ts';
import { fault, MOST_LETTERS, tooLong, toStored, type Checked } from './expressions.ts';
import { comparisons, needsOperand, type Comparison, type Rule, type RuleGroup } from './rules.ts';

/** Finds the source behind a name; null for a name that nothing has. */
export type FindSource = (name: string) => ColumnSource | null;

const unknown = (name: string, at: number) => fault(`No column or property is called “${name}”.`, at, name.length);

/** Pieces between commas that stand outside quotes and braces, each with where it begins. */
function pieces(text: string): { text: string; at: number }[] {
  const found: { text: string; at: number }[] = [];
  let from = 0,
    quoted = false,
    depth = 0;
  for (let at = 0; at <= text.length; at++) {
    const sign = text[at];
    if (sign === '"') quoted = !quoted;
    if (sign === '{') depth++;
    if (sign === '}') depth--;
    if (at < text.length && (sign !== ',' || quoted || depth > 0)) continue;
    const piece = text.slice(from, at);
    if (piece.trim() !== '') found.push({ text: piece.trim(), at: from + piece.length - piece.trimStart().length });
    from = at + 1;
  }
  return found;
}

const unquoted = (text: string): string => (/^".*"$/s.test(text) ? text.slice(1, -1) : text);

/** `Name as Part` into its two: the first “as” between blanks behind which stands a heading, which holds no braces. */
function splitHeading(piece: string): { content: string; heading: string } {
  const braces = Math.max(piece.lastIndexOf('{'), piece.lastIndexOf('}'));
  for (let at = piece.indexOf('as', braces + 1); at >= 0; at = piece.indexOf('as', at + 1)) {
    if (!/\s/.test(piece[at - 1] ?? '') || !/\s/.test(piece[at + 2] ?? '')) continue;
    const heading = piece.slice(at + 2).trim();
    if (heading !== '') return { content: piece.slice(0, at).trim(), heading };
  }
  return { content: piece.trim(), heading: '' };
}

/**
 * Columns from `Item, Qty, Name as Part, "{Name}, L = {Length}" as Text, = {Qty} × {Mass each} as Weight`: names,
 * with the heading behind `as`; texts with `{Column}` in them, and formulas behind `=`.
 */
export function readColumns(text: string, find: FindSource): Checked<Column[]> {
  const long = tooLong(text, MOST_LETTERS.columns);
  if (long) return long;
  const columns: Column[] = [];
  for (const { text: piece, at } of pieces(text)) {
    const { content, heading } = splitHeading(piece);
    const bare = unquoted(content);
    const isFormula = bare.startsWith('=');
    if (!isFormula && !bare.includes('{')) {
      const source = find(bare);
      if (!source) return unknown(bare, at);
      const column = newColumn(
        source,
        columns.some(({ id }) => id === source) ? `${source} ${columns.length + 1}` : source,
      );
      columns.push(heading ? { ...column, heading } : column);
      continue;
    }
    const stored = toStored(isFormula ? bare.slice(1).trim() : bare, find);
    if (!stored.ok) return fault(stored.fault.message, at, piece.length);
    columns.push({
      ...newColumn(isFormula ? 'formula' : 'pattern', `written-${columns.length + 1}`),
      ...(heading ? { heading } : {}),
      expression: stored.content,
    });
  }
  return columns.length === 0 ? fault('Name at least one column.', 0, 0) : { ok: true, content: columns };
}

/** Sort or group keys from `Material, Length downwards`. */
export function readKeys(text: string, find: FindSource): Checked<{ source: ColumnSource; descending?: boolean }[]> {
  const long = tooLong(text, MOST_LETTERS.columns);
  if (long) return long;
  const keys: { source: ColumnSource; descending?: boolean }[] = [];
  for (const { text: piece, at } of pieces(text)) {
    const word = /(?<=\s)(?:downwards|descending|desc)$/iu.exec(piece);
    const name = word ? piece.slice(0, word.index).trimEnd() : piece;
    const downwards = word !== null;
    const source = find(unquoted(name));
    if (!source) return unknown(name, at);
    keys.push(downwards ? { source, descending: true } : { source });
  }
  return keys.length === 0 ? fault('Name at least one column.', 0, 0) : { ok: true, content: keys };
}

const SIGNS: Readonly<Record<string, Comparison>> = {
  '>=': 'is at least',
  '≥': 'is at least',
  '<=': 'is at most',
  '≤': 'is at most',
  '!=': 'is not',
  '≠': 'is not',
  '=': 'is',
  '>': 'is more than',
  '<': 'is less than',
};
// Longest first: “is not empty” before “is not” before “is”.
const WORDS = [...comparisons]
  .sort((one, other) => other.length - one.length)
  .map((words) => ({ words, pattern: new RegExp(`\\s${words.replaceAll(' ', '\\s+')}(?=[\\s"()]|$)`, 'iuy') }));

/**
 * Rules from `Material is Ash and (Qty is more than 4 or is bought)`, as the sentence writes them; signs such as `>=`
 * stand for words too.
 */
export function readRules(text: string, find: FindSource): Checked<RuleGroup<ColumnSource>> {
  const long = tooLong(text, MOST_LETTERS.rules);
  if (long) return long;
  const reader = new RuleReader(text, find);
  try {
    const rule = reader.group();
    reader.end();
    return { ok: true, content: 'of' in rule ? rule : { holds: 'all', of: [rule] } };
  } catch (error) {
    if (error instanceof Unread) return fault(error.message, error.at, error.length);
    throw error;
  }
}

class Unread extends Error {
  override readonly name = 'Unread';
  constructor(
    message: string,
    readonly at: number,
    readonly length: number,
  ) {
    super(message);
  }
}
type Node = Rule<ColumnSource> | RuleGroup<ColumnSource>;

/** Groups within groups. */
const DEEPEST = 30;

class RuleReader {
  private at = 0;
  private depth = 0;

  constructor(
    private readonly text: string,
    private readonly find: FindSource,
  ) {}

  group(): Node {
    if (++this.depth > DEEPEST)
      throw new Unread(`Parentheses stand more than ${DEEPEST} deep in one another.`, this.at, 1);
    const of = [this.term()];
    let joint: string | null = null;
    for (let next = this.joint(); next; next = this.joint()) {
      if (joint !== null && joint !== next)
        throw new Unread(
          '“and” and “or” side by side can be read in two ways; put parentheses around what belongs together.',
          this.at,
          0,
        );
      joint = next;
      of.push(this.term());
    }
    this.depth--;
    return of.length === 1 ? of[0] : { holds: joint === 'or' ? 'any' : 'all', of };
  }

  end(): void {
    this.skip(/\s*/uy);
    if (this.at < this.text.length) throw new Unread('This ) closes nothing.', this.at, 1);
  }

  private skip(pattern: RegExp): string | null {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (!found) return null;
    this.at += found[0].length;
    return found[0];
  }

  private joint(): 'and' | 'or' | null {
    return (
      (this.skip(/\s*(?<=[\s)"])(and|or)(?=[\s(])/iuy)
        ?.trim()
        .toLowerCase() as 'and' | 'or' | undefined) ?? null
    );
  }

  private term(): Node {
    this.skip(/\s*/uy);
    const open = this.at;
    if (this.skip(/\(/uy)) {
      const inner = this.group();
      this.skip(/\s*/uy);
      if (!this.skip(/\)/uy)) throw new Unread('This ( is not closed.', open, 1);
      return inner;
    }
    const origin = this.skip(/is\s+(bought|made)(?=[\s)]|$)/iuy);
    if (origin) return { source: 'source', comparison: 'is', operand: /bought/i.test(origin) ? 'bought' : 'made' };
    const { source, comparison } = this.comparison();
    return { source, comparison, operand: needsOperand(comparison) ? this.operand() : '' };
  }

  /** A name and what follows it: the earliest comparison before which a known name stands. */
  private comparison(): { source: ColumnSource; comparison: Comparison } {
    const from = this.at;
    const quoted = this.skip(/"[^"]*"|\{[^}]*\}/uy);
    for (let at = this.at; at < this.text.length; at++) {
      const found = comparisonAt(this.text, at);
      if (!found) continue;
      const name = (quoted ? quoted.slice(1, -1) : this.text.slice(from, at)).trim();
      const source = name === '' ? null : this.find(name);
      if (!source && !quoted) continue; // “is” may be part of a name
      if (!source) throw new Unread(`No column or property is called “${name}”.`, from, quoted!.length);
      this.at = at + found.length;
      return { source, comparison: found.comparison };
    }
    const rest = this.text.slice(from).trim();
    throw new Unread(
      rest === ''
        ? 'A rule is missing here: Material is Ash, for instance.'
        : `“${rest}” is no rule: a column of this file, then ${comparisons.slice(0, 3).join(', ')} … or a sign, then a value.`,
      from,
      rest.length,
    );
  }

  private operand(): string {
    this.skip(/\s+/uy);
    const quoted = this.skip(/"(?:[^"]|"")*"/uy);
    if (quoted !== null) return quoted.slice(1, -1).replaceAll('""', '"');
    const bare = this.skip(/(?:(?!(?<!\s)\s+(?:and|or)(?=[\s(]))[^()"])+/iuy)?.trim();
    if (!bare) throw new Unread('A value is missing here.', this.at, 0);
    return bare;
  }
}

function comparisonAt(text: string, at: number): { comparison: Comparison; length: number } | null {
  for (const { words, pattern } of WORDS) {
    pattern.lastIndex = at;
    const found = pattern.exec(text);
    if (found) return { comparison: words, length: found[0].length };
  }
  for (const [sign, comparison] of Object.entries(SIGNS))
    if (text.startsWith(sign, at)) return { comparison, length: sign.length };
  return null;
}
