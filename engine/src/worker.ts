import { Refusal } from '../../core/src/assembly/index.ts';
import { packMesh, packSpots, packViewLines, unpackMesh } from '../../core/src/formats/index.ts';
import { drawView, findSpots, viewPlacement, visibleLines, type DirectionName, type UpAxis } from '../../core/src/views/index.ts';
import { readStep, type StepContent } from '../../core/src/step/index.ts';
import { tessellateSlice } from './tessellate.ts';

/** What a worker of the pool can be asked to do. Bytes in and out are packed records (see core/formats). */
export type Task =
  | { readonly kind: 'read'; readonly bytes: Uint8Array }
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

/** A refusal does not survive the way between threads as what it is, so it travels as data. */
export type ReadResult = { readonly ok: true; readonly content: StepContent } | { readonly ok: false; readonly code: string; readonly message: string };

function read(bytes: Uint8Array): ReadResult {
  try {
    return { ok: true, content: readStep(bytes) };
  } catch (error) {
    if (error instanceof Refusal) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

/** Entry of the worker pool. */
export default async function run(task: Task): Promise<Uint8Array | ViewResult | ReadResult> {
  if (task.kind === 'read') return read(task.bytes);
  if (task.kind === 'tessellate') return packMesh(await tessellateSlice(task.text, task.diagonalMm));
  const meshes = task.meshes.map(unpackMesh);
  const bodies = task.bodies.map((body) => ({ ...body, mesh: meshes[body.mesh] }));
  const view = viewPlacement(task.direction, task.up);
  const all = drawView(bodies, view);
  return { lines: packViewLines(task.hidden ? all : visibleLines(all)), spots: packSpots(findSpots(bodies, view, all)) };
}
