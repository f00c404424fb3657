import type { Assembly } from '../../assembly/index.ts';
import type { Bill } from '../../bill/index.ts';
import { rowOfPath } from '../laid/places.ts';
import type { Sheet } from '../records.ts';

/** On paper y runs down, so angles grow clockwise; a run begins at the lower left, as one reads around a view. */
const USUAL_BEGIN = 0.75 * Math.PI;
const WHOLE = 2 * Math.PI;
/** Radian from where a run begins on to where a balloon stands, clockwise. */
const onFrom = (begin: number, angle: number): number => (((angle - begin) % WHOLE) + WHOLE) % WHOLE;

/**
 * Rows of the bill as their balloons run: sheet by sheet, view by view, clockwise from the lower left; or with one balloon
 * first, its view from there on, and the others behind. A row comes as often as it has balloons.
 * @param sheets in their order
 * @param first id of the balloon with which the run begins
 */
export function balloonRun(
  sheets: readonly Pick<Sheet, 'views' | 'balloons'>[],
  { assembly, bill }: { readonly assembly: Assembly; readonly bill: Bill },
  first?: string,
): number[] {
  const views = sheets.flatMap((sheet) =>
    sheet.views.map(({ id }) => sheet.balloons.filter(({ view, also }) => view === id && !also)),
  );
  const isFirst = (balloons: readonly { readonly id: string }[]) => balloons.some(({ id }) => id === first);
  const order = [...views.filter(isFirst), ...views.filter((one) => !isFirst(one))];
  return order.flatMap((balloons) => {
    const angleOf = ({ offset: [x, y] }: Sheet['balloons'][number]) => Math.atan2(y, x);
    const head = balloons.find(({ id }) => id === first);
    const begin = head ? angleOf(head) : USUAL_BEGIN;
    return balloons
      .map((balloon) => ({ balloon, on: balloon === head ? 0 : onFrom(begin, angleOf(balloon)) }))
      .sort((one, other) => one.on - other.on || Number(other.balloon === head) - Number(one.balloon === head))
      .map(({ balloon: { path } }) => rowOfPath(bill, assembly, path))
      .filter((row) => row >= 0);
  });
}
