import equal from 'fast-deep-equal';
import { withoutThings, type Sheet, type SheetThing, type SheetView } from '../../sheets/index.ts';
import type { SheetCommand, ViewChange } from '../kinds/sheet.ts';

/** The commands that make one sheet of another: all that stands on it, and its look; what is alike is left alone. */
export function sheetSteps(before: Sheet, after: Sheet): SheetCommand[] {
  const steps: SheetCommand[] = [];
  const known = new Map(before.views.map((view) => [view.id, view]));
  const gone = before.views.filter(({ id }) => !after.views.some((view) => view.id === id));
  // One that changes views leaves the old one first: that may be about to go.
  const balloons = changedList(before.balloons, after.balloons, (was, is) => was.view !== is.view);
  const tables = changedList(before.tables, after.tables);
  const notes = changedList(before.notes, after.notes);
  // What belongs to a view goes with it, whoever made the sheet without that.
  const stands = ({ view }: { readonly view: string }) => after.views.some(({ id }) => id === view);
  const dimensions = changedList(
    before.dimensions ?? [],
    (after.dimensions ?? []).filter(stands),
    (was, is) => was.view !== is.view,
  );
  const rails = changedList(before.rails ?? [], (after.rails ?? []).filter(stands), (was, is) => was.view !== is.view);
  if (rails.remove.length > 0) steps.push({ kind: 'changeRails', remove: rails.remove, put: [] });
  if (dimensions.remove.length > 0) steps.push({ kind: 'changeDimensions', remove: dimensions.remove, put: [] });
  // A view goes only when no balloon is left in it, and a balloon comes only when its view is there.
  if (balloons.remove.length > 0) steps.push({ kind: 'changeBalloons', remove: balloons.remove, put: [] });
  // What was projected from one that goes stands by itself before.
  for (const { id, projectedFrom } of before.views)
    if (projectedFrom && gone.some((view) => view.id === projectedFrom.of) && !gone.some((view) => view.id === id))
      steps.push({ kind: 'changeView', id, change: { projectedFrom: null } });
  // Enlarged details go before what they are pieces of.
  for (const { id } of gone.toSorted((one, other) => +!one.detail - +!other.detail))
    steps.push({ kind: 'removeView', id });
  if (tables.remove.length + tables.put.length > 0) steps.push({ kind: 'changeTables', ...tables });
  if (notes.remove.length + notes.put.length > 0) steps.push({ kind: 'changeNotes', ...notes });
  if (!equal(before.balloonLook, after.balloonLook)) steps.push({ kind: 'setBalloonLook', look: after.balloonLook });
  const follows = ({ projectedFrom }: SheetView) =>
    projectedFrom !== undefined &&
    !equal(
      known.get(projectedFrom.of),
      after.views.find(({ id }) => id === projectedFrom.of),
    );
  for (const view of after.views) {
    const was = known.get(view.id);
    if (!was) steps.push({ kind: 'addView', view });
    else if (!equal(was, view) || follows(view))
      // A projected view has moved along with what it is projected from: where it is to stand is said anew.
      steps.push({
        kind: 'changeView',
        id: view.id,
        change: { ...viewChange(was, view), ...(follows(view) ? { centre: view.centre } : {}) },
      });
  }
  if (dimensions.put.length > 0) steps.push({ kind: 'changeDimensions', remove: [], put: dimensions.put });
  if (rails.put.length > 0) steps.push({ kind: 'changeRails', remove: [], put: rails.put });
  if (balloons.put.length > 0) steps.push({ kind: 'changeBalloons', remove: [], put: balloons.put });
  return steps;
}

/** What takes things off a sheet; see `withoutThings`. */
export const removeSteps = (
  sheet: Sheet,
  things: readonly SheetThing[],
  members?: (centreLine: string) => readonly string[],
): SheetCommand[] => sheetSteps(sheet, withoutThings(sheet, things, members));

/** What changes one view into another of the same id. */
function viewChange(was: SheetView, is: SheetView): ViewChange {
  const change: Record<string, unknown> = {};
  for (const key of new Set([...Object.keys(was), ...Object.keys(is)]) as Set<keyof SheetView>)
    if (!equal(was[key], is[key])) change[key] = is[key] ?? null;
  return change;
}

/** @param leaves whether one has to be taken away before it comes back changed */
function changedList<One extends { readonly id: string }>(
  before: readonly One[],
  after: readonly One[],
  leaves: (was: One, is: One) => boolean = () => false,
): { remove: string[]; put: One[] } {
  const kept = new Map(after.map((one) => [one.id, one]));
  const was = new Map(before.map((one) => [one.id, one]));
  return {
    remove: before.flatMap((one) => {
      const is = kept.get(one.id);
      return is && !leaves(one, is) ? [] : [one.id];
    }),
    put: after.filter((one) => !equal(was.get(one.id), one)),
  };
}
