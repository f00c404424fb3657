import { expose } from 'comlink';
import { makeBill, type BillDecisions, type Recipe } from '../../../core/src/bill/index.ts';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import type { Column } from '../../../core/src/columns/index.ts';
import { planBalloons, type BalloonPlan, type Sheet } from '../../../core/src/sheets/index.ts';
import type { Spots, ViewLines } from '../../../core/src/views/index.ts';

/** Everything that arranging needs, as data that can travel to a worker. */
export interface ArrangeRequest {
  readonly sheet: Sheet;
  readonly assembly: Assembly;
  readonly recipe: Recipe;
  readonly decisions: BillDecisions;
  readonly columns: readonly Column[];
  readonly lines: ReadonlyMap<string, ViewLines>;
  readonly spots: ReadonlyMap<string, Spots>;
}

const solver = {
  arrange: ({ sheet, assembly, recipe, decisions, columns, lines, spots }: ArrangeRequest): BalloonPlan =>
    planBalloons(
      { sheet, assembly, bill: makeBill(assembly, recipe, decisions, { columns }), columns, lines },
      spots,
      () => crypto.randomUUID(),
    ),
};
export type Solver = typeof solver;
expose(solver);
