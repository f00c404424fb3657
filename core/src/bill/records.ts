import type { ComponentKey, Finding, Treatment } from '../assembly/index.ts';

export const depths = ['structured', 'parts-only', 'single-level'] as const;
export type Depth = (typeof depths)[number];
export const identities = ['part-number', 'name'] as const;
export type Identity = (typeof identities)[number];

/** How a bill is made. */
export interface Recipe {
  readonly depth: Depth;
  readonly identity: Identity;
}

/** Where a decision belongs: a component, in an indented bill within a parent: `component` or `component@parent`. */
export type Address = string & { readonly __address: true };

export interface LedgerEntry {
  /** Last part of the item number: 2 in 1.2. */
  readonly number: number;
  readonly pinned?: boolean;
  readonly retired?: boolean;
}
/** Which number belongs to what. Filled when a bill is taken over; sorting, filters, depth and revisions never change it. */
export type Ledger = Readonly<Record<Address, LedgerEntry>>;

/** One line of a bill. */
export interface Row {
  /** Names the row within this one computed bill; never stored. */
  readonly key: string;
  readonly item: string;
  /** Last part of the item number. */
  readonly number: number;
  /** True while the number is only proposed: the ledger has none for this line. */
  readonly provisional: boolean;
  /** 1 for lines of the top level. */
  readonly level: number;
  readonly kind: 'part' | 'assembly';
  /** Whether lines of its contents follow. */
  readonly opened: boolean;
  /** Component indices that the line stands for, first in structure order first. */
  readonly components: readonly number[];
  readonly addresses: readonly Address[];
  /** Index of the parent row, -1 at the top level. */
  readonly parent: number;
  /** Whole pieces per parent. */
  readonly quantity: number;
  /** Whole pieces of this line over the whole machine: along a structured bill the product of the quantities above it. */
  readonly totalQuantity: number;
}

/** What else goes into a bill. The command line starts with none of it. */
export interface BillDecisions {
  /** By component; where there is none, the component is listed and its contents are counted. */
  readonly treatments: readonly (Treatment | undefined)[];
  readonly ledger: Ledger;
}
export const noDecisions: BillDecisions = { treatments: [], ledger: {} };

export interface Bill {
  readonly recipe: Recipe;
  readonly rows: readonly Row[];
  readonly findings: readonly Finding[];
  /**
   * Row of the deepest line on the way down to an occurrence, or -1 where it has none (left out).
   * @param components component indices along the path, root first (see componentsAlong)
   */
  readonly rowOf: (components: readonly number[]) => number;
}

export const addressOf = (component: ComponentKey, parent: ComponentKey | null): Address =>
  (parent === null ? component : `${component}@${parent}`) as Address;
