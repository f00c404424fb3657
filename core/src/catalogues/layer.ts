import {
  layersAt,
  ownFields,
  withSaid,
  type Assembly,
  type Component,
  type EditedAssembly,
  type Properties,
  type PropertyValue,
  type ComponentIndex,
} from '../assembly/index.ts';
import { catalogueIndex, itemKey, keyText, type Match } from './match.ts';
import type { Catalogue, CatalogueItem, CatalogueLink } from './records.ts';

/** A catalogue that a bill takes values from. */
export interface Linked {
  readonly link: CatalogueLink;
  readonly catalogue: Catalogue;
}
/** The links whose catalogues are there, in their order. */
export const linkedOf = (
  links: readonly CatalogueLink[] = [],
  catalogues: ReadonlyMap<string, Catalogue> = new Map(),
): Linked[] =>
  links.flatMap((link) => {
    const catalogue = catalogues.get(link.catalogue);
    return catalogue ? [{ link, catalogue }] : [];
  });

const PART_NUMBER = ['Part number'] as const;
const fieldOf: Readonly<Record<string, 'partNumber' | 'name' | 'description' | 'revision' | 'source'>> = {
  'Part number': 'partNumber',
  Name: 'name',
  Description: 'description',
  Revision: 'revision',
  'Made or bought': 'source',
};
const isField = (name: string): boolean => (ownFields as readonly string[]).includes(name);

/** What a component has under a name. */
function valueUnder(component: Component, name: string): PropertyValue | undefined {
  if (isField(name)) return { value: component[fieldOf[name]] ?? '' };
  return Object.hasOwn(component.properties, name) ? component.properties[name] : undefined;
}
const textUnder = (component: Component, name: string): string => String(valueUnder(component, name)?.value ?? '');

/** The key by which a component is looked up; null where it has none. */
const componentKeyText = (component: Component, { by = PART_NUMBER }: CatalogueLink): string | null =>
  keyText(by.map((name) => textUnder(component, name)));

/** What each component of an assembly leads to in a catalogue; nothing for one without a key. */
export function matchComponents({ components }: Assembly, { link, catalogue }: Linked): (Match | null)[] {
  const { find } = catalogueIndex(catalogue);
  return components.map((component) => {
    const key = componentKeyText(component, link);
    return key === null ? null : find(key);
  });
}

/** What an item says, by the name that it has in a bill; its key is not said again, it is how it was found. */
function itemProperties({ catalogue, link }: Linked, item: CatalogueItem): Properties {
  const wanted = link.columns && new Set(link.columns);
  const found: Record<string, PropertyValue> = {};
  for (const { id, heading } of catalogue.columns) {
    if (catalogue.key.includes(id) || (wanted && !wanted.has(id)) || heading === '__proto__') continue;
    const value = Object.hasOwn(item.values, id) ? item.values[id] : undefined;
    if (value === undefined || Object.hasOwn(found, heading)) continue;
    if (heading !== 'Made or bought' || value.value === 'made' || value.value === 'bought') found[heading] = value;
  }
  return found;
}

/** What catalogues say of the components of an assembly, by index; the first catalogue that says something counts. */
export function catalogueSays({ assembly }: EditedAssembly, linked: readonly Linked[]): Map<number, Properties> {
  const said = new Map<number, Properties>();
  for (const one of linked.toReversed())
    matchComponents(assembly, one).forEach((match, at) => {
      if (match?.how !== 'found') return;
      const values = itemProperties(one, one.catalogue.items[match.item]);
      said.set(at, { ...said.get(at), ...values });
    });
  return said;
}

/**
 * The assembly with what catalogues say laid over what file and measuring say, below what was typed. Parts are found by
 * what they are called without catalogues.
 * @param edited without what catalogues say
 */
export const withCatalogues = (edited: EditedAssembly, linked: readonly Linked[]): EditedAssembly =>
  linked.length === 0 ? edited : withSaid(edited, catalogueSays(edited, linked));

/**
 * Which catalogue gives a component what it has under a name, and by which key; null where none does.
 * @param edited without what catalogues say
 * @param at index of the component
 */
export function saidBy(
  edited: EditedAssembly,
  at: number,
  name: string,
  linked: readonly Linked[],
): { readonly catalogue: string; readonly name: string; readonly key: string } | null {
  for (const one of linked) {
    const text = componentKeyText(edited.assembly.components[at], one.link);
    const match = text === null ? null : catalogueIndex(one.catalogue).find(text);
    if (match?.how !== 'found') continue;
    const item = one.catalogue.items[match.item];
    const said = itemProperties(one, item);
    if (!Object.hasOwn(said, name)) continue;
    const counts = layersAt(edited, at, said).find((value) => value.name === name);
    // What was typed stands above it.
    return counts?.origin === 'catalogue'
      ? { catalogue: one.link.catalogue, name: one.catalogue.name, key: itemKey(one.catalogue, item.values) ?? '' }
      : null;
  }
  return null;
}

/** What a line of its own says that is an item of a catalogue: all columns, its first key as part number. */
export function lineProperties(catalogue: Catalogue, item: CatalogueItem): Properties {
  const found = itemProperties({ catalogue: { ...catalogue, key: [] }, link: { catalogue: '' } }, item);
  const number =
    catalogue.key.length > 0 && Object.hasOwn(item.values, catalogue.key[0]) && item.values[catalogue.key[0]];
  // A line is called by its name; where no column is one, by the first text.
  const named = catalogue.columns.find(({ id, kind }) => kind === 'text' && !catalogue.key.includes(id));
  const name = named && Object.hasOwn(item.values, named.id) ? item.values[named.id] : undefined;
  return {
    ...(name && !Object.hasOwn(found, 'Name') ? { Name: name } : {}),
    ...found,
    ...(number ? { 'Part number': { value: String(number.value) } } : {}),
  };
}

/** A part that is listed and not found, or not for sure. */
export interface Unmatched {
  /** Index of the component. */
  readonly component: ComponentIndex;
  /** Its key; null where it has none. */
  readonly key: string | null;
  readonly how: 'none' | 'alike' | 'several';
  /** Items that are meant, perhaps. */
  readonly items: readonly number[];
}

/** Of these components what a catalogue does not have, each key once, in their order. */
export function unmatched(assembly: Assembly, linked: Linked, wanted: readonly number[]): Unmatched[] {
  const matches = matchComponents(assembly, linked);
  const seen = new Set<string>();
  return wanted.flatMap((component): Unmatched[] => {
    const key = componentKeyText(assembly.components[component], linked.link);
    const match = matches[component];
    if (match?.how === 'found' || seen.has(key ?? `component ${component}`)) return [];
    seen.add(key ?? `component ${component}`);
    if (!match || match.how === 'none') return [{ component, key, how: 'none', items: [] }];
    return [{ component, key, how: match.how, items: match.items }];
  });
}

/** Keys that several items have, each with the items. */
export function doubledKeys(catalogue: Catalogue): Map<string, number[]> {
  const found = new Map<string, number[]>();
  catalogue.items.forEach(({ values }, at) => {
    const key = itemKey(catalogue, values);
    if (key === null) return;
    const known = found.get(key);
    if (known) known.push(at);
    else found.set(key, [at]);
  });
  for (const [key, items] of found) if (items.length === 1) found.delete(key);
  return found;
}
