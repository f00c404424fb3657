import type { Fill, Instance } from './instance.ts';

/** The fill of one kind of bar that is worth most; no fill is worth more than `bound`. */
interface BestFill {
  readonly fill: Fill;
  readonly worth: number;
  readonly bound: number;
}

/** Nodes of the search, for one kind of bar, before a table is made instead. */
const MOST_NODES = 30_000;
/** Cells of a table. */
const MOST_CELLS = 2e7;
/** Lengths that a bar is told apart in where the exact table would be larger. */
const COARSE = 20_000;
/** Worths come out of a solver that rounds. */
const ROUNDING = 1e-9;

/**
 * For each kind of bar the most that the pieces in it can be worth (a bounded knapsack), by branch and bound over pieces
 * in the order of worth per length; where that takes long, by dynamic programming.
 * Source: P. Gilmore and R. Gomory, "A linear programming approach to the cutting stock problem, part II", Operations
 * Research 11 (1963).
 * @param worths of one piece of each weight; what is not above 0 stays out
 */
export function bestFills(worths: readonly number[], instance: Instance): BestFill[] {
  const { weights, demands, capacities } = instance;
  const order = weights.flatMap((_, at) => (worths[at] > ROUNDING && demands[at] > 0 ? [at] : []));
  order.sort((one, other) => worths[other] / weights[other] - worths[one] / weights[one] || one - other);
  const found = capacities.map((capacity) => searched(worths, instance, order, capacity));
  if (found.every((one) => one !== null)) return found as BestFill[];
  return tabled(worths, instance, order);
}

function searched(
  worths: readonly number[],
  { weights, demands }: Instance,
  order: readonly number[],
  capacity: number,
): BestFill | null {
  const now = new Array<number>(weights.length).fill(0);
  let best = 0,
    fill: Fill = now.slice(),
    nodes = 0;
  const go = (from: number, left: number, worth: number): boolean => {
    if (worth > best + ROUNDING) {
      best = worth;
      fill = now.slice();
    }
    let at = from;
    while (at < order.length && weights[order[at]] > left) at++;
    if (at === order.length) return true;
    if (++nodes > MOST_NODES) return false;
    const index = order[at];
    const next = at + 1 < order.length ? worths[order[at + 1]] / weights[order[at + 1]] : 0;
    for (let count = Math.min(demands[index], Math.floor(left / weights[index])); count >= 0; count--) {
      const rest = left - count * weights[index],
        sum = worth + count * worths[index];
      // The rest is worth at most what the next piece is worth per length; with fewer of this one it only gets less.
      if (sum + rest * next <= best + ROUNDING) break;
      now[index] = count;
      const isDone = go(at + 1, rest, sum);
      now[index] = 0;
      if (!isDone) return false;
    }
    return true;
  };
  // What is worth nothing more than what was found is never looked at, so nothing is lost where the first fill is 0.
  return go(0, capacity, 0) ? { fill, worth: best, bound: best + ROUNDING * (order.length + 1) } : null;
}

function tabled(worths: readonly number[], instance: Instance, order: readonly number[]): BestFill[] {
  const { capacities } = instance;
  const most = Math.max(...capacities);
  const parts = order.reduce((sum, at) => sum + Math.ceil(Math.log2(instance.demands[at] + 1)), 0);
  if (parts * (most + 1) <= MOST_CELLS)
    return table(worths, instance, order, (weight) => weight, capacities).map((one) => ({
      ...one,
      bound: one.worth + ROUNDING * (parts + 1),
    }));
  // Lengths rounded up give fills that are valid, lengths rounded down a worth that none exceeds.
  const step = Math.ceil(most / Math.min(COARSE, Math.max(1000, Math.floor(MOST_CELLS / Math.max(1, parts)))));
  const coarse = capacities.map((capacity) => Math.floor(capacity / step));
  const valid = table(worths, instance, order, (weight) => Math.ceil(weight / step), coarse);
  const above = table(worths, instance, order, (weight) => Math.floor(weight / step), coarse);
  return valid.map((one, kind) => ({ ...one, bound: above[kind].worth + ROUNDING * (parts + 1) }));
}

/** Dynamic programming over capacities; a piece that is there n times goes in as groups of 1, 2, 4 … of it. */
function table(
  worths: readonly number[],
  { weights, demands }: Instance,
  order: readonly number[],
  weightOf: (weight: number) => number,
  capacities: readonly number[],
): { fill: Fill; worth: number }[] {
  const width = Math.max(...capacities) + 1;
  const groups = order.flatMap((at) => groupsOf(demands[at]).map((count) => ({ at, count })));
  const best = new Float64Array(width);
  const taken = new Uint8Array(width * groups.length);
  groups.forEach(({ at, count }, group) => {
    const weight = weightOf(weights[at]) * count,
      worth = worths[at] * count,
      row = group * width;
    for (let capacity = width - 1; capacity >= weight; capacity--) {
      const sum = best[capacity - weight] + worth;
      if (sum > best[capacity]) {
        best[capacity] = sum;
        taken[row + capacity] = 1;
      }
    }
  });
  return capacities.map((capacity) => {
    const fill = new Array<number>(weights.length).fill(0);
    let left = capacity;
    for (let group = groups.length - 1; group >= 0; group--) {
      if (!taken[group * width + left]) continue;
      const { at, count } = groups[group];
      fill[at] += count;
      left -= weightOf(weights[at]) * count;
    }
    return { fill, worth: best[capacity] };
  });
}

function groupsOf(count: number): number[] {
  const groups: number[] = [];
  let left = count;
  for (let group = 1; left > 0; group *= 2) {
    groups.push(Math.min(group, left));
    left -= groups[groups.length - 1];
  }
  return groups;
}
