import type { FilledBars, Fill, Instance } from './instance.ts';
import { bestFills } from './knapsack.ts';
import type { LinearColumn, LinearProgram, LinearSolver } from './linear.ts';

/**
 * What worths of pieces prove: whatever bars are bought, by kind, Σ bars × `worths` ≥ `need`, since no bar can hold
 * pieces that are worth more.
 */
export interface Cut {
  readonly worths: readonly number[];
  readonly need: number;
}
/** The relaxed problem, solved: how often each fill is used, in fractions. */
interface Relaxed {
  readonly uses: readonly { readonly kind: number; readonly fill: Fill; readonly amount: number }[];
  /** Of the bars, in costs; pieces that no bar is left for are not in it. */
  readonly cost: number;
  /** Share of the pieces that no bar is left for, weighted by length; 0 where all find one. */
  readonly missing: number;
  readonly cut: Cut;
}

/** A worth that is this far above what a bar costs is no improvement any more; costs lie between 0 and 1 here. */
const NO_GAIN = 1e-7;
/** More than any plan could save by leaving a piece out. */
const MISSING_COST = 20;
/** Lengths times kinds; where there are more, each length begins in one kind alone. */
const MOST_ALONE = 600;
const LENGTHS_PER_FURTHER_FILL = 12;
const FEW_LENGTHS = 100,
  NEAR = 3e-4;
/** Whether it is certain already that these bars suffice, or that they do not. */
const isDecided = ({ worths, need }: Cut, limits: readonly number[], objective: number): boolean =>
  objective <= 1e-9 || limits.reduce((sum, limit, kind) => sum + limit * worths[kind], 0) < need * (1 - 1e-6);
/** Rounds of making fills, before what is there has to do: then the bound is not as good as it could be, but holds. */
const MOST_ROUNDS = 3000;

/**
 * The linear relaxation over fills, which are made as they are wanted (column generation). Kept open: demands and limits
 * of bars are changed and it is solved again with all fills that are known.
 * Source: P. Gilmore and R. Gomory, "A linear programming approach to the cutting-stock problem", Operations Research 9
 * (1961).
 */
export class Master {
  readonly fills: { readonly kind: number; readonly fill: Fill }[] = [];
  private readonly program: LinearProgram;
  private readonly known = new Set<string>();
  private readonly scale: number;
  private counting: 'cost' | 'missing' = 'cost';

  constructor(
    private readonly instance: Instance,
    solver: LinearSolver,
    start: readonly FilledBars[],
    private readonly shouldStop: () => boolean,
  ) {
    const { weights, demands, limits, costs, capacities } = instance;
    this.scale = Math.max(1, ...costs);
    this.program = solver.open({
      rows: [
        ...demands.map((lower) => ({ lower, upper: Infinity })),
        ...limits.map((upper) => ({ lower: -Infinity, upper })),
      ],
      columns: weights.map((_, at): LinearColumn => ({ cost: this.costOfMissing(at), rows: [at], values: [1] })),
    });
    for (const { kind, fill } of start) this.add(kind, fill);
    // One fill of each length alone in each kind, so that prices of pieces settle early.
    const few = weights.length * capacities.length <= MOST_ALONE;
    weights.forEach((weight, at) =>
      capacities.forEach((capacity, kind) => {
        const count = Math.min(demands[at], Math.floor(capacity / weight));
        if (count > 0 && (few || kind === at % capacities.length))
          this.add(
            kind,
            weights.map((_, other) => (other === at ? count : 0)),
          );
      }),
    );
  }

  dispose(): void {
    this.program.dispose();
  }

  /** Longer pieces are dearer to leave out. */
  private costOfMissing(at: number): number {
    const { weights } = this.instance;
    return MISSING_COST * (0.5 + (0.5 * weights[at]) / weights[0]);
  }

  private costOf(kind: number): number {
    return this.counting === 'missing' ? 0 : this.instance.costs[kind] / this.scale;
  }

  private add(kind: number, fill: Fill): boolean {
    const name = `${kind}:${fill.join()}`;
    if (this.known.has(name)) return false;
    this.known.add(name);
    this.fills.push({ kind, fill });
    const rows = fill.flatMap((count, at) => (count > 0 ? [at] : []));
    this.program.addColumn({
      cost: this.costOf(kind),
      rows: [...rows, fill.length + kind],
      values: [...rows.map((at) => fill[at]), 1],
    });
    return true;
  }

  /**
   * More fills of the same round, each of pieces that those before it did not hold, by worth per length: with hundreds
   * of lengths one fill per round would take hundreds of rounds.
   */
  private addFurther(
    worths: readonly number[],
    { weights, demands, capacities }: Instance,
    best: readonly { readonly fill: Fill }[],
    isGain: readonly boolean[],
  ): void {
    const order = weights
      .flatMap((_, at) => (worths[at] > 0 && demands[at] > 0 ? [at] : []))
      .sort((one, other) => worths[other] / weights[other] - worths[one] / weights[one] || one - other);
    capacities.forEach((capacity, kind) => {
      if (!isGain[kind]) return;
      const left = demands.map((demand, at) => demand - best[kind].fill[at]);
      for (let more = 0; more < weights.length / LENGTHS_PER_FURTHER_FILL; more++) {
        let room = capacity,
          worth = 0;
        const fill = weights.map(() => 0);
        for (const at of order) {
          const count = Math.min(left[at], Math.floor(room / weights[at]));
          if (count <= 0) continue;
          fill[at] = count;
          left[at] -= count;
          room -= count * weights[at];
          worth += count * worths[at];
        }
        if (worth - this.costOf(kind) <= NO_GAIN) break;
        this.add(kind, fill);
      }
    });
  }

  /**
   * Whether more fills can make hardly any difference. With hundreds of lengths the last rounds take longest and gain
   * least; with few all are made.
   */
  private isNear({ worths, need }: Cut, objective: number): boolean {
    if (this.instance.weights.length <= FEW_LENGTHS) return false;
    // Worths scaled so that no bar can hold more than it costs are a bound (A. Farley, Operations Research 38, 1990).
    const share = worths.reduce(
      (least, worth, kind) => (worth > 0 ? Math.min(least, this.costOf(kind) / worth) : least),
      1,
    );
    return share * need >= objective * (1 - NEAR);
  }

  private count(what: 'cost' | 'missing'): void {
    if (this.counting === what) return;
    this.counting = what;
    this.program.setCosts([
      ...this.instance.weights.map((_, at) => this.costOfMissing(at)),
      ...this.fills.map(({ kind }) => this.costOf(kind)),
    ]);
  }

  /**
   * The relaxed problem for these demands and limits.
   * @param what `missing`: bars cost nothing, so whether they suffice is told most sharply
   */
  solve(demands: readonly number[], limits: readonly number[], what: 'cost' | 'missing' = 'cost'): Relaxed {
    const { weights } = this.instance;
    this.count(what);
    demands.forEach((lower, at) => this.program.setRow(at, { lower, upper: Infinity }));
    limits.forEach((upper, kind) => this.program.setRow(weights.length + kind, { lower: -Infinity, upper }));
    const wanted = { ...this.instance, demands };
    for (let round = 0; ; round++) {
      const solved = this.program.solve();
      // Pieces may be left out and bars left where they are, so there always is a solution.
      if (!solved) throw new Error('The solver found no solution of a problem that has one; this is a fault of ours.');
      const worths = weights.map((_, at) => Math.max(0, solved.duals[at]));
      const best = bestFills(worths, wanted);
      const isGain = best.map(
        ({ worth }, kind) =>
          limits[kind] > 0 && worth - this.costOf(kind) + Math.min(0, solved.duals[weights.length + kind]) > NO_GAIN,
      );
      const isNew = best.filter(({ fill }, kind) => isGain[kind] && this.add(kind, fill)).length > 0;
      if (isNew) this.addFurther(worths, wanted, best, isGain);
      const cut = {
        worths: best.map(({ bound }) => bound),
        need: demands.reduce((sum, demand, at) => sum + demand * worths[at], 0),
      };
      const isSettled =
        what === 'missing' ? isDecided(cut, limits, solved.objective) : this.isNear(cut, solved.objective);
      if (isNew && !isSettled && round < MOST_ROUNDS && !this.shouldStop()) continue;
      const { values } = solved;
      const uses = this.fills.flatMap(({ kind, fill }, at) => {
        const amount = values[weights.length + at];
        return amount > 1e-9 ? [{ kind, fill, amount }] : [];
      });
      const whole = demands.reduce((sum, demand, at) => sum + demand * weights[at], 0);
      return {
        uses,
        cost: uses.reduce((sum, { kind, amount }) => sum + amount * this.instance.costs[kind], 0),
        missing: weights.reduce((sum, weight, at) => sum + Math.max(0, values[at]) * weight, 0) / Math.max(1, whole),
        cut,
      };
    }
  }
}
