import { Refusal } from '../assembly/index.ts';
import { lineAt } from './lines.ts';
import type { Index } from './scan.ts';
import { asciiText, decodeText, type TextCoding } from './text.ts';

/**
 * A parameter of an entity instance as ISO 10303-21 writes it. `null` is `$`, `Derived` is `*`; a reference names a
 * slot.
 */
export type Value = null | number | string | Reference | Enumeration | Typed | Derived | readonly Value[];
export interface Reference {
  readonly ref: number;
}
interface Enumeration {
  readonly enumeration: string;
}
export interface Typed {
  readonly type: string;
  readonly value: Value;
}
interface Derived {
  readonly derived: true;
}

/** One entity instance: partial records by name; a simple instance has one. */
export type Entity = ReadonlyMap<string, readonly Value[]>;

export const isReference = (value: Value | undefined): value is Reference =>
  value != null && typeof value === 'object' && 'ref' in value;
export const isList = (value: Value | undefined): value is readonly Value[] => Array.isArray(value);
export const isTyped = (value: Value | undefined): value is Typed =>
  value != null && typeof value === 'object' && 'type' in value;
export const isEnumeration = (value: Value | undefined): value is Enumeration =>
  value != null && typeof value === 'object' && 'enumeration' in value;

/** A list nested deeper than this is no product data. */
const MAX_NESTING = 2000;

/** Parses the instance in this slot. @throws Refusal naming line and entity where the text is no entity */
export function parseEntity(index: Index, slot: number, coding: TextCoding): Entity {
  const parser = new Parser(index, index.starts[slot], index.ends[slot], `#${index.ids[slot]}`, coding);
  return parser.entity();
}

/** Parses the one value standing at this byte range inside an instance. */
export function parseValue(index: Index, slot: number, from: number, to: number, coding: TextCoding): Value {
  return new Parser(index, from, to, `#${index.ids[slot]}`, coding).value();
}

/** Parses a parameter list standing at this byte range, e.g. of a header entity. */
export function parseParameters(index: Index, from: number, to: number, coding: TextCoding): readonly Value[] {
  return new Parser(index, from, to, 'the header', coding).list();
}

class Parser {
  private readonly bytes: Uint8Array;
  private depth = 0;
  constructor(
    private readonly index: Index,
    private at: number,
    private readonly end: number,
    private readonly name: string,
    private readonly coding: TextCoding,
  ) {
    this.bytes = index.bytes;
  }

  entity(): Entity {
    this.space();
    const records = new Map<string, readonly Value[]>();
    if (this.bytes[this.at] !== 40) {
      records.set(this.keyword(), this.list());
      return records;
    }
    this.at++;
    for (;;) {
      this.space();
      if (this.bytes[this.at] === 41) return records;
      records.set(this.keyword(), this.list());
    }
  }

  list(): Value[] {
    this.space();
    if (this.bytes[this.at] !== 40) this.fail('“(” is missing');
    this.at++;
    if (++this.depth > MAX_NESTING) this.fail('lists are nested too deeply');
    const values: Value[] = [];
    this.space();
    if (this.bytes[this.at] === 41) {
      this.at++;
      this.depth--;
      return values;
    }
    for (;;) {
      values.push(this.value());
      this.space();
      const byte = this.bytes[this.at++];
      if (byte === 41) break;
      if (byte !== 44) this.fail('a comma is missing between two values');
    }
    this.depth--;
    return values;
  }

  value(): Value {
    this.space();
    const byte = this.bytes[this.at];
    switch (byte) {
      case 36:
        this.at++;
        return null; // $
      case 42:
        this.at++;
        return { derived: true }; // *
      case 39:
        return this.text();
      case 34:
        return this.binary();
      case 40:
        return this.list();
      case 35: {
        // #
        this.at++;
        return { ref: this.index.find(this.number()) };
      }
      case 46:
        return this.enumeration();
      default:
        if ((byte >= 48 && byte <= 57) || byte === 43 || byte === 45) return this.number();
        return this.typed();
    }
  }

  private typed(): Value {
    const type = this.keyword();
    const values = this.list();
    return { type, value: values.length === 1 ? values[0] : values };
  }

  private enumeration(): Enumeration {
    const from = ++this.at;
    while (this.at < this.end && this.bytes[this.at] !== 46) this.at++;
    return { enumeration: this.ascii(from, this.at++).toUpperCase() };
  }

  private number(): number {
    const from = this.at;
    for (; this.at < this.end; this.at++) {
      const byte = this.bytes[this.at];
      const inNumber =
        (byte >= 48 && byte <= 57) || byte === 43 || byte === 45 || byte === 46 || byte === 69 || byte === 101;
      if (!inNumber) break;
    }
    const value = Number(this.ascii(from, this.at));
    if (this.at === from || Number.isNaN(value))
      this.fail(`“${this.ascii(from, Math.min(this.end, from + 20))}” is no number`);
    return value;
  }

  private text(): string {
    const from = ++this.at;
    for (;;) {
      const quote = this.bytes.indexOf(39, this.at);
      if (this.bytes[quote + 1] !== 39) {
        this.at = quote + 1;
        return decodeText(this.bytes, from, quote, this.coding);
      }
      this.at = quote + 2;
    }
  }

  private binary(): string {
    const from = ++this.at;
    this.at = this.bytes.indexOf(34, from) + 1;
    return this.ascii(from, this.at - 1);
  }

  private keyword(): string {
    this.space();
    const from = this.at;
    while (this.at < this.end) {
      const byte = this.bytes[this.at];
      const inWord =
        (byte >= 65 && byte <= 90) ||
        (byte >= 97 && byte <= 122) ||
        (byte >= 48 && byte <= 57) ||
        byte === 95 ||
        byte === 33;
      if (!inWord) break;
      this.at++;
    }
    if (this.at === from) this.fail('a name or a value is missing');
    return this.ascii(from, this.at).toUpperCase();
  }

  private ascii(from: number, to: number): string {
    return asciiText(this.bytes, from, to);
  }

  private space(): void {
    for (;;) {
      while (this.at < this.end && this.bytes[this.at] <= 32) this.at++;
      if (this.bytes[this.at] !== 47 || this.bytes[this.at + 1] !== 42) return;
      this.at += 2;
      while (this.at < this.end && !(this.bytes[this.at] === 42 && this.bytes[this.at + 1] === 47)) this.at++;
      this.at += 2;
    }
  }

  private fail(what: string): never {
    throw new Refusal('malformed-entity', `Line ${lineAt(this.bytes, this.at)}: ${this.name}: ${what}.`);
  }
}
