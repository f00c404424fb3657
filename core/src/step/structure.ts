import { groupBy, Refusal, type Finding } from '../assembly/index.ts';
import { identityPlacement, type Placement } from '../geometry/index.ts';
import { refOf, textOf, type StepFile } from './file.ts';
import { placementBetween, readAxes } from './placements.ts';
import { isProductDefinition, PRODUCT_DEFINITIONS, readMappedItem, representationParts, type ShapeLinks } from './shapes.ts';
import { lengthUnitOf } from './units.ts';
import { isTyped } from './values.ts';

/** A product definition as the file has it, before keys are made. */
export interface Definition {
  readonly id: number;
  readonly partNumber: string;
  readonly name: string;
  readonly description: string;
  readonly revision: string;
  readonly source: 'made' | 'bought' | null;
}

/** A usage as the file has it: parent and child are entity instance names of product definitions. */
export interface RawUsage {
  readonly id: number;
  readonly parent: number;
  readonly child: number;
  readonly label: string;
  readonly quantity: number;
  placement: Placement | null;
}

/** PRODUCT_DEFINITION → PRODUCT_DEFINITION_FORMATION → PRODUCT, in file order. */
export function readDefinitions(file: StepFile): Definition[] {
  return file.ofType(...PRODUCT_DEFINITIONS).map((id) => {
    const formation = refOf(PRODUCT_DEFINITIONS.map((keyword) => file.record(id, keyword)).find((record) => record && record.length >= 4)?.[2]);
    const formationEntity = formation === null ? null : file.entity(formation);
    const record = formationEntity
      ? [...formationEntity].find(([keyword]) => keyword.startsWith('PRODUCT_DEFINITION_FORMATION'))?.[1] : undefined;
    const product = refOf(record?.[2]);
    const productRecord = product === null ? null : file.record(product, 'PRODUCT');
    if (!productRecord) {
      throw new Refusal('no-product', `#${id} (PRODUCT_DEFINITION) leads to no PRODUCT, so its part has neither number nor name. Export the file again; nothing was stored.`);
    }
    const given = record?.[3];
    const source = given && typeof given === 'object' && 'enumeration' in given ? given.enumeration : '';
    return {
      id,
      partNumber: textOf(productRecord[0]).trim(),
      name: textOf(productRecord[1]).trim(),
      description: textOf(productRecord[2]).trim(),
      revision: textOf(record?.[0]).trim(),
      source: source === 'MADE' ? 'made' : source === 'BOUGHT' ? 'bought' : null,
    };
  });
}

const USAGE = ['NEXT_ASSEMBLY_USAGE_OCCURRENCE', 'QUANTIFIED_ASSEMBLY_COMPONENT_USAGE', 'ASSEMBLY_COMPONENT_USAGE'] as const;

/** Usages in file order, each with its placement where the file gives one by either mechanism. */
export function readUsages(file: StepFile, links: ShapeLinks, findings: Finding[]): RawUsage[] {
  const usages: RawUsage[] = [];
  for (const id of file.ofType(...USAGE)) {
    const entity = file.entity(id)!;
    const base = USAGE.map((keyword) => entity.get(keyword)).find((record) => record && record.length >= 5)
      ?? entity.get('PRODUCT_DEFINITION_RELATIONSHIP');
    const parent = refOf(base?.[3]);
    const child = refOf(base?.[4]);
    if (!base || parent === null || child === null || !isProductDefinition(file, parent) || !isProductDefinition(file, child)) {
      throw new Refusal('broken-usage', `#${id} (${file.keywordsOf(id).join(', ')}) does not join two product definitions. Parts would be missing from the bill, so the file is refused.`);
    }
    usages.push({
      id, parent, child,
      label: textOf(base[1]).trim() || textOf(base[0]).trim(),
      quantity: readQuantity(file, id),
      placement: null,
    });
  }
  placeByContextDependentShapes(file, links, usages);
  placeByMappedItems(file, links, usages);
  const unplaced = usages.filter((usage) => usage.placement === null);
  if (unplaced.length > 0) {
    findings.push({ code: 'not-placed', message: `${unplaced.length} of ${usages.length} usages have no placement (first: #${unplaced[0].id}); they are drawn at the origin of their parent. Quantities are not affected.` });
  }
  return usages;
}

function readQuantity(file: StepFile, id: number): number {
  const record = file.record(id, 'QUANTIFIED_ASSEMBLY_COMPONENT_USAGE');
  const measure = refOf(record?.[record.length - 1]);
  if (!record || measure === null) return 1;
  const withUnit = file.record(measure, 'MEASURE_WITH_UNIT') ?? [...(file.entity(measure)?.values() ?? [])][0];
  const given = withUnit?.[0];
  const value = isTyped(given) ? given.value : given;
  if (typeof value !== 'number' || !Number.isInteger(value) || value < 1 || value > Number.MAX_SAFE_INTEGER) {
    throw new Refusal('quantity-not-whole', `#${id}: the quantity ${String(value)} is no whole number of pieces, so it cannot be counted. Mend it in the model and export again.`);
  }
  return value;
}

/** CONTEXT_DEPENDENT_SHAPE_REPRESENTATION: a relationship with a transformation, for one usage. */
function placeByContextDependentShapes(file: StepFile, links: ShapeLinks, usages: readonly RawUsage[]): void {
  const byId = new Map(usages.map((usage) => [usage.id, usage]));
  for (const id of file.ofType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
    const record = file.record(id, 'CONTEXT_DEPENDENT_SHAPE_REPRESENTATION');
    const relationship = refOf(record?.[0]);
    const shape = refOf(record?.[1]);
    const usage = shape === null ? undefined : byId.get(refOf(file.record(shape, 'PRODUCT_DEFINITION_SHAPE')?.[2]) ?? -1);
    if (!usage || relationship === null) continue;
    const entity = file.entity(relationship);
    const pair = entity?.get('REPRESENTATION_RELATIONSHIP');
    const first = refOf(pair?.[2]);
    const second = refOf(pair?.[3]);
    const transformation = refOf(entity?.get('REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')?.[0]);
    const items = transformation === null ? null : file.record(transformation, 'ITEM_DEFINED_TRANSFORMATION');
    const axes1 = refOf(items?.[2]);
    const axes2 = refOf(items?.[3]);
    if (first === null || second === null || axes1 === null || axes2 === null) continue;
    const one = readAxes(file, axes1, unitFactor(file, first));
    const two = readAxes(file, axes2, unitFactor(file, second));
    // Item 1 stands in representation 1. Writers differ in which of the two is the child's; the definitions tell.
    const reversed = links.definitionOf.get(first) === usage.parent && links.definitionOf.get(second) === usage.child;
    usage.placement = reversed ? placementBetween(two, one) : placementBetween(one, two);
  }
}

const factors = new WeakMap<StepFile, Map<number, number>>();

function unitFactor(file: StepFile, representation: number): number {
  let known = factors.get(file);
  if (!known) factors.set(file, (known = new Map()));
  let factor = known.get(representation);
  if (factor === undefined) {
    const { context } = representationParts(file, representation);
    factor = context === null ? 1 : lengthUnitOf(file, context).toMm;
    known.set(representation, factor);
  }
  return factor;
}

/** MAPPED_ITEM in the parent's representation: the n-th one of a child serves that child's n-th unplaced usage. */
function placeByMappedItems(file: StepFile, links: ShapeLinks, usages: readonly RawUsage[]): void {
  const unplaced = usages.filter((usage) => !usage.placement);
  const waiting = groupBy(unplaced, (usage) => `${usage.parent} ${usage.child}`);
  const parents = new Set(unplaced.map((usage) => usage.parent));
  for (const parent of parents) {
    for (const representation of links.ofDefinition.get(parent) ?? []) {
      for (const item of representationParts(file, representation).items) {
        const mapped = readMappedItem(file, item);
        const child = mapped && links.definitionOf.get(mapped.representation);
        const usage = waiting.get(`${parent} ${child}`)?.shift();
        if (!mapped || !usage) continue;
        const from = readAxes(file, mapped.origin, unitFactor(file, mapped.representation));
        usage.placement = placementBetween(from, readAxes(file, mapped.target, unitFactor(file, representation)));
      }
    }
  }
}

export const placementOr = (placement: Placement | null): Placement => placement ?? identityPlacement;
