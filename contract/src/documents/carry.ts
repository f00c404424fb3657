import * as v from 'valibot';
import { Refusal } from '../../../core/src/assembly/index.ts';
import {
  applyCommand,
  overlapping,
  touches,
  type Command,
  type DocumentKind,
  type ProjectDocument,
} from '../../../core/src/documents/index.ts';
import { parseCommand, parseDocument, parseStoredCommand } from './parse.ts';

/** A document as it is stored. */
export interface StoredText {
  readonly id: string;
  readonly kind: DocumentKind;
  /** Count of its edits, from 1. */
  readonly version: number;
  /** JSON of the record, maybe of an earlier form. */
  readonly content: string;
}
/** An edit that others made since the version that a gesture was made for. */
export interface MadeMeanwhile {
  readonly document: string;
  readonly kind: DocumentKind;
  /** Form in which it is stored. */
  readonly form: number;
  /** JSON of its command. */
  readonly command: string;
}
/** What is carried out on documents: all of it or nothing. */
export interface CarryOrder {
  /** Every document that a step names. */
  readonly documents: readonly StoredText[];
  /** In their order; commands as JSON. */
  readonly steps: readonly { readonly document: string; readonly command: string }[];
  /** What must not have changed the same thing. */
  readonly meanwhile: readonly MadeMeanwhile[];
}
export type Carried =
  | { readonly clash: true }
  | {
      readonly clash: false;
      /** As they read after it. */
      readonly documents: readonly (StoredText & { readonly away: boolean })[];
      /** One per step; command and inverse as JSON. */
      readonly edits: readonly {
        readonly document: string;
        readonly fromVersion: number;
        readonly command: string;
        readonly inverse: string;
      }[];
    };

/**
 * Carries steps out on stored documents. Text in, text out: so it can be done on any thread.
 * @param read what a stored document is; for who knows it already
 * @param keep told how documents read after it
 * @throws Refusal with the code `not-as-expected` where a command is none, `edit-refused` where one cannot be carried out
 * or the document that results would not open again
 */
export function carrySteps(
  { documents, steps, meanwhile }: CarryOrder,
  read: (document: StoredText) => ProjectDocument = readStored,
  keep: (document: StoredText, content: ProjectDocument) => void = () => {},
): Carried {
  const open = new Map(documents.map((stored) => [stored.id, { stored, content: read(stored) }]));
  const known = steps.map(({ document, command }) => {
    const { kind } = open.get(document)!.stored;
    return { document, command: asCommand(() => parseCommand(kind, JSON.parse(command))) };
  });
  if (meanwhile.length > 0) {
    const mine = known.flatMap(({ document, command }) => named(document, open.get(document)!.stored.kind, command));
    const clashes = overlapping(mine);
    if (meanwhile.some((edit) => clashes(touched(edit)))) return { clash: true };
  }
  const versions = new Map(documents.map(({ id, version }) => [id, version]));
  const edits = known.map(({ document, command }) => {
    const one = open.get(document)!;
    const applied = applyCommand(one.stored.kind, one.content, command);
    if (!applied.ok) throw new Refusal('edit-refused', applied.reason);
    one.content = applied.document;
    const fromVersion = versions.get(document)!;
    versions.set(document, fromVersion + 1);
    return { document, fromVersion, command: JSON.stringify(command), inverse: JSON.stringify(applied.inverse) };
  });
  return {
    clash: false,
    edits,
    documents: [...open.values()].map(({ stored: { id, kind }, content }) => {
      const stored = { id, kind, version: versions.get(id)!, content: JSON.stringify(content) };
      keep(stored, readAgain(stored));
      return { ...stored, away: 'away' in content };
    }),
  };
}

/** Index of the first of `later` edits that changed what `edits` changed; null for none. */
export function firstClash(edits: readonly MadeMeanwhile[], later: readonly MadeMeanwhile[]): number | null {
  const clashes = overlapping(edits.flatMap(touched));
  const at = later.findIndex((edit) => clashes(touched(edit)));
  return at < 0 ? null : at;
}

const named = (document: string, kind: DocumentKind, command: Command): string[] =>
  touches(kind, command).map((name) => `${document} ${name}`);
const touched = ({ document, kind, form, command }: MadeMeanwhile): string[] =>
  named(document, kind, parseStoredCommand(kind, form, JSON.parse(command)));

/** What a stored document is. @throws v.ValiError where it is none, Refusal where a newer program stored it */
export const readStored = ({ kind, content }: Pick<StoredText, 'kind' | 'content'>): ProjectDocument =>
  parseDocument(kind, JSON.parse(content));

function asCommand(parse: () => Command): Command {
  try {
    return parse();
  } catch (error) {
    if (error instanceof v.ValiError) throw new Refusal('not-as-expected', notAsExpected(error));
    throw error;
  }
}

/** What did not fit, in a sentence. */
export function notAsExpected(error: v.ValiError<v.GenericSchema>): string {
  const [issue] = error.issues as v.BaseIssue<unknown>[];
  return `What was sent is not as expected${issue ? ` at ${v.getDotPath(issue) ?? 'its top'}: ${issue.message.replace(/\.$/, '')}` : ''}.`;
}

/** What is kept must open again: a document passes the door that it will come in by. */
function readAgain({ kind, content }: StoredText): ProjectDocument {
  try {
    return parseDocument(kind, JSON.parse(content));
  } catch (error) {
    if (!(error instanceof v.ValiError)) throw error;
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    throw new Refusal(
      'edit-refused',
      `That would be more than a ${kind} can hold: ${v.getDotPath(issue) ?? ''} ${issue.message}`,
    );
  }
}
