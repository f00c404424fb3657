import {
  add,
  boxDiagonal,
  dot,
  length,
  meshBox,
  normalize,
  ontoAll,
  planeSurface,
  scale,
  subtract,
  weldPoints,
  type Mesh,
  type Surface,
  type Vec3,
} from '../geometry/index.ts';
import type { HalfSpace } from './records.ts';

/** Places this near to a plane, as a share of the shape's extent, lie on it. */
const ON_SHARE = 1e-7;
/** Where a surface is met farther from the chord than this share of it, another part of it was found. */
const FARTHEST = 0.35;

/** Triangles while planes go through them: three vertices each, and the face that each is part of. */
export interface Triangles {
  readonly corners: number[];
  readonly faces: number[];
}
export const noTriangles = (): Triangles => ({ corners: [], faces: [] });

export function addTriangle(to: Triangles, a: number, b: number, c: number, face: number): void {
  to.corners.push(a, b, c);
  to.faces.push(face);
}

/** A border between two places of a plane, along which matter lies to the left seen from the side that is kept. */
export type Side = readonly [from: number, to: number];

/** One name for the stretch between two numbered things, whichever way. */
export const pairOf = (a: number, b: number): number => (a < b ? a * 67108864 + b : b * 67108864 + a);

/**
 * Vertices of a shape that planes go through. Vertices of several faces at one point are one *place*: what is cut is cut
 * at the same place for all of them, so that nothing gapes.
 */
export class Shell {
  /** x, y, z per place; mm. */
  readonly points: Vec3[] = [];
  /** Per vertex. */
  readonly placeOf: number[] = [];
  readonly normals: Vec3[] = [];
  /** Where an edge was divided, by the pair of its places. */
  readonly dividedAt = new Map<number, number>();
  readonly on: number;
  private readonly madeVertices = new Map<number, number>();
  private readonly joined: number[] = [];

  constructor(
    mesh: Mesh,
    private readonly surfaces: readonly (Surface | null)[],
  ) {
    const { positions, normals } = mesh;
    const extent = boxDiagonal(meshBox(mesh));
    this.on = Math.max(extent * ON_SHARE, 1e-9);
    const weld = weldPoints(positions, extent);
    const places = new Int32Array(weld.length);
    for (let vertex = 0; vertex < weld.length; vertex++) {
      const at = vertex * 3;
      places[vertex] =
        weld[vertex] === vertex
          ? this.points.push([positions[at], positions[at + 1], positions[at + 2]]) - 1
          : places[weld[vertex]];
      this.placeOf.push(places[vertex]);
      this.normals.push([normals[at], normals[at + 1], normals[at + 2]]);
    }
    for (const place of this.points.keys()) this.joined.push(place);
    const { triangles } = mesh;
    for (let at = 0; at < triangles.length; at += 3) {
      this.join(places[triangles[at]], places[triangles[at + 1]]);
      this.join(places[triangles[at]], places[triangles[at + 2]]);
    }
  }

  /** A number for the solid to which a place belongs: what hangs together by triangles and divided edges. */
  solidOf(place: number): number {
    let at = place;
    while (this.joined[at] !== at) at = this.joined[at] = this.joined[this.joined[at]];
    return at;
  }

  private join(one: number, other: number): void {
    this.joined[this.solidOf(one)] = this.solidOf(other);
  }

  addVertex(place: number, normal: Vec3): number {
    this.placeOf.push(place);
    return this.normals.push(normal) - 1;
  }

  /** The vertex at which the edge between two vertices of one face was divided; null where it was not. */
  dividing(a: number, b: number): number | null {
    const place = this.dividedAt.get(pairOf(this.placeOf[a], this.placeOf[b]));
    if (place === undefined) return null;
    if (place === this.placeOf[a]) return a;
    if (place === this.placeOf[b]) return b;
    const pair = pairOf(a, b);
    let vertex = this.madeVertices.get(pair);
    if (vertex === undefined) {
      const [p, q, r] = [this.placeOf[a], this.placeOf[b], place].map((one) => this.points[one]);
      const share = length(subtract(r, p)) / (length(subtract(q, p)) || 1);
      const between = add(scale(this.normals[a], 1 - share), scale(this.normals[b], share));
      this.madeVertices.set(pair, (vertex = this.addVertex(place, normalize(between))));
    }
    return vertex;
  }

  /**
   * Divides triangles by a plane.
   * @returns what lies on the side of the half space, what does not, and the borders of the section between them
   */
  divide(triangles: Triangles, half: HalfSpace): { within: Triangles; beyond: Triangles; sides: Side[] } {
    const off = this.offsets(triangles, half);
    const isWithin = this.signs(triangles, half, off);
    const within = noTriangles(),
      beyond = noTriangles();
    const cut: number[] = [];
    for (let at = 0; at < triangles.faces.length; at++) {
      const corners = triangles.corners.slice(at * 3, at * 3 + 3);
      const inside = corners.reduce((sum, vertex) => sum + isWithin[this.placeOf[vertex]], 0);
      if (inside > 0 && inside < 3) cut.push(at);
      else addTriangle(inside === 3 ? within : beyond, corners[0], corners[1], corners[2], triangles.faces[at]);
    }
    this.divideEdges(triangles, cut, half, off, isWithin);
    const sides: Side[] = [];
    for (const at of cut) this.divideTriangle(triangles, at, isWithin, within, beyond, sides);
    return { within, beyond, sides };
  }

  /** Distances of places from the plane, negative within the half space. */
  private offsets({ corners }: Triangles, { normal, offset }: HalfSpace): Float64Array {
    const off = new Float64Array(this.points.length);
    for (const vertex of corners) {
      const place = this.placeOf[vertex];
      off[place] = dot(this.points[place], normal) - offset;
    }
    return off;
  }

  /**
   * 1 for places within the half space. Those on the plane are beyond it, unless a face lies in the plane whose matter is
   * within: so a face that only touches the plane is not cut, and nothing without thickness is left.
   */
  private signs({ corners, faces }: Triangles, { normal }: HalfSpace, off: Float64Array): Uint8Array {
    const isWithin = Uint8Array.from(off, (value) => (value < -this.on ? 1 : 0));
    const isOn = (vertex: number) => Math.abs(off[this.placeOf[vertex]]) <= this.on;
    for (let at = 0; at < faces.length; at++) {
      const [a, b, c] = [corners[at * 3], corners[at * 3 + 1], corners[at * 3 + 2]];
      if (!isOn(a) || !isOn(b) || !isOn(c)) continue;
      if (dot(this.normals[a], normal) > 0) for (const vertex of [a, b, c]) isWithin[this.placeOf[vertex]] = 1;
    }
    return isWithin;
  }

  /** Finds where the plane divides the edges of these triangles: on the surfaces that meet there, where they are known. */
  private divideEdges(
    { corners, faces }: Triangles,
    cut: readonly number[],
    half: HalfSpace,
    off: Float64Array,
    isWithin: Uint8Array,
  ): void {
    const edges = new Map<number, { readonly from: number; readonly to: number; readonly faces: number[] }>();
    for (const at of cut)
      for (let side = 0; side < 3; side++) {
        const p = this.placeOf[corners[at * 3 + side]],
          q = this.placeOf[corners[at * 3 + ((side + 1) % 3)]];
        if (isWithin[p] === isWithin[q]) continue;
        const pair = pairOf(p, q);
        const known = edges.get(pair);
        if (known) known.faces.push(faces[at]);
        else edges.set(pair, { from: Math.min(p, q), to: Math.max(p, q), faces: [faces[at]] });
      }
    for (const [pair, { from, to, faces: beside }] of edges) {
      const [kept, taken] = isWithin[from] ? [to, from] : [from, to];
      if (Math.abs(off[kept]) <= this.on) this.dividedAt.set(pair, kept);
      else if (Math.abs(off[taken]) <= this.on) this.dividedAt.set(pair, taken);
      else {
        const place = this.points.push(this.meeting(from, to, off, half, beside)) - 1;
        this.joined.push(this.solidOf(from));
        this.dividedAt.set(pair, place);
      }
    }
  }

  private meeting(from: number, to: number, off: Float64Array, half: HalfSpace, beside: readonly number[]): Vec3 {
    const a = this.points[from],
      way = subtract(this.points[to], a);
    const start = add(a, scale(way, off[from] / (off[from] - off[to])));
    const known = [...new Set(beside)].map((face) => this.surfaces[face]);
    if (known.some((surface) => !surface) || known.every((surface) => surface!.kind === 'plane')) return start;
    const found = ontoAll([planeSurface(half.normal, half.offset), ...(known as Surface[]).slice(0, 2)], start);
    return found && length(subtract(found, start)) <= FARTHEST * length(way) ? found : start;
  }

  private divideTriangle(
    { corners, faces }: Triangles,
    at: number,
    isWithin: Uint8Array,
    within: Triangles,
    beyond: Triangles,
    sides: Side[],
  ): void {
    const of = corners.slice(at * 3, at * 3 + 3);
    const inside = of.map((vertex) => isWithin[this.placeOf[vertex]]);
    const alone = inside.findIndex((one, k) => one !== inside[(k + 1) % 3] && one !== inside[(k + 2) % 3]);
    const [a, b, c] = [of[alone], of[(alone + 1) % 3], of[(alone + 2) % 3]];
    const ab = this.dividing(a, b)!,
      ac = this.dividing(a, c)!;
    const [own, other] = inside[alone] ? [within, beyond] : [beyond, within];
    this.addSound(own, a, ab, ac, faces[at]);
    this.addSound(other, ab, b, c, faces[at]);
    this.addSound(other, ab, c, ac, faces[at]);
    const [p, q] = [this.placeOf[ab], this.placeOf[ac]];
    if (p !== q) sides.push(inside[alone] ? [q, p] : [p, q]);
  }

  /** Adds a triangle, unless two of its corners are one place. */
  private addSound(to: Triangles, a: number, b: number, c: number, face: number): void {
    const [p, q, r] = [this.placeOf[a], this.placeOf[b], this.placeOf[c]];
    if (p !== q && q !== r && r !== p) addTriangle(to, a, b, c, face);
  }

  /** A triangle in pieces that end wherever one of its edges was divided, as their neighbours do. */
  refined(a: number, b: number, c: number, visit: (a: number, b: number, c: number) => void): void {
    for (const [p, q, r] of [
      [a, b, c],
      [b, c, a],
      [c, a, b],
    ]) {
      const middle = this.dividing(p, q);
      if (middle === null || middle === p || middle === q) continue;
      this.refined(p, middle, r, visit);
      this.refined(middle, q, r, visit);
      return;
    }
    visit(a, b, c);
  }
}
