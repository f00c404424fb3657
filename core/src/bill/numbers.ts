import type { Finding } from '../assembly/index.ts';
import { usualNumbering, type Address, type Ledger, type LedgerEntry, type Numbering } from './records.ts';

/**
 * What a ledger has for one level of a bill, by the name of what a number belongs to: a component key, or `line:id`.
 */
export type LevelLedger = ReadonlyMap<string, LedgerEntry>;

/**
 * A ledger by levels: the parent's key, empty for the top of a list that is not indented. The names of lines are
 * looked up in these, since an address would have to be made and hashed for each of many thousand lines.
 */
export function ledgerByLevel(ledger: Ledger): Map<string, Map<string, LedgerEntry>> {
  const levels = new Map<string, Map<string, LedgerEntry>>();
  for (const address of Object.keys(ledger) as Address[]) {
    const at = address.indexOf('@');
    const scope = at < 0 ? '' : address.slice(at + 1);
    let level = levels.get(scope);
    if (!level) levels.set(scope, (level = new Map()));
    level.set(at < 0 ? address : address.slice(0, at), ledger[address]);
  }
  return levels;
}
interface Numbered {
  readonly number: number;
  readonly provisional: boolean;
}

/**
 * Numbers for sibling lines in their order: what the ledger has for one of their addresses, first address first; else
 * the next after the highest number in use among these siblings, as a proposal. A number that two lines claim stays
 * with the first.
 * @param lines for each the names of what it stands for
 * @param level every entry that belongs to this level, also of lines that are gone
 */
export function numberSiblings(
  lines: readonly (readonly string[])[],
  level: LevelLedger,
  findings: Finding[],
  numbering: Numbering = usualNumbering,
): Numbered[] {
  const taken = new Set<number>();
  const held = lines.map((names) => {
    let number: number | undefined;
    for (const name of names) {
      const entry = level.get(name);
      if (!entry || entry.retired) continue;
      ({ number } = entry);
      break;
    }
    if (number === undefined) return null;
    if (taken.has(number)) {
      findings.push({
        code: 'number-claimed-twice',
        message: `Number ${number} belongs to two lines; the first keeps it, the other gets the next free one.`,
      });
      return null;
    }
    taken.add(number);
    return number;
  });
  const next = freeNumbers(
    numbering,
    new Set(),
    [...level.values()].reduce((most, { number }) => Math.max(most, number), numbering.start - numbering.step),
  );
  return held.map((number) =>
    number === null ? { number: next(), provisional: true } : { number, provisional: false },
  );
}

/** Gives out start, start + step, … above `above`, sparing what is spoken for and what is reserved. */
export function freeNumbers(
  { start, step, reserved }: Numbering,
  spoken: ReadonlySet<number>,
  above: number,
): () => number {
  let at = start + Math.max(0, Math.floor((above - start) / step) + 1) * step;
  return () => {
    for (;;) {
      const range = reserved.find(({ from, to }) => at >= from && at <= to);
      if (range) at = start + Math.max(0, Math.floor((range.to - start) / step) + 1) * step;
      else if (spoken.has(at)) at += step;
      else break;
    }
    at += step;
    return at - step;
  };
}

/** The item number as it is written, below `above` (empty at the top level). @param numbering of its level */
export function itemText(number: number, above: string, { prefix, width, separator, letters }: Numbering): string {
  const own = prefix + String(number).padStart(width, '0');
  if (above === '') return own;
  return letters ? above + letterNumber(number) : above + separator + own;
}

/** 1 → a, 26 → z, 27 → aa. */
function letterNumber(number: number): string {
  let text = '';
  for (let rest = number; rest > 0; rest = Math.floor((rest - 1) / 26))
    text = String.fromCharCode(97 + ((rest - 1) % 26)) + text;
  return text;
}

/** At most so many numbers are named in a sentence. */
const NAMED = 12;

/**
 * Numbers between the first and the last that nobody has: neither a line here, nor a retired or reserved one, nor a
 * line of another depth.
 */
export function gapsIn(
  numbers: readonly number[],
  issued: readonly LedgerEntry[],
  { start, step, reserved }: Numbering,
): string | null {
  const spoken = new Set([...numbers, ...issued.map(({ number }) => number)]);
  const gaps: number[] = [];
  const last = numbers.reduce((most, number) => Math.max(most, number), start);
  if ((last - start) / step > 100_000) return null; // numbers out of other systems: no sequence is meant
  for (let at = start; at < last; at += step)
    if (!spoken.has(at) && !reserved.some(({ from, to }) => at >= from && at <= to)) gaps.push(at);
  return gaps.length === 0
    ? null
    : gaps.slice(0, NAMED).join(', ') + (gaps.length > NAMED ? ` and ${gaps.length - NAMED} more` : '');
}
