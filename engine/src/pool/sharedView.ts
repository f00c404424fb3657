import { MessageChannel, receiveMessageOnPort, type MessagePort } from 'node:worker_threads';
import { LOTS, type PackedLot, type SharedWork } from '../../../core/src/views/index.ts';

/** Places in what threads share: the next lot, how often something was told, and per helper 1 while it is at work. */
const NEXT = 0,
  TOLD = 1,
  AT_WORK = 2;
/** A helper that fell over may be told late; ms. */
const LOOK_AGAIN = 500;

/** What the thread that draws a view gets to share it out. */
export interface SharedOut {
  readonly control: SharedArrayBuffer;
  /** One for each helper that may come. */
  readonly ports: readonly MessagePort[];
}
/** What a helper gets. */
export interface HelperSeat {
  readonly control: SharedArrayBuffer;
  readonly port: MessagePort;
  readonly at: number;
}

/** A view that other threads may help with while it is drawn. */
export interface Shareable extends SharedOut {
  /** A seat for one more helper; null where there is none, or no lot left. */
  readonly seat: () => { readonly seat: HelperSeat; readonly onEnd: () => void } | null;
}

/** @param most helpers */
export function shareable(most: number): Shareable {
  const control = new SharedArrayBuffer(4 * (AT_WORK + most));
  const state = new Int32Array(control);
  const channels = Array.from({ length: most }, () => new MessageChannel());
  let given = 0;
  return {
    control,
    ports: channels.map(({ port1 }) => port1),
    seat: () => {
      if (given >= most || Atomics.load(state, NEXT) >= LOTS) return null;
      const at = given++;
      return {
        seat: { control, port: channels[at].port2, at },
        onEnd: () => {
          Atomics.store(state, AT_WORK + at, 0);
          tell(state);
        },
      };
    },
  };
}

function tell(state: Int32Array): void {
  Atomics.add(state, TOLD, 1);
  Atomics.notify(state, TOLD);
}

/** How the thread that draws a view takes lots, and gets what its helpers made of theirs. */
export function sharedWork({ control, ports }: SharedOut): SharedWork {
  const state = new Int32Array(control);
  const own = new Set<number>();
  return {
    take: () => {
      const lot = Atomics.add(state, NEXT, 1);
      own.add(lot);
      return lot;
    },
    others: () => {
      const made = new Map<number, PackedLot>();
      const isWhole = () => Array.from({ length: LOTS }, (_, lot) => own.has(lot) || made.has(lot)).every(Boolean);
      for (;;) {
        const told = Atomics.load(state, TOLD);
        // Who is no longer at work had given all that it made: asked in this order nothing is missed.
        const isWaitedFor = ports.some((_, at) => Atomics.load(state, AT_WORK + at) === 1);
        for (const port of ports)
          for (let found = receiveMessageOnPort(port); found; found = receiveMessageOnPort(port)) {
            const [lot, packed] = found.message as [number, PackedLot];
            made.set(lot, packed);
          }
        if (isWhole() || !isWaitedFor) break;
        Atomics.wait(state, TOLD, told, LOOK_AGAIN);
      }
      for (const port of ports) port.close();
      return made;
    },
  };
}

/** How a helper takes lots and gives what it made. */
export function helperWork({ control, port, at }: HelperSeat): {
  readonly isOver: () => boolean;
  readonly take: SharedWork['take'];
  readonly give: (lot: number, made: PackedLot) => void;
} {
  const state = new Int32Array(control);
  Atomics.store(state, AT_WORK + at, 1);
  return {
    isOver: () => Atomics.load(state, NEXT) >= LOTS,
    take: () => Atomics.add(state, NEXT, 1),
    give: (lot, made) => {
      port.postMessage([lot, made], [made.lines.buffer, made.meetings.buffer] as ArrayBuffer[]);
      tell(state);
    },
  };
}
