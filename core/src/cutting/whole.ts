import type { BarCounts } from './counts.ts';
import { leanBars, type Fill, type FilledBars, type Instance } from './instance.ts';
import type { LinearSolver } from './linear.ts';

type KindFill = { readonly kind: number; readonly fill: Fill };

/** More fills than this are not all listed: then a search over them proves nothing. */
const MOST_FILLS = 2500;

/** Every fill of every kind that nothing more fits into, or null where there are too many. */
export function allFills({ weights, demands, capacities }: Instance): KindFill[] | null {
  const all: KindFill[] = [];
  let steps = 0;
  const isListed = capacities.every((capacity, kind) => {
    const now = weights.map(() => 0);
    const go = (at: number, room: number): boolean => {
      if (++steps > 40 * MOST_FILLS) return false;
      if (at === weights.length) {
        if (weights.some((weight, other) => weight <= room && now[other] < demands[other])) return true;
        return all.push({ kind, fill: now.slice() }) <= MOST_FILLS;
      }
      for (let count = Math.min(demands[at], Math.floor(room / weights[at])); count >= 0; count--) {
        now[at] = count;
        if (!go(at + 1, room - count * weights[at])) return false;
      }
      now[at] = 0;
      return true;
    };
    return go(0, capacity);
  });
  return isListed ? all : null;
}

/**
 * Bars filled with these fills, of each kind as many as there are of it, by branch and bound.
 * @returns `none` where it is proven that these fills do not suffice; null where that was not found out
 */
export function wholeFill(
  { demands }: Instance,
  fills: readonly KindFill[],
  counts: BarCounts,
  solver: LinearSolver,
  limits: { readonly nodes: number; readonly shouldStop: () => boolean },
): FilledBars[] | 'none' | null {
  const usable = fills.filter(({ kind }) => counts[kind] > 0);
  const { values, isProven } = solver.whole(
    {
      rows: [
        ...demands.map((lower) => ({ lower, upper: Infinity })),
        ...counts.map((upper) => ({ lower: -Infinity, upper })),
      ],
      columns: usable.map(({ kind, fill }) => {
        const rows = fill.flatMap((count, at) => (count > 0 ? [at] : []));
        return {
          cost: 0,
          rows: [...rows, demands.length + kind],
          values: [...rows.map((at) => fill[at]), 1],
          upper: counts[kind],
        };
      }),
    },
    limits,
  );
  if (!values) return isProven ? 'none' : null;
  return leanBars(
    demands,
    usable.flatMap((one, at) => (values[at] > 0 ? [{ ...one, count: values[at] }] : [])),
  );
}
