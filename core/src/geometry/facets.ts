import { weldPoints } from './places.ts';
import { hypot } from './vectors.ts';
import { boxDiagonal, meshBox, type Mesh } from './meshes.ts';

/** Triangles that come without faces of a boundary representation. */
interface TriangleSoup {
  /** x, y, z per vertex; mm. */
  readonly positions: Float64Array;
  /** Three vertex indices per triangle. */
  readonly triangles: Uint32Array;
  /** A number per triangle: triangles of different groups never become one face. Absent: one group. */
  readonly groups?: Uint32Array;
  /** `0xRRGGBB` or −1 per group. */
  readonly colours: readonly number[];
}

/**
 * Triangles that meet at less than this belong to one smooth face. Above the turn between facets of usual
 * tessellations, below any bevel.
 */
const CREASE = (25 * Math.PI) / 180;

/**
 * A mesh whose faces are the smooth regions of the triangles, with normals averaged inside each (weighted by area, as
 * the true normal of a smooth surface is). Triangles without area are left out. Vertices are those of the faces, not
 * shared between two.
 */
export function meshOfTriangles({ positions, triangles, groups, colours }: TriangleSoup): Mesh {
  const count = triangles.length / 3;
  const weld = weldPoints(positions, boxDiagonal(meshBox({ positions } as Mesh)));
  const normals = triangleNormals(positions, triangles);
  const joined = smoothRegions({ count, triangles, weld, normals, groups });
  const order: number[] = [];
  for (let triangle = 0; triangle < count; triangle++) if (areaOf(normals, triangle) > 0) order.push(triangle);
  order.sort((a, b) => joined.rootOf(a) - joined.rootOf(b) || a - b);
  return writeFaces(order, (triangle) => joined.rootOf(triangle), {
    positions,
    triangles,
    groups,
    colours,
    weld,
    normals,
  });
}

const areaOf = (normals: Float64Array, triangle: number): number =>
  hypot(normals[triangle * 3], normals[triangle * 3 + 1], normals[triangle * 3 + 2]);

/** Cross products: direction of the normal, length twice the area. */
function triangleNormals(p: Float64Array, t: Uint32Array): Float64Array {
  const normals = new Float64Array(t.length);
  for (let at = 0; at < t.length; at += 3) {
    const a = t[at] * 3,
      b = t[at + 1] * 3,
      c = t[at + 2] * 3;
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a],
      vy = p[c + 1] - p[a + 1],
      vz = p[c + 2] - p[a + 2];
    normals[at] = uy * vz - uz * vy;
    normals[at + 1] = uz * vx - ux * vz;
    normals[at + 2] = ux * vy - uy * vx;
  }
  return normals;
}

interface Regions {
  readonly count: number;
  readonly triangles: Uint32Array;
  readonly weld: Uint32Array;
  readonly normals: Float64Array;
  readonly groups: Uint32Array | undefined;
}

/** Union-find over triangles that share an edge and meet smoothly. */
function smoothRegions({ count, triangles, weld, normals, groups }: Regions): { rootOf: (triangle: number) => number } {
  const parent = Int32Array.from({ length: count }, (_, at) => at);
  const rootOf = (at: number): number => {
    while (parent[at] !== at) at = parent[at] = parent[parent[at]];
    return at;
  };
  const cosCrease = Math.cos(CREASE);
  const open = new Map<number, number>(); // edge by its two welded vertices → first triangle
  const vertices = weld.length;
  for (let triangle = 0; triangle < count; triangle++) {
    for (let side = 0; side < 3; side++) {
      const a = weld[triangles[triangle * 3 + side]],
        b = weld[triangles[triangle * 3 + ((side + 1) % 3)]];
      const edge = a < b ? a * vertices + b : b * vertices + a;
      const other = open.get(edge);
      if (other === undefined) {
        open.set(edge, triangle);
        continue;
      }
      if (groups && groups[other] !== groups[triangle]) continue;
      const n = triangle * 3,
        m = other * 3;
      const sizes = areaOf(normals, triangle) * areaOf(normals, other);
      const turn =
        (normals[n] * normals[m] + normals[n + 1] * normals[m + 1] + normals[n + 2] * normals[m + 2]) / sizes;
      if (sizes > 0 && turn >= cosCrease) parent[rootOf(triangle)] = rootOf(other);
    }
  }
  return { rootOf };
}

function writeFaces(
  order: readonly number[],
  rootOf: (triangle: number) => number,
  { positions, triangles, groups, colours, weld, normals }: TriangleSoup & { weld: Uint32Array; normals: Float64Array },
): Mesh {
  const place: number[] = [],
    sums: number[] = [];
  const indices = new Uint32Array(order.length * 3);
  const faceStarts: number[] = [],
    faceColours: number[] = [];
  let face = -1;
  let inFace = new Map<number, number>();
  order.forEach((triangle, at) => {
    if (rootOf(triangle) !== face) {
      face = rootOf(triangle);
      inFace = new Map();
      faceStarts.push(at);
      faceColours.push(colours[groups?.[triangle] ?? 0] ?? -1);
    }
    for (let corner = 0; corner < 3; corner++) {
      const from = weld[triangles[triangle * 3 + corner]];
      let vertex = inFace.get(from);
      if (vertex === undefined) {
        inFace.set(from, (vertex = place.length / 3));
        place.push(positions[from * 3], positions[from * 3 + 1], positions[from * 3 + 2]);
        sums.push(0, 0, 0);
      }
      for (let axis = 0; axis < 3; axis++) sums[vertex * 3 + axis] += normals[triangle * 3 + axis];
      indices[at * 3 + corner] = vertex;
    }
  });
  const unit = new Float32Array(sums.length);
  for (let at = 0; at < sums.length; at += 3) {
    const size = hypot(sums[at], sums[at + 1], sums[at + 2]) || 1;
    for (let axis = 0; axis < 3; axis++) unit[at + axis] = sums[at + axis] / size;
  }
  return {
    positions: Float64Array.from(place),
    normals: unit,
    triangles: indices,
    faceStarts: Uint32Array.from([...faceStarts, order.length]),
    faceColours: Int32Array.from(faceColours),
  };
}

/** A linear colour channel 0…1 as sRGB 0…255 (IEC 61966-2-1). */
export const toSrgb = (linear: number): number => {
  const bounded = Math.min(1, Math.max(0, linear));
  return Math.round(255 * (bounded <= 0.0031308 ? 12.92 * bounded : 1.055 * bounded ** (1 / 2.4) - 0.055));
};
