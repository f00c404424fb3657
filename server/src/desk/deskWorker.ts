import type { MessagePort } from 'node:worker_threads';
import * as v from 'valibot';
import { carryGestures, firstClash, notAsExpected } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import type { DerivedStore } from '../../../engine/src/index.ts';
import { presentText, type DeskAnswer, type DeskTask } from './desk.ts';
import { makeForeseen } from './foreseen.ts';
import { makeOutput } from './outputs.ts';
import { answerWeighed } from './questions.ts';
import { readBody } from './readings.ts';
import { documentShelf } from '../opened/documentShelf.ts';
import { remoteStore } from './remoteStore.ts';
import { planSet } from './setWork.ts';

/** Letters of documents that a thread keeps for the next gesture. */
const KEPT_LETTERS = 24 * 1024 * 1024;
const shelf = documentShelf(KEPT_LETTERS);

/** Works with the store of the thread that lent it. */
const withStore = <Result>(port: MessagePort, use: (store: DerivedStore) => Promise<Result>): Promise<Result> =>
  use(remoteStore(port)).finally(() => port.close());

/** Entry of the desk's threads. */
export default async function run(task: DeskTask): Promise<DeskAnswer> {
  try {
    return { ok: true, content: await work(task) };
  } catch (error) {
    if (error instanceof Refusal) return { ok: false, code: error.code, message: error.message };
    // A fault of what was sent is one on every thread.
    if (error instanceof v.ValiError) return { ok: false, code: 'not-as-expected', message: notAsExpected(error) };
    throw error;
  }
}

function work(task: DeskTask): unknown {
  switch (task.kind) {
    case 'reading':
      return readBody(task.what, task.bytes);
    case 'carry':
      return carryGestures(task.order, shelf.open, shelf.keep);
    case 'clash':
      return firstClash(task.edits, task.later);
    case 'current':
      return presentText(task.document);
    case 'output':
      return withStore(task.port, (store) => makeOutput(task, store));
    case 'foreseen':
      return withStore(task.port, (store) => makeForeseen(task, store));
    case 'set':
      return planSet(task);
    case 'question':
      return withStore(task.port, (store) => answerWeighed(task, task.question, store));
  }
}
