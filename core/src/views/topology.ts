import {
  add,
  boxDiagonal,
  cross,
  dot,
  meshBox,
  normalize,
  scale,
  subtract,
  type Mesh,
  type Vec3,
} from '../geometry/index.ts';

/** What an edge of the triangle mesh is before anyone looks at it from somewhere. */
export const EDGE_FEATURE = 0;
/** Between two faces that meet smoothly. */
export const EDGE_TANGENT = 1;
/** Inside one face: seen only where it is an outline. */
export const EDGE_INNER = 2;

/** The welded edges of a mesh. Arrays are parallel, one entry per edge unless said otherwise. */
export interface MeshEdges {
  /** Two vertex indices per edge (of the mesh as given, any of the welded copies). */
  readonly vertices: Uint32Array;
  /**
   * Two triangle indices per edge; the second is -1 on an open border. Further ones of a non-manifold edge are left
   * out.
   */
  readonly triangles: Int32Array;
  readonly kinds: Uint8Array;
  /** How far the true curve may stray from the edge: sagitta from the turn of the surface normals along it; mm. */
  readonly sagitta: Float64Array;
  /** Each edge has exactly two triangles: only faces turned to the viewer can hide something. */
  readonly closed: boolean;
  /** Largest sagitta inside any face: how far the facets stray from the true surface; mm. */
  readonly chordError: number;
  /**
   * 1 per triangle whose surface bends both ways, as on a sphere: its outline runs inside triangles, not along their
   * edges.
   */
  readonly bentBothWays: Uint8Array;
  /** The mesh's normals, made one where two faces, or the two sides of a seam, meet smoothly. */
  readonly smoothNormals: Float32Array;
}

/** Faces meeting at less than this are smooth to the eye and to the trade: no edge is drawn full. */
const TANGENT_ANGLE = (2.5 * Math.PI) / 180;
/**
 * Vertices closer than this share of the shape's diagonal are one; far below any tessellation step, far above
 * round-off.
 */
const WELD_SHARE = 1e-7;

const known = new WeakMap<Mesh, MeshEdges>();

/** Edges of a mesh, computed once per mesh. */
export function meshEdges(mesh: Mesh): MeshEdges {
  let edges = known.get(mesh);
  if (!edges) known.set(mesh, (edges = buildEdges(mesh)));
  return edges;
}

function buildEdges(mesh: Mesh): MeshEdges {
  const weld = weldVertices(mesh);
  const faceOf = facesOfTriangles(mesh);
  const { triangles } = mesh;
  const count = triangles.length / 3;
  const edgeByPair = new Map<number, number>();
  const vertices: number[] = [];
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
        vertices.push(low, high);
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
  return classify(mesh, faceOf, { vertices, sides, corners, uses });
}

function classify(
  mesh: Mesh,
  faceOf: Uint32Array,
  raw: { vertices: number[]; sides: number[]; corners: number[]; uses: number[] },
): MeshEdges {
  const { sides, corners, uses } = raw;
  const count = uses.length;
  const kinds = new Uint8Array(count);
  const sagitta = new Float64Array(count);
  let closed = true;
  let chordError = 0;
  const smoothNormals = mesh.normals.slice();
  const cosTangent = Math.cos(TANGENT_ANGLE);
  for (let edge = 0; edge < count; edge++) {
    const [a1, b1, c1, a2, b2, c2] = corners.slice(edge * 6, edge * 6 + 6);
    sagitta[edge] = Math.max(sagittaAlong(mesh, a1, b1), a2 < 0 ? 0 : sagittaAlong(mesh, a2, b2));
    if (uses[edge] !== 2) {
      if (uses[edge] === 1) closed = false;
      kinds[edge] = EDGE_FEATURE;
      continue;
    }
    const sameFace = faceOf[sides[edge * 2]] === faceOf[sides[edge * 2 + 1]];
    // A face is one smooth surface: its seam, and any edge inside it, is no line of the part.
    const smooth = sameFace || meetsSmoothly(mesh, [a1, b1, c1], [a2, b2, c2], cosTangent);
    kinds[edge] = smooth ? (sameFace ? EDGE_INNER : EDGE_TANGENT) : EDGE_FEATURE;
    if (smooth && a1 !== a2) {
      joinNormals(mesh.normals, a1, a2, smoothNormals);
      joinNormals(mesh.normals, b1, b2, smoothNormals);
    }
    if (sameFace) chordError = Math.max(chordError, sagitta[edge]);
  }
  return {
    vertices: Uint32Array.from(raw.vertices),
    triangles: Int32Array.from(sides),
    kinds,
    sagitta,
    closed,
    chordError,
    bentBothWays: findBentBothWays(mesh),
    smoothNormals,
  };
}

/**
 * At the border of a face normals lag to its inside; on both sides of a smooth meeting alike, so the middle is right.
 */
function joinNormals(normals: Float32Array, a: number, b: number, into: Float32Array): void {
  const middle = normalize(add(pointAt(normals, a), pointAt(normals, b)));
  into.set(middle, a * 3);
  into.set(middle, b * 3);
}

/** On a plane no side turns the normal, on a cylinder or cone the ruling does not. */
const STRAIGHT_SHARE = 0.05;
const LEAST_TURN = 1e-3; // radian

function findBentBothWays({ triangles, normals: n }: Mesh): Uint8Array {
  const bent = new Uint8Array(triangles.length / 3);
  const turn = (a: number, b: number) =>
    Math.hypot(n[a * 3] - n[b * 3], n[a * 3 + 1] - n[b * 3 + 1], n[a * 3 + 2] - n[b * 3 + 2]);
  for (let at = 0; at < bent.length; at++) {
    const [a, b, c] = [triangles[at * 3], triangles[at * 3 + 1], triangles[at * 3 + 2]];
    const turns = [turn(a, b), turn(b, c), turn(c, a)];
    const most = Math.max(...turns);
    if (most > LEAST_TURN && Math.min(...turns) > STRAIGHT_SHARE * most) bent[at] = 1;
  }
  return bent;
}

/**
 * Sagitta of the arc over chord a–b: chord across the turn, times the turn of the normal, over 8 (small angles). Over 4
 * here, since at the border of a face normals show half the turn (see turnToBorder): at most twice too large elsewhere.
 */
function sagittaAlong({ positions: p, normals: n }: Mesh, a: number, b: number): number {
  let sum = 0;
  for (let axis = 0; axis < 3; axis++) sum += (p[b * 3 + axis] - p[a * 3 + axis]) * (n[b * 3 + axis] - n[a * 3 + axis]);
  return Math.abs(sum) / 4;
}

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

/** For each vertex the first vertex at the same place. */
function weldVertices(mesh: Mesh): Uint32Array {
  const { positions } = mesh;
  const cell = Math.max(boxDiagonal(meshBox(mesh)) * WELD_SHARE, 1e-9);
  const first = new Map<string, number>();
  const weld = new Uint32Array(positions.length / 3);
  for (let vertex = 0; vertex < weld.length; vertex++) {
    // The odd offset keeps round numbers, which drawings are full of, off the borders between cells.
    const key = `${Math.round(positions[vertex * 3] / cell + 0.381966)},${Math.round(positions[vertex * 3 + 1] / cell + 0.381966)},${Math.round(positions[vertex * 3 + 2] / cell + 0.381966)}`;
    const seen = first.get(key);
    if (seen === undefined) first.set(key, vertex);
    weld[vertex] = seen ?? vertex;
  }
  return weld;
}

/** Face index per triangle. */
export function facesOfTriangles(mesh: Mesh): Uint32Array {
  const faceOf = new Uint32Array(mesh.triangles.length / 3);
  for (let face = 0; face + 1 < mesh.faceStarts.length; face++)
    faceOf.fill(face, mesh.faceStarts[face], mesh.faceStarts[face + 1]);
  return faceOf;
}
