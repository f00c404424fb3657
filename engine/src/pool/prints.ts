import type { Assembly, ShapeKey } from '../../../core/src/assembly/index.ts';
import { unpackMesh } from '../../../core/src/formats/index.ts';
import { printOf, type ShapePrint } from '../../../core/src/revisions/index.ts';
import { makeMeshes, meshKey, standInKey, type Tools } from './model.ts';
import type { PackedModel } from './tasks.ts';

const shapesOf = ({ components }: Assembly): Set<ShapeKey> =>
  new Set(components.flatMap(({ shape }) => (shape ? [shape] : [])));

/**
 * What tells apart the shapes that only one of two assemblies has; shapes that both have need nothing made for them. A
 * shape that cannot be made has none, and is like no other.
 * @param models files of the two assemblies, as far as their shapes may not have been made yet
 * @param onProgress called with how many of all are ready
 */
export async function makePrints(
  before: Assembly,
  after: Assembly,
  models: readonly PackedModel[],
  tools: Tools,
  onProgress: (ready: number, of: number) => void = () => {},
): Promise<Map<ShapeKey, ShapePrint>> {
  const was = shapesOf(before),
    is = shapesOf(after);
  const differ = new Set([...was, ...is].filter((shape) => was.has(shape) !== is.has(shape)));
  const needed = ({ key }: { readonly key: ShapeKey }) => differ.has(key);
  for (const model of models)
    await makeMeshes(
      { ...model, slices: model.slices.filter(needed), meshes: model.meshes.filter(needed) },
      tools,
      onProgress,
    );
  const prints = new Map<ShapeKey, ShapePrint>();
  for (const shape of differ) {
    tools.signal?.throwIfAborted();
    const mesh = (await tools.store.get(standInKey(shape))) ? null : await tools.store.get(meshKey(shape));
    if (mesh) prints.set(shape, printOf(unpackMesh(mesh)));
  }
  return prints;
}
