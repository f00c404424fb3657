import { Refusal, type Finding, type PathKey, type ShapeKey } from '../../../core/src/assembly/index.ts';
import { dashedBox } from '../../../core/src/geometry/index.ts';
import type { Exploded } from '../../../core/src/poses/index.ts';
import { packMesh, packSpots, packViewLines, unpackSpots, unpackViewLines } from '../../../core/src/formats/index.ts';
import type { Slice } from '../../../core/src/step/index.ts';
import type { PackedMesh } from '../shapes/meshShelf.ts';
import type { PackedModel, ViewTask } from './tasks.ts';
import {
  TESSELLATION_VERSION,
  type CutFaces,
  type Look,
  type Spots,
  type ViewLines,
} from '../../../core/src/views/index.ts';
import type { DerivedStore } from '../derived.ts';
import { isNoShape } from '../shapes/noShape.ts';
import type { Pool } from './pool.ts';

export interface Tools {
  readonly pool: Pool;
  readonly store: DerivedStore;
  readonly signal?: AbortSignal;
}

export const meshKey = (shape: ShapeKey): string => `mesh ${TESSELLATION_VERSION} ${shape}`;
/** Why a box stands in for the shape, where one does. */
export const standInKey = (shape: ShapeKey): string => `stand-in ${meshKey(shape)}`;

/**
 * Makes the meshes that the store does not have yet, in parallel. A shape that cannot be made is a finding, never a
 * lost line.
 * @param onProgress called with how many of all are ready
 * @param whenMade called for every shape whose mesh is stored, before it counts as ready
 */
export async function makeMeshes(
  { slices, meshes, assembly }: PackedModel,
  { pool, store, signal }: Tools,
  onProgress: (ready: number, of: number) => void = () => {},
  whenMade: (shape: ShapeKey) => Promise<void> = async () => {},
): Promise<Finding[]> {
  const findings: Finding[] = [];
  for (const { key, bytes } of meshes) {
    await store.put(meshKey(key), bytes);
    await whenMade(key);
  }
  let ready = 0;
  const one = async (slice: Slice) => {
    signal?.throwIfAborted();
    const failed = await makeMesh(slice, { pool, store, signal });
    if (failed === null) await whenMade(slice.key);
    else {
      const using = assembly.components.filter((component) => component.shape === slice.key);
      const parts = using.map((component) => component.partNumber || component.name);
      findings.push({
        code: 'shape-failed',
        components: using.map(({ key }) => key),
        message: `The shape of “${parts.join('”, “')}” could not be made (${failed}); it is counted in the bill and drawn as a dashed box.`,
      });
    }
    onProgress(++ready, slices.length);
  };
  // A few at a time: a large file has thousands, and each that waits holds its text. The largest first, so that none is
  // left for the end, when the other workers have nothing to do.
  const next = slices.toSorted((one, other) => other.text.length - one.text.length).values();
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (const slice of next) await one(slice);
    }),
  );
  return findings;
}
const AT_ONCE = 6;

/**
 * Makes the mesh of a slice unless it is there; where that fails a dashed box stands in for it, and the reason comes
 * back, also the next time.
 */
async function makeMesh(slice: Slice, { pool, store, signal }: Tools): Promise<string | null> {
  const key = meshKey(slice.key),
    reasonKey = standInKey(slice.key);
  if (await store.get(key)) {
    const reason = await store.get(reasonKey);
    return reason ? new TextDecoder().decode(reason) : null;
  }
  try {
    await store.put(key, await pool.tessellate(slice.text, slice.diagonalMm, signal));
    return null;
  } catch (error) {
    signal?.throwIfAborted();
    const reason = whyNotMade(error);
    await store.put(reasonKey, new TextEncoder().encode(reason));
    await store.put(key, packMesh(dashedBox(slice.boxMm)));
    return reason;
  }
}

/** In words: what a library says of its own insides helps no drafter. */
function whyNotMade(error: unknown): string {
  const { name, code } = error as { name?: string; code?: string };
  if (isNoShape(error)) return error.message;
  if (name === 'AbortError' || name === 'TimeoutError') return 'it takes too long';
  if (code === 'ERR_WORKER_OUT_OF_MEMORY') return 'it takes too much memory';
  return 'the geometry kernel cannot make it';
}

export interface MadeView {
  readonly lines: ViewLines;
  readonly spots: Spots;
}

/** Names in the store of what is made of a look; its key says all. */
export const viewKeys = (look: string, hidden = false): { lines: string; spots: string } => ({
  lines: `lines ${hidden ? 'all' : 'visible'} ${look}`,
  spots: `spots ${look}`,
});

/**
 * Lines and leader spots of what is looked at; from the store where it has them.
 * @param hidden whether hidden lines are kept; they are most of the bytes
 * @throws Refusal where nothing of it has a shape to draw
 */
export async function makeView(look: Look, tools: Tools, { hidden = false } = {}): Promise<MadeView> {
  const keys = viewKeys(look.key, hidden);
  let lines = await tools.store.get(keys.lines);
  let spots = await tools.store.get(keys.spots);
  if ((!lines || !spots) && look.shade) {
    const plain = await makeView({ ...look, key: look.unshaded, shade: null }, tools, { hidden });
    const { meshes, bodies } = await sceneFor(look, tools.store);
    const box = plain.lines.box;
    const { direction, shade, cut } = look;
    const png = await tools.pool.shade({ meshes, bodies, direction, cut, box, shade }, tools.signal);
    lines = packViewLines({ ...plain.lines, shade: png, shadeBox: Float64Array.from(box) });
    spots = packSpots(plain.spots);
    await tools.store.put(keys.lines, lines);
    await tools.store.put(keys.spots, spots);
  }
  if (!lines || !spots) {
    const made = await tools.pool.view(
      {
        ...(await sceneFor(look, tools.store)),
        direction: look.direction,
        cut: look.cut,
        window: look.window,
        moves: look.moves,
        hidden,
        aside: look.hidden,
      },
      tools.signal,
    );
    lines = made.lines;
    spots = made.spots;
    await tools.store.put(keys.lines, lines);
    await tools.store.put(keys.spots, spots);
  }
  return { lines: unpackViewLines(lines), spots: unpackSpots(spots) };
}

/**
 * How what is looked at comes apart.
 * @param levels how deep subassemblies are opened
 * @param whole places that leave whole
 * @param every whether of things that are alike and stand at one place every one is opened; else one
 * @throws Refusal where nothing of it has a shape
 */
export async function explodeLook(
  look: Look,
  {
    levels,
    whole = [],
    every = false,
  }: { readonly levels: number; readonly whole?: readonly PathKey[]; readonly every?: boolean },
  { pool, store, signal }: Tools,
  onProgress: (done: number, of: number) => void = () => {},
): Promise<Exploded> {
  return pool.explode({ ...(await sceneFor(look, store)), levels, whole, every }, onProgress, signal);
}

/** All faces that the cut of a look makes; null where nothing is taken away. @throws Refusal where nothing of it has a shape */
export async function cutFacesOf(look: Look, { pool, store, signal }: Tools): Promise<CutFaces | null> {
  if (!look.cut) return null;
  return pool.cutFaces({ ...(await sceneFor(look, store)), direction: look.direction, cut: look.cut }, signal);
}

async function sceneFor({ things }: Look, store: DerivedStore): Promise<Pick<ViewTask, 'meshes' | 'bodies'>> {
  const meshes: PackedMesh[] = [];
  const meshOf = new Map<ShapeKey, number>();
  for (const shape of new Set(things.map((thing) => thing.shape))) {
    const key = meshKey(shape);
    const bytes = await store.get(key);
    if (bytes) meshOf.set(shape, meshes.push({ key, bytes }) - 1);
  }
  const bodies = things.flatMap(({ shape, placement, path }) => {
    const mesh = meshOf.get(shape);
    return mesh === undefined ? [] : [{ mesh, placement, path }];
  });
  if (bodies.length === 0)
    throw new Refusal('no-shapes', 'The file has no solid or surface that can be drawn; its bill can still be made.');
  return { meshes, bodies };
}
