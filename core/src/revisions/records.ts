import type { Assembly, ComponentKey, ShapeKey } from '../assembly/index.ts';
import type { Vec3 } from '../geometry/index.ts';

export const confidences = ['sure', 'likely', 'doubtful'] as const;
/** How well a component is recognised. */
export type Confidence = (typeof confidences)[number];

/** What tells shapes apart that were written differently. */
export interface ShapePrint {
  /** mm³. */
  readonly volume: number;
  /** mm². */
  readonly area: number;
  /** In the coordinates of the shape; mm. */
  readonly centroid: Vec3;
  /** Second moments about the centroid, least first; mm⁵. */
  readonly principal: Vec3;
  /** Least corner of the box along its own axes; mm. */
  readonly corner: Vec3;
  /** Sizes of that box; mm. */
  readonly box: Vec3;
}
/** Of shapes whose keys differ; one that is not in it is like no other. */
export type ShapePrints = ReadonlyMap<ShapeKey, ShapePrint>;

/** What a drafter said about two components: whether they are the same thing. */
export interface Answer {
  /** Of the earlier assembly. */
  readonly was: ComponentKey;
  /** Of the later assembly, as it was read. */
  readonly is: ComponentKey;
  /** False where the two are different things. */
  readonly same: boolean;
}

/** Which component and usage of a later assembly is which of an earlier one. */
export interface Recognition {
  /** For every component of the later assembly its index in the earlier one; −1 for one that is new. */
  readonly components: Int32Array;
  /** How well each is recognised; null for one that is new. */
  readonly confidence: readonly (Confidence | null)[];
  /** What speaks for it and against it, in words; empty for one that is new. */
  readonly why: readonly string[];
  /** For every usage of every component of the later assembly its index among those of the earlier; −1 for a new one. */
  readonly usages: readonly Int32Array[];
}

/** An earlier and a later assembly, with what is known of their shapes. */
export interface Pair {
  /** Under the keys that documents know. */
  readonly before: Assembly;
  /** As it was read. */
  readonly after: Assembly;
  /** Of shapes that only one of them has. */
  readonly prints: ShapePrints;
}
