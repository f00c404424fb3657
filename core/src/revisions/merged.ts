import { parentsFirst, type Assembly, type ComponentKey } from '../assembly/index.ts';
import type { ModelChanges } from './changes.ts';

/** What a line of the merged structure is marked as; in the order of what matters. */
export const mergedMarks = ['new', 'gone', 'changed', 'moved'] as const;
export type MergedMark = (typeof mergedMarks)[number];

/** A component under a parent in two assemblies at once. */
export interface MergedChild {
  readonly component: ComponentKey;
  /** Index in the earlier and in the later assembly; −1 where it is not there. */
  readonly was: number;
  readonly is: number;
  /** How many its parent held and holds. */
  readonly quantityWas: number;
  readonly quantityIs: number;
  /** null where it is as it was at the places that it had. */
  readonly mark: MergedMark | null;
  /** Whether something that it holds is marked. */
  readonly holdsMarked: boolean;
  /** Whether there is anything in it. */
  readonly canOpen: boolean;
}
/** … where it is shown. */
export interface MergedRow extends MergedChild {
  /** Component keys from the top down, joined by `/`: of its own among the rows. */
  readonly key: string;
  /** 0 at the top. */
  readonly level: number;
}

/** Two assemblies under one set of keys as one structure; rows are worked out as they are opened. */
export interface MergedStructure {
  /**
   * Rows in structure order, at most MOST_ROWS; what is gone stands where it stood.
   * @param isOpen what is closed is not looked into
   * @param wanted rows that are shown, with those that lead to them; all where null
   * @param holds whether something wanted is in what is closed; whether it holds a change where absent
   */
  readonly rows: (
    isOpen: (row: MergedRow) => boolean,
    wanted: ((child: MergedChild) => boolean) | null,
    holds?: (child: MergedChild) => boolean,
  ) => MergedRow[];
  /** Everything that holds, on whatever level, one of these components. */
  readonly holdersOf: (components: ReadonlySet<ComponentKey>) => ReadonlySet<ComponentKey>;
}

/** More rows than this nobody reads; shared assemblies could open into any number. */
export const MOST_ROWS = 20_000;

/** Costs one pass over both assemblies; rows cost what they show. */
export function mergeStructures(before: Assembly, after: Assembly, changes: ModelChanges): MergedStructure {
  // Components of both by one number: those of the later one by their index, behind them what is gone.
  const ids = new Map(after.components.map(({ key }, index) => [key, index]));
  const gone = before.components.flatMap(({ key }, index) => (ids.has(key) ? [] : [{ key, index }]));
  gone.forEach(({ key }, at) => ids.set(key, after.components.length + at));
  const idBefore = Int32Array.from(before.components, ({ key }) => ids.get(key)!);
  const wasOf = new Int32Array(ids.size).fill(-1);
  idBefore.forEach((id, index) => (wasOf[id] = index));
  const keys = [...ids.keys()];
  const byId = <Value>(entries: Iterable<readonly [ComponentKey, Value]>): Value[] => {
    const list: Value[] = [];
    for (const [key, value] of entries) list[ids.get(key)!] = value;
    return list;
  };
  const kinds = byId(changes.components.map(({ key, kind, changes: of }) => [key, kindOf(kind, of)] as const));
  const moved = new Map<ComponentKey, Set<ComponentKey>>();
  for (const { kind, parent, component } of changes.usages)
    if (kind === 'moved' || kind === 'other parent') {
      const some = moved.get(parent);
      if (some) some.add(component);
      else moved.set(parent, new Set([component]));
    }
  const touched = byId([...touchedKeys(before, after, changes)].map((key) => [key, true] as const));
  const isOf = (id: number) => (id < after.components.length ? id : -1);
  const opens = (index: number, { components }: Assembly) => index >= 0 && components[index].usages.length > 0;
  const make = (id: number, parent: ComponentKey | null, quantityWas: number, quantityIs: number): MergedChild => {
    const component = keys[id],
      was = wasOf[id],
      is = isOf(id);
    const mark =
      kinds[id] ??
      (parent && quantityIs === 0
        ? 'gone'
        : parent && quantityWas === 0
          ? 'new'
          : quantityWas !== quantityIs
            ? 'changed'
            : parent && moved.get(parent)?.has(component)
              ? 'moved'
              : null);
    const canOpen = opens(was, before) || opens(is, after);
    return { component, was, is, quantityWas, quantityIs, mark, holdsMarked: touched[id] ?? false, canOpen };
  };
  // What a component holds is the same wherever it stands: worked out once, rows are made of what is shown only.
  const known = new Map<ComponentKey, readonly MergedChild[]>();
  const childrenOf = (parent: MergedChild): readonly MergedChild[] => {
    let children = known.get(parent.component);
    if (!children) known.set(parent.component, (children = makeChildren(parent)));
    return children;
  };
  const counts = [new Float64Array(ids.size), new Float64Array(ids.size)] as const;
  /** Adds up what a component holds; gives the ids of it once each, in order. */
  const count = (side: 0 | 1, index: number): number[] => {
    const found: number[] = [];
    for (const { child, quantity } of index < 0 ? [] : (side === 0 ? before : after).components[index].usages) {
      const id = side === 0 ? idBefore[child] : child;
      if (counts[side][id] === 0) found.push(id);
      counts[side][id] += quantity;
    }
    return found;
  };
  const makeChildren = (parent: MergedChild): MergedChild[] => {
    const [were, are] = [count(0, parent.was), count(1, parent.is)];
    // What is gone stands behind what stood before it.
    const goneBehind = new Map<number, number[]>();
    let last = -1;
    for (const id of were)
      if (counts[1][id] > 0) last = id;
      else {
        const behind = goneBehind.get(last);
        if (behind) behind.push(id);
        else goneBehind.set(last, [id]);
      }
    const order =
      goneBehind.size === 0
        ? are
        : [-1, ...are].flatMap((id) => [...(id < 0 ? [] : [id]), ...(goneBehind.get(id) ?? [])]);
    const children = order.map((id) => make(id, parent.component, counts[0][id], counts[1][id]));
    for (const id of order) counts[0][id] = counts[1][id] = 0;
    return children;
  };
  const top = make(after.root, null, 1, 1);
  return {
    rows: (isOpen, wanted, holds = ({ holdsMarked }) => holdsMarked) => {
      const rows: MergedRow[] = [];
      const visit = (child: MergedChild, parent: MergedRow | null): boolean => {
        let any = wanted === null || wanted(child);
        if (!any && !child.canOpen && parent) return false;
        const at = rows.length;
        const key = parent ? `${parent.key}/${child.component}` : child.component;
        const row: MergedRow = { ...child, key, level: parent ? parent.level + 1 : 0 };
        rows.push(row);
        if (child.canOpen && isOpen(row)) {
          for (const one of childrenOf(child)) {
            if (rows.length >= MOST_ROWS) break;
            any = visit(one, row) || any;
          }
        } else if (wanted !== null && holds(child)) any = true; // what is closed is shown for what it holds
        if (!any && parent) rows.length = at;
        return any;
      };
      visit(top, null);
      return rows;
    },
    holdersOf: (components) => holdersIn([before, after], components, new Set()),
  };
}

const kindOf = (kind: 'new' | 'gone' | 'changed', changes: readonly { readonly what: string }[]): MergedMark | null =>
  kind !== 'changed' || changes.some(({ what }) => what !== 'quantity') ? kind : null;

/** Components that hold, on whatever level, something that changed. */
function touchedKeys(before: Assembly, after: Assembly, { components, usages }: ModelChanges): Set<ComponentKey> {
  const changed = new Set<ComponentKey>(components.map(({ key }) => key));
  const touched = new Set<ComponentKey>();
  for (const { parent, fromParent } of usages) {
    touched.add(parent);
    if (fromParent) touched.add(fromParent);
  }
  return holdersIn([before, after], changed, touched);
}

/** @param holders those that are known already; the others are added */
function holdersIn(
  assemblies: readonly Assembly[],
  components: ReadonlySet<ComponentKey>,
  holders: Set<ComponentKey>,
): Set<ComponentKey> {
  for (const assembly of assemblies)
    for (const index of [...parentsFirst(assembly)].reverse()) {
      const { key, usages } = assembly.components[index];
      const holds = usages.some(({ child }) => {
        const { key: inside } = assembly.components[child];
        return components.has(inside) || holders.has(inside);
      });
      if (holds) holders.add(key);
    }
  return holders;
}
