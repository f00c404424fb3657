import Flatbush from 'flatbush';
import {
  cross,
  dot,
  length,
  normalize,
  normalOf,
  ontoAll,
  ontoBoth,
  scale,
  signedDistance,
  subtract,
  type Box3,
  type Surface,
  type Vec3,
} from '../../geometry/index.ts';
import { between, ownRegions, piecesFor, pointAt, rootOf } from './candidates.ts';
import type { Cover } from './cover.ts';
import type { LineList } from './lists.ts';
import { EDGE_ON, type PlacedBody } from './placed.ts';
import { EDGE_FEATURE, edgesOfTriangles } from './topology.ts';
import type { Window } from './window.ts';

/** Kind of these lines; order as in `lineKinds`. */
const FEATURE = 0;
/** Surfaces that meet at less than this touch: a shaft in its bore, a roller on its track. Sine; for free-form faces by facets. */
const LEAST_ANGLE = Math.sin((4 * Math.PI) / 180),
  LEAST_FREE_ANGLE = Math.sin((15 * Math.PI) / 180);
/** From so many triangles on those near another body are looked up in a tree. */
const FEW = 24;

/** What lines of a scene are looked for with, see candidateLines. */
interface Search {
  /** Lines are divided until they stray from their curve by less; mm. */
  readonly fine: number;
  /** Points nearer to a facet's plane lie in it; mm. */
  readonly touch: number;
  readonly cover: Cover | null;
  readonly window: Window | null;
}

/**
 * The lines where bodies pass through one another: a shaft drawn solid in its plate, a key in a shaft, what stands in the
 * cut face of a section. Facet against facet, of those that are turned to the viewer, since matter hides all other places;
 * the ends of what they have in common are then carried onto the surfaces that they stand for, and where these do not meet
 * there, facets alone do. Faces that lie on one another, and round ones that touch, have no such line.
 * Source: T. Möller, "A fast triangle-triangle intersection test", Journal of Graphics Tools 2 (1997), the intervals on the
 * common line.
 */
export function meetingLines(placed: readonly PlacedBody[], search: Search, lines: LineList): void {
  const boxes = placed.map(({ points }) => boxOfPoints(points));
  const standing = boxes.flatMap((box, at) => (box[0] <= box[3] ? [at] : []));
  if (standing.length < 2) return;
  const tree = new Flatbush(standing.length);
  for (const at of standing) tree.add(boxes[at][0], boxes[at][1], boxes[at][3], boxes[at][4]);
  tree.finish();
  const facets = new Map<number, FrontFacets>();
  const facetsOf = (at: number): FrontFacets => {
    let found = facets.get(at);
    if (!found) facets.set(at, (found = new FrontFacets(placed[at], search)));
    return found;
  };
  for (const one of standing) {
    const box = boxes[one];
    const near = tree.search(box[0], box[1], box[3], box[4], (at) => {
      const other = standing[at];
      return other > one && boxes[other][2] < box[5] && boxes[other][5] > box[2];
    });
    for (const at of near)
      meet(facetsOf(one), facetsOf(standing[at]), commonBox(box, boxes[standing[at]]), search, lines);
  }
}

const commonBox = (a: Box3, b: Box3): Box3 => [
  Math.max(a[0], b[0]),
  Math.max(a[1], b[1]),
  Math.max(a[2], b[2]),
  Math.min(a[3], b[3]),
  Math.min(a[4], b[4]),
  Math.min(a[5], b[5]),
];

function boxOfPoints(points: Float64Array): Box3 {
  const box: [number, number, number, number, number, number] = [
    Infinity,
    Infinity,
    Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
  ];
  for (let at = 0; at < points.length; at += 3)
    for (let axis = 0; axis < 3; axis++) {
      if (points[at + axis] < box[axis]) box[axis] = points[at + axis];
      if (points[at + axis] > box[axis + 3]) box[axis + 3] = points[at + axis];
    }
  return box;
}

/** The triangles of a body that are turned to the viewer, if only at a corner of the surface, and not surely hidden. */
class FrontFacets {
  /** Indices into the body's triangles. */
  private readonly all: number[] = [];
  /** Six numbers each, as in Box3. */
  private readonly boxes: Float64Array;
  private readonly tree: Flatbush | null;

  constructor(
    readonly body: PlacedBody,
    { cover, window }: Pick<Search, 'cover' | 'window'>,
  ) {
    const { slots, steps, edges, points, normals } = body;
    const { triangles } = body.body.mesh;
    for (let t = 0; t < slots.length; t++) {
      const [a, b, c] = [triangles[t * 3], triangles[t * 3 + 1], triangles[t * 3 + 2]];
      if (slots[t] < 0 && ![a, b, c].some((vertex) => normals[vertex * 3 + 2] > EDGE_ON)) continue;
      if (steps?.[edges.faceOf[t]] === 1) continue;
      const stray = edges.strays[edges.regionOf[edges.faceOf[t]]];
      if (window && !window.meets(points, [a, b, c], stray)) continue;
      if (!cover?.hidesCorners(points, a, b, c, stray)) this.all.push(t);
    }
    this.boxes = new Float64Array(this.all.length * 6);
    this.all.forEach((t, at) => {
      const corners = [0, 1, 2].map((corner) => pointAt(points, triangles[t * 3 + corner]));
      for (let axis = 0; axis < 3; axis++) {
        this.boxes[at * 6 + axis] = Math.min(corners[0][axis], corners[1][axis], corners[2][axis]);
        this.boxes[at * 6 + axis + 3] = Math.max(corners[0][axis], corners[1][axis], corners[2][axis]);
      }
    });
    this.tree = this.all.length > FEW ? new Flatbush(this.all.length) : null;
    for (let at = 0; this.tree && at < this.all.length; at++)
      this.tree.add(this.boxes[at * 6], this.boxes[at * 6 + 1], this.boxes[at * 6 + 3], this.boxes[at * 6 + 4]);
    this.tree?.finish();
  }

  /** Those whose boxes meet a box: indices for `triangle` and `boxOf`. */
  within([x0, y0, z0, x1, y1, z1]: Box3): number[] {
    const { boxes } = this;
    const isDeep = (at: number) => boxes[at * 6 + 2] <= z1 && boxes[at * 6 + 5] >= z0;
    if (this.tree) return this.tree.search(x0, y0, x1, y1, isDeep);
    const found: number[] = [];
    for (let at = 0; at < this.all.length; at++) {
      const b = at * 6;
      if (boxes[b] <= x1 && boxes[b + 3] >= x0 && boxes[b + 1] <= y1 && boxes[b + 4] >= y0 && isDeep(at))
        found.push(at);
    }
    return found;
  }

  triangle(at: number): Facet {
    const { body } = this;
    const t = this.all[at];
    const { triangles } = body.body.mesh;
    const corners = [0, 1, 2].map((corner) => pointAt(body.points, triangles[t * 3 + corner])) as [Vec3, Vec3, Vec3];
    const normal = normalize(cross(subtract(corners[1], corners[0]), subtract(corners[2], corners[0])));
    return { body, triangle: t, corners, normal, offset: dot(normal, corners[0]) };
  }

  boxOf(at: number): Box3 {
    return this.boxes.subarray(at * 6, at * 6 + 6) as unknown as Box3;
  }
}

interface Facet {
  readonly body: PlacedBody;
  readonly triangle: number;
  readonly corners: readonly [Vec3, Vec3, Vec3];
  /** Of its plane, with `offset` along it; either way out. */
  readonly normal: Vec3;
  readonly offset: number;
}

function meet(one: FrontFacets, other: FrontFacets, box: Box3, search: Search, lines: LineList): void {
  for (const at of one.within(box)) {
    const near = other.within(one.boxOf(at));
    if (near.length === 0) continue;
    const facet = one.triangle(at);
    for (const index of near) {
      const found = commonStretch(facet, other.triangle(index), search.touch);
      if (found) addMeeting(found, search, lines);
    }
  }
}

/** Where a side of one facet passes through the plane of another. */
interface Passing {
  readonly point: Vec3;
  readonly of: Facet;
  readonly side: number;
}
interface Stretch {
  readonly from: Passing;
  readonly to: Passing;
  readonly facets: readonly [Facet, Facet];
}

/** What two facets have in common; null where that is nothing, or not longer than `touch`. */
function commonStretch(a: Facet, b: Facet, touch: number): Stretch | null {
  const throughB = passings(a, b, touch);
  const throughA = throughB && passings(b, a, touch);
  if (!throughA) return null;
  const way = cross(a.normal, b.normal);
  if (length(way) < 1e-9) return null;
  const along = (passing: Passing) => dot(passing.point, way) / length(way);
  const [first, second] = [throughB, throughA].map(([p, q]) => (along(p) <= along(q) ? [p, q] : [q, p]));
  const from = along(first[0]) >= along(second[0]) ? first[0] : second[0];
  const to = along(first[1]) <= along(second[1]) ? first[1] : second[1];
  return along(to) - along(from) > touch ? { from, to, facets: [a, b] } : null;
}

/** Where two sides of a facet pass through another's plane; null where it stays on one side of it. */
function passings(of: Facet, { normal, offset }: Facet, touch: number): [Passing, Passing] | null {
  const off = of.corners.map((corner) => {
    const distance = dot(normal, corner) - offset;
    return Math.abs(distance) < touch ? 0 : distance;
  });
  if (off.every((distance) => distance >= 0) || off.every((distance) => distance < 0)) return null;
  const found = [0, 1, 2].flatMap((side): Passing[] => {
    const next = (side + 1) % 3;
    if (off[side] >= 0 === off[next] >= 0) return [];
    return [{ point: between(of.corners[side], of.corners[next], off[side] / (off[side] - off[next])), of, side }];
  });
  return [found[0], found[1]];
}

const surfaceOf = ({ body, triangle }: Facet): Surface | null => body.surfaces[body.edges.faceOf[triangle]];
const strayOf = ({ body: { edges }, triangle }: Facet): number => edges.strays[edges.regionOf[edges.faceOf[triangle]]];

/** The surface of the face on the other side of where a facet passes through, if that is an edge of the part. */
function surfaceBeyond({ of: { body, triangle }, side }: Passing): Surface | null {
  const { edges } = body;
  const edge = edgesOfTriangles(body.body.mesh)[triangle * 3 + side];
  if (edge < 0 || edges.kinds[edge] !== EDGE_FEATURE) return null;
  const [one, other] = [edges.triangles[edge * 2], edges.triangles[edge * 2 + 1]];
  const beyond = one === triangle ? other : one;
  return beyond < 0 ? null : body.surfaces[edges.faceOf[beyond]];
}

/** One stretch, carried onto the surfaces of both faces, divided so that it follows their curve and where one turns away. */
function addMeeting(stretch: Stretch, { fine }: Search, lines: LineList): void {
  const { facets } = stretch;
  const surfaces = facets.map(surfaceOf);
  const curve = curveOf(stretch, surfaces);
  if (!curve) return;
  const normalAt = (side: number, point: Vec3): Vec3 => {
    const surface = surfaces[side];
    if (surface) return normalOf(surface, point);
    // A facet's own normal may look in or out; what is seen of it looks to the viewer.
    const { normal } = facets[side];
    return scale(normal, Math.sign(normal[2]) || 1);
  };
  const bulge = length(subtract(curve(0.5), between(curve(0), curve(1), 0.5)));
  const pieces = piecesFor(bulge, fine);
  const cuts = Array.from({ length: pieces + 1 }, (_, at) => at / pieces);
  for (const side of [0, 1]) {
    const towards = (t: number) => normalAt(side, curve(t))[2];
    if (surfaces[side] && towards(0) * towards(1) < 0) cuts.push(rootOf(towards));
  }
  cuts.sort((a, b) => a - b);
  const points = cuts.map(curve);
  for (let at = 1; at < cuts.length; at++) {
    if (cuts[at] - cuts[at - 1] < 1e-9) continue;
    const middle = curve((cuts[at - 1] + cuts[at]) / 2);
    const normals = [0, 1].map((side) => normalAt(side, middle));
    // Beside matter that looks away, that matter is in front.
    if (facets.some(({ body }, side) => body.edges.closed && normals[side][2] < -EDGE_ON)) continue;
    addPiece(facets, [points[at - 1], points[at]], normals, bulge / pieces ** 2, lines);
  }
}

/** Along the line in which the surfaces of two faces meet between two passings, 0..1; null where they only touch, or do not meet. */
function curveOf({ from, to, facets }: Stretch, surfaces: readonly (Surface | null)[]): ((t: number) => Vec3) | null {
  const known = surfaces.flatMap((surface) => surface ?? []);
  const middle = between(from.point, to.point, 0.5);
  const normals = facets.map(({ normal }, at) => (surfaces[at] ? normalOf(surfaces[at], middle) : normal));
  const angle = length(cross(normals[0], normals[1]));
  if (angle < (known.length === 2 ? LEAST_ANGLE : LEAST_FREE_ANGLE)) return null;
  // Facets lie this far beside where their surfaces meet, or these do not meet here.
  const reach = (2 * (strayOf(facets[0]) + strayOf(facets[1])) + 1e-6) / angle;
  const isCurved = known.length === 2 && known.some(({ kind }) => kind !== 'plane');
  const settle = (point: Vec3, third: Surface | null): Vec3 | null => {
    const onto =
      (third && known.length === 2 && ontoAll([...known, third], point)) ||
      (isCurved ? ontoBoth(known[0], known[1], point) : point);
    const isOn = !isCurved || known.every((surface) => Math.abs(signedDistance(surface, onto)) < ON_SURFACE);
    return isOn && length(subtract(onto, point)) <= reach ? onto : null;
  };
  const [start, end] = [from, to].map(
    (passing) => settle(passing.point, surfaceBeyond(passing)) ?? settle(passing.point, null),
  );
  if (!start || !end || !settle(between(start, end, 0.5), null)) return null;
  return (t) => (t === 0 ? start : t === 1 ? end : (settle(between(start, end, t), null) ?? between(start, end, t)));
}
/** Newton's steps have found a surface; mm. */
const ON_SURFACE = 1e-5;

function addPiece(
  facets: readonly [Facet, Facet],
  [from, to]: readonly [Vec3, Vec3],
  normals: readonly Vec3[],
  sagitta: number,
  lines: LineList,
): void {
  const sides = facets.map((facet) => {
    const { body, triangle } = facet;
    return {
      region: body.firstRegion + body.edges.regionOf[body.edges.faceOf[triangle]],
      stray: strayOf(facet),
      slot: body.slots[triangle],
    };
  });
  lines.add({
    from,
    to,
    kind: FEATURE,
    body: facets[0].body.index,
    sagitta,
    neighbours: [sides[0].slot, sides[1].slot],
    turnedAway: false,
    isContour: true,
    own: ownRegions(sides, normals),
  });
}
