import type { MessagePort } from 'node:worker_threads';
import { readStored, type StoredText } from '../../contract/src/index.ts';
import { Refusal, type Assembly, type EditedAssembly } from '../../core/src/assembly/index.ts';
import { columnFindings, faultFindings, type Bill } from '../../core/src/bill/index.ts';
import { readyForFormulas } from '../../core/src/columns/index.ts';
import {
  asPrinted,
  billShownBy,
  editedFor,
  newComponentEdits,
  projectBill,
  recipeFileOf,
  type BillDocument,
  type ComponentEdits,
} from '../../core/src/documents/index.ts';
import { billJson, billTable, billToText, sceneToSvg } from '../../core/src/formats/index.ts';
import type { Scene } from '../../core/src/marks/index.ts';
import {
  checkReport,
  drawReport,
  drawSheet,
  figureOf,
  otherBills,
  setInputs,
  viewRequest,
  withPlaces,
  type CheckedSheet,
  type DrawnSheet,
  type SheetInputs,
  type ShownBill,
} from '../../core/src/sheets/index.ts';
import { lookAt, type ViewLines } from '../../core/src/views/index.ts';
import { unpackViewLines } from '../../core/src/formats/index.ts';
import {
  embeddedFonts,
  loadThumbnails,
  pictureKey,
  scenesToPdf,
  sceneToPng,
  viewKeys,
  writeBillWorkbook,
  type DerivedStore,
  type PdfFacts,
} from '../../engine/src/index.ts';
import { openDocuments, type OpenedDocuments } from './openedDocuments.ts';
import { openInputs } from './openedStructure.ts';
import { revisionIn } from './revisions.ts';

export const billFormats = ['csv', 'tsv', 'xlsx', 'json', 'recipe'] as const;
export const sheetFormats = ['pdf', 'svg', 'png'] as const;

/** A list or a sheet as a file. */
export interface OutputTask {
  readonly kind: 'output';
  readonly format: (typeof billFormats)[number] | (typeof sheetFormats)[number];
  /** Of the bill or the sheet; null for all sheets in one PDF, or what there is to look at on them. */
  readonly document: string | null;
  /** What there is to look at on the sheets, as PDF or JSON, instead of the sheets. */
  readonly check?: true | undefined;
  /** Of a sheet only this view, as a figure; the whole sheet where absent. */
  readonly view?: string | undefined;
  /** Dots per inch of a PNG. */
  readonly dots?: number | undefined;
  /** All of the project. */
  readonly documents: readonly StoredText[];
  /** Oldest first. */
  readonly revisions: readonly StoredRevision[];
  readonly projectName: string;
  /** Where the store is asked. */
  readonly port: MessagePort;
}
/** A revision of the project's machine. */
export interface StoredRevision {
  readonly id: string;
  /** Name of the structure in the store. */
  readonly assemblyBlob: string;
  readonly fileName: string;
}
export interface Output {
  /** What the file may be called. */
  readonly fileName: string;
  readonly bytes: Uint8Array;
}

/** @throws Refusal with the code `not-there` or `not-ready` */
export async function makeOutput(task: OutputTask, store: DerivedStore): Promise<Output> {
  await readyForFormulas();
  const project = await openProject(task, store);
  const { name, bytes } =
    task.document === null
      ? task.check
        ? await checkFile(project, task.format, store)
        : await setFile(project, store)
      : isSheetFormat(task.format)
        ? await sheetFile(project, task.format, { id: task.document, view: task.view, dots: task.dots }, store)
        : await billFile(project, task.format, task.document, store);
  return { fileName: `${task.projectName} ${name}.${task.format === 'recipe' ? 'recipe.json' : task.format}`, bytes };
}

interface NamedBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}
const isSheetFormat = (format: OutputTask['format']): format is (typeof sheetFormats)[number] =>
  (sheetFormats as readonly string[]).includes(format);
const inUtf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

async function billFile(
  project: OpenedProject,
  format: (typeof billFormats)[number],
  id: string,
  store: DerivedStore,
): Promise<NamedBytes> {
  const { bill, document, assembly, fileName } = await project.bill(id);
  const { name, columns } = document;
  switch (format) {
    case 'csv':
      return { name, bytes: inUtf8(`\ufeff${billToText(bill, columns, ',')}`) };
    case 'tsv':
      return { name, bytes: inUtf8(`\ufeff${billToText(bill, columns, '\t')}`) };
    case 'recipe':
      return { name, bytes: inUtf8(JSON.stringify(recipeFileOf(document, project.edits))) };
    case 'xlsx': {
      const pictures = columns.some(({ source, hidden }) => source === 'picture' && !hidden)
        ? await loadThumbnails(assembly, { store })
        : new Map<number, Uint8Array>();
      return { name, bytes: await writeBillWorkbook(billTable(bill, columns), name, pictures) };
    }
    case 'json': {
      const findings = [...columnFindings(bill, columns), ...faultFindings(bill, columns)];
      const pieces = [...billJson(assembly, bill, fileName, columns, findings)].map(inUtf8);
      return { name, bytes: Buffer.concat(pieces) };
    }
  }
}

async function sheetFile(
  project: OpenedProject,
  format: (typeof sheetFormats)[number],
  {
    id,
    view,
    dots = 300,
  }: { readonly id: string; readonly view?: string | undefined; readonly dots?: number | undefined },
  store: DerivedStore,
): Promise<NamedBytes> {
  const at = project.sheets.findIndex((sheet) => sheet.id === id);
  if (at < 0) throw new Refusal('not-there', 'That sheet is no longer in the project.');
  const { name } = project.sheets[at].content;
  const drawn = await drawnSheet(project, at, store);
  const scene = view === undefined ? drawn.scene : figureOf(drawn, view);
  if (!scene) throw new Refusal('not-there', 'That view is no longer on the sheet.');
  return { name: view === undefined ? name : scene.title, bytes: await bytesOf() };

  async function bytesOf(): Promise<Uint8Array> {
    if (format === 'pdf') return scenesToPdf([scene!], factsOf(project, at), at + 1);
    if (format === 'png') return sceneToPng(scene!, dots);
    return inUtf8(sceneToSvg(scene!, await embeddedFonts(scene!)));
  }
}

/** All sheets in one file. */
async function setFile(project: OpenedProject, store: DerivedStore): Promise<NamedBytes> {
  if (project.sheets.length === 0) throw new Refusal('not-there', 'This project has no sheet.');
  const scenes: Scene[] = [];
  for (const at of project.sheets.keys()) scenes.push((await drawnSheet(project, at, store)).scene);
  return { name: 'drawing set', bytes: await scenesToPdf(scenes, factsOf(project, 0)) };
}

/** What there is to look at on all sheets. */
async function checkFile(
  project: OpenedProject,
  format: OutputTask['format'],
  store: DerivedStore,
): Promise<NamedBytes> {
  if (project.sheets.length === 0) throw new Refusal('not-there', 'This project has no sheet.');
  const checked: CheckedSheet[] = [];
  for (const at of project.sheets.keys()) {
    const inputs = await inputsOf(project, at, store);
    checked.push({ inputs, drawn: drawSheet(inputs, { sheet: at + 1, of: project.sheets.length }) });
  }
  const { title = '', date = '' } = factsOf(project, 0);
  const report = checkReport(checked, title, date);
  const name = 'check';
  return format === 'json'
    ? { name, bytes: inUtf8(`${JSON.stringify(report, null, 2)}\n`) }
    : { name, bytes: await scenesToPdf(drawReport(report), factsOf(project, 0)) };
}

/** Title, author and date come from the title block. */
function factsOf({ set, sheets }: OpenedProject, at: number): PdfFacts {
  const { content } = sheets[at];
  const { title, createdBy, date } = { ...set.content.fields, ...content.fields };
  return { title: title || content.name, author: createdBy, date };
}

const shownBill = ({ bill, document, assembly }: BillAsShown): ShownBill => ({
  bill,
  columns: document.columns,
  assembly,
});

/** What is drawn on a sheet. @throws Refusal `not-ready` */
const drawnSheet = async (project: OpenedProject, at: number, store: DerivedStore): Promise<DrawnSheet> =>
  drawSheet(await inputsOf(project, at, store), { sheet: at + 1, of: project.sheets.length });

/** What a sheet is drawn from. @throws Refusal `not-ready` */
async function inputsOf(project: OpenedProject, at: number, store: DerivedStore): Promise<SheetInputs> {
  const { content: sheet } = project.sheets[at];
  const { logo } = project.set.content.block ?? {};
  const shown = billShownBy(project.bills, sheet).id;
  // A sheet shows one revision: its machine, its lists and its pictures.
  const revision = sheet.revision ?? null;
  const { bill, document, assembly } = await project.bill(shown, revision);
  const lines = new Map<string, ViewLines>();
  for (const view of sheet.views) {
    const drawn = await store.get(viewKeys(lookAt(assembly, viewRequest(view, project.set.content.poses)).key).lines);
    if (!drawn) throw new Refusal('not-ready', 'Not all views of this sheet are drawn yet; order them first.');
    lines.set(view.id, unpackViewLines(drawn));
  }
  return {
    sheet,
    others: project.sheets
      .filter((other, one) => one !== at && billShownBy(project.bills, other.content).id === shown)
      .map(({ content }) => content),
    ...setInputs(project.set.content),
    logo: logo ? await store.get(pictureKey(logo.blob)) : null,
    assembly,
    bill,
    columns: document.columns,
    lists: new Map(
      await Promise.all(
        otherBills(sheet)
          .filter((id) => project.bills.some((one) => one.id === id))
          .map(async (id) => [id, shownBill(await project.bill(id, revision))] as const),
      ),
    ),
    lines,
  };
}

interface BillAsShown {
  readonly bill: Bill;
  readonly document: BillDocument;
  readonly assembly: Assembly;
  readonly fileName: string;
}
interface OpenedProject extends Pick<OpenedDocuments, 'bills' | 'set' | 'sheets'> {
  readonly edits: ComponentEdits;
  /**
   * A bill as it reads now, of a revision; of the project's first where null, of its own where that is left out. Rejects
   * with a Refusal.
   */
  readonly bill: (id: string, revision?: string | null) => Promise<BillAsShown>;
}

async function openProject({ documents, revisions }: OutputTask, store: DerivedStore): Promise<OpenedProject> {
  const { components, bills, set, sheets } = openDocuments(documents);
  const contents = sheets.map(({ content }) => content);
  const opened = new Map<string, Promise<{ inputs: OpenedInputs; edited: EditedAssembly }>>();
  const openAt = ({ id, assemblyBlob }: StoredRevision) => {
    let open = opened.get(id);
    if (!open) {
      open = openInputs(assemblyBlob, components, store).then((inputs) => ({
        inputs,
        edited: editedFor(inputs, null),
      }));
      opened.set(id, open);
    }
    return open;
  };
  return {
    edits: components ? (readStored(components) as ComponentEdits) : newComponentEdits,
    bills,
    set,
    sheets,
    bill: async (id, wanted) => {
      const found = bills.find((bill) => bill.id === id);
      if (!found) throw new Refusal('not-there', 'That bill is no longer in the project.');
      const revision = revisionIn(revisions, wanted === undefined ? found.content.revision : wanted);
      const { inputs, edited } = await openAt(revision);
      const { fileName } = revision;
      const own = found.content.recipe.variant ? undefined : edited;
      // Beside another revision than its own it is as it was printed there.
      const ofRevision = revisionIn(revisions, found.content.revision).id === revision.id;
      const bill = ofRevision ? found.content : asPrinted(found.content);
      const made = projectBill({ ...inputs, bill, fileName }, own);
      return {
        document: found.content,
        assembly: made.edited.assembly,
        bill: withPlaces(made.bill, made.edited.assembly, made.decisions, made.extras, contents),
        fileName,
      };
    },
  };
}
type OpenedInputs = Awaited<ReturnType<typeof openInputs>>;
