import type { Balloon } from '../../balloons/index.ts';
import {
  MOST_RAILS,
  USUAL_TABLE,
  type BalloonRail,
  type ChangeClouds,
  type Sheet,
  type SheetDimension,
  type SheetNote,
  type SheetTable,
  type SheetView,
  type TitleFields,
} from '../../sheets/index.ts';
import { alignedWith, type Paper } from '../../sheets/index.ts';
import { projectedDirection } from '../../views/index.ts';
import { changeFields, refused, type Applied, type FieldChange, type Refused } from './applied.ts';

/** What can be changed about a placed view; null takes what need not be there away. */
export type ViewChange = FieldChange<Omit<SheetView, 'id' | 'turn'>>;

export type SheetCommand =
  | { readonly kind: 'setPaper'; readonly paper: Paper }
  /** null takes the text from the set again. */
  | { readonly kind: 'setField'; readonly field: keyof TitleFields; readonly value: string | null }
  /** Text of a further field of the title block on this sheet; null takes that of the set again. */
  | { readonly kind: 'setFurther'; readonly id: string; readonly value: string | null }
  | { readonly kind: 'renameSheet'; readonly name: string }
  /** Takes the sheet away, or brings it (back). */
  | { readonly kind: 'setAway'; readonly away: boolean }
  /** Which bill the sheet shows; null for the project's first. */
  | { readonly kind: 'setBill'; readonly bill: string | null }
  /** Which revision of the model the sheet shows; null for the project's first. */
  | { readonly kind: 'showRevision'; readonly revision: string | null }
  /** Marks what changed; null takes the marks away. */
  | { readonly kind: 'setClouds'; readonly clouds: ChangeClouds | null }
  /** Behind the others where `at` is absent. */
  | { readonly kind: 'addView'; readonly view: SheetView; readonly at?: number }
  /** Of a view without balloons. */
  | { readonly kind: 'removeView'; readonly id: string }
  | { readonly kind: 'changeView'; readonly id: string; readonly change: ViewChange }
  /** Takes some lists away and puts others there; one with a known id is replaced. */
  | { readonly kind: 'changeTables'; readonly remove: readonly string[]; readonly put: readonly SheetTable[] }
  /** Takes some notes away and puts others there; one with a known id is replaced. */
  | { readonly kind: 'changeNotes'; readonly remove: readonly string[]; readonly put: readonly SheetNote[] }
  /** Takes some dimensions away and puts others there; one with a known id is replaced. */
  | { readonly kind: 'changeDimensions'; readonly remove: readonly string[]; readonly put: readonly SheetDimension[] }
  /** Takes some rails away and puts others there; one with a known id is replaced. */
  | { readonly kind: 'changeRails'; readonly remove: readonly string[]; readonly put: readonly BalloonRail[] }
  | { readonly kind: 'setBalloonLook'; readonly look: Sheet['balloonLook'] }
  /**
   * Takes some balloons away and puts others there; a balloon with a known id is replaced. One gesture of arranging
   * is one of these.
   */
  | { readonly kind: 'changeBalloons'; readonly remove: readonly string[]; readonly put: readonly Balloon[] };

/** Brings a command that was stored when sheets had version 1 to the present shape. */
export function upgradeSheetCommand(stored: unknown): unknown {
  if (!stored || typeof stored !== 'object' || !('kind' in stored) || stored.kind !== 'setTable') return stored;
  const { table } = stored as unknown as { readonly table: Omit<SheetTable, 'id'> | null };
  return table
    ? { kind: 'changeTables', remove: [], put: [{ id: USUAL_TABLE, ...table }] }
    : { kind: 'changeTables', remove: [USUAL_TABLE], put: [] };
}

const NO_PARENT =
  'What the view is a piece of, or projected from, is not on the sheet, or is projected from the view itself.';

/** Whether what a view is a piece of or projected from is there, and the way along these ends somewhere. */
function standsOnAnother(views: readonly SheetView[], view: SheetView): boolean {
  const met = new Set<string>();
  for (let at: SheetView | undefined = view; at;) {
    if (met.has(at.id)) return false;
    met.add(at.id);
    const of: string | undefined = at.detail?.of ?? at.projectedFrom?.of;
    if (of === undefined) return true;
    at = views.find(({ id }) => id === of);
  }
  return false;
}

/** The change without what would take a projected view out of line with what it is projected from. */
function aligned(change: ViewChange, { projectedFrom }: SheetView, views: readonly SheetView[]): ViewChange {
  const parent = views.find(({ id }) => id === projectedFrom?.of);
  if (!parent || !projectedFrom || !change.centre || 'projectedFrom' in change) return change;
  return { ...change, centre: alignedWith(projectedFrom.side, parent.centre, change.centre) };
}

/**
 * The other views after a change of one: enlarged details of it look at what it looks at; views that are projected from
 * it, and theirs, do so from their side, at its scale, and move with it.
 */
function followViews(
  views: readonly SheetView[],
  was: SheetView,
  is: SheetView,
  change: ViewChange,
): readonly SheetView[] {
  const look = Object.fromEntries(Object.entries(change).filter(([key]) => LOOK.has(key)));
  let now = views;
  for (const view of views) {
    if (view.id === is.id) continue;
    if (view.detail?.of === is.id) {
      now = now.with(now.indexOf(view), changeFields<SheetView>(view, look).changed);
      continue;
    }
    if (view.projectedFrom?.of !== is.id) continue;
    const follows: ViewChange = {
      ...look,
      ...(change.direction ? { direction: projectedDirection(is.direction, view.projectedFrom.side) } : {}),
      ...(change.scale ? { scale: is.scale } : {}),
      ...(change.centre
        ? {
            centre: [
              view.centre[0] + is.centre[0] - was.centre[0],
              view.centre[1] + is.centre[1] - was.centre[1],
            ] as const,
          }
        : {}),
    };
    if (Object.keys(follows).length === 0) continue;
    const { changed } = changeFields<SheetView>(view, follows);
    now = followViews(now.with(now.indexOf(view), changed), view, changed, follows);
  }
  return now;
}

/** What a view looks at, and how. */
const LOOK: ReadonlySet<string> = new Set([
  'direction',
  'only',
  'without',
  'pose',
  'hidden',
  'shade',
  'tangent',
  'pathLines',
]);

type Done = Applied<Sheet, SheetCommand> | Refused;

export function applySheetCommand(sheet: Sheet, command: SheetCommand): Done {
  const done = (changed: Partial<Sheet>, inverse: SheetCommand) => ({
    ok: true as const,
    document: { ...sheet, ...changed },
    inverse,
  });
  /** Sets fields of the sheet that need not be there, or with null takes them out. */
  const set = (change: FieldChange<Sheet>, inverse: SheetCommand) => ({
    ok: true as const,
    document: changeFields(sheet, change).changed,
    inverse,
  });
  switch (command.kind) {
    case 'setPaper':
      return done({ paper: command.paper }, { kind: 'setPaper', paper: sheet.paper });
    case 'setField': {
      const { changed, before } = changeFields(sheet.fields, { [command.field]: command.value });
      return done(
        { fields: changed },
        { kind: 'setField', field: command.field, value: before[command.field] ?? null },
      );
    }
    case 'setFurther': {
      const before = sheet.further?.find(({ id }) => id === command.id);
      const others = (sheet.further ?? []).filter(({ id }) => id !== command.id);
      const further = command.value === null ? others : [...others, { id: command.id, value: command.value }];
      return set(
        { further: further.length > 0 ? further : null },
        { kind: 'setFurther', id: command.id, value: before?.value ?? null },
      );
    }
    case 'renameSheet':
      return command.name.trim() === ''
        ? refused('A sheet needs a name.')
        : done({ name: command.name }, { kind: 'renameSheet', name: sheet.name });
    case 'setAway':
      return set({ away: command.away || null }, { kind: 'setAway', away: sheet.away ?? false });
    case 'setBill':
      return set({ bill: command.bill }, { kind: 'setBill', bill: sheet.bill ?? null });
    case 'setClouds':
      return set({ clouds: command.clouds }, { kind: 'setClouds', clouds: sheet.clouds ?? null });
    case 'showRevision':
      return set({ revision: command.revision }, { kind: 'showRevision', revision: sheet.revision ?? null });
    case 'changeTables': {
      const { list, inverse } = changeList(sheet.tables, command);
      return done({ tables: list }, { kind: 'changeTables', ...inverse });
    }
    case 'changeNotes': {
      const { list, inverse } = changeList(sheet.notes, command);
      return done({ notes: list }, { kind: 'changeNotes', ...inverse });
    }
    case 'changeDimensions': {
      if (command.put.some((dimension) => !sheet.views.some(({ id }) => id === dimension.view)))
        return refused('The view of a dimension is no longer on the sheet.');
      const { list, inverse } = changeList(sheet.dimensions ?? [], command);
      return set({ dimensions: list.length > 0 ? list : null }, { kind: 'changeDimensions', ...inverse });
    }
    case 'changeRails': {
      if (command.put.some((rail) => !sheet.views.some(({ id }) => id === rail.view)))
        return refused('The view of a rail is no longer on the sheet.');
      const { list, inverse } = changeList(sheet.rails ?? [], command);
      if (list.length > MOST_RAILS) return refused(`A sheet has at most ${MOST_RAILS} rails.`);
      return set({ rails: list.length > 0 ? list : null }, { kind: 'changeRails', ...inverse });
    }
    case 'setBalloonLook':
      return done({ balloonLook: command.look }, { kind: 'setBalloonLook', look: sheet.balloonLook });
    case 'changeBalloons': {
      if (command.put.some((balloon) => !sheet.views.some(({ id }) => id === balloon.view)))
        return refused('The view of a balloon is no longer on the sheet.');
      const { list, inverse } = changeList(sheet.balloons, command);
      return done({ balloons: list }, { kind: 'changeBalloons', ...inverse });
    }
    case 'addView':
      if (sheet.views.some(({ id }) => id === command.view.id)) return refused('That view is on the sheet already.');
      if (!standsOnAnother([...sheet.views, command.view], command.view)) return refused(NO_PARENT);
      return done(
        { views: sheet.views.toSpliced(command.at ?? sheet.views.length, 0, command.view) },
        { kind: 'removeView', id: command.view.id },
      );
  }
  const at = sheet.views.findIndex(({ id }) => id === command.id);
  if (at < 0) return refused('That view is no longer on the sheet.');
  const view = sheet.views[at];
  if (command.kind === 'removeView') {
    if (sheet.balloons.some((balloon) => balloon.view === view.id))
      return refused('The view still has balloons; take them away first.');
    if (sheet.dimensions?.some((dimension) => dimension.view === view.id))
      return refused('The view still has dimensions; take them away first.');
    if (sheet.rails?.some((rail) => rail.view === view.id))
      return refused('The view still has rails for balloons; take them away first.');
    if (sheet.views.some(({ detail }) => detail?.of === view.id))
      return refused('The view still has enlarged details; take them away first.');
    if (sheet.views.some(({ projectedFrom }) => projectedFrom?.of === view.id))
      return refused('Other views are projected from this one; free them first.');
    return done({ views: sheet.views.toSpliced(at, 1) }, { kind: 'addView', view, at });
  }
  const { changed, before } = changeFields<SheetView>(view, aligned(command.change, view, sheet.views));
  const own = sheet.views.with(at, changed);
  if (('projectedFrom' in command.change || 'detail' in command.change) && !standsOnAnother(own, changed))
    return refused(NO_PARENT);
  const views = followViews(own, view, changed, command.change);
  return done({ views }, { kind: 'changeView', id: view.id, change: before });
}

/** The list without some and with others, and what leads back to it. */
function changeList<One extends { readonly id: string }>(
  list: readonly One[],
  { remove, put }: { readonly remove: readonly string[]; readonly put: readonly One[] },
): { list: readonly One[]; inverse: { remove: string[]; put: readonly One[] } } {
  const gone = new Set([...remove, ...put.map(({ id }) => id)]);
  const before = list.filter(({ id }) => gone.has(id));
  const known = new Set(before.map(({ id }) => id));
  const putById = new Map(put.map((one) => [one.id, one]));
  const taken = new Set(remove.filter((id) => !putById.has(id)));
  return {
    // What is put anew stays where it stands, so that taking it back leaves no trace.
    list: [
      ...list.filter(({ id }) => !taken.has(id)).map((one) => putById.get(one.id) ?? one),
      ...[...putById.values()].filter(({ id }) => !known.has(id)),
    ],
    inverse: { remove: put.map(({ id }) => id).filter((id) => !known.has(id)), put: before },
  };
}

/** What a command changes, by name: two edits with no name in common can be applied in either order. */
export function sheetTouches(command: SheetCommand): string[] {
  switch (command.kind) {
    case 'setPaper':
      return ['paper'];
    case 'setField':
      return [`field ${command.field}`];
    case 'setFurther':
      return [`further ${command.id}`];
    case 'renameSheet':
      return ['name'];
    case 'setAway':
      return ['away'];
    case 'setBill':
      return ['bill'];
    case 'setClouds':
      return ['clouds'];
    case 'showRevision':
      return ['revision'];
    case 'changeTables':
      return [...command.remove, ...command.put.map(({ id }) => id)].map((id) => `table ${id}`);
    case 'changeNotes':
      return [...command.remove, ...command.put.map(({ id }) => id)].map((id) => `note ${id}`);
    case 'changeDimensions':
      return [...command.remove, ...command.put.map(({ id }) => id)].map((id) => `dimension ${id}`);
    case 'changeRails':
      return [...command.remove, ...command.put.map(({ id }) => id)].map((id) => `rail ${id}`);
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
