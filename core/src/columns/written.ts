// Columns, order and rules as a person writes them on one line. What the sentence of a recipe says is read back alike.
import type { Column, ColumnSource } from './columns.ts';
import { newColumn } from './columns.ts';
import { fault, toStored, type Checked } from './expressions.ts';
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

/**
 * Columns from `Item, Qty, Name as Part, "{Name}, L = {Length}" as Text, = {Qty} × {Mass each} as Weight`: names,
 * with the heading behind `as`; texts with `{Column}` in them, and formulas behind `=`.
 */
export function readColumns(text: string, find: FindSource): Checked<Column[]> {
  const columns: Column[] = [];
  for (const { text: piece, at } of pieces(text)) {
    const [, content, heading] = /^(.*?)(?:\s+as\s+([^{}]+))?$/su.exec(piece)!;
    const bare = unquoted(content.trim());
    const isFormula = bare.startsWith('=');
    if (!isFormula && !bare.includes('{')) {
      const source = find(bare);
      if (!source) return unknown(bare, at);
      const column = newColumn(
        source,
        columns.some(({ id }) => id === source) ? `${source} ${columns.length + 1}` : source,
      );
      columns.push(heading ? { ...column, heading: heading.trim() } : column);
      continue;
    }
    const stored = toStored(isFormula ? bare.slice(1).trim() : bare, find);
    if (!stored.ok) return fault(stored.fault.message, at, piece.length);
    columns.push({
      ...newColumn(isFormula ? 'formula' : 'pattern', `written-${columns.length + 1}`),
      ...(heading ? { heading: heading.trim() } : {}),
      expression: stored.content,
    });
  }
  return columns.length === 0 ? fault('Name at least one column.', 0, 0) : { ok: true, content: columns };
}

/** Sort or group keys from `Material, Length downwards`. */
export function readKeys(text: string, find: FindSource): Checked<{ source: ColumnSource; descending?: boolean }[]> {
  const keys: { source: ColumnSource; descending?: boolean }[] = [];
  for (const { text: piece, at } of pieces(text)) {
    const [, name, downwards] = /^(.*?)(\s+(?:downwards|descending|desc))?$/isu.exec(piece)!;
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

class RuleReader {
  private at = 0;

  constructor(
    private readonly text: string,
    private readonly find: FindSource,
  ) {}

  group(): Node {
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
    const bare = this.skip(/(?:(?!\s+(?:and|or)(?=[\s(]))[^()"])+/iuy)?.trim();
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
