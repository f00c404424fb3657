import { cheapestCounts, type BarCounts } from './counts.ts';
import { dive } from './dive.ts';
import { asFarAsTheyGo, firstFit, shortened } from './firstFit.ts';
import { costOf, instanceOf, loadOf, type FilledBars, type Instance } from './instance.ts';
import type { LinearSolver } from './linear.ts';
import { Master, type Cut } from './master.ts';
import { piecesOf, planOf } from './planOf.ts';
import type { CutOptions, CutPlan, CutProblem } from './records.ts';
import { allFills, wholeFill } from './whole.ts';

/** Counts of bars that are tried, from the cheapest on. */
const MOST_TRIED = 80;
/** Of them, those of which it stayed open whether they suffice. */
const MOST_OPEN = 6;
/** Dives per count of bars. */
const DIVES = 5;
/**
 * Rounds of making fills, times the square of the lengths, after which the best so far has to do: a count, not a time, so
 * that the same problem has the same plan everywhere. Twenty lengths take a hundredth of it.
 */
const MOST_WORK = 2e8;
/** More lengths than this are not searched through in whole numbers: the solver would take minutes for the first look. */
const MOST_WHOLE = 120;
/** More lengths than this are filled by first fit alone: making fills for them would take too long. */
const MOST_LENGTHS = 1000;

interface Found {
  /** Null where none was found that holds all pieces. */
  readonly bars: readonly FilledBars[] | null;
  /** In costs. */
  readonly lowerBound: number;
}

/**
 * The cheapest way to cut pieces from bars that was found, with how good it is at least. Up to some hundred pieces of some
 * twenty lengths it is nearly always the cheapest there is; beyond, the gap is mostly far below one bar.
 *
 * What a plan costs hangs on how many bars of each kind are bought alone. So counts of bars are tried from the cheapest on
 * (`cheapestCounts`) that the relaxed problem does not rule out; each is either filled, which ends it, or ruled out by one
 * more cut. That is a Benders decomposition with column generation below it.
 * Sources: P. Gilmore and R. Gomory (1961, 1963), see `Master` and `bestFills`; J. Benders, "Partitioning procedures for
 * solving mixed-variables programming problems", Numerische Mathematik 4 (1962).
 */
export function planCuts(problem: CutProblem, solver: LinearSolver, options: CutOptions = {}): CutPlan {
  let wasStopped = false,
    work = 0;
  const instance = instanceOf(problem);
  const shouldStop = () => (wasStopped ||= options.shouldStop?.() ?? false) || work > MOST_WORK;
  const counted = counting(solver, () => (work += instance.weights.length ** 2));
  const report = ({ bars, lowerBound }: Found) =>
    options.onProgress?.({
      cost: bars ? costOf(instance, bars) / instance.costUnits : Infinity,
      lowerBound: lowerBound / instance.costUnits,
    });
  const found: Found =
    instance.weights.length === 0 ? { bars: [], lowerBound: 0 } : cheapest(instance, counted, shouldStop, report);
  if (found.bars) return planOf(problem, instance, found.bars, found.lowerBound, wasStopped);
  // What cannot be cut at all is another question than what is cheapest.
  const { bars, left } = asFarAsTheyGo(instance);
  return {
    ...planOf(problem, instance, bars, 0, wasStopped),
    optimal: false,
    missing: piecesOf(problem, instance, left),
  };
}

const counting = (solver: LinearSolver, count: () => void): LinearSolver => ({
  ...solver,
  open: (problem) => {
    const program = solver.open(problem);
    return {
      ...program,
      solve: () => {
        count();
        return program.solve();
      },
    };
  },
});

function cheapest(
  instance: Instance,
  solver: LinearSolver,
  shouldStop: () => boolean,
  report: (found: Found) => void,
): Found {
  const { weights, demands, limits } = instance;
  let best: readonly FilledBars[] | null = firstFit(instance);
  // No bar can hold more than its length of pieces.
  const cuts: Cut[] = [{ worths: instance.capacities, need: loadOf(instance, demands) }];
  let bound = 0,
    isOpen = false;
  const least = () => (best ? costOf(instance, best) : Infinity);
  const found = (): Found => ({ bars: best, lowerBound: Math.min(bound, least()) });
  const better = (plan: readonly FilledBars[] | null) => {
    const lean = plan && shortened(instance, plan);
    if (lean && costOf(instance, lean) < least()) best = lean;
    report(found());
  };
  const without: BarCounts[] = [];
  /** The next counts of bars to try; raises the bound for as long as all cheaper ones are ruled out. */
  const next = (): BarCounts | null => {
    const { counts, isProven } = cheapestCounts(instance, cuts, without, solver);
    const cost = counts?.reduce((sum, count, kind) => sum + count * instance.costs[kind], 0) ?? Infinity;
    if (!isOpen && isProven) bound = Math.max(bound, Math.min(cost, least()));
    return cost < least() ? counts : null;
  };
  next();
  if (weights.length > MOST_LENGTHS) return found();
  const master = new Master(instance, solver, best ?? [], shouldStop);
  try {
    const random = seeded(1);
    const root = master.solve(demands, limits, best ? 'cost' : 'missing');
    cuts.push(root.cut);
    next();
    if (!best && root.missing > 1e-7 && !shouldStop()) return { bars: null, lowerBound: 0 };
    report(found());
    better(dive(master, instance, limits, least(), () => 0, shouldStop));
    let fills: ReturnType<typeof allFills> | undefined;
    for (let tried = 0, open = 0; tried < MOST_TRIED && open < MOST_OPEN && !shouldStop(); tried++) {
      const counts = next();
      if (!counts) break;
      const relaxed = master.solve(demands, counts, 'missing');
      if (shouldStop()) break;
      if (relaxed.missing > 1e-7) {
        // Where rounding makes the cut too weak for it, these counts are ruled out by name.
        if (rulesOut(relaxed.cut, counts)) cuts.push(relaxed.cut);
        else without.push(counts);
        report(found());
        continue;
      }
      const plan = filled(counts);
      if (plan === 'none') without.push(counts);
      else if (plan) better(plan);
      else {
        isOpen = true;
        open++;
        without.push(counts);
      }
    }
    /** A plan with no more than these bars. */
    function filled(counts: BarCounts): readonly FilledBars[] | 'none' | null {
      for (let attempt = 0; attempt < DIVES && !shouldStop(); attempt++) {
        const plan = dive(master, instance, counts, least(), attempt === 0 ? () => 0 : random, shouldStop);
        if (plan) return plan;
      }
      if (weights.length > MOST_WHOLE || shouldStop()) return null;
      const known = wholeFill(instance, master.fills, counts, solver, { nodes: 300, shouldStop });
      if (known !== null && known !== 'none') return known;
      if (fills === undefined) fills = allFills(instance);
      return fills && wholeFill(instance, fills, counts, solver, { nodes: 5000, shouldStop });
    }
    return found();
  } finally {
    master.dispose();
  }
}

const rulesOut = ({ worths, need }: Cut, counts: BarCounts): boolean =>
  counts.reduce((sum, count, kind) => sum + count * worths[kind], 0) < need * (1 - 1e-6);

/** A small generator of its own, so that the same problem has the same plan (Lehmer, 1951). */
function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}
