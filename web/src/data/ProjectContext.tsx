import { notifications } from '@mantine/notifications';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react';
import type { Project, Revision } from '../../../contract/src/index.ts';
import {
  componentsAlong,
  editAssembly,
  occurrenceCounts,
  pathOf,
  withShapeFindings,
  type Assembly,
  type EditedAssembly,
  type FactsByShape,
  type Finding,
  type PathKey,
  type Treatment,
} from '../../../core/src/assembly/index.ts';
import type { BuyingPlan, IssuedOrder } from '../../../core/src/buying/index.ts';
import { linkedOf, withCatalogues, type Catalogue } from '../../../core/src/catalogues/index.ts';
import type { Bill, BillDecisions } from '../../../core/src/bill/index.ts';
import {
  billOn,
  cataloguesOn,
  newComponentEdits,
  newSheetSet,
  type BillDocument,
  type Command,
  type ComponentEdits,
} from '../../../core/src/documents/index.ts';
import { sheetsInOrder, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import { loadAssembly, loadProject, Misfit } from './api.ts';
import { EditingContext } from './editing/Editing.tsx';
import { useShapes, type ShapesState } from './made/shapes.ts';
import { EditQueue, type EditState, type SetAside } from './editing/editQueue.ts';
import { useBill } from './bills/useBill.ts';
import { cataloguesOf, useCatalogues } from './useCatalogues.ts';

/** A project that is open: its assembly, its documents as they read now, and what is computed from them. */
export interface OpenProject {
  readonly id: string;
  readonly summary: Project['summary'];
  /** What the program noticed in the file and in its shapes. */
  readonly findings: readonly Finding[];
  /** With everything typed, measured and decided laid over what the file says, and what the open bill's catalogues say. */
  readonly assembly: Assembly;
  /** The same without what catalogues say; its components have the same indices. */
  readonly edited: EditedAssembly;
  /** As the file says it. */
  readonly original: Assembly;
  /** All revisions of the project, oldest first. */
  readonly revisions: readonly Revision[];
  /** Ids: of the revision that all of this is of, of the first, which documents show that name none, of the project's own. */
  readonly revision: { readonly shown: string; readonly first: string; readonly own: string };
  /** By component of `assembly`. */
  readonly treatments: readonly (Treatment | undefined)[];
  /** Component of `original` that each component of `assembly` is. */
  readonly originals: readonly number[];
  readonly facts: FactsByShape;
  readonly shapes: ShapesState;
  /** Variant that `assembly` is in; null for the machine as a whole. */
  readonly variant: string | null;
  /** Occurrences of each component in the whole machine. */
  readonly counts: Float64Array;
  readonly components: { readonly id: string; readonly content: ComponentEdits };
  readonly billDocument: { readonly id: string; readonly content: BillDocument };
  /** The drawing's list, whose numbers balloons show; in the Bill station the bill that is open there. */
  readonly bill: Bill;
  /** What it was made with besides its recipe. */
  readonly decisions: BillDecisions;
  /** Catalogues that bills of the project take values from, by id. */
  readonly catalogues: ReadonlyMap<string, Catalogue>;
  /** All bills of the project, the drawing's list first. */
  readonly bills: readonly { readonly id: string; readonly content: BillDocument }[];
  /** What all sheets share. */
  readonly set: { readonly id: string; readonly content: SheetSet };
  /** In their order. */
  readonly sheets: readonly { readonly id: string; readonly content: Sheet }[];
  /** Plans of buying, without those that are away. */
  readonly plans: readonly { readonly id: string; readonly content: BuyingPlan }[];
  /** Orders that were issued, in the order in which they were. */
  readonly orders: readonly { readonly id: string; readonly content: IssuedOrder }[];
  readonly edits: EditState;
  /** Carries out commands as one gesture; `label` is what Undo will say. */
  readonly perform: (label: string, ...steps: { document: string; command: Command }[]) => boolean;
  readonly stepBack: (mode: 'undo' | 'redo') => void;
  readonly settle: (keepMine: boolean) => void;
  /** Tries what was set aside once more, or lets it go. */
  readonly takeUp: (one: SetAside, again: boolean) => void;
  /** Index of the picked component, or null; lit in every pane. */
  readonly picked: number | null;
  /** Picks a component, or one place of it. */
  readonly pick: (component: number | null, path?: PathKey | null) => void;
  /** The picked place, where one was picked rather than every place of its component. */
  readonly pickedPath: PathKey | null;
}

/** Also for what shows another bill than the drawing's list to those below it. */
export const ProjectContext = createContext<OpenProject | null>(null);

export function useProject(): OpenProject {
  const project = useContext(ProjectContext);
  if (!project) throw new Error('useProject is used outside ProjectProvider.');
  return project;
}

/** The list as it was, as long as it has the same members. */
export function useStable<Item>(items: readonly Item[]): readonly Item[] {
  const [kept, setKept] = useState(items);
  const same = kept.length === items.length && kept.every((item, at) => item === items[at]);
  if (!same) setKept(items);
  return same ? kept : items;
}

const REFRESH = 4000; // ms between two looks at what other windows did

/** What is known of a project before its structure has arrived. */
export interface Arriving {
  readonly summary: Project['summary'] | null;
  /** Bytes of the structure that are there, unpacked. */
  readonly arrived: number;
}

/** Loads a project and keeps it in step; shows `waiting` until it is there and `failed` where it is not. */
export function ProjectProvider({
  id,
  waiting,
  failed,
  children,
}: {
  id: string;
  waiting: (arriving: Arriving) => ReactNode;
  failed: (sentence: string) => ReactNode;
  children: ReactNode;
}) {
  const [arrived, setArrived] = useState(0);
  const project = useQuery({
    queryKey: ['project', id],
    queryFn: () => loadProject(id),
    refetchInterval: ({ state }) => (state.error instanceof Misfit ? false : REFRESH),
  });
  const set = project.data?.documents.find(({ kind }) => kind === 'set')?.content as SheetSet | undefined;
  const own = project.data && (set?.revision ?? project.data.revisions[0].id);
  const assembly = useQuery({
    ...assemblyQuery(id, own ?? '', setArrived),
    enabled: own !== undefined,
    // Until another revision has arrived the one before stays open: what is not kept yet is not lost.
    placeholderData: keepPreviousData,
  });
  const misfit = project.data && project.error instanceof Misfit ? project.error.message : null;
  useEffect(() => {
    if (misfit) notifications.show({ message: misfit, color: 'orange', autoClose: false });
  }, [misfit]);
  const error = project.data ? assembly.error : (project.error ?? assembly.error);
  if (error) return failed(error.message);
  const summary = project.data?.summary ?? null;
  if (!project.data || !assembly.data) return waiting({ summary, arrived });
  return (
    <Opened
      key={id}
      loaded={project.data}
      own={assembly.data.revision}
      original={assembly.data.assembly}
      waiting={waiting({ summary, arrived })}
    >
      {children}
    </Opened>
  );
}

/** The structure of a revision, which never changes. */
export const assemblyQuery = (id: string, revision: string, onBytes?: (bytes: number) => void) => ({
  queryKey: ['assembly', id, revision],
  queryFn: async () => ({ revision, assembly: await loadAssembly(id, revision, onBytes) }),
  staleTime: Infinity,
});

function Opened({
  loaded,
  own,
  original,
  waiting,
  children,
}: {
  loaded: Project;
  /** Id of the revision that `original` is. */
  own: string;
  original: Assembly;
  waiting: ReactNode;
  children: ReactNode;
}) {
  const [queue] = useState(
    () =>
      new EditQueue(loaded.summary.id, loaded, (sentence) =>
        notifications.show({ message: sentence, color: 'orange' }),
      ),
  );
  const queries = useQueryClient();
  useEffect(() => queue.refresh(loaded), [queue, loaded]);
  const edits = useSyncExternalStore(queue.subscribe, queue.state);
  const open = edits.keeping.state !== 'kept' || edits.aside.length > 0;
  useEffect(() => {
    if (!open) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault(); // the browser asks in its own words
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [open]);
  const [picking, setPicking] = useState<{ component: number; path: PathKey | null } | null>(null);
  const of = <Content,>(kind: string) =>
    edits.documents.filter((document) => document.kind === kind) as unknown as { id: string; content: Content }[];
  const [components = { id: '', content: newComponentEdits }] = of<ComponentEdits>('components');
  const bills = of<BillDocument>('bill').filter(({ content }) => !content.away);
  const [billDocument] = bills;
  const shapes = useShapes(loaded.summary.id, own, original);
  const { revisions } = loaded;
  const revision = useMemo(() => ({ shown: own, first: revisions[0].id, own }), [own, revisions]);
  const drawingsList = useMemo(() => billOn(billDocument.content, revision), [billDocument.content, revision]);
  const edited = useMemo(
    () => editAssembly(original, components.content, shapes.facts),
    [original, components.content, shapes.facts],
  );
  const { treatments } = edited;
  const [set = { id: '', content: newSheetSet }] = of<SheetSet>('set');
  const catalogues = useCatalogues(cataloguesOf(bills.map(({ content }) => content)));
  const { assembly } = useMemo(
    () => withCatalogues(edited, linkedOf(drawingsList.catalogues, cataloguesOn(drawingsList, catalogues))),
    [edited, drawingsList, catalogues],
  );
  const sheets = useStable(sheetsInOrder(set.content, of<Sheet>('sheet')));
  const sheetContents = useStable(sheets.map(({ content }) => content));
  const made = useBill(
    {
      original,
      edits: components.content,
      facts: shapes.facts,
      bill: drawingsList,
      fileName: loaded.summary.fileName,
      catalogues,
    },
    edited,
    sheetContents,
  );
  const findings = useMemo(
    () => withShapeFindings(original.findings, shapes.findings),
    [original.findings, shapes.findings],
  );
  // A place that is edited gets a component of its own, so what was picked by its path is looked up again.
  const along = picking?.path ? componentsAlong(assembly, pathOf(picking.path)) : null;
  const picked =
    along?.at(-1) ?? (picking && picking.component < assembly.components.length ? picking.component : null);
  const counts = useMemo(() => occurrenceCounts(assembly), [assembly]);
  if (!made) return waiting;
  const { bill, decisions } = made;
  const value: OpenProject = {
    id: loaded.summary.id,
    summary: loaded.summary,
    findings,
    assembly,
    edited,
    original,
    revisions,
    revision,
    treatments,
    originals: edited.originals,
    facts: shapes.facts,
    shapes,
    variant: null,
    counts,
    components,
    billDocument,
    bill,
    decisions,
    bills,
    catalogues,
    set,
    sheets,
    plans: of<BuyingPlan>('buying').filter(({ content }) => !content.away),
    orders: of<IssuedOrder>('order').filter(({ content }) => !content.away),
    edits,
    picked,
    pickedPath: along ? picking!.path : null,
    pick: (component, path = null) => setPicking(component === null ? null : { component, path }),
    perform: (label, ...steps) => queue.perform(label, steps),
    stepBack: (mode) => void queue.stepBack(mode),
    settle: queue.settle,
    takeUp: queue.takeUp,
  };
  const { stepBack, settle, takeUp } = value;
  const refresh = () => void queries.invalidateQueries({ queryKey: ['project', value.id] });
  return (
    <EditingContext.Provider value={{ id: value.id, edits, stepBack, settle, takeUp, refresh }}>
      <ProjectContext.Provider value={value}>{children}</ProjectContext.Provider>
    </EditingContext.Provider>
  );
}
