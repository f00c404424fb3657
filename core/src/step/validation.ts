import type { ShapeMeasures } from '../assembly/index.ts';
import { numberOf, type StepFile, isList } from '../exchange/index.ts';
import { ownerOf, representationItems, VALIDATION } from './properties.ts';
import { isProductDefinition, representationParts } from './shapes.ts';
import { lengthUnitOf, toMillimetres } from './units.ts';

/**
 * What the writer measured on each product definition's shape, left for readers to check their own against; mm, mm²,
 * mm³.
 * Source: geometric validation properties of ISO 10303-203, -214 and -242.
 */
export function readValidation(file: StepFile): ReadonlyMap<number, ShapeMeasures> {
  const found = new Map<number, { volume?: number; area?: number; centroid?: readonly [number, number, number] }>();
  for (const link of file.ofType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const definition = file.ref(link, 'PROPERTY_DEFINITION_REPRESENTATION', 0);
    if (!VALIDATION.test(file.text(definition, 'PROPERTY_DEFINITION', 0))) continue;
    const owner = ownerOf(file, file.ref(definition, 'PROPERTY_DEFINITION', 2));
    if (!isProductDefinition(file, owner)) continue;
    const measures = found.get(owner) ?? {};
    found.set(owner, measures);
    const representation = file.ref(link, 'PROPERTY_DEFINITION_REPRESENTATION', 1);
    const { toMm } = lengthUnitOf(file, representationParts(file, representation).context);
    for (const item of representationItems(file, representation)) readMeasure(file, item, toMm, measures);
  }
  return found;
}

function readMeasure(
  file: StepFile,
  item: number,
  toMm: number,
  into: { volume?: number; area?: number; centroid?: readonly [number, number, number] },
): void {
  const name = (
    file.text(item, 'MEASURE_REPRESENTATION_ITEM', 0) ||
    file.text(item, 'REPRESENTATION_ITEM', 0) ||
    file.text(item, 'CARTESIAN_POINT', 0)
  ).toLowerCase();
  const split = file.size(item, 'MEASURE_WITH_UNIT') === 2;
  const keyword = split ? 'MEASURE_WITH_UNIT' : 'MEASURE_REPRESENTATION_ITEM';
  const value = numberOf(file.value(item, keyword, split ? 0 : 1));
  const factor = toMillimetres(file, file.ref(item, keyword, split ? 1 : 2));
  if (value !== null && factor !== null) {
    if (name.includes('volume')) into.volume = value * factor;
    else if (name.includes('area')) into.area = value * factor;
  }
  const point = file.value(item, 'CARTESIAN_POINT', 1);
  if (name.includes('centre point') && isList(point) && point.length === 3)
    into.centroid = point.map((one) => (numberOf(one) ?? 0) * toMm) as unknown as [number, number, number];
}
