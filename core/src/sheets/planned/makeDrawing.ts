import type { Spots } from '../../views/index.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { planBalloons, planSheet, unplacedView } from './plan.ts';
import type { Sheet, SheetProblem, ViewLook } from '../records.ts';

/** A sheet that is to become a drawing, and what it is made from. */
interface DrawingRequest extends SheetInputs {
  /** With the views that it is to have, see `withViews`. */
  readonly sheet: Sheet;
  /** Where leaders may end, by view id like the lines. */
  readonly spots: ReadonlyMap<string, Spots>;
  readonly newId: () => string;
  /** Rows that get a balloon; all where absent. */
  readonly wanted?: ReadonlySet<number>;
  /** Rows that a view may have one for, by view id; all where absent. */
  readonly inView?: ReadonlyMap<string, ReadonlySet<number>>;
}

/** A view that a drawing begins with: what is looked at, in which pose. */
export type ViewWish = Omit<ViewLook, 'detail'>;

/** The sheet with views to be placed: its own, or these where it has none. */
export const withViews = (sheet: Sheet, usual: readonly ViewWish[], newId: () => string): Sheet =>
  sheet.views.length > 0 ? sheet : { ...sheet, views: usual.map((look) => unplacedView(newId(), look)) };

/**
 * The sheet with its views in the room that is left, its list, and a balloon for every line that can be seen. What was
 * placed by hand stays as it is, views and balloons; the list stays where it hangs.
 */
export function makeDrawing(request: DrawingRequest): { sheet: Sheet; problems: readonly SheetProblem[] } {
  const { sheet, spots, newId, wanted, inView } = request;
  const planned = planSheet(request);
  const placed = new Map(planned.views.map((view) => [view.id, view]));
  const drawn: Sheet = {
    ...sheet,
    views: sheet.views.map((view) => (!view.byHand && placed.get(view.id)) || view),
    tables: planned.tables,
    balloonLook: planned.balloonLook,
  };
  const { balloons, problems } = planBalloons({ ...request, sheet: drawn }, spots, newId, wanted, inView);
  return { sheet: { ...drawn, balloons }, problems };
}
