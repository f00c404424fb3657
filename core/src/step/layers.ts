import { refsOf, type StepFile } from '../exchange/index.ts';
import { representationParts, type ShapeLinks } from './shapes.ts';

/**
 * Names of the layers that a product definition's shape stands on, by slot of the definition. Blank names and bare
 * numbers of default layers say nothing.
 */
export function readLayers(file: StepFile, links: ShapeLinks): ReadonlyMap<number, string> {
  const assignments = file.ofType('PRESENTATION_LAYER_ASSIGNMENT');
  const layers = new Map<number, string>();
  if (assignments.length === 0) return layers;
  const owner = new Map<number, number>();
  for (const [representation, definition] of links.definitionOf) {
    owner.set(representation, definition);
    for (const item of representationParts(file, representation).items) owner.set(item, definition);
  }
  for (const slot of assignments) {
    const name = file.text(slot, 'PRESENTATION_LAYER_ASSIGNMENT', 0).trim();
    if (!name) continue;
    for (const item of refsOf(file.value(slot, 'PRESENTATION_LAYER_ASSIGNMENT', 2))) {
      // A layer may hold the shape itself or the styled item that colours it.
      const definition = owner.get(item) ?? owner.get(file.ref(item, 'STYLED_ITEM', 2));
      if (definition === undefined) continue;
      const known = layers.get(definition);
      if (!known) layers.set(definition, name);
      else if (!known.split(', ').includes(name)) layers.set(definition, `${known}, ${name}`);
    }
  }
  return layers;
}
