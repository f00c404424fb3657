import { signedDistance, type Placement, type Vec3 } from '../geometry/index.ts';
import { gridTriangles } from './grid.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { PathList } from './paths.ts';
import { WAY, type Body, type ViewLines } from './records.ts';
import { buildScene, type ViewScene } from './scene.ts';
import type { PathWay } from './ways.ts';

/**
 * Shares of the machine's diagonal. Points closer than this on the view plane are one: far above round-off, far below
 * a pen.
 */
const SAME_POINT_SHARE = 1e-6;
/** Visible or hidden runs shorter than this are the noise of thin triangles and are joined to their neighbours. */
const SHORTEST_RUN_SHARE = 2e-5;
/** Steep triangles: the depth tolerance grows with the slope, up to this factor. */
const STEEPEST = 0.05;

/**
 * The lines of the machine seen along a view placement, each cut into visible and hidden runs that carry their
 * occurrence. Exact on the triangles: every line is cut by every triangle that covers it and lies nearer. Lines lying
 * on one another are drawn once, the nearest in front. Source: A. Appel, "The notion of quantitative invisibility and
 * the machine rendering of solids", Proc. ACM 1967 (cutting each line by covering faces); intervals instead of
 * counts.
 * @param view machine to view coordinates, z towards the viewer (see viewPlacement)
 * @param ways on which things left their seats, see pathWays
 */
export function drawView(bodies: readonly Body[], view: Placement, ways: readonly PathWay[] = []): ViewLines {
  const scene = buildScene(bodies, view, ways);
  const all = cutEdges(scene);
  const pieces = all.filter(({ kind }) => kind !== WAY);
  const drawn = overlayPieces(pieces, scene.size * SAME_POINT_SHARE, scene.size * SHORTEST_RUN_SHARE);
  const lines = packLines(drawn, bodies, pieces);
  if (ways.length === 0) return lines;
  const seen = all.filter(({ kind, visible }) => kind === WAY && visible);
  return { ...lines, wayEnds: Float64Array.from(seen.flatMap(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2])) };
}

/** Every candidate line as runs; positions on the view plane. */
function cutEdges(scene: ViewScene): Piece[] {
  const { corners, edges, edgeKind, edgeBody, edgeNeighbours, edgeTurnedAway, edgeSagitta } = scene;
  const samePoint = scene.size * SAME_POINT_SHARE;
  const shortest = scene.size * SHORTEST_RUN_SHARE;
  const count = scene.facing.length;
  const nearest = new Float64Array(count); // largest z of each triangle
  for (let t = 0; t < count; t++) nearest[t] = Math.max(corners[t * 9 + 2], corners[t * 9 + 5], corners[t * 9 + 8]);
  const { cells, starts, items } = gridTriangles(corners, Math.max(samePoint, scene.longestShift));
  for (let cell = 0; cell < cells.count; cell++) {
    items.subarray(starts[cell], starts[cell + 1]).sort((a, b) => nearest[b] - nearest[a]);
  }
  const lastEdge = new Int32Array(count).fill(-1);
  const covered = new Intervals();
  const clip = new Float64Array(2);
  const pieces: Piece[] = [];
  for (let edge = 0; edge < edgeKind.length; edge++) {
    const at = edge * 6;
    const size = Math.hypot(edges[at + 3] - edges[at], edges[at + 4] - edges[at + 1]);
    if (size <= samePoint) continue;
    covered.clear();
    if (edgeTurnedAway[edge]) covered.add(0, 1);
    else {
      const farthest = Math.min(edges[at + 2], edges[at + 5]);
      const own1 = edgeNeighbours[edge * 2],
        own2 = edgeNeighbours[edge * 2 + 1];
      cells.ofStretch(edges[at], edges[at + 1], edges[at + 3], edges[at + 4], (cell) => {
        for (let item = starts[cell]; item < starts[cell + 1]; item++) {
          const t = items[item];
          if (nearest[t] <= farthest) return false; // nearest first: the rest of the cell lies behind the whole edge
          if (lastEdge[t] === edge || t === own1 || t === own2) continue;
          lastEdge[t] = edge;
          if (!coveredRange(scene, edge, t, samePoint, clip)) continue;
          covered.add(clip[0], clip[1]);
          if (clip[0] === 0 && clip[1] === 1) return true; // wholly hidden: most edges of a full machine end here
        }
        return false;
      });
    }
    covered.runs(shortest / size, (from, to, hidden) => {
      const x = (s: number) => edges[at] + s * (edges[at + 3] - edges[at]);
      const y = (s: number) => edges[at + 1] + s * (edges[at + 4] - edges[at + 1]);
      const z = (s: number) => edges[at + 2] + s * (edges[at + 5] - edges[at + 2]);
      pieces.push({
        x1: x(from),
        y1: y(from),
        z1: z(from),
        x2: x(to),
        y2: y(to),
        z2: z(to),
        kind: edgeKind[edge],
        visible: !hidden,
        body: edgeBody[edge],
        sagitta: edgeSagitta[edge],
      });
    });
  }
  return pieces;
}

/**
 * Writes into `out` the stretch (0..1 along the edge) over which triangle t covers the edge and lies nearer; false
 * where there is none. The triangle is widened by `samePoint`, so that an edge running behind the seam of two
 * triangles has no gap.
 */
function coveredRange(scene: ViewScene, edge: number, t: number, samePoint: number, out: Float64Array): boolean {
  const {
    corners: p,
    edges: e,
    facing,
    triangleRegion,
    triangleStray,
    edgeRegions,
    edgeShifts,
    edgeSagitta,
    triangleBody,
    edgeBody,
  } = scene;
  const a = t * 9,
    at = edge * 6;
  const region = triangleRegion[t];
  const own = edgeRegions[edge * 2] === region ? 0 : edgeRegions[edge * 2 + 1] === region ? 1 : -1;
  const shiftX = own < 0 ? 0 : edgeShifts[edge * 4 + own * 2],
    shiftY = own < 0 ? 0 : edgeShifts[edge * 4 + own * 2 + 1];
  const x0 = e[at] + shiftX,
    y0 = e[at + 1] + shiftY,
    dx = e[at + 3] - e[at],
    dy = e[at + 4] - e[at + 1];
  let from = 0,
    to = 1;
  for (let side = 0; side < 3; side++) {
    const i = a + side * 3,
      j = a + ((side + 1) % 3) * 3;
    const ex = p[j] - p[i],
      ey = p[j + 1] - p[i + 1];
    const size = Math.hypot(ex, ey);
    if (size === 0) return false;
    // Signed distance from this side, inside positive, at both ends of the edge.
    const d0 = (ex * (y0 - p[i + 1]) - ey * (x0 - p[i])) / size + samePoint;
    const d1 = d0 + (ex * dy - ey * dx) / size;
    if (d0 < 0 && d1 < 0) return false;
    if (d0 < 0) from = Math.max(from, d0 / (d0 - d1));
    else if (d1 < 0) to = Math.min(to, d0 / (d0 - d1));
    if (from >= to) return false;
  }
  const ux = p[a + 3] - p[a],
    uy = p[a + 4] - p[a + 1],
    uz = p[a + 5] - p[a + 2];
  const vx = p[a + 6] - p[a],
    vy = p[a + 7] - p[a + 1],
    vz = p[a + 8] - p[a + 2];
  const nz = ux * vy - uy * vx;
  const slopeX = -(uy * vz - uz * vy) / nz,
    slopeY = -(uz * vx - ux * vz) / nz;
  const stray = triangleBody[t] === edgeBody[edge] && own < 0 ? 0 : triangleStray[t] + edgeSagitta[edge];
  const tolerance = samePoint + (stray + samePoint) / Math.max(facing[t], STEEPEST);
  const gap = (s: number) =>
    p[a + 2] +
    slopeX * (x0 + s * dx - p[a]) +
    slopeY * (y0 + s * dy - p[a + 1]) -
    (e[at + 2] + s * (e[at + 5] - e[at + 2])) -
    tolerance;
  const g0 = gap(from),
    g1 = gap(to);
  const before = g0 <= 0 && g1 <= 0;
  // A facet strays from its surface by far less than a quarter of its size: most triangles behind a line end here.
  const farthest = (Math.abs(ux) + Math.abs(uy) + Math.abs(vx) + Math.abs(vy)) / 2 / Math.max(facing[t], STEEPEST);
  if (before && Math.min(g0, g1) < -farthest - tolerance) return false;
  if (g0 <= 0 || g1 <= 0) {
    // Against its own region a line is looked up beside itself, where the surface has nothing to say.
    const surface = own < 0 ? nearSurface(scene, edge, t) : null;
    if (before) {
      // The surface may bulge before the line where its facet does not.
      if (!surface || Math.min(g0, g1) < -surface.near - tolerance) return false;
      const enough = surface.strays / 4 + 2 * edgeSagitta[edge];
      if (surface.behind(from) <= enough || surface.behind(to) <= enough) return false;
    } else if (g0 <= 0) from = dipsIn(surface, from, to, g0, g1);
    else to = dipsIn(surface, to, from, g1, g0);
  }
  out[0] = from;
  out[1] = to;
  return to > from;
}

/** How a line lies to the known surface that a facet stands for. */
interface NearSurface {
  /** How far the facet lies from the surface at its middle, where it is farthest; mm. */
  readonly strays: number;
  /** Depth from the facet's plane within which the surface, not the plane, says what is behind; mm. */
  readonly near: number;
  /** Distance behind the surface at a share of the line; mm. */
  readonly behind: (share: number) => number;
}

/** null for planes and free-form faces, and where the surface is seen too flat to say which side is behind it. */
function nearSurface(
  { corners: p, edges: e, surfaces, triangleBody, triangleFace, facing }: ViewScene,
  edge: number,
  t: number,
): NearSurface | null {
  const surface = surfaces[triangleBody[t]][triangleFace[t]];
  if (!surface || surface.kind === 'plane') return null;
  const a = t * 9,
    at = edge * 6;
  const middle: Vec3 = [0, 1, 2].map((axis) => (p[a + axis] + p[a + 3 + axis] + p[a + 6 + axis]) / 3) as never;
  const distance = signedDistance(surface, middle);
  const strays = Math.abs(distance);
  const step = Math.max(strays, 1e-6);
  const rises = signedDistance(surface, [middle[0], middle[1], middle[2] + step]) - distance;
  if (Math.abs(rises) < STEEPEST * step) return null;
  const behind = (share: number) =>
    -Math.sign(rises) *
    signedDistance(surface, [
      e[at] + share * (e[at + 3] - e[at]),
      e[at + 1] + share * (e[at + 4] - e[at + 1]),
      e[at + 2] + share * (e[at + 5] - e[at + 2]),
    ]);
  return { strays, near: (2 * strays) / Math.max(facing[t], STEEPEST), behind };
}

/**
 * Where a line that is before a facet's plane at `out` and behind it at `inside` goes through: through the known surface
 * that the facet stands for, where that is near, since at a flat angle a little of depth is much of the line's length.
 * @param surface null where the plane has to do
 * @param gOut how far behind the plane the line is at `out`, at most 0; mm of depth
 * @param gIn the same at `inside`, positive
 */
function dipsIn(surface: NearSurface | null, out: number, inside: number, gOut: number, gIn: number): number {
  if (!surface) return out + ((inside - out) * -gOut) / (gIn - gOut);
  const { near, behind } = surface;
  const atOut = -gOut <= near ? behind(out) : gOut,
    atIn = gIn <= near ? behind(inside) : gIn;
  // The line may cross on the facet beside this one, as the surface has it: then all of it, or nothing, lies behind here.
  if (atOut > 0) return out;
  return atIn <= 0 ? inside : crossing(behind, out, inside);
}

const HALVINGS = 24;
/** Where a function that is at most 0 at `out` and positive at `inside` changes its sign. */
function crossing(of: (share: number) => number, out: number, inside: number): number {
  for (let step = 0; step < HALVINGS; step++) {
    const middle = (out + inside) / 2;
    if (of(middle) <= 0) out = middle;
    else inside = middle;
  }
  return (out + inside) / 2;
}

/** A set of covered stretches within 0..1, united when read. */
class Intervals {
  private stretches: [number, number][] = [];

  clear(): void {
    this.stretches = [];
  }

  add(from: number, to: number): void {
    this.stretches.push([from, to]);
  }

  /** Alternating runs from 0 to 1; gaps and stretches shorter than `shortest` are joined to what surrounds them. */
  runs(shortest: number, visit: (from: number, to: number, hidden: boolean) => void): void {
    if (this.stretches.length === 0) return visit(0, 1, false);
    this.stretches.sort((a, b) => a[0] - b[0]);
    const united: [number, number][] = [];
    for (const [from, to] of this.stretches) {
      const last = united[united.length - 1];
      if (last && from <= last[1] + shortest) last[1] = Math.max(last[1], to);
      else united.push([from <= shortest ? 0 : from, to]);
    }
    let at = 0;
    for (const [from, end] of united) {
      const to = end >= 1 - shortest ? 1 : end;
      if (to - from < shortest && to - from < 1) continue;
      if (from > at) visit(at, from, false);
      visit(from, to, true);
      at = to;
    }
    if (at < 1) visit(at, 1, false);
  }
}

function packLines(drawn: readonly Piece[], bodies: readonly Body[], all: readonly Piece[]): ViewLines {
  const ends = new Float64Array(drawn.length * 4),
    depths = new Float64Array(drawn.length * 2);
  const kinds = new Uint8Array(drawn.length),
    visible = new Uint8Array(drawn.length);
  const occurrences = new Int32Array(drawn.length);
  const paths = new PathList();
  drawn.forEach((piece, at) => {
    ends.set([piece.x1, piece.y1, piece.x2, piece.y2], at * 4);
    depths.set([piece.z1, piece.z2], at * 2);
    kinds[at] = piece.kind;
    visible[at] = piece.visible ? 1 : 0;
    occurrences[at] = paths.indexOf(bodies[piece.body].path);
  });
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x1, y1, x2, y2 } of all) {
    box[0] = Math.min(box[0], x1, x2);
    box[1] = Math.min(box[1], y1, y2);
    box[2] = Math.max(box[2], x1, x2);
    box[3] = Math.max(box[3], y1, y2);
  }
  return { ends, depths, kinds, visible, occurrences, paths: paths.paths, box: all.length === 0 ? [0, 0, 0, 0] : box };
}
