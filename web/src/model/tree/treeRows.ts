import { isAssembly, type Assembly, type PathKey, type ComponentIndex } from '../../../../core/src/assembly/index.ts';

/** A line of the structure tree. */
export interface TreeRow {
  /** Names the line. */
  readonly key: string;
  /**
   * Places that the line stands for, under the one place that its parents' lines stand for first; empty in search
   * results.
   */
  readonly paths: readonly PathKey[];
  readonly component: ComponentIndex;
  readonly level: number;
  /** Pieces per parent, of the same component and label taken together. */
  readonly quantity: number;
  readonly opens: boolean;
  readonly open: boolean;
}

const MOST = 200_000; // rows; more than that nobody scrolls

/**
 * Visible lines of the tree: equal components of one parent on one line, contents of what is open below it.
 * @param groupOf components of one group are on one line too: uses of a symbol, whatever their attributes; below 0: on none
 */
export function treeRows(
  assembly: Assembly,
  open: ReadonlySet<string>,
  matches: ((component: ComponentIndex) => boolean) | null,
  groupOf: (component: ComponentIndex) => number = (component) => component,
): TreeRow[] {
  if (matches) {
    return assembly.components.flatMap((component, index) =>
      index !== assembly.root && matches(index)
        ? [
            {
              key: `${index} ${component.key}`,
              paths: [],
              component: index,
              level: 0,
              quantity: 1,
              opens: false,
              open: false,
            },
          ]
        : [],
    );
  }
  const rows: TreeRow[] = [];
  const stack = childrenOf(assembly, assembly.root, { key: '', path: '' as PathKey }, 0, open, groupOf).reverse();
  if (stack.length === 0)
    return [
      {
        key: 'root',
        paths: ['' as PathKey],
        component: assembly.root,
        level: 0,
        quantity: 1,
        opens: false,
        open: false,
      },
    ];
  while (stack.length > 0 && rows.length < MOST) {
    const row = stack.pop()!;
    rows.push(row);
    if (row.open)
      stack.push(
        ...childrenOf(
          assembly,
          row.component,
          { key: row.key, path: row.paths[0] },
          row.level + 1,
          open,
          groupOf,
        ).reverse(),
      );
  }
  return rows;
}

function childrenOf(
  assembly: Assembly,
  parent: number,
  above: { key: string; path: PathKey },
  level: number,
  open: ReadonlySet<string>,
  groupOf: (component: ComponentIndex) => number,
): TreeRow[] {
  const lines = new Map<number, { component: ComponentIndex; quantity: number; paths: PathKey[] }>();
  for (const { key, child, quantity } of assembly.components[parent].usages) {
    const group = groupOf(child);
    if (group < 0) continue;
    const line = lines.get(group) ?? { component: child, quantity: 0, paths: [] };
    lines.set(group, line);
    line.quantity += quantity;
    line.paths.push((above.path ? `${above.path}/${key}` : key) as PathKey);
  }
  return [...lines.values()].map(({ component, quantity, paths }) => {
    const key = `${above.key}/${component}`;
    const opens = isAssembly(assembly.components[component]);
    return { key, paths, component, level, quantity, opens, open: opens && open.has(key) };
  });
}
