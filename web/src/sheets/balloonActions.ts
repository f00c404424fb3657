import {
  evenOut,
  moveThings,
  railBeside,
  railThrough,
  swapBalloons,
  type Sheet,
  type SheetLayout,
  type SheetThing,
} from '../../../core/src/sheets/index.ts';
import { paperSize } from '../../../core/src/sheets/index.ts';

/** Something to be done with picked balloons, or with a view for its balloons. */
interface BalloonAction {
  readonly label: string;
  /** What Undo says. */
  readonly undo: string;
  readonly after: () => Sheet;
}

/** What can be done by hand with the balloons, or the view, that are picked. */
export function balloonActions({
  sheet,
  layout,
  things,
}: {
  readonly sheet: Sheet;
  readonly layout: SheetLayout;
  readonly things: readonly SheetThing[];
}): BalloonAction[] {
  const view = things.length === 1 && things[0].kind === 'view' ? things[0].id : null;
  const box = view !== null && layout.views.find((laid) => laid.view.id === view)?.box;
  if (view !== null && box)
    return [
      {
        label: 'Rail for balloons beside it',
        undo: 'rail for balloons',
        after: () => railBeside(sheet, view, box, paperSize(sheet.paper).widthMm, crypto.randomUUID()),
      },
    ];
  const picked = things.flatMap(({ kind, id }) => {
    const laid = kind === 'balloon' && layout.balloons.find(({ balloon }) => balloon.id === id);
    return laid ? [laid] : [];
  });
  if (picked.length === 0 || picked.length < things.length) return [];
  const [first, second] = picked;
  const actions: BalloonAction[] = [];
  if (picked.length === 1 && first.leader.length > 0)
    actions.push({
      label: 'Corner in its leader',
      undo: 'corner of a leader',
      after: () =>
        moveThings(sheet, [{ thing: { kind: 'bend', id: first.balloon.id, at: 0, isNew: true }, by: [0, 0] }], layout),
    });
  if (picked.length === 2)
    actions.push({
      label: 'Swap the two',
      undo: 'swap balloons',
      after: () => swapBalloons(sheet, first, second),
    });
  if (picked.length > 2)
    actions.push({
      label: 'On one line at equal distances',
      undo: 'balloons at equal distances',
      after: () => evenOut(sheet, picked),
    });
  if (picked.length > 1 && picked.every(({ balloon }) => balloon.view === first.balloon.view))
    actions.push({
      label: 'On a rail',
      undo: 'balloons on a rail',
      after: () => railThrough(sheet, picked, crypto.randomUUID()),
    });
  return actions;
}
