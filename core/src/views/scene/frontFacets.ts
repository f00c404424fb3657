import Flatbush from 'flatbush';
import { hypot, type Box3, type Placement, type Vec3 } from '../../geometry/index.ts';
import type { Cover } from './cover.ts';
import { EDGE_ON, type PlacedBody } from './placed.ts';
import type { Window } from './window.ts';

/** From so many triangles on those near another body are looked up in a tree. */
const FEW = 24;

/** Which triangles of a scene are looked at, and how they are found. */
export interface FacetSearch {
  readonly cover: Cover | null;
  readonly window: Window | null;
  /** View to machine coordinates: most machines stand square in those, so that boxes around their facets are narrow. */
  readonly toMachine: Placement;
}

/** @param points x, y, z each */
export function boxOfPoints(points: ArrayLike<number>, m: Placement): Box3 {
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

export const grown = ([x0, y0, z0, x1, y1, z1]: Box3, by: number): Box3 => [
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
export class FrontFacets {
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
    search: FacetSearch,
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
    return { body: this.body, triangle: this.all[at], normal: this.normalOf(at) };
  }

  /** Of its plane, either way out. */
  normalOf(at: number): Vec3 {
    const n = at * NUMBERS + NORMAL;
    return [this.numbers[n], this.numbers[n + 1], this.numbers[n + 2]];
  }
}

function frontTriangles(body: PlacedBody, { cover, window }: FacetSearch): number[] {
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

/** A triangle of a body. */
export interface Facet {
  readonly body: PlacedBody;
  readonly triangle: number;
  /** Of its plane; either way out. */
  readonly normal: Vec3;
}

/** Facets by the face that they are part of. */
export function byFace(of: FrontFacets, facets: readonly number[]): number[][] {
  const faces = new Map<number, number[]>();
  for (const at of facets) {
    const all = faces.get(of.faceOf(at));
    if (all) all.push(at);
    else faces.set(of.faceOf(at), [at]);
  }
  return [...faces.values()];
}

/** Whether a facet has corners on both sides of another's plane. */
export function passesThrough(
  { numbers: of }: FrontFacets,
  at: number,
  { numbers: by }: FrontFacets,
  index: number,
  touch: number,
): boolean {
  const n = index * NUMBERS + NORMAL;
  const [x, y, z, offset] = [by[n], by[n + 1], by[n + 2], by[n + 3]];
  let behind = 0;
  for (let c = at * NUMBERS; c < at * NUMBERS + 9; c += 3)
    if (x * of[c] + y * of[c + 1] + z * of[c + 2] - offset <= -touch) behind++;
  return behind > 0 && behind < 3;
}

/** Where a side of a facet passes through the plane of another. */
export interface Crossing {
  readonly point: Vec3;
  /** From this corner of the facet to the next. */
  readonly side: number;
}

/** Where two sides of a facet pass through another's plane, which it has corners on both sides of. */
export function crossings(
  { numbers: of }: FrontFacets,
  at: number,
  { numbers: by }: FrontFacets,
  index: number,
  touch: number,
): [Crossing, Crossing] {
  const n = index * NUMBERS + NORMAL;
  const offOf = (c: number): number => {
    const off = by[n] * of[c] + by[n + 1] * of[c + 1] + by[n + 2] * of[c + 2] - by[n + 3];
    return off > -touch && off < touch ? 0 : off;
  };
  const first = at * NUMBERS;
  const found: Crossing[] = [];
  for (let side = 0; side < 3; side++) {
    const c = first + side * 3,
      d = first + ((side + 1) % 3) * 3;
    const [off, next] = [offOf(c), offOf(d)];
    if (off >= 0 === next >= 0) continue;
    const share = off / (off - next);
    const point: Vec3 = [
      of[c] + share * (of[d] - of[c]),
      of[c + 1] + share * (of[d + 1] - of[c + 1]),
      of[c + 2] + share * (of[d + 2] - of[c + 2]),
    ];
    found.push({ point, side });
  }
  return [found[0], found[1]];
}
