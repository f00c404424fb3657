import { ownValue, Refusal } from '../../../core/src/assembly/index.ts';
import { fillForm, formFields, formList, type FilledForm, type FormMap } from '../../../core/src/forms/index.ts';
import { loadThumbnails, zipFiles, type DerivedStore } from '../../../engine/src/index.ts';
import { orderForm } from './buyingOutputs.ts';
import type { OpenedProject } from '../opened/openedSheets.ts';

/** A company's form with lists in it. */
export interface FormOrder {
  /** Name of the workbook in the store. */
  readonly key: string;
  readonly map: FormMap;
  /** Ids of bills. */
  readonly bills: readonly string[];
  /** Keys of subassemblies of which the first bill is made too. */
  readonly assemblies: readonly string[];
  /** An issued order instead of bills. */
  readonly order?: { readonly id: string; readonly supplier: string | undefined } | undefined;
  /** ISO 8601. */
  readonly today: string;
  /** What there is to know beforehand, instead of the files. */
  readonly check: boolean;
}
/** Sentences of one file that are told; the count says how many there are. */
const MOST_PROBLEMS = 300;

/** The workbook, several as an archive, or what there is to know before they are written. @throws Refusal */
export async function makeForms(
  project: OpenedProject,
  projectName: string,
  order: FormOrder,
  store: DerivedStore,
): Promise<{ fileName: string; bytes: Uint8Array }> {
  const bytes = await store.get(order.key);
  if (!bytes) throw new Refusal('not-there', 'The workbook of this form is gone; bring it in again.');
  const [first] = order.bills;
  const targets = [
    ...order.bills.map((bill) => ({ bill, root: undefined })),
    ...order.assemblies.map((root) => ({ bill: first, root })),
  ];
  if (first === undefined && !order.order) throw new Refusal('not-there', 'Choose a list that goes into the form.');
  const filled: FilledForm[] = [];
  if (order.order) filled.push(orderForm(project, projectName, order.order.id, order.order.supplier, order.map, bytes));
  for (const target of targets) filled.push(await oneForm(project, projectName, target, order, bytes, store));
  const named = withOwnNames(filled);
  if (order.check) {
    const told = named.map(({ fileName, problems }) => ({
      fileName,
      // What stops it comes first.
      problems: problems.toSorted((a, b) => Number(b.stops) - Number(a.stops)).slice(0, MOST_PROBLEMS),
      count: problems.length,
    }));
    return { fileName: 'check.json', bytes: new TextEncoder().encode(JSON.stringify(told)) };
  }
  const stopping = named.flatMap(({ problems }) => problems.filter(({ stops }) => stops));
  if (stopping.length > 0)
    throw new Refusal(
      'form-not-written',
      `${stopping[0].message} ${stopping.length > 1 ? `There are ${stopping.length - 1} more like it. ` : ''}Nothing was written.`,
    );
  if (named.length === 1) return { fileName: named[0].fileName, bytes: named[0].write() };
  const files = new Map(named.map(({ fileName, write }) => [fileName, write()]));
  return { fileName: `${projectName} lists.zip`, bytes: zipFiles(files) };
}

async function oneForm(
  project: OpenedProject,
  projectName: string,
  { bill: id, root }: { readonly bill: string; readonly root: string | undefined },
  { map, today }: FormOrder,
  bytes: Uint8Array,
  store: DerivedStore,
): Promise<FilledForm> {
  const { bill, document, assembly, fileName } = await project.bill(id, undefined, root);
  const { columns, recipe, name } = document;
  const pictures = columns.some(({ source }) => source === 'picture')
    ? await loadThumbnails(assembly, { store })
    : new Map<number, Uint8Array>();
  const variant = recipe.variant ? (ownValue(project.edits.variants, recipe.variant)?.name ?? '') : '';
  const fields = formFields(assembly, {
    file: fileName,
    project: projectName,
    bill: name,
    machines: recipe.machines ?? 1,
    variant,
    today,
    set: project.set.content,
    isPart: root !== undefined,
  });
  return fillForm(bytes, map, formList(bill, columns, map, pictures), fields);
}

/** Two files of one name in an archive would be one. */
function withOwnNames(filled: readonly FilledForm[]): FilledForm[] {
  const taken = new Set<string>();
  return filled.map((one) => {
    let { fileName } = one;
    for (let at = 2; taken.has(fileName.toLowerCase()); at++) fileName = one.fileName.replace(/\.xlsx$/, ` ${at}.xlsx`);
    taken.add(fileName.toLowerCase());
    return { ...one, fileName };
  });
}
