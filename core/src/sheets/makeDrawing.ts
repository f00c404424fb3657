import type { Assembly } from '../assembly/index.ts';
import type { Bill } from '../bill/index.ts';
import type { Column } from '../columns/index.ts';
import type { DirectionName, Spots, ViewLines } from '../views/index.ts';
import type { SheetInputs } from './layout.ts';
import { planBalloons, planSheet } from './plan.ts';
import type { Sheet, SheetProblem, SheetView } from './records.ts';

/** A sheet that is to become a drawing, and what it is made from. */
export interface DrawingRequest {
  readonly sheet: Sheet;
  /** Views for a sheet that has none. */
  readonly directions: readonly DirectionName[];
  readonly assembly: Assembly;
  readonly bill: Bill;
  readonly columns: readonly Column[];
  /** Of all views that the sheet has or gets. */
  readonly lines: ReadonlyMap<DirectionName, ViewLines>;
  readonly spots: ReadonlyMap<DirectionName, Spots>;
  readonly newId: () => string;
}

/** Which directions a drawing on this sheet shows: those of its views, or the usual ones where it has none. */
export const drawingDirections = (sheet: Sheet, usual: readonly DirectionName[]): DirectionName[] => [
  ...new Set(sheet.views.length > 0 ? sheet.views.map(({ direction }) => direction) : usual),
];

/**
 * The sheet with its views in the room that is left, its list, and a balloon for every line that can be seen. What was
 * placed by hand stays as it is, views and balloons; the list stays where it hangs.
 */
export function makeDrawing(request: DrawingRequest): { sheet: Sheet; problems: readonly SheetProblem[] } {
  const { sheet, assembly, bill, columns, lines, spots, newId } = request;
  const { name, paper, fields, table } = sheet;
  const directions = drawingDirections(sheet, request.directions);
  const planned = planSheet({ name, paper, fields, table, directions, assembly, bill, columns, lines, newId });
  const placed = new Map(planned.views.map((view) => [view.direction, view]));
  const views: SheetView[] =
    sheet.views.length === 0
      ? [...planned.views]
      : sheet.views.map((view) => {
          const { centre, scale } = (!view.byHand && placed.get(view.direction)) || view;
          return { ...view, centre, scale };
        });
  const drawn: Sheet = {
    ...sheet,
    views,
    table: sheet.table ?? planned.table,
    balloonLook: planned.balloonLook,
  };
  const byView = <Content>(of: ReadonlyMap<DirectionName, Content>) =>
    new Map(views.flatMap(({ id, direction }) => (of.has(direction) ? [[id, of.get(direction)!] as const] : [])));
  const inputs: SheetInputs = { sheet: drawn, assembly, bill, columns, lines: byView(lines) };
  const { balloons, problems } = planBalloons(inputs, byView(spots), newId);
  return { sheet: { ...drawn, balloons }, problems };
}
