import { sheetSteps } from '../../../../../core/src/documents/index.ts';
import { copyThings, pasteThings, type Copied } from '../../../../../core/src/sheets/index.ts';
import { directionName } from '../../../../../core/src/views/index.ts';
import { useDoing } from '../../../data/openProject.ts';
import type { OnPaper } from './paperTool.ts';

/** What was copied last, also from another sheet. */
let copied: Copied = { views: [], notes: [], balloons: [], dimensions: [] };

/** Copies of what is picked, put on this or another sheet. */
export function useCopies({ id, sheet, things, choose }: OnPaper) {
  const { perform } = useDoing();
  const copy = () => {
    copied = copyThings(sheet, things);
  };
  const paste = () => {
    const { sheet: after, came, picked } = pasteThings(sheet, copied, () => crypto.randomUUID());
    const commands = sheetSteps(sheet, after);
    if (commands.length === 0) return;
    const { views, notes } = came;
    perform(
      views.length === 1 && notes.length === 0 ? `paste ${directionName(views[0].direction)} view` : 'paste',
      ...commands.map((command) => ({ document: id, command })),
    );
    choose(picked);
  };
  return { copy, paste, hasCopies: () => Object.values(copied).some((list) => list.length > 0) };
}
