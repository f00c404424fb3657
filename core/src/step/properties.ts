import type { Properties, PropertyValue } from '../assembly/index.ts';
import { refOf, refsOf, textOf, type StepFile } from './file.ts';
import { unitSymbol } from './units.ts';
import { isEnumeration, isTyped, type Value } from './values.ts';

/** Checks that a writer leaves for readers; they are no properties of the part to a drafter. */
const VALIDATION = /validation property/i;
const PLACEHOLDER = /^(|user defined attribute|general property|description|\/null|none)$/i;

/**
 * User-defined properties per product definition: PROPERTY_DEFINITION with its representation items, named by the item,
 * else by the GENERAL_PROPERTY, else by the definition. A property on the product definition's shape counts as one of
 * the definition. Source: ISO 10303-41 and -45 (property representation).
 */
export function readProperties(file: StepFile): ReadonlyMap<number, Properties> {
  const generalName = readGeneralNames(file);
  const shapeOwner = new Map<number, number>(); // product definition shape → product definition
  for (const id of file.ofType('PRODUCT_DEFINITION_SHAPE')) {
    const owner = refOf(file.record(id, 'PRODUCT_DEFINITION_SHAPE')?.[2]);
    if (owner !== null) shapeOwner.set(id, owner);
  }
  const found = new Map<number, Record<string, PropertyValue>>();
  for (const link of file.ofType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const record = file.record(link, 'PROPERTY_DEFINITION_REPRESENTATION');
    const definition = refOf(record?.[0]);
    const representation = refOf(record?.[1]);
    if (definition === null || representation === null) continue;
    const property = file.record(definition, 'PROPERTY_DEFINITION');
    const target = refOf(property?.[2]);
    if (!property || target === null || VALIDATION.test(textOf(property[0]))) continue;
    const owner = shapeOwner.get(target) ?? target;
    const fallback = generalName.get(definition) ?? textOf(property[0]);
    const values = found.get(owner) ?? {};
    for (const item of representationItems(file, representation)) {
      const [name, value] = readItem(file, item) ?? [];
      if (value) values[PLACEHOLDER.test(name!) ? fallback || 'property' : name!] = value;
    }
    if (Object.keys(values).length > 0) found.set(owner, values);
  }
  return found;
}

function readGeneralNames(file: StepFile): Map<number, string> {
  const names = new Map<number, string>();
  for (const id of file.ofType('GENERAL_PROPERTY_ASSOCIATION')) {
    const record = file.record(id, 'GENERAL_PROPERTY_ASSOCIATION');
    const general = refOf(record?.[2]);
    const property = refOf(record?.[3]);
    const name = general === null ? '' : textOf(file.record(general, 'GENERAL_PROPERTY')?.[1]);
    if (property !== null && name) names.set(property, name);
  }
  return names;
}

function representationItems(file: StepFile, representation: number): number[] {
  const entity = file.entity(representation);
  if (!entity) return [];
  for (const [keyword, record] of entity) if (keyword.endsWith('REPRESENTATION')) return refsOf(record[1]);
  return [];
}

function readItem(file: StepFile, id: number): [string, PropertyValue] | null {
  const entity = file.entity(id);
  if (!entity) return null;
  const named = (keyword: string) => entity.get(keyword);
  const descriptive = named('DESCRIPTIVE_REPRESENTATION_ITEM');
  if (descriptive) return [textOf(descriptive[0]), { value: textOf(descriptive[1]) }];
  const measure = named('MEASURE_REPRESENTATION_ITEM');
  if (measure) {
    // As a complex instance the name stands in REPRESENTATION_ITEM and the measure in MEASURE_WITH_UNIT.
    const split = named('MEASURE_WITH_UNIT');
    const [value, unit] = split ?? [measure[1], measure[2]];
    const symbol = refOf(unit) === null ? '' : unitSymbol(file, refOf(unit)!);
    return withValue(textOf(split ? named('REPRESENTATION_ITEM')?.[0] : measure[0]), value, symbol);
  }
  for (const keyword of ['VALUE_REPRESENTATION_ITEM', 'INTEGER_REPRESENTATION_ITEM', 'REAL_REPRESENTATION_ITEM', 'BOOLEAN_REPRESENTATION_ITEM']) {
    const record = named(keyword);
    if (record) return withValue(textOf(record[0]), record[1], '');
  }
  return null;
}

function withValue(name: string, raw: Value | undefined, unit: string): [string, PropertyValue] | null {
  const value = isTyped(raw) ? raw.value : raw;
  if (typeof value === 'number' || typeof value === 'string') return [name, unit ? { value, unit } : { value }];
  if (isEnumeration(value)) return [name, { value: value.enumeration === 'T' ? true : value.enumeration === 'F' ? false : value.enumeration }];
  return null;
}
