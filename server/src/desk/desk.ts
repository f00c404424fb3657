import { MessageChannel, type MessagePort, type TransferListItem } from 'node:worker_threads';
import { LRUCache } from 'lru-cache';
import { Piscina } from 'piscina';
import {
  carryGestures,
  firstClash,
  readStored,
  type CarriedOrder,
  type CarryOrder,
  type ReversibleEdit,
  type StoredEdit,
  type StoredText,
} from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import type { SetSteps } from '../../../core/src/documents/index.ts';
import type { DerivedStore } from '../../../engine/src/index.ts';
import type { Foreseen, ForeseenTask } from './foreseen.ts';
import { documentShelf, nameOfStored } from '../opened/documentShelf.ts';
import type { Output, OutputTask } from './outputs.ts';
import {
  answerQuestion,
  lookingsOf,
  textsOf,
  type Answered,
  type Answers,
  type Asked,
  type Question,
  type QuestionTask,
} from './questions.ts';
import { readBody, type Read, type ReadingKind, type ReadingTask } from './readings.ts';
import { serveStore } from './remoteStore.ts';
import { serveMeans, type LentMeans, type SetTask } from './setWork.ts';
import type { BlobStore } from '../store/blobs.ts';

/** What a worker of the desk can be asked to do. */
export type DeskTask =
  | ReadingTask
  | { readonly kind: 'carry'; readonly order: CarryOrder }
  | { readonly kind: 'clash'; readonly edits: readonly ReversibleEdit[]; readonly later: readonly StoredEdit[] }
  | { readonly kind: 'current'; readonly document: StoredText }
  | OutputTask
  | ForeseenTask
  | SetTask
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
  /** @see readBody; rejects with its Refusal */
  readonly read: <Kind extends ReadingKind>(what: Kind, bytes: Uint8Array, signal?: AbortSignal) => Promise<Read<Kind>>;
  /** @see carryGestures */
  readonly carry: (order: CarryOrder) => Promise<CarriedOrder>;
  /** @see firstClash */
  readonly clash: (edits: readonly ReversibleEdit[], later: readonly StoredEdit[]) => Promise<number | null>;
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
  /** @see planSet; views are drawn by who asks. */
  readonly planSet: (
    task: Pick<SetTask, 'state' | 'intention'>,
    means: LentMeans,
    signal: AbortSignal,
  ) => Promise<SetSteps>;
  /** @see answerQuestion */
  readonly question: <One extends Question>(
    asked: Asked,
    question: One,
    store: BlobStore,
    signal?: AbortSignal,
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

/** Bytes of a body that are read at once: a few milliseconds, whatever they are. */
export const SMALL_BODY = 64 * 1024;
/** What a piece of work may take, ms; a request waits no longer, and takes no thread longer. */
const LIMITS = { reading: 60_000, documents: 120_000, question: 60_000, output: 300_000, set: 6 * 3_600_000 } as const;

/** @param workerFile the bundled deskWorker.ts */
export function startDesk(workerFile: string, limits: Readonly<Record<keyof typeof LIMITS, number>> = LIMITS): Desk {
  const threads = () =>
    new Piscina({
      filename: workerFile,
      minThreads: 0,
      maxThreads: 2,
      idleTimeout: IDLE,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
  // Files that go out may take minutes; what a drafter does, or looks at, waits for none of them.
  const brisk = threads(),
    asked = threads(),
    patient = threads();
  const ask = async <Content>(
    pool: Piscina,
    task: DeskTask,
    ms: number,
    signal?: AbortSignal,
    transferList: TransferListItem[] = [],
  ): Promise<Content> => {
    const limit = AbortSignal.timeout(ms);
    try {
      const answer = (await pool.run(task, {
        transferList,
        signal: signal ? AbortSignal.any([signal, limit]) : limit,
      })) as DeskAnswer;
      if (!answer.ok) throw new Refusal(answer.code, answer.message);
      return answer.content as Content;
    } catch (error) {
      throw overrun(error, signal, limit, ms);
    }
  };
  const shelf = documentShelf(OPEN_LETTERS);
  /** What is stored, and the same in the form of today. */
  const present = new LRUCache<string, { readonly content: string; readonly text: string }>({
    maxSize: OPEN_LETTERS,
    sizeCalculation: ({ content, text }) => content.length + (text === content ? 1 : text.length),
  });
  /** How much structures are, once a thread has looked at them. */
  const weights = new LRUCache<string, number>({ max: 2000 });
  return {
    read: async <Kind extends ReadingKind>(what: Kind, bytes: Uint8Array, signal?: AbortSignal) =>
      bytes.length <= SMALL_BODY
        ? readBody(what, bytes)
        : ask<Read<Kind>>(brisk, { kind: 'reading', what, bytes }, limits.reading, signal),
    carry: async (order) => {
      const large = isLarge([
        ...order.documents.map(({ content }) => content),
        ...order.gestures.flatMap(({ steps }) => steps.map(({ command }) => command)),
        ...order.meanwhile.map(({ command }) => command),
      ]);
      if (!large) return carryGestures(order, shelf.open, shelf.keep);
      const carried = await ask<CarriedOrder>(brisk, { kind: 'carry', order }, limits.documents);
      // What comes out has just been checked and is in the form of today: it goes out as it is.
      for (const stored of carried.documents ?? [])
        present.set(nameOfStored(stored), { content: stored.content, text: stored.content });
      return carried;
    },
    clash: async (edits, later) =>
      isLarge([...edits, ...later].map(({ command }) => command))
        ? ask<number | null>(brisk, { kind: 'clash', edits, later }, limits.documents)
        : firstClash(edits, later),
    current: (documents) =>
      Promise.all(
        documents.map(async (stored) => {
          const known = present.get(nameOfStored(stored));
          if (known?.content === stored.content) return { ...stored, content: known.text };
          const text = isLarge([stored.content])
            ? await ask<string>(brisk, { kind: 'current', document: stored }, limits.documents)
            : presentText(stored);
          present.set(nameOfStored(stored), {
            content: stored.content,
            text: text === stored.content ? stored.content : text,
          });
          return { ...stored, content: text };
        }),
      ),
    output: (task, store, signal) =>
      withPort(store, (port) => ask<Output>(patient, { kind: 'output', ...task, port }, limits.output, signal, [port])),
    foreseen: (task, store, signal) =>
      withPort(store, (port) =>
        ask<Foreseen>(patient, { kind: 'foreseen', ...task, port }, limits.output, signal, [port]),
      ),
    planSet: async (task, means, signal) => {
      const { port1, port2 } = new MessageChannel();
      serveMeans(port1, means);
      try {
        return await ask<SetSteps>(patient, { kind: 'set', ...task, port: port2 }, limits.set, signal, [port2]);
      } finally {
        port1.close();
      }
    },
    question: async <One extends Question>(about: Asked, question: One, store: BlobStore, signal?: AbortSignal) => {
      const weight = weights.get(about.assemblyBlob);
      const texts = [about.edits?.content ?? '', ...textsOf(question)].reduce((sum, text) => sum + text.length, 0);
      // One that nobody has looked at yet may be anything: a few bytes can be a machine of a hundred thousand places.
      if (weight !== undefined && weight * lookingsOf(question) + texts <= LARGE)
        return (await answerQuestion(about, question, store)) as Answers[One['what']];
      const { answer, weight: found } = await withPort(store, (port) =>
        ask<Answered<One['what']>>(asked, { kind: 'question', ...about, question, port }, limits.question, signal, [
          port,
        ]),
      );
      weights.set(about.assemblyBlob, found);
      return answer;
    },
    close: async () => void (await Promise.all([brisk, asked, patient].map((pool) => pool.destroy()))),
  };
}

/** What a piece of work that was ended early is to who waits for it. */
function overrun(error: unknown, signal: AbortSignal | undefined, limit: AbortSignal, ms: number): unknown {
  if (error instanceof Refusal || signal?.aborted) return error;
  if (limit.aborted)
    return new Refusal(
      'too-long',
      `That takes more than ${ms / 1000} seconds and was given up; nothing was changed. Ask for less at once, or in parts.`,
    );
  if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Refusal(
      'too-much-memory',
      `That takes more memory than there is for it (${MEMORY} MB) and was given up; nothing was changed. Ask for less at once, or in parts.`,
    );
  return error;
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
