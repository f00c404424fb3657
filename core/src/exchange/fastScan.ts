import type { KeywordTable } from './keywords.ts';
import { wasmCode } from './scanInstances.generated.ts';

/** What core/wasm/scanInstances.ts exports; addresses are bytes in `memory`. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  readonly ids: WebAssembly.Global;
  readonly starts: WebAssembly.Global;
  readonly ends: WebAssembly.Global;
  readonly firstReferences: WebAssembly.Global;
  readonly keywords: WebAssembly.Global;
  readonly referred: WebAssembly.Global;
  readonly text: WebAssembly.Global;
  readonly windowSize: WebAssembly.Global;
  readonly count: WebAssembly.Global;
  readonly referenceCount: WebAssembly.Global;
  prepare(): void;
  addName(index: number, size: number): number;
  addComplex(index: number, size: number): number;
  nameRoom(): number;
  scan(from: number, size: number, origin: number, referenceOrigin: number): number;
}

/** Instances read in one go, as views that the next call overwrites; offsets in the file. */
export interface Batch {
  /** Offset just after the last instance. */
  readonly end: number;
  readonly ids: Uint32Array;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  readonly keywordOf: Uint16Array;
  readonly referenceStarts: Uint32Array;
  readonly referred: Uint32Array;
}

/**
 * After an instance that was not ordinary, so many are read without asking again; doubled each time, up to the most.
 */
const FEWEST_BETWEEN = 1,
  MOST_BETWEEN = 256;
/** A window with less than this left is moved on, so that an instance across its end is met whole. */
const LEAST_LEFT = 1 << 16; // bytes

let compiled: Exports | null | undefined;

/** One for each thread, made at first use: reading is not interrupted by another reading. */
function load(): Exports | null {
  if (compiled === undefined) {
    try {
      const code = Uint8Array.from(atob(wasmCode), (letter) => letter.charCodeAt(0));
      compiled = new WebAssembly.Instance(new WebAssembly.Module(code), { env: { abort: () => {} } })
        .exports as unknown as Exports;
    } catch {
      compiled = null; // not allowed here: everything is read the slow way
    }
  }
  return compiled;
}

/**
 * Reads runs of ordinary instances many times faster than the scanner reads one. It gives up in front of whatever is
 * not ordinary and leaves that to the scanner, so what is accepted and refused is decided in one place.
 */
export class FastScan {
  private readonly code: Exports | null;
  private taught = 1; // names up to this index are known to the code; the first stands for none
  private full = false;
  private from = 0;
  private to = 0;
  private between = FEWEST_BETWEEN;
  private waiting = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly table: KeywordTable,
  ) {
    this.code = load();
    this.code?.prepare();
  }

  /** The ordinary instances that stand at `at`, or null where there are none or it is not worth asking. */
  read(at: number, referenceCount: number): Batch | null {
    const { code } = this;
    if (!code || this.waiting-- > 0) return null;
    this.teach(code);
    if (at < this.from || at >= this.to || (this.to - at < LEAST_LEFT && this.to < this.bytes.length))
      this.moveWindow(code, at);
    const end = code.scan(at - this.from, this.to - this.from, this.from, referenceCount) + this.from;
    const count = code.count.value as number;
    if (count < 8) {
      this.waiting = this.between;
      this.between = Math.min(MOST_BETWEEN, this.between * 2);
    } else this.between = FEWEST_BETWEEN;
    if (count === 0) return null;
    const words = (address: WebAssembly.Global, size: number) =>
      new Uint32Array(code.memory.buffer, address.value as number, size);
    return {
      end,
      ids: words(code.ids, count),
      starts: words(code.starts, count),
      ends: words(code.ends, count),
      referenceStarts: words(code.firstReferences, count),
      keywordOf: new Uint16Array(code.memory.buffer, code.keywords.value as number, count),
      referred: words(code.referred, code.referenceCount.value as number),
    };
  }

  private moveWindow(code: Exports, at: number): void {
    this.from = at;
    this.to = Math.min(this.bytes.length, at + (code.windowSize.value as number));
    new Uint8Array(code.memory.buffer, code.text.value as number).set(this.bytes.subarray(this.from, this.to));
  }

  private teach(code: Exports): void {
    const { keywords } = this.table;
    for (; this.taught < keywords.length && !this.full; this.taught++) {
      const name = keywords[this.taught],
        partials = this.table.partialsOf(this.taught);
      const room = code.nameRoom();
      if (partials.length > 0) {
        new Uint16Array(code.memory.buffer, room, partials.length).set(partials);
        this.full = !code.addComplex(this.taught, partials.length);
      } else {
        const letters = new Uint8Array(code.memory.buffer, room, name.length);
        for (let at = 0; at < name.length; at++) letters[at] = name.charCodeAt(at);
        this.full = !code.addName(this.taught, name.length);
      }
    }
  }
}
