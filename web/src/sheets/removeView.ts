import type { SheetCommand } from '../../../core/src/documents/index.ts';
import type { Sheet } from '../../../core/src/sheets/index.ts';

/** What takes a view away, with its balloons and its enlarged details and theirs. */
export function removeView(sheet: Sheet, id: string): SheetCommand[] {
  const gone = [...sheet.views.filter(({ detail }) => detail?.of === id).map((view) => view.id), id];
  const own = sheet.balloons.filter(({ view }) => gone.includes(view));
  return [
    { kind: 'changeBalloons', remove: own.map((balloon) => balloon.id), put: [] },
    // What was projected from it stands by itself from now on.
    ...sheet.views
      .filter(({ projectedFrom }) => projectedFrom?.of === id)
      .map((view): SheetCommand => ({ kind: 'changeView', id: view.id, change: { projectedFrom: null } })),
    ...gone.map((view): SheetCommand => ({ kind: 'removeView', id: view })),
  ];
}
