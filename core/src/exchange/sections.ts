import { Refusal } from '../assembly/index.ts';
import { Cursor, DOUBLE_QUOTE, HASH, LESS, MORE, OPEN, QUOTE, SEMICOLON, SLASH, SPACE, STAR } from './cursor.ts';
import { describeStart } from './foreign.ts';

/**
 * Walks the sections of an exchange structure (ISO 10303-21 edition 3): header, anchors, references, data, signatures.
 * What a data section holds is read by who extends it.
 */
export abstract class Sections extends Cursor {
  protected readonly header = new Map<string, readonly [number, number]>();
  protected readonly external = new Map<number, string>();
  protected readonly remarks: { code: string; message: string }[] = [];

  /** Reads a data section up to and with its ENDSEC. */
  protected abstract readData(): void;
  /** The number after the `#` standing here. */
  protected abstract readId(): number;
  /** Slot of a new instance. */
  protected abstract addInstance(id: number, keyword?: string): number;
  /** Passes over the list that begins at `from`; offset just after it. @param slot −1 where it belongs to none */
  protected abstract scanList(slot: number, from: number): number;

  protected readStart(): void {
    const { bytes } = this;
    if (bytes.length === 0)
      throw new Refusal(
        'empty-file',
        'The file is empty (0 bytes). Export it again and check that it was copied whole.',
      );
    if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) {
      this.at = 3;
      this.remarks.push({
        code: 'byte-order-mark',
        message: 'The file begins with a byte order mark; it was skipped.',
      });
    }
    this.skipSpace();
    if (!this.word(12).toUpperCase().startsWith('ISO-10303-21')) {
      throw new Refusal(
        'not-step',
        `This is not a STEP file: it must begin with “ISO-10303-21;”, but begins with ${describeStart(bytes)}.`,
      );
    }
    this.at += 12;
    this.expectSemicolon('after ISO-10303-21');
  }

  protected readSections(): void {
    let sections = 0;
    for (;;) {
      this.skipSpace();
      this.skipPadding();
      if (this.at >= this.bytes.length) {
        if (sections === 0)
          this.refuse('truncated', 'the file ends before its DATA section. Export it again; nothing was stored.');
        this.remarks.push({
          code: 'no-end-mark',
          message: 'The file has no END-ISO-10303-21 mark after its last section; every section is complete.',
        });
        return;
      }
      const keyword = this.readSectionName();
      if (keyword === 'END-ISO-10303-21') {
        this.expectSemicolon(`after ${keyword}`);
        this.readRest();
        return;
      }
      this.readSection(keyword);
      if (keyword === 'DATA') sections++;
    }
  }

  private readSection(keyword: string): void {
    if (keyword === 'DATA') {
      this.skipParameters();
      this.expectSemicolon('after DATA');
      this.readData();
    } else if (keyword === 'HEADER') {
      this.expectSemicolon('after HEADER');
      this.readHeader();
    } else if (keyword === 'REFERENCE') {
      this.expectSemicolon('after REFERENCE');
      this.readReferenceSection();
    } else if (keyword === 'ANCHOR') {
      this.skipSection(keyword);
    } else if (keyword === 'SIGNATURE') {
      this.skipSignature();
    } else {
      this.refuse(
        'unexpected-text',
        `“${keyword.slice(0, 30) || String.fromCharCode(this.bytes[this.at])}” stands where a section should begin. The file is damaged; export it again.`,
      );
    }
  }

  /** Behind the end mark stand signatures only (ISO 10303-21:2016, exchange structure). */
  private readRest(): void {
    for (let signatures = 0; ; signatures++) {
      this.skipSpace();
      this.skipPadding();
      this.skipSpace();
      const from = this.at;
      if (from >= this.bytes.length) {
        if (signatures > 0)
          this.remarks.push({
            code: 'signed',
            message: `The file is signed (${signatures === 1 ? 'one signature' : `${signatures} signatures`}); the program does not check signatures.`,
          });
        return;
      }
      if (this.readSectionName() !== 'SIGNATURE') {
        this.at = from;
        this.refuse(
          'text-after-end',
          'there is text after END-ISO-10303-21. Two files may have been joined; nothing was stored.',
        );
      }
      this.skipSignature();
    }
  }

  /** Zero bytes and end-of-file marks (26) at the very end: a file copied in whole blocks. */
  private skipPadding(): void {
    const { bytes } = this;
    let at = this.at;
    while (at < bytes.length && (bytes[at] === 0 || bytes[at] === 26 || bytes[at] <= SPACE)) at++;
    if (at < bytes.length || at === this.at) return;
    this.at = at;
    this.remarks.push({
      code: 'padding',
      message: 'The file is filled up with empty bytes after its last section; they were skipped.',
    });
  }

  private skipParameters(): void {
    this.skipSpace();
    if (this.bytes[this.at] === OPEN) this.at = this.scanList(-1, this.at);
  }

  private skipSection(name: string): void {
    this.expectSemicolon(`after ${name}`);
    while (!this.atSectionEnd(name)) this.skipStatement(name);
  }

  /** Base64 text without any structure, up to the next ENDSEC with its semicolon, which Base64 does not have. */
  private skipSignature(): void {
    const { bytes } = this;
    for (let at = bytes.indexOf(69, this.at); at >= 0; at = bytes.indexOf(69, at + 1)) {
      // 69: E
      this.at = at;
      if (this.word(6).toUpperCase() !== 'ENDSEC') continue;
      this.at += 6;
      this.skipSpace();
      if (bytes[this.at] === SEMICOLON) return void this.at++;
    }
    this.at = bytes.length;
    this.refuse('truncated', 'the SIGNATURE section has no ENDSEC. Export the file again; nothing was stored.');
  }

  /** `#10=<other.step#anchor>;`: instances that this file uses and another one defines. */
  private readReferenceSection(): void {
    while (!this.atSectionEnd('REFERENCE')) {
      const from = this.at;
      const id = this.bytes[this.at] === HASH ? this.readId() : -1;
      this.skipStatement('REFERENCE');
      if (id < 0) continue; // a value defined elsewhere (@12): no entity
      const written = new TextDecoder().decode(this.bytes.subarray(from, Math.min(this.at, from + 4000)));
      this.external.set(this.addInstance(id, '!EXTERNAL'), /<([^>]*)>/.exec(written)?.[1] ?? '');
    }
  }

  private atSectionEnd(name: string): boolean {
    this.skipSpace();
    if (this.at >= this.bytes.length)
      this.refuse('truncated', `the ${name} section has no ENDSEC. Export the file again; nothing was stored.`);
    const from = this.at;
    if (this.readSectionName() === 'ENDSEC') {
      this.expectSemicolon('after ENDSEC');
      return true;
    }
    this.at = from;
    return false;
  }

  /** To just after the next semicolon outside texts, comments and resource names in angle brackets. */
  private skipStatement(section: string): void {
    const { bytes } = this;
    for (const from = this.at; this.at < bytes.length;) {
      const byte = bytes[this.at];
      if (byte === QUOTE || byte === DOUBLE_QUOTE) this.at = this.endOfString(this.at);
      else if (byte === LESS) {
        const end = bytes.indexOf(MORE, this.at);
        if (end < 0)
          this.refuse('unbalanced', `the ${section} section opens a name with “<” that is never closed.`, from);
        this.at = end + 1;
      } else if (byte === SLASH && bytes[this.at + 1] === STAR) this.skipComment();
      else {
        this.at++;
        if (byte === SEMICOLON) return;
      }
    }
    this.refuse('truncated', `the file ends inside its ${section} section. Export it again; nothing was stored.`);
  }

  private readHeader(): void {
    for (;;) {
      this.skipSpace();
      if (this.at >= this.bytes.length)
        this.refuse('truncated', 'the file ends inside its HEADER section. Export it again; nothing was stored.');
      const keyword = this.readSectionName();
      if (keyword === 'ENDSEC') return this.expectSemicolon('after ENDSEC');
      if (!keyword) this.refuse('unexpected-text', 'the HEADER section holds something that is no header entity.');
      this.skipSpace();
      const from = this.at;
      if (this.bytes[from] !== OPEN)
        this.refuse(
          from >= this.bytes.length ? 'truncated' : 'unexpected-text',
          `“(” is missing after ${keyword} in the HEADER section.`,
        );
      this.at = this.scanList(-1, from);
      this.header.set(keyword, [from, this.at]);
      this.expectSemicolon(`after ${keyword}`);
    }
  }
}
