import type { Placement, Vec3 } from '../geometry/index.ts';

/** A curve of ISO 10303-42 on which edges of solids run. */
export type Curve =
  | {
      /** Straight between the vertices of its edge. */
      readonly kind: 'line';
    }
  | {
      readonly kind: 'conic';
      /** A circle is an ellipse of two equal half axes. */
      readonly conic: 'ellipse' | 'hyperbola' | 'parabola';
      /** Centre (or vertex of the parabola), first and second axis, normal. */
      readonly frame: Placement;
      /** Half axis along the first axis, or focal length of the parabola; mm. */
      readonly a: number;
      /** Half axis along the second axis; mm. */
      readonly b: number;
    }
  | {
      readonly kind: 'spline';
      readonly degree: number;
      /** Every knot as often as it counts: poles + degree + 1 of them, never falling. */
      readonly knots: readonly number[];
      readonly poles: readonly Vec3[];
      /** One per pole; null where all are one. */
      readonly weights: readonly number[] | null;
    };

/** A stretch of a curve between two vertices. */
export interface Edge {
  /** Index into `vertices`. */
  readonly start: number;
  /** Index into `vertices`; the same as `start` for a closed one. */
  readonly end: number;
  /** What it is a stretch of. */
  readonly curve: Curve;
  /** Whether the curve runs from start to end in the sense of its parameter. */
  readonly forward: boolean;
}

/** An elementary surface of ISO 10303-42: plane x–y of its frame, or turned about its z axis. */
export interface ElementarySurface {
  /** What it is. */
  readonly kind: 'plane' | 'cylinder' | 'cone' | 'sphere' | 'torus';
  /** Origin and axes; the third is the normal of the plane or the axis of the others. */
  readonly frame: Placement;
  /** Of the cylinder, the sphere, the cone at z = 0, or of the torus' middle circle; mm, 0 for a plane. */
  readonly radius: number;
  /** Radius of the torus' tube in mm, half the opening angle of the cone in radian; else 0. */
  readonly second: number;
}

/** One way round the border of a face, its material on the left seen from outside. */
export type Loop = readonly {
  /** Index into `edges`. */
  readonly edge: number;
  /** Whether it goes from the edge's start to its end. */
  readonly forward: boolean;
}[];

/** A bounded piece of a surface. */
export interface Face {
  /** What it is a piece of. */
  readonly surface: ElementarySurface;
  /** Whether the outside is where the surface's own normal points. */
  readonly sameSense: boolean;
  /** None where the face is its whole sphere or torus. */
  readonly loops: readonly Loop[];
  /** `0xRRGGBB` or −1. */
  readonly colour: number;
}

/** Faces that hang together. */
export interface Shell {
  /** Whether it encloses something. */
  readonly closed: boolean;
  /** In the order of the file. */
  readonly faces: readonly Face[];
}

/** Boundary representation of one shape, in its own coordinates; mm. */
export interface Brep {
  /** Where edges end. */
  readonly vertices: readonly Vec3[];
  /** Each once, whichever faces it bounds. */
  readonly edges: readonly Edge[];
  /** Those that enclose material and those around hollows in it. */
  readonly shells: readonly Shell[];
}

/** How fine a tessellation is. */
export interface Fineness {
  /** Greatest distance between a chord and its curve, or a facet and its surface; mm. */
  readonly deflection: number;
  /** Greatest turn from one chord or facet to the next; radian. */
  readonly angle: number;
}

/** Thrown where a shape is not of the kind that is meshed here; another tessellator may know what to do. */
export class NotElementary extends Error {}
