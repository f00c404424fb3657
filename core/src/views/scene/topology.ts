import {
  add,
  boxDiagonal,
  cross,
  dot,
  faceSurfaces,
  isSameSurface,
  meshBox,
  normalize,
  normalOf,
  scale,
  subtract,
  weldPoints,
  type Mesh,
  type Surface,
  type Vec3,
} from '../../geometry/index.ts';

/** What an edge of the triangle mesh is before anyone looks at it from somewhere. */
export const EDGE_FEATURE = 0;
/** Between two faces that meet smoothly. */
const EDGE_TANGENT = 1;
/** Inside one face: seen only where it is an outline. */
export const EDGE_INNER = 2;

/** The welded edges of a mesh and the smooth surfaces between them. Arrays are parallel, one entry per edge unless said. */
export interface MeshEdges {
  /** Four vertex indices of the mesh per edge: both ends as the first side has them, then as the second (−1 without one). */
  readonly vertices: Int32Array;
  /** Two triangle indices per edge; the second is -1 on an open border. Further ones of a non-manifold edge are left out. */
  readonly triangles: Int32Array;
  readonly kinds: Uint8Array;
  /** How far the true curve may stray from the edge: sagitta from the turn of the surface normals along it; mm. */
  readonly sagitta: Float64Array;
  /** Each edge has exactly two triangles: only faces turned to the viewer can hide something. */
  readonly closed: boolean;
  /** Face of each triangle. */
  readonly faceOf: Uint32Array;
  /** The surface on which the vertices of each face lie; null for free-form ones. */
  readonly surfaces: readonly (Surface | null)[];
  /** Region of each face: faces that meet smoothly are one region. */
  readonly regionOf: Uint32Array;
  /** How far the facets of each region stray from the true surface; mm. 0 for plane ones. */
  readonly strays: Float64Array;
  /** Unit normals, x, y, z per vertex: exact where the face's surface is known, else averaged over smooth meetings. */
  readonly normals: Float64Array;
}

/** Faces meeting at less than this are smooth to the eye and to the trade: no edge is drawn full. */
const COS_TANGENT = Math.cos((2.5 * Math.PI) / 180);

const known = new WeakMap<Mesh, MeshEdges>();

/** Edges of a mesh, computed once per mesh. */
export function meshEdges(mesh: Mesh): MeshEdges {
  let edges = known.get(mesh);
  if (!edges) known.set(mesh, (edges = buildEdges(mesh)));
  return edges;
}

const edgesByTriangle = new WeakMap<Mesh, Int32Array>();

/** Three per triangle: the edge from each corner to the next, −1 where that has no length; computed once per mesh. */
export function edgesOfTriangles(mesh: Mesh): Int32Array {
  let found = edgesByTriangle.get(mesh);
  if (found) return found;
  const { triangles: sides, vertices } = meshEdges(mesh);
  const { triangles } = mesh;
  found = new Int32Array(triangles.length).fill(-1);
  for (let at = 0; at < sides.length; at++) {
    const triangle = sides[at];
    if (triangle < 0) continue;
    const [a, b] = [vertices[at * 2], vertices[at * 2 + 1]];
    for (let side = 0; side < 3; side++) {
      const [p, q] = [triangles[triangle * 3 + side], triangles[triangle * 3 + ((side + 1) % 3)]];
      if ((p === a && q === b) || (p === b && q === a)) found[triangle * 3 + side] = at >> 1;
    }
  }
  edgesByTriangle.set(mesh, found);
  return found;
}

function buildEdges(mesh: Mesh): MeshEdges {
  const weld = weldPoints(mesh.positions, boxDiagonal(meshBox(mesh)));
  const faceOf = facesOfTriangles(mesh);
  const { triangles } = mesh;
  const count = triangles.length / 3;
  const edgeByPair = new Map<number, number>();
  const sides: number[] = []; // two triangles per edge
  const corners: number[] = []; // per edge and side: the two vertex indices and the third, as that triangle has them
  const uses: number[] = [];
  for (let triangle = 0; triangle < count; triangle++) {
    for (let side = 0; side < 3; side++) {
      const a = triangles[triangle * 3 + side],
        b = triangles[triangle * 3 + ((side + 1) % 3)];
      const p = weld[a],
        q = weld[b];
      if (p === q) continue;
      const pair = p < q ? p * 4294967296 + q : q * 4294967296 + p;
      const [low, high] = p < q ? [a, b] : [b, a];
      const third = triangles[triangle * 3 + ((side + 2) % 3)];
      let edge = edgeByPair.get(pair);
      if (edge === undefined) {
        edge = uses.length;
        edgeByPair.set(pair, edge);
        sides.push(triangle, -1);
        corners.push(low, high, third, -1, -1, -1);
        uses.push(1);
      } else if (++uses[edge] === 2) {
        sides[edge * 2 + 1] = triangle;
        corners[edge * 6 + 3] = low;
        corners[edge * 6 + 4] = high;
        corners[edge * 6 + 5] = third;
      }
    }
  }
  return classify(mesh, faceOf, { sides, corners, uses });
}

interface RawEdges {
  /** Two triangles per edge. */
  readonly sides: readonly number[];
  /** Per edge and side: both ends and the third corner, as that side has them. */
  readonly corners: readonly number[];
  /** Triangles at the edge. */
  readonly uses: readonly number[];
}

function classify(mesh: Mesh, faceOf: Uint32Array, { sides, corners, uses }: RawEdges): MeshEdges {
  const count = uses.length;
  const surfaces = faceSurfaces(mesh);
  const normals = exactNormals(mesh, faceOf, surfaces);
  const kinds = new Uint8Array(count);
  const regions = new Regions(surfaces.length);
  const vertices = new Int32Array(count * 4);
  let closed = true;
  for (let edge = 0; edge < count; edge++) {
    const at = edge * 6;
    vertices.set([corners[at], corners[at + 1], corners[at + 3], corners[at + 4]], edge * 4);
    if (uses[edge] === 1) closed = false;
    kinds[edge] = kindOf(mesh, { sides, corners, uses }, edge, faceOf, surfaces, normals);
    if (kinds[edge] !== EDGE_FEATURE) regions.join(faceOf[sides[edge * 2]], faceOf[sides[edge * 2 + 1]]);
  }
  joinFreeNormals(mesh, { sides, corners, uses }, kinds, faceOf, surfaces, normals);
  const { regionOf, regionCount } = regions.numbered();
  const sagitta = new Float64Array(count);
  const strays = new Float64Array(regionCount);
  for (let edge = 0; edge < count; edge++) {
    const [a1, b1, a2, b2] = vertices.subarray(edge * 4, edge * 4 + 4);
    const own = sagittaAlong(mesh, normals, a1, b1),
      other = a2 < 0 ? 0 : sagittaAlong(mesh, normals, a2, b2);
    sagitta[edge] = Math.max(own, other);
    stray(strays, regionOf[faceOf[sides[edge * 2]]], own);
    if (a2 >= 0) stray(strays, regionOf[faceOf[sides[edge * 2 + 1]]], other);
  }
  return {
    vertices,
    triangles: Int32Array.from(sides),
    kinds,
    sagitta,
    closed,
    faceOf,
    surfaces,
    regionOf,
    strays,
    normals,
  };
}

const stray = (strays: Float64Array, region: number, by: number): void => {
  if (by > strays[region]) strays[region] = by;
};

function kindOf(
  mesh: Mesh,
  { sides, corners, uses }: RawEdges,
  edge: number,
  faceOf: Uint32Array,
  surfaces: readonly (Surface | null)[],
  normals: Float64Array,
): number {
  if (uses[edge] !== 2) return EDGE_FEATURE;
  const one = faceOf[sides[edge * 2]],
    other = faceOf[sides[edge * 2 + 1]];
  if (one === other) return EDGE_INNER; // a face is one smooth surface: its seam is no line of the part
  const [a1, b1, c1, a2, b2, c2] = corners.slice(edge * 6, edge * 6 + 6);
  const known = surfaces[one] !== null && surfaces[other] !== null;
  // Two faces on one surface, such as the halves of a cylinder, meet in a seam too.
  if (known && surfaces[one]!.side === surfaces[other]!.side && isSameSurface(surfaces[one]!, surfaces[other]!))
    return EDGE_INNER;
  const smooth = known
    ? dot(pointAt(normals, a1), pointAt(normals, a2)) > COS_TANGENT &&
      dot(pointAt(normals, b1), pointAt(normals, b2)) > COS_TANGENT
    : meetsSmoothly(mesh, [a1, b1, c1], [a2, b2, c2], COS_TANGENT);
  return smooth ? EDGE_TANGENT : EDGE_FEATURE;
}

function exactNormals(mesh: Mesh, faceOf: Uint32Array, surfaces: readonly (Surface | null)[]): Float64Array {
  const normals = Float64Array.from(mesh.normals);
  const done = new Uint8Array(normals.length / 3);
  mesh.triangles.forEach((vertex, at) => {
    const surface = surfaces[faceOf[Math.floor(at / 3)]];
    if (!surface || done[vertex]) return;
    done[vertex] = 1;
    normals.set(normalOf(surface, pointAt(mesh.positions, vertex)), vertex * 3);
  });
  return normals;
}

/**
 * Normals of free-form faces at their borders and seams. They lag to the inside of a face (see turnToBorder), on both sides
 * of a smooth meeting alike, so the middle is right; beside a face whose surface is known, that one's are.
 */
function joinFreeNormals(
  mesh: Mesh,
  { sides, corners }: RawEdges,
  kinds: Uint8Array,
  faceOf: Uint32Array,
  surfaces: readonly (Surface | null)[],
  normals: Float64Array,
): void {
  for (let edge = 0; edge < kinds.length; edge++) {
    if (kinds[edge] === EDGE_FEATURE) continue;
    const known = [0, 1].map((side) => surfaces[faceOf[sides[edge * 2 + side]]] !== null);
    if (known[0] && known[1]) continue;
    for (const end of [0, 1]) {
      const one = corners[edge * 6 + end],
        other = corners[edge * 6 + 3 + end];
      if (one === other) continue;
      const right = known[0]
        ? pointAt(normals, one)
        : known[1]
          ? pointAt(normals, other)
          : normalize(add(pointAt(mesh.normals, one), pointAt(mesh.normals, other)));
      normals.set(right, one * 3);
      normals.set(right, other * 3);
    }
  }
}

/** Faces joined into regions (union-find). */
class Regions {
  private readonly parent: Uint32Array;
  constructor(faces: number) {
    this.parent = Uint32Array.from({ length: faces }, (_, at) => at);
  }

  join(one: number, other: number): void {
    this.parent[this.rootOf(one)] = this.rootOf(other);
  }

  numbered(): { regionOf: Uint32Array; regionCount: number } {
    const numbers = new Map<number, number>();
    const regionOf = this.parent.map((_, face) => {
      const root = this.rootOf(face);
      if (!numbers.has(root)) numbers.set(root, numbers.size);
      return numbers.get(root)!;
    });
    return { regionOf, regionCount: numbers.size };
  }

  private rootOf(at: number): number {
    while (this.parent[at] !== at) at = this.parent[at] = this.parent[this.parent[at]];
    return at;
  }
}

/**
 * How far the surface stands above the middle of the chord a–b, outwards positive: chord times turn of the normal, over 8
 * (the sagitta of an arc, for small turns).
 */
export function bulgeAlong(positions: ArrayLike<number>, normals: ArrayLike<number>, a: number, b: number): number {
  let sum = 0;
  for (let axis = 0; axis < 3; axis++)
    sum += (positions[b * 3 + axis] - positions[a * 3 + axis]) * (normals[b * 3 + axis] - normals[a * 3 + axis]);
  return sum / 8;
}

/** How far the facet stands out of its surface: where that is hollow along an edge. mm, 0 where it bulges. */
export function standsOut(
  positions: ArrayLike<number>,
  normals: ArrayLike<number>,
  a: number,
  b: number,
  c: number,
): number {
  const least = Math.min(
    bulgeAlong(positions, normals, a, b),
    bulgeAlong(positions, normals, b, c),
    bulgeAlong(positions, normals, c, a),
  );
  return Math.max(0, -least);
}

const sagittaAlong = (mesh: Mesh, normals: Float64Array, a: number, b: number): number =>
  Math.abs(bulgeAlong(mesh.positions, normals, a, b));

type Corners = readonly [a: number, b: number, third: number];

/** Whether two faces meet without an angle along an edge; corners as each side has them. */
function meetsSmoothly(mesh: Mesh, [a1, b1, c1]: Corners, [a2, b2, c2]: Corners, cosTangent: number): boolean {
  const turn1 = turnToBorder(mesh, a1, b1, c1),
    turn2 = turnToBorder(mesh, a2, b2, c2);
  return (
    dot(borderNormal(mesh, a1, turn1), borderNormal(mesh, a2, turn2)) > cosTangent &&
    dot(borderNormal(mesh, b1, turn1), borderNormal(mesh, b2, turn2)) > cosTangent
  );
}

/**
 * The geometry kernel averages a vertex's normal over the facets of its face. Inside a face that is the surface
 * normal; at the border it lags by half a facet. This is the lag at edge a–b of triangle a, b, c: how far the normal
 * turns from the facet to c, without what it turns along the edge.
 */
function turnToBorder(mesh: Mesh, a: number, b: number, c: number): Vec3 {
  const pa = pointAt(mesh.positions, a),
    along = normalize(subtract(pointAt(mesh.positions, b), pa));
  const facet = normalize(cross(subtract(pointAt(mesh.positions, b), pa), subtract(pointAt(mesh.positions, c), pa)));
  const outward = dot(facet, pointAt(mesh.normals, c)) < 0 ? scale(facet, -1) : facet;
  const turn = subtract(pointAt(mesh.normals, c), outward);
  return subtract(turn, scale(along, dot(turn, along)));
}

const borderNormal = (mesh: Mesh, vertex: number, turn: Vec3): Vec3 =>
  normalize(subtract(pointAt(mesh.normals, vertex), turn));
const pointAt = (values: Float64Array | Float32Array, at: number): Vec3 => [
  values[at * 3],
  values[at * 3 + 1],
  values[at * 3 + 2],
];

/** Face index per triangle. */
function facesOfTriangles(mesh: Mesh): Uint32Array {
  const faceOf = new Uint32Array(mesh.triangles.length / 3);
  for (let face = 0; face + 1 < mesh.faceStarts.length; face++)
    faceOf.fill(face, mesh.faceStarts[face], mesh.faceStarts[face + 1]);
  return faceOf;
}
