import type { CutMeasure, CutProblem, PieceDemand } from './records.ts';

/** A cut problem in whole numbers: a fill of a bar is valid where the weights of its pieces come to at most its capacity. */
export interface Instance {
  /** Each once, the longest first: length with its kerf. */
  readonly weights: readonly number[];
  /** Pieces of each weight. */
  readonly demands: readonly number[];
  /** By kind of bar: its usable length with one more kerf, since the last piece may end where the bar does. */
  readonly capacities: readonly number[];
  /** Of one bar of each kind. */
  readonly costs: readonly number[];
  /** Bars of each kind, at most. */
  readonly limits: readonly number[];
}
/** How often each weight is in a bar, by index. */
export type Fill = readonly number[];
/** Bars of one kind that are filled alike. */
export interface FilledBars {
  readonly kind: number;
  readonly fill: Fill;
  readonly count: number;
}

/** A thousandth of a millimetre: finer than any saw, and what lengths that were measured from shapes are good for. */
const UNITS_PER_MM = 1000;
/** Prices are compared to a ten-thousandth of the currency. */
const UNITS_PER_PRICE = 10_000;
const units = (mm: number): number => Math.round(mm * UNITS_PER_MM);

/**
 * What a piece takes of a bar, with its cut. A leaning cut is longer along the bar than a square one; two pieces that meet
 * share one cut, which is at most as wide as what both bring along, so this is never too little.
 */
export function weightOf({ lengthMm, ends = [0, 0] }: PieceDemand, kerfMm: number): number {
  const more = ends.map((angle) => kerfMm / Math.cos((angle * Math.PI) / 180) - kerfMm);
  return units(lengthMm + kerfMm + more[0] + more[1]);
}

export interface InstanceOfProblem extends Instance {
  readonly measure: CutMeasure;
  /** Costs are so many times what the measure says. */
  readonly costUnits: number;
  /** By weight: indices of its pieces. */
  readonly members: readonly (readonly number[])[];
  /** By kind: index into the stock. */
  readonly kinds: readonly number[];
  /** Indices of pieces that are longer than any bar. */
  readonly tooLong: readonly number[];
}

/** Bars that there are none of, or that trimming leaves nothing of, are no kind. */
export function instanceOf({ pieces, stock, kerfMm, trimMm }: CutProblem): InstanceOfProblem {
  const weights = pieces.map((piece) => weightOf(piece, kerfMm));
  const capacityOf = (lengthMm: number) => units(lengthMm) - 2 * units(trimMm) + units(kerfMm);
  const usable = stock.flatMap(({ lengthMm, available }, index) =>
    available !== 0 && capacityOf(lengthMm) > units(kerfMm) ? [index] : [],
  );
  const longest = usable.reduce((most, index) => Math.max(most, capacityOf(stock[index].lengthMm)), 0);
  const members = new Map<number, number[]>();
  const tooLong: number[] = [];
  weights.forEach((weight, index) => {
    if (weight > longest) tooLong.push(index);
    else if (members.has(weight)) members.get(weight)!.push(index);
    else members.set(weight, [index]);
  });
  const ordered = [...members].sort(([one], [other]) => other - one);
  const demands = ordered.map(([, indices]) => indices.reduce((sum, index) => sum + pieces[index].count, 0));
  const wanted = demands.reduce((sum, demand) => sum + demand, 0);
  const measure: CutMeasure = usable.every((index) => stock[index].price !== null) ? 'price' : 'length';
  const costUnits = measure === 'price' ? UNITS_PER_PRICE : UNITS_PER_MM;
  return {
    weights: ordered.map(([weight]) => weight),
    demands,
    capacities: usable.map((index) => capacityOf(stock[index].lengthMm)),
    costs: usable.map((index) =>
      Math.round((measure === 'price' ? stock[index].price! : stock[index].lengthMm) * costUnits),
    ),
    limits: usable.map((index) => Math.min(stock[index].available ?? wanted, wanted)),
    measure,
    costUnits,
    members: ordered.map(([, indices]) => indices),
    kinds: usable,
    tooLong,
  };
}

export const costOf = ({ costs }: Pick<Instance, 'costs'>, bars: readonly FilledBars[]): number =>
  bars.reduce((sum, { kind, count }) => sum + costs[kind] * count, 0);

/** What a fill takes, in weights. */
export const loadOf = ({ weights }: Pick<Instance, 'weights'>, fill: Fill): number =>
  fill.reduce((sum, count, at) => sum + count * weights[at], 0);

/** The same bars without pieces that are more than wanted. */
export function leanBars(demands: readonly number[], bars: readonly FilledBars[]): FilledBars[] {
  const left = [...demands],
    lean: FilledBars[] = [];
  for (const { kind, fill, count } of bars) {
    let rest = count;
    while (rest > 0) {
      const inBar = fill.map((wanted, at) => Math.min(wanted, left[at]));
      if (inBar.every((wanted) => wanted === 0)) break;
      const times = inBar.reduce(
        (most, wanted, at) => (wanted > 0 ? Math.min(most, Math.floor(left[at] / wanted)) : most),
        rest,
      );
      inBar.forEach((wanted, at) => (left[at] -= wanted * times));
      lean.push({ kind, fill: inBar, count: times });
      rest -= times;
    }
  }
  return lean;
}
