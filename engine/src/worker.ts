import { Refusal, type ShapeKey } from '../../core/src/assembly/index.ts';
import { packMesh, packSpots, packViewLines, unpackMesh } from '../../core/src/formats/index.ts';
import { drawView, findSpots, viewPlacement, visibleLines, type DirectionName, type UpAxis } from '../../core/src/views/index.ts';
import { readModel, parseTable, type Table } from '../../core/src/sources/index.ts';
import type { ModelContent } from '../../core/src/step/index.ts';
import type { Source } from './pool.ts';
import { readWorkbook } from './workbook.ts';
import { tessellateSlice } from './tessellate.ts';

/** What a worker of the pool can be asked to do. Bytes in and out are packed records (see core/formats). */
export type Task =
  | { readonly kind: 'read'; readonly source: Source }
  | { readonly kind: 'table'; readonly source: Source }
  | { readonly kind: 'tessellate'; readonly text: string; readonly diagonalMm: number }
  | ViewTask;

export interface ViewTask {
  readonly kind: 'view';
  readonly meshes: readonly Uint8Array[];
  /** Indices into `meshes`; placements to machine coordinates. */
  readonly bodies: readonly { readonly mesh: number; readonly placement: readonly number[]; readonly occurrence: number }[];
  readonly direction: DirectionName;
  readonly up: UpAxis;
  /** Whether hidden lines are kept; they are most of the bytes. */
  readonly hidden: boolean;
}
export interface ViewResult {
  readonly lines: Uint8Array;
  readonly spots: Uint8Array;
}

/** A model on its way between threads: meshes packed. */
export interface PackedModel extends Omit<ModelContent, 'meshes'> {
  readonly meshes: readonly { readonly key: ShapeKey; readonly bytes: Uint8Array }[];
}

/** A refusal does not survive the way between threads as what it is, so it travels as data. */
export type Answer<Content> = { readonly ok: true; readonly content: Content } | { readonly ok: false; readonly code: string; readonly message: string };

async function answer<Content>(work: () => Promise<Content>): Promise<Answer<Content>> {
  try {
    return { ok: true, content: await work() };
  } catch (error) {
    if (error instanceof Refusal) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

async function read({ bytes, fileName, mapping }: Source): Promise<PackedModel> {
  const { assembly, slices, meshes } = await readModel(bytes, fileName, { shapes: true, workbook: readWorkbook, ...(mapping ? { mapping } : {}) });
  return { assembly, slices, meshes: meshes.map(({ key, mesh }) => ({ key, bytes: packMesh(mesh) })) };
}

const readTable = async ({ bytes, fileName }: Source): Promise<Table> => (/\.xls[xm]$/i.test(fileName) ? readWorkbook(bytes) : parseTable(bytes));

/** Entry of the worker pool. */
export default async function run(task: Task): Promise<Uint8Array | ViewResult | Answer<PackedModel> | Answer<Table>> {
  if (task.kind === 'read') return answer(() => read(task.source));
  if (task.kind === 'table') return answer(() => readTable(task.source));
  if (task.kind === 'tessellate') return packMesh(await tessellateSlice(task.text, task.diagonalMm));
  const meshes = task.meshes.map(unpackMesh);
  const bodies = task.bodies.map((body) => ({ ...body, mesh: meshes[body.mesh] }));
  const view = viewPlacement(task.direction, task.up);
  const all = drawView(bodies, view);
  return { lines: packViewLines(task.hidden ? all : visibleLines(all)), spots: packSpots(findSpots(bodies, view, all)) };
}
