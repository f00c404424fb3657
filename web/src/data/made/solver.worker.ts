import { expose } from 'comlink';
import type { PathKey } from '../../../../core/src/assembly/index.ts';
import type { Mesh } from '../../../../core/src/geometry/index.ts';
import { likesOf, type LikeChoice } from '../../../../core/src/layouts/index.ts';
import { fastenedTo, type Part } from '../../../../core/src/poses/index.ts';
import { linesForPen, type ViewLines } from '../../../../core/src/views/index.ts';
import { readyForFormulas } from '../../../../core/src/columns/index.ts';
import {
  carryOut,
  type CarriedOut,
  type DrawnLook,
  type PlainIntention,
  type ProjectState,
} from '../../../../core/src/documents/index.ts';

const solver = {
  /** See there; away from the page's thread, since every shape is looked at. */
  fastenedTo: (parts: readonly Part[], paths: readonly PathKey[]): PathKey[] => fastenedTo(parts, paths),
  /** See there; a drawing may have twenty thousand shapes. */
  likesOf: (one: Mesh, others: readonly Mesh[], choice: LikeChoice): boolean[] => likesOf(one, others, choice),
  /** Lines of a view that a pen can print without clotting. */
  thin: (lines: ViewLines, pen: number): ViewLines => linesForPen(lines, pen),
  /** Works out what a gesture takes, away from the page's thread. @param views drawn, by the key of their look */
  async carryOut(
    state: ProjectState,
    intention: PlainIntention,
    views: ReadonlyMap<string, DrawnLook>,
  ): Promise<CarriedOut> {
    if (state.bills.some(({ content }) => content.columns.some(({ source }) => source === 'formula')))
      await readyForFormulas();
    return carryOut(state, intention, { views, newId: () => crypto.randomUUID() });
  },
};
export type Solver = typeof solver;
expose(solver);
