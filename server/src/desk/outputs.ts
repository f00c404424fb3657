import type { MessagePort } from 'node:worker_threads';
import { sheetFormats, type billFormats } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { columnFindings, faultFindings } from '../../../core/src/bill/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import { overtakenFindings, recipeFileOf } from '../../../core/src/documents/index.ts';
import { billJson, billTable, billToText, sceneToSvg } from '../../../core/src/formats/index.ts';
import type { Scene } from '../../../core/src/marks/index.ts';
import {
  checkReport,
  drawReport,
  drawSheet,
  figureOf,
  type CheckedSheet,
  type DrawnSheet,
} from '../../../core/src/sheets/index.ts';
import {
  embeddedFonts,
  loadThumbnails,
  scenesToPdf,
  sceneToPng,
  writeBillWorkbook,
  type DerivedStore,
  type PdfFacts,
} from '../../../engine/src/index.ts';
import { orderFile, planFile, type BuyingWish } from './buyingOutputs.ts';
import { makeForms, type FormOrder } from './formOutputs.ts';
import { openProject, sheetInputs, type OpenedProject, type StoredProject } from '../opened/openedSheets.ts';

/** A list, a sheet, a plan of buying or an order as a file. */
export interface OutputTask extends StoredProject, BuyingWish {
  readonly kind: 'output';
  readonly format: (typeof billFormats)[number] | (typeof sheetFormats)[number] | 'form';
  /** Of the bill or the sheet; null for all sheets in one PDF, or what there is to look at on them. */
  readonly document: string | null;
  /** What there is to look at on the sheets, as PDF or JSON, instead of the sheets. */
  readonly check?: true | undefined;
  /** Of a sheet only this view, as a figure; the whole sheet where absent. */
  readonly view?: string | undefined;
  /** Dots per inch of a PNG. */
  readonly dots?: number | undefined;
  /** Lists in the company's form. */
  readonly form?: FormOrder | undefined;
  readonly projectName: string;
  /** Where the store is asked. */
  readonly port: MessagePort;
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
  if (task.format === 'form') return makeForms(project, task.projectName, task.form!, store);
  const kind = task.documents.find(({ id }) => id === task.document)?.kind;
  const { name, bytes } =
    task.document === null
      ? task.check
        ? await checkFile(project, task.format, store)
        : await setFile(project, store)
      : kind === 'buying' || kind === 'order'
        ? await (kind === 'buying'
            ? planFile(project, task.projectName, task.format as 'json', task.document, task, store)
            : orderFile(project, task.format as 'json', task.document, task))
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
      const findings = [
        ...overtakenFindings(bill, document),
        ...columnFindings(bill, columns),
        ...faultFindings(bill, columns),
      ];
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
    const inputs = await sheetInputs(project, at, store);
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

/** What is drawn on a sheet. @throws Refusal `not-ready` */
const drawnSheet = async (project: OpenedProject, at: number, store: DerivedStore): Promise<DrawnSheet> =>
  drawSheet(await sheetInputs(project, at, store), { sheet: at + 1, of: project.sheets.length });
