import type { Address } from '../../../core/src/bill/index.ts';
import type { GroupChoice, LineChoice } from '../../../core/src/buying/index.ts';
import type { BuyingCommand } from '../../../core/src/documents/index.ts';
import { type OpenProject, useDoing } from '../data/openProject.ts';

export type StoredPlan = OpenProject['plans'][number];

/** Changes of a plan, each one step of undo. */
export function usePlanEdit({ id, content }: StoredPlan) {
  const { perform } = useDoing();
  const change = (label: string, command: BuyingCommand) => perform(label, { document: id, command });
  return {
    change,
    /** Null in a field takes what was typed back; a line of which nothing is typed is forgotten. */
    changeLine: (
      label: string,
      address: Address,
      fields: { readonly [Key in keyof LineChoice]?: LineChoice[Key] | null },
    ) => {
      const before = Object.hasOwn(content.lines, address) ? content.lines[address] : {};
      change(label, { kind: 'setEntries', entries: { lines: { [address]: withFields(before, fields) } } });
    },
    changeGroup: (
      label: string,
      key: string,
      fields: { readonly [Key in keyof GroupChoice]?: GroupChoice[Key] | null },
    ) => {
      const before = Object.hasOwn(content.groups, key) ? content.groups[key] : {};
      change(label, { kind: 'setEntries', entries: { groups: { [key]: withFields(before, fields) } } });
    },
  };
}

function withFields<Of extends object>(before: Of, fields: { readonly [Key in keyof Of]?: Of[Key] | null }): Of | null {
  const merged = Object.fromEntries(
    Object.entries({ ...before, ...fields }).filter(([, value]) => value !== null && value !== undefined),
  );
  return Object.keys(merged).length > 0 ? (merged as Of) : null;
}
