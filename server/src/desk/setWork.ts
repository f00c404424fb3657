import { randomUUID } from 'node:crypto';
import type { MessagePort } from 'node:worker_threads';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import {
  longListSteps,
  partSheetSteps,
  setSteps,
  type Intention,
  type ProjectState,
  type SetMeans,
  type SetSteps,
} from '../../../core/src/documents/index.ts';
import { packSpots, packViewLines, unpackSpots, unpackViewLines } from '../../../core/src/formats/index.ts';
import type { Exploded } from '../../../core/src/poses/index.ts';
import type { Look } from '../../../core/src/views/index.ts';
import type { MadeView } from '../../../engine/src/index.ts';

/** Intentions that make further sheets. */
export type SetIntention = Extract<Intention, { kind: 'makeSet' | 'makePartSheets' | 'divideList' }>;

/** Planning of sheets, on a thread that can be ended at any moment: it may take minutes without a pause. */
export interface SetTask {
  readonly kind: 'set';
  readonly state: ProjectState;
  readonly intention: SetIntention;
  /** Where views are asked for; see serveMeans. */
  readonly port: MessagePort;
}

/** What the planning asks of who ordered it. */
type Wish = { readonly id: number } & ({ readonly what: 'draw'; readonly look: Look } | { readonly what: 'apart' });
type Granted =
  | { readonly id: number; readonly ok: true; readonly content: unknown }
  | { readonly id: number; readonly ok: false; readonly code: string | null; readonly message: string };
interface PackedView {
  readonly lines: Uint8Array;
  readonly spots: Uint8Array;
}
/** What the planning needs from outside its thread. */
export interface LentMeans {
  readonly draw: (look: Look) => Promise<MadeView>;
  readonly apart: () => Promise<Exploded>;
}

/** Grants what a thread asks for, until the port is closed. */
export function serveMeans(port: MessagePort, means: LentMeans): void {
  const grant = async (wish: Wish): Promise<unknown> => {
    if (wish.what === 'apart') return means.apart();
    const { lines, spots } = await means.draw(wish.look);
    return { lines: packViewLines(lines), spots: packSpots(spots) } satisfies PackedView;
  };
  port.on('message', (wish: Wish) => {
    const { id } = wish;
    grant(wish).then(
      (content) => port.postMessage({ id, ok: true, content } satisfies Granted),
      (error: Error) => {
        const code = error instanceof Refusal ? error.code : null;
        port.postMessage({ id, ok: false, code, message: error.message } satisfies Granted);
      },
    );
  });
}

function remoteMeans(port: MessagePort): LentMeans {
  const waiting = new Map<number, { resolve: (content: never) => void; reject: (error: Error) => void }>();
  let asked = 0;
  port.on('message', (granted: Granted) => {
    const found = waiting.get(granted.id);
    waiting.delete(granted.id);
    if (granted.ok) found?.resolve(granted.content as never);
    else found?.reject(granted.code === null ? new Error(granted.message) : new Refusal(granted.code, granted.message));
  });
  const ask = <Content>(wish: { what: 'draw'; look: Look } | { what: 'apart' }) =>
    new Promise<Content>((resolve, reject) => {
      const id = ++asked;
      waiting.set(id, { resolve, reject });
      port.postMessage({ id, ...wish } satisfies Wish);
    });
  return {
    draw: async (look) => {
      const { lines, spots } = await ask<PackedView>({ what: 'draw', look });
      return { lines: unpackViewLines(lines), spots: unpackSpots(spots) };
    },
    apart: () => ask<Exploded>({ what: 'apart' }),
  };
}

/** The sheets that an intention comes to. @throws Refusal */
export async function planSet({ state, intention, port }: SetTask): Promise<SetSteps> {
  try {
    await readyForFormulas();
    const means: SetMeans = { ...remoteMeans(port), newId: randomUUID };
    if (intention.kind === 'divideList') return longListSteps(state, intention, randomUUID);
    return await (intention.kind === 'makePartSheets'
      ? partSheetSteps(state, intention, means)
      : setSteps(state, intention, means));
  } finally {
    port.close();
  }
}
