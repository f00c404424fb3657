import type { MessagePort } from 'node:worker_threads';
import type { PathKey, ShapeKey } from '../../core/src/assembly/index.ts';
import type { PlainIntention, ProjectState } from '../../core/src/documents/index.ts';
import type { Exploded, PoseMove } from '../../core/src/poses/index.ts';
import type { ListMapping, ReadModel } from '../../core/src/sources/index.ts';
import type { Direction, Shading } from '../../core/src/views/index.ts';

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
  | { readonly kind: 'tessellate'; readonly text: string; readonly diagonalMm: number }
  | { readonly kind: 'measure'; readonly mesh: Uint8Array }
  | { readonly kind: 'thumbnail'; readonly mesh: Uint8Array }
  | { readonly kind: 'logo'; readonly bytes: Uint8Array }
  | { readonly kind: 'compare'; readonly one: Uint8Array; readonly other: Uint8Array }
  | CarryOutTask
  | ExplodeTask
  | ViewTask;

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
  readonly meshes: readonly Uint8Array[];
  /** Indices into `meshes`; placements to machine coordinates, in structure order. */
  readonly bodies: ViewTask['bodies'];
  readonly levels: number;
  /** Places that leave whole. */
  readonly whole: readonly PathKey[];
  /** Told now and then what is done of all, as `[done, of]`. */
  readonly progress: MessagePort;
}

export interface ViewTask {
  readonly kind: 'view';
  readonly meshes: readonly Uint8Array[];
  /** Indices into `meshes`; placements to machine coordinates. */
  readonly bodies: readonly {
    readonly mesh: number;
    readonly placement: readonly number[];
    readonly path: PathKey;
  }[];
  readonly direction: Direction;
  /** What has left its seat. */
  readonly moves: readonly PoseMove[];
  /** Whether hidden lines are kept; they are most of the bytes. */
  readonly hidden: boolean;
  /** Whether hidden lines stand aside of those that can be seen, as sheets draw them. */
  readonly aside: boolean;
  /** In which colours faces are shaded; null where they are not. */
  readonly shade: Shading | null;
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
