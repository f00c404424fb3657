import type { MessagePort } from 'node:worker_threads';
import type { DerivedStore } from '../../../engine/src/index.ts';

/** What travels: a key that is asked for, and what is stored under it. */
interface Ask {
  readonly id: number;
  readonly key: string;
}
interface Answer {
  readonly id: number;
  readonly bytes: Uint8Array | null;
  readonly failed?: string;
}

/** Answers what a thread asks for, until the port is closed. */
export function serveStore(port: MessagePort, store: Pick<DerivedStore, 'get'>): void {
  port.on('message', ({ id, key }: Ask) => {
    store.get(key).then(
      (bytes) => port.postMessage({ id, bytes } satisfies Answer),
      (error) => port.postMessage({ id, bytes: null, failed: (error as Error).message } satisfies Answer),
    );
  });
}

/** The store of the thread that gave the port; it can be read, not written. */
export function remoteStore(port: MessagePort): DerivedStore {
  const waiting = new Map<number, (answer: Answer) => void>();
  let asked = 0;
  port.on('message', (answer: Answer) => {
    waiting.get(answer.id)?.(answer);
    waiting.delete(answer.id);
  });
  return {
    get: (key) =>
      new Promise((resolve, reject) => {
        const id = ++asked;
        waiting.set(id, ({ bytes, failed }) => (failed === undefined ? resolve(bytes) : reject(new Error(failed))));
        port.postMessage({ id, key } satisfies Ask);
      }),
    put: () => Promise.reject(new Error('This store can be read only.')),
  };
}
