import type { RowIndex } from '../../../core/src/assembly/index.ts';
import type { openedAcross } from '../../../core/src/sheets/index.ts';

/** What a link to another sheet takes along: the line whose balloon is to be placed there. */
export interface PlaceThere {
  readonly place: RowIndex;
}

/** What a link to the sheets takes along: how the machine is cut open, for a view of it. */
export interface CutThere {
  readonly cut: ReturnType<typeof openedAcross>;
}
