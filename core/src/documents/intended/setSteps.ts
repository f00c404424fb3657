import { Refusal } from '../../assembly/index.ts';
import type { Exploded, Pose } from '../../poses/index.ts';
import {
  divideList,
  listSheets,
  makeDetailSheets,
  makeSet,
  setInputs,
  viewRequest,
  type Sheet,
  type SheetKind,
  type SheetProblem,
  type ViewWish,
} from '../../sheets/index.ts';
import { lookAt, type DrawnView, type Look } from '../../views/index.ts';
import type { BillDocument } from '../kinds/bill.ts';
import { listsOn, type Intention } from './intentions.ts';
import type { GestureStep, ProjectState } from '../project/projectState.ts';
import { lockedProblem } from './lockedProblem.ts';
import { billShownBy, editedFor, projectBill } from '../project/projectBill.ts';
import { sheetSteps } from './sheetSteps.ts';
import { billOn } from './takeOver.ts';

/** What making a set takes besides the documents. */
export interface SetMeans {
  /** Draws a look. Rejects with a Refusal where nothing of it has a shape. */
  readonly draw: (look: Look) => Promise<DrawnView>;
  /** How the machine comes apart. */
  readonly apart: () => Promise<Exploded>;
  /** An id that nothing has yet. */
  readonly newId: () => string;
}

/** A set as a gesture: new sheets, and commands for what is there. */
export interface SetSteps {
  /** Sheets that come, by the ids that the commands know them by. */
  readonly added: readonly { readonly id: string; readonly content: Sheet }[];
  readonly steps: readonly GestureStep[];
  readonly problems: readonly SheetProblem[];
  /** What was done, in a sentence. */
  readonly said: string;
}

/**
 * Makes of a sheet a set in which every line of its list is seen well; see `makeSet`. A cover comes first, other new
 * sheets behind the drawing.
 * @throws Refusal where the sheet is gone
 */
export async function setSteps(
  state: ProjectState,
  { sheet: id, kinds }: { readonly sheet: string; readonly kinds?: readonly SheetKind[] | undefined },
  { draw, apart, newId }: SetMeans,
): Promise<SetSteps> {
  const at = state.sheets.findIndex((sheet) => sheet.id === id);
  if (at < 0) throw new Refusal('gone', 'That sheet is no longer there.');
  const { content } = state.sheets[at];
  const shown = billShownBy(state.bills, content);
  const edited = editedFor(state, shown.content.recipe.variant ?? null);
  const { bill } = projectBill({ ...state, bill: shownOn(state, shown.content) }, edited);
  const made = await makeSet({
    sheet: content,
    others: state.sheets.flatMap((other) =>
      other.id !== id && billShownBy(state.bills, other.content).id === shown.id ? [other.content] : [],
    ),
    ...setInputs(state.set.content),
    assembly: edited.assembly,
    bill,
    columns: shown.content.columns,
    lists: listsOn(state, content, {}),
    ...(kinds ? { kinds } : {}),
    look: (wish: ViewWish, withNew: readonly Pose[]) => draw(lookAt(edited.assembly, viewRequest(wish, withNew))),
    apart,
    newId,
  });
  const cover = made.cover ? [{ id: newId(), content: ofRevision(made.cover, content) }] : [];
  const further = made.further.map((one) => ({ id: newId(), content: ofRevision(freelyNamed(one, state), content) }));
  const order = state.sheets.map((sheet) => sheet.id);
  const steps: GestureStep[] = sheetSteps(content, made.sheet).map((command) => ({ document: id, command }));
  if (made.pose) steps.unshift({ document: state.set.id, command: { kind: 'putPose', pose: made.pose } });
  if (cover.length + further.length > 0)
    steps.push({
      document: state.set.id,
      command: {
        kind: 'orderSheets',
        order: [
          ...cover.map((one) => one.id),
          ...order.slice(0, at + 1),
          ...further.map((one) => one.id),
          ...order.slice(at + 1),
        ],
      },
    });
  return {
    added: [...cover, ...further],
    steps,
    problems: made.locked.length === 0 ? made.problems : [...made.problems, lockedProblem(state, made.locked)],
    said: made.said,
  };
}

/**
 * Lets a list that is too long for its sheet go on on further sheets behind it; see `divideList`.
 * @throws Refusal where sheet or list are gone, where it fits, and where nothing of it does
 */
export function longListSteps(
  state: ProjectState,
  { sheet: id, table }: Pick<Extract<Intention, { kind: 'divideList' }>, 'sheet' | 'table'>,
  newId: () => string,
): SetSteps {
  const at = state.sheets.findIndex((sheet) => sheet.id === id);
  const content = state.sheets[at]?.content;
  const list = content?.tables.find((one) => one.id === table);
  if (!content || !list) throw new Refusal('gone', 'That list is no longer there.');
  const shown = billShownBy(state.bills, content);
  const edited = editedFor(state, shown.content.recipe.variant ?? null);
  const { bill } = projectBill({ ...state, bill: shownOn(state, shown.content) }, edited);
  const inputs = {
    sheet: content,
    ...setInputs(state.set.content),
    assembly: edited.assembly,
    bill,
    columns: shown.content.columns,
    lists: listsOn(state, content, {}),
    lines: new Map<string, never>(),
  };
  const divided = divideList(inputs, list, newId, content.views.length > 0, true);
  if (!divided)
    throw new Refusal(
      'fits',
      'This list does not go on elsewhere: it is one strip that fits its sheet, or not one line of it fits this paper.',
    );
  const added = listSheets(content, `${content.name}, list`, divided.rest).map((one) => ({
    id: newId(),
    content: ofRevision(freelyNamed(one, state), content),
  }));
  const order = state.sheets.map((sheet) => sheet.id);
  return {
    added,
    steps: [
      { document: id, command: { kind: 'changeTables', remove: [], put: [divided.here] } },
      {
        document: state.set.id,
        command: {
          kind: 'orderSheets',
          order: [...order.slice(0, at + 1), ...added.map((one) => one.id), ...order.slice(at + 1)],
        },
      },
    ],
    problems: [],
    said: `The list goes on on ${added.length === 1 ? 'one further sheet' : `${added.length} further sheets`}.`,
  };
}

/** What is asked for. */
type PartSheetsRequest = Pick<
  Extract<Intention, { kind: 'makePartSheets' }>,
  'sheet' | 'parts' | 'together' | 'column'
>;

/**
 * Sheets of single parts, behind all others; see `makeDetailSheets`.
 * @throws Refusal where the sheet is gone, or none of the parts has a shape
 */
export async function partSheetSteps(
  state: ProjectState,
  { sheet: id, parts, together, column }: PartSheetsRequest,
  { draw, newId }: Omit<SetMeans, 'apart'>,
): Promise<SetSteps> {
  const sheet = state.sheets.find((one) => one.id === id);
  if (!sheet) throw new Refusal('gone', 'That sheet is no longer there.');
  const shown = billShownBy(state.bills, sheet.content);
  const edited = editedFor(state, shown.content.recipe.variant ?? null);
  const { bill } = projectBill({ ...state, bill: shownOn(state, shown.content) }, edited);
  const made = await makeDetailSheets({
    ...setInputs(state.set.content),
    parts,
    together,
    paper: sheet.content.paper,
    assembly: edited.assembly,
    bill,
    columns: shown.content.columns,
    look: (wish: ViewWish) => draw(lookAt(edited.assembly, viewRequest(wish))),
    newId,
  });
  let known = state;
  const added = made.sheets.map((content) => {
    const one = { id: newId(), content: ofRevision(freelyNamed(content, known), sheet.content) };
    known = { ...known, sheets: [...known.sheets, one] };
    return one;
  });
  const steps: GestureStep[] = [
    { document: state.set.id, command: { kind: 'orderSheets', order: known.sheets.map((one) => one.id) } },
  ];
  if (column !== null && made.numbers.size > 0)
    steps.push({
      document: state.components,
      command: {
        kind: 'typeValues',
        name: column,
        components: Object.fromEntries([...made.numbers].map(([key, value]) => [key, { value }])),
        places: {},
      },
    });
  const count = made.sheets.length;
  return {
    added,
    steps,
    problems:
      made.without.length === 0
        ? []
        : [
            {
              code: 'no-shape',
              message: `Nothing is drawn of what has no shape: ${made.without.slice(0, 8).join(', ')}${made.without.length > 8 ? ' …' : ''}.`,
              items: [],
            },
          ],
    said: `${count} ${count === 1 ? 'sheet' : 'sheets'} of ${parts.length - made.without.length} ${parts.length - made.without.length === 1 ? 'part' : 'parts'} made, behind the others.`,
  };
}

const shownOn = ({ revision }: ProjectState, bill: BillDocument): BillDocument =>
  revision ? billOn(bill, revision) : bill;

/** A sheet that shows the revision that the one does from which it is made, with its letter and date. */
function ofRevision(sheet: Sheet, { revision, fields }: Sheet): Sheet {
  if (revision === undefined) return sheet;
  const { revision: letter, date } = fields;
  return {
    ...sheet,
    revision,
    fields: {
      ...(letter === undefined ? {} : { revision: letter }),
      ...(date === undefined ? {} : { date }),
      ...sheet.fields,
    },
  };
}

/** With a number where another sheet of the set has the name. */
function freelyNamed(sheet: Sheet, { sheets }: ProjectState): Sheet {
  const taken = new Set(sheets.map(({ content }) => content.name));
  for (let number = 1; ; number++) {
    const name = number === 1 ? sheet.name : `${sheet.name}, ${number}`;
    if (!taken.has(name)) return { ...sheet, name };
  }
}
