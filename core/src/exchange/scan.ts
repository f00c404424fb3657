import { Refusal } from '../assembly/index.ts';
import { CLOSE, DOUBLE_QUOTE, EQUALS, HASH, isDigit, OPEN, QUOTE, SEMICOLON, SLASH, SPACE, STAR } from './cursor.ts';
import { FastScan, type Batch } from './fastScan.ts';
import { inItsNames, withTellableNames } from './largeNames.ts';
import { KeywordTable, WORD } from './keywords.ts';
import { Sections } from './sections.ts';
import { makeFinder, NO_NAME, resolveReferences, type Names } from './references.ts';

/**
 * Where every entity instance of an exchange structure begins and ends and what it refers to, found in one pass over
 * the bytes. A *slot* is an instance's position in file order, from 0. Nothing inside the parentheses is parsed until
 * it is asked for.
 */
export interface Index {
  readonly bytes: Uint8Array;
  readonly count: number;
  /** Entity instance name (the number after `#`) per slot. */
  readonly ids: Names;
  /** Byte offset just after `=`, and of the closing `;`, per slot. */
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  /** Index into `keywords` per slot; a complex instance has its partial names joined by `+`. */
  readonly keywordOf: Uint16Array;
  readonly keywords: readonly string[];
  /**
   * Slots that slot s refers to, in the order of writing: `references` from `referenceStarts[s]` up to
   * `referenceStarts[s + 1]`; −1 where the file has no such instance.
   */
  readonly references: Int32Array;
  readonly referenceStarts: Uint32Array;
  /** Header instances: keyword and the byte range of the parameter list without its outer parentheses. */
  readonly header: ReadonlyMap<string, readonly [number, number]>;
  /** Slot of this entity instance name, or −1. */
  readonly find: (id: number) => number;
  /** Instances defined in another file, by slot: what the REFERENCE section says of them (edition 3). */
  readonly external: ReadonlyMap<number, string>;
  /** Digits of the names that others stand for, where the file has names above 2⁵³−1; see `withTellableNames`. */
  readonly originals?: ReadonlyMap<number, string>;
  /** Said about the exchange structure itself: no end mark and the like. */
  readonly remarks: readonly { code: string; message: string }[];
}

/** 1 for the bytes that mean something to the scan of a body; all others are passed over. */
const TELLING = new Uint8Array(256);
for (const byte of [QUOTE, DOUBLE_QUOTE, OPEN, CLOSE, SLASH, SEMICOLON, EQUALS, HASH]) TELLING[byte] = 1;

/** Bytes per instance and per reference of usual files; only what is set aside at first depends on it. */
const BYTES_PER_INSTANCE = 64,
  BYTES_PER_REFERENCE = 40;
/** Names are told apart as numbers, which is exact up to here. */
const LARGEST_ID = Number.MAX_SAFE_INTEGER;

/**
 * Reads the exchange structure of ISO 10303-21 (edition 3): header, data sections and the names that a reference
 * section defines; anchor and signature sections are passed over.
 * @throws Refusal with line or entity, where the text is not such a file, is cut off, names an instance twice or refers
 *   to one that is missing
 */
export function scanExchangeStructure(bytes: Uint8Array, options: ScanOptions = { fast: true }): Index {
  try {
    return new Scanner(bytes, options).run();
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== TOO_LARGE) throw error;
  }
  const { bytes: renamed, originals } = withTellableNames(bytes);
  try {
    const index = new Scanner(renamed, options).run();
    const remarks = index.remarks.map(({ code, message }) => ({ code, message: inItsNames(message, originals) }));
    return { ...index, remarks, originals };
  } catch (error) {
    throw error instanceof Refusal ? new Refusal(error.code, inItsNames(error.message, originals)) : error;
  }
}
const TOO_LARGE = 'id-too-large';

interface ScanOptions {
  /** False reads every instance one by one: the tests judge the fast way by it. */
  readonly fast: boolean;
}

class Scanner extends Sections {
  private count = 0;
  private ids: Names;
  private starts: Uint32Array;
  private ends: Uint32Array;
  private keywordOf: Uint16Array;
  private referenceStarts: Uint32Array;
  private referred: Names;
  private referenceCount = 0;
  private readonly table: KeywordTable;
  private readonly fast: FastScan | null;
  private readonly partial: number[] = [];

  constructor(bytes: Uint8Array, { fast }: ScanOptions) {
    super(bytes);
    this.table = new KeywordTable(bytes);
    this.fast = fast ? new FastScan(bytes, this.table) : null;
    const instances = Math.max(1 << 10, Math.ceil(bytes.length / BYTES_PER_INSTANCE));
    this.ids = new Uint32Array(instances);
    this.starts = new Uint32Array(instances);
    this.ends = new Uint32Array(instances);
    this.keywordOf = new Uint16Array(instances);
    this.referenceStarts = new Uint32Array(instances + 1);
    this.referred = new Uint32Array(Math.max(1 << 11, Math.ceil(bytes.length / BYTES_PER_REFERENCE)));
  }

  run(): Index {
    this.readStart();
    this.readSections();
    this.referenceStarts[this.count] = this.referenceCount;
    const {
      bytes,
      count,
      starts,
      ends,
      keywordOf,
      header,
      external,
      remarks,
      referenceStarts,
      table: { keywords },
    } = this;
    const ids = this.ids.subarray(0, count);
    const finder = makeFinder(ids, (slot) =>
      this.refuse(
        'duplicate-id',
        `#${ids[slot]} is defined twice. Which one counts cannot be known, so the file is refused.`,
        starts[slot],
      ),
    );
    const referred = this.referred.subarray(0, this.referenceCount);
    const references = resolveReferences(
      { ids, referred, referenceStarts, keywordOf, keywords, finder, remarks },
      (slot, words) => this.refuse('dangling-reference', words, starts[slot]),
    );
    return {
      bytes,
      count,
      ids,
      starts,
      ends,
      keywordOf,
      keywords,
      references,
      referenceStarts,
      header,
      find: finder.find,
      external,
      remarks,
    };
  }

  protected override readData(): void {
    const { bytes } = this;
    for (;;) {
      while (bytes[this.at] === 10 || bytes[this.at] === 13) this.at++;
      if (bytes[this.at] === HASH) {
        const batch = this.fast?.read(this.at, this.referenceCount) ?? null;
        if (batch) this.take(batch);
        else this.readInstance();
        continue;
      }
      this.skipSpace();
      if (this.at >= bytes.length)
        this.refuse(
          'truncated',
          `the file ends inside its DATA section, after #${this.ids[this.count - 1] ?? 0}. Export it again; nothing was stored.`,
        );
      if (bytes[this.at] === HASH) continue;
      const from = this.at;
      if (this.readSectionName() === 'ENDSEC') return this.expectSemicolon('after ENDSEC');
      this.refuse(
        this.at >= bytes.length ? 'truncated' : 'unexpected-text',
        'something stands here that is neither an entity nor the end of the DATA section.',
        from,
      );
    }
  }

  private take({ end, ids, starts, ends, keywordOf, referenceStarts, referred }: Batch): void {
    while (this.count + ids.length > this.ids.length) this.grow();
    while (this.referenceCount + referred.length > this.referred.length) this.growReferences();
    this.ids.set(ids, this.count);
    this.starts.set(starts, this.count);
    this.ends.set(ends, this.count);
    this.keywordOf.set(keywordOf, this.count);
    this.referenceStarts.set(referenceStarts, this.count);
    this.referred.set(referred, this.referenceCount);
    this.count += ids.length;
    this.referenceCount += referred.length;
    this.at = end;
  }

  private readInstance(): void {
    const { bytes } = this;
    const id = this.readId();
    let at = this.at;
    if (bytes[at] !== EQUALS) {
      this.skipSpace();
      at = this.at;
      if (bytes[at] !== EQUALS)
        this.refuse(at >= bytes.length ? 'truncated' : 'unexpected-text', `“=” is missing after #${id}.`);
    }
    this.at = ++at;
    const slot = this.addInstance(id);
    if (bytes[at] <= SPACE || bytes[at] === SLASH) {
      this.skipSpace();
      at = this.at;
    }
    if (bytes[at] === OPEN) at = this.readComplex(slot, at);
    else {
      this.keywordOf[slot] = this.readKeyword(slot, at);
      at = this.listAfterKeyword(slot, this.keywordOf[slot]);
      at = this.scanList(slot, at);
    }
    if (bytes[at] !== SEMICOLON) {
      this.at = at;
      this.skipSpace();
      at = this.at;
      if (bytes[at] !== SEMICOLON) this.refuseMissingSemicolon(slot);
    }
    this.ends[slot] = at;
    this.at = at + 1;
  }

  /** Offset of the `(` that follows the keyword just read. */
  private listAfterKeyword(slot: number, keyword: number): number {
    if (this.bytes[this.at] === OPEN) return this.at;
    this.skipSpace();
    if (this.at >= this.bytes.length)
      this.refuse('truncated', `the file ends inside #${this.ids[slot]}. Export it again; nothing was stored.`);
    if (this.bytes[this.at] !== OPEN)
      this.refuse('unexpected-text', `#${this.ids[slot]}: “(” is missing after ${this.table.keywords[keyword]}.`);
    return this.at;
  }

  private refuseMissingSemicolon(slot: number): never {
    if (this.at >= this.bytes.length)
      this.refuse('truncated', `the file ends inside #${this.ids[slot]}. Export it again; nothing was stored.`);
    if (this.bytes[this.at] === CLOSE)
      this.refuse('unbalanced', `#${this.ids[slot]} closes a parenthesis that was never opened.`);
    this.refuse('unbalanced', `the semicolon after #${this.ids[slot]} is missing.`);
  }

  protected override addInstance(id: number, keyword?: string): number {
    if (this.count === this.ids.length) this.grow();
    const slot = this.count++;
    if (id >= NO_NAME && this.ids instanceof Uint32Array) this.widen();
    this.ids[slot] = id;
    this.starts[slot] = this.at;
    this.ends[slot] = this.at;
    this.referenceStarts[slot] = this.referenceCount;
    if (keyword) this.keywordOf[slot] = this.table.indexOf(keyword);
    return slot;
  }

  /** The number after the `#` standing here. */
  protected override readId(): number {
    const from = ++this.at;
    const { bytes } = this;
    let value = 0;
    while (isDigit(bytes[this.at])) value = value * 10 + (bytes[this.at++] - 48);
    if (this.at === from)
      this.refuse(from >= bytes.length ? 'truncated' : 'unexpected-text', 'a number is missing after #.', from - 1);
    if (value > LARGEST_ID)
      this.refuse(
        TOO_LARGE,
        `entity numbers above ${LARGEST_ID} cannot be told apart exactly.`, // the file is read under other names
        from - 1,
      );
    return value;
  }

  private grow(): void {
    const size = this.ids.length * 2;
    const wider = <T extends Float64Array | Uint32Array | Uint16Array>(from: T, to: T): T => (
      to.set(from as never),
      to
    );
    this.ids = wider(this.ids, sameKind(this.ids, size));
    this.starts = wider(this.starts, new Uint32Array(size));
    this.ends = wider(this.ends, new Uint32Array(size));
    this.keywordOf = wider(this.keywordOf, new Uint16Array(size));
    this.referenceStarts = wider(this.referenceStarts, new Uint32Array(size + 1));
  }

  /** Index of the entity name standing at `at`; `this.at` is just after it. */
  private readKeyword(slot: number, at: number): number {
    const { table } = this;
    const index = table.read(at);
    this.at = table.end;
    if (index >= 0) return index;
    if (this.at === at)
      this.refuse(at >= this.bytes.length ? 'truncated' : 'unexpected-text', `#${this.ids[slot]} has no entity name.`);
    this.refuse(
      'unexpected-text',
      `#${this.ids[slot]} has an entity name of ${this.at - at} letters, so this is no product model.`,
      at,
    );
  }

  /**
   * An instance of several partial records from its `(`: its names, and the references of all of them; the offset
   * after it.
   */
  private readComplex(slot: number, from: number): number {
    const { bytes, partial } = this;
    partial.length = 0;
    let hash = 0;
    for (let at = from + 1; ;) {
      if (WORD[bytes[at]] === 0) {
        this.at = at;
        this.skipSpace();
        at = this.at;
        if (bytes[at] === CLOSE) break;
        if (at >= bytes.length)
          this.refuse('truncated', `the file ends inside #${this.ids[slot]}. Export it again; nothing was stored.`);
        if (WORD[bytes[at]] === 0)
          this.refuse(
            'unbalanced',
            `#${this.ids[slot]}: something other than partial records stands between its parentheses.`,
          );
      }
      const index = this.readKeyword(slot, at);
      partial.push(index);
      hash = (Math.imul(hash, 33) + index) | 0;
      at = this.scanList(slot, this.listAfterKeyword(slot, index));
    }
    if (partial.length === 0) this.refuse('unexpected-text', `#${this.ids[slot]} has no entity name.`, from);
    this.keywordOf[slot] = this.table.indexOfComplex(partial, hash);
    return this.at + 1;
  }

  /** From the `(` at `from` to just after the `)` that closes it; records references for `slot` (none for −1). */
  protected override scanList(slot: number, from: number): number {
    const { bytes } = this;
    let { referred, referenceCount } = this;
    const size = bytes.length;
    let depth = 1;
    let at = from + 1;
    while (at < size) {
      const byte = bytes[at];
      if (TELLING[byte] === 0) at++;
      else if (byte === HASH) {
        let id = 0;
        let digit = bytes[++at];
        const first = at;
        while (digit >= 48 && digit <= 57) {
          id = id * 10 + (digit - 48); // in this order: the sum stays exact up to 2⁵³−1
          digit = bytes[++at];
        }
        if (slot < 0) continue;
        if (at === first) this.refuse('unexpected-text', `${this.nameOf(slot)} holds a # without a number.`, at);
        if (referenceCount === referred.length) referred = this.growReferences();
        if (id >= NO_NAME && referred instanceof Uint32Array) {
          this.widen();
          referred = this.referred;
        }
        referred[referenceCount++] = id;
      } else if (byte === OPEN) {
        depth++;
        at++;
      } else if (byte === CLOSE) {
        at++;
        if (--depth > 0) continue;
        this.referenceCount = referenceCount;
        return at;
      } else if (byte === QUOTE || byte === DOUBLE_QUOTE) at = this.skipString(at);
      else if (byte === SEMICOLON)
        this.refuse('unbalanced', `${this.nameOf(slot)} ends before its parentheses are closed.`, at);
      else if (byte === EQUALS && slot >= 0)
        this.refuse('unbalanced', `${this.nameOf(slot)} holds “=”: the semicolon before it is missing.`, at);
      else if (byte === SLASH && bytes[at + 1] === STAR) {
        this.at = at;
        this.skipComment();
        at = this.at;
      } else at++;
    }
    this.at = size;
    this.refuse('truncated', `the file ends inside ${this.nameOf(slot)}. Export it again; nothing was stored.`, from);
  }

  private nameOf(slot: number): string {
    return slot < 0 ? 'an entity' : `#${this.ids[slot]}`;
  }

  private growReferences(): Names {
    const wider = sameKind(this.referred, this.referred.length * 2);
    wider.set(this.referred);
    return (this.referred = wider);
  }

  /** Numbers beyond 32 bits have come up. */
  private widen(): void {
    if (this.ids instanceof Uint32Array) this.ids = Float64Array.from(this.ids);
    if (this.referred instanceof Uint32Array) this.referred = Float64Array.from(this.referred);
  }
}

const sameKind = (names: Names, size: number): Names =>
  names instanceof Uint32Array ? new Uint32Array(size) : new Float64Array(size);
