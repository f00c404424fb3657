import { hypot, signedDistance, type Vec3 } from '../../geometry/index.ts';
import { STEEPEST } from '../scene/cover.ts';
import { gridTriangles, type TriangleGrid } from '../scene/grid.ts';
import type { SceneLines, ViewScene } from '../scene/scene.ts';

/** Cuts lines by the triangles that cover them, found by cells of the view plane. */
export class Cutter {
  private readonly grid: TriangleGrid;
  private readonly extent: Float64Array;
  /** Per triangle, for which line it was asked last. */
  private readonly asked: Int32Array;
  private turn = -1;
  private readonly clip = new Float64Array(2);
  private readonly part = new Float64Array(2);
  private readonly covered = new Intervals();

  constructor(
    private readonly scene: ViewScene,
    private readonly samePoint: number,
  ) {
    this.extent = extents(scene);
    this.grid = gridTriangles(scene.corners, samePoint, this.nearestFirst());
    this.asked = new Int32Array(scene.facing.length).fill(-1);
  }

  /** The triangles that may hide something, so that each cell has its nearest ones first. */
  private nearestFirst(): Int32Array {
    const { scene, extent } = this;
    const may = new Int32Array(scene.facing.length);
    let count = 0;
    for (let t = 0; t < may.length; t++) if (!scene.cover.hidesTriangle(scene.corners, t * 9)) may[count++] = t;
    return may.subarray(0, count).sort((a, b) => extent[b * EXTENT] - extent[a * EXTENT]);
  }

  /** Goes on to another line; what will be found to cover it. */
  start(): Intervals {
    this.turn++;
    this.covered.clear();
    return this.covered;
  }

  /**
   * Adds the stretches of a line, moved on the view plane, that triangles cover; true where one covers all of it.
   * @param region whose triangles are looked at; −1 for those of all regions but the line's own
   */
  cut(lines: SceneLines, edge: number, shiftX: number, shiftY: number, region: number): boolean {
    const { scene, samePoint, covered, asked, turn, clip, part, extent } = this;
    const { triangleRegion } = scene;
    const { edges, edgeNeighbours, edgeRegions } = lines;
    const { cells, starts, items } = this.grid;
    const at = edge * 6;
    const x0 = edges[at] + shiftX,
      y0 = edges[at + 1] + shiftY,
      z0 = edges[at + 2];
    const dx = edges[at + 3] - edges[at],
      dy = edges[at + 4] - edges[at + 1],
      dz = edges[at + 5] - z0;
    const lowX = Math.min(x0, x0 + dx) - samePoint,
      highX = Math.max(x0, x0 + dx) + samePoint;
    const lowY = Math.min(y0, y0 + dy) - samePoint,
      highY = Math.max(y0, y0 + dy) + samePoint;
    const neighbour1 = edgeNeighbours[edge * 2],
      neighbour2 = edgeNeighbours[edge * 2 + 1];
    const own1 = edgeRegions[edge * 2],
      own2 = edgeRegions[edge * 2 + 1];
    cells.startStretch(x0, y0, x0 + dx, y0 + dy);
    let cell = 0,
      last = -1;
    for (;;) {
      if (cell++ >= last) {
        if (!cells.nextRow()) return false;
        cell = cells.first;
        last = cells.last;
      }
      // Each cell answers for the part of the line in it.
      if (!cells.within(cell, x0, y0, dx, dy, part)) continue;
      const from = part[0],
        to = part[1];
      if (covered.holds(from, to)) continue;
      const farthest = Math.min(z0 + from * dz, z0 + to * dz);
      for (let item = starts[cell]; item < starts[cell + 1]; item++) {
        const t = items[item];
        const e = t * EXTENT;
        if (extent[e] <= farthest) break; // nearest first: the rest of the cell lies behind
        if (extent[e + 1] > highX || extent[e + 2] < lowX || extent[e + 3] > highY || extent[e + 4] < lowY) continue;
        if (asked[t] === turn || t === neighbour1 || t === neighbour2) continue;
        const of = triangleRegion[t];
        if (region < 0 ? of === own1 || of === own2 : of !== region) continue;
        asked[t] = turn;
        if (!coveredRange(scene, lines, edge, t, samePoint, clip)) continue;
        covered.add(clip[0], clip[1]);
        if (clip[0] === 0 && clip[1] === 1) return true;
        if (clip[0] <= from && clip[1] >= to) break;
      }
    }
  }
}

/** Numbers per triangle in what `extents` gives. */
const EXTENT = 5;

/** Per triangle: the nearest that it, or the surface that it stands for, comes to the viewer; left, right, low, high. */
function extents(scene: ViewScene): Float64Array {
  const { corners: p } = scene;
  const all = new Float64Array((p.length / 9) * EXTENT);
  for (let t = 0, a = 0, e = 0; a < p.length; t++, a += 9, e += EXTENT) {
    all[e] = Math.max(p[a + 2], p[a + 5], p[a + 8]) + bulgeOf(scene, t);
    all[e + 1] = Math.min(p[a], p[a + 3], p[a + 6]);
    all[e + 2] = Math.max(p[a], p[a + 3], p[a + 6]);
    all[e + 3] = Math.min(p[a + 1], p[a + 4], p[a + 7]);
    all[e + 4] = Math.max(p[a + 1], p[a + 4], p[a + 7]);
  }
  return all;
}

/** How far before a facet its known surface may hide something; mm of depth. */
function bulgeOf({ corners, surfaces, triangleBody, triangleFace, facing }: ViewScene, t: number): number {
  const surface = surfaces[triangleBody[t]][triangleFace[t]];
  if (!surface || surface.kind === 'plane') return 0;
  return (2 * Math.abs(signedDistance(surface, middleOf(corners, t)))) / Math.max(facing[t], STEEPEST);
}

const middleOf = (p: Float64Array, t: number): Vec3 => [
  (p[t * 9] + p[t * 9 + 3] + p[t * 9 + 6]) / 3,
  (p[t * 9 + 1] + p[t * 9 + 4] + p[t * 9 + 7]) / 3,
  (p[t * 9 + 2] + p[t * 9 + 5] + p[t * 9 + 8]) / 3,
];

/**
 * Writes into `out` the stretch (0..1 along the edge) over which triangle t covers the edge and lies nearer; false
 * where there is none. The triangle is widened by `samePoint`, so that an edge running behind the seam of two
 * triangles has no gap.
 */
// eslint-disable-next-line house/own-lines -- runs for every triangle near every line: what it works out it keeps at hand
function coveredRange(
  scene: ViewScene,
  lines: SceneLines,
  edge: number,
  t: number,
  samePoint: number,
  out: Float64Array,
): boolean {
  const { corners: p, facing, triangleRegion, triangleStray, triangleBody } = scene;
  const { edges: e, edgeRegions, edgeShifts, edgeSagitta, edgeBody } = lines;
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
  // Most triangles near a line lie beside it: that is seen without a square root.
  for (let side = 0; side < 3; side++) {
    const i = a + side * 3,
      j = side === 2 ? a : i + 3;
    const ex = p[j] - p[i],
      ey = p[j + 1] - p[i + 1];
    const c0 = ex * (y0 - p[i + 1]) - ey * (x0 - p[i]);
    const least = -samePoint * (Math.abs(ex) + Math.abs(ey));
    if (c0 < least && c0 + ex * dy - ey * dx < least) return false;
  }
  let from = 0,
    to = 1;
  for (let side = 0; side < 3; side++) {
    const i = a + side * 3,
      j = side === 2 ? a : i + 3;
    const ex = p[j] - p[i],
      ey = p[j + 1] - p[i + 1];
    const size = hypot(ex, ey);
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
    const surface = own < 0 ? nearSurface(scene, lines, edge, t) : null;
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
  { corners: p, surfaces, triangleBody, triangleFace, facing }: ViewScene,
  { edges: e }: SceneLines,
  edge: number,
  t: number,
): NearSurface | null {
  const surface = surfaces[triangleBody[t]][triangleFace[t]];
  if (!surface || surface.kind === 'plane') return null;
  const at = edge * 6;
  const middle = middleOf(p, t);
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

  /** Whether one of the stretches holds all of this one. */
  holds(from: number, to: number): boolean {
    for (const [start, end] of this.stretches) if (start <= from && end >= to) return true;
    return false;
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
