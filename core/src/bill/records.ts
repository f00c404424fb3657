import type { ComponentKey, Finding, Properties, Treatment, ComponentIndex, RowIndex } from '../assembly/index.ts';
import type { Cell, Column, ColumnSource, RuleGroup, Value } from '../columns/index.ts';

export const depths = ['structured', 'parts-only', 'single-level'] as const;
export type Depth = (typeof depths)[number];
/**
 * Where the first is empty the other of number and name counts, and where both are, every definition is a line of its
 * own.
 */
export const identities = ['part-number', 'name', 'shape'] as const;
export type Identity = (typeof identities)[number];

/** How the quantity of a line is counted. */
export type QuantityKind =
  | { readonly kind: 'each' }
  /** The sum of a named size over all pieces, in this unit. */
  | { readonly kind: 'sum'; readonly size: string; readonly unit: string }
  | { readonly kind: 'as required' }
  | { readonly kind: 'fixed'; readonly value: number; readonly unit: string };
export interface QuantityRule {
  /** Lines that it is for. */
  readonly when: RuleGroup<ColumnSource>;
  /** How those are counted. */
  readonly is: QuantityKind;
}

export interface SortKey {
  /** By whose values. */
  readonly source: ColumnSource;
  /** Largest first; smallest first where absent. */
  readonly descending?: boolean;
}
export interface GroupKey extends SortKey {
  /** Whether sums of the columns that have a total stand under each group. */
  readonly subtotal?: boolean;
}

/** How the numbers of one level are given out and written. */
export interface LevelNumbering {
  /** First number given out. */
  readonly start: number;
  /** From one number to the next. */
  readonly step: number;
  /** Before the number, such as P-; empty for none. */
  readonly prefix: string;
  /** At least so many digits. */
  readonly width: number;
}

/** How numbers are given out and written; start, step, prefix and width are those of the first level. */
export interface Numbering extends LevelNumbering {
  /** Between the numbers of two levels. */
  readonly separator: string;
  /** Levels below the first as letters: 1a, 1b. */
  readonly letters: boolean;
  /** Each group begins at the next multiple of this; 0 for numbers that run on. */
  readonly groupRange: number;
  /**
   * Own numbering of the second level and those below it; the last entry holds for deeper ones too. Without any they
   * are numbered as the first, without its prefix.
   */
  readonly levels?: readonly LevelNumbering[];
  /** Numbers kept free; both ends belong to it. */
  readonly reserved: readonly { readonly from: number; readonly to: number }[];
}
export const usualNumbering: Numbering = {
  start: 1,
  step: 1,
  prefix: '',
  width: 1,
  separator: '.',
  letters: false,
  groupRange: 0,
  reserved: [],
};

/** What holds at a level of an indented list, 1 for the top. */
export function numberingAt(numbering: Numbering, level: number): Numbering {
  if (level === 1) return numbering;
  const { levels = [], letters } = numbering;
  const own: Partial<LevelNumbering> =
    // Letters run a, b, c whatever the first level does
    levels[Math.min(level - 2, levels.length - 1)] ?? (letters ? { start: 1, step: 1 } : {});
  return { ...numbering, prefix: '', ...own };
}

/** How a bill is made. What is left out is as usual. */
export interface Recipe {
  /** Which lines stand in it. */
  readonly depth: Depth;
  /** What makes two lines one. */
  readonly identity: Identity;
  /** Names of properties that must agree too before two lines are one. */
  readonly identityWith?: readonly string[];
  /** Subassemblies that stay closed in an indented bill. */
  readonly closed?: Readonly<Record<Address, true>>;
  /** Totals are for so many machines. */
  readonly machines?: number;
  /** How parts are counted; by the piece where absent. */
  readonly quantityOf?: Readonly<Record<ComponentKey, QuantityKind>>;
  /** The first that holds counts. */
  readonly quantityRules?: readonly QuantityRule[];
  /** Lines that are shown; all where absent or null. */
  readonly filter?: RuleGroup<ColumnSource> | null;
  /** Keys, the first weighs most; in order of structure where empty. */
  readonly sort?: readonly SortKey[];
  /** Keys of groups, the outermost first. */
  readonly groups?: readonly GroupKey[];
  /** How numbers are given out and written. */
  readonly numbering?: Numbering;
  /** Language whose order sorting follows; the usual one when empty. */
  readonly locale?: string;
  /** The variant that is listed; null for the whole machine. */
  readonly variant?: string | null;
}

/**
 * Where a decision belongs: a component, in an indented bill within a parent: `component` or `component@parent`;
 * `line:id` for a line without a shape.
 */
export type Address = string & { readonly __address: true };

export interface LedgerEntry {
  /** Last part of the item number: 2 in 1.2. */
  readonly number: number;
  /** Spared when lines are renumbered. */
  readonly pinned?: boolean;
  /** Kept and never given out again. */
  readonly retired?: boolean;
  /** What had it when it was retired, where that is known. */
  readonly was?: RetiredPart;
}
/** What is kept of a part that is gone. */
export interface RetiredPart {
  /** Empty where it had none. */
  readonly partNumber: string;
  /** See there. */
  readonly name: string;
}
/** A number that is kept for what is gone, where its line would stand. */
export interface RetiredLine {
  /** Index of the row that it follows; −1 for the beginning. */
  readonly after: number;
  /** Last part of the item number. */
  readonly number: number;
  /** As it is written. */
  readonly item: string;
  /** 1 for the top level. */
  readonly level: number;
  /** See `LedgerEntry`. */
  readonly was?: RetiredPart;
}
/**
 * Which number belongs to what. Filled when a bill is taken over; sorting, filters, depth and revisions never change
 * it.
 */
export type Ledger = Readonly<Record<Address, LedgerEntry>>;

/** Grease, paint, a document: a line that no component stands behind. */
export interface LineWithoutShape {
  /** Of its own in the bill; its address is `line:id`. */
  readonly id: string;
  /** Component key of the subassembly that it is listed in, in an indented bill; null for the top. */
  readonly parent: ComponentKey | null;
  /** The line that it follows, with which it moves; null for the beginning. */
  readonly after: Address | null;
  /** As required, or an amount. */
  readonly quantity: Exclude<QuantityKind, { kind: 'each' } | { kind: 'sum' }>;
  /** By name, own fields among them: `Name`, `Description`, `Material`. */
  readonly properties: Properties;
  /** The item of a catalogue that it is; what is not among its own properties it says itself. */
  readonly from?: { readonly catalogue: string; readonly item: string };
}

/** What a line's number counts. Null where a size that is summed is not known. */
export interface Amount {
  /** How it is counted. */
  readonly kind: QuantityKind['kind'];
  /** In one piece of what it is listed in; null where not known. */
  readonly perParent: number | null;
  /** Over one whole machine. */
  readonly total: number | null;
  /** Symbol; empty for pieces. */
  readonly unit: string;
}

/** One line of a bill. */
export interface Row {
  /** Names the row within this one computed bill; never stored. */
  readonly key: string;
  /** As in the balloon: 3, 3.1. */
  readonly item: string;
  /** Last part of the item number. */
  readonly number: number;
  /** True while the number is only proposed: the ledger has none for this line. */
  readonly provisional: boolean;
  /** 1 for lines of the top level. */
  readonly level: number;
  /** `line`: without a shape. */
  readonly kind: 'part' | 'assembly' | 'line';
  /** Whether lines of its contents follow. */
  readonly opened: boolean;
  /** Whether it has contents that could follow. */
  readonly canOpen: boolean;
  /** Component indices that the line stands for, first in structure order first; none for a line without a shape. */
  readonly components: readonly ComponentIndex[];
  /** Pieces per parent of each of them. */
  readonly counts: readonly number[];
  /** Where its decisions belong, that of its first member first. */
  readonly addresses: readonly Address[];
  /** Index of the parent row, -1 at the top level. */
  readonly parent: RowIndex;
  /** Whole pieces per parent; 0 where only a variant has the line. */
  readonly quantity: number;
  /**
   * Whole pieces of this line over the whole machine: along a structured bill the product of the quantities above it.
   */
  readonly totalQuantity: number;
  /** What its number counts. */
  readonly amount: Amount;
  /** Id of the line without a shape. */
  readonly line?: string;
  /** Pieces per parent by variant, for the variants asked for; null where a variant lacks the line. */
  readonly inVariants?: Readonly<Record<string, number | null>>;
}

/** A heading before row `at`; it ends before row `to`. */
export interface Section {
  /** First row. */
  readonly at: number;
  /** Row behind the last. */
  readonly to: number;
  /** 1 for the outermost grouping. */
  readonly level: number;
  /** What is grouped by. */
  readonly source: ColumnSource;
  /** Value that the rows have in common, as it reads. */
  readonly title: string;
  /** Whether sums stand under it. */
  readonly subtotal: boolean;
}

/** What else goes into a bill. The command line starts with none of it. */
export interface BillDecisions {
  /** By component; where there is none, the component is listed and its contents are counted. */
  readonly treatments: readonly (Treatment | undefined)[];
  /** Numbers that were given out. */
  readonly ledger: Ledger;
  /** A line is joined to the line of another address. */
  readonly joins?: Readonly<Record<Address, Address>>;
  /** A component is kept apart from what it would be merged with; those of one name stay together. */
  readonly apart?: Readonly<Record<Address, string>>;
  /** Texts typed into cells, by reference of the column. */
  readonly overrides?: Readonly<Record<Address, Readonly<Record<string, string>>>>;
  /** Lines without a shape. */
  readonly lines?: readonly LineWithoutShape[];
}
export const noDecisions: BillDecisions = { treatments: [], ledger: {} };

/** Something noticed while a bill was made, with the one click that settles it. */
export interface BillFinding extends Finding {
  /** Joining the line of one address to that of the other would settle it. */
  readonly join?: { readonly from: Address; readonly to: Address };
  /** Numbers whose part is gone. */
  readonly retire?: readonly Address[];
  /** Id of a column that says nothing. */
  readonly idle?: string;
  /** Where a text was typed whose model says something else since a revision was taken over. */
  readonly overtaken?: { readonly address: Address; readonly reference: string };
}

/** A computed bill as plain data that survives JSON: what a worker hands over. */
export interface BillData {
  /** How it was made. */
  readonly recipe: Recipe;
  /** Lines in their order. */
  readonly rows: readonly Row[];
  /** Groups of rows, outer ones before inner ones. */
  readonly sections: readonly Section[];
  /** What was noticed while it was made. */
  readonly findings: readonly BillFinding[];
  /** Where they were worked out with it. */
  readonly totals?: BillTotals;
  /** Numbers that are kept for what is gone, in the order in which they would stand; absent where there are none. */
  readonly retired?: readonly RetiredLine[];
}

/** What a list comes to; quantities over all machines. Opened subassemblies are counted by what is in them. */
export interface BillTotals {
  /** Count of lines. */
  readonly lines: number;
  /** Count of pieces in one machine. */
  readonly pieces: number;
  /** kg of the lines whose mass is known; null where none is. */
  readonly mass: number | null;
  /** Count of lines whose mass is not known. */
  readonly withoutMass: number;
  /** Columns shown in which lines have nothing, and how many. */
  readonly empty: readonly { readonly heading: string; readonly lines: number }[];
}

export interface Bill extends BillData {
  /**
   * Row of the deepest line on the way down to an occurrence, or -1 where it has none (left out, filtered out).
   * @param components component indices along the path, root first (see componentsAlong)
   */
  readonly rowOf: (components: readonly ComponentIndex[]) => RowIndex;
  /** The cell of a row as it reads. */
  readonly cell: (row: Row, column: Column) => Cell;
  /** The value behind a reference, for rules and order; `differing` values of merged components all of them. */
  readonly values: (row: Row, source: ColumnSource) => readonly Value[];
  /** The sum of a column over rows from `from` up to `to`; null where it has no numbers. */
  readonly sum: (column: Column, from?: number, to?: number) => Cell | null;
}

export const addressOf = (component: ComponentKey, parent: ComponentKey | null): Address =>
  (parent === null ? component : `${component}@${parent}`) as Address;
/** Of a line without a shape; in an indented bill within its parent, since it is numbered among other lines there. */
export const lineAddress = (id: string, parent: ComponentKey | null): Address =>
  (parent === null ? `line:${id}` : `line:${id}@${parent}`) as Address;
/**
 * Decisions without the kinds of which there are none: then no line's address needs to be looked up, and its text is
 * never made.
 */
export function leanDecisions(decisions: BillDecisions): BillDecisions {
  const { joins, apart, overrides, ...rest } = decisions;
  return {
    ...rest,
    ...(joins && hasAny(joins) ? { joins } : {}),
    ...(apart && hasAny(apart) ? { apart } : {}),
    ...(overrides && hasAny(overrides) ? { overrides } : {}),
  };
}
/** Looks at all keys: for small records, or once per bill. */
export const hasAny = (record: object): boolean => Object.keys(record).length > 0;

/** A decision made for a line: of its address within the parent, else of the component wherever it is listed. */
export function decidedFor<Content>(
  decisions: Readonly<Record<Address, Content>> | undefined,
  address: Address,
): Content | undefined {
  if (!decisions) return undefined;
  const own = decisions[address];
  if (own !== undefined) return own;
  const at = address.indexOf('@');
  return at < 0 ? undefined : decisions[address.slice(0, at) as Address];
}
