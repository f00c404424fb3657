import { randomUUID } from 'node:crypto';
import { encode } from 'fast-png';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import { carryOut, type CarriedOut } from '../../../core/src/documents/index.ts';
import { measureShape, pathOf, Refusal, type ShapeMeasurement } from '../../../core/src/assembly/index.ts';
import { compareMeshes, type Likeness } from '../../../core/src/geometry/index.ts';
import {
  packMesh,
  packSpots,
  packViewLines,
  unpackMesh,
  unpackSpots,
  unpackViewLines,
} from '../../../core/src/formats/index.ts';
import { headingsAbove, lookAtForm, type FormLook, type FoundHeading } from '../../../core/src/forms/index.ts';
import { explode, type Exploded } from '../../../core/src/poses/index.ts';
import {
  drawLook,
  helpWithLook,
  listCutFaces,
  pathWays,
  shadeLook,
  viewPlacement,
  withHiddenAside,
  type Body,
  type CutFaces,
} from '../../../core/src/views/index.ts';
import { readModel, parseTable, type Table } from '../../../core/src/sources/index.ts';
import { planCuts, type CutPlan, type CutProgress } from '../../../core/src/cutting/index.ts';
import { linearSolver } from './linearSolver.ts';
import type {
  Answer,
  CarryOutTask,
  CutTask,
  ExplodeTask,
  HelpTask,
  PackedModel,
  Source,
  Task,
  ShadeTask,
  ViewResult,
  ViewTask,
} from './tasks.ts';
import { helperWork, sharedWork } from './sharedView.ts';
import { MeshShelf } from '../shapes/meshShelf.ts';
import { readLogo, type Logo } from '../paper/logo.ts';
import { readWorkbook } from '../tables/workbook.ts';
import { tessellateSlice } from '../shapes/tessellate.ts';
import {
  previewTable,
  readCatalogueTable,
  type CataloguePreview,
  type CatalogueText,
} from '../tables/catalogueTable.ts';
import { drawThumbnail } from '../paper/thumbnail.ts';

async function answer<Content>(work: () => Promise<Content>): Promise<Answer<Content>> {
  try {
    return { ok: true, content: await work() };
  } catch (error) {
    if (error instanceof Refusal) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

async function read({ bytes, fileName, mapping }: Source): Promise<PackedModel> {
  const { assembly, slices, meshes, list } = await readModel(bytes, fileName, {
    shapes: true,
    workbook: readWorkbook,
    ...(mapping ? { mapping } : {}),
  });
  return {
    assembly,
    slices,
    meshes: meshes.map(({ key, mesh }) => ({ key, bytes: packMesh(mesh) })),
    ...(list ? { list } : {}),
  };
}

const readTable = async ({ bytes, fileName }: Source): Promise<Table> =>
  /\.xls[xm]$/i.test(fileName) ? readWorkbook(bytes) : parseTable(bytes);

async function carry({ state, intention, views, exploded }: CarryOutTask): Promise<CarriedOut> {
  await readyForFormulas();
  const drawn = [...views].map(
    ([key, { lines, spots }]) => [key, { lines: unpackViewLines(lines), spots: unpackSpots(spots) }] as const,
  );
  return carryOut(state, intention, { views: new Map(drawn), newId: randomUUID, ...(exploded ? { exploded } : {}) });
}

function takeApart({ meshes, bodies, levels, whole, every, progress }: ExplodeTask): Exploded {
  const shapes = shelf.take(meshes);
  const parts = bodies.map(({ mesh, placement, path }) => ({
    path: pathOf(path),
    mesh: shapes[mesh],
    placement,
    shape: String(mesh),
  }));
  let told = 0;
  try {
    return explode(parts, {
      levels,
      whole: new Set(whole),
      every,
      onProgress: (done, of) => {
        if (done - told < of / 100) return;
        told = done;
        progress.postMessage([done, of]);
      },
    });
  } finally {
    progress.close();
  }
}

/** What is known is told no more often than this; ms. */
const TOLD_EVERY = 200;
async function planned({ problem, progress, stop }: CutTask): Promise<CutPlan> {
  const flag = new Int32Array(stop);
  let told = 0;
  try {
    return planCuts(problem, await linearSolver(), {
      shouldStop: () => Atomics.load(flag, 0) === 1,
      onProgress: (known: CutProgress) => {
        const now = performance.now();
        if (now - told < TOLD_EVERY) return;
        told = now;
        progress.postMessage(known);
      },
    });
  } finally {
    progress.close();
  }
}

/** Packed bytes of meshes that are kept for the next view. */
const KEPT_MESHES = 64 * 1024 ** 2;
const shelf = new MeshShelf(KEPT_MESHES);

/** Entry of the worker pool. */
export default async function run(
  task: Task,
): Promise<
  | Uint8Array
  | ViewResult
  | Answer<PackedModel>
  | Answer<Table>
  | Answer<CataloguePreview>
  | Answer<CatalogueText>
  | Answer<FormLook>
  | Answer<FoundHeading[]>
  | Answer<CarriedOut>
  | ShapeMeasurement
  | Likeness
  | CutFaces
  | Answer<Exploded>
  | Answer<CutPlan>
  | Answer<Logo>
  | null
> {
  if (task.kind === 'read') return answer(() => read(task.source));
  if (task.kind === 'table') return answer(() => readTable(task.source));
  if (task.kind === 'previewCatalogue') return answer(async () => previewTable(await readTable(task.source)));
  if (task.kind === 'readCatalogue')
    return answer(async () =>
      readCatalogueTable(await readTable(task.source), task.source.fileName, task.mapping, task.current),
    );
  if (task.kind === 'lookAtForm') return answer(async () => lookAtForm(task.bytes));
  if (task.kind === 'headingsAbove') return answer(async () => headingsAbove(task.bytes, task.sheet, task.cell));
  if (task.kind === 'tessellate') return packMesh(await tessellateSlice(task.text, task.diagonalMm));
  if (task.kind === 'measure') return measureShape(unpackMesh(task.mesh));
  if (task.kind === 'thumbnail') return drawThumbnail(unpackMesh(task.mesh));
  if (task.kind === 'logo') return answer(() => readLogo(task.bytes));
  if (task.kind === 'compare') return compareMeshes(unpackMesh(task.one), unpackMesh(task.other));
  if (task.kind === 'carryOut') return answer(() => carry(task));
  if (task.kind === 'planCuts') return answer(() => planned(task));
  if (task.kind === 'explode') return answer(async () => takeApart(task));
  if (task.kind === 'help') return help(task);
  const meshes = shelf.take(task.meshes);
  const bodies = task.bodies.map((body) => ({ ...body, mesh: meshes[body.mesh] }));
  if (task.kind === 'cutFaces') return listCutFaces(bodies, viewPlacement(task.direction), task.cut);
  if (task.kind === 'shade') return shaded(bodies, task);
  const { lines, spots } = drawLook(bodies, viewPlacement(task.direction), {
    ...drawOptions(bodies, task),
    ...(task.sharedOut ? { shared: sharedWork(task.sharedOut) } : {}),
  });
  const drawn = task.aside && !task.hidden ? withHiddenAside(lines) : lines;
  return { lines: packViewLines(drawn), spots: packSpots(spots) };
}

const drawOptions = (
  bodies: readonly Body[],
  { moves, hidden, aside, cut, window }: Pick<ViewTask, 'moves' | 'hidden' | 'aside' | 'cut' | 'window'>,
) => ({
  ways: pathWays(bodies, moves),
  hidden: hidden || aside,
  ...(cut ? { cut } : {}),
  ...(window ? { window } : {}),
});

/** Makes lots of lines of a view that another thread draws. */
function help({ seat, ...task }: HelpTask): null {
  const { isOver, take, give } = helperWork(seat);
  if (!isOver()) {
    const meshes = shelf.take(task.meshes);
    const bodies = task.bodies.map((body) => ({ ...body, mesh: meshes[body.mesh] }));
    helpWithLook(bodies, viewPlacement(task.direction), drawOptions(bodies, task), take, give);
  }
  return null;
}

/** The faces of a view as a PNG. */
function shaded(bodies: readonly Body[], { direction, cut, box, shade }: ShadeTask): Uint8Array {
  const { width, height, rgba } = shadeLook(bodies, viewPlacement(direction), { box, shading: shade, cut });
  return encode({ width, height, data: rgba, channels: 4, depth: 8 });
}
