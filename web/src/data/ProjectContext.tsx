import { notifications } from '@mantine/notifications';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react';
import type { Project } from '../../../contract/src/index.ts';
import {
  componentsAlong,
  editAssembly,
  occurrenceCounts,
  pathOf,
  withShapeFindings,
  type Assembly,
  type PathKey,
  type ComponentIndex,
} from '../../../core/src/assembly/index.ts';
import type { BuyingPlan, IssuedOrder } from '../../../core/src/buying/index.ts';
import { linkedOf, withCatalogues } from '../../../core/src/catalogues/index.ts';
import {
  billOn,
  cataloguesOn,
  newComponentEdits,
  newSheetSet,
  type BillDocument,
  type ComponentEdits,
} from '../../../core/src/documents/index.ts';
import { sheetsInOrder, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import { loadAssembly, loadProject, Misfit } from './api.ts';
import { EditingContext, type Editing } from './editing/Editing.tsx';
import { useShapes } from './made/shapes.ts';
import { EditQueue, type EditState } from './editing/editQueue.ts';
import {
  DocumentsContext,
  DoingContext,
  MachineContext,
  PickingContext,
  PicksContext,
  type Doing,
  type OpenDocuments,
  type OpenMachine,
  type Picking,
  type PickedPart,
  type Stored,
} from './openProject.ts';
import { useBill } from './bills/useBill.ts';
import { cataloguesOf, useCatalogues } from './useCatalogues.ts';

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
  const documents = useOpenDocuments(loaded, edits.documents);
  const { components, bills, sheets } = documents;
  const [billDocument] = bills;
  const shapes = useShapes(loaded.summary.id, own, original);
  const { revisions } = loaded;
  const revision = useMemo(() => ({ shown: own, first: revisions[0].id, own }), [own, revisions]);
  const drawingsList = useMemo(() => billOn(billDocument.content, revision), [billDocument.content, revision]);
  const edited = useMemo(
    () => editAssembly(original, components.content, shapes.facts),
    [original, components.content, shapes.facts],
  );
  const catalogues = useCatalogues(cataloguesOf(bills.map(({ content }) => content)));
  const { assembly } = useMemo(
    () => withCatalogues(edited, linkedOf(drawingsList.catalogues, cataloguesOn(drawingsList, catalogues))),
    [edited, drawingsList, catalogues],
  );
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
  const machine = useMemo<OpenMachine | null>(
    () =>
      made && {
        findings: withShapeFindings(original.findings, shapes.findings),
        assembly,
        edited,
        original,
        revision,
        treatments: edited.treatments,
        originals: edited.originals,
        facts: shapes.facts,
        shapes,
        variant: null,
        counts: occurrenceCounts(assembly),
        billDocument,
        bill: made.bill,
        decisions: made.decisions,
        catalogues,
      },
    [made, original, shapes, assembly, edited, revision, billDocument, catalogues],
  );
  const { picks, picking } = useOwnPicks(assembly);
  const doing = useMemo<Doing>(() => ({ perform: (label, ...steps) => queue.perform(label, steps) }), [queue]);
  const { id } = documents;
  const editing = useMemo<Editing>(
    () => ({
      id,
      edits,
      stepBack: (mode) => void queue.stepBack(mode),
      settle: queue.settle,
      takeUp: queue.takeUp,
      refresh: () => void queries.invalidateQueries({ queryKey: ['project', id] }),
    }),
    [id, edits, queue, queries],
  );
  if (!machine) return waiting;
  return (
    <EditingContext.Provider value={editing}>
      <DoingContext.Provider value={doing}>
        <DocumentsContext.Provider value={documents}>
          <ShownMachine machine={machine} picks={picks} picking={picking}>
            {children}
          </ShownMachine>
        </DocumentsContext.Provider>
      </DoingContext.Provider>
    </EditingContext.Provider>
  );
}

/** A machine, and what is picked in it, shown to everything below. */
export function ShownMachine({
  machine,
  picks,
  picking,
  children,
}: {
  readonly machine: OpenMachine;
  readonly picks: PickedPart;
  readonly picking: Picking;
  readonly children: ReactNode;
}) {
  return (
    <MachineContext.Provider value={machine}>
      <PickingContext.Provider value={picking}>
        <PicksContext.Provider value={picks}>{children}</PicksContext.Provider>
      </PickingContext.Provider>
    </MachineContext.Provider>
  );
}

/** What is picked by hand in a machine: indices belong to one revision of it. */
export function useOwnPicks(assembly: Assembly): { readonly picks: PickedPart; readonly picking: Picking } {
  const [picked, setPicked] = useState<{ component: ComponentIndex; path: PathKey | null } | null>(null);
  const picking = useMemo<Picking>(
    () => ({ pick: (component, path = null) => setPicked(component === null ? null : { component, path }) }),
    [],
  );
  const picks = useMemo<PickedPart>(() => {
    // A place that is edited gets a component of its own, so what was picked by its path is looked up again.
    const along = picked?.path ? componentsAlong(assembly, pathOf(picked.path)) : null;
    const { component = -1 } = picked ?? {};
    return {
      picked: along?.at(-1) ?? (component >= 0 && component < assembly.components.length ? component : null),
      pickedPath: along ? picked!.path : null,
    };
  }, [picked, assembly]);
  return { picks, picking };
}

const NO_COMPONENTS: Stored<ComponentEdits> = { id: '', content: newComponentEdits };
const NO_SET: Stored<SheetSet> = { id: '', content: newSheetSet };

/** Documents by their kinds, each list the same as long as nothing in it changes. */
function useOpenDocuments({ summary, revisions }: Project, documents: EditState['documents']): OpenDocuments {
  const of = <Content,>(kind: string) =>
    documents.filter((document) => document.kind === kind) as unknown as Stored<Content>[];
  const there = <Content extends { readonly away?: unknown }>(kind: string) =>
    of<Content>(kind).filter(({ content }) => !content.away);
  const [components = NO_COMPONENTS] = of<ComponentEdits>('components');
  const [set = NO_SET] = of<SheetSet>('set');
  const bills = useStable(there<BillDocument>('bill'));
  const sheets = useStable(sheetsInOrder(set.content, of<Sheet>('sheet')));
  const plans = useStable(there<BuyingPlan>('buying'));
  const orders = useStable(there<IssuedOrder>('order'));
  return useMemo(
    () => ({ id: summary.id, summary, revisions, components, bills, set, sheets, plans, orders }),
    [summary, revisions, components, bills, set, sheets, plans, orders],
  );
}
