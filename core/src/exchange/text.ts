/** How bytes of 0x80 and above are read. */
type CodingName = 'utf-8' | 'windows-1252';

const decoders = { 'utf-8': new TextDecoder('utf-8'), 'windows-1252': new TextDecoder('windows-1252') };

/** UTF-8 where the whole file is valid UTF-8, else Windows-1252; looked into only when a text has such bytes. */
export class TextCoding {
  /** Null as long as no text needed it. */
  name: CodingName | null = null;
  /** Offsets of texts, as far as they were asked for, with a backslash that begins no directive of the standard. */
  readonly broken = new Set<number>();
  constructor(private readonly bytes: Uint8Array) {}

  decode(text: Uint8Array): string {
    return decoders[(this.name ??= isUtf8(this.bytes) ? 'utf-8' : 'windows-1252')].decode(text);
  }
}

const pages = new Map<string, TextDecoder>();

const latin = new TextDecoder('iso-8859-1');

/**
 * Texts up to this many bytes are put together from a list that is kept: a view on the bytes would cost more than the
 * text.
 */
const SHORT = 64;
const lists = Array.from({ length: SHORT + 1 }, (_, size) => new Array<number>(size).fill(0));

/** Bytes below 0x80 as text. */
export function asciiText(bytes: Uint8Array, from: number, to: number): string {
  const size = to - from;
  if (size > SHORT) return latin.decode(bytes.subarray(from, to));
  const codes = lists[size];
  for (let at = 0; at < size; at++) codes[at] = bytes[from + at];
  return String.fromCharCode.apply(null, codes);
}

/** In pieces, so that a large file is not held a second time as text. */
function isUtf8(bytes: Uint8Array): boolean {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  const piece = 1 << 20;
  try {
    for (let at = 0; at < bytes.length; at += piece) decoder.decode(bytes.subarray(at, at + piece), { stream: true });
    decoder.decode();
    return true;
  } catch {
    return false;
  }
}

/**
 * The text between two quotes, with the control directives of ISO 10303-21 (string type, edition 3) resolved:
 * doubled quotes and backslashes, \S\ with \P.\ pages of ISO 8859, \X\ bytes, \X2\ and \X4\ code units.
 * A directive that is not complete stays as written, and is noted.
 */
export function decodeText(bytes: Uint8Array, from: number, to: number, coding: TextCoding): string {
  let plain = true,
    foreign = false;
  for (let at = from; at < to; at++) {
    const byte = bytes[at];
    if (byte >= 0x80) foreign = true;
    else if (byte === 92 || byte === 39 || byte < 32) plain = false;
  }
  const text = foreign ? coding.decode(bytes.subarray(from, to)) : asciiText(bytes, from, to);
  return plain ? text : resolveDirectives(text, () => void coding.broken.add(from));
}

const DIRECTIVE =
  /''|\\\\|\r|\n|\\P([A-Ia-i])\\|\\S\\([\s\S])|\\X\\([0-9A-Fa-f]{2})|\\X2\\((?:[0-9A-Fa-f]{4})*)\\X0\\|\\X4\\((?:[0-9A-Fa-f]{8})*)\\X0\\|\\N\\|\\T\\|\\/g;

function resolveDirectives(text: string, onBroken: () => void): string {
  let page = 'A';
  return text.replace(
    DIRECTIVE,
    (all: string, newPage?: string, shifted?: string, byte?: string, two?: string, four?: string) => {
      if (all === "''") return "'";
      if (all === '\\\\') return '\\';
      if (all === '\\') {
        onBroken();
        return all;
      }
      if (all === '\\N\\') return '\n';
      if (all === '\\T\\') return '\t';
      if (newPage !== undefined) {
        page = newPage.toUpperCase();
        return '';
      }
      if (shifted !== undefined) return fromPage(page, shifted.charCodeAt(0) + 128);
      if (byte !== undefined) return String.fromCharCode(parseInt(byte, 16));
      if (two !== undefined)
        return codeUnits(two, 4)
          .map((unit) => String.fromCharCode(unit))
          .join('');
      if (four !== undefined)
        return codeUnits(four, 8)
          .map((unit) => (unit <= 0x10ffff ? String.fromCodePoint(unit) : '\ufffd'))
          .join('');
      return ''; // a line end inside a text is a break of the file, not of the text
    },
  );
}

function codeUnits(hex: string, digits: number): number[] {
  const units: number[] = [];
  for (let at = 0; at < hex.length; at += digits) units.push(parseInt(hex.slice(at, at + digits), 16));
  return units;
}

/** Page A is ISO 8859-1, B is 8859-2 and so on; 8859-1 equals the code points themselves. */
function fromPage(page: string, code: number): string {
  if (page === 'A' || code > 255) return String.fromCharCode(code);
  const label = `iso-8859-${page.charCodeAt(0) - 64}`;
  let decoder = pages.get(label);
  if (!decoder) pages.set(label, (decoder = new TextDecoder(label)));
  return decoder.decode(Uint8Array.of(code));
}
