import { componentsAlong, pathKey, pathOf, type Assembly, type ShapeKey } from '../assembly/index.ts';
import { addressesWithoutPart, type Bill } from '../bill/index.ts';
import {
  asPrinted,
  billAfter,
  billFollowing,
  billShownBy,
  editedFor,
  overtaken,
  projectBill,
  type BillDocument,
  type Overtaken,
  type ProjectBillInput,
} from '../documents/index.ts';
import { placesAgain } from '../revisions/index.ts';
import { rowOfPath, viewRequest, type Sheet, type SheetSet } from '../sheets/index.ts';
import { lookAt } from '../views/index.ts';
import { compareSides, comparedLines, type Comparison, type ComparedLine, type ShapeSizes } from './comparison.ts';

/** What a project's documents are computed from in one revision of the model. */
interface RevisionInputs extends Pick<ProjectBillInput, 'original' | 'edits' | 'facts' | 'fileName'> {
  /** Id of the revision. */
  readonly id: string;
  /** What it is called. */
  readonly title: string;
}
interface Kept<Content> {
  readonly id: string;
  readonly content: Content;
}
interface EffectDocuments {
  /** Without those that are away, the drawing's list first. */
  readonly bills: readonly Kept<BillDocument>[];
  /** In their order, without those that are away. */
  readonly sheets: readonly Kept<Sheet>[];
  readonly set: Kept<SheetSet>;
}

/** What a revision of the model does to a bill. */
export interface BillEffect {
  /** Document id. */
  readonly id: string;
  /** Of the bill. */
  readonly name: string;
  /** Id of the revision that it shows; null for the project's first. */
  readonly shows: string | null;
  /** Lines that differ. */
  readonly lines: readonly ComparedLine[];
  /** Item numbers that new lines get. */
  readonly given: readonly string[];
  /** Numbers whose parts are gone. */
  readonly without: readonly number[];
  /** Cells that were typed over, of which the model says something else now. */
  readonly overtaken: readonly Overtaken[];
}
/** What it does to a sheet. */
export interface SheetEffect {
  /** Document id. */
  readonly id: string;
  /** Of the sheet. */
  readonly name: string;
  /** Id of the revision that it shows; null for the project's first. */
  readonly shows: string | null;
  /** Views whose pictures change, by number from 1, of how many. */
  readonly views: readonly number[];
  /** Count of its views. */
  readonly of: number;
  /** Count of balloons that stay on their parts. */
  readonly stay: number;
  /** Item numbers of balloons whose part is gone. */
  readonly hanging: readonly string[];
  /** Items that are new in its list and have no balloon on any sheet. */
  readonly lacking: readonly string[];
  /** Lines of its list then and now. */
  readonly rows: readonly [was: number, is: number];
}
/** What a revision does to a project, worked out before anything is touched. */
export interface Effect {
  /** The machine and the drawing's list. */
  readonly model: Comparison;
  /** Every bill. */
  readonly bills: readonly BillEffect[];
  /** Every sheet. */
  readonly sheets: readonly SheetEffect[];
}

/** What taking over a revision would do to every bill and sheet, against another one. */
export function effectOf(
  before: RevisionInputs,
  after: RevisionInputs,
  { bills, sheets, set }: EffectDocuments,
): Effect {
  const made = new Map<string, MadeBill>();
  for (const { id, content } of bills) made.set(id, madeBill(before, after, content));
  const drawing = made.get(bills[0].id)!;
  const model = compareSides(
    { title: before.title, assembly: before.original, bill: drawing.was.bill, columns: bills[0].content.columns },
    { title: after.title, assembly: after.original, bill: drawing.is.bill, columns: bills[0].content.columns },
    sizesOf([before, after]),
    null,
    // The machine as the files say it; lines as the drafter has them.
    linesOf(drawing, bills[0].content),
  );
  return {
    model,
    bills: bills.map(({ id, content }): BillEffect => {
      const one = made.get(id)!;
      const gone = addressesWithoutPart(after.original, content);
      return {
        id,
        name: content.name,
        shows: content.revision ?? null,
        lines: linesOf(one, content),
        given: one.is.bill.rows.filter(({ provisional }) => provisional).map(({ item }) => item),
        overtaken: overtaken(one.was.bill, one.is.bill, content),
        without: [...new Set(gone.map((address) => content.ledger[address].number))].sort((a, b) => a - b),
      };
    }),
    sheets: sheets.map(({ id, content }) => {
      const shown = billShownBy(bills, content).id;
      const others = sheets.filter((other) => billShownBy(bills, other.content).id === shown);
      return sheetEffect(
        id,
        content,
        made.get(shown)!,
        set.content,
        others.map((other) => other.content),
      );
    }),
  };
}

/** Volumes and boxes, as far as they were measured. */
function sizesOf(sides: readonly RevisionInputs[]): ShapeSizes {
  const sizes = new Map<ShapeKey, { volume: number; box: readonly [number, number, number] }>();
  for (const { facts } of sides)
    for (const [shape, { volume, sizes: named }] of facts) {
      const box = String(named['Overall size']?.value ?? '')
        .split('×')
        .map(Number);
      if (volume !== null && box.length === 3) sizes.set(shape, { volume, box: box as [number, number, number] });
    }
  return sizes;
}

interface MadeSide {
  readonly assembly: Assembly;
  readonly bill: Bill;
}
interface MadeBill {
  readonly was: MadeSide;
  readonly is: MadeSide;
}

function madeBill(before: RevisionInputs, after: RevisionInputs, bill: BillDocument): MadeBill {
  const side = (inputs: RevisionInputs, document: BillDocument): MadeSide => {
    const input = { ...inputs, bill: document };
    const made = projectBill(input, editedFor(input, document.recipe.variant ?? null));
    return { assembly: made.edited.assembly, bill: made.bill };
  };
  const [was, is] = [side(before, asPrinted(bill)), side(after, bill)];
  const follows = billFollowing(bill, was.bill, is.bill);
  return { was, is: follows.length > 0 ? side(after, billAfter(bill, follows)) : is };
}

const linesOf = ({ was, is }: MadeBill, { columns }: BillDocument): ComparedLine[] =>
  comparedLines({ title: '', ...was, columns }, { title: '', ...is, columns });

function sheetEffect(
  id: string,
  sheet: Sheet,
  { was, is }: MadeBill,
  { poses }: SheetSet,
  others: readonly Sheet[],
): SheetEffect {
  const looks = ({ assembly }: MadeSide) => sheet.views.map((view) => lookAt(assembly, viewRequest(view, poses)).key);
  const [before, after] = [looks(was), looks(is)];
  const hanging: string[] = [];
  let stay = 0;
  const again = placesAgain(
    was.assembly,
    is.assembly,
    sheet.balloons.map(({ path }) => pathKey(path)),
  );
  for (const { path: stood } of sheet.balloons) {
    const other = again.get(pathKey(stood));
    const path = other ? pathOf(other) : stood;
    const row = rowOfPath(was.bill, was.assembly, stood);
    if (componentsAlong(is.assembly, path) && rowOfPath(is.bill, is.assembly, path) >= 0) stay++;
    else if (row >= 0) hanging.push(was.bill.rows[row].item);
  }
  const addressesWas = new Set(was.bill.rows.flatMap(({ addresses }) => addresses));
  const ballooned = new Set(
    others.flatMap(({ balloons }) => balloons.map(({ path }) => rowOfPath(is.bill, is.assembly, path))),
  );
  const lacking = is.bill.rows.filter(
    ({ addresses, opened, components }, at) =>
      !opened && components.length > 0 && !ballooned.has(at) && !addresses.some((one) => addressesWas.has(one)),
  );
  return {
    id,
    name: sheet.name,
    shows: sheet.revision ?? null,
    views: before.flatMap((key, at) => (key === after[at] ? [] : [at + 1])),
    of: sheet.views.length,
    stay,
    hanging,
    lacking: sheet.tables.length > 0 || sheet.balloons.length > 0 ? lacking.map(({ item }) => item) : [],
    rows: [was.bill.rows.length, is.bill.rows.length],
  };
}

/** Letters of the line that a revision table gets: more would be lettered too small to read. */
const LONGEST_LINE = 70;

/**
 * A line for the revision table, proposed from what changed in the list: "item 14: 4 → 6; Side rail: Length 1900 → 2020".
 */
export function revisionText(lines: readonly ComparedLine[]): string {
  const said = lines.map(({ kind, item, name, partNumber, quantityWas, quantityIs, cells }) => {
    const what = name || partNumber;
    if (kind === 'added') return `item ${item} ${what} added`;
    if (kind === 'removed') return `item ${item} ${what} left out`;
    const changes = [
      ...(quantityWas === quantityIs ? [] : [`${quantityWas} → ${quantityIs}`]),
      ...Object.entries(cells).map(([heading, { was, is }]) => `${heading} ${was || '–'} → ${is || '–'}`),
    ];
    return `item ${item}: ${changes.join(', ')}`;
  });
  let text = '';
  for (const [at, one] of said.entries()) {
    const next = text === '' ? one : `${text}; ${one}`;
    if (next.length > LONGEST_LINE)
      return text === '' ? `${one.slice(0, LONGEST_LINE - 2)} …` : `${text}; ${said.length - at} more`;
    text = next;
  }
  return text || 'Model changed; list as it was';
}
