import {
  hypot,
  applyToPoint,
  composePlacements,
  determinant,
  invertPlacement,
  placeSurface,
  type Box2,
  type Placement,
  type Surface,
} from '../../geometry/index.ts';
import { candidateLines } from './candidates.ts';
import { coverOf, noCover, type Cover } from './cover.ts';
import { LineList, TriangleList, type CandidateLine } from './lists.ts';
import { Meetings } from './meetings.ts';
import { EDGE_ON, type PlacedBody } from './placed.ts';
import { WAY, type Body } from '../records.ts';
import { stepFaces } from './steps.ts';
import { meshEdges, standsOut } from './topology.ts';
import type { PathWay } from './ways.ts';
import { Window } from './window.ts';

/** Candidate lines as flat arrays; what of them is seen is found out by what lies before them. */
export interface SceneLines {
  /** x1, y1, z1, x2, y2, z2 per candidate line. */
  readonly edges: Float64Array;
  /** Index into `lineKinds`. */
  readonly edgeKind: Uint8Array;
  readonly edgeBody: Int32Array;
  /** How far the true line may stray from this piece of it; mm. */
  readonly edgeSagitta: Float64Array;
  /** Indices into the triangles above of the two neighbours of a line, -1 where that one cannot hide anything. */
  readonly edgeNeighbours: Int32Array;
  /** 1 where the surfaces beside it are turned away, so that the whole line is hidden by its own body. */
  readonly edgeTurnedAway: Uint8Array;
  /** 1 where the matter beside it turns away: such a line may bound what is seen of its body. */
  readonly edgeContour: Uint8Array;
  /** Two regions per line whose curved surface runs through it, or −1. */
  readonly edgeRegions: Int32Array;
  /**
   * x, y per region of a line: against that region's own facets, visibility is looked up this far beside the line, along the
   * surface's normal. A surface never hides its own outline or border there, but its facets stray from it.
   */
  readonly edgeShifts: Float64Array;
}

/** All bodies in view coordinates, as flat arrays. Triangles and lines of all bodies are numbered through. */
export interface ViewScene {
  /** x, y, z per corner, three corners per triangle, counter-clockwise on the view plane; only those that can hide something. */
  readonly corners: Float64Array;
  /** Component of the unit normal towards the viewer, in (0, 1]. */
  readonly facing: Float64Array;
  readonly triangleBody: Int32Array;
  /** Face of the body's mesh, per triangle. */
  readonly triangleFace: Int32Array;
  /** Smooth region per triangle, numbered through all bodies. */
  readonly triangleRegion: Int32Array;
  /** How far a triangle stands out of the true surface: 0 where that bulges, since facets lie inside it then; mm. */
  readonly triangleStray: Float64Array;
  /** Known surfaces of the faces of each body, in view coordinates; null for free-form faces. */
  readonly surfaces: readonly (readonly (Surface | null)[])[];
  /** The lines that bodies have by themselves, those of one body behind those of the one before; ways come last. */
  readonly lines: SceneLines;
  /** The lines where these bodies, from one to before another, pass through later ones; found anew at each call. */
  readonly meetings: (from: number, to: number) => SceneLines;
  /** Diagonal of the box around everything in view coordinates, or of the window; mm. */
  readonly size: number;
  /** Whether anything may have left its seat; its ways are lines of kind `WAY`. */
  readonly hasWays: boolean;
  /** Whether lines that cannot be seen are among its lines, as far as they are found out early. */
  readonly hidden: boolean;
  /** What surely hides things; nothing where hidden lines are wanted too. */
  readonly cover: Cover;
  /** What it is drawn in; null where it is drawn whole. */
  readonly window: Box2 | null;
}

/**
 * Share of the machine's diagonal. Points closer than this on the view plane are one: far above round-off, far below
 * a pen.
 */
export const SAME_POINT_SHARE = 1e-6;

/** Lines are divided until they stray from their curve by less than this share of the machine's diagonal, at least this much in mm. */
const FINE_SHARE = 5e-5;
const FINEST = 0.002;

export interface SceneOptions {
  readonly ways?: readonly PathWay[];
  /** Whether lines that cannot be seen are wanted; without them it takes a third of the time. */
  readonly hidden?: boolean;
  /** Planes of cuts along which nothing is drawn, see stepsOf. */
  readonly steps?: ReadonlySet<number>;
  /** Nothing but what lies in this piece of the view plane, as fine as its size asks for; everything where null. */
  readonly window?: Box2 | null;
}

/** Carries every body into view coordinates and picks the lines that may be drawn. */
export function buildScene(
  bodies: readonly Body[],
  view: Placement,
  { ways = [], hidden = true, steps = noSteps, window: pane = null }: SceneOptions = {},
): ViewScene {
  const window = pane && new Window(pane);
  const triangles = new TriangleList(),
    lines = new LineList(window);
  const box = new ViewBox();
  let regions = 0;
  const placed = bodies.map((body, index): PlacedBody => {
    const edges = meshEdges(body.mesh);
    const whole = composePlacements(view, body.placement);
    const points = carry(body.mesh.positions, whole, true);
    box.take(points);
    const surfaces = edges.surfaces.map((surface) => surface && placeSurface(surface, whole));
    const normals = carry(edges.normals, whole, false);
    const one = { body, index, edges, points, normals, surfaces, steps: stepFaces(body, steps), firstRegion: regions };
    regions += edges.strays.length;
    return { ...one, slots: addTriangles(one, determinant(whole) < 0, triangles, window) };
  });
  const size = window ? hypot(window.box[2] - window.box[0], window.box[3] - window.box[1]) : box.size();
  const fine = Math.max(FINEST, size * FINE_SHARE);
  const cover = hidden ? null : coverOf(placed, triangles.finish(), size, size * SAME_POINT_SHARE);
  for (const one of placed) candidateLines(one, fine, cover, lines, triangles, window);
  for (const { from, to } of ways)
    lines.add({ ...wayLine, from: applyToPoint(view, from), to: applyToPoint(view, to) });
  const search = { fine, touch: size * SAME_POINT_SHARE, cover, window, toMachine: invertPlacement(view) };
  let meetings: Meetings | null = null;
  return {
    ...triangles.finish(),
    surfaces: placed.map(({ surfaces }) => surfaces),
    lines: lines.finish(),
    meetings: (from, to) => {
      meetings ??= new Meetings(placed, search);
      const found = new LineList(window);
      for (let body = from; body < to; body++) meetings.addOf(body, found);
      return found.finish();
    },
    size,
    hasWays: ways.length > 0,
    hidden,
    cover: cover ?? noCover,
    window: pane,
  };
}

const noSteps: ReadonlySet<number> = new Set();

/** A way is a line of no body, which everything may hide. */
const wayLine: Omit<CandidateLine, 'from' | 'to'> = {
  kind: WAY,
  body: -1,
  sagitta: 0,
  neighbours: [-1, -1],
  turnedAway: false,
  isContour: false,
  own: [],
};

/** The facets that can hide something: those turned to the viewer, and the backs of open shapes. */
function addTriangles(
  { body: { mesh }, index, edges, points, normals, firstRegion }: Omit<PlacedBody, 'slots'>,
  flipped: boolean,
  into: TriangleList,
  window: Window | null,
): Int32Array {
  const count = mesh.triangles.length / 3;
  const slots = new Int32Array(count).fill(-1);
  for (let triangle = 0; triangle < count; triangle++) {
    const a = mesh.triangles[triangle * 3],
      b = mesh.triangles[triangle * 3 + 1],
      c = mesh.triangles[triangle * 3 + 2];
    if (window && !window.meets(points, [a, b, c])) continue;
    const towards = unitNormalZ(points, a * 3, b * 3, c * 3);
    if (Math.abs(towards) < EDGE_ON) continue;
    if (towards > 0 === flipped && edges.closed) continue;
    const face = edges.faceOf[triangle];
    const region = firstRegion + edges.regionOf[face];
    const stray = edges.strays[edges.regionOf[face]] === 0 ? 0 : standsOut(points, normals, a, b, c);
    slots[triangle] =
      towards > 0
        ? into.addOf(points, a, b, c, Math.abs(towards), index, face, region, stray)
        : into.addOf(points, a, c, b, Math.abs(towards), index, face, region, stray);
  }
  return slots;
}

/** Points (or directions, without the move; unit length again) through a placement; x, y, z each. */
function carry(values: Float64Array, m: Placement, asPoints: boolean): Float64Array {
  const out = new Float64Array(values.length);
  const [a, b, c, tx, d, e, f, ty, g, h, i, tz] = m;
  for (let at = 0; at < values.length; at += 3) {
    const x = values[at],
      y = values[at + 1],
      z = values[at + 2];
    const u = a * x + b * y + c * z,
      v = d * x + e * y + f * z,
      w = g * x + h * y + i * z;
    const unit = asPoints ? 1 : 1 / (hypot(u, v, w) || 1);
    out[at] = asPoints ? u + tx : u * unit;
    out[at + 1] = asPoints ? v + ty : v * unit;
    out[at + 2] = asPoints ? w + tz : w * unit;
  }
  return out;
}

class ViewBox {
  private readonly low = [Infinity, Infinity, Infinity];
  private readonly high = [-Infinity, -Infinity, -Infinity];

  take(points: Float64Array): void {
    for (let axis = 0; axis < 3; axis++) {
      let low = this.low[axis],
        high = this.high[axis];
      for (let at = axis; at < points.length; at += 3) {
        if (points[at] < low) low = points[at];
        if (points[at] > high) high = points[at];
      }
      this.low[axis] = low;
      this.high[axis] = high;
    }
  }

  size(): number {
    const [x, y, z] = [0, 1, 2].map((axis) => this.high[axis] - this.low[axis]);
    return x < 0 ? 0 : hypot(x, y, z);
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
  const size = hypot(nx, ny, nz);
  return size === 0 ? 0 : nz / size;
}
