import { determinant, type Placement } from '../geometry/index.ts';
import type { Body } from './records.ts';
import { EDGE_FEATURE, EDGE_INNER, EDGE_TANGENT, facesOfTriangles, meshEdges } from './topology.ts';

/** All bodies in view coordinates, as flat arrays. Triangles and edges of all bodies are numbered through. */
export interface ViewScene {
  /**
   * x, y, z per corner, three corners per triangle, counter-clockwise on the view plane; only those that can hide
   * something.
   */
  readonly corners: Float64Array;
  /** Component of the unit normal towards the viewer, in (0, 1]. */
  readonly facing: Float64Array;
  readonly triangleBody: Int32Array;
  /** Face of the body's mesh, per triangle. */
  readonly triangleFace: Int32Array;
  /** x1, y1, z1, x2, y2, z2 per candidate line. */
  readonly edges: Float64Array;
  readonly edgeKind: Uint8Array;
  readonly edgeBody: Int32Array;
  readonly edgeSagitta: Float64Array;
  /** Indices into the triangles above of the two neighbours of an edge, -1 where that one cannot hide anything. */
  readonly edgeNeighbours: Int32Array;
  /** 1 where both neighbours are turned away, so that the whole line is hidden by its own body. */
  readonly edgeTurnedAway: Uint8Array;
  /**
   * x, y per edge: visibility is looked up this far beside the line. Outlines of surfaces that bend both ways lie
   * inside facets; a step outwards by a few chord errors takes them clear of the facets around them.
   */
  readonly edgeShift: Float64Array;
  readonly chordError: Float64Array;
  /** Diagonal of the box around everything in view coordinates; mm. */
  readonly size: number;
}

/**
 * Triangles steeper to the view plane than this are edge-on: neither front nor back, and too thin to hide anything.
 * Radian.
 */
const EDGE_ON = 1e-5;
/** A chord lies inside the surface by up to the chord error and a corner of the next facet stands out as far again. */
const CLEAR = 2.5;
/** Kinds of a line in a view; order as in `lineKinds`. */
const FEATURE = 0,
  OUTLINE = 1,
  TANGENT = 2;

/** Carries every body into view coordinates and picks the lines that may be drawn. */
export function buildScene(bodies: readonly Body[], view: Placement): ViewScene {
  const collect = new Collector();
  bodies.forEach((body, index) => collect.add(body, index, view));
  return collect.finish(bodies.map((body) => meshEdges(body.mesh).chordError));
}

class Collector {
  private readonly corners: number[] = [];
  private readonly facing: number[] = [];
  private readonly triangleBody: number[] = [];
  private readonly triangleFace: number[] = [];
  private readonly edges: number[] = [];
  private readonly edgeKind: number[] = [];
  private readonly edgeBody: number[] = [];
  private readonly edgeSagitta: number[] = [];
  private readonly edgeNeighbours: number[] = [];
  private readonly edgeTurnedAway: number[] = [];
  private readonly edgeShift: number[] = [];
  private readonly low = [Infinity, Infinity, Infinity];
  private readonly high = [-Infinity, -Infinity, -Infinity];

  add(body: Body, index: number, view: Placement): void {
    const points = this.project(body, view);
    const flipped = determinant(body.placement) < 0;
    const { mesh } = body;
    const edges = meshEdges(mesh);
    const faceOf = facesOfTriangles(mesh);
    const count = mesh.triangles.length / 3;
    const side = new Int8Array(count);
    const slot = new Int32Array(count).fill(-1);
    for (let triangle = 0; triangle < count; triangle++) {
      const [a, b, c] = [
        mesh.triangles[triangle * 3] * 3,
        mesh.triangles[triangle * 3 + 1] * 3,
        mesh.triangles[triangle * 3 + 2] * 3,
      ];
      const towards = unitNormalZ(points, a, b, c);
      if (Math.abs(towards) < EDGE_ON) continue;
      side[triangle] = towards > 0 !== flipped ? 1 : -1;
      if (side[triangle] < 0 && edges.closed) continue;
      slot[triangle] = this.facing.length;
      const [second, third] = towards > 0 ? [b, c] : [c, b];
      for (const at of [a, second, third]) this.corners.push(points[at], points[at + 1], points[at + 2]);
      this.facing.push(Math.abs(towards));
      this.triangleBody.push(index);
      this.triangleFace.push(faceOf[triangle]);
    }
    this.addSmoothOutlines(body, index, points, slot, view);
    for (let edge = 0; edge < edges.kinds.length; edge++) this.addEdge(edges, edge, points, side, slot, index);
  }

  private addEdge(
    edges: ReturnType<typeof meshEdges>,
    edge: number,
    points: Float64Array,
    side: Int8Array,
    slot: Int32Array,
    body: number,
  ): void {
    const one = edges.triangles[edge * 2],
      two = edges.triangles[edge * 2 + 1];
    const s1 = side[one],
      s2 = two < 0 ? 0 : side[two];
    // An edge-on wall turns from front to back over its whole width: the outline is where the front ends.
    const smooth = two >= 0 && edges.bentBothWays[one] === 1 && edges.bentBothWays[two] === 1; // see addSmoothOutlines
    const outline = two >= 0 && !smooth && ((s1 > 0 && s2 <= 0) || (s2 > 0 && s1 <= 0));
    const kind =
      edges.kinds[edge] === EDGE_FEATURE
        ? FEATURE
        : outline
          ? OUTLINE
          : edges.kinds[edge] === EDGE_TANGENT
            ? TANGENT
            : EDGE_INNER + 1;
    if (kind > TANGENT) return;
    const a = edges.vertices[edge * 2] * 3,
      b = edges.vertices[edge * 2 + 1] * 3;
    this.edges.push(points[a], points[a + 1], points[a + 2], points[b], points[b + 1], points[b + 2]);
    this.edgeKind.push(kind);
    this.edgeBody.push(body);
    this.edgeSagitta.push(edges.sagitta[edge]);
    this.edgeNeighbours.push(slot[one], two < 0 ? -1 : slot[two]);
    this.edgeTurnedAway.push(edges.closed && s1 < 0 && s2 < 0 ? 1 : 0);
    this.edgeShift.push(0, 0);
  }

  /**
   * Outlines of surfaces that bend both ways, where the interpolated normal is square to the view: along facet edges
   * they would zigzag. Source: A. Hertzmann, "Introduction to 3D silhouette detection", SIGGRAPH course notes 1999.
   */
  private addSmoothOutlines(
    { mesh, placement: m }: Body,
    index: number,
    points: Float64Array,
    slot: Int32Array,
    v: Placement,
  ): void {
    const { bentBothWays, chordError, smoothNormals: n } = meshEdges(mesh);
    const { triangles } = mesh;
    const component = (vertex: number, row: number) => {
      const [x, y, z] = [0, 4, 8].map(
        (at) => m[at] * n[vertex * 3] + m[at + 1] * n[vertex * 3 + 1] + m[at + 2] * n[vertex * 3 + 2],
      );
      return v[row * 4] * x + v[row * 4 + 1] * y + v[row * 4 + 2] * z;
    };
    for (let triangle = 0; triangle < bentBothWays.length; triangle++) {
      if (!bentBothWays[triangle]) continue;
      const corners = [triangles[triangle * 3], triangles[triangle * 3 + 1], triangles[triangle * 3 + 2]];
      const towards = corners.map((vertex) => component(vertex, 2) || 1e-12);
      const crossings: number[] = [];
      const outward = [0, 0];
      for (let side = 0; side < 3; side++) {
        const a = side,
          b = (side + 1) % 3;
        if (towards[a] > 0 === towards[b] > 0) continue;
        const t = towards[a] / (towards[a] - towards[b]);
        for (let axis = 0; axis < 3; axis++)
          crossings.push(
            points[corners[a] * 3 + axis] + t * (points[corners[b] * 3 + axis] - points[corners[a] * 3 + axis]),
          );
        for (let axis = 0; axis < 2; axis++)
          outward[axis] +=
            component(corners[a], axis) + t * (component(corners[b], axis) - component(corners[a], axis));
      }
      if (crossings.length !== 6) continue;
      const size = Math.hypot(outward[0], outward[1]) || 1;
      this.edges.push(...crossings);
      this.edgeKind.push(OUTLINE);
      this.edgeBody.push(index);
      this.edgeSagitta.push(chordError);
      this.edgeNeighbours.push(slot[triangle], -1);
      this.edgeTurnedAway.push(0);
      this.edgeShift.push((outward[0] / size) * CLEAR * chordError, (outward[1] / size) * CLEAR * chordError);
    }
  }

  private project({ mesh: { positions }, placement: m }: Body, v: Placement): Float64Array {
    const out = new Float64Array(positions.length);
    for (let at = 0; at < positions.length; at += 3) {
      const x = m[0] * positions[at] + m[1] * positions[at + 1] + m[2] * positions[at + 2] + m[3];
      const y = m[4] * positions[at] + m[5] * positions[at + 1] + m[6] * positions[at + 2] + m[7];
      const z = m[8] * positions[at] + m[9] * positions[at + 1] + m[10] * positions[at + 2] + m[11];
      for (let row = 0; row < 3; row++) {
        const value = v[row * 4] * x + v[row * 4 + 1] * y + v[row * 4 + 2] * z + v[row * 4 + 3];
        out[at + row] = value;
        if (value < this.low[row]) this.low[row] = value;
        if (value > this.high[row]) this.high[row] = value;
      }
    }
    return out;
  }

  finish(chordErrors: readonly number[]): ViewScene {
    const empty = this.high[0] < this.low[0];
    return {
      corners: Float64Array.from(this.corners),
      facing: Float64Array.from(this.facing),
      triangleBody: Int32Array.from(this.triangleBody),
      triangleFace: Int32Array.from(this.triangleFace),
      edges: Float64Array.from(this.edges),
      edgeKind: Uint8Array.from(this.edgeKind),
      edgeBody: Int32Array.from(this.edgeBody),
      edgeSagitta: Float64Array.from(this.edgeSagitta),
      edgeNeighbours: Int32Array.from(this.edgeNeighbours),
      edgeTurnedAway: Uint8Array.from(this.edgeTurnedAway),
      edgeShift: Float64Array.from(this.edgeShift),
      chordError: Float64Array.from(chordErrors),
      size: empty ? 0 : Math.hypot(this.high[0] - this.low[0], this.high[1] - this.low[1], this.high[2] - this.low[2]),
    };
  }
}

/** z of the unit normal of the triangle at these offsets; 0 for one without area. */
function unitNormalZ(p: Float64Array, a: number, b: number, c: number): number {
  const ux = p[b] - p[a],
    uy = p[b + 1] - p[a + 1],
    uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a],
    vy = p[c + 1] - p[a + 1],
    vz = p[c + 2] - p[a + 2];
  const nx = uy * vz - uz * vy,
    ny = uz * vx - ux * vz,
    nz = ux * vy - uy * vx;
  const size = Math.hypot(nx, ny, nz);
  return size === 0 ? 0 : nz / size;
}
