import {
  groupBy, hashKey, occurrenceCounts, parentsFirst, partLabel, Refusal, type Assembly, type Component, type ComponentKey, type Finding, type Usage, type UsageKey,
} from '../assembly/index.ts';
import type { Placement } from '../geometry/index.ts';
import { openStep, textOf, type StepFile } from './file.ts';
import { readProperties } from './properties.ts';
import { readShapeLinks, representationParts, type ShapeLinks } from './shapes.ts';
import { Slicer, type Slice } from './slices.ts';
import { placementOr, readDefinitions, readUsages, type Definition, type RawUsage } from './structure.ts';
import { isList } from './values.ts';
import { lengthUnitOf, type LengthUnit } from './units.ts';

/** What a STEP file says, and the pieces of it that are shapes. */
export interface StepContent {
  readonly assembly: Assembly;
  /** One slice per different shape, in the order of first use. */
  readonly slices: readonly Slice[];
}

export interface ReadOptions {
  /** False leaves shapes out (and the keys of parts that only their shape tells apart): for a bill nothing else is needed. */
  readonly shapes: boolean;
}

/**
 * Reads structure, properties and shape slices of a STEP file (ISO 10303-21 with AP203, AP214 or AP242 data).
 * @throws Refusal with a sentence where anything of structure, name or quantity may be lost
 */
export function readStep(bytes: Uint8Array, options: ReadOptions = { shapes: true }): StepContent {
  const file = openStep(bytes);
  const findings: Finding[] = [...file.index.remarks];
  if (file.coding === 'windows-1252') {
    findings.push({ code: 'text-coding', message: 'The file holds bytes that are not UTF-8; texts were read as Windows-1252.' });
  }
  const links = readShapeLinks(file);
  const definitions = readDefinitions(file);
  if (definitions.length === 0) {
    throw new Refusal('no-products', `The file has ${file.index.count} entities but no product definition, so there is nothing to list. Export it as an assembly or part.`);
  }
  const usages = readUsages(file, links, findings);
  const kept = keepProducts(definitions, usages, links, findings);
  const slicer = options.shapes ? new Slicer(file, links) : null;
  const sliceOf = new Map<number, Slice>();
  for (const { id } of kept) {
    const slice = slicer?.slice(id);
    if (slice) sliceOf.set(id, slice);
  }
  const unit = readLengthUnit(file, links, findings);
  const assembly: Assembly = {
    version: 1,
    schema: readSchema(file),
    sourceUnit: unit.name,
    ...buildGraph(kept, usages, readProperties(file), sliceOf),
    findings,
  };
  describeCycle(assembly);
  occurrenceCounts(assembly);
  const slices = new Map([...sliceOf.values()].map((slice) => [slice.key, slice]));
  return { assembly, slices: [...slices.values()] };
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
    if (context !== null) uses.set(context, (uses.get(context) ?? 0) + 1);
  }
  const [context] = [...uses].sort((a, b) => b[1] - a[1])[0] ?? [null];
  const unit = context === null ? null : lengthUnitOf(file, context);
  if (unit?.given) return unit;
  if (context !== null) findings.push({ code: 'no-length-unit', message: 'The file gives no length unit; millimetres were assumed.' });
  return { toMm: 1, name: 'mm', given: false };
}

/** Leaves out definitions that are neither used, nor opened, nor shaped, where there are others: documents and the like. */
function keepProducts(definitions: Definition[], usages: readonly RawUsage[], links: ShapeLinks, findings: Finding[]): Definition[] {
  const joined = new Set(usages.flatMap((usage) => [usage.parent, usage.child]));
  const kept = definitions.filter(({ id }) => joined.has(id) || links.ofDefinition.has(id));
  if (kept.length === 0) return definitions;
  const left = definitions.length - kept.length;
  if (left > 0) findings.push({ code: 'loose-products', message: `${left} products are neither used anywhere nor have a shape (documents, for instance); they were left out.` });
  return kept;
}

function buildGraph(definitions: readonly Definition[], usages: readonly RawUsage[], properties: ReturnType<typeof readProperties>, sliceOf: ReadonlyMap<number, Slice>): Pick<Assembly, 'root' | 'components'> {
  const indexOf = new Map(definitions.map(({ id }, index) => [id, index]));
  const keys = componentKeys(definitions, sliceOf);
  const used = new Set(usages.map((usage) => usage.child));
  const byParent = new Map<number, RawUsage[]>();
  for (const usage of usages) {
    const siblings = byParent.get(usage.parent);
    if (siblings) siblings.push(usage);
    else byParent.set(usage.parent, [usage]);
  }
  const components: Component[] = definitions.map(({ id, ...rest }, index) => ({
    key: keys[index], ...rest,
    shape: sliceOf.get(id)?.key ?? null,
    properties: properties.get(id) ?? {},
    usages: keyUsages(keys[index], (byParent.get(id) ?? []).map((usage) => ({ ...usage, index: indexOf.get(usage.child)!, childKey: keys[indexOf.get(usage.child)!] }))),
  }));
  const roots = definitions.flatMap(({ id }, index) => (used.has(id) ? [] : [index]));
  if (roots.length === 1) return { root: roots[0], components };
  if (roots.length === 0) return { root: 0, components };
  return { root: components.length, components: [...components, unnamedTop(components, roots)] };
}

function unnamedTop(components: readonly Component[], roots: readonly number[]): Component {
  const key = hashKey('top', ...roots.map((index) => components[index].key).sort()) as ComponentKey;
  const usages = keyUsages(key, roots.map((index) => ({ index, childKey: components[index].key, label: '', quantity: 1, placement: null })));
  return { key, partNumber: '', name: '', description: '', revision: '', source: null, shape: null, properties: {}, usages };
}

/** hash(product id); where ambiguous + name; then + slice; then + rank in file order. */
function componentKeys(definitions: readonly Definition[], sliceOf: ReadonlyMap<number, Slice>): ComponentKey[] {
  const identities: ((definition: Definition) => string[])[] = [
    (one) => [one.partNumber],
    (one) => [one.partNumber, one.name],
    (one) => [one.partNumber, one.name, sliceOf.get(one.id)?.key ?? ''],
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

interface UnkeyedUsage {
  readonly index: number;
  readonly childKey: ComponentKey;
  readonly label: string;
  readonly quantity: number;
  readonly placement: Placement | null;
}

/** hash(parent, child, label) + rank by placement among equals, so that order and numbers in the file do not matter. */
function keyUsages(parent: ComponentKey, usages: readonly UnkeyedUsage[]): Usage[] {
  const baseOf = new Map(usages.map((usage) => [usage, hashKey('usage', parent, usage.childKey, usage.label)]));
  const rankOf = new Map<UnkeyedUsage, number>();
  for (const members of groupBy(usages, (usage) => baseOf.get(usage)!).values()) {
    rankByPlacement(members).forEach((usage, rank) => rankOf.set(usage, rank));
  }
  return usages.map((usage) => ({
    key: `${baseOf.get(usage)}.${rankOf.get(usage)}` as UsageKey,
    child: usage.index,
    label: usage.label,
    quantity: usage.quantity,
    placement: placementOr(usage.placement),
  }));
}

const ORIGIN_FIRST = [3, 7, 11, 0, 1, 2, 4, 5, 6, 8, 9, 10];

/** By origin rounded to 0.001 mm, then by rotation rounded to 1e-6; equal ones stay in file order. */
function rankByPlacement(usages: readonly UnkeyedUsage[]): readonly UnkeyedUsage[] {
  if (usages.length === 1) return usages;
  const rounded = new Map(usages.map((usage) => {
    const placement = placementOr(usage.placement);
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
