import {
  groupBy,
  keyGraph,
  listedAs,
  NO_KEY,
  partLabel,
  refuseBrokenGraph,
  Refusal,
  type Assembly,
  type Component,
  type ComponentDraft,
  type DraftUsage,
  type Finding,
  type Properties,
  type ShapeKey,
  type ShapeMesh,
  type ComponentIndex,
} from '../assembly/index.ts';
import { identityPlacement } from '../geometry/index.ts';
import { openStep, textOf, type StepFile, isList } from '../exchange/index.ts';
import { readLayers } from './layers.ts';
import { findZeroBytes, refuseMisspelt } from './damage.ts';
import { findBrokenDirectives, findOddTexts } from './oddTexts.ts';
import { readOrigins } from './origins.ts';
import { readProperties } from './properties.ts';
import { readShapeLinks, representationParts, type ShapeLinks } from './shapes.ts';
import { Slicer, type Slice } from './slices.ts';
import {
  findExternalFiles,
  readDefinitions,
  readExternalDefinitions,
  readUsages,
  type Definition,
  type RawUsages,
} from './structure.ts';
import { readTessellated } from './tessellated.ts';
import { lengthUnitOf, type LengthUnit } from './units.ts';
import { placeUsages, type PlacedUsages } from './usagePlacements.ts';
import { readValidation } from './validation.ts';

/** What a file says: a structure, and its shapes as slices to tessellate or as meshes. */
export interface ModelContent {
  readonly assembly: Assembly;
  /** One slice per different shape, in the order of first use. */
  readonly slices: readonly Slice[];
  /** Shapes that the file carries as triangles already; no kernel is needed for them. */
  readonly meshes: readonly ShapeMesh[];
}

interface ReadOptions {
  /**
   * False reads what a bill needs and leaves out placements, and shapes but those of products that share a number: usages
   * stand at the origin and are keyed in file order. Such an assembly is not for storing.
   */
  readonly shapes: boolean;
}

/**
 * Reads structure, properties and shape slices of a STEP file (ISO 10303-21 with AP203, AP214 or AP242 data). Without
 * shapes the cost is one pass over the bytes and what products, usages and properties take; geometry is never parsed.
 * @throws Refusal with a sentence where anything of structure, name or quantity may be lost
 */
export function readStep(bytes: Uint8Array, options: ReadOptions = { shapes: true }): ModelContent {
  const file = openStep(bytes);
  const findings: Finding[] = [...file.index.remarks, ...refuseMisspelt(file), ...findZeroBytes(file)];
  const links = readShapeLinks(file);
  const usages = readUsages(file);
  const definitions = [...readDefinitions(file), ...readExternalDefinitions(file, usages)];
  if (definitions.length === 0) {
    throw new Refusal(
      'no-products',
      `The file has ${file.index.count} entities but no product definition, so there is nothing to list. Export it as an assembly or part.`,
    );
  }
  findings.push(...findExternalFiles(file), ...findOddTexts(file, definitions, usages));
  const kept = keepProducts(file, definitions, usages, links, findings);
  const slicer = options.shapes ? new Slicer(file, links) : null;
  const slices = new Map<ShapeKey, Slice>(),
    meshes = new Map<ShapeKey, ShapeMesh>();
  const shapeOf = new Map<number, ShapeKey>();
  for (const { slot } of options.shapes ? kept : []) {
    const slice = slicer!.slice(slot);
    const made = slice ? null : readTessellated(file, links, slot);
    if (slice) slices.set(slice.key, slice);
    if (made) meshes.set(made.key, made);
    const key = slice?.key ?? made?.key;
    if (key) shapeOf.set(slot, key);
  }
  if (!options.shapes) for (const [slot, key] of shapesOfNamesakes(file, links, kept)) shapeOf.set(slot, key);
  const unit = readLengthUnit(file, links, findings);
  const placed = options.shapes ? placeUsages(file, links, usages, findings) : null;
  const assembly: Assembly = {
    version: 1,
    schema: readSchema(file, findings),
    sourceUnit: unit.name,
    ...buildGraph(kept, usages, readFacts(file, links, kept), shapeOf, placed),
    findings,
  };
  // Known only now that every text has been read.
  if (file.coding.name === 'windows-1252')
    findings.push({
      code: 'text-coding',
      message: 'The file holds bytes that are not UTF-8; texts were read as Windows-1252.',
    });
  findings.push(...findBrokenDirectives(file));
  refuseBrokenGraph(assembly);
  return { assembly, slices: [...slices.values()], meshes: [...meshes.values()] };
}

/** Namesakes of which shapes are read for a bill; beyond it the bill says less, and stays quick. */
const MOST_NAMESAKES = 500;

/** Shapes of products that one line of a bill would take for one part: whether they are one is asked before it says so. */
function shapesOfNamesakes(
  file: StepFile,
  links: ShapeLinks,
  definitions: readonly Definition[],
): readonly (readonly [number, ShapeKey])[] {
  const namesakes = [...groupBy(definitions, listedAs)].flatMap(([label, members]) =>
    label === null || members.length < 2 ? [] : [members],
  );
  const asked = namesakes.flat();
  if (asked.length === 0 || asked.length > MOST_NAMESAKES) return [];
  const slicer = new Slicer(file, links);
  return asked.flatMap(({ slot }) => {
    const key = slicer.slice(slot)?.key ?? readTessellated(file, links, slot)?.key;
    return key ? [[slot, key] as const] : [];
  });
}

/** What the file says about each definition besides its name, and about single usages; by slot. */
interface Facts {
  readonly ofDefinition: (
    definition: Definition,
  ) => Pick<Component, 'properties' | 'author' | 'created' | 'validation'>;
  readonly ofUsage: (slot: number) => Properties | undefined;
}

function readFacts(file: StepFile, links: ShapeLinks, definitions: readonly Definition[]): Facts {
  const properties = readProperties(file),
    origins = readOrigins(file),
    layers = readLayers(file, links),
    validation = readValidation(file);
  // One layer for everything is a writer's default and tells no part from another.
  const telling = new Set(layers.values()).size > 1 || layers.size < definitions.length;
  const merge = (slots: readonly number[]): Properties =>
    Object.assign({}, ...slots.map((slot) => properties.get(slot) ?? {}));
  return {
    ofDefinition: ({ slot, formation, product }) => {
      const slots = [product, formation, slot]; // what is nearest to the definition wins
      const layer = telling ? layers.get(slot) : undefined;
      const origin = Object.assign({}, ...slots.map((one) => origins.get(one) ?? {})) as Pick<
        Component,
        'author' | 'created'
      >;
      const measured = validation.get(slot);
      return {
        properties: { ...(layer ? { Layer: { value: layer } } : {}), ...merge(slots) },
        ...(origin.author ? { author: origin.author } : {}),
        ...(origin.created ? { created: origin.created } : {}),
        ...(measured && Object.keys(measured).length > 0 ? { validation: measured } : {}),
      };
    },
    ofUsage: (slot) => properties.get(slot),
  };
}

/**
 * Schema names of AP203, AP214 and AP242 (ISO 10303-203, -214, -242), by themselves or by the object identifier behind
 * another name.
 */
const KNOWN_SCHEMA =
  /^\s*(CONFIG_CONTROL_DESIGN|CONFIG_CONTROL_3D_DESIGN|AUTOMOTIVE_DESIGN|AP203|AP214|AP242)|\{\s*1\s+0\s+10303\s+(203|214|242)\b/i;

function readSchema(file: StepFile, findings: Finding[]): string {
  const given = file.header('FILE_SCHEMA')?.[0];
  const names = isList(given) ? given.map(textOf) : [];
  if (!names.some((name) => KNOWN_SCHEMA.test(name)))
    findings.push({
      code: 'unknown-schema',
      message: `${names.join('').trim() === '' ? 'The file names no schema' : `The schema of the file is ${names.map((name) => `“${name.slice(0, 80)}”`).join(', ')}`}; AP203, AP214 and AP242 are known. It was read like these: check quantities and names, another schema may say them elsewhere.`,
    });
  return names.join(', ');
}

/** The unit most representations of products use; a finding where representations give none. */
function readLengthUnit(file: StepFile, links: ShapeLinks, findings: Finding[]): LengthUnit {
  const uses = new Map<number, number>();
  for (const representation of links.definitionOf.keys()) {
    const { context } = representationParts(file, representation);
    uses.set(context, (uses.get(context) ?? 0) + 1);
  }
  const units = [...uses]
    .sort((a, b) => b[1] - a[1])
    .map(([context, count]) => ({ count, unit: context < 0 ? null : lengthUnitOf(file, context) }));
  const unsaid = units.reduce((sum, { count, unit }) => sum + (unit?.given ? 0 : count), 0);
  const given = units.find(({ unit }) => unit?.given)?.unit ?? null;
  if (unsaid > 0)
    findings.push({
      code: 'no-length-unit',
      message: given
        ? `${unsaid === 1 ? 'One shape of the file gives' : `${unsaid} shapes of the file give`} no length unit, others do; millimetres were assumed for ${unsaid === 1 ? 'it' : 'them'}.`
        : 'The file gives no length unit; millimetres were assumed.',
    });
  return given ?? { toMm: 1, name: 'mm', given: false };
}

/**
 * Leaves out definitions that are neither used, nor opened, nor shaped, where there are others: documents and the
 * like.
 */
function keepProducts(
  file: StepFile,
  definitions: Definition[],
  usages: RawUsages,
  links: ShapeLinks,
  findings: Finding[],
): Definition[] {
  const joined = new Uint8Array(file.index.count); // by slot
  for (let at = 0; at < usages.count; at++) joined[usages.parents[at]] = joined[usages.children[at]] = 1;
  const kept = definitions.filter(({ slot }) => joined[slot] === 1 || links.ofDefinition.has(slot));
  if (kept.length === 0) return definitions;
  const left = definitions.length - kept.length;
  if (left > 0)
    findings.push({
      code: 'loose-products',
      message: `${left} products are neither used anywhere nor have a shape (documents, for instance); they were left out.`,
    });
  return kept;
}

function buildGraph(
  definitions: readonly Definition[],
  usages: RawUsages,
  facts: Facts,
  shapeOf: ReadonlyMap<number, ShapeKey>,
  placed: PlacedUsages | null,
): Pick<Assembly, 'root' | 'components'> {
  const indexOf = new Int32Array(definitions.reduce((most, { slot }) => Math.max(most, slot + 1), 0)); // by slot
  definitions.forEach(({ slot }, index) => (indexOf[slot] = index));
  const inside: DraftUsage[][] = definitions.map(() => []);
  for (let at = 0; at < usages.count; at++) {
    inside[indexOf[usages.parents[at]]].push(usageOf(usages, at, indexOf[usages.children[at]], facts, placed));
  }
  const drafts = definitions.map((definition, index): ComponentDraft => {
    const { slot, partNumber, name, description, revision, source } = definition;
    return {
      partNumber,
      name,
      description,
      revision,
      source,
      shape: shapeOf.get(slot) ?? null,
      ...facts.ofDefinition(definition),
      usages: inside[index],
    };
  });
  return keyGraph(drafts, { placed: placed !== null });
}

function usageOf(
  { slots, labels, quantities }: RawUsages,
  at: number,
  child: ComponentIndex,
  facts: Facts,
  placed: PlacedUsages | null,
): DraftUsage {
  const slot = slots[at];
  const usage: DraftUsage = {
    key: NO_KEY,
    child,
    label: labels[at],
    quantity: quantities[at],
    placement: placed?.placements.get(slot) ?? identityPlacement,
  };
  const properties = facts.ofUsage(slot),
    colour = placed?.colours.get(slot);
  return properties || colour !== undefined
    ? { ...usage, ...(properties ? { properties } : {}), ...(colour === undefined ? {} : { colour }) }
    : usage;
}

/** What a drafter calls the whole file: its top component, or nothing for an unnamed top. */
export const topLabel = (assembly: Assembly): string =>
  assembly.components[assembly.root].name || assembly.components[assembly.root].partNumber
    ? partLabel(assembly.components[assembly.root])
    : '';
