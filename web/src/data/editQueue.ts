import { type Accepted, type History, type Project, type StoredDocument } from '../../../contract/src/index.ts';
import {
  applyCommand,
  overlap,
  touches,
  type Command,
  type ProjectDocument,
} from '../../../core/src/documents/index.ts';
import { Misfit, OutOfDate, Refused, sendGesture, session, stepBack } from './api.ts';

/** A gesture on its way: what the drafter did, shown at once and kept by the server in order. */
export interface PendingGesture {
  readonly id: string;
  readonly label: string;
  readonly steps: readonly { readonly document: string; readonly command: Command }[];
}
export type Keeping =
  | { readonly state: 'kept' }
  | { readonly state: 'keeping' }
  /** The connection is gone; sent again by itself. */
  | { readonly state: 'waiting' }
  /** The server's answer is not understood: nothing more is sent before the page is loaded again. */
  | { readonly state: 'halted' }
  /** Somebody else changed the same thing: it is the drafter's turn. */
  | { readonly state: 'clash'; readonly label: string; readonly other: string };

export interface EditState {
  /** Documents as they read now: what the server has, and what is on its way. */
  readonly documents: readonly (StoredDocument & { readonly content: ProjectDocument })[];
  readonly history: History;
  readonly keeping: Keeping;
}

type Documents = EditState['documents'];
const RETRY = 1500; // ms

/**
 * Shows edits at once, sends them one after the other, and replays them when another window was first. Free of React.
 */
export class EditQueue {
  private confirmed: Documents;
  private history: History;
  private pending: PendingGesture[] = [];
  private keeping: Keeping = { state: 'kept' };
  private sending = false;
  private readonly listeners = new Set<() => void>();
  private snapshot: EditState;

  constructor(
    private readonly project: string,
    loaded: Project,
    private readonly onRefused: (sentence: string) => void,
  ) {
    this.confirmed = loaded.documents as Documents;
    this.history = loaded.history;
    this.snapshot = this.read();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly state = (): EditState => this.snapshot;

  private read(): EditState {
    const documents = this.pending.reduce<Documents>((all, gesture) => apply(all, gesture) ?? all, this.confirmed);
    const history = this.pending.length > 0 ? { undo: this.pending.at(-1)!.label, redo: null } : this.history;
    return { documents, history, keeping: this.keeping };
  }

  private changed(): void {
    this.snapshot = this.read();
    for (const listener of this.listeners) listener();
  }

  /** Carries out a gesture here and sends it. False, with a sentence, where it cannot be carried out. */
  readonly perform = (label: string, steps: PendingGesture['steps']): boolean => {
    const gesture: PendingGesture = { id: crypto.randomUUID(), label, steps };
    if (steps.length === 0) return true;
    if (!apply(this.snapshot.documents, gesture, this.onRefused)) return false;
    this.pending.push(gesture);
    if (this.keeping.state === 'kept') this.keeping = { state: 'keeping' };
    this.changed();
    void this.send();
    return true;
  };

  readonly stepBack = async (mode: 'undo' | 'redo'): Promise<void> => {
    while (this.pending.length > 0 && !this.stands()) await new Promise((resolve) => setTimeout(resolve, 30));
    try {
      this.accept(await stepBack(this.project, mode));
    } catch (error) {
      this.onRefused((error as Error).message);
    }
  };

  /** Takes over what another window did, when nothing of ours is on its way. */
  readonly refresh = (loaded: Project): void => {
    const same = loaded.documents.length === this.confirmed.length; // a bill may have come or gone
    if (
      this.pending.length > 0 ||
      (same &&
        loaded.documents.every((document) =>
          this.confirmed.some(({ id, version }) => id === document.id && version >= document.version),
        ))
    )
      return;
    this.confirmed = loaded.documents as Documents;
    this.history = loaded.history;
    this.changed();
  };

  /** After a clash: send mine on top of theirs, or let mine go. */
  readonly settle = (keepMine: boolean): void => {
    if (this.keeping.state !== 'clash') return;
    if (!keepMine) this.pending.shift();
    this.keeping = this.pending.length > 0 ? { state: 'keeping' } : { state: 'kept' };
    this.changed();
    void this.send();
  };

  private accept({ documents, history }: Accepted): void {
    this.confirmed = this.confirmed.map(
      (known) => (documents.find(({ id }) => id === known.id) as Documents[number] | undefined) ?? known,
    );
    this.history = history;
    this.changed();
  }

  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    while (this.pending.length > 0 && !this.stands()) {
      const [gesture] = this.pending;
      const versions = new Map(this.confirmed.map(({ id, version }) => [id, version]));
      try {
        const accepted = await sendGesture(this.project, {
          gesture: gesture.id,
          session,
          label: gesture.label,
          steps: gesture.steps.map(({ document, command }) => ({
            document,
            version: versions.get(document) ?? 0,
            command,
          })),
        });
        this.pending.shift();
        this.keeping = { state: this.pending.length > 0 ? 'keeping' : 'kept' };
        this.accept(accepted);
      } catch (error) {
        if (error instanceof OutOfDate) this.replay(gesture, error);
        else if (error instanceof Refused && error.status >= 400 && error.status < 500) this.drop(error.message);
        else if (error instanceof Misfit) this.halt(error.message);
        else {
          this.keeping = { state: 'waiting' };
          this.changed();
          await new Promise((resolve) => setTimeout(resolve, RETRY));
        }
      }
    }
    this.sending = false;
  }

  /** Whether sending waits for the drafter. */
  private stands(): boolean {
    return this.keeping.state === 'clash' || this.keeping.state === 'halted';
  }

  private halt(sentence: string): void {
    this.keeping = { state: 'halted' };
    this.changed();
    this.onRefused(sentence);
  }

  private replay(gesture: PendingGesture, { stale }: OutOfDate): void {
    const kindOf = new Map(this.confirmed.map(({ id, kind }) => [id, kind]));
    const named = (document: string, command: Command) =>
      touches(kindOf.get(document)!, command).map((name) => `${document} ${name}`);
    const mine = gesture.steps.flatMap(({ document, command }) => named(document, command));
    const clash = stale.since.find(
      (edit) => edit.session !== session && overlap(mine, named(edit.document, edit.command as unknown as Command)),
    );
    this.confirmed = this.confirmed.map(
      (known) => (stale.documents.find(({ id }) => id === known.id) as Documents[number] | undefined) ?? known,
    );
    if (clash) this.keeping = { state: 'clash', label: gesture.label, other: clash.label };
    this.changed();
  }

  private drop(sentence: string): void {
    this.pending.shift();
    this.keeping = { state: this.pending.length > 0 ? 'keeping' : 'kept' };
    this.changed();
    this.onRefused(sentence);
  }
}

/** Documents after a gesture; null where one of its steps cannot be carried out. */
function apply(
  documents: Documents,
  gesture: PendingGesture,
  onRefused: (sentence: string) => void = () => {},
): Documents | null {
  let after = documents;
  for (const { document: id, command } of gesture.steps) {
    const document = after.find((one) => one.id === id);
    if (!document) return null;
    const applied = applyCommand(document.kind, document.content, command);
    if (!applied.ok) {
      onRefused(applied.reason);
      return null;
    }
    after = after.map((one) => (one === document ? { ...document, content: applied.document } : one));
  }
  return after;
}
