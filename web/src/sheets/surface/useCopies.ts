import type { Vec2 } from '../../../../core/src/geometry/index.ts';
import { sheetSteps } from '../../../../core/src/documents/index.ts';
import {
  keepOnPaper,
  type Sheet,
  type SheetDimension,
  type SheetNote,
  type SheetThing,
  type SheetView,
} from '../../../../core/src/sheets/index.ts';
import { directionName } from '../../../../core/src/views/index.ts';
import { useProject } from '../../data/ProjectContext.tsx';

type Copied = Pick<Sheet, 'views' | 'notes' | 'balloons'> & { readonly dimensions: readonly SheetDimension[] };

/** What was copied last, also from another sheet. */
let copied: Copied = { views: [], notes: [], balloons: [], dimensions: [] };

const ASIDE = 15; // mm, of a copy on its own sheet

/**
 * Copies of views with their balloons and dimensions, and of notes, put on this or another sheet; of balloons and dimensions
 * alone, put on their own view again.
 */
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
      // Those of a copied view come with it.
      balloons: sheet.balloons.filter((one) => isPicked('balloon', one.id) || isPicked('view', one.view)),
      dimensions: (sheet.dimensions ?? []).filter((one) => isPicked('dimension', one.id) || isPicked('view', one.view)),
    };
  };
  /** Things of their own that show the same; on their own sheet a little aside. */
  const paste = () => {
    const aside = (at: Vec2, taken: readonly Vec2[]): Vec2 =>
      keepOnPaper(
        sheet.paper,
        taken.some(([x, y]) => x === at[0] && y === at[1]) ? [at[0] + ASIDE, at[1] + ASIDE] : at,
      );
    const idOf = new Map(copied.views.map((view) => [view.id, crypto.randomUUID()]));
    const views = copied.views.map(({ detail: _, projectedFrom: __, ...view }): SheetView => ({
      ...view,
      id: idOf.get(view.id)!,
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
    /** The copy's view, or the same view where that is on this sheet. */
    const viewFor = (view: string) => idOf.get(view) ?? sheet.views.find((one) => one.id === view)?.id;
    const balloons = copied.balloons.flatMap(({ rail: _, ...balloon }) => {
      const view = viewFor(balloon.view);
      const by = idOf.has(balloon.view) ? 0 : ASIDE;
      const offset: Vec2 = [balloon.offset[0] + by, balloon.offset[1] + by];
      return view ? [{ ...balloon, id: crypto.randomUUID(), view, offset, byHand: true }] : [];
    });
    const dimensions = copied.dimensions.flatMap((dimension) => {
      const view = viewFor(dimension.view);
      const by = idOf.has(dimension.view) ? 0 : ASIDE;
      return view ? [{ ...dimension, id: crypto.randomUUID(), view, offset: dimension.offset + by }] : [];
    });
    if (views.length + notes.length + balloons.length + dimensions.length === 0) return;
    const commands = sheetSteps(sheet, {
      ...sheet,
      views: [...sheet.views, ...views],
      notes: [...sheet.notes, ...notes],
      balloons: [...sheet.balloons, ...balloons],
      ...(dimensions.length > 0 ? { dimensions: [...(sheet.dimensions ?? []), ...dimensions] } : {}),
    });
    perform(
      views.length === 1 && notes.length === 0 ? `paste ${directionName(views[0].direction)} view` : 'paste',
      ...commands.map((command) => ({ document: id, command })),
    );
    choose([
      ...views.map((one): SheetThing => ({ kind: 'view', id: one.id })),
      ...notes.map((one): SheetThing => ({ kind: 'note', id: one.id })),
      // Those of a copied view move with it.
      ...(views.length > 0
        ? []
        : [
            ...balloons.map((one): SheetThing => ({ kind: 'balloon', id: one.id })),
            ...dimensions.map((one): SheetThing => ({ kind: 'dimension', id: one.id })),
          ]),
    ]);
  };
  return { copy, paste, hasCopies: () => Object.values(copied).some((list) => list.length > 0) };
}
