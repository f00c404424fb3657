import { parentsFirst, type Assembly, type ComponentKey } from '../assembly/index.ts';
import type { ModelChanges } from './changes.ts';

/** What a line of the merged structure is marked as; in the order of what matters. */
export const mergedMarks = ['new', 'gone', 'changed', 'moved'] as const;
export type MergedMark = (typeof mergedMarks)[number];

/** A component under a parent in two assemblies at once. */
export interface MergedRow {
  /** Component keys from the top down, joined by `/`: of its own among the rows. */
  readonly key: string;
  readonly component: ComponentKey;
  /** 0 at the top. */
  readonly level: number;
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

/** Two assemblies under one set of keys as one structure; rows are worked out as they are opened. */
export interface MergedStructure {
  /**
   * Rows in structure order, at most MOST_ROWS; what is gone stands where it stood.
   * @param isOpen what is closed is not looked into
   * @param wanted rows that are shown, with those that lead to them; all where null
   */
  readonly rows: (isOpen: (row: MergedRow) => boolean, wanted: ((row: MergedRow) => boolean) | null) => MergedRow[];
  /** Everything that holds, on whatever level, one of these components. */
  readonly holdersOf: (components: ReadonlySet<ComponentKey>) => ReadonlySet<ComponentKey>;
}

/** More rows than this nobody reads; shared assemblies could open into any number. */
export const MOST_ROWS = 20_000;

/** Costs one pass over both assemblies; rows cost what they show. */
export function mergeStructures(before: Assembly, after: Assembly, changes: ModelChanges): MergedStructure {
  const isAt = new Map(after.components.map(({ key }, index) => [key, index]));
  const wasAt = new Map(before.components.map(({ key }, index) => [key, index]));
  const kinds = new Map(changes.components.map(({ key, kind, changes: of }) => [key, kindOf(kind, of)]));
  const moved = new Set(
    changes.usages.flatMap(({ kind, parent, component }) =>
      kind === 'moved' || kind === 'other parent' ? [`${parent} ${component}`] : [],
    ),
  );
  const touched = touchedKeys(before, after, changes);
  const indexOf = (map: ReadonlyMap<ComponentKey, number>, key: ComponentKey) => map.get(key) ?? -1;

  const row = (key: ComponentKey, parent: MergedRow | null, counts: readonly [number, number]): MergedRow => {
    const was = indexOf(wasAt, key),
      is = indexOf(isAt, key);
    const [quantityWas, quantityIs] = counts;
    const kind = kinds.get(key) ?? null;
    const mark =
      kind ??
      (parent && quantityIs === 0
        ? 'gone'
        : parent && quantityWas === 0
          ? 'new'
          : quantityWas !== quantityIs
            ? 'changed'
            : parent && moved.has(`${parent.component} ${key}`)
              ? 'moved'
              : null);
    const holds = (index: number, { components }: Assembly) => index >= 0 && components[index].usages.length > 0;
    return {
      key: parent ? `${parent.key}/${key}` : key,
      component: key,
      level: parent ? parent.level + 1 : 0,
      was,
      is,
      quantityWas,
      quantityIs,
      mark,
      holdsMarked: touched.has(key),
      canOpen: holds(was, before) || holds(is, after),
    };
  };
  const known = new Map<string, MergedRow[]>();
  const childrenOf = (parent: MergedRow): MergedRow[] => {
    let children = known.get(parent.key);
    if (!children) known.set(parent.key, (children = makeChildren(parent)));
    return children;
  };
  const makeChildren = (parent: MergedRow): MergedRow[] => {
    const counts = new Map<ComponentKey, [number, number]>();
    const count = (assembly: Assembly, index: number, side: 0 | 1): ComponentKey[] => {
      const keys = new Set<ComponentKey>();
      for (const { child, quantity } of index < 0 ? [] : assembly.components[index].usages) {
        const { key } = assembly.components[child];
        const found = counts.get(key) ?? [0, 0];
        found[side] += quantity;
        counts.set(key, found);
        keys.add(key);
      }
      return [...keys];
    };
    const later = count(after, parent.is, 1);
    const stays = new Set(later);
    // What is gone stands behind what stood before it.
    const goneBehind = new Map<ComponentKey | null, ComponentKey[]>();
    let last: ComponentKey | null = null;
    for (const key of count(before, parent.was, 0))
      if (stays.has(key)) last = key;
      else {
        const behind = goneBehind.get(last);
        if (behind) behind.push(key);
        else goneBehind.set(last, [key]);
      }
    const order = [null, ...later].flatMap((key) => [...(key ? [key] : []), ...(goneBehind.get(key) ?? [])]);
    return order.map((key) => row(key, parent, counts.get(key)!));
  };
  const top = row(after.components[after.root].key, null, [1, 1]);
  return {
    rows: (isOpen, wanted) => {
      const rows: MergedRow[] = [];
      const visit = (parent: MergedRow): boolean => {
        const at = rows.length;
        rows.push(parent);
        let any = wanted === null || wanted(parent);
        if (parent.canOpen && isOpen(parent)) {
          for (const child of childrenOf(parent)) {
            if (rows.length >= MOST_ROWS) break;
            any = visit(child) || any;
          }
        } else if (wanted !== null && parent.holdsMarked) any = true; // what is closed is shown for what it holds
        if (!any && parent.level > 0) rows.length = at;
        return any;
      };
      visit(top);
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
