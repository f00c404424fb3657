import { boxOfCorners, layOutCells } from './grid.ts';
import type { PlacedBody } from './placed.ts';

/** Steep triangles: a stray in depth grows with the slope, up to the reciprocal of this. */
export const STEEPEST = 0.05;

/** Cells per triangle of the machine: finer ones find more, and cost more to fill. */
const FINENESS = 4;
/** Things may stray this share of the machine's diagonal on the view plane and still be looked up. */
const MARGIN_SHARE = 2e-4;

/** What the parts of a machine surely hide: per cell of the view plane the depth behind which nothing can be seen. */
export interface Cover {
  /**
   * Whether the line between two of these points is surely hidden, all of it.
   * @param bulge how far what it stands for may stray from it; mm
   */
  readonly hidesLine: (points: Float64Array, from: number, to: number, bulge: number) => boolean;
  /** The same for the triangle between three of them. */
  readonly hidesCorners: (points: Float64Array, a: number, b: number, c: number, bulge: number) => boolean;
  /** The same for the plane triangle whose corners begin there. */
  readonly hidesTriangle: (corners: Float64Array, at: number) => boolean;
}

export const noCover: Cover = { hidesLine: () => false, hidesCorners: () => false, hidesTriangle: () => false };

/** The triangles of a scene as far as they are needed here; see ViewScene. */
interface Triangles {
  readonly corners: Float64Array;
  readonly facing: Float64Array;
  readonly triangleStray: Float64Array;
}

/**
 * Most lines of a full machine are hidden, and most of these far behind what hides them. Where the triangles of one body
 * touch a cell and no border of what of the body is turned to the viewer passes through it, the body covers all of the
 * cell; its farthest point there is a depth behind which everything is hidden, whatever small holes there are elsewhere.
 * So what is found here is found exactly; what is not has to be cut by every triangle (see hiddenLines).
 * Source of the thought: hierarchical visibility, N. Greene, M. Kass, G. Miller, SIGGRAPH 1993, with borders kept apart
 * so that the answer is sure and not sampled.
 * @param bodies with their triangles' indices in `triangles`
 * @param size diagonal of the machine; mm
 * @param samePoint mm, as in hiddenLines: what is nearer than this is at one place
 */
export function coverOf(bodies: readonly PlacedBody[], triangles: Triangles, size: number, samePoint: number): Cover {
  const { corners } = triangles;
  if (triangles.facing.length === 0) return noCover;
  const margin = size * MARGIN_SHARE;
  const cells = layOutCells(boxOfCorners(corners), triangles.facing.length * FINENESS, margin);
  const depth = new Float64Array(cells.count).fill(-Infinity);
  const low = new Float64Array(cells.count);
  const touchedBy = new Int32Array(cells.count).fill(-1),
    brokenBy = new Int32Array(cells.count).fill(-1);
  const touched = new Int32Array(cells.count);
  for (const body of bodies) {
    const { edges, slots, points, index } = body;
    for (let edge = 0; edge < edges.kinds.length; edge++) {
      if (!isRim(body, edge)) continue;
      const a = edges.vertices[edge * 4] * 3,
        b = edges.vertices[edge * 4 + 1] * 3;
      cells.startStretch(points[a], points[a + 1], points[b], points[b + 1]);
      while (cells.nextRow()) brokenBy.fill(index, cells.first, cells.last + 1);
    }
    let count = 0;
    for (const slot of slots) {
      if (slot < 0) continue;
      const { middle, slopeX, slopeY, x, y, least, tolerance } = planeOf(triangles, slot, samePoint);
      const fall = (Math.abs(slopeX) * cells.width + Math.abs(slopeY) * cells.height) / 2 + tolerance;
      cells.startTriangle(corners, slot * 9);
      while (cells.nextRow()) {
        const { first, last } = cells;
        let here = middle + slopeX * (cells.xOf(first) - x) + slopeY * (cells.yOf(first) - y) - fall;
        for (let cell = first; cell <= last; cell++, here += slopeX * cells.width) {
          if (brokenBy[cell] === index) continue;
          if (touchedBy[cell] !== index) {
            touchedBy[cell] = index;
            low[cell] = Infinity;
            touched[count++] = cell;
          }
          const behind = here > least - tolerance ? here : least - tolerance;
          if (behind < low[cell]) low[cell] = behind;
        }
      }
    }
    for (let at = 0; at < count; at++) if (low[touched[at]] > depth[touched[at]]) depth[touched[at]] = low[touched[at]];
  }
  /** Whether something at `nearest` is hidden in all cells that have been started; stops at the first where it is not. */
  const areHiding = (nearest: number): boolean => {
    while (cells.nextRow())
      for (let cell = cells.first; cell <= cells.last; cell++) if (depth[cell] <= nearest) return false;
    return true;
  };
  const triangle = new Float64Array(9);
  const hidesTriangle = (p: Float64Array, at: number, above = 0): boolean => {
    cells.startTriangle(p, at);
    return areHiding(Math.max(p[at + 2], p[at + 5], p[at + 8]) + above);
  };
  return {
    hidesLine: (points, from, to, bulge) => {
      if (bulge > margin) return false;
      cells.startStretch(points[from * 3], points[from * 3 + 1], points[to * 3], points[to * 3 + 1]);
      return areHiding(Math.max(points[from * 3 + 2], points[to * 3 + 2]) + (2 * bulge) / STEEPEST);
    },
    hidesCorners: (points, a, b, c, bulge) => {
      if (bulge > margin) return false;
      triangle.set(points.subarray(a * 3, a * 3 + 3), 0);
      triangle.set(points.subarray(b * 3, b * 3 + 3), 3);
      triangle.set(points.subarray(c * 3, c * 3 + 3), 6);
      return hidesTriangle(triangle, 0, (2 * bulge) / STEEPEST);
    },
    hidesTriangle: (p, at) => hidesTriangle(p, at),
  };
}

/** Whether what of the body is turned to the viewer ends at an edge, on the view plane. */
function isRim({ edges, slots, points, body: { mesh } }: PlacedBody, edge: number): boolean {
  const one = edges.triangles[edge * 2],
    other = edges.triangles[edge * 2 + 1];
  const isFront = slots[one] >= 0,
    isOtherFront = other >= 0 && slots[other] >= 0;
  if (!isFront || !isOtherFront) return isFront || isOtherFront;
  // Of an open shape both sides count as turned to the viewer: where it folds, they lie on one another.
  const a = edges.vertices[edge * 4] * 3,
    b = edges.vertices[edge * 4 + 1] * 3;
  const dx = points[b] - points[a],
    dy = points[b + 1] - points[a + 1];
  const sideOf = (triangle: number, first: number, second: number): number => {
    for (let corner = 0; corner < 3; corner++) {
      const vertex = mesh.triangles[triangle * 3 + corner];
      if (vertex !== first && vertex !== second)
        return dx * (points[vertex * 3 + 1] - points[a + 1]) - dy * (points[vertex * 3] - points[a]);
    }
    return 0;
  };
  const { vertices } = edges;
  return (
    sideOf(one, vertices[edge * 4], vertices[edge * 4 + 1]) *
      sideOf(other, vertices[edge * 4 + 2], vertices[edge * 4 + 3]) >=
    0
  );
}

/** A triangle's plane over the view plane, its least depth, and how much nearer a line behind it may be and count as before it. */
function planeOf({ corners: p, facing, triangleStray }: Triangles, slot: number, samePoint: number) {
  const a = slot * 9;
  const ux = p[a + 3] - p[a],
    uy = p[a + 4] - p[a + 1],
    uz = p[a + 5] - p[a + 2];
  const vx = p[a + 6] - p[a],
    vy = p[a + 7] - p[a + 1],
    vz = p[a + 8] - p[a + 2];
  const nz = ux * vy - uy * vx;
  return {
    x: p[a],
    y: p[a + 1],
    middle: p[a + 2],
    slopeX: -(uy * vz - uz * vy) / nz,
    slopeY: -(uz * vx - ux * vz) / nz,
    least: Math.min(p[a + 2], p[a + 5], p[a + 8]),
    tolerance: samePoint + (triangleStray[slot] + samePoint) / Math.max(facing[slot], STEEPEST),
  };
}
