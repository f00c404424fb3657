import type { Mesh, Placement, Vec3 } from '../geometry/index.ts';

/** A shape where it stands in the machine. */
export interface Standing {
  /** In its own coordinates; mm. */
  readonly mesh: Mesh;
  /** From its own coordinates to the machine's. */
  readonly placement: Placement;
}

/** One side of a plane: the points p with `normal`·p < `offset`. */
export interface HalfSpace {
  /** Unit vector, away from the matter that is taken. */
  readonly normal: Vec3;
  /** mm along the normal. */
  readonly offset: number;
}

/** Matter that is taken away: what lies on this side of all of these planes; machine coordinates, mm. At least one plane. */
export type Cut = readonly HalfSpace[];

/** A shape of which matter was taken away. */
export interface CutShape {
  /** What is left; the same object where nothing was taken. Cut faces come behind the others. */
  readonly mesh: Mesh;
  /** For each face of the mesh the face of the shape that it is part of; −1 for a cut face. */
  readonly faceFrom: Int32Array;
  /** Cut faces, see `CutFace`. */
  readonly faces: readonly CutFace[];
  /** Whether the shape is open where it was cut: then there is no cut face there. */
  readonly isOpen: boolean;
  /** Whether solids of it lie in one another where it was cut: their cut faces lie over one another, their outlines are united. */
  readonly overlaps: boolean;
}

/** Where a plane went through the matter of a shape. */
export interface CutFace {
  /** Index of the face in the mesh. */
  readonly face: number;
  /** Which plane, through all planes of all cuts in their order. */
  readonly plane: number;
  /** Unit vector out of the matter that is left; coordinates of the shape. */
  readonly normal: Vec3;
  /**
   * Closed outlines, x, y, z per corner without the first again: counter-clockwise around matter seen from outside,
   * clockwise around holes.
   */
  readonly rings: readonly Float64Array[];
}
