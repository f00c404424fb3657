import type { ComponentKey } from '../assembly/index.ts';
import type { Address, QuantityKind } from '../bill/index.ts';

/** What buying has to know of a line, each found in a column or property. */
export const buyingRoles = [
  'supplier',
  'orderNumber',
  'unitCost',
  'breaks',
  'packOf',
  'packs',
  'minimum',
  'leadTime',
  'length',
  'section',
  'material',
  'ends',
  'thickness',
  'area',
] as const;
export type BuyingRole = (typeof buyingRoles)[number];
/** By role the reference of a column (see `referenceOf`), or `property:` and a name. */
export type BuyingSources = { readonly [Role in BuyingRole]?: string };

/** More than the machine needs. */
interface Spares {
  /** Of what is needed, rounded up, or so many pieces (or units of what is summed). */
  readonly by: 'percent' | 'pieces';
  /** In what `by` or the currency says. */
  readonly value: number;
}

/** What was typed for a line; it counts before what columns say. */
export interface LineChoice {
  /** Added to what is needed. */
  readonly spares?: Spares;
  /** Pieces, or units of what is summed, that are there already. */
  readonly onHand?: number;
  /** Who delivers it; empty where not known. */
  readonly supplier?: string;
  /** Of one piece, in the currency of the plan. */
  readonly unitCost?: number;
  /** Days. */
  readonly leadDays?: number;
}

/** A bar that was typed for a section. */
export interface TypedBar {
  /** mm. */
  readonly lengthMm: number;
  /** In the currency of the plan; null where not known. */
  readonly price: number | null;
  /** Null for as many as wanted. */
  readonly available: number | null;
}
/** How a section is cut, where that is not as for the others. */
export interface GroupChoice {
  /** Width of a cut, mm. */
  readonly kerfMm?: number;
  /** Taken off each end, mm. */
  readonly trimMm?: number;
  /** Kept from this length on, mm. */
  readonly leastLeftOverMm?: number;
  /** In place of those of catalogues. */
  readonly bars?: readonly TypedBar[];
  /** Its pieces are not cut from bars. */
  readonly otherwise?: true;
}

/** So many machines of a variant; null is the whole machine. */
export interface Build {
  /** Its id. */
  readonly variant: string | null;
  /** Whole, at least 1. */
  readonly count: number;
}

/** A plan of what to buy, as it is stored. */
export interface BuyingPlan {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** In lists and file names. */
  readonly name: string;
  /** Document id of the list that it buys; the first where null. */
  readonly bill: string | null;
  /** What is built. */
  readonly builds: readonly Build[];
  /** Spares of what is bought by the piece, per cent, where nothing else was said for a line. */
  readonly sparePercent: number;
  /** ISO 4217. */
  readonly currency: string;
  /** What one unit of another currency costs in that of the plan. */
  readonly rates: Readonly<Record<string, number>>;
  /** Where it is found; by the names of properties where absent. */
  readonly sources: BuyingSources;
  /** What was typed for lines. */
  readonly lines: Readonly<Record<Address, LineChoice>>;
  /** Document ids of catalogues that say prices and lead times, besides those of the list and behind them. */
  readonly catalogues: readonly string[];
  /** Document ids of the catalogues that bars are bought from. */
  readonly stock: readonly string[];
  /** Width of a cut, mm. */
  readonly kerfMm: number;
  /** Taken off each end, mm. */
  readonly trimMm: number;
  /** Kept from this length on, mm. */
  readonly leastLeftOverMm: number;
  /** By key of the section. */
  readonly groups: Readonly<Record<string, GroupChoice>>;
  /** Taken away; kept so that it can come back. */
  readonly away?: true;
}

export const newBuyingPlan: BuyingPlan = {
  version: 1,
  name: 'Buying',
  bill: null,
  builds: [{ variant: null, count: 1 }],
  sparePercent: 0,
  currency: 'EUR',
  rates: {},
  sources: {},
  lines: {},
  catalogues: [],
  stock: [],
  kerfMm: 3,
  trimMm: 0,
  leastLeftOverMm: 300,
  groups: {},
};

/** From so many pieces on one costs so much; or a pack of so many. */
export interface PriceStep {
  /** Whole, at least 1. */
  readonly count: number;
  /** In the currency of the plan. */
  readonly price: number;
}
/** How a part can be bought; prices in the currency of the plan. */
export interface Offer {
  /** One piece; null where it is not known, or single ones are not sold. */
  readonly unitPrice: number | null;
  /** Other prices of one piece from a number on, ascending. */
  readonly breaks: readonly PriceStep[];
  /** Single pieces come in multiples of this. */
  readonly multiple: number;
  /** Packs at a price of their own. */
  readonly packs: readonly PriceStep[];
  /** No fewer pieces than this. */
  readonly minimum: number;
}

/** Pieces of one length that a line asks for. */
export interface WantedPiece {
  /** mm. */
  readonly lengthMm: number;
  /** How far each end leans from square, degrees. */
  readonly ends: readonly [number, number];
  /** Whole, at least 1. */
  readonly count: number;
}

/** Something that has to be looked at, in a sentence. */
export interface BuyingProblem {
  /** What kind it is, for programs. */
  readonly code:
    | 'no-price'
    | 'no-rate'
    | 'unread'
    | 'no-length'
    | 'too-long'
    | 'no-bars'
    | 'no-bar-price'
    | 'other-words'
    | 'not-enough'
    | 'no-lead-time';
  /** A sentence for the drafter. */
  readonly message: string;
  /** The line that it is about. */
  readonly line?: string;
  /** The section that it is about. */
  readonly group?: string;
}

/** One line of what is needed. */
export interface RequirementLine {
  /** Of its own in this requirement. */
  readonly key: string;
  /** Where its choices belong. */
  readonly address: Address;
  /** Numbers under which the list has it, as they read. */
  readonly items: readonly string[];
  /** Empty where it has none. */
  readonly partNumber: string;
  /** Empty where it has none. */
  readonly name: string;
  /** Empty where it has none. */
  readonly description: string;
  /** Empty where it has none. */
  readonly material: string;
  /** Keys of what it stands for; none for a line without a shape. */
  readonly components: readonly ComponentKey[];
  /** Whether it is made or bought; empty where that is not said. */
  readonly source: 'made' | 'bought' | '';
  /** How it is counted. */
  readonly kind: QuantityKind['kind'];
  /** Of quantities; empty for pieces. */
  readonly unit: string;
  /** For all machines; null for what is as required, or not known. */
  readonly needed: number | null;
  /** Added to what is needed. */
  readonly spares: number;
  /** Taken off what is needed. */
  readonly onHand: number;
  /** What is left to get; null for what is as required. */
  readonly toGet: number | null;
  /** kg of one piece; null where not known. */
  readonly massEach: number | null;
  /** Who delivers it; empty where not known. */
  readonly supplier: string;
  /** That of the supplier; empty where not known. */
  readonly orderNumber: string;
  /** What it can be bought for. */
  readonly offer: Offer;
  /** Days; null where not known. */
  readonly leadDays: number | null;
  /** Pieces to cut from bars, spares and what is on hand counted in; none where it is not. */
  readonly pieces: readonly WantedPiece[];
  /** What it is cut from, as it reads; empty where it is not cut from bars. */
  readonly section: string;
  /** Key of its section; null where it is not cut from bars. */
  readonly group: string | null;
  /** Of one piece, where it is made of plate. */
  readonly plate: { readonly thicknessMm: number; readonly areaMm2: number | null } | null;
}
