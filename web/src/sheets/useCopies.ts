import type { Vec2 } from '../../../core/src/geometry/index.ts';
import { sheetSteps } from '../../../core/src/documents/index.ts';
import {
  keepOnPaper,
  type Sheet,
  type SheetNote,
  type SheetThing,
  type SheetView,
} from '../../../core/src/sheets/index.ts';
import { directionName } from '../../../core/src/views/index.ts';
import { useProject } from '../data/ProjectContext.tsx';

/** What was copied last, also from another sheet. */
let copied: { readonly views: readonly SheetView[]; readonly notes: readonly SheetNote[] } = { views: [], notes: [] };

const ASIDE = 15; // mm, of a copy on its own sheet

/** Copies of views and notes, put on this or another sheet. */
export function useCopies({
  id,
  sheet,
  things,
  choose,
}: {
  readonly id: string;
  readonly sheet: Sheet;
  readonly things: readonly SheetThing[];
  readonly choose: (things: readonly SheetThing[]) => void;
}) {
  const { perform } = useProject();
  const copy = () => {
    const isPicked = (kind: SheetThing['kind'], one: string) =>
      things.some((each) => each.kind === kind && each.id === one);
    copied = {
      views: sheet.views.filter((one) => isPicked('view', one.id)),
      notes: sheet.notes.filter((one) => isPicked('note', one.id)),
    };
  };
  /** Things of their own that show the same; on their own sheet a little aside. */
  const paste = () => {
    const aside = (at: Vec2, taken: readonly Vec2[]): Vec2 =>
      keepOnPaper(
        sheet.paper,
        taken.some(([x, y]) => x === at[0] && y === at[1]) ? [at[0] + ASIDE, at[1] + ASIDE] : at,
      );
    const views = copied.views.map(({ detail: _, projectedFrom: __, ...view }): SheetView => ({
      ...view,
      id: crypto.randomUUID(),
      centre: aside(
        view.centre,
        sheet.views.map(({ centre }) => centre),
      ),
      byHand: true,
    }));
    const notes = copied.notes.map((note): SheetNote => ({
      ...note,
      id: crypto.randomUUID(),
      at: aside(
        note.at,
        sheet.notes.map(({ at }) => at),
      ),
    }));
    if (views.length + notes.length === 0) return;
    const commands = sheetSteps(sheet, {
      ...sheet,
      views: [...sheet.views, ...views],
      notes: [...sheet.notes, ...notes],
    });
    perform(
      views.length === 1 && notes.length === 0 ? `paste ${directionName(views[0].direction)} view` : 'paste',
      ...commands.map((command) => ({ document: id, command })),
    );
    choose([
      ...views.map((one): SheetThing => ({ kind: 'view', id: one.id })),
      ...notes.map((one): SheetThing => ({ kind: 'note', id: one.id })),
    ]);
  };
  return { copy, paste, hasCopies: () => copied.views.length + copied.notes.length > 0 };
}
