import { determinant, identityPlacement, type Placement, type Vec3 } from '../geometry/index.ts';
import { densityOf } from './densities.ts';
import {
  ownValue,
  type Assembly,
  type Component,
  type ComponentKey,
  type PathKey,
  type Properties,
  type PropertyValue,
  type ShapeKey,
  type Usage,
  type UsageKey,
  type ComponentIndex,
} from './records.ts';
import { treatmentFor, type Treatment } from './treatments.ts';

/** Where a value came from, weakest first: a later one wins. */
export const origins = ['file', 'measured', 'catalogue', 'typed', 'file, this one', 'typed, this one'] as const;
export type Origin = (typeof origins)[number];

/** What is known of a component under one name, by origin. */
export interface LayeredValue {
  readonly name: string;
  /** The one that counts. */
  readonly value: PropertyValue;
  readonly origin: Origin;
  /** How a measured value was obtained. */
  readonly how?: string;
  /** All of them, strongest first. */
  readonly layers: readonly { readonly origin: Origin; readonly value: PropertyValue; readonly how?: string }[];
}

export const pathKey = (path: readonly UsageKey[]): PathKey => path.join('/') as PathKey;
export const pathOf = (key: PathKey): UsageKey[] => (key === '' ? [] : (key.split('/') as UsageKey[]));

/** A measured value of a shape, in the unit it reads in. */
export interface MeasuredValue extends PropertyValue {
  readonly how: string;
}
/** What was measured on a shape. */
export interface ShapeFacts {
  readonly sizes: Readonly<Record<string, MeasuredValue>>;
  /** mm³ of the mesh; null where it encloses nothing. */
  readonly volume: number | null;
}

/** Which way the machine stands: the model axes that point up and to the front. */
export const modelAxes = ['+x', '-x', '+y', '-y', '+z', '-z'] as const;
export type ModelAxis = (typeof modelAxes)[number];
export interface Orientation {
  /** Axis of the model that points up. */
  readonly up: ModelAxis;
  /** Axis of the model that points to the viewer of the front view; not along `up`. */
  readonly front: ModelAxis;
}
/** As most mechanical models stand. */
export const usualOrientation: Orientation = { up: '+z', front: '-y' };

/** Names of what stands in a component's own fields rather than among its properties. */
export const ownFields = ['Part number', 'Name', 'Description', 'Revision', 'Made or bought'] as const;
type OwnField = (typeof ownFields)[number];
const fieldOf: Readonly<Record<OwnField, 'partNumber' | 'name' | 'description' | 'revision' | 'source'>> = {
  'Part number': 'partNumber',
  Name: 'name',
  Description: 'description',
  Revision: 'revision',
  'Made or bought': 'source',
};
const isOwnField = (name: string): name is OwnField => name in fieldOf;

/** What is typed and decided about components; all of it optional. Names of properties are keys. */
export interface StructureEdits {
  /** How components count everywhere. */
  readonly treatments: Readonly<Record<ComponentKey, Treatment>>;
  /** How single places count; wins over the component. */
  readonly placeTreatments: Readonly<Record<PathKey, Treatment>>;
  /** Typed values of components, by name of property. */
  readonly typed: Readonly<Record<ComponentKey, Properties>>;
  /** Typed values of single places; win over those of the component. */
  readonly typedAt: Readonly<Record<PathKey, Properties>>;
  /** kg/m³ by material, for materials that the usual table lacks or has otherwise. */
  readonly densities: Readonly<Record<string, number>>;
  /** null where the machine stands as in the file. */
  readonly orientation: Orientation | null;
  /** Component → the component whose part it was decided to be. */
  readonly sameAs: Readonly<Record<ComponentKey, ComponentKey>>;
  /** Component → a tag: those of one number and different tags are parts of their own. */
  readonly keptApart: Readonly<Record<ComponentKey, string>>;
}

export interface EditedAssembly {
  /**
   * The assembly as the drafter has it: effective values, and own components for edited places. Indices differ from
   * the file's behind its last component.
   */
  readonly assembly: Assembly;
  /** By component; undefined where nothing was said. */
  readonly treatments: readonly (Treatment | undefined)[];
  /** Index of the file's component that each component of `assembly` is. */
  readonly originals: readonly ComponentIndex[];
  /** What values were laid over; for what is laid on later. */
  readonly sources: EditedSources;
}
/** What an edited assembly was made from. */
interface EditedSources {
  /** The file's components. */
  readonly original: readonly Component[];
  readonly edits: Pick<StructureEdits, 'typed' | 'densities'>;
  readonly facts: FactsByShape;
  /** What single places say, by index of the component that was made for them. */
  readonly places: ReadonlyMap<number, Pick<LayerSources, 'usage' | 'typedAt'>>;
}

/** Facts by shape; empty before anything is measured. */
export type FactsByShape = ReadonlyMap<ShapeKey, ShapeFacts>;

/**
 * The assembly with everything typed, measured and decided laid over it. Only places with edits of their own, and
 * what is above them, get components of their own (with the key of the component that they are); everything else
 * stays shared.
 */
export function editAssembly(assembly: Assembly, edits: StructureEdits, facts: FactsByShape): EditedAssembly {
  const components: Component[] = assembly.components.map((component) =>
    withValues(component, layersOf(component, { edits, facts })),
  );
  const original = assembly.components.map((_, index) => index);
  const placeTreatments = new Map<number, Treatment>();
  const places: Growing['places'] = new Map();
  const root = editPlaces(assembly, edits, facts, { components, original, placeTreatments, places });
  const sameAs = new Map(Object.entries(edits.sameAs) as [ComponentKey, ComponentKey][]);
  const byKey = new Map(assembly.components.map(({ key }, index) => [key, index]));
  components.forEach((component, index) => {
    const target = byKey.get(sameAs.get(component.key) ?? ('' as ComponentKey));
    if (target !== undefined)
      components[index] = { ...component, partNumber: components[target].partNumber, name: components[target].name };
    const tag = ownValue(edits.keptApart, component.key);
    if (tag !== undefined) components[index] = { ...components[index], keptApart: tag };
  });
  const turn = orientationTurn(edits.orientation ?? usualOrientation);
  return {
    assembly: { ...assembly, components, root, ...(turn ? { turn } : {}) },
    treatments: components.map(
      ({ key, drawn }, index) =>
        placeTreatments.get(index) ?? edits.treatments[key] ?? (drawn ? treatmentFor('left out') : undefined),
    ),
    originals: original,
    sources: { original: assembly.components, edits, facts, places },
  };
}

/** An assembly of which nothing was typed, measured or decided. */
export const asInFile = (assembly: Assembly): EditedAssembly => ({
  assembly,
  treatments: [],
  originals: assembly.components.map((_, at) => at),
  sources: { original: assembly.components, edits: { typed: {}, densities: {} }, facts: new Map(), places: new Map() },
});

/**
 * What is known of a component of an edited assembly, by name.
 * @param said what catalogues say of it
 */
export const layersAt = (
  { originals, sources: { original, places, edits, facts } }: EditedAssembly,
  at: number,
  said?: Properties,
): LayeredValue[] => layersOf(original[originals[at]], { edits, facts, said, ...places.get(at) });

/**
 * An edited assembly with what catalogues say as one more layer of values, and what is derived from them.
 * @param said by index of the component
 */
export function withSaid(edited: EditedAssembly, said: ReadonlyMap<number, Properties>): EditedAssembly {
  if (said.size === 0) return edited;
  const components = [...edited.assembly.components];
  for (const [at, values] of said) {
    const changed = layersAt(edited, at, values).filter(
      ({ name, origin }) => (origin === 'catalogue' && Object.hasOwn(values, name)) || name === 'Mass',
    );
    // Without a density there is no mass any more, whatever the material before it gave.
    const { Mass: _, ...properties } = components[at].properties;
    components[at] = withValues({ ...components[at], properties }, changed, properties);
  }
  return { ...edited, assembly: { ...edited.assembly, components } };
}

interface Growing {
  readonly components: Component[];
  readonly original: number[];
  readonly placeTreatments: Map<number, Treatment>;
  readonly places: Map<number, Pick<LayerSources, 'usage' | 'typedAt'>>;
}

interface PlaceNode {
  readonly children: Map<UsageKey, PlaceNode>;
  treatment?: Treatment;
  typed?: Properties;
}

/**
 * Walks the trie of edited places together with the structure; the new root. Usages with properties of their own
 * count as edited places.
 */
function editPlaces(assembly: Assembly, edits: StructureEdits, facts: FactsByShape, grow: Growing): number {
  const trie: PlaceNode = { children: new Map() };
  const nodeAt = (path: PathKey): PlaceNode =>
    pathOf(path).reduce<PlaceNode>((node, key) => {
      let next = node.children.get(key);
      if (!next) node.children.set(key, (next = { children: new Map() }));
      return next;
    }, trie);
  for (const [path, treatment] of Object.entries(edits.placeTreatments)) nodeAt(path as PathKey).treatment = treatment;
  for (const [path, typed] of Object.entries(edits.typedAt)) nodeAt(path as PathKey).typed = typed;
  const place = (index: number, node: PlaceNode | null, usage: Usage | null): number => {
    const component = assembly.components[index];
    const usages = component.usages.map((inner) => {
      const next = node?.children.get(inner.key) ?? null;
      const child = next || inner.properties ? place(inner.child, next, inner) : inner.child;
      return child === inner.child ? inner : { ...inner, child };
    });
    const unchanged = usages.every((inner, at) => inner === component.usages[at]);
    if (unchanged && !node?.treatment && !node?.typed && !usage?.properties) return index;
    const here = { usage: usage?.properties, typedAt: node?.typed };
    const at = grow.components.length;
    grow.components.push({ ...withValues(component, layersOf(component, { edits, facts, ...here })), usages });
    grow.original.push(index);
    grow.places.set(at, here);
    if (node?.treatment) grow.placeTreatments.set(at, node.treatment);
    return at;
  };
  // Usages with properties are edited places wherever their parent is used, so shared parents are rewritten once, in
  // place.
  for (let index = 0; index < assembly.components.length; index++) {
    const { usages } = assembly.components[index];
    if (!usages.some((usage) => usage.properties)) continue;
    const rewritten = usages.map((usage) =>
      usage.properties ? { ...usage, child: place(usage.child, null, usage) } : usage,
    );
    grow.components[index] = { ...grow.components[index], usages: rewritten };
  }
  return trie.children.size > 0 ? place(assembly.root, trie, null) : assembly.root;
}

interface LayerSources {
  readonly edits: Pick<StructureEdits, 'typed' | 'densities'>;
  readonly facts: FactsByShape;
  /** What catalogues say. */
  readonly said?: Properties | undefined;
  readonly usage?: Properties | undefined;
  readonly typedAt?: Properties | undefined;
}

/**
 * Everything known about a component of the file, by name; own fields first, then properties in the order in which
 * they are first known.
 */
export function layersOf(component: Component, { edits, facts, said, usage, typedAt }: LayerSources): LayeredValue[] {
  const found = new Map<string, { origin: Origin; value: PropertyValue; how?: string }[]>();
  const add = (origin: Origin, values: Readonly<Record<string, PropertyValue & { how?: string }>>) => {
    for (const [name, { how, ...value }] of Object.entries(values)) {
      const layers = found.get(name) ?? [];
      found.set(name, layers);
      layers.unshift({ origin, value, ...(how ? { how } : {}) });
    }
  };
  for (const field of ownFields) add('file', { [field]: { value: component[fieldOf[field]] ?? '' } });
  add('file', {
    ...(component.author ? { Author: { value: component.author } } : {}),
    ...(component.created ? { Created: { value: component.created } } : {}),
  });
  add('file', component.properties);
  const shape = component.shape ? facts.get(component.shape) : undefined;
  if (shape) add('measured', shape.sizes);
  const typed = edits.typed[component.key];
  // What is derived comes after all layers, so the material is the one that counts.
  const material = textOf(
    [typedAt, usage, typed, said, component.properties].find((values) => values?.Material)?.Material,
  );
  const mass =
    shape && component.usages.length === 0 ? computedMass(component, shape, material, edits.densities) : null;
  // A mass that the file gives was weighed or declared; ours is only volume times density.
  if (mass && !component.properties.Mass) add('measured', { Mass: mass });
  if (said) add('catalogue', said);
  if (typed) add('typed', typed);
  if (usage) add('file, this one', usage);
  if (typedAt) add('typed, this one', typedAt);
  return [...found].map(([name, layers]) => ({
    name,
    value: layers[0].value,
    origin: layers[0].origin,
    ...(layers[0].how ? { how: layers[0].how } : {}),
    layers,
  }));
}

const textOf = (value: PropertyValue | undefined): string => (value ? String(value.value).trim() : '');

/** @param kept properties that stay where the layers do not say otherwise */
function withValues(component: Component, layers: readonly LayeredValue[], kept: Properties = {}): Component {
  const properties: Record<string, PropertyValue> = { ...kept };
  const fields: Partial<Record<'partNumber' | 'name' | 'description' | 'revision', string>> & {
    source?: Component['source'];
  } = {};
  for (const { name, value } of layers) {
    if (!isOwnField(name)) properties[name] = value;
    else if (name === 'Made or bought')
      fields.source = value.value === 'made' || value.value === 'bought' ? value.value : null;
    else fields[fieldOf[name] as 'name'] = String(value.value);
  }
  return { ...component, ...fields, properties };
}

function computedMass(
  component: Component,
  shape: ShapeFacts,
  material: string,
  own: Readonly<Record<string, number>>,
): MeasuredValue | null {
  const known = densityOf(material, own);
  const volume = component.validation?.volume ?? shape.volume;
  if (!known || volume === null || !(volume > 0)) return null;
  const given = component.validation?.volume !== undefined ? 'volume given by the file' : 'volume of the shape';
  return {
    value: Number((volume * 1e-9 * known.density).toPrecision(6)),
    unit: 'kg',
    how: `${given} × ${known.density} kg/m³ (${known.entry})`,
  };
}

const axisVector = (axis: ModelAxis): Vec3 => {
  const size = axis[0] === '-' ? -1 : 1;
  return [axis[1] === 'x' ? size : 0, axis[1] === 'y' ? size : 0, axis[1] === 'z' ? size : 0];
};
export const isOrientation = ({ up, front }: Orientation): boolean => up[1] !== front[1];

/**
 * The turn that brings `up` to +z and `front` to −y; null for the usual way. @throws RangeError where both lie on one
 * axis
 */
export function orientationTurn(orientation: Orientation): Placement | null {
  if (!isOrientation(orientation))
    throw new RangeError(`Up (${orientation.up}) and front (${orientation.front}) lie on one axis.`);
  if (orientation.up === usualOrientation.up && orientation.front === usualOrientation.front) return null;
  const z = axisVector(orientation.up),
    y = axisVector(orientation.front).map((value) => 0 - value) as unknown as Vec3;
  const x: Vec3 = [y[1] * z[2] - y[2] * z[1], y[2] * z[0] - y[0] * z[2], y[0] * z[1] - y[1] * z[0]];
  const turn = [x[0], x[1], x[2], 0, y[0], y[1], y[2], 0, z[0], z[1], z[2], 0].map((value) => value + 0);
  return determinant(turn) > 0 ? turn : identityPlacement;
}
