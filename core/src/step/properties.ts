import type { Properties, PropertyValue } from '../assembly/index.ts';
import { refsOf, textOf, type StepFile, isEnumeration, isTyped, type Value } from '../exchange/index.ts';
import { unitSymbol } from './units.ts';

/** Checks that a writer leaves for readers; they are no properties of the part to a drafter. */
export const VALIDATION = /validation property/i;
const PLACEHOLDER = /^(|user defined attribute|general property|description|\/null|none)$/i;

/** Entities of a property definition: the plain one and subtypes that writers use in its place. */
const isProperty = (keyword: string) =>
  keyword === 'PROPERTY_DEFINITION' || keyword === 'CHARACTERIZED_OBJECT+PROPERTY_DEFINITION';

/**
 * User-defined properties by the slot of what they belong to: a product definition, a formation, a product, or a usage.
 * From PROPERTY_DEFINITION with its representation items, named by the item, else by the GENERAL_PROPERTY, else by the
 * definition; a property on a shape counts as one of what has the shape. Also MATERIAL_DESIGNATION and layers.
 * Source: ISO 10303-41 and -45 (property representation).
 */
export function readProperties(file: StepFile): ReadonlyMap<number, Properties> {
  const generalName = readGeneralNames(file);
  const found = new Map<number, Record<string, PropertyValue>>();
  const add = (owner: number, name: string, value: PropertyValue) => {
    const values = found.get(owner) ?? {};
    found.set(owner, values);
    values[freeName(values, name, value)] = value;
  };
  for (const link of file.ofType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const definition = file.ref(link, 'PROPERTY_DEFINITION_REPRESENTATION', 0);
    const representation = file.ref(link, 'PROPERTY_DEFINITION_REPRESENTATION', 1);
    const keyword = file.keywordsOf(definition).find(isProperty);
    if (keyword === undefined || representation < 0) continue;
    const named = file.text(definition, keyword, 0);
    const owner = ownerOf(file, file.ref(definition, keyword, 2));
    if (owner < 0 || VALIDATION.test(named)) continue;
    const fallback = generalName.get(definition) ?? named;
    for (const item of representationItems(file, representation)) {
      const [name, value] = readItem(file, item) ?? [];
      if (value) add(owner, PLACEHOLDER.test(name!.trim()) ? fallback.trim() || 'property' : name!.trim(), value);
    }
  }
  for (const slot of file.ofType('MATERIAL_DESIGNATION')) {
    const material = file.text(slot, 'MATERIAL_DESIGNATION', 0).trim();
    for (const target of refsOf(file.value(slot, 'MATERIAL_DESIGNATION', 1)))
      if (material) add(ownerOf(file, target), 'Material', { value: material });
  }
  return found;
}

/** A shape's properties belong to what has the shape. */
export function ownerOf(file: StepFile, target: number): number {
  return file.is(target, 'PRODUCT_DEFINITION_SHAPE') ? file.ref(target, 'PRODUCT_DEFINITION_SHAPE', 2) : target;
}

/** A second, different value under one name is kept beside the first: nothing of the file is lost. */
function freeName(values: Readonly<Record<string, PropertyValue>>, name: string, value: PropertyValue): string {
  let free = name;
  for (let number = 2; Object.hasOwn(values, free) && !sameValue(values[free], value); number++)
    free = `${name} (${number})`;
  return free;
}
const sameValue = (a: PropertyValue, b: PropertyValue) => a.value === b.value && a.unit === b.unit;

function readGeneralNames(file: StepFile): Map<number, string> {
  const names = new Map<number, string>();
  for (const slot of file.ofType('GENERAL_PROPERTY_ASSOCIATION')) {
    const general = file.ref(slot, 'GENERAL_PROPERTY_ASSOCIATION', 2),
      property = file.ref(slot, 'GENERAL_PROPERTY_ASSOCIATION', 3);
    const name = file.text(general, 'GENERAL_PROPERTY', 1);
    if (property >= 0 && name) names.set(property, name);
  }
  return names;
}

export function representationItems(file: StepFile, representation: number): number[] {
  for (const keyword of file.keywordsOf(representation))
    if (keyword.endsWith('REPRESENTATION') && file.size(representation, keyword) >= 2)
      return refsOf(file.value(representation, keyword, 1));
  return [];
}

const PLAIN_ITEMS = [
  'VALUE_REPRESENTATION_ITEM',
  'INTEGER_REPRESENTATION_ITEM',
  'REAL_REPRESENTATION_ITEM',
  'BOOLEAN_REPRESENTATION_ITEM',
  'LOGICAL_REPRESENTATION_ITEM',
  'STRING_REPRESENTATION_ITEM',
];

function readItem(file: StepFile, slot: number): [string, PropertyValue] | null {
  const entity = file.entity(slot);
  if (!entity) return null;
  const named = (keyword: string) => entity.get(keyword);
  // As a complex instance the name stands in REPRESENTATION_ITEM, and the other records lack it.
  const split = named('REPRESENTATION_ITEM');
  const nameIn = (record: readonly Value[]) => textOf(split ? split[0] : record[0]);
  const valueIn = (record: readonly Value[]) => record[split ? 0 : 1];
  const descriptive = named('DESCRIPTIVE_REPRESENTATION_ITEM');
  if (descriptive) return [nameIn(descriptive), { value: textOf(valueIn(descriptive)) }];
  const measure =
    named('MEASURE_REPRESENTATION_ITEM') ??
    [...entity].find(([keyword]) => /_MEASURE_(REPRESENTATION_ITEM|WITH_UNIT)$/.test(keyword))?.[1];
  if (measure) {
    const [value, unit] = named('MEASURE_WITH_UNIT') ?? [measure[1], measure[2]];
    const reference = unit && typeof unit === 'object' && 'ref' in unit ? unit.ref : -1;
    return withValue(nameIn(measure), value, reference < 0 ? '' : unitSymbol(file, reference));
  }
  for (const keyword of PLAIN_ITEMS) {
    const record = named(keyword);
    if (record) return withValue(nameIn(record), valueIn(record), '');
  }
  return null;
}

const TRUTH: Readonly<Record<string, boolean>> = { T: true, TRUE: true, F: false, FALSE: false };

function withValue(name: string, raw: Value | undefined, unit: string): [string, PropertyValue] | null {
  const value = isTyped(raw) ? raw.value : raw;
  if (typeof value === 'number' || typeof value === 'string') return [name, unit ? { value, unit } : { value }];
  if (isEnumeration(value)) return [name, { value: TRUTH[value.enumeration] ?? value.enumeration }];
  return null;
}
