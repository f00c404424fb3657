import * as v from 'valibot';
import { Refusal } from '../../../core/src/assembly/index.ts';
import {
  applyCommand,
  namesIn,
  overlapping,
  touches,
  wordsFor,
  type Command,
  type DocumentKind,
  type ProjectDocument,
  type Reference,
} from '../../../core/src/documents/index.ts';
import { parseJson } from './json.ts';
import { mended } from './mend.ts';
import { parseCommand, parseDocument, parseStoredCommand } from './parse.ts';

/** A document as it is stored. */
export interface StoredText {
  /** UUID. */
  readonly id: string;
  /** Which record its content is. */
  readonly kind: DocumentKind;
  /** Count of its edits, from 1. */
  readonly version: number;
  /** JSON of the record, maybe of an earlier form. */
  readonly content: string;
  /** A sentence where `content` is not what is stored, but what it was last when that could be read. */
  readonly damaged?: string;
}
/** An edit as it is stored. */
export interface StoredEdit {
  /** Id of the document that it changed. */
  readonly document: string;
  /** Which record that is. */
  readonly kind: DocumentKind;
  /** Version of the document before it. */
  readonly fromVersion: number;
  /** Form in which it is stored. */
  readonly form: number;
  /** JSON of its command. */
  readonly command: string;
}
/** An edit that is to be taken back, with the JSON of what takes it back. */
export interface ReversibleEdit extends StoredEdit {
  /** JSON of the command that takes it back. */
  readonly inverse: string;
}
/** A step of a gesture: a command for a document. */
export interface StepText {
  /** Id of it. */
  readonly document: string;
  /** JSON of the command. */
  readonly command: string;
  /** Version that the command was made for; null to take the document as it stands. */
  readonly version: number | null;
}
/** Gestures that are carried out one after the other. */
export interface CarryOrder {
  /** All that the gestures name. */
  readonly documents: readonly StoredText[];
  /** In the order in which they came. */
  readonly gestures: readonly { readonly steps: readonly StepText[] }[];
  /** Edits since the earliest version that a step was made for. */
  readonly meanwhile: readonly StoredEdit[];
  /** Document that cannot be taken away; null where none is to be. */
  readonly stays: string | null;
}
interface CarriedStep {
  readonly document: string;
  readonly fromVersion: number;
  /** JSON. */
  readonly command: string;
  /** JSON of the command that takes it back. */
  readonly inverse: string;
  /** What undo says of it, where the gesture says nothing. */
  readonly words: string;
}
/** What became of a gesture. */
export type Carried =
  | { readonly what: 'done'; readonly edits: readonly CarriedStep[] }
  /** The same thing was changed since the version that it was made for. */
  | { readonly what: 'clash' }
  | { readonly what: 'refused'; readonly code: string; readonly message: string };
/** A document after it, with what the database says of it beside its content. */
interface CarriedDocument extends StoredText {
  /** Whether it is taken away. */
  readonly away: boolean;
  /** What it names by id. */
  readonly names: readonly Reference[];
}
export interface CarriedOrder {
  /** Of the gestures, in their order. */
  readonly outcomes: readonly Carried[];
  /** Those that changed, as they read after all of them; null where one of them would not open again. */
  readonly documents: readonly CarriedDocument[] | null;
}

/**
 * Carries gestures out on stored documents, each whole or not at all; one that cannot be carried out leaves the others.
 * Text in, text out: so it can be done on any thread.
 * @param read what a stored document is; for who knows it already
 * @param keep told how documents read after it
 */
export function carryGestures(
  { documents, gestures, meanwhile, stays }: CarryOrder,
  read: (document: StoredText) => ProjectDocument = readStored,
  keep: (document: StoredText, content: ProjectDocument) => void = () => {},
): CarriedOrder {
  const open = new Map(documents.map((stored) => [stored.id, { ...stored, record: read(stored), changed: false }]));
  const made = meanwhile.map(({ document, fromVersion, ...edit }) => ({
    document,
    fromVersion,
    names: touched({ document, fromVersion, ...edit }),
  }));
  const outcomes = gestures.map(({ steps }): Carried => {
    try {
      const known = steps.map(({ document, command, version }) => {
        const found = open.get(document);
        if (!found) throw new Refusal('edit-refused', 'The document is no longer in this project.');
        return { document, version, command: asCommand(() => parseCommand(found.kind, parseJson(command))) };
      });
      if (known.some(({ document, version }) => version !== null && version > open.get(document)!.version))
        return { what: 'clash' }; // made for a version that is not there: the database is an older copy
      const since = made.filter(({ document, fromVersion }) =>
        known.some((step) => step.document === document && step.version !== null && fromVersion >= step.version),
      );
      const mine = known.map(({ document, command }) => named(document, open.get(document)!.kind, command));
      if (since.length > 0) {
        const clashes = overlapping(mine.flat());
        if (since.some(({ names }) => clashes(names))) return { what: 'clash' };
      }
      // Records are never changed in place: what the steps come to is laid aside until all of them went well.
      const after = new Map<string, { record: ProjectDocument; version: number }>();
      const edits = known.map(({ document, command }): CarriedStep => {
        const { kind, ...stored } = open.get(document)!;
        const { record, version } = after.get(document) ?? stored;
        if (command.kind === 'setAway' && command.away && document === stays)
          throw new Refusal(
            'edit-refused',
            'The first bill is the drawing’s list: sheets and balloons show its numbers, so it stays.',
          );
        const applied = applyCommand(kind, record, command);
        if (!applied.ok) throw new Refusal('edit-refused', applied.reason);
        after.set(document, { record: applied.document, version: version + 1 });
        return {
          document,
          fromVersion: version,
          command: JSON.stringify(command),
          inverse: JSON.stringify(applied.inverse),
          words: wordsFor(kind, command),
        };
      });
      for (const [id, { record, version }] of after) Object.assign(open.get(id)!, { record, version, changed: true });
      made.push(...edits.map(({ document, fromVersion }, at) => ({ document, fromVersion, names: mine[at] })));
      return { what: 'done', edits };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return { what: 'refused', code: error.code, message: error.message };
    }
  });
  const after = [...open.values()].filter(({ changed }) => changed);
  const texts = after.map(({ id, kind, version, record }) => ({
    id,
    kind,
    version,
    content: JSON.stringify(record),
    away: 'away' in record,
    names: namesIn(kind, record),
  }));
  for (const text of texts) {
    const unreadable = whyUnreadable(text, keep);
    if (unreadable === null) continue;
    return outcomes.length === 1
      ? { outcomes: [{ what: 'refused', code: 'edit-refused', message: unreadable }], documents: [] }
      : { outcomes, documents: null };
  }
  return { outcomes, documents: texts };
}

/**
 * Index of the first of `later` edits that changed what `edits` changed, or took what taking them back claims; null for
 * none.
 */
export function firstClash(edits: readonly ReversibleEdit[], later: readonly StoredEdit[]): number | null {
  const clashes = overlapping(
    edits.flatMap((edit) => [...touched(edit), ...touched({ ...edit, command: edit.inverse })]),
  );
  const at = later.findIndex((edit) => clashes(touched(edit)));
  return at < 0 ? null : at;
}

const named = (document: string, kind: DocumentKind, command: Command): string[] =>
  touches(kind, command).map((name) => `${document} ${name}`);
const touched = ({ document, kind, form, command }: StoredEdit): string[] =>
  named(document, kind, parseStoredCommand(kind, form, JSON.parse(command)));

/**
 * What a document that cannot be read was last when it could be: its edits are taken back one by one. Where that helps
 * nothing, what does not fit is as in a new one.
 * @param edits its edits, last first
 * @returns JSON of it and a sentence that says what happened; null where nothing of it can be read
 */
export function lastReadable(
  stored: StoredText,
  edits: readonly { readonly form: number; readonly inverse: string; readonly label: string }[],
): { readonly content: string; readonly damaged: string } | null {
  let record: ProjectDocument;
  try {
    record = JSON.parse(stored.content) as ProjectDocument;
  } catch {
    return null; // no JSON: there is nothing to go back from
  }
  const first = record;
  for (const { form, inverse, label } of edits) {
    try {
      const applied = applyCommand(stored.kind, record, parseStoredCommand(stored.kind, form, JSON.parse(inverse)));
      if (!applied.ok) break;
      record = applied.document;
    } catch {
      break;
    }
    const content = JSON.stringify(record);
    if (whyUnreadable({ ...stored, content }, () => {}) === null)
      return { content, damaged: `It is shown as it was before “${label}”.` };
  }
  const whole = mended(stored.kind, first);
  return (
    whole && {
      content: JSON.stringify(whole.content),
      damaged: `It is shown with what does not fit (in ${whole.fields.join(', ')}) as in a new one.`,
    }
  );
}

/**
 * What a stored document is.
 * @throws Refusal with the code `unreadable` where it is none, with another where a newer program stored it
 */
export function readStored({ kind, content }: Pick<StoredText, 'kind' | 'content'>): ProjectDocument {
  try {
    return parseDocument(kind, parseJson(content));
  } catch (error) {
    if (!(error instanceof v.ValiError) && !(error instanceof SyntaxError)) throw error;
    const why = error instanceof SyntaxError ? 'it is no JSON.' : issueIn(error);
    throw new Refusal('unreadable', `The ${kind} of this project that is stored cannot be read: ${why}`);
  }
}

/** Where something does not fit, and why. */
function issueIn(error: v.ValiError<v.GenericSchema>): string {
  const [issue] = error.issues as v.BaseIssue<unknown>[];
  return `${v.getDotPath(issue) ?? ''} ${issue.message}`;
}

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

/** What is kept must open again: a document passes the door that it will come in by. Null where it does. */
function whyUnreadable(
  stored: StoredText,
  keep: (document: StoredText, content: ProjectDocument) => void,
): string | null {
  try {
    keep(stored, parseDocument(stored.kind, JSON.parse(stored.content)));
    return null;
  } catch (error) {
    if (!(error instanceof v.ValiError)) throw error;
    return `That would be more than a ${stored.kind} can hold: ${issueIn(error)}`;
  }
}
