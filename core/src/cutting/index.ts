export { barLayout } from './barLayout.ts';
export type { BarStretch } from './barLayout.ts';
export { planCuts } from './planCuts.ts';
export type {
  CutBar,
  CutMeasure,
  CutOptions,
  CutPlan,
  CutProblem,
  CutProgress,
  PieceDemand,
  StockBar,
} from './records.ts';
export type {
  LinearColumn,
  LinearProblem,
  LinearProgram,
  LinearRow,
  LinearSolution,
  LinearSolver,
  WholeLimits,
  WholeSolution,
} from './linear.ts';
