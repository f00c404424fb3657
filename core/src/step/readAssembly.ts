import {
  hashKey, groupBy, occurrenceCounts, parentsFirst, partLabel, Refusal, type Assembly, type Component, type ComponentKey, type Finding, type Properties, type Usage, type UsageKey,
} from '../assembly/index.ts';
import { identityPlacement } from '../geometry/index.ts';
import { openStep, textOf, type StepFile } from './file.ts';
import { readLayers } from './layers.ts';
import { refuseMisspelt } from './misspelt.ts';
import { readOrigins } from './origins.ts';
import { readProperties } from './properties.ts';
import { readShapeLinks, representationParts, type ShapeLinks } from './shapes.ts';
import { Slicer, type Slice } from './slices.ts';
import { findExternalFiles, readDefinitions, readExternalDefinitions, readUsages, type Definition, type RawUsages } from './structure.ts';
import { lengthUnitOf, type LengthUnit } from './units.ts';
import { placeUsages, type PlacedUsages } from './usagePlacements.ts';
import { readValidation } from './validation.ts';
import { isList } from './values.ts';

/** What a STEP file says, and the pieces of it that are shapes. */
export interface StepContent {
  readonly assembly: Assembly;
  /** One slice per different shape, in the order of first use. */
  readonly slices: readonly Slice[];
}

export interface ReadOptions {
  /**
   * False reads what a bill needs and leaves out shapes and placements: usages stand at the origin, are keyed in file order,
   * and parts that only their shape tells apart are keyed by file order too. Such an assembly is not for storing.
   */
  readonly shapes: boolean;
}

/**
 * Reads structure, properties and shape slices of a STEP file (ISO 10303-21 with AP203, AP214 or AP242 data). Without
 * shapes the cost is one pass over the bytes and what products, usages and properties take; geometry is never parsed.
 * @throws Refusal with a sentence where anything of structure, name or quantity may be lost
 */
export function readStep(bytes: Uint8Array, options: ReadOptions = { shapes: true }): StepContent {
  const file = openStep(bytes);
  const findings: Finding[] = [...file.index.remarks];
  if (file.coding === 'windows-1252') {
    findings.push({ code: 'text-coding', message: 'The file holds bytes that are not UTF-8; texts were read as Windows-1252.' });
  }
  refuseMisspelt(file);
  const links = readShapeLinks(file);
  const usages = readUsages(file);
  const definitions = [...readDefinitions(file), ...readExternalDefinitions(file, usages)];
  if (definitions.length === 0) {
    throw new Refusal('no-products', `The file has ${file.index.count} entities but no product definition, so there is nothing to list. Export it as an assembly or part.`);
  }
  findings.push(...findExternalFiles(file));
  const kept = keepProducts(definitions, usages, links, findings);
  const slicer = options.shapes ? new Slicer(file, links) : null;
  const sliceOf = new Map<number, Slice>();
  for (const { slot } of kept) {
    const slice = slicer?.slice(slot);
    if (slice) sliceOf.set(slot, slice);
  }
  const unit = readLengthUnit(file, links, findings);
  const placed = options.shapes ? placeUsages(file, links, usages, findings) : null;
  const assembly: Assembly = {
    version: 1,
    schema: readSchema(file),
    sourceUnit: unit.name,
    ...buildGraph(kept, usages, readFacts(file, links, kept), sliceOf, placed),
    findings,
  };
  describeCycle(assembly);
  occurrenceCounts(assembly);
  const slices = new Map([...sliceOf.values()].map((slice) => [slice.key, slice]));
  return { assembly, slices: [...slices.values()] };
}

/** What the file says about each definition besides its name, and about single usages; by slot. */
interface Facts {
  readonly ofDefinition: (definition: Definition) => Pick<Component, 'properties' | 'author' | 'created' | 'validation'>;
  readonly ofUsage: (slot: number) => Properties | undefined;
}

function readFacts(file: StepFile, links: ShapeLinks, definitions: readonly Definition[]): Facts {
  const properties = readProperties(file), origins = readOrigins(file), layers = readLayers(file, links), validation = readValidation(file);
  // One layer for everything is a writer's default and tells no part from another.
  const telling = new Set(layers.values()).size > 1 || layers.size < definitions.length;
  const merge = (slots: readonly number[]): Properties => Object.assign({}, ...slots.map((slot) => properties.get(slot) ?? {}));
  return {
    ofDefinition: ({ slot, formation, product }) => {
      const slots = [product, formation, slot]; // what is nearest to the definition wins
      const layer = telling ? layers.get(slot) : undefined;
      const origin = Object.assign({}, ...slots.map((one) => origins.get(one) ?? {})) as Pick<Component, 'author' | 'created'>;
      const measured = validation.get(slot);
      return {
        properties: { ...(layer ? { Layer: { value: layer } } : {}), ...merge(slots) },
        ...(origin.author ? { author: origin.author } : {}), ...(origin.created ? { created: origin.created } : {}),
        ...(measured && Object.keys(measured).length > 0 ? { validation: measured } : {}),
      };
    },
    ofUsage: (slot) => properties.get(slot),
  };
}

/** parentsFirst refuses cycles on the way from the root; a cycle that nothing leads to has no root at all. */
function describeCycle(assembly: Assembly): void {
  const reached = new Set(parentsFirst(assembly));
  const lost = assembly.components.findIndex((_, index) => !reached.has(index));
  if (lost >= 0) parentsFirst({ ...assembly, root: lost });
}

function readSchema(file: StepFile): string {
  const names = file.header('FILE_SCHEMA')?.[0];
  return isList(names) ? names.map(textOf).join(', ') : '';
}

/** The unit most representations of products use; a finding where none is given. */
function readLengthUnit(file: StepFile, links: ShapeLinks, findings: Finding[]): LengthUnit {
  const uses = new Map<number, number>();
  for (const representation of links.definitionOf.keys()) {
    const { context } = representationParts(file, representation);
    if (context >= 0) uses.set(context, (uses.get(context) ?? 0) + 1);
  }
  const [context] = [...uses].sort((a, b) => b[1] - a[1])[0] ?? [null];
  const unit = context === null ? null : lengthUnitOf(file, context);
  if (unit?.given) return unit;
  if (context !== null) findings.push({ code: 'no-length-unit', message: 'The file gives no length unit; millimetres were assumed.' });
  return { toMm: 1, name: 'mm', given: false };
}

/** Leaves out definitions that are neither used, nor opened, nor shaped, where there are others: documents and the like. */
function keepProducts(definitions: Definition[], usages: RawUsages, links: ShapeLinks, findings: Finding[]): Definition[] {
  const joined = new Set<number>();
  for (let at = 0; at < usages.count; at++) joined.add(usages.parents[at]).add(usages.children[at]);
  const kept = definitions.filter(({ slot }) => joined.has(slot) || links.ofDefinition.has(slot));
  if (kept.length === 0) return definitions;
  const left = definitions.length - kept.length;
  if (left > 0) findings.push({ code: 'loose-products', message: `${left} products are neither used anywhere nor have a shape (documents, for instance); they were left out.` });
  return kept;
}

function buildGraph(definitions: readonly Definition[], usages: RawUsages, facts: Facts, sliceOf: ReadonlyMap<number, Slice>, placed: PlacedUsages | null): Pick<Assembly, 'root' | 'components'> {
  const indexOf = new Map(definitions.map(({ slot }, index) => [slot, index]));
  const keys = componentKeys(definitions, sliceOf);
  const used = new Uint8Array(definitions.length);
  const inside: Usage[][] = definitions.map(() => []);
  const orderKeys: UsageKey[] = [];
  for (let at = 0; at < usages.count; at++) {
    const child = indexOf.get(usages.children[at])!, siblings = inside[indexOf.get(usages.parents[at])!];
    const order = siblings.length;
    if (order === orderKeys.length) orderKeys.push(`.${order}` as UsageKey);
    used[child] = 1;
    siblings.push(usageOf(usages, at, child, orderKeys[order], facts, placed));
  }
  const components: Component[] = definitions.map((definition, index) => {
    const { slot, partNumber, name, description, revision, source } = definition;
    return {
      key: keys[index], partNumber, name, description, revision, source, shape: sliceOf.get(slot)?.key ?? null,
      ...facts.ofDefinition(definition), usages: placed ? keyUsages(keys[index], inside[index], keys) : inside[index],
    };
  });
  const roots = [...definitions.keys()].filter((index) => used[index] === 0);
  if (roots.length === 1) return { root: roots[0], components };
  if (roots.length === 0) return { root: 0, components };
  return { root: components.length, components: [...components, unnamedTop(components, roots)] };
}

/** One usage, keyed by its order among its siblings: without placements nothing better tells usages of one part apart. */
function usageOf({ slots, labels, quantities }: RawUsages, at: number, child: number, key: UsageKey, facts: Facts, placed: PlacedUsages | null): Usage {
  const slot = slots[at];
  const usage: Usage = { key, child, label: labels[at], quantity: quantities[at], placement: placed?.placements.get(slot) ?? identityPlacement };
  const properties = facts.ofUsage(slot), colour = placed?.colours.get(slot);
  return properties || colour !== undefined ? { ...usage, ...(properties ? { properties } : {}), ...(colour === undefined ? {} : { colour }) } : usage;
}

function unnamedTop(components: readonly Component[], roots: readonly number[]): Component {
  const key = hashKey('top', ...roots.map((index) => components[index].key).sort()) as ComponentKey;
  const usages = keyUsages(key, roots.map((child, at) => ({ key: `.${at}` as UsageKey, child, label: '', quantity: 1, placement: identityPlacement })), components.map((component) => component.key));
  return { key, partNumber: '', name: '', description: '', revision: '', source: null, shape: null, properties: {}, usages };
}

/** hash(product id); where ambiguous + name; then + slice; then + rank in file order. */
function componentKeys(definitions: readonly Definition[], sliceOf: ReadonlyMap<number, Slice>): ComponentKey[] {
  const identities: ((definition: Definition) => string[])[] = [
    (one) => [one.partNumber],
    (one) => [one.partNumber, one.name],
    (one) => [one.partNumber, one.name, sliceOf.get(one.slot)?.key ?? ''],
  ];
  const keys = new Array<ComponentKey | null>(definitions.length).fill(null);
  let open = definitions.map((_, index) => index);
  identities.forEach((identity, level) => {
    const groups = groupBy(open, (index) => JSON.stringify(identity(definitions[index])));
    const last = level === identities.length - 1;
    open = [];
    for (const [, members] of groups) {
      // An empty product id says nothing: such parts are told apart by name at the earliest.
      if (members.length === 1 && (level > 0 || definitions[members[0]].partNumber)) {
        keys[members[0]] = hashKey('component', ...identity(definitions[members[0]])) as ComponentKey;
      } else if (last) {
        members.forEach((index, rank) => (keys[index] = hashKey('component', ...identity(definitions[index]), String(rank)) as ComponentKey));
      } else open.push(...members);
    }
  });
  return keys as ComponentKey[];
}

/** hash(parent, child, label) + rank by placement among equals, so that order and numbers in the file do not matter. */
function keyUsages(parent: ComponentKey, usages: readonly Usage[], keys: readonly ComponentKey[]): Usage[] {
  const baseOf = new Map(usages.map((usage) => [usage, hashKey('usage', parent, keys[usage.child], usage.label)]));
  const rankOf = new Map<Usage, number>();
  for (const members of groupBy(usages, (usage) => baseOf.get(usage)!).values()) {
    rankByPlacement(members).forEach((usage, rank) => rankOf.set(usage, rank));
  }
  return usages.map((usage) => ({ ...usage, key: `${baseOf.get(usage)}.${rankOf.get(usage)}` as UsageKey }));
}

const ORIGIN_FIRST = [3, 7, 11, 0, 1, 2, 4, 5, 6, 8, 9, 10];

/** By origin rounded to 0.001 mm, then by rotation rounded to 1e-6; equal ones stay in file order. */
function rankByPlacement(usages: readonly Usage[]): readonly Usage[] {
  if (usages.length === 1) return usages;
  const rounded = new Map(usages.map((usage) => {
    const { placement } = usage;
    return [usage, ORIGIN_FIRST.map((at, order) => Math.round(placement[at] * (order < 3 ? 1e3 : 1e6)))];
  }));
  return [...usages].sort((a, b) => {
    const one = rounded.get(a)!;
    const two = rounded.get(b)!;
    const differs = one.findIndex((value, at) => value !== two[at]);
    return differs < 0 ? 0 : one[differs] - two[differs];
  });
}

/** What a drafter calls the whole file: its top component, or nothing for an unnamed top. */
export const topLabel = (assembly: Assembly): string => (assembly.components[assembly.root].name || assembly.components[assembly.root].partNumber ? partLabel(assembly.components[assembly.root]) : '');
