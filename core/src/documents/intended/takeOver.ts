import {
  componentsAlong,
  listOccurrences,
  pathKey,
  pathOf,
  type Assembly,
  type PathKey,
  type Usage,
  type UsageKey,
} from '../../assembly/index.ts';
import type { Pose, PoseMove } from '../../poses/index.ts';
import {
  addressesWithoutPart,
  numbersToKeep,
  type Address,
  type Bill,
  type LedgerEntry,
  type RetiredPart,
  type Row,
} from '../../bill/index.ts';
import { formatValue } from '../../columns/index.ts';
import {
  layOutSheet,
  MOST_REVISIONS,
  leaderEndAt,
  leaderPlaces,
  type RevisionLine,
  type Sheet,
  type SheetInputs,
  type SheetProblem,
} from '../../sheets/index.ts';
import { placesAgain } from '../../revisions/index.ts';
import type { Spots } from '../../views/index.ts';
import type { BillCommand, BillDocument } from '../kinds/bill.ts';
import type { CarriedOut, GestureStep, ProjectState } from '../project/projectState.ts';
import { billAfter, billFollowing, type Followed } from './following.ts';
import { notesOf, overtaken, overtakenWords, type Overtaken } from './overtaken.ts';
import { billShownBy, projectBill } from '../project/projectBill.ts';
import { sheetSteps } from './sheetSteps.ts';

/** What it means that documents come to show a revision of the model. */
export interface TakeOver {
  /** Which intention it is. */
  readonly kind: 'takeOver';
  /** Id of the revision. */
  readonly revision: string;
  /** Ids of bills and sheets; a sheet takes its bill along, whose numbers it shows. */
  readonly documents: readonly string[];
  /** Whether the numbers of what is gone are retired, so that nothing else gets them. */
  readonly retire: boolean;
  /** Whether sheets mark what changed by clouds, and the letter of the line. */
  readonly clouds: boolean;
  /** A line for the revision table; none where null. Its letter and date go into the title blocks. */
  readonly line: Omit<RevisionLine, 'of'> | null;
}

/**
 * A bill as it is shown beside an earlier revision than its own: numbers that were retired since are still those of their
 * parts there.
 */
export function asPrinted(bill: BillDocument): BillDocument {
  const retired = (Object.keys(bill.ledger) as Address[]).filter((address) => bill.ledger[address].retired);
  if (retired.length === 0) return bill;
  const ledger: Record<Address, LedgerEntry> = { ...bill.ledger };
  for (const address of retired) {
    const { retired: _, was: __, ...entry } = ledger[address];
    ledger[address] = entry;
  }
  return { ...bill, ledger };
}

/** A bill as it reads beside a revision of the model: as it is where it counts that one itself. */
export const billOn = (
  bill: BillDocument,
  { shown, first }: { readonly shown: string; readonly first: string },
): BillDocument => ((bill.revision ?? first) === shown ? bill : asPrinted(bill));

/**
 * Poses in which what is new has left its seat as its nearest neighbour did; null where nothing new stands beside
 * something that has.
 */
export function posesWithNew(poses: readonly Pose[], before: Assembly, after: Assembly): readonly Pose[] | null {
  const earlier = new Map(before.components.map((component) => [component.key, component]));
  let changed = false;
  const next = poses.map((pose) => {
    const added: { behind: PathKey; move: PoseMove }[] = [];
    const known = new Map(pose.moves.map((move) => [move.path, move]));
    const parents = new Set(pose.moves.map(({ path }) => pathOf(path).slice(0, -1).join('/')));
    for (const parent of parents) {
      const path = parent === '' ? [] : (parent.split('/') as UsageKey[]);
      const here = componentsAlong(after, path)?.at(-1);
      if (here === undefined) continue;
      const { key, usages } = after.components[here];
      const keysThen = new Set(earlier.get(key)?.usages.map((usage) => usage.key));
      const pathTo = (usage: Usage): PathKey => pathKey([...path, usage.key]);
      const old = usages.filter((usage) => keysThen.has(usage.key));
      for (const usage of usages) {
        if (keysThen.has(usage.key) || known.has(pathTo(usage)) || old.length === 0) continue;
        const neighbour = nearestTo(usage, old);
        const move = known.get(pathTo(neighbour));
        if (move) added.push({ behind: move.path, move: { path: pathTo(usage), steps: move.steps } });
      }
    }
    if (added.length === 0) return pose;
    changed = true;
    const moves = pose.moves.flatMap((move) => [
      move,
      ...added.filter(({ behind }) => behind === move.path).map((one) => one.move),
    ]);
    return { ...pose, moves };
  });
  return changed ? next : null;
}

/** Others of the same component come first: they left together. */
function nearestTo(usage: Usage, others: readonly Usage[]): Usage {
  const alike = others.filter(({ child }) => child === usage.child);
  const among = alike.length > 0 ? alike : others;
  const away = ({ placement }: Usage) =>
    [3, 7, 11].reduce((sum, at) => sum + (placement[at] - usage.placement[at]) ** 2, 0);
  return among.reduce((best, one) => (away(one) < away(best) ? one : best));
}

/** A sheet marks no more places; what is otherwise everywhere is not told by clouds. */
const MOST_MARKED = 10_000;

/** Places in the later machine that are new, or whose part is new or has another shape; whole assemblies where they are new. */
export function changedPlaces(before: Assembly, after: Assembly): PathKey[] {
  const earlier = new Map(before.components.map((component) => [component.key, component]));
  const isChanged = after.components.map(({ key, shape }) => {
    const was = earlier.get(key);
    return !was || was.shape !== shape;
  });
  const usages = new Set(before.components.flatMap((component) => component.usages.map(({ key }) => key)));
  const found: PathKey[] = [];
  for (const { path, components } of listOccurrences(after, () => true)) {
    const last = path.at(-1);
    // The top is the sheet's whole picture.
    if (last === undefined || (!isChanged[components[components.length - 1]] && usages.has(last))) continue;
    if (found.length === MOST_MARKED) break;
    found.push(pathKey(path));
  }
  return found;
}

/** Nearer than this to a place of its part a leader ends on it still; mm on paper. */
const STILL_ON = 1;

/** What taking a revision over asks for. */
interface TakingOver {
  readonly list: (bill: BillDocument) => Bill;
  readonly inputs: (sheet: Sheet, bill: BillDocument) => SheetInputs & { readonly spots: ReadonlyMap<string, Spots> };
}
type Shown = { readonly id: string; readonly content: BillDocument };

/** How a bill comes to show the revision, with typed cells whose model it overtakes. */
function billSteps(
  state: ProjectState,
  { id, content }: Shown,
  named: string | null,
  retire: boolean,
  { list: listOf }: TakingOver,
): { steps: GestureStep[]; late: Overtaken[] } {
  const before = state.earlier ? projectBill({ ...state, ...state.earlier, bill: content }).bill : null;
  const follows = before ? billFollowing(content, before, listOf(content)) : [];
  const next = billAfter(content, follows);
  const list = listOf(next);
  const late = before ? overtaken(before, list, next) : [];
  const numbers = numbersOf(state, next, { list, before, retire });
  const commands: BillCommand[] = [
    { kind: 'showRevision', revision: named },
    ...follows,
    ...(late.length > 0 ? [{ kind: 'noteOvertaken', cells: notesOf(late) } as const] : []),
    ...(Object.keys(numbers).length > 0 ? [{ kind: 'setNumbers', numbers } as const] : []),
  ];
  return { steps: commands.map((command) => ({ document: id, command })), late };
}

/** How the set and its poses come to show the revision. */
function setSteps({ set, earlier, original }: ProjectState, there: Followed, named: string | null): GestureStep[] {
  const { poses = [] } = set.content;
  const moved = there.state.set.content.poses ?? [];
  const next = (earlier && posesWithNew(moved, earlier.original, original)) ?? moved;
  return [
    { document: set.id, command: { kind: 'showRevision', revision: named } },
    ...next.flatMap((pose, at): GestureStep[] =>
      pose === poses[at] ? [] : [{ document: set.id, command: { kind: 'putPose', pose } }],
    ),
  ];
}

/**
 * The commands by which bills and sheets come to show the revision that the state is of. Nothing that a drafter did is
 * lost: places of balloons, typed texts, notes and numbers stay; a leader that no longer ends on its part goes to the
 * nearest good place of it, and one whose part is gone stays, to be looked at.
 */
export function takeOver(
  state: ProjectState,
  there: Followed,
  { revision, documents, retire, clouds, line }: TakeOver,
  means: TakingOver,
): CarriedOut {
  const first = state.revision?.first;
  const shows = (content: { readonly revision?: string }) => (content.revision ?? first) === revision;
  const named = revision === first ? null : revision;
  const sheets = state.sheets.filter(({ id, content }) => documents.includes(id) && !shows(content));
  const taken = new Set([...documents, ...sheets.map(({ content }) => billShownBy(state.bills, content).id)]);
  const bills = state.bills.filter(({ id, content }) => taken.has(id) && !shows(content));
  const marked = clouds && state.earlier ? changedPlaces(state.earlier.original, state.original) : null;
  const ofBills = bills.map((bill) => billSteps(state, bill, named, retire, means));
  const steps = ofBills.flatMap((bill) => bill.steps);
  const moved: string[] = [];
  for (const { id, content } of sheets) {
    steps.push({ document: id, command: { kind: 'showRevision', revision: named } });
    const again = withPlacesAgain(state, there.state.sheets.find((sheet) => sheet.id === id)?.content ?? content);
    const next = withLeaders(means.inputs(again, billShownBy(state.bills, content).content));
    moved.push(...next.moved);
    if (content.clouds || marked)
      steps.push({
        document: id,
        command: { kind: 'setClouds', clouds: marked && { letter: line?.revision ?? '', paths: marked } },
      });
    for (const command of sheetSteps(content, next.sheet)) steps.push({ document: id, command });
  }
  if (steps.length === 0) return { steps, problems: [], refused: ['All of this shows that revision already.'] };
  if (!shows(state.set.content)) steps.push(...setSteps(state, there, named));
  for (const command of there.edits) steps.push({ document: state.components, command });
  if (line) steps.push(...titleSteps(state, { revision, line, sheets, shows }));
  const late = ofBills.flatMap((bill) => bill.late);
  const isFull = line !== null && hasNoRoom(state, revision) && !hasLine(state, revision);
  return { steps, problems: takingProblems(moved, late, isFull), refused: [] };
}

/** What there is to say once a revision was taken over. @param moved items whose leaders were brought back */
const takingProblems = (moved: readonly string[], late: readonly Overtaken[], isFull: boolean): SheetProblem[] => [
  ...(moved.length === 0
    ? []
    : [
        {
          code: 'leaders-moved',
          items: moved,
          message: `Leaders were brought back onto their parts: ${moved.join(', ')}.`,
        },
      ]),
  ...late.map(overtakenProblem),
  ...(isFull
    ? [
        {
          code: 'revision-table-full',
          items: [],
          message: `The revision table has ${MOST_REVISIONS} lines and takes no more; take old ones away and write this one by hand.`,
        },
      ]
    : []),
];

const hasLine = ({ set }: ProjectState, revision: string): boolean =>
  (set.content.block?.revisions ?? []).some(({ of }) => of === revision);
/** Whether the revision table gets no line: it has one, or as many as it takes. */
const hasNoRoom = (state: ProjectState, revision: string): boolean =>
  hasLine(state, revision) || (state.set.content.block?.revisions.length ?? 0) >= MOST_REVISIONS;

const overtakenProblem = (one: Overtaken): SheetProblem => ({
  code: 'cell-overtaken',
  items: [one.item],
  message: overtakenWords(one),
});

const partOf = (bill: Bill, row: Row): RetiredPart => ({
  partNumber: formatValue(bill.values(row, 'partNumber')[0] ?? null),
  name: formatValue(bill.values(row, 'name')[0] ?? null),
});

/** Numbers of new lines, and those of what is gone. */
function numbersOf(
  { original }: ProjectState,
  bill: BillDocument,
  { list, before, retire }: { readonly list: Bill; readonly before: Bill | null; readonly retire: boolean },
): Record<Address, LedgerEntry> {
  const numbers: Record<Address, LedgerEntry> = { ...numbersToKeep(list) };
  if (!retire) return numbers;
  const rows = new Map((before?.rows ?? []).flatMap((row) => row.addresses.map((address) => [address, row] as const)));
  for (const address of addressesWithoutPart(original, bill)) {
    const row = rows.get(address);
    numbers[address] = {
      ...bill.ledger[address],
      retired: true,
      ...(before && row ? { was: partOf(before, row) } : {}),
    };
  }
  return numbers;
}

/** The sheet whose balloons stand on another place of their part where theirs is gone: balloons name parts. */
function withPlacesAgain({ earlier, original }: ProjectState, sheet: Sheet): Sheet {
  if (!earlier) return sheet;
  const again = placesAgain(
    earlier.original,
    original,
    sheet.balloons.map(({ path }) => pathKey(path)),
  );
  if (again.size === 0) return sheet;
  const balloons = sheet.balloons.map((balloon) => {
    const path = again.get(pathKey(balloon.path));
    return path ? { ...balloon, path: pathOf(path) } : balloon;
  });
  return { ...sheet, balloons };
}

/** The sheet with every leader on its part, and the items whose leader had to go elsewhere. */
function withLeaders(inputs: SheetInputs & { readonly spots: ReadonlyMap<string, Spots> }): {
  sheet: Sheet;
  moved: string[];
} {
  const layout = layOutSheet(inputs);
  const { sheet } = inputs;
  const balloons = new Map(sheet.balloons.map((balloon) => [balloon.id, balloon]));
  const moved: string[] = [];
  for (const laid of layout.views) {
    const spots = inputs.spots.get(laid.view.id);
    if (!spots) continue;
    const places = leaderPlaces(laid, spots, inputs);
    for (const { balloon, row, anchor } of layout.balloons) {
      if (balloon.view !== laid.view.id || row < 0) continue;
      const found = leaderEndAt(places, anchor, row);
      const away = found && Math.hypot(found.place.point[0] - anchor[0], found.place.point[1] - anchor[1]);
      if (!found || away! <= STILL_ON) continue;
      const { path, anchor: own, end } = found.place;
      balloons.set(balloon.id, { ...balloon, path, anchor: own, end });
      moved.push(inputs.bill.rows[row].item);
    }
  }
  return { sheet: { ...sheet, balloons: [...balloons.values()] }, moved };
}

/**
 * Letter and date in the title blocks and a line in the table: shared once every sheet shows the revision, until then of the
 * sheets that do.
 */
function titleSteps(
  state: ProjectState,
  {
    revision,
    line,
    sheets,
    shows,
  }: {
    revision: string;
    line: Omit<RevisionLine, 'of'>;
    sheets: ProjectState['sheets'];
    shows: (content: Sheet) => boolean;
  },
): GestureStep[] {
  const { set } = state;
  const block = set.content.block ?? { further: [], revisions: [] };
  const steps: GestureStep[] = hasNoRoom(state, revision)
    ? []
    : [
        {
          document: set.id,
          command: {
            kind: 'setTitleBlock',
            block: { ...block, revisions: [...block.revisions, { ...line, of: revision }] },
          },
        },
      ];
  const all = state.sheets.every((sheet) => sheets.includes(sheet) || shows(sheet.content));
  const texts = { revision: line.revision, date: line.date };
  for (const field of ['revision', 'date'] as const) {
    if (texts[field] === '') continue;
    if (all && set.content.fields[field] !== texts[field])
      steps.push({ document: set.id, command: { kind: 'setSharedField', field, value: texts[field] } });
    for (const { id, content } of all ? state.sheets : sheets) {
      const own = content.fields[field];
      const value = all ? null : texts[field];
      if ((own ?? null) !== value && !(all && own === undefined))
        steps.push({ document: id, command: { kind: 'setField', field, value } });
    }
  }
  return steps;
}
