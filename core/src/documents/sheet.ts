import type { Balloon } from '../balloons/index.ts';
import type { Sheet, SheetView, TitleFields, Paper } from '../sheets/index.ts';
import { refused, type Applied, type Refused } from './applied.ts';

export type SheetCommand =
  | { readonly kind: 'setPaper'; readonly paper: Paper }
  | { readonly kind: 'setField'; readonly field: keyof TitleFields; readonly value: string }
  | { readonly kind: 'renameSheet'; readonly name: string }
  /** Which bill the sheet shows; null for the project's first. */
  | { readonly kind: 'setBill'; readonly bill: string | null }
  | { readonly kind: 'addView'; readonly view: SheetView }
  /** With its balloons. */
  | { readonly kind: 'removeView'; readonly id: string }
  | {
      readonly kind: 'changeView';
      readonly id: string;
      readonly change: Partial<Pick<SheetView, 'centre' | 'scale' | 'byHand' | 'direction'>>;
    }
  | { readonly kind: 'setTable'; readonly table: Sheet['table'] }
  | { readonly kind: 'setBalloonLook'; readonly look: Sheet['balloonLook'] }
  /**
   * Takes some balloons away and puts others there; a balloon with a known id is replaced. One gesture of arranging
   * is one of these.
   */
  | { readonly kind: 'changeBalloons'; readonly remove: readonly string[]; readonly put: readonly Balloon[] };

export function applySheetCommand(sheet: Sheet, command: SheetCommand): Applied<Sheet, SheetCommand> | Refused {
  const done = (changed: Partial<Sheet>, inverse: SheetCommand) => ({
    ok: true as const,
    document: { ...sheet, ...changed },
    inverse,
  });
  switch (command.kind) {
    case 'setPaper':
      return done({ paper: command.paper }, { kind: 'setPaper', paper: sheet.paper });
    case 'setField':
      return done(
        { fields: { ...sheet.fields, [command.field]: command.value } },
        { kind: 'setField', field: command.field, value: sheet.fields[command.field] },
      );
    case 'renameSheet':
      return done({ name: command.name }, { kind: 'renameSheet', name: sheet.name });
    case 'setBill': {
      const { bill, ...rest } = sheet;
      return {
        ok: true,
        document: command.bill === null ? rest : { ...rest, bill: command.bill },
        inverse: { kind: 'setBill', bill: bill ?? null },
      };
    }
    case 'setTable':
      return done({ table: command.table }, { kind: 'setTable', table: sheet.table });
    case 'setBalloonLook':
      return done({ balloonLook: command.look }, { kind: 'setBalloonLook', look: sheet.balloonLook });
    case 'changeBalloons':
      return changeBalloons(sheet, command.remove, command.put);
    case 'addView':
      if (sheet.views.some(({ id }) => id === command.view.id)) return refused('That view is on the sheet already.');
      return done({ views: [...sheet.views, command.view] }, { kind: 'removeView', id: command.view.id });
  }
  const view = sheet.views.find(({ id }) => id === command.id);
  if (!view) return refused('That view is no longer on the sheet.');
  if (command.kind === 'removeView') {
    if (sheet.balloons.some((balloon) => balloon.view === view.id))
      return refused('The view still has balloons; take them away first.');
    return done({ views: sheet.views.filter((other) => other !== view) }, { kind: 'addView', view });
  }
  const before = Object.fromEntries(Object.keys(command.change).map((key) => [key, view[key as keyof SheetView]]));
  return done(
    { views: sheet.views.map((other) => (other === view ? { ...view, ...command.change } : other)) },
    { kind: 'changeView', id: view.id, change: before },
  );
}

function changeBalloons(
  sheet: Sheet,
  remove: readonly string[],
  put: readonly Balloon[],
): Applied<Sheet, SheetCommand> | Refused {
  const orphan = put.find((balloon) => !sheet.views.some(({ id }) => id === balloon.view));
  if (orphan) return refused('The view of a balloon is no longer on the sheet.');
  const gone = new Set([...remove, ...put.map(({ id }) => id)]);
  const before = sheet.balloons.filter(({ id }) => gone.has(id));
  const known = new Set(before.map(({ id }) => id));
  const added = put.map(({ id }) => id).filter((id) => !known.has(id));
  return {
    ok: true,
    document: { ...sheet, balloons: [...sheet.balloons.filter(({ id }) => !gone.has(id)), ...put] },
    inverse: { kind: 'changeBalloons', remove: added, put: before },
  };
}

/** What a command changes, by name: two edits with no name in common can be applied in either order. */
export function sheetTouches(command: SheetCommand): string[] {
  switch (command.kind) {
    case 'setPaper':
      return ['paper'];
    case 'setField':
      return [`field ${command.field}`];
    case 'renameSheet':
      return ['name'];
    case 'setBill':
      return ['bill'];
    case 'setTable':
      return ['table'];
    case 'setBalloonLook':
      return ['balloon look'];
    case 'addView':
      return [`view ${command.view.id}`];
    case 'removeView':
      return [`view ${command.id}`];
    case 'changeView':
      return Object.keys(command.change).map((key) => `view ${command.id} ${key}`);
    case 'changeBalloons':
      return [...command.remove, ...command.put.map(({ id }) => id)].map((id) => `balloon ${id}`);
  }
}
