/** Pieces of one length that are wanted. */
export interface PieceDemand {
  /** mm, over the long points where ends are mitred; more than 0. */
  readonly lengthMm: number;
  /** Whole, at least 1. */
  readonly count: number;
  /** How far the cut at each end leans from square, in degrees, 0 up to less than 80; square where absent. */
  readonly ends?: readonly [number, number];
}

/** A bar that can be had. */
export interface StockBar {
  /** mm, more than 0. */
  readonly lengthMm: number;
  /** Of one bar, 0 for what costs nothing more; null where it is not known. */
  readonly price: number | null;
  /** Bars that there are; null for as many as wanted. */
  readonly available: number | null;
}

/** What is to be cut from bars of one section and material. */
export interface CutProblem {
  /** What is to be cut, or has to be. */
  readonly pieces: readonly PieceDemand[];
  /** What there is to cut from. */
  readonly stock: readonly StockBar[];
  /** Width of a square cut, mm. A leaning cut takes that divided by the cosine of its angle. */
  readonly kerfMm: number;
  /** Taken off each end of every bar, its cut included, mm. */
  readonly trimMm: number;
  /** Left-overs from this length on are kept, mm. */
  readonly leastLeftOverMm: number;
}

/** Bars that are cut alike. */
export interface CutBar {
  /** Index into the stock. */
  readonly stock: number;
  /** So many bars. */
  readonly count: number;
  /** What each of them is cut into, longest first; indices into the pieces. */
  readonly pieces: readonly { readonly piece: number; readonly count: number }[];
  /** What is left behind the last cut and before the trimmed end, mm. */
  readonly leftOverMm: number;
}

/** What a plan is measured by: what the bars cost, or their length where any price is not known. */
export type CutMeasure = 'price' | 'length';

export interface CutPlan {
  /** Longest bars first, then the fullest. */
  readonly bars: readonly CutBar[];
  /** What cost and bound are told in. */
  readonly measure: CutMeasure;
  /** In the measure. */
  readonly cost: number;
  /** No plan can be below this, in the measure. */
  readonly lowerBound: number;
  /** Whether this is proven to be the least. */
  readonly optimal: boolean;
  /** Whether looking for better ones was broken off. */
  readonly stopped: boolean;
  /** Length of all bars, mm. */
  readonly boughtMm: number;
  /** Of all pieces, mm. */
  readonly piecesMm: number;
  /** Of left-overs that are kept, mm. */
  readonly keptMm: number;
  /** What is neither piece nor kept, mm. */
  readonly wasteMm: number;
  /** Indices of pieces that are longer than any bar. */
  readonly tooLong: readonly number[];
  /** Pieces that no bar is left for, where bars are limited. */
  readonly missing: readonly { readonly piece: number; readonly count: number }[];
}

/** What is known while a plan is being made; `cost` of the best one so far. */
export interface CutProgress {
  /** What it costs, in the measure. */
  readonly cost: number;
  /** In the same measure. */
  readonly lowerBound: number;
}

export interface CutOptions {
  /** Called now and then, with the best so far. */
  readonly onProgress?: (progress: CutProgress) => void;
  /** Asked often; once it says so, the best so far is the result. */
  readonly shouldStop?: () => boolean;
}
