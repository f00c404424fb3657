import { keepOnPaper, type SheetView } from '../../../../../core/src/sheets/index.ts';
import { directionName } from '../../../../../core/src/views/index.ts';
import { useDoing } from '../../../data/openProject.ts';
import type { OnPaper, PaperTool } from './paperTool.ts';

/** A view on its way to its place, following the pointer. */
export function useGhost(
  { id, sheet, choose }: OnPaper,
  ghost: SheetView | null,
  onGhost: (ghost: SheetView | null) => void,
): PaperTool | null {
  const { perform } = useDoing();
  if (!ghost) return null;
  const at = (centre: SheetView['centre']): SheetView => ({ ...ghost, centre: keepOnPaper(sheet.paper, centre) });
  const drop = (view: SheetView) => {
    perform(`place ${directionName(view.direction)} view`, {
      document: id,
      command: { kind: 'addView', view: { ...view, byHand: true } },
    });
    choose([{ kind: 'view', id: view.id }]);
    onGhost(null);
  };
  return {
    cursor: 'copy',
    steps: [5, 20, 5],
    lookAt: (point) => onGhost(at(point)),
    // Where the pointer is now: what is seen may be a frame behind it.
    takeAt: (point) => drop(at(point)),
    step: ([x, y]) => onGhost(at([ghost.centre[0] + x, ghost.centre[1] + y])),
    takeHere: () => drop(ghost),
    leave: () => onGhost(null),
  };
}
