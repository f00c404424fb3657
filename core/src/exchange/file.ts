import { Fields } from './fields.ts';
import { scanExchangeStructure, type Index } from './scan.ts';
import { TextCoding } from './text.ts';
import { isList, isReference, isTyped, parseEntity, parseParameters, type Entity, type Value } from './values.ts';

/**
 * An exchange structure with its instances looked up by entity name. Instances are named by slot (position in file
 * order, from 0; −1 is none, and every question about −1 is answered as about an empty instance).
 */
export interface StepFile {
  readonly index: Index;
  readonly coding: TextCoding;
  /** Whether the instance has a partial record of this name, without parsing it. */
  is(slot: number, keyword: string): boolean;
  /** Entity names: one, or several of a complex instance. */
  keywordsOf(slot: number): readonly string[];
  /** Slots of all instances having a partial record of one of these names, in file order. */
  ofType(...keywords: string[]): ArrayLike<number> & Iterable<number>;
  /** The n-th parameter of a partial record: the slot it refers to, or −1. */
  ref(slot: number, keyword: string, n: number): number;
  /** … as text, empty where it is none. */
  text(slot: number, keyword: string, n: number): string;
  /** … parsed. */
  value(slot: number, keyword: string, n: number): Value;
  /** Count of parameters of a partial record; −1 where the instance has none of this name. */
  size(slot: number, keyword: string): number;
  /** All that the instance refers to, in the order of writing, without those that are missing. */
  refs(slot: number): number[];
  /** The parsed instance; parsed anew at each call, so keep what is used often. */
  entity(slot: number): Entity | null;
  /** Parameters of one partial record of an instance, or null where it has no such record. */
  record(slot: number, keyword: string): readonly Value[] | null;
  /** `#12`, for a sentence. */
  nameOf(slot: number): string;
  /** Whether the n-th parameter of this partial record is a text. */
  isText(slot: number, keyword: string, n: number): boolean;
  header(keyword: string): readonly Value[] | null;
}

/** @throws Refusal where the bytes are no complete exchange structure */
export function openStep(bytes: Uint8Array): StepFile {
  const index = scanExchangeStructure(bytes);
  const coding = new TextCoding(bytes);
  const { keywords, keywordOf, references, referenceStarts } = index;
  const partsOf = keywords.map((keyword) => keyword.split('+').filter(Boolean));
  const complex = keywords.map((keyword) => keyword.includes('+'));
  const fields = new Fields(index, coding, (slot) => complex[keywordOf[slot]]);
  const slotsByKeyword = bucketSlots(index);
  const entity = (slot: number): Entity | null => (slot < 0 ? null : parseEntity(index, slot, coding));
  const keywordsOf = (slot: number): readonly string[] => (slot < 0 ? [] : partsOf[keywordOf[slot]]);
  const is = (slot: number, keyword: string) =>
    slot >= 0 &&
    (complex[keywordOf[slot]] ? partsOf[keywordOf[slot]].includes(keyword) : keywords[keywordOf[slot]] === keyword);
  return {
    index,
    coding,
    entity,
    keywordsOf,
    is,
    ref: (slot, keyword, n) => (slot < 0 ? -1 : fields.ref(slot, keyword, n)),
    isText: (slot, keyword, n) => slot >= 0 && fields.isText(slot, keyword, n),
    text: (slot, keyword, n) => (slot < 0 ? '' : fields.text(slot, keyword, n)),
    value: (slot, keyword, n) => (slot < 0 ? null : fields.value(slot, keyword, n)),
    size: (slot, keyword) => (slot < 0 ? -1 : fields.open(slot, keyword)),
    refs: (slot) =>
      slot < 0
        ? []
        : Array.from(references.subarray(referenceStarts[slot], referenceStarts[slot + 1])).filter((to) => to >= 0),
    record: (slot, keyword) => (is(slot, keyword) ? (entity(slot)?.get(keyword) ?? null) : null),
    ofType: (...wanted) => {
      const found = partsOf.flatMap((parts, keyword) =>
        parts.some((part) => wanted.includes(part)) ? [slotsByKeyword(keyword)] : [],
      );
      if (found.length === 1) return found[0];
      const slots: number[] = [];
      for (const some of found) for (const slot of some) slots.push(slot);
      return slots.sort((a, b) => a - b);
    },
    nameOf: (slot) => (slot < 0 ? 'nothing' : `#${index.originals?.get(index.ids[slot]) ?? index.ids[slot]}`),
    header: (keyword) => {
      const range = index.header.get(keyword);
      // Of its own: paths with backslashes are common there, and name no part.
      return range ? parseParameters(index, range[0], range[1], new TextCoding(bytes)) : null;
    },
  };
}

/** Slots grouped by keyword with one counting sort, made at the first question. */
function bucketSlots(index: Index): (keyword: number) => Uint32Array {
  let order: Uint32Array | null = null;
  const ends = new Uint32Array(index.keywords.length + 1);
  return (keyword) => {
    if (!order) {
      order = new Uint32Array(index.count);
      for (let slot = 0; slot < index.count; slot++) ends[index.keywordOf[slot] + 1]++;
      for (let at = 1; at < ends.length; at++) ends[at] += ends[at - 1];
      const next = ends.slice();
      for (let slot = 0; slot < index.count; slot++) order[next[index.keywordOf[slot]]++] = slot;
    }
    return order.subarray(ends[keyword], ends[keyword + 1]);
  };
}

export const textOf = (value: Value | undefined): string => (typeof value === 'string' ? value : '');
/** Slot of a reference, −1 where the value is none. */
export const refOf = (value: Value | undefined): number => (isReference(value) ? value.ref : -1);
/** Slots of a list of references, without those that are missing. */
export const refsOf = (value: Value | undefined): number[] =>
  isList(value) ? value.flatMap((one) => (isReference(one) && one.ref >= 0 ? [one.ref] : [])) : [];
/** A number, also one wrapped in its type: LENGTH_MEASURE(2.5). */
export const numberOf = (value: Value | undefined): number | null => {
  const bare = isTyped(value) ? value.value : value;
  return typeof bare === 'number' ? bare : null;
};
