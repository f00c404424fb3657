import {
  isAssembly,
  occurrenceCounts,
  Refusal,
  type Assembly,
  type ComponentKey,
  type Treatment,
  type ComponentIndex,
} from '../assembly/index.ts';
import type { Identities } from './identity.ts';
import {
  addressOf,
  decidedFor,
  hasAny,
  lineAddress,
  type Address,
  type Amount,
  type BillDecisions,
  type LineWithoutShape,
  type Recipe,
} from './records.ts';

/** A line on its way through the stages of a bill: a tree, as deep as the bill is indented. */
export interface Draft {
  readonly components: readonly ComponentIndex[];
  /** Pieces per parent of each component. */
  readonly counts: readonly number[];
  readonly quantity: number;
  readonly totalQuantity: number;
  readonly addresses: readonly Address[];
  readonly canOpen: boolean;
  readonly opened: boolean;
  readonly line: LineWithoutShape | null;
  readonly level: number;
  /** Names the line among its siblings: what made its pieces one. */
  readonly identity: string;
  /** The same without the contents of assemblies: finds the line again in another variant. */
  readonly match: string;
  /** Component that its siblings are listed in. */
  readonly scope: ComponentKey | null;
  children: Draft[];
  /** Filled in by later stages. */
  number: number;
  provisional: boolean;
  amount: Amount;
  inVariants?: Record<string, number | null>;
}
const NOT_YET = {
  number: 0,
  provisional: true,
  amount: { kind: 'each', perParent: null, total: null, unit: '' } as Amount,
};

export function eachDraft(drafts: readonly Draft[], visit: (draft: Draft) => void): void {
  for (const draft of drafts) {
    visit(draft);
    eachDraft(draft.children, visit);
  }
}

/**
 * A structured bill shows every place; beyond this nobody reads it, and a shared structure could ask for 10¹⁴ lines.
 */
const MAX_ROWS = 500_000;
const LISTED: Treatment = { ownLine: true, countContents: true };

interface Line {
  readonly components: ComponentIndex[];
  readonly counts: number[];
  quantity: number;
}

/**
 * Lines by identity. A component has one identity, so where it stands in a line already is one question for all
 * lines.
 */
class Lines extends Map<string, Line> {
  private readonly places = new Map<number, number>();

  count(identity: string, component: ComponentIndex, quantity: number): void {
    const line = this.get(identity);
    if (!line) {
      // As literals: an empty array that is pushed to takes room for 17, in each of hundreds of thousands of lines.
      this.set(identity, { components: [component], counts: [quantity], quantity });
      this.places.set(component, 0);
      return;
    }
    line.quantity += quantity;
    const place = this.places.get(component);
    if (place === undefined) {
      this.places.set(component, line.components.push(component) - 1);
      line.counts.push(quantity);
    } else line.counts[place] += quantity;
  }
}

/** Collects the lines of a bill in the order of structure: what is counted, how often, and what merges. */
export class LineMaker {
  private readonly indexOf: ReadonlyMap<ComponentKey, number>;
  private readonly closed: Recipe['closed'];
  /** Components that were joined but hold different things, in pairs. */
  readonly vainJoins = new Map<string, readonly [number, number]>();

  constructor(
    private readonly assembly: Assembly,
    private readonly recipe: Recipe,
    private readonly decisions: BillDecisions,
    private readonly identities: Identities,
  ) {
    this.closed = recipe.closed && hasAny(recipe.closed) ? recipe.closed : undefined;
    this.indexOf = new Map(assembly.components.map(({ key }, index) => [key, index]));
  }

  treatment(component: ComponentIndex): Treatment {
    return this.decisions.treatments[component] ?? LISTED;
  }

  make(order: Int32Array): Draft[] {
    const { components, root } = this.assembly;
    if (!isAssembly(components[root]))
      return this.drafts(
        new Map([[this.identities.keys[root], { components: [root], counts: [1], quantity: 1 }]]),
        null,
        1,
        1,
      );
    if (this.recipe.depth === 'parts-only') return this.partsOnly(order);
    if (this.recipe.depth === 'structured') this.refuseTooMany(order);
    return this.level([root], 1, 1);
  }

  /** Every part once, counted by multiplying along the shared graph. */
  private partsOnly(order: Int32Array): Draft[] {
    const { components, root } = this.assembly;
    const opened = components.map((component, index) => ({
      ...component,
      usages: index === root || this.treatment(index).countContents ? component.usages : [],
    }));
    const counts = occurrenceCounts({ components: opened, root }, order);
    const lines = new Lines();
    for (const index of firstAppearance(opened, root)) {
      const whole = opened[index].usages.length === 0;
      if (counts[index] === 0 || !whole || !this.treatment(index).ownLine) continue;
      lines.count(this.identityIn(index, null), index, counts[index]);
    }
    return this.drafts(lines, null, 1, 1);
  }

  /** The lines inside `parents` (one component, or several that merged because their contents are the same). */
  private level(parents: readonly ComponentIndex[], parentTotal: number, level: number): Draft[] {
    const scope = this.assembly.components[parents[0]].key;
    const lines = new Lines();
    this.collect(parents[0], 1, lines, scope);
    if (parents.length > 1) {
      // Components of the other parents belong to the same lines, so that each piece finds its line; they count
      // nothing more.
      const members = new Lines();
      for (const parent of parents) this.collect(parent, 1, members, scope);
      for (const [key, { components }] of members) {
        const line = lines.get(key);
        for (const component of components)
          if (line && !line.components.includes(component)) line.counts[line.components.push(component) - 1] = 0;
      }
    }
    return this.drafts(lines, scope, parentTotal, level);
  }

  /** Lines inside one component; what is opened up gives its contents instead of a line. */
  private collect(component: ComponentIndex, times: number, lines: Lines, scope: ComponentKey): void {
    for (const { child, quantity } of this.assembly.components[component].usages) {
      const { ownLine, countContents } = this.treatment(child);
      if (ownLine) lines.count(this.identityIn(child, scope), child, times * quantity);
      else if (countContents) this.collect(child, times * quantity, lines, scope);
    }
  }

  private drafts(
    lines: ReadonlyMap<string, Line>,
    scope: ComponentKey | null,
    parentTotal: number,
    level: number,
  ): Draft[] {
    const made = [...lines].map(([identity, { components, counts, quantity }]): Draft => {
      const totalQuantity = quantity * parentTotal;
      if (!Number.isSafeInteger(totalQuantity))
        throw new Refusal('count-too-large', 'A line occurs more often than can be counted exactly (2⁵³−1).');
      const [first] = components;
      const addresses = components.map((component) => addressOf(this.assembly.components[component].key, scope));
      const canOpen =
        this.recipe.depth === 'structured' &&
        isAssembly(this.assembly.components[first]) &&
        this.treatment(first).countContents;
      const opened = canOpen && !(this.closed && addresses.some((address) => decidedFor(this.closed, address)));
      return {
        components,
        counts,
        quantity,
        totalQuantity,
        addresses,
        canOpen,
        opened,
        line: null,
        level,
        identity,
        match: this.identities.base[first],
        scope,
        children: opened ? this.level(components, totalQuantity, level + 1) : [],
        ...NOT_YET,
      };
    });
    return this.insertLines(made, scope, parentTotal, level);
  }

  /** Lines without a shape, each behind the line that it follows; at the end where that is gone. */
  private insertLines(drafts: Draft[], scope: ComponentKey | null, parentTotal: number, level: number): Draft[] {
    const { lines = [] } = this.decisions;
    if (lines.length === 0) return drafts;
    // In a list of one level the top stands for everything; a line in a subassembly shows where that is opened.
    const top = scope === null || scope === this.assembly.components[this.assembly.root].key;
    const own = lines.filter(({ parent }) =>
      this.recipe.depth === 'parts-only' ? true : top ? parent === null : parent === scope,
    );
    for (const line of own) {
      const quantity = line.quantity.kind === 'fixed' ? line.quantity.value : 0;
      const address = lineAddress(line.id, scope);
      const draft: Draft = {
        components: [],
        counts: [],
        quantity,
        totalQuantity: quantity * parentTotal,
        addresses: [address],
        canOpen: false,
        opened: false,
        line,
        level,
        identity: address,
        match: address,
        scope,
        children: [],
        ...NOT_YET,
      };
      const follows = line.after?.split('@')[0];
      const behind =
        line.after === null
          ? -1
          : drafts.findIndex(({ addresses }) => addresses.some((one) => one.split('@')[0] === follows));
      let place = line.after === null ? 0 : behind < 0 ? drafts.length : behind + 1;
      // Those that follow the same line stand in the order in which they were put there
      while (drafts[place]?.line?.after === line.after && drafts[place].line) place++;
      drafts.splice(place, 0, draft);
    }
    return drafts;
  }

  /** What a component's pieces are counted under here, with joining and keeping apart. */
  private identityIn(component: ComponentIndex, scope: ComponentKey | null): string {
    const { joins, apart } = this.decisions;
    if (!joins && !apart) return this.identities.keys[component];
    const seen = new Set<number>();
    let at = component;
    for (;;) {
      seen.add(at);
      const address = addressOf(this.assembly.components[at].key, scope);
      const target = this.indexOf.get((decidedFor(joins, address)?.split('@')[0] ?? '') as ComponentKey);
      if (target === undefined || seen.has(target)) break;
      // Assemblies with different contents are never one line: the contents of one would be wrong for the other.
      if (this.identities.content[target] !== this.identities.content[at]) {
        this.vainJoins.set(`${at} ${target}`, [at, target]);
        break;
      }
      at = target;
    }
    const tag = decidedFor(apart, addressOf(this.assembly.components[at].key, scope));
    return tag === undefined ? this.identities.keys[at] : `${this.identities.keys[at]} apart:${tag}`;
  }

  /** Counts the lines before making them. */
  private refuseTooMany(order: Int32Array): void {
    const { components, root } = this.assembly;
    const closed = new Set(Object.keys(this.recipe.closed ?? {}).filter((address) => !address.includes('@')));
    const below = new Float64Array(components.length);
    for (const at of order.toReversed()) {
      if (at !== root && (!this.treatment(at).countContents || closed.has(components[at].key))) continue;
      const children = new Set(components[at].usages.map((usage) => usage.child));
      for (const child of children) below[at] += (this.treatment(child).ownLine ? 1 : 0) + below[child];
    }
    if (below[root] > MAX_ROWS) {
      throw new Refusal(
        'too-many-rows',
        `Level by level this machine has about ${below[root].toPrecision(3)} lines; up to ${MAX_ROWS} can be shown. Choose “every part once” (parts-only) instead.`,
      );
    }
  }
}

/**
 * Component indices reachable from the root, in the order of first appearance when the tree is read from top to
 * bottom.
 */
function firstAppearance(
  components: readonly { usages: readonly { child: ComponentIndex }[] }[],
  root: number,
): number[] {
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
