import { LEFT_OUT_REASON, occurrenceCounts, type Assembly } from '../../assembly/index.ts';
import type { Bill } from '../../bill/index.ts';
import { componentValue, propertyNames, readRules, rulesHold, sourceFinder } from '../../columns/index.ts';

const known = new WeakMap<Assembly, Map<string, number | null>>();
const MOST_KNOWN = 500;
const plain = (text: string): string => text.trim().toLocaleLowerCase();

/**
 * How often something stands in the machine, by what is written behind `count of`: a name or part number (`Cap`), one with rules
 * (`Cap where Colour = red`), or a line of the list (`row 7`). Places that were left out with a reason do not count. Null for
 * what nothing is called, and rules that cannot be read. Worked out once per machine.
 */
export function countOf(text: string, assembly: Assembly, bill: Pick<Bill, 'rows'>): number | null {
  const item = /^(?:row|line|item)\s+(\S+)$/i.exec(text.trim())?.[1];
  if (item) return bill.rows.find((row) => row.item === item)?.totalQuantity ?? null;
  let counts = known.get(assembly);
  if (!counts) known.set(assembly, (counts = new Map()));
  let count = counts.get(text);
  if (count === undefined) {
    count = countPlaces(text, assembly);
    if (counts.size < MOST_KNOWN) counts.set(text, count);
  }
  return count;
}

function countPlaces(text: string, assembly: Assembly): number | null {
  const [, name = '', rules] = /^(.*?)(?:\s+where\s+(.+))?$/i.exec(text.trim()) ?? [];
  const read = rules === undefined ? null : readRules(rules, sourceFinder(propertyNames(assembly)));
  if (read && !read.ok) return null;
  const wanted = plain(name);
  if (wanted === '') return null;
  const counts = occurrenceCounts(assembly);
  let found = false,
    sum = 0;
  assembly.components.forEach((component, at) => {
    if (plain(component.name) !== wanted && plain(component.partNumber) !== wanted) return;
    found = true;
    if (Object.hasOwn(component.properties, LEFT_OUT_REASON)) return;
    if (!read || rulesHold(read.content, (source) => [componentValue(component, source)])) sum += counts[at];
  });
  return found ? sum : null;
}
