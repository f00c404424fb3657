import type { Assembly } from '../assembly/index.ts';
import type { Address, Depth, Identity, Ledger, LedgerEntry, Recipe } from '../bill/index.ts';
import { defaultColumns, type Column } from '../columns/index.ts';
import { refused, type Applied, type Refused } from './applied.ts';

/** A bill as it is stored: how it is made, what it shows, and what was decided about it. */
export interface BillDocument {
  readonly version: 1;
  readonly name: string;
  readonly recipe: Recipe;
  readonly columns: readonly Column[];
  readonly ledger: Ledger;
}

export type BillCommand =
  | { readonly kind: 'setDepth'; readonly depth: Depth }
  | { readonly kind: 'setIdentity'; readonly identity: Identity }
  | { readonly kind: 'addColumn'; readonly column: Column; readonly at: number }
  | { readonly kind: 'removeColumn'; readonly id: string }
  | { readonly kind: 'moveColumn'; readonly id: string; readonly to: number }
  | { readonly kind: 'renameColumn'; readonly id: string; readonly heading: string }
  /** Sets or, with null, takes away numbers. */
  | { readonly kind: 'setNumbers'; readonly numbers: Readonly<Record<Address, LedgerEntry | null>> };

export const newBill = (assembly: Assembly, name: string): BillDocument =>
  ({ version: 1, name, recipe: { depth: 'parts-only', identity: 'part-number' }, columns: defaultColumns(assembly), ledger: {} });

export function applyBillCommand(bill: BillDocument, command: BillCommand): Applied<BillDocument, BillCommand> | Refused {
  const { columns, recipe } = bill;
  const done = (changed: Partial<BillDocument>, inverse: BillCommand) => ({ ok: true as const, document: { ...bill, ...changed }, inverse });
  switch (command.kind) {
    case 'setDepth':
      return done({ recipe: { ...recipe, depth: command.depth } }, { kind: 'setDepth', depth: recipe.depth });
    case 'setIdentity':
      return done({ recipe: { ...recipe, identity: command.identity } }, { kind: 'setIdentity', identity: recipe.identity });
    case 'addColumn': {
      if (columns.some(({ id }) => id === command.column.id)) return refused(`The bill already has a column ${command.column.heading}.`);
      return done({ columns: columns.toSpliced(clampPlace(command.at, columns.length), 0, command.column) }, { kind: 'removeColumn', id: command.column.id });
    }
    case 'setNumbers': return setNumbers(bill, command.numbers);
  }
  const at = columns.findIndex(({ id }) => id === command.id);
  if (at < 0) return refused('That column is no longer in the bill.');
  switch (command.kind) {
    case 'removeColumn':
      if (columns.length === 1) return refused('A bill keeps at least one column.');
      return done({ columns: columns.toSpliced(at, 1) }, { kind: 'addColumn', column: columns[at], at });
    case 'moveColumn':
      return done({ columns: columns.toSpliced(at, 1).toSpliced(clampPlace(command.to, columns.length - 1), 0, columns[at]) }, { kind: 'moveColumn', id: command.id, to: at });
    case 'renameColumn':
      return done({ columns: columns.with(at, { ...columns[at], heading: command.heading }) }, { kind: 'renameColumn', id: command.id, heading: columns[at].heading });
  }
}

const clampPlace = (at: number, most: number): number => Math.max(0, Math.min(most, Math.trunc(at)));

function setNumbers(bill: BillDocument, numbers: Readonly<Record<Address, LedgerEntry | null>>): Applied<BillDocument, BillCommand> {
  const ledger: Record<Address, LedgerEntry> = { ...bill.ledger };
  const before: Record<Address, LedgerEntry | null> = {};
  for (const [key, entry] of Object.entries(numbers)) {
    const address = key as Address;
    before[address] = ledger[address] ?? null;
    if (entry) ledger[address] = entry;
    else delete ledger[address];
  }
  return { ok: true, document: { ...bill, ledger }, inverse: { kind: 'setNumbers', numbers: before } };
}

/** What a command changes, by name: two edits with no name in common can be applied in either order. */
export function billTouches(command: BillCommand): string[] {
  switch (command.kind) {
    case 'setDepth': return ['depth'];
    case 'setIdentity': return ['identity'];
    case 'addColumn': return [`column ${command.column.id}`, 'column order'];
    case 'removeColumn': return [`column ${command.id}`, 'column order'];
    case 'moveColumn': return [`column ${command.id}`, 'column order'];
    case 'renameColumn': return [`column ${command.id}`];
    case 'setNumbers': return Object.keys(command.numbers).map((address) => `number ${address}`);
  }
}
