import { type Accepted, type History, type Project, type StoredDocument } from '../../../../contract/src/index.ts';
import {
  applyCommand,
  overlap,
  touches,
  type Command,
  type ProjectDocument,
} from '../../../../core/src/documents/index.ts';
import { Misfit, OutOfDate, Refused, sendGesture, session, stepBack } from '../api.ts';

/** A gesture on its way: what the drafter did, shown at once and kept by the server in order. */
interface PendingGesture {
  readonly id: string;
  readonly label: string;
  readonly steps: readonly { readonly document: string; readonly command: Command }[];
}
type Keeping =
  | { readonly state: 'kept' }
  | { readonly state: 'keeping' }
  /** The server cannot be reached or cannot keep anything now; sent again by itself. */
  | { readonly state: 'waiting'; readonly why: string }
  /** The server's answer is not understood: nothing more is sent before the page is loaded again. */
  | { readonly state: 'halted' }
  /** Somebody else changed the same thing: it is the drafter's turn. */
  | { readonly state: 'clash'; readonly label: string; readonly other: string };

export interface EditState {
  /** Documents as they read now: what the server has, and what is on its way. */
  readonly documents: readonly (StoredDocument & { readonly content: ProjectDocument })[];
  readonly history: History;
  readonly keeping: Keeping;
  /** What the server does not take, oldest first: it holds up nothing behind it, and can be tried again. */
  readonly aside: readonly SetAside[];
}
export interface SetAside {
  readonly gesture: PendingGesture;
  /** A sentence. */
  readonly reason: string;
}

/** What was loaded of a project, or of what else is edited. */
type Loaded = Pick<Project, 'documents' | 'history'>;
type Documents = EditState['documents'];
/** Between two tries, ms: the pause doubles from the first to the last. */
const PAUSES = { first: 500, last: 15_000 };
/** After somebody else was first the pause is short: the server waits for nothing. */
const AGAIN = { first: 15, last: 1000 };
/** So often a gesture at which the server fails is tried before it is set aside. */
const FAULTS = 3;

/** Grows with every try, and is never the same in two windows: they would all come back at once. */
const pause = ({ first, last }: typeof PAUSES, tries: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, Math.min(last, first * 2 ** tries) * (0.5 + Math.random())));

/**
 * Shows edits at once, sends them one after the other, and replays them when another window was first. Free of React.
 */
export class EditQueue {
  private confirmed: Documents;
  private history: History;
  private pending: PendingGesture[] = [];
  private keeping: Keeping = { state: 'kept' };
  private aside: readonly SetAside[] = [];
  private sending = false;
  /** What was loaded while a gesture was on its way: it may hold that gesture already, or not yet. */
  private arrived: Loaded | null = null;
  private readonly listeners = new Set<() => void>();
  private snapshot: EditState;

  constructor(
    private readonly project: string,
    loaded: Loaded,
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
    return { documents, history, keeping: this.keeping, aside: this.aside };
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
    const gesture = crypto.randomUUID(); // the same in every try: what was done already is not done twice
    for (let tries = 0; ; tries++) {
      try {
        const accepted = await stepBack(this.project, mode, gesture);
        if (this.keeping.state === 'waiting') this.keeping = { state: 'kept' };
        return this.accept(accepted);
      } catch (error) {
        if (!isPassing(error) || tries >= FAULTS) {
          if (this.keeping.state === 'waiting') this.keeping = { state: 'kept' };
          this.changed();
          return this.onRefused((error as Error).message);
        }
        this.keeping = { state: 'waiting', why: whyWaiting(error) };
        this.changed();
        await pause(PAUSES, tries);
      }
    }
  };

  /** Tries what was set aside once more, or lets it go. */
  readonly takeUp = (one: SetAside, again: boolean): void => {
    this.aside = this.aside.filter((other) => other !== one);
    this.changed();
    if (again) this.perform(one.gesture.label, one.gesture.steps);
  };

  /** Takes over what another window did, once nothing of ours is on its way. */
  readonly refresh = (loaded: Loaded): void => {
    this.arrived = loaded;
    if (this.pending.length === 0 && this.takeArrived()) this.changed();
  };

  /** Whether that changed anything. */
  private takeArrived(): boolean {
    const loaded = this.arrived;
    this.arrived = null;
    if (!loaded) return false;
    const documents = loaded.documents as Documents;
    const after = newest(this.confirmed, documents);
    const moved = after.length !== this.confirmed.length || after.some((one, at) => one !== this.confirmed[at]);
    // It was read before something that is known here already, so its history is older too.
    const behind = after.some((one) => !documents.some(({ id, version }) => id === one.id && version === one.version));
    const { undo, redo } = this.history;
    const told = !behind && (loaded.history.undo !== undo || loaded.history.redo !== redo);
    this.confirmed = after;
    if (told) this.history = loaded.history;
    return moved || told;
  }

  /** After a clash: send mine on top of theirs, or let mine go. */
  readonly settle = (keepMine: boolean): void => {
    if (this.keeping.state !== 'clash') return;
    if (!keepMine) this.pending.shift();
    if (this.pending.length === 0) this.takeArrived();
    this.keeping = this.pending.length > 0 ? { state: 'keeping' } : { state: 'kept' };
    this.changed();
    void this.send();
  };

  private accept({ documents, history }: Accepted): void {
    this.confirmed = newest(this.confirmed, documents as Documents);
    this.history = history;
    if (this.pending.length === 0) this.takeArrived();
    this.changed();
  }

  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    let tries = 0,
      faults = 0;
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
        tries = faults = 0;
      } catch (error) {
        if (error instanceof OutOfDate) {
          this.replay(gesture, error);
          if (!this.stands()) await pause(AGAIN, tries++);
        } else if (error instanceof Misfit) this.halt(error.message);
        else if (!isPassing(error) || (isFault(error) && ++faults >= FAULTS)) {
          this.setAside((error as Error).message);
          tries = faults = 0;
        } else {
          this.keeping = { state: 'waiting', why: whyWaiting(error) };
          this.changed();
          await pause(PAUSES, tries++);
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
    this.confirmed = newest(this.confirmed, stale.documents as Documents);
    if (clash) this.keeping = { state: 'clash', label: gesture.label, other: clash.label };
    this.changed();
  }

  private setAside(sentence: string): void {
    const gesture = this.pending.shift();
    if (gesture) this.aside = [...this.aside, { gesture, reason: sentence }];
    this.keeping = { state: this.pending.length > 0 ? 'keeping' : 'kept' };
    if (this.pending.length === 0) this.takeArrived();
    this.changed();
  }
}

/**
 * Each document by its own higher version: what is told of several was read at one moment, and what is known of some of
 * them may be later. None goes away; one that is told first comes behind those known.
 */
function newest(known: Documents, told: Documents): Documents {
  const byId = new Map(told.map((document) => [document.id, document]));
  const kept = known.map((document) => {
    const other = byId.get(document.id);
    byId.delete(document.id);
    return other && other.version > document.version ? other : document;
  });
  return [...kept, ...byId.values()];
}

/** A failure of the program itself; the same again may fail again. */
const isFault = (error: unknown): boolean => error instanceof Refused && error.status === 500;
/** Whether the same may work a little later: no connection, or a server that cannot keep anything now. */
const isPassing = (error: unknown): boolean => !(error instanceof Refused) || error.status === 0 || error.status >= 500;
const whyWaiting = (error: unknown): string =>
  error instanceof Refused && error.status > 0 ? error.message : 'The program does not answer; it is tried again.';

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
