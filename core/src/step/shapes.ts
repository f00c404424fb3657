import { refOf, refsOf, type StepFile } from './file.ts';

/** Entities that are a definition of a product: the plain one, and its subtype with documents. */
export const PRODUCT_DEFINITIONS = ['PRODUCT_DEFINITION', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'] as const;
export const isProductDefinition = (file: StepFile, id: number): boolean => PRODUCT_DEFINITIONS.some((keyword) => file.is(id, keyword));

/** Which shape representations belong to which product definition, and how they hang together. */
export interface ShapeLinks {
  /** Representations of a product definition: named by its shape definition, and those related to them without a transformation. */
  readonly ofDefinition: ReadonlyMap<number, readonly number[]>;
  /** The product definition that a representation belongs to. */
  readonly definitionOf: ReadonlyMap<number, number>;
}

export function readShapeLinks(file: StepFile): ShapeLinks {
  const related = relatedRepresentations(file);
  const ofDefinition = new Map<number, number[]>();
  const definitionOf = new Map<number, number>();
  for (const link of file.ofType('SHAPE_DEFINITION_REPRESENTATION')) {
    const record = file.record(link, 'SHAPE_DEFINITION_REPRESENTATION');
    const shape = refOf(record?.[0]);
    const representation = refOf(record?.[1]);
    const definition = shape === null ? null : refOf(file.record(shape, 'PRODUCT_DEFINITION_SHAPE')?.[2]);
    if (definition === null || representation === null || !isProductDefinition(file, definition)) continue;
    const own = ofDefinition.get(definition) ?? [];
    ofDefinition.set(definition, own);
    for (const reached of reach(representation, related)) {
      if (definitionOf.has(reached)) continue;
      definitionOf.set(reached, definition);
      own.push(reached);
    }
  }
  return { ofDefinition, definitionOf };
}

/** SHAPE_REPRESENTATION_RELATIONSHIP without a transformation says: two representations of the same thing. */
function relatedRepresentations(file: StepFile): Map<number, number[]> {
  const related = new Map<number, number[]>();
  for (const id of file.ofType('SHAPE_REPRESENTATION_RELATIONSHIP')) {
    if (file.is(id, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) continue;
    const record = file.record(id, 'SHAPE_REPRESENTATION_RELATIONSHIP') ?? [];
    const pair = refsOf(record.length >= 4 ? record : file.record(id, 'REPRESENTATION_RELATIONSHIP') ?? []);
    const [a, b] = pair;
    if (a === undefined || b === undefined) continue;
    related.set(a, [...(related.get(a) ?? []), b]);
    related.set(b, [...(related.get(b) ?? []), a]);
  }
  return related;
}

function reach(start: number, related: ReadonlyMap<number, readonly number[]>): Set<number> {
  const seen = new Set([start]);
  for (const at of seen) for (const next of related.get(at) ?? []) seen.add(next);
  return seen;
}

/** Items and context of any representation, whatever its entity name. */
export function representationParts(file: StepFile, id: number): { items: number[]; context: number | null } {
  for (const record of file.entity(id)?.values() ?? []) {
    if (record.length >= 3) return { items: refsOf(record[1]), context: refOf(record[2]) };
  }
  return { items: [], context: null };
}

/** For a MAPPED_ITEM: what is mapped, from which origin, to which target. */
export function readMappedItem(file: StepFile, id: number): { representation: number; origin: number; target: number } | null {
  const record = file.record(id, 'MAPPED_ITEM');
  const map = refOf(record?.[1]);
  const target = refOf(record?.[2]);
  const mapRecord = map === null ? null : file.record(map, 'REPRESENTATION_MAP');
  const origin = refOf(mapRecord?.[0]);
  const representation = refOf(mapRecord?.[1]);
  return target === null || origin === null || representation === null ? null : { representation, origin, target };
}
