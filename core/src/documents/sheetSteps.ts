import type { Sheet } from '../sheets/index.ts';
import type { SheetCommand } from './sheet.ts';

/** The commands that make one sheet of another: views, list, look and balloons; what is alike is left alone. */
export function sheetSteps(before: Sheet, after: Sheet): SheetCommand[] {
  const steps: SheetCommand[] = [];
  const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
  const known = new Map(before.views.map((view) => [view.id, view]));
  const balloons = changedBalloons(before, after);
  const gone = before.views.filter(({ id }) => !after.views.some((view) => view.id === id));
  // A view goes only when no balloon is left in it, and a balloon comes only when its view is there.
  if (balloons.remove.length > 0) steps.push({ kind: 'changeBalloons', remove: balloons.remove, put: [] });
  for (const { id } of gone) steps.push({ kind: 'removeView', id });
  if (!same(before.table, after.table)) steps.push({ kind: 'setTable', table: after.table });
  if (!same(before.balloonLook, after.balloonLook)) steps.push({ kind: 'setBalloonLook', look: after.balloonLook });
  for (const view of after.views) {
    const was = known.get(view.id);
    if (!was) steps.push({ kind: 'addView', view });
    else if (!same(was, view)) {
      const { centre, scale, byHand, direction } = view;
      steps.push({ kind: 'changeView', id: view.id, change: { centre, scale, byHand, direction } });
    }
  }
  if (balloons.put.length > 0) steps.push({ kind: 'changeBalloons', remove: [], put: balloons.put });
  return steps;
}

function changedBalloons(before: Sheet, after: Sheet): { remove: string[]; put: Sheet['balloons'] } {
  const kept = new Map(after.balloons.map((balloon) => [balloon.id, balloon]));
  const was = new Map(before.balloons.map((balloon) => [balloon.id, JSON.stringify(balloon)]));
  return {
    // One that changes views leaves the old one first: that may be about to go.
    remove: before.balloons.filter(({ id, view }) => kept.get(id)?.view !== view).map(({ id }) => id),
    put: after.balloons.filter((balloon) => was.get(balloon.id) !== JSON.stringify(balloon)),
  };
}
