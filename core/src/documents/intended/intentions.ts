import { Refusal, type ComponentKey, type EditedAssembly, type PropertyValue } from '../../assembly/index.ts';
import { keysOf, numbersToKeep, type Address, type Bill, type BillData, type Row } from '../../bill/index.ts';
import { propertyNameOf, type ColumnSource, type RuleGroup } from '../../columns/index.ts';
import type { Exploded } from '../../poses/index.ts';
import {
  makeDrawing,
  otherBills,
  planBalloons,
  rowOfPath,
  setInputs,
  sheetWithFastenerStacks,
  viewRequest,
  withoutThings,
  withViews,
  type BalloonLook,
  type Sheet,
  type SheetInputs,
  type SheetKind,
  type ShownBill,
  type ViewWish,
} from '../../sheets/index.ts';
import { lookAt, type Look, type LookRequest, type Spots, type ViewLines } from '../../views/index.ts';
import type { BillCommand, BillDocument } from '../kinds/bill.ts';
import { after, joinRows, mergeAsUsual, partRow, relists, typeInto } from './cellEdits.ts';
import { billShownBy, editedFor, projectBill } from '../project/projectBill.ts';
import {
  showsRevision,
  type CarriedOut,
  type GestureStep,
  type ProjectState,
  type Stored,
} from '../project/projectState.ts';
import { followed } from './following.ts';
import { billOn, takeOver, type TakeOver } from './takeOver.ts';
import { lockedProblem } from './lockedProblem.ts';
import { sheetSteps } from './sheetSteps.ts';

/** A text for the cell of a line; null gives the cell back to the model. */
interface TypedCell {
  /** An address of the line. */
  readonly line: Address;
  /** Id of the column. */
  readonly column: string;
  /** null gives the cell back to the model. */
  readonly text: string | null;
}

/**
 * What a drafter means by a gesture, where more follows from it than one command says: `carryOut` works out which
 * commands it takes.
 */
export type PlainIntention =
  /** New lines get their numbers with it, and balloons of the sheets that show the bill follow. */
  | { readonly kind: 'changeBill'; readonly bill: string; readonly commands: readonly BillCommand[] }
  | { readonly kind: 'typeCells'; readonly bill: string; readonly cells: readonly TypedCell[] }
  /** Makes several lines one, the first. */
  | { readonly kind: 'joinLines'; readonly bill: string; readonly lines: readonly Address[] }
  /** Gives each part of a line a line of its own. */
  | { readonly kind: 'partLine'; readonly bill: string; readonly line: Address }
  /** Takes back that the parts of a line are kept apart. */
  | { readonly kind: 'mergeLine'; readonly bill: string; readonly line: Address }
  /** Gives what a cell says to the components of its line, so that every bill has it. */
  | { readonly kind: 'sayEverywhere'; readonly bill: string; readonly line: Address; readonly column: string }
  /** Lets a sheet show another bill, its balloons on the lines of that one. */
  | { readonly kind: 'showBill'; readonly sheet: string; readonly bill: string }
  /** A balloon for every line that can be seen; those placed by hand stay. */
  | {
      readonly kind: 'placeBalloons';
      readonly sheet: string;
      readonly look?: BalloonLook;
      /** Whether small parts on one axis, such as a bolt with washer and nut, come to share a leader. */
      readonly stacks?: true;
      /** A view that is taken away; its balloons come into the others, where all other balloons stay. */
      readonly without?: string;
      /** Only lines with one of these addresses, or (and) that these rules hold for; all other balloons stay. */
      readonly lines?: readonly Address[];
      readonly filter?: RuleGroup<ColumnSource>;
    }
  /**
   * Proposes an exploded pose under this id and name: taken apart so many levels deep, without what the drawing's list
   * counts whole. One that is there is proposed anew. A view may take it on at once.
   */
  | {
      readonly kind: 'proposePose';
      readonly pose: string;
      readonly name: string;
      readonly levels: number;
      /** Of things that are alike and stand at one place every one is opened; else one, the others stay together. */
      readonly every?: true;
      readonly view?: { readonly sheet: string; readonly view: string };
    }
  /**
   * Lets bills and sheets show a revision of the model; the state is of that. Balloons keep their places, leaders end on
   * their parts again.
   */
  | TakeOver
  /** Views, list and balloons; what was placed by hand stays. */
  | { readonly kind: 'makeDrawing'; readonly sheet: string; readonly views: readonly ViewWish[] };

/**
 * What is meant by a gesture. A set is made of a sheet, in which every line of its list is seen well, of these kinds of
 * sheets or of as many as it takes: that asks for pictures as it goes, see `setSteps`.
 */
export type Intention =
  | PlainIntention
  | { readonly kind: 'makeSet'; readonly sheet: string; readonly kinds?: readonly SheetKind[] }
  /** A list that is too long for its sheet goes on on further ones. */
  | { readonly kind: 'divideList'; readonly sheet: string; readonly table: string }
  /** Sheets of single parts, on the paper of a sheet; their numbers are written into a property where one is named. */
  | {
      readonly kind: 'makePartSheets';
      readonly sheet: string;
      readonly parts: readonly ComponentKey[];
      readonly together: boolean;
      readonly column: string | null;
    };

/** Lines of a view and where leaders may end in it. */
export interface DrawnLook {
  /** What is drawn of it. */
  readonly lines: ViewLines;
  /** Where leaders may end. */
  readonly spots: Spots;
}

/** What carrying out may need besides the documents. */
export interface Means {
  /** Drawn views by the key of their look; all that `looksFor` names are there. */
  readonly views: ReadonlyMap<string, DrawnLook>;
  /** An id that nothing has yet. */
  readonly newId: () => string;
  /** The machine in a variant or (null) as a whole, where it is at hand already. */
  readonly machine?: (variant: string | null) => EditedAssembly;
  /** The list as it is after the commands of a `changeBill`, where it is at hand already. */
  readonly made?: BillData;
  /** For `proposePose`: how the machine comes apart. */
  readonly exploded?: Exploded;
}

type Machines = Required<Pick<Means, 'machine'>>;
const machineOf = ({ machine }: Machines, bill: BillDocument): EditedAssembly => machine(bill.recipe.variant ?? null);

/** Every machine is worked out once: views are named by what they look at, not by how often it was made. */
function remembering(state: ProjectState, { machine }: Pick<Means, 'machine'>): Machines {
  const known = new Map<string | null, EditedAssembly>();
  return {
    machine: (variant) => {
      let edited = known.get(variant);
      if (!edited) known.set(variant, (edited = machine ? machine(variant) : editedFor(state, variant)));
      return edited;
    },
  };
}

type ChangeBill = Extract<PlainIntention, { kind: 'changeBill' }>;
/** Intentions that say which commands they mean. */
type Resolved = Extract<
  PlainIntention,
  { kind: 'changeBill' | 'sayEverywhere' | 'showBill' | 'placeBalloons' | 'makeDrawing' | 'proposePose' | 'takeOver' }
>;

/** The bill with the commands carried out; null where no other lines stand in it than before. */
function relisted(state: ProjectState, { bill, commands }: ChangeBill): BillDocument | null {
  return commands.some(relists) ? after(find(state.bills, bill, 'bill').content, commands) : null;
}

/** Sheets whose balloons are arranged anew by an intention, each with the bill that they show then. */
function arranged(state: ProjectState, intention: Resolved): { sheet: Stored<Sheet>; bill: BillDocument }[] {
  const shown = ({ content }: Stored<Sheet>) => billShownBy(state.bills, content);
  switch (intention.kind) {
    case 'showBill': {
      const sheet = find(state.sheets, intention.sheet, 'sheet');
      const bill = find(state.bills, intention.bill, 'bill').content;
      return sheet.content.balloons.length > 0 ? [{ sheet, bill }] : [];
    }
    case 'placeBalloons':
    case 'makeDrawing': {
      const sheet = find(state.sheets, intention.sheet, 'sheet');
      return [{ sheet, bill: shown(sheet).content }];
    }
    case 'changeBill': {
      const bill = relisted(state, intention);
      if (!bill) return [];
      return state.sheets
        .filter(
          (sheet) =>
            shown(sheet).id === intention.bill &&
            showsRevision(state, sheet.content) &&
            sheet.content.balloons.some(({ byHand }) => !byHand),
        )
        .map((sheet) => ({ sheet, bill }));
    }
    case 'takeOver':
      return state.sheets
        .filter(({ id }) => intention.documents.includes(id))
        .map((sheet) => ({ sheet, bill: shown(sheet).content }));
    case 'sayEverywhere':
    case 'proposePose':
      return [];
  }
}

/**
 * Views that have to be drawn before an intention can be carried out.
 * @throws Refusal with a sentence where a document that it names is gone
 */
export function looksFor(
  state: ProjectState,
  intention: PlainIntention,
  given: Pick<Means, 'machine'> = {},
): { look: Look; request: LookRequest; variant: string | null }[] {
  const seen = intention.kind === 'takeOver' ? followed(state).state : state;
  const means = remembering(seen, given);
  return arranged(seen, resolve(seen, intention, means).intention).flatMap(({ sheet, bill }) => {
    const { assembly } = machineOf(means, bill);
    const views: readonly ViewWish[] =
      intention.kind === 'makeDrawing' && sheet.content.views.length === 0 ? intention.views : sheet.content.views;
    const requests = views.map((view) => viewRequest(view, seen.set.content.poses));
    return requests.map((request) => ({
      look: lookAt(assembly, request),
      request,
      variant: bill.recipe.variant ?? null,
    }));
  });
}

/**
 * The commands that an intention takes. Pure: the page, the server and tests get the same from the same state, but for
 * the ids of new things.
 * @throws Refusal with a sentence where a document or line that it names is gone
 */
export function carryOut(state: ProjectState, meant: PlainIntention, given: Means): CarriedOut {
  const means = { ...given, ...remembering(state, given) };
  const { intention, refused } = resolve(state, meant, means);
  switch (intention.kind) {
    case 'sayEverywhere':
      return { steps: sayEverywhere(state, intention, means), problems: [], refused: [] };
    case 'showBill': {
      const shows: GestureStep = {
        document: intention.sheet,
        command: { kind: 'setBill', bill: intention.bill === state.bills[0].id ? null : intention.bill },
      };
      const follows = arranged(state, intention).map((one) => follow(state, one, means));
      return { steps: [shows, ...follows.flatMap(({ steps }) => steps)], problems: [], refused: [] };
    }
    case 'placeBalloons': {
      const [one] = arranged(state, intention);
      return { ...follow(state, one, means, intention), refused: [] };
    }
    case 'makeDrawing': {
      const [{ sheet, bill }] = arranged(state, intention);
      const content = withViews(sheet.content, intention.views, means.newId);
      const made = makeDrawing({ ...inputsOf(state, content, bill, means), newId: means.newId });
      const steps = sheetSteps(sheet.content, made.sheet).map((command) => ({ document: sheet.id, command }));
      return { steps, problems: made.problems, refused: [] };
    }
    case 'proposePose':
      return proposePose(state, intention, means);
    case 'takeOver': {
      // As it is to count, not as it reads beside another revision.
      const there = followed(state);
      const own = { ...given, ...remembering(there.state, given) };
      const list = (bill: BillDocument) => projectBill({ ...there.state, bill }, machineOf(own, bill)).bill;
      return takeOver(state, there, intention, {
        list,
        inputs: (sheet, bill) => inputsOf(there.state, sheet, bill, own),
      });
    }
    case 'changeBill':
      return { ...changeBill(state, intention, means), refused };
  }
}

/** Commands for a bill, the numbers that its new lines get, and balloons that follow. */
function changeBill(state: ProjectState, intention: ChangeBill, means: Means & Machines): Omit<CarriedOut, 'refused'> {
  const { bill: document, commands } = intention;
  const steps: GestureStep[] = commands.map((command) => ({ document, command }));
  const next = relisted(state, intention);
  if (!next) return { steps, problems: [] };
  const numbers = numbersToKeep(means.made ?? listOf(state, next, means));
  if (Object.keys(numbers).length > 0) steps.push({ document, command: { kind: 'setNumbers', numbers } });
  const bill: BillDocument = { ...next, ledger: { ...next.ledger, ...numbers } };
  for (const { sheet } of arranged(state, intention)) steps.push(...follow(state, { sheet, bill }, means).steps);
  return { steps, problems: [] };
}

/** What is meant, with the commands that typed cells and joined lines come to. */
function resolve(
  state: ProjectState,
  intention: PlainIntention,
  means: Machines,
): { intention: Resolved; refused: readonly string[] } {
  switch (intention.kind) {
    case 'typeCells':
    case 'joinLines':
    case 'partLine':
    case 'mergeLine':
      break;
    default:
      return { intention, refused: [] };
  }
  const { content } = find(state.bills, intention.bill, 'bill');
  const list = listOf(state, content, means);
  const { assembly } = machineOf(means, content);
  const change = (commands: readonly BillCommand[], refused: readonly string[]) => ({
    intention: { kind: 'changeBill', bill: intention.bill, commands } as const,
    refused,
  });
  const one = (command: BillCommand | null, reason: string) => (command ? change([command], []) : change([], [reason]));
  switch (intention.kind) {
    case 'typeCells': {
      const cells = intention.cells.map(({ line, column, text }) => ({
        row: rowAt(list, line),
        column: find(content.columns, column, 'column'),
        text,
      }));
      const { commands, refused } = typeInto(assembly, list, content, cells);
      return change(commands, refused);
    }
    case 'joinLines':
      return one(
        joinRows(
          assembly,
          intention.lines.map((line) => rowAt(list, line)),
        ),
        'These lines cannot be one: a line without a shape stays its own, and a part and a subassembly are two.',
      );
    case 'partLine':
      return one(partRow(assembly, content, rowAt(list, intention.line)), 'This line has one part only.');
    case 'mergeLine':
      return one(mergeAsUsual(assembly, content, rowAt(list, intention.line)), 'The parts of this line are one.');
  }
}

/** What a line says in a column, given to its components and taken out of the bill's own texts. */
function sayEverywhere(
  state: ProjectState,
  { bill: id, line, column: columnId }: Extract<PlainIntention, { kind: 'sayEverywhere' }>,
  means: Means & Machines,
): GestureStep[] {
  const { content } = find(state.bills, id, 'bill');
  const list = listOf(state, content, means);
  const row = rowAt(list, line);
  const column = find(content.columns, columnId, 'column');
  const name = propertyNameOf(column.source);
  if (name === null) throw new Refusal('no-property', `${column.heading} is no property of the components.`);
  const { assembly, originals } = machineOf(means, content);
  const { text, value: typed } = list.cell(row, column);
  const value: PropertyValue =
    typed?.kind === 'number'
      ? { value: typed.value, ...(typed.unit ? { unit: typed.unit } : {}) }
      : typed?.kind === 'flag'
        ? { value: typed.value }
        : { value: text };
  // In a variant components may stand for others: the file's own are typed.
  const keys = new Set(row.components.map((index) => state.original.components[originals[index]].key));
  if (keys.size === 0 || keysOf(assembly, row).length === 0)
    throw new Refusal('no-component', 'No component stands behind this line.');
  return [
    {
      document: state.components,
      command: {
        kind: 'typeValues',
        name,
        components: Object.fromEntries([...keys].map((key) => [key, value])),
        places: {},
      },
    },
    {
      document: id,
      command: {
        kind: 'typeCells',
        cells: Object.fromEntries(row.addresses.map((address) => [address, { [column.source]: null }])) as never,
      },
    },
  ];
}

/** The machine taken apart as a pose of the project. */
function proposePose(
  state: ProjectState,
  { pose: id, name, view }: Extract<PlainIntention, { kind: 'proposePose' }>,
  { exploded }: Means,
): CarriedOut {
  const { moves, locked } = exploded ?? { moves: [], locked: [] };
  if (moves.length === 0)
    return {
      steps: [],
      problems: [],
      refused: ['There is nothing to take apart: the machine has one part with a shape.'],
    };
  return {
    steps: [
      { document: state.set.id, command: { kind: 'putPose', pose: { id, name, moves } } },
      ...(view
        ? [
            {
              document: view.sheet,
              command: { kind: 'changeView', id: view.view, change: { pose: id, pathLines: true } },
            } as const,
          ]
        : []),
    ],
    problems:
      locked.length === 0
        ? []
        : [
            lockedProblem(
              state,
              locked.map(({ path }) => path),
            ),
          ],
    refused: [],
  };
}

/**
 * Arranges the balloons of a sheet on the lines of a bill: of those that it has balloons for and those that no other sheet of
 * the set has; of all where it has none.
 */
function follow(
  state: ProjectState,
  { sheet, bill }: { sheet: Stored<Sheet>; bill: BillDocument },
  means: Means & Machines,
  { look, stacks, without, lines, filter }: Partial<Extract<PlainIntention, { kind: 'placeBalloons' }>> = {},
): Pick<CarriedOut, 'steps' | 'problems'> {
  const looking = look ? { ...sheet.content, balloonLook: look } : sheet.content;
  const some = lines !== undefined || filter !== undefined;
  const content = without !== undefined ? keptWithout(looking, without) : some ? kept(looking) : looking;
  const { spots, ...plain } = inputsOf(state, content, bill, means);
  const inputs = stacks ? stackedInputs(plain) : plain;
  const wanted = some
    ? rowsMeant(inputs.bill, lines, filter && listOf(state, { ...bill, recipe: { ...bill.recipe, filter } }, means))
    : wantedOn(state, sheet, inputs);
  const { balloons, problems } = planBalloons(inputs, spots, means.newId, wanted);
  const byHand = new Map(sheet.content.balloons.map((balloon) => [balloon.id, balloon.byHand]));
  const placed = balloons.map((balloon) => ({ ...balloon, byHand: byHand.get(balloon.id) ?? balloon.byHand }));
  const steps = sheetSteps(sheet.content, { ...content, balloons: placed });
  return { steps: steps.map((command) => ({ document: sheet.id, command })), problems };
}

/** All balloons as if they had been put by hand. */
const kept = (sheet: Sheet): Sheet => ({
  ...sheet,
  balloons: sheet.balloons.map((balloon) => ({ ...balloon, byHand: true })),
});
/** The sheet without a view, what is left kept. */
const keptWithout = (sheet: Sheet, view: string): Sheet => kept(withoutThings(sheet, [{ kind: 'view', id: view }]));

/** Rows with one of these addresses, which the filtered list still has; each where it is said. */
function rowsMeant(
  { rows }: Bill,
  lines: readonly Address[] | undefined,
  filtered: Bill | undefined,
): ReadonlySet<number> {
  const named = lines && new Set(lines),
    left = filtered && new Set(filtered.rows.flatMap(({ addresses }) => addresses));
  const has = (among: ReadonlySet<Address> | undefined, addresses: readonly Address[]) =>
    !among || addresses.some((address) => among.has(address));
  return new Set([...rows.keys()].filter((row) => has(named, rows[row].addresses) && has(left, rows[row].addresses)));
}

/** With fasteners of a sheet on one leader each. @throws Refusal where there are none */
function stackedInputs(inputs: SheetInputs): SheetInputs {
  const sheet = sheetWithFastenerStacks(inputs);
  if (!sheet)
    throw new Refusal(
      'no-stacks',
      'No small parts with balloons sit on one axis and touch in the views of this sheet.',
    );
  return { ...inputs, sheet };
}

/** Rows that a sheet of a set has balloons for, and those that nobody else has; undefined where nothing is said of that. */
function wantedOn(
  { bills, sheets }: ProjectState,
  { id, content }: Stored<Sheet>,
  { assembly, bill }: SheetInputs,
): ReadonlySet<number> | undefined {
  const shown = billShownBy(bills, content).id;
  const others = sheets.filter((other) => other.id !== id && billShownBy(bills, other.content).id === shown);
  if (content.balloons.length === 0 || others.length === 0) return undefined;
  const rowsOn = (sheet: Sheet) => sheet.balloons.map(({ path }) => rowOfPath(bill, assembly, path));
  const elsewhere = new Set(others.flatMap((other) => rowsOn(other.content)));
  const here = new Set(rowsOn(content));
  return new Set([...bill.rows.keys()].filter((row) => here.has(row) || !elsewhere.has(row)));
}

function inputsOf(
  state: ProjectState,
  sheet: Sheet,
  bill: BillDocument,
  means: Means & Machines,
): SheetInputs & { readonly spots: ReadonlyMap<string, Spots> } {
  const { assembly } = machineOf(means, bill);
  const drawn = sheet.views.flatMap((view) => {
    const found = means.views.get(lookAt(assembly, viewRequest(view, state.set.content.poses)).key);
    return found ? [[view.id, found] as const] : [];
  });
  return {
    sheet,
    ...setInputs(state.set.content),
    assembly,
    bill: listOf(state, bill, means),
    columns: bill.columns,
    lists: listsOn(state, sheet, means),
    lines: new Map(drawn.map(([id, { lines }]) => [id, lines])),
    spots: new Map(drawn.map(([id, { spots }]) => [id, spots])),
  };
}

/** The other bills that lists of a sheet show. */
export function listsOn(
  state: ProjectState,
  sheet: Sheet,
  given: Pick<Means, 'machine'>,
): ReadonlyMap<string, ShownBill> {
  const means = remembering(state, given);
  return new Map(
    otherBills(sheet).flatMap((id) => {
      const bill = state.bills.find((one) => one.id === id)?.content;
      if (!bill) return [];
      return [
        [id, { bill: listOf(state, bill, means), columns: bill.columns, assembly: machineOf(means, bill).assembly }],
      ];
    }),
  );
}

const listOf = (state: ProjectState, bill: BillDocument, means: Machines): Bill =>
  projectBill({ ...state, bill: state.revision ? billOn(bill, state.revision) : bill }, machineOf(means, bill)).bill;

function rowAt(list: Bill, line: Address): Row {
  const row = list.rows.find(({ addresses }) => addresses.includes(line));
  if (!row) throw new Refusal('no-line', `There is no line ${line} in the list.`);
  return row;
}

function find<One extends { readonly id: string }>(all: readonly One[], id: string, what: string): One {
  const found = all.find((one) => one.id === id);
  if (!found) throw new Refusal('gone', `That ${what} is no longer there.`);
  return found;
}
