import { hypot, length, meshVolume, scale, subtract, weldPoints, type Mesh, type Vec3 } from '../geometry/index.ts';
import { chartOf, type Chart } from './charts.ts';
import { sampleEdge } from './curves.ts';
import { meshFace, type FaceMesh } from './faceMesh.ts';
import { areaWithin, outlinesOf, type Points } from './outlines.ts';
import { NotElementary, type Brep, type ElementarySurface, type Face, type Fineness, type Shell } from './records.ts';

/** A border may lie this far beside its surface, as a share of the shape's extent; writers keep six digits or so. */
const BESIDE_SHARE = 1e-4;
/** Points of one shape; more take more memory than a worker has for one. */
const MOST_POINTS = 3e6;

/**
 * The mesh of a shape all of whose faces lie on elementary surfaces. Every edge is divided once, so neighbours share its
 * points; what encloses something is proven to be without gap: every side of a facet has its like on another facet, the
 * other way round.
 * @throws NotElementary where a face cannot be understood or the proof fails
 */
export function meshBrep(brep: Brep, fineness: Fineness): Mesh {
  const points: Vec3[] = [...brep.vertices];
  const pool: Points = {
    at: (index) => points[index],
    add: (point) => {
      if (points.length > MOST_POINTS) throw new NotElementary('a shape of too many facets');
      return points.push(point) - 1;
    },
  };
  const extent = extentOf(brep.vertices);
  const beside = surfacesBeside(brep);
  const samples = brep.edges.map((edge, at): number[] => {
    const along = sampleEdge(brep, edge, fineness, beside[at]);
    return [edge.start, ...along.slice(1, -1).map((point) => pool.add(point)), edge.end];
  });
  const writer = new MeshWriter(pool);
  for (const shell of brep.shells) {
    const from = writer.triangles.length;
    for (const face of shell.faces) addFace(face, samples, fineness, extent, pool, writer);
    proveSides(shell, samples, writer, from, extent);
  }
  const mesh = writer.mesh();
  if (mesh.triangles.length === 0) throw new NotElementary('a shape without faces');
  if (brep.shells.every(({ closed }) => closed) && meshVolume(mesh) <= 0)
    throw new NotElementary('a shape that is inside out');
  return mesh;
}

function surfacesBeside({ edges, shells }: Brep): ElementarySurface[][] {
  const beside = edges.map((): ElementarySurface[] => []);
  for (const { surface, loops } of shells.flatMap(({ faces }) => faces))
    for (const { edge } of loops.flat()) if (!beside[edge].includes(surface)) beside[edge].push(surface);
  return beside;
}

function addFace(
  face: Face,
  samples: readonly number[][],
  fineness: Fineness,
  extent: number,
  pool: Points,
  writer: MeshWriter,
): void {
  const loops = face.loops.map((loop) =>
    loop.flatMap(({ edge, forward }) => (forward ? samples[edge].slice(0, -1) : samples[edge].slice(1).reverse())),
  );
  const border = loops.flat().map(pool.at);
  const chart = chartOf(face.surface, fineness, border);
  for (const point of border) {
    const place = chart.place(point);
    if (place && !(length(subtract(point, chart.point(place))) <= BESIDE_SHARE * extent + fineness.deflection / 10))
      throw new NotElementary('a border beside its surface');
  }
  const sense = face.sameSense ? 1 : -1;
  const outlines = outlinesOf(loops, chart, sense, pool);
  if (outlines.reduce((sum, outline) => sum + areaWithin(outline), 0) * sense <= 0)
    throw new NotElementary('a face outside its border');
  writer.add(meshFace(outlines, chart, fineness, pool), chart, sense, face.colour);
}

/** Collects facets of faces; vertices are those of the faces, not shared between two. */
class MeshWriter {
  readonly triangles: number[] = [];
  /** Index of the point per vertex. */
  readonly pointOf: number[] = [];
  private readonly normals: number[] = [];
  private readonly starts: number[] = [];
  private readonly colours: number[] = [];

  constructor(private readonly pool: Points) {}

  add({ points, places, triangles }: FaceMesh, chart: Chart, sense: 1 | -1, colour: number): void {
    this.starts.push(this.triangles.length / 3);
    this.colours.push(colour);
    const placed = new Map<number, number>();
    const vertex = (at: number): number => {
      let found = placed.get(at);
      if (found === undefined) {
        placed.set(at, (found = this.pointOf.length));
        this.pointOf.push(points[at]);
        for (const part of scale(chart.normal(places[at]), sense)) this.normals.push(part);
      }
      return found;
    };
    for (let at = 0; at < triangles.length; at += 3) {
      const [a, b, c] = [triangles[at], triangles[at + 1], triangles[at + 2]];
      // At a pole a stretch of the map is one point, and a facet beside it has no extent.
      if (points[a] === points[b] || points[b] === points[c] || points[c] === points[a]) continue;
      for (const corner of sense > 0 ? [a, b, c] : [a, c, b]) this.triangles.push(vertex(corner));
    }
  }

  readonly pointAt = (vertex: number): Vec3 => this.pool.at(this.pointOf[vertex]);

  mesh(): Mesh {
    const positions = new Float64Array(this.pointOf.length * 3);
    this.pointOf.forEach((_, vertex) => positions.set(this.pointAt(vertex), vertex * 3));
    return {
      positions,
      normals: Float32Array.from(this.normals),
      triangles: Uint32Array.from(this.triangles),
      faceStarts: Uint32Array.from([...this.starts, this.triangles.length / 3]),
      faceColours: Int32Array.from(this.colours),
    };
  }
}

/**
 * Every side of a facet has its like that runs the other way; in an open shell those on edges that only one face has have
 * none. Edges that faces do not share, though they lie at one place, are one by where their points are.
 * @throws NotElementary where that is not so
 */
function proveSides(
  shell: Shell,
  samples: readonly number[][],
  writer: MeshWriter,
  from: number,
  extent: number,
): void {
  const bare = unmatchedSides(writer, from, (vertex) => writer.pointOf[vertex]);
  if (bare === 0) return;
  const proven = shell.closed
    ? unmatchedSides(writer, from, weldedBy(writer, from, extent)) === 0
    : bare === borderSides(shell, samples);
  if (!proven) throw new NotElementary('a gap between faces');
}

function unmatchedSides({ triangles }: MeshWriter, from: number, pointOf: (vertex: number) => number): number {
  const balance = new Map<number, number>();
  for (let at = from; at < triangles.length; at++) {
    const [a, b] = [pointOf(triangles[at]), pointOf(triangles[at % 3 === 2 ? at - 2 : at + 1])];
    if (a === b) continue;
    const pair = a < b ? a * 4294967296 + b : b * 4294967296 + a;
    balance.set(pair, (balance.get(pair) ?? 0) + (a < b ? 1 : -1));
  }
  let count = 0;
  for (const left of balance.values()) count += Math.abs(left);
  return count;
}

/** Sides on edges along which the shell's faces go more often one way than the other. */
function borderSides({ faces }: Shell, samples: readonly number[][]): number {
  const balance = new Map<number, number>();
  for (const { edge, forward } of faces.flatMap(({ loops }) => loops.flat()))
    balance.set(edge, (balance.get(edge) ?? 0) + (forward ? 1 : -1));
  return [...balance].reduce((sum, [edge, left]) => sum + Math.abs(left) * (samples[edge].length - 1), 0);
}

/** The same number for all vertices of the shell at one place; those before its first facet are of other shells. */
function weldedBy(
  { pointOf, pointAt, triangles }: MeshWriter,
  from: number,
  extent: number,
): (vertex: number) => number {
  const first = triangles[from];
  const weld = weldPoints(
    pointOf.slice(first).flatMap((_, at) => pointAt(first + at)),
    extent,
  );
  return (vertex) => pointOf[first + weld[vertex - first]];
}

function extentOf(points: readonly Vec3[]): number {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (const point of points)
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], point[axis]);
      high[axis] = Math.max(high[axis], point[axis]);
    }
  return points.length === 0 ? 0 : hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
}
