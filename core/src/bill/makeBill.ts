import {
  isAssembly, occurrenceCounts, parentsFirst, quickKey, Refusal, type Assembly, type Finding, type Treatment,
} from '../assembly/index.ts';
import { identityKeys } from './identity.ts';
import { numberSiblings } from './numbers.ts';
import {
  addressOf, noDecisions, type Address, type Bill, type BillDecisions, type Depth, type LedgerEntry, type Recipe, type Row,
} from './records.ts';

/** A structured bill shows every place; beyond this nobody reads it, and a shared structure could ask for 10¹⁴ lines. */
export const MAX_ROWS = 500_000;
const LISTED: Treatment = { ownLine: true, countContents: true };

/**
 * The lines of a bill, in the order of structure, numbered from the ledger. Pure and deterministic; cost grows with the
 * shared graph and the number of lines, not with occurrences.
 * @throws Refusal beyond MAX_ROWS lines or 2⁵³−1 pieces, and for a cyclic structure
 */
export function makeBill(assembly: Assembly, recipe: Recipe, decisions: BillDecisions = noDecisions): Bill {
  const order = parentsFirst(assembly);
  const { keys, findings } = identityKeys(assembly, recipe.identity, decisions.treatments);
  const maker = new BillMaker(assembly, recipe.depth, decisions, keys, findings);
  if (!isAssembly(assembly.components[assembly.root])) maker.onePart();
  else if (recipe.depth === 'parts-only') maker.partsOnly(order);
  else maker.levels();
  return { recipe, rows: maker.rows, findings, rowOf: (components) => maker.rowOf(components) };
}

interface Line {
  readonly components: number[];
  quantity: number;
}

/** Lines by identity. A component has one identity, so whether it stands in a line already is one question for all lines. */
class Lines extends Map<string, Line> {
  private readonly listed = new Set<number>();

  count(identity: string, component: number, quantity: number): void {
    const line = this.get(identity);
    if (!line) this.set(identity, { components: [component], quantity });
    else {
      line.quantity += quantity;
      if (!this.listed.has(component)) line.components.push(component);
    }
    this.listed.add(component);
  }
}

class BillMaker {
  readonly rows: Row[] = [];
  private readonly issued = new Map<string, LedgerEntry[]>();
  /** Row per component, within a parent row (-1: top). */
  private readonly rowIn = new Map<number, Map<number, number>>();

  constructor(
    private readonly assembly: Assembly,
    private readonly depth: Depth,
    private readonly decisions: BillDecisions,
    private readonly identity: readonly string[],
    private readonly findings: Finding[],
  ) {
    for (const [address, entry] of Object.entries(decisions.ledger)) {
      const scope = address.split('@')[1] ?? '';
      this.issued.set(scope, [...(this.issued.get(scope) ?? []), entry]);
    }
  }

  private treatment(component: number): Treatment {
    return this.decisions.treatments[component] ?? LISTED;
  }

  /** A file that is one part: that part is the line. */
  onePart(): void {
    this.addRows([{ components: [this.assembly.root], quantity: 1 }], -1, null, 1);
  }

  /** Every part once, counted by multiplying along the shared graph. */
  partsOnly(order: Int32Array): void {
    const { components, root } = this.assembly;
    const opened = components.map((component, index) => ({ ...component, usages: index === root || this.treatment(index).countContents ? component.usages : [] }));
    const counts = occurrenceCounts({ components: opened, root }, order);
    const lines = new Lines();
    for (const index of firstAppearance(opened, root)) {
      const whole = opened[index].usages.length === 0;
      if (counts[index] === 0 || !whole || !this.treatment(index).ownLine) continue;
      lines.count(this.identity[index], index, counts[index]);
    }
    this.addRows([...lines.values()], -1, null, 1);
  }

  /** The first level, or all levels indented. */
  levels(): void {
    if (this.depth === 'structured') this.refuseTooMany();
    this.level([this.assembly.root], -1, 1, 1);
  }

  /** Adds the lines inside `parents` (one component, or several that merged because their contents are the same). */
  private level(parents: readonly number[], parentRow: number, parentTotal: number, level: number): void {
    const lines = new Lines();
    this.collect(parents[0], 1, lines);
    const scope = this.assembly.components[parents[0]].key;
    const numbered = this.number([...lines.values()], scope);
    const shownAs = new Map<number, number>();
    this.rowIn.set(parentRow, shownAs);
    const alike = parents.length > 1 ? this.membersOf(parents) : null;
    [...lines].forEach(([key, line], at) => {
      const components = alike?.get(key) ?? line.components;
      const row = this.push({ ...line, components }, numbered[at], parentRow, scope, level, line.quantity * parentTotal);
      for (const component of components) shownAs.set(component, row);
      if (this.rows[row].opened) this.level(components, row, line.quantity * parentTotal, level + 1);
    });
  }

  /** Lines inside one component; what is opened up gives its contents instead of a line. */
  private collect(component: number, times: number, lines: Lines): void {
    for (const { child, quantity } of this.assembly.components[component].usages) {
      const { ownLine, countContents } = this.treatment(child);
      if (ownLine) lines.count(this.identity[child], child, times * quantity);
      else if (countContents) this.collect(child, times * quantity, lines);
    }
  }

  /** Components of all parents per identity, so that rowOf finds the row from any of the merged parents. */
  private membersOf(parents: readonly number[]): Map<string, number[]> {
    const members = new Lines();
    for (const parent of parents) this.collect(parent, 1, members);
    return new Map([...members].map(([key, line]) => [key, line.components]));
  }

  private addRows(lines: readonly Line[], parentRow: number, scope: string | null, level: number): void {
    const numbered = this.number(lines, scope);
    const shownAs = new Map<number, number>();
    this.rowIn.set(parentRow, shownAs);
    lines.forEach((line, at) => {
      const row = this.push(line, numbered[at], parentRow, scope, level, line.quantity);
      for (const component of line.components) shownAs.set(component, row);
    });
  }

  private number(lines: readonly Line[], scope: string | null): { number: number; provisional: boolean }[] {
    const unnumbered = lines.map((line) => ({ addresses: this.addressesOf(line.components, scope) }));
    return numberSiblings(unnumbered, this.decisions.ledger, this.issued.get(scope ?? '') ?? [], this.findings);
  }

  private addressesOf(components: readonly number[], scope: string | null): Address[] {
    return components.map((component) => addressOf(this.assembly.components[component].key, scope as never));
  }

  private push(line: Line, { number, provisional }: { number: number; provisional: boolean }, parent: number, scope: string | null, level: number, totalQuantity: number): number {
    if (!Number.isSafeInteger(totalQuantity)) throw new Refusal('count-too-large', 'A line occurs more often than can be counted exactly (2⁵³−1).');
    const [first] = line.components;
    const assembly = isAssembly(this.assembly.components[first]);
    const above = parent < 0 ? null : this.rows[parent];
    this.rows.push({
      key: quickKey(above?.key ?? '', this.identity[first]),
      item: above ? `${above.item}.${number}` : String(number),
      number, provisional, level, parent, totalQuantity,
      kind: assembly ? 'assembly' : 'part',
      opened: assembly && this.depth === 'structured' && this.treatment(first).countContents,
      components: line.components,
      addresses: this.addressesOf(line.components, scope),
      quantity: line.quantity,
    });
    return this.rows.length - 1;
  }

  /** Counts the lines before making them. */
  private refuseTooMany(): void {
    const { components, root } = this.assembly;
    const below = new Float64Array(components.length);
    for (const at of parentsFirst(this.assembly).reverse()) {
      if (at !== root && !this.treatment(at).countContents) continue;
      const children = new Set(components[at].usages.map((usage) => usage.child));
      for (const child of children) below[at] += (this.treatment(child).ownLine ? 1 : 0) + below[child];
    }
    if (below[root] > MAX_ROWS) {
      throw new Refusal('too-many-rows', `Level by level this machine has about ${below[root].toPrecision(3)} lines; up to ${MAX_ROWS} can be shown. Choose “every part once” (parts-only) instead.`);
    }
  }

  rowOf(path: readonly number[]): number {
    if (path.length === 1) return this.rowIn.get(-1)?.get(path[0]) ?? -1;
    let found = -1;
    for (const component of path.slice(1)) {
      const { ownLine, countContents } = this.treatment(component);
      const context = this.depth === 'structured' ? found : -1;
      const row = this.rowIn.get(context)?.get(component);
      if (ownLine && row !== undefined && (this.depth !== 'single-level' || found < 0)) found = row;
      if (!countContents) return ownLine ? found : -1;
    }
    return found;
  }
}

/** Component indices reachable from the root, in the order of first appearance when the tree is read from top to bottom. */
function firstAppearance(components: readonly { usages: readonly { child: number }[] }[], root: number): number[] {
  const seen = new Uint8Array(components.length);
  const order: number[] = [];
  const stack = [root];
  while (stack.length > 0) {
    const at = stack.pop()!;
    if (seen[at]) continue;
    seen[at] = 1;
    order.push(at);
    const { usages } = components[at];
    for (let step = usages.length - 1; step >= 0; step--) if (!seen[usages[step].child]) stack.push(usages[step].child);
  }
  return order;
}

/** What the ledger must gain so that every number shown is kept: for each row all of its addresses. */
export function numbersToKeep(bill: Bill): Record<Address, LedgerEntry> {
  const entries: Record<Address, LedgerEntry> = {};
  for (const row of bill.rows) if (row.provisional) for (const address of row.addresses) entries[address] = { number: row.number };
  return entries;
}
