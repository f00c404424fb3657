import { expose } from 'comlink';
import { makeBill, type BillDecisions, type Recipe } from '../../../core/src/bill/index.ts';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import type { Column } from '../../../core/src/columns/index.ts';
import { makeDrawing, planBalloons, type BalloonPlan, type Sheet } from '../../../core/src/sheets/index.ts';
import type { DirectionName, Spots, ViewLines } from '../../../core/src/views/index.ts';

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

/** Everything that “Make the drawing” needs; lines and spots by direction. */
export interface DrawRequest extends Omit<ArrangeRequest, 'lines' | 'spots'> {
  readonly directions: readonly DirectionName[];
  readonly lines: ReadonlyMap<DirectionName, ViewLines>;
  readonly spots: ReadonlyMap<DirectionName, Spots>;
}

const newId = () => crypto.randomUUID();
const billOf = ({ assembly, recipe, decisions, columns }: Omit<ArrangeRequest, 'lines' | 'spots'>) =>
  makeBill(assembly, recipe, decisions, { columns });

const solver = {
  arrange: ({ spots, ...request }: ArrangeRequest): BalloonPlan =>
    planBalloons({ ...request, bill: billOf(request) }, spots, newId),
  draw: (request: DrawRequest): ReturnType<typeof makeDrawing> =>
    makeDrawing({ ...request, bill: billOf(request), newId }),
};
export type Solver = typeof solver;
expose(solver);
