import { addressesWithoutPart, numbersToKeep, type Address, type Bill, type LedgerEntry } from '../bill/index.ts';
import {
  layOutSheet,
  leaderEndAt,
  leaderPlaces,
  type RevisionLine,
  type Sheet,
  type SheetInputs,
} from '../sheets/index.ts';
import type { Spots } from '../views/index.ts';
import type { BillDocument } from './bill.ts';
import type { CarriedOut, GestureStep, ProjectState } from './projectState.ts';
import { billShownBy } from './projectBill.ts';
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
    const { retired: _, ...entry } = ledger[address];
    ledger[address] = entry;
  }
  return { ...bill, ledger };
}

/** A bill as it reads beside a revision of the model: as it is where it counts that one itself. */
export const billOn = (
  bill: BillDocument,
  { shown, first }: { readonly shown: string; readonly first: string },
): BillDocument => ((bill.revision ?? first) === shown ? bill : asPrinted(bill));

/** Nearer than this to a place of its part a leader ends on it still; mm on paper. */
const STILL_ON = 1;

/**
 * The commands by which bills and sheets come to show the revision that the state is of. Nothing that a drafter did is
 * lost: places of balloons, typed texts, notes and numbers stay; a leader that no longer ends on its part goes to the
 * nearest good place of it, and one whose part is gone stays, to be looked at.
 */
export function takeOver(
  state: ProjectState,
  { revision, documents, retire, line }: TakeOver,
  means: {
    readonly list: (bill: BillDocument) => Bill;
    readonly inputs: (sheet: Sheet, bill: BillDocument) => SheetInputs & { readonly spots: ReadonlyMap<string, Spots> };
  },
): CarriedOut {
  const first = state.revision?.first;
  const shows = (content: { readonly revision?: string }) => (content.revision ?? first) === revision;
  const named = revision === first ? null : revision;
  const sheets = state.sheets.filter(({ id, content }) => documents.includes(id) && !shows(content));
  const taken = new Set([...documents, ...sheets.map(({ content }) => billShownBy(state.bills, content).id)]);
  const bills = state.bills.filter(({ id, content }) => taken.has(id) && !shows(content));
  const steps: GestureStep[] = [];
  const moved: string[] = [];
  for (const { id, content } of bills) {
    steps.push({ document: id, command: { kind: 'showRevision', revision: named } });
    const numbers = numbersOf(state, content, means.list(content), retire);
    if (Object.keys(numbers).length > 0) steps.push({ document: id, command: { kind: 'setNumbers', numbers } });
  }
  for (const { id, content } of sheets) {
    steps.push({ document: id, command: { kind: 'showRevision', revision: named } });
    const next = withLeaders(means.inputs(content, billShownBy(state.bills, content).content));
    moved.push(...next.moved);
    for (const command of sheetSteps(content, next.sheet)) steps.push({ document: id, command });
  }
  if (steps.length === 0) return { steps, problems: [], refused: ['All of this shows that revision already.'] };
  const { set } = state;
  if (!shows(set.content)) steps.push({ document: set.id, command: { kind: 'showRevision', revision: named } });
  if (line) steps.push(...titleSteps(state, { revision, line, sheets, shows }));
  return {
    steps,
    problems:
      moved.length === 0
        ? []
        : [
            {
              code: 'leaders-moved',
              items: moved,
              message: `Leaders were brought back onto their parts: ${moved.join(', ')}.`,
            },
          ],
    refused: [],
  };
}

/** Numbers of new lines, and those of what is gone. */
function numbersOf(
  { original }: ProjectState,
  bill: BillDocument,
  list: Bill,
  retire: boolean,
): Record<Address, LedgerEntry> {
  const numbers: Record<Address, LedgerEntry> = { ...numbersToKeep(list) };
  if (!retire) return numbers;
  for (const address of addressesWithoutPart(original, bill))
    numbers[address] = { ...bill.ledger[address], retired: true };
  return numbers;
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
  const known = block.revisions.some(({ of }) => of === revision);
  const steps: GestureStep[] = known
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
