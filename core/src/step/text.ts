/** How bytes of 0x80 and above are read: UTF-8 where the whole file is valid UTF-8, else Windows-1252. */
export type TextCoding = 'utf-8' | 'windows-1252';

const decoders = { 'utf-8': new TextDecoder('utf-8'), 'windows-1252': new TextDecoder('windows-1252') };
const pages = new Map<string, TextDecoder>();

const latin = new TextDecoder('latin1');

/** Bytes below 0x80 as text. */
export function asciiText(bytes: Uint8Array, from: number, to: number): string {
  // apply, not spread: spreading a typed array walks its iterator and is many times slower. Arguments must fit the stack.
  return to - from < 4000 ? String.fromCharCode.apply(null, bytes.subarray(from, to) as unknown as number[]) : latin.decode(bytes.subarray(from, to));
}

/** Whether the file holds bytes of 0x80 and above, and how they must be read. */
export function detectCoding(bytes: Uint8Array): { coding: TextCoding; foreign: boolean } {
  const foreign = hasHighBytes(bytes);
  if (!foreign) return { coding: 'utf-8', foreign };
  return { coding: isUtf8(bytes) ? 'utf-8' : 'windows-1252', foreign };
}

/** Thirty-two bytes at a time. */
function hasHighBytes(bytes: Uint8Array): boolean {
  const head = Math.min(bytes.length, (4 - (bytes.byteOffset % 4)) % 4);
  const words = new Uint32Array(bytes.buffer, bytes.byteOffset + head, Math.floor((bytes.length - head) / 4));
  const eights = words.length - (words.length % 8);
  for (let at = 0; at < eights; at += 8) {
    const all = words[at] | words[at + 1] | words[at + 2] | words[at + 3] | words[at + 4] | words[at + 5] | words[at + 6] | words[at + 7];
    if ((all & 0x80808080) !== 0) return true;
  }
  for (let at = eights; at < words.length; at++) if ((words[at] & 0x80808080) !== 0) return true;
  for (let at = 0; at < head; at++) if (bytes[at] >= 0x80) return true;
  for (let at = head + words.length * 4; at < bytes.length; at++) if (bytes[at] >= 0x80) return true;
  return false;
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
 * A directive that is not complete stays as written.
 */
export function decodeText(bytes: Uint8Array, from: number, to: number, coding: TextCoding): string {
  let plain = true;
  for (let at = from; at < to; at++) {
    const byte = bytes[at];
    if (byte >= 0x80 || byte === 92 || byte === 39 || byte < 32) {
      plain = false;
      break;
    }
  }
  if (plain) return asciiText(bytes, from, to);
  return resolveDirectives(decoders[coding].decode(bytes.subarray(from, to)));
}

const DIRECTIVE = /''|\\\\|\r|\n|\\P([A-Ia-i])\\|\\S\\([\s\S])|\\X\\([0-9A-Fa-f]{2})|\\X2\\((?:[0-9A-Fa-f]{4})*)\\X0\\|\\X4\\((?:[0-9A-Fa-f]{8})*)\\X0\\|\\N\\|\\T\\/g;

function resolveDirectives(text: string): string {
  let page = 'A';
  return text.replace(DIRECTIVE, (all: string, newPage?: string, shifted?: string, byte?: string, two?: string, four?: string) => {
    if (all === "''") return "'";
    if (all === '\\\\') return '\\';
    if (all === '\\N\\') return '\n';
    if (all === '\\T\\') return '\t';
    if (newPage !== undefined) {
      page = newPage.toUpperCase();
      return '';
    }
    if (shifted !== undefined) return fromPage(page, shifted.charCodeAt(0) + 128);
    if (byte !== undefined) return String.fromCharCode(parseInt(byte, 16));
    if (two !== undefined) return codeUnits(two, 4).map((unit) => String.fromCharCode(unit)).join('');
    if (four !== undefined) return codeUnits(four, 8).map((unit) => (unit <= 0x10ffff ? String.fromCodePoint(unit) : '\ufffd')).join('');
    return ''; // a line end inside a text is a break of the file, not of the text
  });
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
