import { createContext, useContext, useMemo } from 'react';
import type { Project, Revision } from '../../../contract/src/index.ts';
import type {
  Assembly,
  EditedAssembly,
  FactsByShape,
  Finding,
  PathKey,
  Treatment,
  ComponentIndex,
} from '../../../core/src/assembly/index.ts';
import type { Bill, BillDecisions } from '../../../core/src/bill/index.ts';
import type { BuyingPlan, IssuedOrder } from '../../../core/src/buying/index.ts';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import type { BillDocument, Command, ComponentEdits } from '../../../core/src/documents/index.ts';
import type { Sheet, SheetSet } from '../../../core/src/sheets/index.ts';
import type { ShapesState } from './made/shapes.ts';

/*
 * A project that is open, in parts by what changes together: what is stored, what is computed of it, what is picked, and how it
 * is changed. Who asks for one part is not drawn anew when another one changes.
 */

/** A document that is not away, by its id. */
export interface Stored<Content> {
  readonly id: string;
  readonly content: Content;
}

/** Documents as they read now, with what this window has changed. */
export interface OpenDocuments {
  readonly id: string;
  readonly summary: Project['summary'];
  /** All revisions of the project, oldest first. */
  readonly revisions: readonly Revision[];
  readonly components: Stored<ComponentEdits>;
  /** All bills of the project, the drawing's list first. */
  readonly bills: readonly Stored<BillDocument>[];
  /** What all sheets share. */
  readonly set: Stored<SheetSet>;
  /** In their order. */
  readonly sheets: readonly Stored<Sheet>[];
  /** Plans of buying, without those that are away. */
  readonly plans: readonly Stored<BuyingPlan>[];
  /** Orders that were issued, in the order in which they were. */
  readonly orders: readonly Stored<IssuedOrder>[];
}

/** The machine, and the list that is open. */
export interface OpenMachine {
  /** What the program noticed in the file and in its shapes. */
  readonly findings: readonly Finding[];
  /** With everything typed, measured and decided laid over what the file says, and what the open bill's catalogues say. */
  readonly assembly: Assembly;
  /** The same without what catalogues say; its components have the same indices. */
  readonly edited: EditedAssembly;
  /** As the file says it. */
  readonly original: Assembly;
  /** Ids: of the revision that all of this is of, of the first, which documents show that name none, of the project's own. */
  readonly revision: { readonly shown: string; readonly first: string; readonly own: string };
  /** By component of `assembly`. */
  readonly treatments: readonly (Treatment | undefined)[];
  /** Component of `original` that each component of `assembly` is. */
  readonly originals: readonly ComponentIndex[];
  /** What was measured, by shape. */
  readonly facts: FactsByShape;
  readonly shapes: ShapesState;
  /** Variant that `assembly` is in; null for the machine as a whole. */
  readonly variant: string | null;
  /** Occurrences of each component in the whole machine. */
  readonly counts: Float64Array;
  readonly billDocument: Stored<BillDocument>;
  /** The drawing's list, whose numbers balloons show; in the Bill station the bill that is open there. */
  readonly bill: Bill;
  /** What it was made with besides its recipe. */
  readonly decisions: BillDecisions;
  /** Catalogues that bills of the project take values from, by id. */
  readonly catalogues: ReadonlyMap<string, Catalogue>;
}

/** What is picked; it is lit in every pane. */
export interface PickedPart {
  /** Index of the picked component, or null. */
  readonly picked: ComponentIndex | null;
  /** The picked place, where one was picked rather than every place of its component. */
  readonly pickedPath: PathKey | null;
}

/** How the project is changed; the same as long as it is open. */
export interface Doing {
  /** Carries out commands as one gesture; `label` is what Undo will say. */
  readonly perform: (label: string, ...steps: { document: string; command: Command }[]) => boolean;
}
/** How something is picked. */
export interface Picking {
  /** PickedPart a component, or one place of it. */
  readonly pick: (component: ComponentIndex | null, path?: PathKey | null) => void;
}

/** All but what is picked: that changes with every arrow key. */
export type OpenProject = OpenDocuments & OpenMachine & Picking & Doing;

export const DocumentsContext = createContext<OpenDocuments | null>(null);
export const MachineContext = createContext<OpenMachine | null>(null);
export const PicksContext = createContext<PickedPart | null>(null);
export const PickingContext = createContext<Picking | null>(null);
export const DoingContext = createContext<Doing | null>(null);

function within<Value>(value: Value | null): Value {
  if (value === null) throw new Error('A part of a project is asked for where none is open.');
  return value;
}
export const useDocuments = (): OpenDocuments => within(useContext(DocumentsContext));
export const useMachine = (): OpenMachine => within(useContext(MachineContext));
export const usePicks = (): PickedPart => within(useContext(PicksContext));
export const usePicking = (): Picking => within(useContext(PickingContext));
export const useDoing = (): Doing => within(useContext(DoingContext));

/** All but what is picked, for who works with most of it; the same as long as nothing of it changes. */
export function useProject(): OpenProject {
  const [documents, machine, picking, doing] = [useDocuments(), useMachine(), usePicking(), useDoing()];
  return useMemo(() => ({ ...documents, ...machine, ...picking, ...doing }), [documents, machine, picking, doing]);
}
