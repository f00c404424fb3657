import type { Balloon } from '../../balloons/index.ts';
import {
  MOST_RAILS,
  paperLabel,
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
import { directionName, projectedDirection } from '../../views/index.ts';
import {
  changeFields,
  changeList,
  done,
  idsIn,
  refused,
  withFields,
  wordsOfList,
  type Applied,
  type CommandTable,
  type FieldChange,
  type ListChange,
  type Refused,
} from './applied.ts';

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

/** What is done to one view of a sheet. */
const ofView =
  <Command extends { readonly id: string }>(
    change: (sheet: Sheet, at: number, command: Command) => Done,
  ): ((sheet: Sheet, command: Command) => Done) =>
  (sheet, command) => {
    const at = sheet.views.findIndex(({ id }) => id === command.id);
    return at < 0 ? refused('That view is no longer on the sheet.') : change(sheet, at, command);
  };
/** A refusal where something is put on a view that is not there. */
const withoutView = ({ views }: Sheet, put: readonly { readonly view: string }[], what: string): Refused | null =>
  put.every(({ view }) => views.some(({ id }) => id === view))
    ? null
    : refused(`The view of a ${what} is no longer on the sheet.`);
const touching =
  (what: string) =>
  (change: ListChange<{ readonly id: string }>): string[] =>
    idsIn(change).map((id) => `${what} ${id}`);

/** Why a view has to stay; null where it can go. */
function whyStays({ views, balloons, dimensions, rails }: Sheet, id: string): string | null {
  const on = ({ view }: { readonly view: string }) => view === id;
  if (balloons.some(on)) return 'The view still has balloons; take them away first.';
  if (dimensions?.some(on)) return 'The view still has dimensions; take them away first.';
  if (rails?.some(on)) return 'The view still has rails for balloons; take them away first.';
  if (views.some(({ detail }) => detail?.of === id))
    return 'The view still has enlarged details; take them away first.';
  if (views.some(({ projectedFrom }) => projectedFrom?.of === id))
    return 'Other views are projected from this one; free them first.';
  return null;
}

export const sheetCommands: CommandTable<Sheet, SheetCommand> = {
  setPaper: {
    apply: (sheet, { paper }) => done(sheet, { paper }, { kind: 'setPaper', paper: sheet.paper }),
    words: ({ paper }) => `paper ${paperLabel(paper)}`,
    touches: () => ['paper'],
  },
  setField: {
    apply: (sheet, { field, value }) => {
      const { changed, before } = changeFields(sheet.fields, { [field]: value });
      return done(sheet, { fields: changed }, { kind: 'setField', field, value: before[field] ?? null });
    },
    words: () => 'text of the title block',
    touches: ({ field }) => [`field ${field}`],
  },
  setFurther: {
    apply: (sheet, { id, value }) => {
      const before = sheet.further?.find((one) => one.id === id);
      const others = (sheet.further ?? []).filter((one) => one.id !== id);
      const further = value === null ? others : [...others, { id, value }];
      return withFields(
        sheet,
        { further: further.length > 0 ? further : null },
        { kind: 'setFurther', id, value: before?.value ?? null },
      );
    },
    words: () => 'text of the title block',
    touches: ({ id }) => [`further ${id}`],
  },
  renameSheet: {
    apply: (sheet, { name }) =>
      name.trim() === ''
        ? refused('A sheet needs a name.')
        : done(sheet, { name }, { kind: 'renameSheet', name: sheet.name }),
    words: ({ name }) => `rename the sheet ${name}`,
    touches: () => ['name'],
  },
  setAway: {
    apply: (sheet, { away }) =>
      withFields(sheet, { away: away || null }, { kind: 'setAway', away: sheet.away ?? false }),
    words: ({ away }) => (away ? 'take the sheet away' : 'bring the sheet back'),
    touches: () => ['away'],
  },
  setBill: {
    apply: (sheet, { bill }) => withFields(sheet, { bill }, { kind: 'setBill', bill: sheet.bill ?? null }),
    words: () => 'list that the sheet shows',
    touches: () => ['bill'],
  },
  setClouds: {
    apply: (sheet, { clouds }) => withFields(sheet, { clouds }, { kind: 'setClouds', clouds: sheet.clouds ?? null }),
    words: ({ clouds }) => (clouds ? 'mark what changed' : 'take the clouds away'),
    touches: () => ['clouds'],
  },
  showRevision: {
    apply: (sheet, { revision }) =>
      withFields(sheet, { revision }, { kind: 'showRevision', revision: sheet.revision ?? null }),
    words: () => 'revision that the sheet shows',
    touches: () => ['revision'],
  },
  changeTables: {
    apply: (sheet, command) => {
      const { list, inverse } = changeList(sheet.tables, command);
      return done(sheet, { tables: list }, { kind: 'changeTables', ...inverse });
    },
    words: wordsOfList('lists'),
    touches: touching('table'),
  },
  changeNotes: {
    apply: (sheet, command) => {
      const { list, inverse } = changeList(sheet.notes, command);
      return done(sheet, { notes: list }, { kind: 'changeNotes', ...inverse });
    },
    words: wordsOfList('notes'),
    touches: touching('note'),
  },
  changeDimensions: {
    apply: (sheet, command) => {
      const { list, inverse } = changeList(sheet.dimensions ?? [], command);
      return (
        withoutView(sheet, command.put, 'dimension') ??
        withFields(sheet, { dimensions: list.length > 0 ? list : null }, { kind: 'changeDimensions', ...inverse })
      );
    },
    words: wordsOfList('dimensions'),
    touches: touching('dimension'),
  },
  changeRails: {
    apply: (sheet, command) => {
      const { list, inverse } = changeList(sheet.rails ?? [], command);
      const refusal = withoutView(sheet, command.put, 'rail');
      if (refusal) return refusal;
      if (list.length > MOST_RAILS) return refused(`A sheet has at most ${MOST_RAILS} rails.`);
      return withFields(sheet, { rails: list.length > 0 ? list : null }, { kind: 'changeRails', ...inverse });
    },
    words: wordsOfList('rails'),
    touches: touching('rail'),
  },
  setBalloonLook: {
    apply: (sheet, { look }) => done(sheet, { balloonLook: look }, { kind: 'setBalloonLook', look: sheet.balloonLook }),
    words: () => 'look of balloons',
    touches: () => ['balloon look'],
  },
  changeBalloons: {
    apply: (sheet, command) => {
      const { list, inverse } = changeList(sheet.balloons, command);
      return (
        withoutView(sheet, command.put, 'balloon') ??
        done(sheet, { balloons: list }, { kind: 'changeBalloons', ...inverse })
      );
    },
    words: wordsOfList('balloons'),
    touches: touching('balloon'),
  },
  addView: {
    apply: (sheet, { view, at = sheet.views.length }) => {
      if (sheet.views.some(({ id }) => id === view.id)) return refused('That view is on the sheet already.');
      if (!standsOnAnother([...sheet.views, view], view)) return refused(NO_PARENT);
      return done(sheet, { views: sheet.views.toSpliced(at, 0, view) }, { kind: 'removeView', id: view.id });
    },
    words: ({ view }) => `place ${directionName(view.direction)} view`,
    touches: ({ view }) => [`view ${view.id}`],
  },
  removeView: {
    apply: ofView((sheet, at, { id }) => {
      const stays = whyStays(sheet, id);
      if (stays !== null) return refused(stays);
      return done(sheet, { views: sheet.views.toSpliced(at, 1) }, { kind: 'addView', view: sheet.views[at], at });
    }),
    words: () => 'take a view away',
    touches: ({ id }) => [`view ${id}`],
  },
  changeView: {
    apply: ofView((sheet, at, { id, change }) => {
      const view = sheet.views[at];
      const { changed, before } = changeFields<SheetView>(view, aligned(change, view, sheet.views));
      const own = sheet.views.with(at, changed);
      if (('projectedFrom' in change || 'detail' in change) && !standsOnAnother(own, changed))
        return refused(NO_PARENT);
      return done(
        sheet,
        { views: followViews(own, view, changed, change) },
        { kind: 'changeView', id, change: before },
      );
    }),
    words: () => 'change a view',
    touches: ({ id, change }) => Object.keys(change).map((key) => `view ${id} ${key}`),
  },
};
