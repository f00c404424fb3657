/** One unknown of a linear problem. */
export interface LinearColumn {
  readonly cost: number;
  /** Rows that it stands in. */
  readonly rows: readonly number[];
  /** Its factor in each of them. */
  readonly values: readonly number[];
  /** At least this; 0 where absent. */
  readonly lower?: number;
  /** At most this; unbounded where absent. */
  readonly upper?: number;
}
export interface LinearRow {
  readonly lower: number;
  readonly upper: number;
}
/** The least sum of cost × value such that every row lies within its limits. */
export interface LinearProblem {
  readonly rows: readonly LinearRow[];
  readonly columns: readonly LinearColumn[];
}
interface LinearSolution {
  readonly objective: number;
  /** By column. */
  readonly values: readonly number[];
  /** By row: how much more it costs for each more that its limit asks for. */
  readonly duals: readonly number[];
}

/** A problem that is kept open: changed a little and solved again, from where it stood. */
export interface LinearProgram {
  readonly addColumn: (column: LinearColumn) => void;
  readonly setCosts: (costs: readonly number[]) => void;
  readonly setRow: (row: number, limits: LinearRow) => void;
  /** Null where nothing lies within all limits. */
  readonly solve: () => LinearSolution | null;
  /** It takes memory that nobody else gives back. */
  readonly dispose: () => void;
}

interface WholeLimits {
  /** So many nodes of the search are looked at, at most. */
  readonly nodes: number;
  readonly shouldStop?: (() => boolean) | undefined;
}
/** `values` of the best that was found; `isProven`: that, or that there is none, is certain. */
interface WholeSolution {
  readonly values: readonly number[] | null;
  readonly isProven: boolean;
}

/** Does the linear algebra of cut plans: a solver package behind a door of its own, since its program has to be loaded. */
export interface LinearSolver {
  readonly open: (problem: LinearProblem) => LinearProgram;
  /** The same with whole numbers only. */
  readonly whole: (problem: LinearProblem, limits: WholeLimits) => WholeSolution;
}
