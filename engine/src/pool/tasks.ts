import type { MessagePort } from 'node:worker_threads';
import type { PathKey, ShapeKey } from '../../../core/src/assembly/index.ts';
import type { CatalogueMapping } from '../../../core/src/catalogues/index.ts';
import type { CutProblem } from '../../../core/src/cutting/index.ts';
import type { Box2 } from '../../../core/src/geometry/index.ts';
import type { PlainIntention, ProjectState } from '../../../core/src/documents/index.ts';
import type { Exploded, PoseMove } from '../../../core/src/poses/index.ts';
import type { ListMapping, ReadModel } from '../../../core/src/sources/index.ts';
import type { Direction, LookCut, Shading } from '../../../core/src/views/index.ts';
import type { PackedMesh } from '../shapes/meshShelf.ts';
import type { HelperSeat, SharedOut } from './sharedView.ts';

/** A file to be read. */
export interface Source {
  readonly bytes: Uint8Array;
  readonly fileName: string;
  /** For structure lists; absent: what their headings suggest. */
  readonly mapping?: ListMapping | undefined;
}

/** What a worker of the pool can be asked to do. Bytes in and out are packed records (see core/formats). */
export type Task =
  | { readonly kind: 'read'; readonly source: Source }
  | { readonly kind: 'table'; readonly source: Source }
  | { readonly kind: 'previewCatalogue'; readonly source: Source }
  | CatalogueTask
  | { readonly kind: 'lookAtForm'; readonly bytes: Uint8Array }
  | { readonly kind: 'headingsAbove'; readonly bytes: Uint8Array; readonly sheet: string; readonly cell: string }
  | { readonly kind: 'tessellate'; readonly text: string; readonly diagonalMm: number }
  | { readonly kind: 'measure'; readonly mesh: Uint8Array }
  | { readonly kind: 'thumbnail'; readonly mesh: Uint8Array }
  | { readonly kind: 'logo'; readonly bytes: Uint8Array }
  | { readonly kind: 'compare'; readonly one: Uint8Array; readonly other: Uint8Array }
  | CarryOutTask
  | ExplodeTask
  | CutTask
  | ViewTask
  | HelpTask
  | ShadeTask
  | CutFacesTask;

/** Reads a table as a catalogue. */
export interface CatalogueTask {
  readonly kind: 'readCatalogue';
  readonly source: Source;
  readonly mapping: CatalogueMapping;
  /** JSON of the catalogue that it is compared with; a new one is made where null. */
  readonly current: string | null;
}

/** Works out what a gesture takes. */
export interface CarryOutTask {
  readonly kind: 'carryOut';
  readonly state: ProjectState;
  readonly intention: PlainIntention;
  /** Drawn views, packed, by the key of their look. */
  readonly views: ReadonlyMap<string, ViewResult>;
  readonly exploded?: Exploded | undefined;
}

/** Proposes how a machine comes apart. */
export interface ExplodeTask {
  readonly kind: 'explode';
  readonly meshes: readonly PackedMesh[];
  /** Indices into `meshes`; placements to machine coordinates, in structure order. */
  readonly bodies: ViewTask['bodies'];
  readonly levels: number;
  /** Places that leave whole. */
  readonly whole: readonly PathKey[];
  /** Whether of things that are alike every one is opened; else one. */
  readonly every: boolean;
  /** Told now and then what is done of all, as `[done, of]`. */
  readonly progress: MessagePort;
}

/** Plans how pieces are cut from bars. */
export interface CutTask {
  readonly kind: 'planCuts';
  readonly problem: CutProblem;
  /** Told now and then what is known so far. */
  readonly progress: MessagePort;
  /** Four bytes; once they hold 1 the best so far is the result. */
  readonly stop: SharedArrayBuffer;
}

export interface ViewTask {
  readonly kind: 'view';
  readonly meshes: readonly PackedMesh[];
  /** Indices into `meshes`; placements to machine coordinates. */
  readonly bodies: readonly {
    readonly mesh: number;
    readonly placement: readonly number[];
    readonly path: PathKey;
  }[];
  readonly direction: Direction;
  /** What is taken away; nothing where null. */
  readonly cut: LookCut | null;
  /** The piece of the view plane that is drawn; everything where null. */
  readonly window: Box2 | null;
  /** What has left its seat. */
  readonly moves: readonly PoseMove[];
  /** Whether hidden lines are kept; they are most of the bytes. */
  readonly hidden: boolean;
  /** Whether hidden lines stand aside of those that can be seen, as sheets draw them. */
  readonly aside: boolean;
  /** Where other threads may help. */
  readonly sharedOut?: SharedOut;
}
/** Helps the thread that draws a view. */
export interface HelpTask extends Omit<ViewTask, 'kind' | 'sharedOut'> {
  readonly kind: 'help';
  readonly seat: HelperSeat;
}
/** Draws the faces of a view as a PNG. */
export interface ShadeTask extends Pick<ViewTask, 'meshes' | 'bodies' | 'direction' | 'cut'> {
  readonly kind: 'shade';
  /** Of the view's lines. */
  readonly box: Box2;
  readonly shade: Shading;
}
/** Lists the faces that a cut makes. */
export interface CutFacesTask extends Pick<ViewTask, 'meshes' | 'bodies' | 'direction'> {
  readonly kind: 'cutFaces';
  readonly cut: LookCut;
}
export interface ViewResult {
  readonly lines: Uint8Array;
  readonly spots: Uint8Array;
}

/** A model on its way between threads: meshes packed. */
export interface PackedModel extends Omit<ReadModel, 'meshes'> {
  readonly meshes: readonly { readonly key: ShapeKey; readonly bytes: Uint8Array }[];
}

/** A refusal does not survive the way between threads as what it is, so it travels as data. */
export type Answer<Content> =
  | { readonly ok: true; readonly content: Content }
  | { readonly ok: false; readonly code: string; readonly message: string };
