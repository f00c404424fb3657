export { barLayout } from './barLayout.ts';
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
export type { LinearColumn, LinearProblem, LinearProgram, LinearRow, LinearSolver } from './linear.ts';
