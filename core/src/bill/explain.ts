import {
  groupBy,
  partLabel,
  wordFor,
  type Assembly,
  type UsageKey,
  type ComponentIndex,
  type RowIndex,
} from '../assembly/index.ts';
import { decidedFor, type Bill, type BillDecisions, type Row } from './records.ts';

/** One place of a line's pieces. */
interface OccurrenceOf {
  readonly path: readonly UsageKey[];
  /** Component indices along the path, root first. */
  readonly components: readonly ComponentIndex[];
  /** Pieces that this usage path stands for; more than 1 where a file gives quantities. */
  readonly quantity: number;
}
/** Occurrences with the same way down, by the names of what they are in. */
interface PlacesOf {
  readonly names: readonly string[];
  readonly pieces: number;
  readonly occurrences: readonly OccurrenceOf[];
}
interface Explanation {
  /** Whole pieces over one machine. */
  readonly pieces: number;
  readonly places: readonly PlacesOf[];
  /** Pieces in places that are not listed because there are too many. */
  readonly more: number;
  /** Treatments and decisions that led to the count, in words. */
  readonly remarks: readonly string[];
}

/** So many places are walked to; the count itself does not depend on it. */
const MOST_PLACES = 2000;

/** Why a line has its quantity: the occurrences, their ways down, and the treatments and decisions on them. */
export function explainRow(assembly: Assembly, bill: Bill, row: RowIndex, decisions: BillDecisions): Explanation {
  const line = bill.rows[row];
  const members = new Set(line.components);
  const leads = leadingTo(assembly, members);
  const found: OccurrenceOf[] = [];
  const opened = new Set<string>();
  const walk = (components: ComponentIndex[], path: UsageKey[], quantity: number): void => {
    const at = components[components.length - 1];
    if (
      members.has(at) &&
      (path.length > 0 || assembly.root === at) &&
      bill.rowOf(components) === row &&
      isThisLine(bill, components, row)
    ) {
      found.push({ path: [...path], components: [...components], quantity });
      components.slice(1, -1).forEach((component) => {
        const treatment = decisions.treatments[component];
        if (treatment && wordFor(treatment) === 'opened up')
          opened.add(assembly.components[component].name || partLabel(assembly.components[component]));
      });
    }
    for (const usage of assembly.components[at].usages) {
      if (found.length >= MOST_PLACES || !leads[usage.child]) continue;
      components.push(usage.child);
      path.push(usage.key);
      walk(components, path, quantity * usage.quantity);
      components.pop();
      path.pop();
    }
  };
  if (members.size > 0) walk([assembly.root], [], 1);
  const nameOf = (component: ComponentIndex) =>
    assembly.components[component].name || partLabel(assembly.components[component]);
  const byWay = groupBy(found, ({ components }) => components.slice(0, -1).join(' '));
  const places = [...byWay.values()].map((occurrences): PlacesOf => ({
    names: occurrences[0].components.slice(1, -1).map(nameOf),
    pieces: occurrences.reduce((sum, { quantity }) => sum + quantity, 0),
    occurrences,
  }));
  const listed = places.reduce((sum, { pieces }) => sum + pieces, 0);
  return {
    pieces: line.totalQuantity,
    places,
    more: Math.max(0, line.totalQuantity - listed),
    remarks: remarksOn(assembly, bill, line, decisions, opened),
  };
}

/** A piece inside a closed line belongs to that line without being what it lists. */
const isThisLine = (bill: Bill, components: readonly ComponentIndex[], row: RowIndex): boolean =>
  components.length === 1 || bill.rowOf(components.slice(0, -1)) !== row;

/** Components that have one of the members somewhere below them, and the members themselves. */
function leadingTo(assembly: Assembly, members: ReadonlySet<number>): Uint8Array {
  const users = new Map<number, number[]>();
  assembly.components.forEach(({ usages }, parent) =>
    usages.forEach(({ child }) => {
      const of = users.get(child);
      if (of) of.push(parent);
      else users.set(child, [parent]);
    }),
  );
  const leads = new Uint8Array(assembly.components.length);
  const open = [...members];
  for (const at of members) leads[at] = 1;
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const parent of users.get(at) ?? []) {
      if (leads[parent]) continue;
      leads[parent] = 1;
      open.push(parent);
    }
  }
  return leads;
}

function remarksOn(
  assembly: Assembly,
  bill: Bill,
  row: Row,
  decisions: BillDecisions,
  opened: ReadonlySet<string>,
): string[] {
  const remarks: string[] = [];
  const { recipe } = bill;
  if (row.line) remarks.push('A line without a shape: its quantity was typed.');
  if (row.components.length > 1) {
    const by = recipe.identity === 'part-number' ? 'part number' : recipe.identity;
    remarks.push(
      `${row.components.length} definitions count as one line: the same ${by}${recipe.identityWith?.length ? ` and ${recipe.identityWith.join(', ')}` : ''}${row.addresses.some((address) => decidedFor(decisions.joins, address)) ? ', or joined by hand' : ''}.`,
    );
  }
  if (row.addresses.some((address) => decidedFor(decisions.apart, address) !== undefined))
    remarks.push('Kept apart by hand.');
  if (opened.size > 0) remarks.push(`Counted through ${[...opened].join(', ')}, opened up.`);
  const treatment = row.components.length > 0 ? decisions.treatments[row.components[0]] : undefined;
  if (treatment && wordFor(treatment) !== 'listed') remarks.push(`It is ${wordFor(treatment)}.`);
  const { amount } = row;
  if (amount.kind === 'sum')
    remarks.push(`The quantity is a size summed over ${row.totalQuantity} pieces, in ${amount.unit}.`);
  if (amount.kind === 'fixed' && !row.line) remarks.push('The quantity is fixed by hand.');
  if (amount.kind === 'as required') remarks.push('The quantity is as required.');
  if (
    row.components.some((component) => assembly.components[component].usages.length > 0) &&
    !row.opened &&
    recipe.depth === 'structured' &&
    row.canOpen
  )
    remarks.push('Closed here: its contents are not listed.');
  return remarks;
}
