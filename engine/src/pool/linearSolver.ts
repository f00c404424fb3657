import loadHighs, { type Highs, type Model } from 'highs';
import type { LinearColumn, LinearProblem, LinearProgram, LinearSolver } from '../../../core/src/cutting/index.ts';

let loaded: Promise<LinearSolver> | null = null;
/** HiGHS, as WebAssembly; loaded once. Its calls hold up the thread, so it belongs into workers. */
export const linearSolver = (): Promise<LinearSolver> =>
  (loaded ??= loadHighs().then((highs) => ({
    open: (problem) => open(highs, problem),
    whole: (problem, { nodes, shouldStop }) => {
      const model = createModel(highs, problem, true);
      try {
        model.options.set({ mip_rel_gap: 0, mip_abs_gap: 1e-9, mip_max_nodes: nodes });
        model.run({
          [highs.constants.callbackType.mipInterrupt]: (event) => {
            if (shouldStop?.()) event.interrupt();
          },
        });
        const status = model.getModelStatus();
        const { modelStatus } = highs.constants;
        if (status === modelStatus.infeasible) return { values: null, isProven: true };
        const hasOne =
          Number.isFinite(model.getObjectiveValue()) && Number(model.info.get('primal_solution_status')) === 2;
        return {
          values: hasOne ? [...model.getSolution().colValue].map(Math.round) : null,
          isProven: status === modelStatus.optimal,
        };
      } finally {
        model.dispose();
      }
    },
  })));

function open(highs: Highs, problem: LinearProblem): LinearProgram {
  const model = createModel(highs, problem, false);
  model.options.set({ presolve: 'off', solver: 'simplex', simplex_strategy: 4 });
  return {
    addColumn: ({ cost, rows, values, lower = 0, upper = highs.infinity }: LinearColumn) =>
      void model.addCol(cost, lower, upper, { indices: [...rows], values: [...values] }),
    setCosts: (costs) => void model.changeColsCost({ kind: 'range', from: 0, to: costs.length - 1 }, [...costs]),
    setRow: (row, { lower, upper }) => void model.changeRowBounds(row, lower, upper),
    solve: () => {
      model.run();
      if (model.getModelStatus() !== highs.constants.modelStatus.optimal) return null;
      const { colValue, rowDual } = model.getSolution();
      return { objective: model.getObjectiveValue(), values: [...colValue], duals: [...rowDual] };
    },
    dispose: () => model.dispose(),
  };
}

function createModel(highs: Highs, { rows, columns }: LinearProblem, whole: boolean): Model {
  const starts = [0];
  for (const column of columns) starts.push(starts[starts.length - 1] + column.rows.length);
  const model = highs.createModel();
  model.options.set({ output_flag: false, log_to_console: false, random_seed: 0 });
  model.passModel({
    numCols: columns.length,
    numRows: rows.length,
    colCost: columns.map(({ cost }) => cost),
    colLower: columns.map(({ lower = 0 }) => lower),
    colUpper: columns.map(({ upper = highs.infinity }) => upper),
    rowLower: rows.map(({ lower }) => lower),
    rowUpper: rows.map(({ upper }) => upper),
    matrix: {
      format: 'csc',
      numCols: columns.length,
      numRows: rows.length,
      starts: Int32Array.from(starts),
      indices: Int32Array.from(columns.flatMap((column) => column.rows)),
      values: Float64Array.from(columns.flatMap((column) => column.values)),
    },
    ...(whole ? { integrality: columns.map(() => highs.constants.variableType.integer) } : {}),
  });
  return model;
}
