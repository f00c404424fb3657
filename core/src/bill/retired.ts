import { groupBy, isAssembly, type Assembly } from '../assembly/index.ts';
import { itemText, ledgerByLevel } from './numbers.ts';
import { numberingAt, usualNumbering, type Ledger, type Recipe, type RetiredLine, type Row } from './records.ts';

/**
 * Lines whose numbers are retired, where they would stand in a list: behind the next smaller number of their level, or
 * behind all of them where the list is not in the order of numbers. Levels that the list does not open are left out, and
 * numbers that something has again.
 */
export function retiredLines(
  assembly: Assembly,
  { numbering = usualNumbering, depth }: Recipe,
  ledger: Ledger,
  rows: readonly Row[],
): RetiredLine[] {
  const levels = ledgerByLevel(ledger);
  const children = groupBy(
    rows.map((_, at) => at),
    (at) => rows[at].parent,
  );
  /** Of the last row of what is listed in a row. */
  const endOf = (at: number): number => {
    let end = at;
    while (end + 1 < rows.length && rows[end + 1].level > rows[at].level) end++;
    return end;
  };
  const root = assembly.components[assembly.root];
  const found: RetiredLine[] = [];
  const visit = (parent: number, scope: string): void => {
    const here = children.get(parent) ?? [];
    const level = (parent < 0 ? 0 : rows[parent].level) + 1;
    const inUse = new Set(here.map((at) => rows[at].number));
    const inOrder = here.every((at, one) => one === 0 || rows[here[one - 1]].number <= rows[at].number);
    const last = here.at(-1);
    for (const { number, retired, was } of levels.get(scope)?.values() ?? []) {
      if (!retired || inUse.has(number)) continue;
      inUse.add(number); // members of a merged line have the same
      const before = inOrder ? here.findLast((at) => rows[at].number < number) : last;
      found.push({
        after: before === undefined ? parent : endOf(before),
        number,
        item: itemText(number, parent < 0 ? '' : rows[parent].item, numberingAt(numbering, level)),
        level,
        ...(was ? { was } : {}),
      });
    }
    for (const at of here) if (rows[at].opened) visit(at, assembly.components[rows[at].components[0]].key);
  };
  visit(-1, depth === 'parts-only' || !isAssembly(root) ? '' : root.key);
  return found.sort((a, b) => a.after - b.after || b.level - a.level || a.number - b.number);
}
