import type { Instance } from './instance.ts';
import type { LinearColumn, LinearRow, LinearSolver } from './linear.ts';
import type { Cut } from './master.ts';

/** Bars of each kind. */
export type BarCounts = readonly number[];

/** What the solver rounds, as a share of a row's limit. */
const ROUNDING = 1e-7;
const MOST_NODES = 20_000;

/** What counts have to keep, as rows over the kinds and over switches behind them. */
interface Asked {
  readonly rows: LinearRow[];
  /** Of each kind. */
  readonly entries: readonly { readonly rows: number[]; readonly values: number[] }[];
  readonly switches: readonly LinearColumn[];
}

/** Null where no counts are left. */
function askedOf({ costs, limits }: Instance, cuts: readonly Cut[], without: readonly BarCounts[]): Asked | null {
  const rows: LinearRow[] = [];
  const entries: { rows: number[]; values: number[] }[] = costs.map(() => ({ rows: [], values: [] }));
  const put = (column: number, value: number) => {
    entries[column].rows.push(rows.length);
    entries[column].values.push(value);
  };
  for (const { worths, need } of cuts) {
    const most = Math.max(...worths);
    if (!(need > 0) || !(most > 0)) continue;
    worths.forEach((worth, kind) => worth > most * 1e-12 && put(kind, worth / most));
    rows.push({ lower: (need / most) * (1 - ROUNDING), upper: Infinity });
  }
  // More of at least one kind: a switch for each kind that can have more, one of which is on.
  const switches: { rows: number[]; values: number[] }[] = [];
  for (const counts of without) {
    const open = costs.flatMap((_, kind) => (counts[kind] < limits[kind] ? [kind] : []));
    if (open.length === 0) return null;
    const first = switches.length;
    for (const kind of open) {
      put(kind, 1);
      switches.push({ rows: [rows.length], values: [-(counts[kind] + 1)] });
      rows.push({ lower: 0, upper: Infinity });
    }
    open.forEach((_, at) => {
      switches[first + at].rows.push(rows.length);
      switches[first + at].values.push(1);
    });
    rows.push({ lower: 1, upper: Infinity });
  }
  return { rows, entries, switches: switches.map((one) => ({ cost: 0, ...one, upper: 1 })) };
}

/**
 * The cheapest bars, counted by kind, that no cut forbids, and of those that cost the same the longest. What a plan costs
 * hangs on these counts alone, so none can be cheaper.
 * @param without counts that are known not to suffice, nor any with as many or fewer of each kind
 * @returns `counts` null where there are none; `isProven` is false where the search for cheaper ones was broken off
 */
export function cheapestCounts(
  instance: Instance,
  cuts: readonly Cut[],
  without: readonly BarCounts[],
  solver: LinearSolver,
): { counts: BarCounts | null; isProven: boolean } {
  const { costs, limits, capacities } = instance;
  const asked = askedOf(instance, cuts, without);
  if (!asked) return { counts: null, isProven: true };
  const { rows, entries, switches } = asked;
  const scale = Math.max(1, ...costs),
    length = Math.max(1, ...capacities);
  const columns = costs.map((cost, kind): LinearColumn => ({
    cost: cost / scale,
    ...entries[kind],
    upper: limits[kind],
  }));
  const search = { nodes: MOST_NODES };
  const cheapest = solver.whole({ rows, columns: [...columns, ...switches] }, search);
  if (!cheapest.values) return { counts: null, isProven: cheapest.isProven };
  const costOf = (counts: BarCounts) => costs.reduce((sum, one, kind) => sum + one * counts[kind], 0);
  const cost = costOf(cheapest.values);
  // Of the same cost the longest: whatever fits shorter bars fits longer ones.
  const longest = solver.whole(
    {
      rows: [...rows, { lower: -Infinity, upper: cost / scale + 1e-9 }],
      columns: [
        ...columns.map((column, kind) => ({
          cost: -capacities[kind] / length,
          rows: [...column.rows, rows.length],
          values: [...column.values, costs[kind] / scale],
          upper: limits[kind],
        })),
        ...switches,
      ],
    },
    search,
  );
  const isAsCheap = longest.values && costOf(longest.values) <= cost;
  return {
    counts: (isAsCheap ? longest.values! : cheapest.values).slice(0, costs.length),
    isProven: cheapest.isProven,
  };
}
