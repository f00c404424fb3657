import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { lookAt, type DirectionName, type Look } from '../core/src/views/index.ts';
import { makeMeshes, makeView, memoryStore, startPool, type Tools } from '../engine/src/index.ts';

const directions: readonly DirectionName[] = ['isometric', 'isometric-left', 'front', 'top'];

/** Views one after the other, as somebody asks who places them; warm, the shortest of several runs. */
async function shortest(tools: Tools, looks: readonly Look[], runs = 4): Promise<number> {
  let best = Infinity;
  for (let run = 0; run < runs; run++) {
    const start = performance.now();
    for (const look of looks) await makeView(look, tools);
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

/**
 * Views on one thread, and shared out between all of them; what a piece that is cut open costs.
 * @param engine the bundled worker of the engine
 */
export async function sharing(engine: string): Promise<void> {
  const cores = availableParallelism();
  // Below four nobody helps.
  const all = Math.max(4, cores);
  console.log(`\nViews of the demo machine, one after the other, on ${all} threads of ${cores} cores against one`);
  const [one, several] = [startPool(engine, { threads: 1 }), startPool(engine, { threads: all })];
  try {
    const model = await several.read({
      bytes: readFileSync('demo/files/hauling-sledge-A.step'),
      fileName: 'hauling-sledge-A.step',
    });
    const store = memoryStore();
    await makeMeshes(model, { pool: several, store });
    // What is drawn is not kept, so that it is drawn again.
    const drawing = { get: store.get, put: async () => {} };
    const looks = directions.map((direction) => lookAt(model.assembly, { direction }));
    const [single, shared] = [
      await shortest({ pool: one, store: drawing }, looks),
      await shortest({ pool: several, store: drawing }, looks),
    ];
    console.log(
      `  shared out: ${(shared / single).toFixed(2)} (1.00 is no faster; ${(1 / cores).toFixed(2)} is all of it)`,
    );
    const plain = [lookAt(model.assembly, { direction: 'front' })];
    const opened = [
      lookAt(model.assembly, {
        direction: 'front',
        cut: {
          cuts: [],
          panes: [
            {
              border: [
                [0, 0],
                [400, 0],
                [400, 300],
                [0, 300],
              ],
              cuts: [[{ normal: [0, -1, 0], offset: 0 }]],
            },
          ],
        },
      }),
    ];
    const pool = { pool: one, store: drawing };
    console.log(
      `  a view with a piece of it cut open, against the view: ${((await shortest(pool, opened)) / (await shortest(pool, plain))).toFixed(2)}`,
    );
  } finally {
    await Promise.all([one.close(), several.close()]);
  }
}
