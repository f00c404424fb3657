import {
  alikeCandidates,
  alikeFindings,
  hashKey,
  type Assembly,
  type Finding,
  type LikePair,
  type ShapeKey,
  type ShapeMeasurement,
} from '../../../core/src/assembly/index.ts';
import { makeMeshes, meshKey, standInKey, type Tools } from './model.ts';
import type { PackedModel } from './tasks.ts';

/** Bumped when measuring, pictures or likeness change, so that stored ones are made anew. */
const MEASURE_VERSION = 'measure/1',
  THUMBNAIL_VERSION = 'thumbnail/1',
  ALIKE_VERSION = 'alike/1';

const measureKey = (shape: ShapeKey): string => `${MEASURE_VERSION} ${meshKey(shape)}`;
export const thumbnailKey = (shape: ShapeKey): string => `${THUMBNAIL_VERSION} ${meshKey(shape)}`;
/**
 * Findings about the shapes of an assembly: which could not be made, which differ from the file's own measure, which
 * are alike.
 */
export const shapeFindingsKey = (assembly: Assembly): string =>
  `${ALIKE_VERSION} ${hashKey(...assembly.components.map(({ key, shape }) => `${key} ${shape}`))}`;

const allMeasuresKey = (assembly: Assembly): string => `${MEASURE_VERSION} all ${hashKey(...shapesOf(assembly))}`;

/** The file's own volume and ours may differ by facets on small round shapes; beyond this something is missing. */
const VOLUME_SHARE = 0.03;

/** Names in the store of everything that is made of one shape. */
export const keysOfShape = (shape: ShapeKey): string[] => [
  meshKey(shape),
  standInKey(shape),
  measureKey(shape),
  thumbnailKey(shape),
];
/** Names in the store of what is known of all shapes of an assembly together. */
export const keysOfAssembly = (assembly: Assembly): string[] => [shapeFindingsKey(assembly), allMeasuresKey(assembly)];

const asJson = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value));
const fromJson = <Value>(bytes: Uint8Array): Value => JSON.parse(new TextDecoder().decode(bytes)) as Value;

/**
 * Makes everything that hangs on shapes and is not there yet: meshes, measures, pictures, and the findings about
 * them. Each is kept as soon as it is made, so that a run that is cut short goes on where it was.
 */
export async function makeShapes(
  model: PackedModel,
  tools: Tools,
  onProgress: (ready: number, of: number) => void = () => {},
): Promise<Finding[]> {
  const { assembly } = model;
  const known = await tools.store.get(shapeFindingsKey(assembly));
  const findings = await makeMeshes(model, tools, onProgress, (shape) => describe(shape, tools));
  if (known) return fromJson(known);
  const measures = await gatherMeasures(assembly, tools);
  await tools.store.put(allMeasuresKey(assembly), asJson([...measures]));
  const noticed = [...differing(assembly, measures), ...alikeFindings(assembly, await confirm(measures, tools))];
  for (const finding of noticed) findings.push(finding);
  await tools.store.put(shapeFindingsKey(assembly), asJson(findings));
  return findings;
}

/**
 * Meshes and what is measured on them, by shape: what masses, sizes and pictures of a bill need. Findings tell of
 * shapes that could not be made.
 */
export async function measureShapes(
  model: PackedModel,
  tools: Tools,
): Promise<{ facts: Map<ShapeKey, ShapeMeasurement>; findings: Finding[] }> {
  const findings = await makeMeshes(
    model,
    tools,
    () => {},
    (shape) => describe(shape, tools),
  );
  return { facts: await gatherMeasures(model.assembly, tools), findings };
}

/** Measures and picture of one shape whose mesh is stored. */
async function describe(shape: ShapeKey, { pool, store, signal }: Tools): Promise<void> {
  const [measured, drawn] = [await store.get(measureKey(shape)), await store.get(thumbnailKey(shape))];
  if (measured && drawn) return;
  const mesh = await store.get(meshKey(shape));
  if (!mesh) return;
  if (!measured) await store.put(measureKey(shape), asJson(await pool.measure(mesh, signal)));
  if (!drawn) await store.put(thumbnailKey(shape), await pool.thumbnail(mesh, signal));
}

const shapesOf = (assembly: Assembly): ShapeKey[] => [
  ...new Set(assembly.components.flatMap(({ shape }) => (shape ? [shape] : []))),
];

/** PNG pictures of parts by component index, for lists that show them; those that are made. */
export async function loadThumbnails(
  { components }: Assembly,
  { store }: Pick<Tools, 'store'>,
): Promise<Map<number, Uint8Array>> {
  const pictures = new Map<number, Uint8Array>();
  for (const [at, { shape }] of components.entries()) {
    const png = shape ? await store.get(thumbnailKey(shape)) : null;
    if (png) pictures.set(at, png);
  }
  return pictures;
}

/** PNG pictures of the parts of an assembly by shape, made where they are not there yet and the mesh is. */
export async function makePictures(
  assembly: Assembly,
  { pool, store, signal }: Tools,
): Promise<Map<ShapeKey, Uint8Array>> {
  const pictures = new Map<ShapeKey, Uint8Array>();
  for (const shape of shapesOf(assembly)) {
    const mesh = await store.get(meshKey(shape));
    const known = await store.get(thumbnailKey(shape));
    if (!known && !mesh) continue;
    const png = known ?? (await pool.thumbnail(mesh!, signal));
    if (!known) await store.put(thumbnailKey(shape), png);
    pictures.set(shape, png);
  }
  return pictures;
}

/** What was measured on the shapes of an assembly, by shape; empty before all of them are made. */
export async function loadMeasures(
  assembly: Assembly,
  { store }: Pick<Tools, 'store'>,
): Promise<Map<ShapeKey, ShapeMeasurement>> {
  const bytes = await store.get(allMeasuresKey(assembly));
  return new Map(bytes ? fromJson<[ShapeKey, ShapeMeasurement][]>(bytes) : []);
}

async function gatherMeasures(
  assembly: Assembly,
  { store }: Pick<Tools, 'store'>,
): Promise<Map<ShapeKey, ShapeMeasurement>> {
  const measures = new Map<ShapeKey, ShapeMeasurement>();
  for (const shape of shapesOf(assembly)) {
    const bytes = await store.get(measureKey(shape));
    if (bytes) measures.set(shape, fromJson(bytes));
  }
  return measures;
}

export async function loadShapeFindings(assembly: Assembly, { store }: Pick<Tools, 'store'>): Promise<Finding[]> {
  const bytes = await store.get(shapeFindingsKey(assembly));
  return bytes ? fromJson(bytes) : [];
}

function differing(assembly: Assembly, measures: ReadonlyMap<ShapeKey, ShapeMeasurement>): Finding[] {
  return assembly.components.flatMap((component): Finding[] => {
    const given = component.validation?.volume,
      ours = component.shape ? measures.get(component.shape)?.volume : undefined;
    if (given === undefined || ours === undefined || !(given > 0) || Math.abs((ours ?? 0) / given - 1) <= VOLUME_SHARE)
      return [];
    return [
      {
        code: 'shape-differs',
        key: `shape-differs ${component.key}`,
        components: [component.key],
        message: `The shape of “${component.partNumber || component.name}” has ${(((ours ?? 0) / given) * 100).toFixed(0)} % of the volume that the file says it has; part of it may be missing in pictures and views. Its mass is taken from the file's volume.`,
      },
    ];
  });
}

async function confirm(
  measures: ReadonlyMap<ShapeKey, ShapeMeasurement>,
  { pool, store, signal }: Tools,
): Promise<LikePair[]> {
  const pairs: LikePair[] = [];
  for (const shapes of alikeCandidates([...measures].map(([key, { moments }]) => ({ key, moments })))) {
    const [one, other] = [await store.get(meshKey(shapes[0])), await store.get(meshKey(shapes[1]))];
    const likeness = one && other ? await pool.compare(one, other, signal) : null;
    if (likeness) pairs.push({ shapes, likeness });
  }
  return pairs;
}
