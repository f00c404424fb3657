import { notifications } from '@mantine/notifications';
import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react';
import type { Project } from '../../../contract/src/index.ts';
import { occurrenceCounts, type Assembly } from '../../../core/src/assembly/index.ts';
import { makeBill, type Bill } from '../../../core/src/bill/index.ts';
import { newComponentEdits, type BillDocument, type Command, type ComponentEdits } from '../../../core/src/documents/index.ts';
import type { Sheet } from '../../../core/src/sheets/index.ts';
import { loadAssembly, loadProject } from './api.ts';
import { EditQueue, type EditState } from './edits.ts';

/** A project that is open: its assembly, its documents as they read now, and what is computed from them. */
export interface OpenProject {
  readonly id: string;
  readonly summary: Project['summary'];
  readonly findings: Project['findings'];
  readonly assembly: Assembly;
  /** Occurrences of each component in the whole machine. */
  readonly counts: Float64Array;
  readonly components: { readonly id: string; readonly content: ComponentEdits };
  readonly billDocument: { readonly id: string; readonly content: BillDocument };
  readonly bill: Bill;
  readonly sheets: readonly { readonly id: string; readonly content: Sheet }[];
  readonly edits: EditState;
  /** Carries out commands as one gesture; `label` is what Undo will say. */
  readonly perform: (label: string, ...steps: { document: string; command: Command }[]) => boolean;
  readonly stepBack: (mode: 'undo' | 'redo') => void;
  readonly settle: (keepMine: boolean) => void;
  /** Index of the picked component, or null; lit in every pane. */
  readonly picked: number | null;
  readonly pick: (component: number | null) => void;
}

const Context = createContext<OpenProject | null>(null);

export function useProject(): OpenProject {
  const project = useContext(Context);
  if (!project) throw new Error('useProject is used outside ProjectProvider.');
  return project;
}

const REFRESH = 4000; // ms between two looks at what other windows did

/** Loads a project and keeps it in step; shows `waiting` until it is there and `failed` where it is not. */
export function ProjectProvider({ id, waiting, failed, children }: { id: string; waiting: ReactNode; failed: (sentence: string) => ReactNode; children: ReactNode }) {
  const project = useQuery({ queryKey: ['project', id], queryFn: () => loadProject(id), refetchInterval: REFRESH });
  const assembly = useQuery({ queryKey: ['assembly', id], queryFn: () => loadAssembly(id), staleTime: Infinity });
  const error = project.data ? assembly.error : project.error ?? assembly.error;
  if (error) return failed(error.message);
  if (!project.data || !assembly.data) return waiting;
  return <Opened key={id} loaded={project.data} assembly={assembly.data}>{children}</Opened>;
}

function Opened({ loaded, assembly, children }: { loaded: Project; assembly: Assembly; children: ReactNode }) {
  const [queue] = useState(() => new EditQueue(loaded.summary.id, loaded, (sentence) => notifications.show({ message: sentence, color: 'orange' })));
  useEffect(() => queue.refresh(loaded), [queue, loaded]);
  const edits = useSyncExternalStore(queue.subscribe, queue.state);
  const [picked, pick] = useState<number | null>(null);
  const of = <Content,>(kind: string) => edits.documents.filter((document) => document.kind === kind) as unknown as { id: string; content: Content }[];
  const [components = { id: '', content: newComponentEdits }] = of<ComponentEdits>('components');
  const [billDocument] = of<BillDocument>('bill');
  const { recipe, ledger } = billDocument.content;
  const { treatments } = components.content;
  const bill = useMemo(() => makeBill(assembly, recipe, { treatments, ledger }), [assembly, recipe, treatments, ledger]);
  const counts = useMemo(() => occurrenceCounts(assembly), [assembly]);
  const value: OpenProject = {
    id: loaded.summary.id, summary: loaded.summary, findings: loaded.findings, assembly, counts, components, billDocument, bill, sheets: of<Sheet>('sheet'), edits, picked, pick,
    perform: (label, ...steps) => queue.perform(label, steps),
    stepBack: (mode) => void queue.stepBack(mode),
    settle: queue.settle,
  };
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
