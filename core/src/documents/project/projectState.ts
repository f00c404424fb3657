import type { Sheet, SheetProblem, SheetSet } from '../../sheets/index.ts';
import type { BillDocument } from '../kinds/bill.ts';
import type { Command } from '../kinds/kinds.ts';
import type { ProjectBillInput } from './projectBill.ts';

/** A document under its id. */
export interface Stored<Content> {
  /** Document id. */
  readonly id: string;
  /** As it reads now. */
  readonly content: Content;
}

/** The documents of a project and what they are about: everything that a gesture may depend on. */
export interface ProjectState extends Omit<ProjectBillInput, 'bill'> {
  /** Which revision `original` is, and the project's first; documents that name none show that. */
  readonly revision?: { readonly shown: string; readonly first: string };
  /** For taking a revision over: the machine that the documents showed until then. */
  readonly earlier?: Pick<ProjectBillInput, 'original' | 'facts'>;
  /** Document id of the component edits. */
  readonly components: string;
  /** What all sheets share. */
  readonly set: Stored<SheetSet>;
  /** Without those that are away, the drawing's list first. */
  readonly bills: readonly Stored<BillDocument>[];
  /** In the order of the set, without those that are away. */
  readonly sheets: readonly Stored<Sheet>[];
}

/** Whether a document shows the revision that the state is of. */
export const showsRevision = (
  { revision }: Pick<ProjectState, 'revision'>,
  content: { readonly revision?: string },
): boolean => !revision || (content.revision ?? revision.first) === revision.shown;

/** A command for one of the project's documents. */
export interface GestureStep {
  /** Document id. */
  readonly document: string;
  /** For a document of that kind. */
  readonly command: Command;
}

/** What it takes, and what there is to say about it. */
export interface CarriedOut {
  /** All of them or none are to be carried out, in this order. */
  readonly steps: readonly GestureStep[];
  /** What is not as it should be afterwards. */
  readonly problems: readonly SheetProblem[];
  /** What was asked for and could not be done, in sentences. */
  readonly refused: readonly string[];
}
