import type { Surface } from '../../geometry/index.ts';
import type { Body } from '../records.ts';
import type { MeshEdges } from './topology.ts';

/** A body in view coordinates. */
export interface PlacedBody {
  readonly body: Body;
  readonly index: number;
  readonly edges: MeshEdges;
  /** x, y, z per vertex. */
  readonly points: Float64Array;
  /** Unit normals, outwards, per vertex. */
  readonly normals: Float64Array;
  readonly surfaces: readonly (Surface | null)[];
  /** Index into the scene's triangles per triangle of the mesh, −1 where it cannot hide anything. */
  readonly slots: Int32Array;
  /** 1 per face that is a step of the section, along which nothing is drawn; null where none is. */
  readonly steps: Uint8Array | null;
  /** First of its regions in the scene's numbering. */
  readonly firstRegion: number;
}

/** Surfaces steeper to the view than this are edge-on: neither front nor back, and too thin to hide anything. Radian. */
export const EDGE_ON = 1e-5;
