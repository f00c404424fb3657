import { CLOSE, COMMA, DOUBLE_QUOTE, HASH, OPEN, QUOTE, SLASH, SPACE, STAR } from './cursor.ts';
import type { Index } from './scan.ts';
import { decodeText, type TextCoding } from './text.ts';
import { parseValue, type Value } from './values.ts';

/** Entities with more parameters than this are lists of their own kind; what comes after is read as absent. */
const MOST = 64;
/**
 * Single parameters of instances, read where they stand without parsing the rest of the instance. The places of the
 * instance asked for last are kept, so that asking for its next parameter costs little.
 */
export class Fields {
  private slot = -1;
  private keyword = '';
  private count = -1;
  private readonly froms = new Uint32Array(MOST);
  private readonly tos = new Uint32Array(MOST);

  constructor(
    private readonly index: Index,
    private readonly coding: TextCoding,
    private readonly isComplex: (slot: number) => boolean,
  ) {}

  /** Count of parameters in this partial record; −1 where the instance has no such record. */
  open(slot: number, keyword: string): number {
    if (slot === this.slot && keyword === this.keyword) return this.count;
    this.slot = slot;
    this.keyword = keyword;
    const at = this.listOf(slot, keyword);
    this.count = at < 0 ? -1 : this.split(at);
    return this.count;
  }

  /** Slot that the n-th parameter refers to, −1 where it is no reference. */
  ref(slot: number, keyword: string, n: number): number {
    if (this.open(slot, keyword) <= n) return -1;
    const { bytes } = this.index;
    let at = this.froms[n];
    if (bytes[at] !== HASH) return -1;
    let id = 0;
    // In this order the sum stays exact up to 2⁵³−1.
    for (let digit = bytes[++at]; digit >= 48 && digit <= 57; digit = bytes[++at]) id = id * 10 + (digit - 48);
    return this.index.find(id);
  }

  /** Text of the n-th parameter; empty where it is none. */
  text(slot: number, keyword: string, n: number): string {
    if (this.open(slot, keyword) <= n) return '';
    const from = this.froms[n],
      to = this.tos[n];
    if (this.index.bytes[from] !== QUOTE) return '';
    return to - from < 3 ? '' : decodeText(this.index.bytes, from + 1, to - 1, this.coding);
  }

  isText(slot: number, keyword: string, n: number): boolean {
    return this.open(slot, keyword) > n && this.index.bytes[this.froms[n]] === QUOTE;
  }

  /** The n-th parameter, parsed; null where there is none. */
  value(slot: number, keyword: string, n: number): Value {
    return this.open(slot, keyword) <= n ? null : parseValue(this.index, slot, this.froms[n], this.tos[n], this.coding);
  }

  /** Offset of the `(` of this partial record, −1 where the instance has none. */
  private listOf(slot: number, keyword: string): number {
    const { bytes, starts, keywords, keywordOf, ends } = this.index;
    let at = this.skipSpace(starts[slot]);
    if (!this.isComplex(slot)) {
      if (keywords[keywordOf[slot]] !== keyword) return -1;
      return this.skipSpace(at + keyword.length);
    }
    for (at = this.skipSpace(at + 1); at < ends[slot] && bytes[at] !== CLOSE;) {
      const from = at;
      while (bytes[at] !== OPEN && bytes[at] > SPACE && bytes[at] !== SLASH) at++;
      const same = at - from === keyword.length && this.isWord(keyword, from);
      at = this.skipSpace(at);
      if (same) return at;
      at = this.skipSpace(this.skipList(at));
    }
    return -1;
  }

  private isWord(keyword: string, from: number): boolean {
    for (let at = 0; at < keyword.length; at++) {
      const byte = this.index.bytes[from + at];
      if ((byte >= 97 && byte <= 122 ? byte - 32 : byte) !== keyword.charCodeAt(at)) return false;
    }
    return true;
  }

  private skipSpace(at: number): number {
    const { bytes } = this.index;
    for (;;) {
      while (bytes[at] <= SPACE) at++;
      if (bytes[at] !== SLASH || bytes[at + 1] !== STAR) return at;
      at += 2;
      while (at < bytes.length && !(bytes[at] === STAR && bytes[at + 1] === SLASH)) at++;
      at += 2;
    }
  }

  /** Offset just after the `)` that closes the list standing here. */
  private skipList(at: number): number {
    const { bytes } = this.index;
    let depth = 0;
    for (; at < bytes.length; at++) {
      const byte = bytes[at];
      if (byte === OPEN) depth++;
      else if (byte === CLOSE && --depth === 0) return at + 1;
      else if (byte === QUOTE || byte === DOUBLE_QUOTE) at = this.stringEnd(at);
      else if (byte === SLASH && bytes[at + 1] === STAR) at = this.skipSpace(at) - 1;
    }
    return at;
  }

  private stringEnd(at: number): number {
    const { bytes } = this.index;
    const quote = bytes[at++];
    while (at < bytes.length && bytes[at] !== quote) at++;
    return at;
  }

  /** Notes where the parameters of the list standing here begin and end; their count. */
  private split(at: number): number {
    const { bytes } = this.index;
    let count = 0;
    let depth = 1;
    let from = this.skipSpace(at + 1);
    if (bytes[from] === CLOSE) return 0;
    let end = from; // just after the last byte of the parameter
    for (at = from; at < bytes.length;) {
      const byte = bytes[at];
      if (byte === QUOTE || byte === DOUBLE_QUOTE) end = at = this.stringEnd(at) + 1;
      else if (byte === OPEN) {
        depth++;
        end = ++at;
      } else if ((byte === COMMA && depth === 1) || (byte === CLOSE && --depth === 0)) {
        if (count < MOST) {
          this.froms[count] = from;
          this.tos[count++] = end;
        }
        if (byte === CLOSE) return count;
        from = at = end = this.skipSpace(at + 1);
      } else if (byte <= SPACE || (byte === SLASH && bytes[at + 1] === STAR)) at = this.skipSpace(at);
      else end = ++at;
    }
    return count;
  }
}
