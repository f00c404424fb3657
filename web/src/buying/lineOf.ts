import type { Buying, OrderLine, RequirementLine } from '../../../core/src/buying/index.ts';

interface Index {
  readonly byKey: ReadonlyMap<string, RequirementLine>;
  /** Of parts by what makes a line of an order theirs, of bars by their section. */
  readonly byOrder: ReadonlyMap<string, string>;
}
const indices = new WeakMap<Buying['requirement'], Index>();
const nameOf = ({ address, name, material, unit }: Pick<OrderLine, 'address' | 'name' | 'material' | 'unit'>): string =>
  JSON.stringify([address, name, material, unit]);

function indexOf({ requirement }: Pick<Buying, 'requirement'>): Index {
  let index = indices.get(requirement);
  if (!index) {
    const byOrder = new Map<string, string>();
    for (const line of requirement.lines) {
      byOrder.set(nameOf(line), line.key);
      if (line.group !== null && !byOrder.has(`bar ${line.group}`)) byOrder.set(`bar ${line.group}`, line.key);
    }
    index = { byKey: new Map(requirement.lines.map((line) => [line.key, line])), byOrder };
    indices.set(requirement, index);
  }
  return index;
}

/** Key of the requirement's line that a line of the order is for: that of a bar is the first that is cut from it. */
export const lineOf = (buying: Buying, line: OrderLine): string | null =>
  indexOf(buying).byOrder.get(line.kind === 'bar' ? `bar ${line.group}` : nameOf(line)) ?? null;

/** The line of the requirement of this key. */
export const lineAt = (buying: Buying, key: string | null): RequirementLine | undefined =>
  key === null ? undefined : indexOf(buying).byKey.get(key);
