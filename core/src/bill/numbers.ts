import type { Finding } from '../assembly/index.ts';
import type { Address, Ledger, LedgerEntry } from './records.ts';

/** A line that needs a number, among its siblings. */
export interface Unnumbered {
  readonly addresses: readonly Address[];
}
export interface Numbered {
  readonly number: number;
  readonly provisional: boolean;
}

/**
 * Numbers for sibling lines in their order: what the ledger has for one of their addresses, first address first; else the
 * next after the highest number in use among these siblings, as a proposal. A number that two lines claim stays with the
 * first.
 * @param issued every ledger entry that belongs to this level of the bill, also of lines that are gone
 */
export function numberSiblings(lines: readonly Unnumbered[], ledger: Ledger, issued: readonly LedgerEntry[], findings: Finding[]): Numbered[] {
  const taken = new Set<number>();
  const held = lines.map(({ addresses }) => {
    const number = addresses.map((address) => ledger[address]).find((entry) => entry && !entry.retired)?.number;
    if (number === undefined) return null;
    if (taken.has(number)) {
      findings.push({ code: 'number-claimed-twice', message: `Number ${number} belongs to two lines; the first keeps it, the other gets the next free one.` });
      return null;
    }
    taken.add(number);
    return number;
  });
  let next = Math.max(0, ...issued.map((entry) => entry.number)) + 1;
  return held.map((number) => (number === null ? { number: next++, provisional: true } : { number, provisional: false }));
}
