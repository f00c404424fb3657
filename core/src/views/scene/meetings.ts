import Flatbush from 'flatbush';
import {
  cross,
  dot,
  hypot,
  length,
  normalOf,
  ontoAll,
  ontoBoth,
  scale,
  signedDistance,
  subtract,
  type Box3,
  type Placement,
  type Surface,
  type Vec3,
} from '../../geometry/index.ts';
import { between, ownRegions, piecesFor, rootOf } from './candidates.ts';
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
  /** View to machine coordinates: most machines stand square in those, so that boxes around their facets are narrow. */
  readonly toMachine: Placement;
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
  const boxes = placed.map(({ points }) => boxOfPoints(points, search.toMachine));
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
    const near = tree.search(box[0], box[1], box[3], box[4], (at) => standing[at] > one);
    for (const at of near) {
      const common = commonBox(box, boxes[standing[at]]);
      // What only touches has a common box without depth.
      if ([0, 1, 2].every((axis) => common[axis + 3] - common[axis] > DEEPER * search.touch))
        meet(facetsOf(one), facetsOf(standing[at]), common, search, lines);
    }
  }
}
/** Than what touches. */
const DEEPER = 4;

const commonBox = (a: Box3, b: Box3): Box3 => [
  Math.max(a[0], b[0]),
  Math.max(a[1], b[1]),
  Math.max(a[2], b[2]),
  Math.min(a[3], b[3]),
  Math.min(a[4], b[4]),
  Math.min(a[5], b[5]),
];

/** @param points x, y, z each */
function boxOfPoints(points: ArrayLike<number>, m: Placement): Box3 {
  let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let at = 0; at < points.length; at += 3) {
    const [p, q, r] = [points[at], points[at + 1], points[at + 2]];
    const x = m[0] * p + m[1] * q + m[2] * r + m[3],
      y = m[4] * p + m[5] * q + m[6] * r + m[7],
      z = m[8] * p + m[9] * q + m[10] * r + m[11];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  return [x0, y0, z0, x1, y1, z1];
}

const grown = ([x0, y0, z0, x1, y1, z1]: Box3, by: number): Box3 => [
  x0 - by,
  y0 - by,
  z0 - by,
  x1 + by,
  y1 + by,
  z1 + by,
];

/** Numbers per facet in `numbers`: three corners, unit normal, offset of its plane along that. */
const NUMBERS = 13;
const NORMAL = 9,
  OFFSET = 12;

/** The triangles of a body that are turned to the viewer, if only at a corner of the surface, and not surely hidden. */
class FrontFacets {
  /** Indices into the body's triangles. */
  readonly all: readonly number[];
  readonly numbers: Float64Array;
  /** Six numbers each, as in Box3. */
  private readonly boxes: Float64Array;
  /** 1 where a facet is part of a plane face. */
  private readonly planes: Uint8Array;
  private readonly tree: Flatbush | null;

  constructor(
    readonly body: PlacedBody,
    search: Pick<Search, 'cover' | 'window' | 'toMachine'>,
  ) {
    this.all = frontTriangles(body, search);
    const count = this.all.length;
    this.planes = Uint8Array.from(this.all, (t) => +(body.surfaces[body.edges.faceOf[t]]?.kind === 'plane'));
    this.boxes = new Float64Array(count * 6);
    this.numbers = new Float64Array(count * NUMBERS);
    const { triangles } = body.body.mesh;
    for (let at = 0; at < count; at++) this.write(at, body.points, triangles, search.toMachine);
    this.tree = count > FEW ? new Flatbush(count) : null;
    for (let at = 0; this.tree && at < count; at++)
      this.tree.add(this.boxes[at * 6], this.boxes[at * 6 + 1], this.boxes[at * 6 + 3], this.boxes[at * 6 + 4]);
    this.tree?.finish();
  }

  private write(at: number, points: Float64Array, triangles: Uint32Array, toMachine: Placement): void {
    const { numbers } = this;
    const n = at * NUMBERS;
    for (let corner = 0; corner < 3; corner++) {
      const from = triangles[this.all[at] * 3 + corner] * 3;
      for (let axis = 0; axis < 3; axis++) numbers[n + corner * 3 + axis] = points[from + axis];
    }
    const ux = numbers[n + 3] - numbers[n],
      uy = numbers[n + 4] - numbers[n + 1],
      uz = numbers[n + 5] - numbers[n + 2];
    const vx = numbers[n + 6] - numbers[n],
      vy = numbers[n + 7] - numbers[n + 1],
      vz = numbers[n + 8] - numbers[n + 2];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const size = hypot(x, y, z) || 1;
    numbers[n + NORMAL] = x / size;
    numbers[n + NORMAL + 1] = y / size;
    numbers[n + NORMAL + 2] = z / size;
    numbers[n + OFFSET] = (x * numbers[n] + y * numbers[n + 1] + z * numbers[n + 2]) / size;
    this.boxes.set(boxOfPoints(numbers.subarray(n, n + NORMAL), toMachine), at * 6);
  }

  /** Those whose boxes meet a box, of curved or free-form faces and of plane ones. */
  within([x0, y0, z0, x1, y1, z1]: Box3): readonly [curved: number[], plane: number[]] {
    const { boxes } = this;
    const isDeep = (at: number) => boxes[at * 6 + 2] <= z1 && boxes[at * 6 + 5] >= z0;
    const found: [number[], number[]] = [[], []];
    if (this.tree) {
      for (const at of this.tree.search(x0, y0, x1, y1, isDeep)) found[this.planes[at]].push(at);
      return found;
    }
    for (let at = 0; at < this.all.length; at++) {
      const b = at * 6;
      if (boxes[b] <= x1 && boxes[b + 3] >= x0 && boxes[b + 1] <= y1 && boxes[b + 4] >= y0 && isDeep(at))
        found[this.planes[at]].push(at);
    }
    return found;
  }

  boxOf(at: number): Box3 {
    return this.boxes.subarray(at * 6, at * 6 + 6) as unknown as Box3;
  }

  faceOf(at: number): number {
    return this.body.edges.faceOf[this.all[at]];
  }

  facet(at: number): Facet {
    const n = at * NUMBERS;
    const vector = (from: number): Vec3 => [this.numbers[from], this.numbers[from + 1], this.numbers[from + 2]];
    return {
      body: this.body,
      triangle: this.all[at],
      corners: [vector(n), vector(n + 3), vector(n + 6)],
      normal: vector(n + NORMAL),
      offset: this.numbers[n + OFFSET],
    };
  }
}

function frontTriangles(body: PlacedBody, { cover, window }: Pick<Search, 'cover' | 'window'>): number[] {
  const { slots, steps, edges, points, normals } = body;
  const { triangles } = body.body.mesh;
  const all: number[] = [];
  for (let t = 0; t < slots.length; t++) {
    const [a, b, c] = [triangles[t * 3], triangles[t * 3 + 1], triangles[t * 3 + 2]];
    if (slots[t] < 0 && ![a, b, c].some((vertex) => normals[vertex * 3 + 2] > EDGE_ON)) continue;
    if (steps?.[edges.faceOf[t]] === 1) continue;
    const stray = edges.strays[edges.regionOf[edges.faceOf[t]]];
    if (window && !window.meets(points, [a, b, c], stray)) continue;
    if (!cover?.hidesCorners(points, a, b, c, stray)) all.push(t);
  }
  return all;
}

interface Facet {
  readonly body: PlacedBody;
  readonly triangle: number;
  readonly corners: readonly [Vec3, Vec3, Vec3];
  /** Of its plane, with `offset` along it; either way out. */
  readonly normal: Vec3;
  readonly offset: number;
}

/** What bodies have in common within a box: plane faces, of which all facets lie in one plane, as wholes, the others by facets. */
function meet(one: FrontFacets, other: FrontFacets, box: Box3, search: Search, lines: LineList): void {
  const [ownCurved, ownPlane] = one.within(box),
    [otherCurved, otherPlane] = other.within(box);
  const may = crossingFaces(one, other);
  const add = (at: number, index: number): void => {
    const { touch } = search;
    if (!passesThrough(one.numbers, at, other.numbers, index, touch)) return;
    if (!passesThrough(other.numbers, index, one.numbers, at, touch)) return;
    if (!overlap(one.numbers, at, other.numbers, index, touch)) return;
    const found = commonStretch(one.facet(at), other.facet(index), touch);
    if (found) addMeeting(found, search, lines);
  };
  planesInPlanes(one, ownPlane, other, otherPlane, search.touch, may, add);
  throughPlanes(one, ownPlane, other, otherCurved, search, (at, index) => {
    if (may(at, index)) add(at, index);
  });
  throughPlanes(other, otherPlane, one, ownCurved, search, (index, at) => {
    if (may(at, index)) add(at, index);
  });
  const otherFaces = byFace(other, otherCurved).map(([first]) => first);
  for (const face of byFace(one, ownCurved)) {
    if (!otherFaces.some((first) => may(face[0], first))) continue;
    for (const at of face) for (const index of other.within(one.boxOf(at))[0]) if (may(at, index)) add(at, index);
  }
}

/**
 * Visits facets of plane faces with the facets of curved ones that may pass through them.
 * @param planes facets of plane faces of `flat`
 * @param facets of `through`
 */
function throughPlanes(
  flat: FrontFacets,
  planes: readonly number[],
  through: FrontFacets,
  facets: readonly number[],
  { touch, toMachine }: Pick<Search, 'touch' | 'toMachine'>,
  visit: (plane: number, facet: number) => void,
): void {
  for (const [first] of byFace(flat, planes)) {
    const face = flat.faceOf(first);
    for (const facet of facets) {
      if (!passesThrough(through.numbers, facet, flat.numbers, first, touch)) continue;
      const [p, q] = passingPoints(through.numbers, facet, flat.numbers, first, touch);
      const box = grown(boxOfPoints([...p, ...q], toMachine), touch);
      for (const at of flat.within(box)[1]) if (flat.faceOf(at) === face) visit(at, facet);
    }
  }
}

/** Facets by the face that they are part of. */
function byFace(of: FrontFacets, facets: readonly number[]): number[][] {
  const faces = new Map<number, number[]>();
  for (const at of facets) {
    const all = faces.get(of.faceOf(at));
    if (all) all.push(at);
    else faces.set(of.faceOf(at), [at]);
  }
  return [...faces.values()];
}

/** Visits the facets of plane faces that have something in common: two such faces meet on one line, along which each has stretches. */
function planesInPlanes(
  one: FrontFacets,
  own: readonly number[],
  other: FrontFacets,
  others: readonly number[],
  touch: number,
  may: (at: number, index: number) => boolean,
  visit: (at: number, index: number) => void,
): void {
  const otherFaces = byFace(other, others);
  for (const face of byFace(one, own))
    for (const otherFace of otherFaces) {
      if (!may(face[0], otherFace[0])) continue;
      const way = cross(one.facet(face[0]).normal, other.facet(otherFace[0]).normal);
      const along = (of: FrontFacets, facets: readonly number[], by: FrontFacets, first: number) =>
        facets
          .filter((at) => passesThrough(of.numbers, at, by.numbers, first, touch))
          .map((at) => {
            const [p, q] = passingPoints(of.numbers, at, by.numbers, first, touch);
            const [low, high] = [dot(p, way), dot(q, way)];
            return { at, from: Math.min(low, high), to: Math.max(low, high) };
          })
          .sort((a, b) => a.from - b.from);
      const stretches = along(one, face, other, otherFace[0]);
      const counter = stretches.length === 0 ? [] : along(other, otherFace, one, face[0]);
      let start = 0;
      for (const { at, from, to } of stretches) {
        // Facets of one plane face do not lie on one another, so what ended before this one ended for good.
        while (start < counter.length && counter[start].to < from) start++;
        for (let next = start; next < counter.length && counter[next].from <= to; next++) visit(at, counter[next].at);
      }
    }
}

/** Tells, of two facets, whether their faces may cross; asked of the surfaces once for each two faces. */
function crossingFaces(one: FrontFacets, other: FrontFacets): (at: number, index: number) => boolean {
  const known = new Map<number, boolean>();
  const [surfaces, others] = [one.body.surfaces, other.body.surfaces];
  return (at, index) => {
    const [face, otherFace] = [one.faceOf(at), other.faceOf(index)];
    const key = face * others.length + otherFace;
    let may = known.get(key);
    if (may === undefined) known.set(key, (may = mayCross(surfaces[face], others[otherFace])));
    return may;
  };
}

/**
 * Whether faces on these surfaces may pass through one another at an angle: parallel planes never do, nor cylinders side by
 * side or one within the other.
 */
function mayCross(one: Surface | null, other: Surface | null): boolean {
  if (!one || !other || one.kind !== other.kind) return true;
  if (one.kind !== 'plane' && one.kind !== 'cylinder') return true;
  if (length(cross(one.axis, other.axis)) > LEAST_ANGLE) return true;
  if (one.kind === 'plane') return false;
  const apart = length(cross(subtract(other.origin, one.origin), one.axis));
  const [radius, otherRadius] = [one, other].map(({ profile: [n, , d = 0] }) => Math.abs(d / n));
  return apart < radius + otherRadius && apart > Math.abs(radius - otherRadius) + ON_AXIS * radius;
}
/** Axes this near are one; of the radius. */
const ON_AXIS = 1e-3;

/** Whether a facet has corners on both sides of another's plane. */
function passesThrough(of: Float64Array, at: number, by: Float64Array, index: number, touch: number): boolean {
  const n = index * NUMBERS + NORMAL;
  const [x, y, z, offset] = [by[n], by[n + 1], by[n + 2], by[n + 3]];
  let behind = 0;
  for (let c = at * NUMBERS; c < at * NUMBERS + 9; c += 3)
    if (x * of[c] + y * of[c + 1] + z * of[c + 2] - offset <= -touch) behind++;
  return behind > 0 && behind < 3;
}

/** Where two sides of a facet pass through another's plane, which it has corners on both sides of. */
function passingPoints(of: Float64Array, at: number, by: Float64Array, index: number, touch: number): [Vec3, Vec3] {
  const n = index * NUMBERS + NORMAL;
  const offOf = (c: number): number => {
    const off = by[n] * of[c] + by[n + 1] * of[c + 1] + by[n + 2] * of[c + 2] - by[n + 3];
    return off > -touch && off < touch ? 0 : off;
  };
  const first = at * NUMBERS;
  const points: Vec3[] = [];
  for (let side = 0; side < 3; side++) {
    const c = first + side * 3,
      d = first + ((side + 1) % 3) * 3;
    const [off, next] = [offOf(c), offOf(d)];
    if (off >= 0 === next >= 0) continue;
    const share = off / (off - next);
    points.push([
      of[c] + share * (of[d] - of[c]),
      of[c + 1] + share * (of[d + 1] - of[c + 1]),
      of[c + 2] + share * (of[d + 2] - of[c + 2]),
    ]);
  }
  return [points[0], points[1]];
}

/** Whether facets that pass through one another's planes have a stretch of the common line of these in common. */
function overlap(one: Float64Array, at: number, other: Float64Array, index: number, touch: number): boolean {
  const n = at * NUMBERS + NORMAL,
    m = index * NUMBERS + NORMAL;
  const x = one[n + 1] * other[m + 2] - one[n + 2] * other[m + 1],
    y = one[n + 2] * other[m] - one[n] * other[m + 2],
    z = one[n] * other[m + 1] - one[n + 1] * other[m];
  const [p, q] = passingPoints(one, at, other, index, touch),
    [r, s] = passingPoints(other, index, one, at, touch);
  const along = (point: Vec3) => x * point[0] + y * point[1] + z * point[2];
  const [a, b, c, d] = [along(p), along(q), along(r), along(s)];
  return Math.min(Math.max(a, b), Math.max(c, d)) - Math.max(Math.min(a, b), Math.min(c, d)) > touch * hypot(x, y, z);
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
  const [throughB, throughA] = [passings(a, b, touch), passings(b, a, touch)];
  const way = cross(a.normal, b.normal);
  if (length(way) < 1e-9) return null;
  const along = (passing: Passing) => dot(passing.point, way) / length(way);
  const [first, second] = [throughB, throughA].map(([p, q]) => (along(p) <= along(q) ? [p, q] : [q, p]));
  const from = along(first[0]) >= along(second[0]) ? first[0] : second[0];
  const to = along(first[1]) <= along(second[1]) ? first[1] : second[1];
  return along(to) - along(from) > touch ? { from, to, facets: [a, b] } : null;
}

/** Where two sides of a facet pass through another's plane; it has corners on both sides of that. */
function passings(of: Facet, { normal, offset }: Facet, touch: number): [Passing, Passing] {
  const off = of.corners.map((corner) => {
    const distance = dot(normal, corner) - offset;
    return distance > -touch && distance < touch ? 0 : distance;
  });
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
