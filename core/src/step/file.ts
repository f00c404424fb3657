import { scanExchangeStructure, type Index } from './scan.ts';
import { detectCoding, type TextCoding } from './text.ts';
import { isList, isReference, parseEntity, parseParameters, type Entity, type Value } from './values.ts';

/** An exchange structure with its instances looked up by id or by entity name, parsed when asked for. */
export interface StepFile {
  readonly index: Index;
  readonly coding: TextCoding;
  /** The parsed instance; parsed anew at each call, so keep what is used often. */
  entity(id: number): Entity | null;
  /** Parameters of one partial record of an instance, or null where it has no such record. */
  record(id: number, keyword: string): readonly Value[] | null;
  /** Whether the instance has a partial record of this name, without parsing it. */
  is(id: number, keyword: string): boolean;
  /** Entity names (one, or several of a complex instance). */
  keywordsOf(id: number): readonly string[];
  /** Entity instance names of all instances having a partial record of one of these names, in file order. */
  ofType(...keywords: string[]): number[];
  header(keyword: string): readonly Value[] | null;
}

/** @throws Refusal where the bytes are no complete exchange structure */
export function openStep(bytes: Uint8Array): StepFile {
  const index = scanExchangeStructure(bytes);
  const { coding } = detectCoding(bytes);
  const partsOf = index.keywords.map((keyword) => keyword.split('+'));
  const slotsByKeyword = bucketSlots(index);
  const entity = (id: number): Entity | null => {
    const slot = index.find(id);
    return slot < 0 ? null : parseEntity(index, slot, coding);
  };
  const keywordsOf = (id: number): readonly string[] => {
    const slot = index.find(id);
    return slot < 0 ? [] : partsOf[index.keywordOf[slot]];
  };
  const is = (id: number, keyword: string) => keywordsOf(id).includes(keyword);
  return {
    index,
    coding,
    entity,
    keywordsOf,
    is,
    record: (id, keyword) => (is(id, keyword) ? (entity(id)?.get(keyword) ?? null) : null),
    ofType: (...keywords) => {
      const slots: number[] = [];
      partsOf.forEach((parts, keyword) => {
        if (parts.some((part) => keywords.includes(part))) for (const slot of slotsByKeyword(keyword)) slots.push(slot);
      });
      return slots.sort((a, b) => a - b).map((slot) => index.ids[slot]);
    },
    header: (keyword) => {
      const range = index.header.get(keyword);
      return range ? parseParameters(index, range[0], range[1], coding) : null;
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
export const refOf = (value: Value | undefined): number | null => (isReference(value) ? value.ref : null);
export const refsOf = (value: Value | undefined): number[] =>
  isList(value) ? value.flatMap((one) => (isReference(one) ? [one.ref] : [])) : [];
