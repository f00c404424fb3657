import { MessageChannel, type MessagePort, type TransferListItem } from 'node:worker_threads';
import { LRUCache } from 'lru-cache';
import { Piscina } from 'piscina';
import * as v from 'valibot';
import {
  api,
  type Gesture,
  carryGestures,
  firstClash,
  notAsExpected,
  readStored,
  type CarriedOrder,
  type CarryOrder,
  type StoredEdit,
  type StoredText,
} from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import type { DerivedStore } from '../../engine/src/index.ts';
import type { Foreseen, ForeseenTask } from './foreseen.ts';
import { refuseDeep } from './deepJson.ts';
import { documentShelf, nameOfStored } from './documentShelf.ts';
import type { Output, OutputTask } from './outputs.ts';
import { answerQuestion, textsOf, type Answers, type Asked, type Question, type QuestionTask } from './questions.ts';
import { serveStore } from './remoteStore.ts';
import type { BlobStore } from './blobs.ts';

/** A gesture whose commands are JSON, not looked into yet. */
export interface OpenGesture extends Omit<Gesture, 'steps'> {
  readonly steps: readonly { readonly document: string; readonly version: number; readonly command: string }[];
}

/** What a worker of the desk can be asked to do. */
export type DeskTask =
  | { readonly kind: 'gesture'; readonly text: string }
  | { readonly kind: 'carry'; readonly order: CarryOrder }
  | { readonly kind: 'clash'; readonly edits: readonly StoredEdit[]; readonly later: readonly StoredEdit[] }
  | { readonly kind: 'current'; readonly document: StoredText }
  | OutputTask
  | ForeseenTask
  | QuestionTask;
/** A refusal does not survive the way between threads as what it is, so it travels as data. */
export type DeskAnswer =
  | { readonly ok: true; readonly content: unknown }
  | { readonly ok: false; readonly code: string; readonly message: string };

/**
 * Work on documents that somebody waits for. What is small is done at once; what is large in threads of its own, so that
 * no request waits for another one's.
 */
export interface Desk {
  /** Rejects with a Refusal where the text is no gesture. */
  readonly gesture: (text: string) => Promise<OpenGesture>;
  /** @see carryGestures */
  readonly carry: (order: CarryOrder) => Promise<CarriedOrder>;
  /** @see firstClash */
  readonly clash: (edits: readonly StoredEdit[], later: readonly StoredEdit[]) => Promise<number | null>;
  /** Documents in the form of today. */
  readonly current: (documents: readonly StoredText[]) => Promise<StoredText[]>;
  /** Bytes of a file that goes out. Rejects with a Refusal where it cannot be made. */
  readonly output: (
    task: Omit<OutputTask, 'kind' | 'port'>,
    store: DerivedStore,
    signal?: AbortSignal,
  ) => Promise<Output>;
  /** @see makeForeseen */
  readonly foreseen: (
    task: Omit<ForeseenTask, 'kind' | 'port'>,
    store: DerivedStore,
    signal?: AbortSignal,
  ) => Promise<Foreseen>;
  /** @see answerQuestion */
  readonly question: <One extends Question>(
    asked: Asked,
    question: One,
    store: BlobStore,
  ) => Promise<Answers[One['what']]>;
  readonly close: () => Promise<void>;
}

/** Letters of JSON that are worked on at once: a few milliseconds. */
const LARGE = 128 * 1024;
/** A thread that takes more memory than this is ended; MB. */
const MEMORY = 3072;
/** Idle threads are kept so long for the next piece of work; ms. */
const IDLE = 20_000;
/** Documents that are kept open, by the letters of their JSON. */
const OPEN_LETTERS = 16 * 1024 * 1024;

const isLarge = (texts: readonly string[]): boolean => texts.reduce((sum, text) => sum + text.length, 0) > LARGE;

/** @param workerFile the bundled deskWorker.ts */
export function startDesk(workerFile: string): Desk {
  const pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
  });
  const ask = async <Content>(
    task: DeskTask,
    signal?: AbortSignal,
    transferList: TransferListItem[] = [],
  ): Promise<Content> => {
    const answer = (await pool.run(task, { transferList, ...(signal ? { signal } : {}) })) as DeskAnswer;
    if (!answer.ok) throw new Refusal(answer.code, answer.message);
    return answer.content as Content;
  };
  const shelf = documentShelf(OPEN_LETTERS);
  /** What is stored, and the same in the form of today. */
  const present = new LRUCache<string, { readonly content: string; readonly text: string }>({
    maxSize: OPEN_LETTERS,
    sizeCalculation: ({ content, text }) => content.length + (text === content ? 1 : text.length),
  });
  return {
    gesture: async (text) => (isLarge([text]) ? ask<OpenGesture>({ kind: 'gesture', text }) : readGesture(text)),
    carry: async (order) => {
      const large = isLarge([
        ...order.documents.map(({ content }) => content),
        ...order.gestures.flatMap(({ steps }) => steps.map(({ command }) => command)),
        ...order.meanwhile.map(({ command }) => command),
      ]);
      if (!large) return carryGestures(order, shelf.open, shelf.keep);
      const carried = await ask<CarriedOrder>({ kind: 'carry', order });
      // What comes out has just been checked and is in the form of today: it goes out as it is.
      for (const stored of carried.documents ?? [])
        present.set(nameOfStored(stored), { content: stored.content, text: stored.content });
      return carried;
    },
    clash: async (edits, later) =>
      isLarge([...edits, ...later].map(({ command }) => command))
        ? ask<number | null>({ kind: 'clash', edits, later })
        : firstClash(edits, later),
    current: (documents) =>
      Promise.all(
        documents.map(async (stored) => {
          const known = present.get(nameOfStored(stored));
          if (known?.content === stored.content) return { ...stored, content: known.text };
          const text = isLarge([stored.content])
            ? await ask<string>({ kind: 'current', document: stored })
            : presentText(stored);
          present.set(nameOfStored(stored), {
            content: stored.content,
            text: text === stored.content ? stored.content : text,
          });
          return { ...stored, content: text };
        }),
      ),
    output: (task, store, signal) =>
      withPort(store, (port) => ask<Output>({ kind: 'output', ...task, port }, signal, [port])),
    foreseen: (task, store, signal) =>
      withPort(store, (port) => ask<Foreseen>({ kind: 'foreseen', ...task, port }, signal, [port])),
    question: async <One extends Question>(asked: Asked, question: One, store: BlobStore) => {
      const size = await store.size(asked.assemblyBlob);
      const isSmall = size !== null && size < LARGE && !isLarge([asked.edits?.content ?? '', ...textsOf(question)]);
      const answer = isSmall
        ? answerQuestion(asked, question, store)
        : withPort(store, (port) => ask({ kind: 'question', ...asked, question, port }, undefined, [port]));
      return (await answer) as Answers[One['what']];
    },
    close: () => pool.destroy(),
  };
}

/** Lends a thread the store while it works. */
async function withPort<Result>(
  store: Pick<DerivedStore, 'get'>,
  work: (port: MessagePort) => Promise<Result>,
): Promise<Result> {
  const { port1, port2 } = new MessageChannel();
  serveStore(port1, store);
  try {
    return await work(port2);
  } finally {
    port1.close();
  }
}

/** @throws Refusal, see readStored */
export const presentText = (stored: StoredText): string => JSON.stringify(readStored(stored));

/** @throws Refusal with the code `not-as-expected` */
export function readGesture(text: string): OpenGesture {
  refuseDeep(text);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Refusal('not-as-expected', 'What was sent is no JSON.');
  }
  const gesture = v.safeParse(api.gestureSchema, value);
  if (!gesture.success) throw new Refusal('not-as-expected', notAsExpected(new v.ValiError(gesture.issues)));
  return openGesture(gesture.output);
}

export const openGesture = ({ steps, ...gesture }: Gesture): OpenGesture => ({
  ...gesture,
  steps: steps.map(({ document, version, command }) => ({ document, version, command: JSON.stringify(command) })),
});
