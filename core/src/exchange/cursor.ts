import { Refusal } from '../assembly/index.ts';
import { lineAt } from './lines.ts';

export const SPACE = 32,
  QUOTE = 39,
  DOUBLE_QUOTE = 34,
  OPEN = 40,
  CLOSE = 41,
  STAR = 42,
  COMMA = 44,
  SLASH = 47,
  SEMICOLON = 59,
  LESS = 60,
  EQUALS = 61,
  MORE = 62,
  HASH = 35;
export const isDigit = (byte: number) => byte >= 48 && byte <= 57;
const isLetter = (byte: number) => (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122) || byte === 95;

/** A place in an exchange structure, and what is passed over there: white space, comments, texts. */
export class Cursor {
  protected at = 0;

  constructor(protected readonly bytes: Uint8Array) {}

  protected refuse(code: string, what: string, offset = this.at): never {
    throw new Refusal(code, `Line ${lineAt(this.bytes, offset)}: ${what}`);
  }

  protected word(size: number): string {
    return String.fromCharCode(...this.bytes.subarray(this.at, this.at + size));
  }

  protected readSectionName(): string {
    const from = this.at;
    while (
      this.at < this.bytes.length &&
      (isLetter(this.bytes[this.at]) || isDigit(this.bytes[this.at]) || this.bytes[this.at] === 45)
    )
      this.at++;
    return String.fromCharCode(...this.bytes.subarray(from, Math.min(this.at, from + 40))).toUpperCase();
  }

  /** White space and comments. */
  protected skipSpace(): void {
    const { bytes } = this;
    for (;;) {
      while (this.at < bytes.length && bytes[this.at] <= SPACE && bytes[this.at] !== 0 && bytes[this.at] !== 26)
        this.at++;
      if (bytes[this.at] !== SLASH || bytes[this.at + 1] !== STAR) return;
      this.skipComment();
    }
  }

  protected skipComment(): void {
    const from = this.at;
    const { bytes } = this;
    let at = this.at + 2;
    while (at < bytes.length && !(bytes[at] === STAR && bytes[at + 1] === SLASH)) at++;
    if (at >= bytes.length) this.refuse('open-comment', 'a comment opened here with /* is never closed.', from);
    this.at = at + 2;
  }

  /**
   * From an opening quote to just after the closing one; a doubled quote reads as two texts, which ends alike. A text
   * is followed by a comma or a parenthesis: where it is not, a quote is missing before, and what looks like a text
   * may have swallowed whole entities.
   */
  protected skipString(from: number): number {
    const { bytes } = this;
    const end = this.endOfString(from);
    const next = bytes[end];
    if (next !== COMMA && next !== CLOSE && next !== bytes[from]) this.checkAfterString(from, end);
    return end;
  }

  /** Just after the closing quote of the text that opens here, whatever follows it. */
  protected endOfString(from: number): number {
    const { bytes } = this;
    const quote = bytes[from];
    let end = from + 1;
    const near = Math.min(bytes.length, from + 48);
    while (end < near && bytes[end] !== quote) end++;
    if (end === near && bytes[end] !== quote) end = bytes.indexOf(quote, near);
    if (end < 0 || end >= bytes.length)
      this.refuse(
        'open-string',
        'a text opened here with a quote is never closed; the file is cut off or damaged.',
        from,
      );
    return end + 1;
  }

  protected checkAfterString(from: number, at: number): void {
    const back = this.at;
    this.at = at;
    this.skipSpace();
    const next = this.bytes[this.at];
    // A semicolon ends values of an anchor section; inside an entity it is found out where it stands.
    if (next !== COMMA && next !== CLOSE && next !== SEMICOLON && this.at < this.bytes.length)
      this.refuse(
        'unbalanced-quotes',
        'a text that begins here runs on into what follows it: a quote is missing or doubled wrongly. The file is damaged; export it again.',
        from,
      );
    this.at = back;
  }

  protected expectSemicolon(where: string): void {
    this.skipSpace();
    if (this.bytes[this.at] !== SEMICOLON)
      this.refuse(this.at >= this.bytes.length ? 'truncated' : 'unexpected-text', `a semicolon is missing ${where}.`);
    this.at++;
  }
}
