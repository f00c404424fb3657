import { isAssembly, type Assembly } from '../../../core/src/assembly/index.ts';

/** A line of the structure tree. */
export interface TreeRow {
  /** Usage keys joined: names the line. */
  readonly key: string;
  readonly component: number;
  readonly level: number;
  /** Pieces per parent, of the same component and label taken together. */
  readonly quantity: number;
  readonly opens: boolean;
  readonly open: boolean;
}

const MOST = 200_000; // rows; more than that nobody scrolls

/** Visible lines of the tree: equal components of one parent on one line, contents of what is open below it. */
export function treeRows(assembly: Assembly, open: ReadonlySet<string>, matches: ((component: number) => boolean) | null): TreeRow[] {
  if (matches) {
    return assembly.components.flatMap((component, index) => (index !== assembly.root && matches(index)
      ? [{ key: component.key, component: index, level: 0, quantity: 1, opens: false, open: false }] : []));
  }
  const rows: TreeRow[] = [];
  const stack = childrenOf(assembly, assembly.root, '', 0, open).reverse();
  if (stack.length === 0) return [{ key: 'root', component: assembly.root, level: 0, quantity: 1, opens: false, open: false }];
  while (stack.length > 0 && rows.length < MOST) {
    const row = stack.pop()!;
    rows.push(row);
    if (row.open) stack.push(...childrenOf(assembly, row.component, row.key, row.level + 1, open).reverse());
  }
  return rows;
}

function childrenOf(assembly: Assembly, parent: number, path: string, level: number, open: ReadonlySet<string>): TreeRow[] {
  const quantities = new Map<number, number>();
  for (const { child, quantity } of assembly.components[parent].usages) quantities.set(child, (quantities.get(child) ?? 0) + quantity);
  return [...quantities].map(([component, quantity]) => {
    const key = `${path}/${component}`;
    const opens = isAssembly(assembly.components[component]);
    return { key, component, level, quantity, opens, open: opens && open.has(key) };
  });
}
