import { numberOf, refsOf, type StepFile } from '../exchange/index.ts';

/** Entities that are a definition of a product: the plain one, and its subtype with documents. */
export const PRODUCT_DEFINITIONS = ['PRODUCT_DEFINITION', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'] as const;
export const isProductDefinition = (file: StepFile, slot: number): boolean =>
  PRODUCT_DEFINITIONS.some((keyword) => file.is(slot, keyword));

/** Which shape representations belong to which product definition, and how they hang together. Slots throughout. */
export interface ShapeLinks {
  /**
   * Representations of a product definition: named by its shape definition, and those related to them without a
   * transformation.
   */
  readonly ofDefinition: ReadonlyMap<number, readonly number[]>;
  /** The product definition that a representation belongs to. */
  readonly definitionOf: ReadonlyMap<number, number>;
}

export function readShapeLinks(file: StepFile): ShapeLinks {
  const related = relatedRepresentations(file);
  const ofDefinition = new Map<number, number[]>();
  const definitionOf = new Map<number, number>();
  const keyword = 'SHAPE_DEFINITION_REPRESENTATION';
  for (const link of file.ofType(keyword)) {
    const shape = file.ref(link, keyword, 0);
    const representation = file.ref(link, keyword, 1);
    const definition = file.ref(shape, 'PRODUCT_DEFINITION_SHAPE', 2);
    if (representation < 0 || !isProductDefinition(file, definition)) continue;
    const own = ofDefinition.get(definition) ?? [];
    ofDefinition.set(definition, own);
    for (const reached of related.size > 0 ? reach(representation, related) : [representation]) {
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
  const join = (a: number, b: number) => {
    const known = related.get(a);
    if (known) known.push(b);
    else related.set(a, [b]);
  };
  for (const slot of file.ofType('SHAPE_REPRESENTATION_RELATIONSHIP')) {
    if (file.is(slot, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) continue;
    const keyword =
      file.size(slot, 'SHAPE_REPRESENTATION_RELATIONSHIP') >= 4
        ? 'SHAPE_REPRESENTATION_RELATIONSHIP'
        : 'REPRESENTATION_RELATIONSHIP';
    const a = file.ref(slot, keyword, 2),
      b = file.ref(slot, keyword, 3);
    if (a < 0 || b < 0) continue;
    join(a, b);
    join(b, a);
  }
  return related;
}

function reach(start: number, related: ReadonlyMap<number, readonly number[]>): Set<number> {
  const seen = new Set([start]);
  for (const at of seen) for (const next of related.get(at) ?? []) seen.add(next);
  return seen;
}

/** Items and context of any representation, whatever its entity name. */
export function representationParts(file: StepFile, slot: number): { items: number[]; context: number } {
  for (const keyword of file.keywordsOf(slot)) {
    if (file.size(slot, keyword) >= 3)
      return { items: refsOf(file.value(slot, keyword, 1)), context: file.ref(slot, keyword, 2) };
  }
  return { items: [], context: -1 };
}

/** For a MAPPED_ITEM: what is mapped, from which origin, to which target; null where it is none, or not whole. */
export function readMappedItem(
  file: StepFile,
  slot: number,
): { representation: number; origin: number; target: number } | null {
  // As a complex instance the name stands in REPRESENTATION_ITEM.
  const first = file.size(slot, 'MAPPED_ITEM') === 2 ? 0 : 1;
  const map = file.ref(slot, 'MAPPED_ITEM', first),
    target = file.ref(slot, 'MAPPED_ITEM', first + 1);
  const origin = file.ref(map, 'REPRESENTATION_MAP', 0),
    representation = file.ref(map, 'REPRESENTATION_MAP', 1);
  return target < 0 || origin < 0 || representation < 0 ? null : { representation, origin, target };
}

/** A colour as 0xRRGGBB from the styles that these entities lead to; null where they give none. */
export function colourOf(file: StepFile, slots: readonly number[]): number | null {
  const seen = new Set(slots);
  for (const slot of seen) {
    if (seen.size > 200) return null; // no style is as large
    if (file.is(slot, 'COLOUR_RGB')) {
      const size = file.size(slot, 'COLOUR_RGB'); // 4 with the name, 3 in a complex instance
      const channels = [size - 3, size - 2, size - 1].map((n) =>
        Math.round(255 * Math.min(1, Math.max(0, numberOf(file.value(slot, 'COLOUR_RGB', n)) ?? 0))),
      );
      return channels[0] * 65536 + channels[1] * 256 + channels[2];
    }
    const named = NAMED_COLOURS[file.text(slot, 'DRAUGHTING_PRE_DEFINED_COLOUR', 0).toLowerCase()];
    if (named !== undefined) return named;
    for (const next of file.refs(slot)) seen.add(next);
  }
  return null;
}

/** ISO 10303-46 draughting_pre_defined_colour. */
const NAMED_COLOURS: Readonly<Record<string, number>> = {
  red: 0xff0000,
  green: 0x00ff00,
  blue: 0x0000ff,
  yellow: 0xffff00,
  magenta: 0xff00ff,
  cyan: 0x00ffff,
  black: 0,
  white: 0xffffff,
};
