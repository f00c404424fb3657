import { costOf, loadOf, type FilledBars, type Instance } from './instance.ts';

/**
 * Bars filled one after the other, each with the longest pieces that still fit; with bars of one kind this is first fit
 * decreasing. Bars that would be filled alike are filled in one step.
 * @param choose which kind comes next, by what a bar of it would hold
 * @returns `left`: pieces of each weight that no bar is left for
 */
function filledInTurn(
  instance: Instance,
  demands: readonly number[],
  limits: readonly number[],
  choose: (fills: readonly { readonly kind: number; readonly load: number }[]) => number,
): { bars: FilledBars[]; left: number[] } {
  const { weights, capacities } = instance;
  const left = [...demands],
    bars = [...limits],
    made: FilledBars[] = [];
  while (left.some((count) => count > 0)) {
    const fills = capacities.flatMap((capacity, kind) => {
      if (bars[kind] === 0) return [];
      let room = capacity;
      const fill = weights.map((weight, at) => {
        const count = Math.min(left[at], Math.floor(room / weight));
        room -= count * weight;
        return count;
      });
      return room === capacity ? [] : [{ kind, fill, load: capacity - room }];
    });
    if (fills.length === 0) break;
    const kind = choose(fills);
    const { fill } = fills.find((one) => one.kind === kind)!;
    const count = fill.reduce(
      (most, inBar, at) => (inBar > 0 ? Math.min(most, Math.floor(left[at] / inBar)) : most),
      bars[kind],
    );
    fill.forEach((inBar, at) => (left[at] -= inBar * count));
    bars[kind] -= count;
    made.push({ kind, fill, count });
  }
  return { bars: made, left };
}

/** Of more kinds of bars, plans of one kind alone are not made: each takes as long as one of all. */
const MOST_ALONE = 12;

/**
 * The cheapest of several simple plans; first fit decreasing with each kind alone is among them.
 * @returns null where the bars do not suffice for any
 */
export function firstFit(
  instance: Instance,
  demands: readonly number[] = instance.demands,
  limits: readonly number[] = instance.limits,
): FilledBars[] | null {
  let least: FilledBars[] | null = null;
  for (const { bars, left } of simplePlans(instance, demands, limits)) {
    if (left.some((count) => count > 0)) continue;
    const lean = shortened(instance, bars, limits);
    if (!least || costOf(instance, lean) < costOf(instance, least)) least = lean;
  }
  return least;
}

/** As much as the bars suffice for, by length. */
export function asFarAsTheyGo(instance: Instance): { bars: FilledBars[]; left: readonly number[] } {
  return simplePlans(instance, instance.demands, instance.limits).reduce((best, one) =>
    loadOf(instance, one.left) < loadOf(instance, best.left) ? one : best,
  );
}

function simplePlans(instance: Instance, demands: readonly number[], limits: readonly number[]) {
  const { capacities, costs } = instance;
  const best = (worse: (one: { kind: number; load: number }) => number) =>
    filledInTurn(
      instance,
      demands,
      limits,
      (fills) => fills.reduce((least, one) => (worse(one) < worse(least) ? one : least)).kind,
    );
  return [
    best(({ kind, load }) => costs[kind] / load),
    best(({ kind, load }) => (capacities[kind] - load) / capacities[kind]),
    ...(capacities.length > MOST_ALONE ? [] : capacities).map((_, kind) =>
      filledInTurn(
        instance,
        demands,
        limits.map((limit, one) => (one === kind ? limit : 0)),
        () => kind,
      ),
    ),
  ];
}

/** The same fills, each in the cheapest bar that is long enough and that there is still one of. */
export function shortened(
  instance: Instance,
  bars: readonly FilledBars[],
  limits: readonly number[] = instance.limits,
): FilledBars[] {
  const { weights, capacities, costs } = instance;
  const used = capacities.map(() => 0);
  for (const { kind, count } of bars) used[kind] += count;
  const cheapestFirst = costs
    .map((_, kind) => kind)
    .sort((one, other) => costs[one] - costs[other] || capacities[one] - capacities[other]);
  const made: FilledBars[] = [];
  for (const { kind, fill, count } of bars) {
    const load = fill.reduce((sum, inBar, at) => sum + inBar * weights[at], 0);
    let left = count;
    for (const other of cheapestFirst) {
      const isBetter =
        costs[other] < costs[kind] || (costs[other] === costs[kind] && capacities[other] < capacities[kind]);
      if (left === 0 || !isBetter) break;
      if (capacities[other] < load) continue;
      const moved = Math.min(left, limits[other] - used[other]);
      if (moved <= 0) continue;
      used[other] += moved;
      used[kind] -= moved;
      left -= moved;
      made.push({ kind: other, fill, count: moved });
    }
    if (left > 0) made.push({ kind, fill, count: left });
  }
  return made;
}
