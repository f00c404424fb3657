import { readStored, type StoredText } from '../../../contract/src/index.ts';
import { Refusal, type Assembly, type ComponentKey, type EditedAssembly } from '../../../core/src/assembly/index.ts';
import type { Bill } from '../../../core/src/bill/index.ts';
import {
  asPrinted,
  billShownBy,
  editedFor,
  newComponentEdits,
  projectBill,
  type BillDocument,
  type ComponentEdits,
  type ProjectBuyingInput,
} from '../../../core/src/documents/index.ts';
import { unpackViewLines } from '../../../core/src/formats/index.ts';
import {
  otherBills,
  sectionsOf,
  setInputs,
  viewRequest,
  withPlaces,
  type SheetInputs,
  type SheetView,
  type ShownBill,
} from '../../../core/src/sheets/index.ts';
import { lookAt, type ViewLines } from '../../../core/src/views/index.ts';
import { loadThumbnails, pictureKey, viewKeys, type DerivedStore } from '../../../engine/src/index.ts';
import { openCatalogues, openDocuments, type OpenedDocuments } from './openedDocuments.ts';
import { openInputs } from './openedStructure.ts';
import { revisionIn } from '../store/revisions.ts';

/** A revision of the project's machine. */
export interface StoredRevision {
  readonly id: string;
  /** Name of the structure in the store. */
  readonly assemblyBlob: string;
  readonly fileName: string;
}
/** The documents of a project, and its revisions, oldest first. */
export interface StoredProject {
  /** All of them, in their order. */
  readonly documents: readonly StoredText[];
  readonly revisions: readonly StoredRevision[];
  /** Catalogues that its bills take values from. */
  readonly catalogues?: readonly StoredText[];
}

const shownBill = ({ bill, document, assembly }: BillAsShown): ShownBill => ({
  bill,
  columns: document.columns,
  assembly,
});

/** What a sheet is drawn from. @throws Refusal `not-ready` */
export async function sheetInputs(project: OpenedProject, at: number, store: DerivedStore): Promise<SheetInputs> {
  const { content: sheet } = project.sheets[at];
  const { logo } = project.set.content.block ?? {};
  const shown = billShownBy(project.bills, sheet).id;
  // A sheet shows one revision: its machine, its lists and its pictures.
  const revision = sheet.revision ?? null;
  const { bill, document, assembly } = await project.bill(shown, revision);
  const lines = new Map<string, ViewLines>();
  const linesOf = async (view: SheetView) =>
    store.get(viewKeys(lookAt(assembly, viewRequest(view, project.set.content.poses)).key).lines);
  for (const view of sheet.views) {
    const drawn = await linesOf(view);
    if (!drawn) throw new Refusal('not-ready', 'Not all views of this sheet are drawn yet; order them first.');
    lines.set(view.id, unpackViewLines(drawn));
  }
  const others = project.sheets
    .filter((other, one) => one !== at && billShownBy(project.bills, other.content).id === shown)
    .map(({ content }) => content);
  const sections = await Promise.all(sectionsOf(others, sheet).map(linesOf));
  const pictures = new Map<string, Uint8Array>();
  if (sheet.tables.some((table) => table.pictures !== undefined))
    for (const [at, png] of await loadThumbnails(assembly, { store })) {
      const { shape } = assembly.components[at];
      if (shape) pictures.set(shape, png);
    }
  return {
    sheet,
    pictures,
    others,
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
    sectionsElsewhere: sections.flatMap((drawn) => (drawn ? unpackViewLines(drawn) : [])),
  };
}

interface BillAsShown {
  readonly bill: Bill;
  readonly document: BillDocument;
  readonly assembly: Assembly;
  readonly fileName: string;
}
export interface OpenedProject extends Pick<OpenedDocuments, 'bills' | 'set' | 'sheets' | 'plans' | 'orders'> {
  readonly edits: ComponentEdits;
  /**
   * A bill as it reads now, of a revision; of the project's first where null, of its own where that is left out. Of one
   * subassembly where its key is given. Rejects with a Refusal.
   */
  readonly bill: (id: string, revision?: string | null, root?: string) => Promise<BillAsShown>;
  /** What a plan of buying is computed from, of the revision that its list counts. Rejects with a Refusal. */
  readonly buying: (id: string) => Promise<ProjectBuyingInput>;
}

/** @throws Refusal, see readStored */
export async function openProject(
  { documents, revisions, catalogues: stored }: StoredProject,
  store: DerivedStore,
): Promise<OpenedProject> {
  const { components, bills, set, sheets, plans, orders } = openDocuments(documents);
  const catalogues = openCatalogues(stored);
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
    plans,
    orders,
    buying: async (id) => {
      const plan = plans.find((one) => one.id === id)?.content;
      if (!plan) throw new Refusal('not-there', 'That plan of buying is no longer in the project.');
      const { content: bill } = billShownBy(bills, { bill: plan.bill });
      const revision = revisionIn(revisions, bill.revision);
      const { inputs } = await openAt(revision);
      return { ...inputs, bill, plan, catalogues, fileName: revision.fileName };
    },
    bill: async (id, wanted, root) => {
      const found = bills.find((bill) => bill.id === id);
      if (!found) throw new Refusal('not-there', 'That bill is no longer in the project.');
      const revision = revisionIn(revisions, wanted === undefined ? found.content.revision : wanted);
      const { inputs, edited } = await openAt(revision);
      const { fileName } = revision;
      const own = found.content.recipe.variant ? undefined : edited;
      // Beside another revision than its own it is as it was printed there.
      const ofRevision = revisionIn(revisions, found.content.revision).id === revision.id;
      const bill = ofRevision ? found.content : asPrinted(found.content);
      const made = projectBill({ ...inputs, bill, fileName, catalogues, root: root as ComponentKey | undefined }, own);
      return {
        document: found.content,
        assembly: made.edited.assembly,
        // Balloons stand at places of the whole machine.
        bill:
          root === undefined
            ? withPlaces(made.bill, made.edited.assembly, made.decisions, made.extras, contents)
            : made.bill,
        fileName,
      };
    },
  };
}
type OpenedInputs = Awaited<ReturnType<typeof openInputs>>;
