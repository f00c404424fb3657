import { Refusal } from '../assembly/index.ts';

/**
 * Where every entity instance of an exchange structure begins and ends, found in one pass over the bytes.
 * Nothing inside the parentheses is parsed until it is asked for.
 */
export interface Index {
  readonly bytes: Uint8Array;
  readonly count: number;
  /** Entity instance name (the number after `#`) per instance, in file order. */
  readonly ids: Float64Array;
  /** Byte offset just after `=`, and of the closing `;`, per instance. */
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  /** Index into `keywords` per instance; a complex instance has its partial names joined by `+`. */
  readonly keywordOf: Uint16Array;
  readonly keywords: readonly string[];
  /** Header instances: keyword and the byte range of the parameter list without its outer parentheses. */
  readonly header: ReadonlyMap<string, readonly [number, number]>;
  /** Instance with this entity instance name, or -1. */
  readonly find: (id: number) => number;
  /** Said about the exchange structure itself: no end mark and the like. */
  readonly remarks: readonly { code: string; message: string }[];
}

const SPACE = 32, QUOTE = 39, DOUBLE_QUOTE = 34, OPEN = 40, CLOSE = 41, STAR = 42, SLASH = 47, SEMICOLON = 59, EQUALS = 61, HASH = 35;
const isDigit = (byte: number) => byte >= 48 && byte <= 57;
const isLetter = (byte: number) => (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122) || byte === 95;

/** Entities that only colour or arrange the picture: a missing one of these changes no line of a bill. */
const PRESENTATION = /STYLE|COLOUR|PRESENTATION|LAYER|INVISIBILITY|CAMERA|DRAUGHTING|ANNOTATION|VIEW_VOLUME/;

/**
 * Reads the exchange structure of ISO 10303-21 (edition 3): header, data sections, and skips anchor, reference and
 * signature sections.
 * @throws Refusal with line or entity, where the text is not such a file, is cut off, names an instance twice or refers
 *   to one that is missing
 */
export function scanExchangeStructure(bytes: Uint8Array): Index {
  return new Scanner(bytes).run();
}

/** Line from 1 of a byte offset; counted only when a sentence needs it. */
export function lineAt(bytes: Uint8Array, offset: number): number {
  let line = 1;
  for (let at = 0; at < offset && at < bytes.length; at++) if (bytes[at] === 10) line++;
  return line;
}

class Scanner {
  private at = 0;
  private count = 0;
  private ids = new Float64Array(1 << 14);
  private starts = new Uint32Array(1 << 14);
  private ends = new Uint32Array(1 << 14);
  private keywordOf = new Uint16Array(1 << 14);
  private references = new Float64Array(1 << 15);
  private referenceOwner = new Uint32Array(1 << 15);
  private referenceCount = 0;
  private readonly keywords: string[] = [];
  private readonly keywordByHash = new Map<number, number[]>();
  private readonly header = new Map<string, readonly [number, number]>();
  private readonly remarks: { code: string; message: string }[] = [];

  constructor(private readonly bytes: Uint8Array) {}

  run(): Index {
    this.readStart();
    this.readSections();
    const find = this.makeFinder();
    this.checkReferences(find);
    return {
      bytes: this.bytes, count: this.count, ids: this.ids.subarray(0, this.count), starts: this.starts, ends: this.ends,
      keywordOf: this.keywordOf, keywords: this.keywords, header: this.header, find, remarks: this.remarks,
    };
  }

  private refuse(code: string, what: string, offset = this.at): never {
    throw new Refusal(code, `Line ${lineAt(this.bytes, offset)}: ${what}`);
  }

  private readStart(): void {
    const { bytes } = this;
    if (bytes.length === 0) throw new Refusal('empty-file', 'The file is empty (0 bytes). Export it again and check that it was copied whole.');
    if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) {
      this.at = 3;
      this.remarks.push({ code: 'byte-order-mark', message: 'The file begins with a byte order mark; it was skipped.' });
    }
    this.skipSpace();
    const mark = this.word(14).toUpperCase();
    if (!mark.startsWith('ISO-10303-21')) {
      throw new Refusal('not-step', `This is not a STEP file: it must begin with “ISO-10303-21;”, but begins with ${describeStart(bytes)}.`);
    }
    this.at += 12;
    this.expectSemicolon('after ISO-10303-21');
  }

  private word(size: number): string {
    return String.fromCharCode(...this.bytes.subarray(this.at, this.at + size));
  }

  private readSections(): void {
    let sections = 0;
    for (;;) {
      this.skipSpace();
      if (this.at >= this.bytes.length) {
        if (sections === 0) this.refuse('truncated', 'the file ends before its DATA section. Export it again; nothing was stored.');
        this.remarks.push({ code: 'no-end-mark', message: 'The file has no END-ISO-10303-21 mark after its last section; every section is complete.' });
        return;
      }
      const keyword = this.readSectionName();
      if (keyword === 'END-ISO-10303-21') {
        this.expectSemicolon(`after ${keyword}`);
        this.checkRest();
        return;
      }
      if (keyword === 'HEADER') {
        this.expectSemicolon('after HEADER');
        this.readHeader();
      } else if (keyword === 'DATA') {
        this.skipParameters();
        this.expectSemicolon('after DATA');
        this.readData();
        sections++;
      } else if (keyword === 'ANCHOR' || keyword === 'REFERENCE' || keyword === 'SIGNATURE') {
        this.skipSection(keyword);
      } else {
        this.refuse('unexpected-text', `“${keyword.slice(0, 30) || String.fromCharCode(this.bytes[this.at])}” stands where a section should begin. The file is damaged; export it again.`);
      }
    }
  }

  private readSectionName(): string {
    const from = this.at;
    while (this.at < this.bytes.length && (isLetter(this.bytes[this.at]) || isDigit(this.bytes[this.at]) || this.bytes[this.at] === 45)) this.at++;
    return String.fromCharCode(...this.bytes.subarray(from, Math.min(this.at, from + 40))).toUpperCase();
  }

  private checkRest(): void {
    this.skipSpace();
    while (this.at < this.bytes.length && (this.bytes[this.at] === 0 || this.bytes[this.at] === 26)) this.at++;
    this.skipSpace();
    if (this.at < this.bytes.length) this.refuse('text-after-end', 'there is text after END-ISO-10303-21. Two files may have been joined; nothing was stored.');
  }

  /** White space and comments. */
  private skipSpace(): void {
    const { bytes } = this;
    for (;;) {
      while (this.at < bytes.length && bytes[this.at] <= SPACE && bytes[this.at] !== 0) this.at++;
      if (bytes[this.at] !== SLASH || bytes[this.at + 1] !== STAR) return;
      this.skipComment();
    }
  }

  private skipComment(): void {
    const from = this.at;
    const { bytes } = this;
    let at = this.at + 2;
    while (at < bytes.length && !(bytes[at] === STAR && bytes[at + 1] === SLASH)) at++;
    if (at >= bytes.length) this.refuse('open-comment', 'a comment opened here with /* is never closed.', from);
    this.at = at + 2;
  }

  /** From an opening quote to just after the closing one; a doubled quote reads as two strings, which ends alike. */
  private skipString(): void {
    const from = this.at;
    const end = this.bytes.indexOf(this.bytes[from], from + 1);
    if (end < 0) this.refuse('open-string', 'a text opened here with a quote is never closed; the file is cut off or damaged.', from);
    this.at = end + 1;
  }

  private expectSemicolon(where: string): void {
    this.skipSpace();
    if (this.bytes[this.at] !== SEMICOLON) this.refuse(this.at >= this.bytes.length ? 'truncated' : 'unexpected-text', `a semicolon is missing ${where}.`);
    this.at++;
  }

  private skipParameters(): void {
    this.skipSpace();
    if (this.bytes[this.at] === OPEN) this.scanBody(-1, CLOSE);
  }

  private skipSection(name: string): void {
    this.expectSemicolon(`after ${name}`);
    for (;;) {
      this.skipSpace();
      if (this.at >= this.bytes.length) this.refuse('truncated', `the ${name} section has no ENDSEC. Export the file again; nothing was stored.`);
      if (this.readSectionName() === 'ENDSEC') return this.expectSemicolon('after ENDSEC');
      this.scanBody(-1, SEMICOLON);
      this.at++;
    }
  }

  private readHeader(): void {
    for (;;) {
      this.skipSpace();
      if (this.at >= this.bytes.length) this.refuse('truncated', 'the file ends inside its HEADER section. Export it again; nothing was stored.');
      const keyword = this.readSectionName();
      if (keyword === 'ENDSEC') return this.expectSemicolon('after ENDSEC');
      if (!keyword) this.refuse('unexpected-text', 'the HEADER section holds something that is no header entity.');
      this.skipSpace();
      const from = this.at;
      this.scanBody(-1, SEMICOLON);
      this.header.set(keyword, [from, this.at]);
      this.at++;
    }
  }

  private readData(): void {
    const { bytes } = this;
    for (;;) {
      this.skipSpace();
      if (this.at >= bytes.length) this.refuse('truncated', `the file ends inside its DATA section, after #${this.ids[this.count - 1] ?? 0}. Export it again; nothing was stored.`);
      if (bytes[this.at] === HASH) this.readInstance();
      else {
        const from = this.at;
        if (this.readSectionName() === 'ENDSEC') return this.expectSemicolon('after ENDSEC');
        this.refuse(this.at >= bytes.length ? 'truncated' : 'unexpected-text', 'something stands here that is neither an entity nor the end of the DATA section.', from);
      }
    }
  }

  private readInstance(): void {
    const { bytes } = this;
    const from = this.at++;
    const id = this.readNumber();
    if (id < 0) this.refuse('unexpected-text', 'a number is missing after #.', from);
    this.skipSpace();
    if (bytes[this.at] !== EQUALS) this.refuse(this.at >= bytes.length ? 'truncated' : 'unexpected-text', `“=” is missing after #${id}.`);
    this.at++;
    if (this.count === this.ids.length) this.grow();
    const slot = this.count++;
    this.ids[slot] = id;
    this.starts[slot] = this.at;
    this.skipSpace();
    this.keywordOf[slot] = bytes[this.at] === OPEN ? this.readComplexKeyword(slot) : this.readKeyword(id);
    this.scanBody(slot, SEMICOLON);
    this.ends[slot] = this.at++;
  }

  private readNumber(): number {
    const from = this.at;
    let value = 0;
    while (isDigit(this.bytes[this.at])) value = value * 10 + this.bytes[this.at++] - 48;
    return this.at === from ? -1 : value;
  }

  private grow(): void {
    const size = this.ids.length * 2;
    const wider = <T extends Float64Array | Uint32Array | Uint16Array>(from: T, to: T): T => (to.set(from as never), to);
    this.ids = wider(this.ids, new Float64Array(size));
    this.starts = wider(this.starts, new Uint32Array(size));
    this.ends = wider(this.ends, new Uint32Array(size));
    this.keywordOf = wider(this.keywordOf, new Uint16Array(size));
  }

  private readKeyword(id: number): number {
    const { bytes } = this;
    const from = this.at;
    let hash = 2166136261;
    for (; ; this.at++) {
      const byte = bytes[this.at];
      if (!isLetter(byte) && !isDigit(byte) && byte !== 33) break; // 33: user-defined keywords begin with !
      hash = Math.imul(hash ^ (byte & 0xdf), 16777619);
    }
    if (this.at === from) this.refuse(from >= bytes.length ? 'truncated' : 'unexpected-text', `#${id} has no entity name.`);
    const known = this.keywordByHash.get(hash);
    if (known) {
      for (const index of known) if (this.sameWord(this.keywords[index], from, this.at)) return index;
    }
    return this.addKeyword(String.fromCharCode(...bytes.subarray(from, this.at)).toUpperCase(), hash);
  }

  private sameWord(word: string, from: number, to: number): boolean {
    if (word.length !== to - from) return false;
    for (let at = from; at < to; at++) {
      const byte = this.bytes[at];
      if (word.charCodeAt(at - from) !== (byte >= 97 && byte <= 122 ? byte - 32 : byte)) return false;
    }
    return true;
  }

  private addKeyword(word: string, hash: number): number {
    const index = this.keywords.length;
    if (index > 65535) throw new Refusal('too-many-names', 'The file uses more than 65535 different entity names, so it is no product model.');
    this.keywords.push(word);
    this.keywordByHash.set(hash, [...(this.keywordByHash.get(hash) ?? []), index]);
    return index;
  }

  /** The partial names of a complex instance; the scan over its body happens again after this. */
  private readComplexKeyword(slot: number): number {
    const from = this.at;
    const names: string[] = [];
    let hash = 5381;
    this.at++;
    for (;;) {
      this.skipSpace();
      if (!isLetter(this.bytes[this.at])) break;
      const index = this.readKeyword(this.ids[slot]);
      names.push(this.keywords[index]);
      hash = (Math.imul(hash, 33) + index) | 0;
      this.skipSpace();
      if (this.bytes[this.at] !== OPEN) this.refuse('unexpected-text', `#${this.ids[slot]}: “(” is missing after ${this.keywords[index]}.`);
      this.scanBody(-1, CLOSE);
    }
    this.at = from;
    const joined = names.join('+');
    for (const index of this.keywordByHash.get(hash) ?? []) if (this.keywords[index] === joined) return index;
    return this.addKeyword(joined, hash);
  }

  /**
   * Moves to the `;` that ends the instance, or past the `)` that closes the list standing here; records references
   * for `slot` (none for -1).
   */
  private scanBody(slot: number, until: number): void {
    const { bytes } = this;
    const from = this.at;
    const size = bytes.length;
    let depth = 0;
    let at = from;
    while (at < size) {
      const byte = bytes[at];
      if (byte === HASH) {
        let id = 0;
        let digit = bytes[++at];
        const first = at;
        while (digit >= 48 && digit <= 57) {
          id = id * 10 + digit - 48;
          digit = bytes[++at];
        }
        if (slot >= 0 && at > first) this.addReference(slot, id);
      } else if (byte === QUOTE || byte === DOUBLE_QUOTE) {
        this.at = at;
        this.skipString();
        at = this.at;
      } else if (byte === OPEN) {
        depth++;
        at++;
      } else if (byte === CLOSE) {
        at++;
        if (--depth < 0) this.refuse('unbalanced', `${this.nameOf(slot)} closes a parenthesis that was never opened.`, at);
        if (depth === 0 && until === CLOSE) {
          this.at = at;
          return;
        }
      } else if (byte === SEMICOLON) {
        if (depth !== 0) this.refuse('unbalanced', `${this.nameOf(slot)} ends before its parentheses are closed.`, at);
        this.at = at;
        return;
      } else if (byte === EQUALS && slot >= 0) {
        this.refuse('unbalanced', `${this.nameOf(slot)} holds “=”: the semicolon before it is missing.`, at);
      } else if (byte === SLASH && bytes[at + 1] === STAR) {
        this.at = at;
        this.skipComment();
        at = this.at;
      } else at++;
    }
    this.refuse('truncated', `the file ends inside ${this.nameOf(slot)}. Export it again; nothing was stored.`, from);
  }

  private nameOf(slot: number): string {
    return slot < 0 ? 'an entity' : `#${this.ids[slot]}`;
  }

  private addReference(slot: number, id: number): void {
    if (this.referenceCount === this.references.length) {
      const ids = new Float64Array(this.referenceCount * 2);
      ids.set(this.references);
      this.references = ids;
      const owners = new Uint32Array(this.referenceCount * 2);
      owners.set(this.referenceOwner);
      this.referenceOwner = owners;
    }
    this.references[this.referenceCount] = id;
    this.referenceOwner[this.referenceCount++] = slot;
  }

  /** Writers number densely, so an array indexed by the number serves nearly always; a map serves the rest. */
  private makeFinder(): (id: number) => number {
    let highest = 0;
    for (let slot = 0; slot < this.count; slot++) if (this.ids[slot] > highest) highest = this.ids[slot];
    const twice = (slot: number, id: number) =>
      this.refuse('duplicate-id', `#${id} is defined twice. Which one counts cannot be known, so the file is refused.`, this.starts[slot]);
    if (highest <= this.count * 8 + 65536) {
      const slots = new Int32Array(highest + 1).fill(-1);
      for (let slot = 0; slot < this.count; slot++) {
        const id = this.ids[slot];
        if (slots[id] >= 0) twice(slot, id);
        slots[id] = slot;
      }
      return (id) => (id <= highest ? slots[id] : -1);
    }
    const slots = new Map<number, number>();
    for (let slot = 0; slot < this.count; slot++) {
      if (slots.has(this.ids[slot])) twice(slot, this.ids[slot]);
      slots.set(this.ids[slot], slot);
    }
    return (id) => slots.get(id) ?? -1;
  }

  private checkReferences(find: (id: number) => number): void {
    const unstyled = new Set<number>();
    for (let at = 0; at < this.referenceCount; at++) {
      const id = this.references[at];
      if (find(id) >= 0) continue;
      const owner = this.referenceOwner[at];
      const keyword = this.keywords[this.keywordOf[owner]];
      if (!PRESENTATION.test(keyword)) {
        this.refuse('dangling-reference', `#${this.ids[owner]} (${keyword}) refers to #${id}, which the file does not define. Parts may be missing, so the file is refused; export it again.`, this.starts[owner]);
      }
      unstyled.add(owner);
    }
    if (unstyled.size > 0) {
      const [first] = unstyled;
      this.remarks.push({ code: 'dangling-style', message: `${unstyled.size} entities that give colours or layers refer to something missing (first: #${this.ids[first]}); they were left out.` });
    }
  }
}

function describeStart(bytes: Uint8Array): string {
  const known: readonly [readonly number[], string][] = [
    [[0x89, 0x50, 0x4e, 0x47], 'the mark of a PNG picture'],
    [[0xff, 0xd8, 0xff], 'the mark of a JPEG picture'],
    [[0x50, 0x4b, 3, 4], 'the mark of a ZIP archive'],
    [[0x25, 0x50, 0x44, 0x46], 'the mark of a PDF document'],
    [[0x1f, 0x8b], 'the mark of a gzip archive'],
  ];
  for (const [mark, name] of known) if (mark.every((byte, at) => bytes[at] === byte)) return name;
  const start = [...bytes.subarray(0, 20)];
  const text = start.map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : ' ')).join('').trim();
  return start.some((byte) => byte === 0) || !text ? 'binary data' : `“${text}”`;
}
