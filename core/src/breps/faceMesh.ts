import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import { cross, dot, hypot, subtract, type Vec2, type Vec3 } from '../geometry/index.ts';
import type { Chart } from './charts.ts';
import type { Outline, Points } from './outlines.ts';
import { NotElementary, type Fineness } from './records.ts';

/** Facets of one face. */
export interface FaceMesh {
  /** Index of the point of the shape per vertex. */
  readonly points: readonly number[];
  /** Place on the map per vertex. */
  readonly places: readonly Vec2[];
  /** Three vertices per facet, turning to the left on the map. */
  readonly triangles: readonly number[];
}

/** Rounds in which facets that are too coarse get a point more. */
const MOST_ROUNDS = 12;
/** Corners and inner points of one face. */
const MOST_VERTICES = 200_000;
/** Facets may be coarser than edges by this factor before they are cut again. */
const SLACK = 1.5;

/**
 * Cuts what lies within the outlines into facets: the Delaunay triangulation of their corners that has all their sides,
 * with inner points where the surface bends both ways or a facet would stray too far from it. Sources: L. P. Chew,
 * "Constrained Delaunay triangulations" (1989); inside is told by how many sides lie between there and the outside.
 * @throws NotElementary where outlines cross
 */
export function meshFace(outlines: readonly Outline[], chart: Chart, fineness: Fineness, points: Points): FaceMesh {
  const corners = new Corners(outlines);
  const { places, indices, sides } = corners;
  const bends = chart.steps.some(Number.isFinite);
  if (chart.steps.every(Number.isFinite)) for (const place of latticeWithin(corners, chart)) add(place);
  function add(place: Vec2): void {
    places.push(place);
    indices.push(points.add(chart.point(place)));
  }
  for (let round = 0; ; round++) {
    if (places.length > MOST_VERTICES) throw new NotElementary('a face of too many facets');
    const cut = triangulate(places, sides);
    const coarse = bends && round < MOST_ROUNDS ? coarseSides(cut, places, indices, chart, fineness, points) : [];
    if (coarse.length === 0) return { points: indices, places, triangles: cut.triangles };
    for (const place of coarse) add(place);
  }
}

/**
 * Places are rounded to this share of a face's extent: a border that is level or upright on the map but for round-off is so
 * exactly, and encloses no slivers with its neighbours.
 */
const GRAIN_SHARE = 1e-9;

/** The corners of all outlines, each once, and the sides between them. */
class Corners {
  readonly places: Vec2[] = [];
  readonly indices: number[] = [];
  /** Two corners per side. Sides that outlines go along twice bound nothing and are there twice. */
  readonly sides: [number, number][] = [];
  private readonly known = new Map<number, number[]>();
  private readonly grain: number;

  constructor(outlines: readonly Outline[]) {
    const all = outlines.flatMap((outline) => outline.map(({ place }) => place));
    const [width, height] = [0, 1].map((axis) => {
      const values = all.map((place) => place[axis]);
      return values.reduce((a, b) => Math.max(a, b), -Infinity) - values.reduce((a, b) => Math.min(a, b), Infinity);
    });
    this.grain = GRAIN_SHARE * hypot(width, height) || 1;
    for (const outline of outlines) {
      const own = outline.map(({ place, point }) => this.corner(place, point));
      own.forEach((corner, at) => {
        const next = own[(at + 1) % own.length];
        if (corner !== next) this.sides.push([corner, next]);
      });
    }
  }

  private corner([x, y]: Vec2, point: number): number {
    const place: Vec2 = [Math.round(x / this.grain) * this.grain, Math.round(y / this.grain) * this.grain];
    let same = this.known.get(point);
    if (!same) this.known.set(point, (same = []));
    const found = same.find((at) => this.places[at][0] === place[0] && this.places[at][1] === place[1]);
    if (found !== undefined) return found;
    same.push(this.places.length);
    this.indices.push(point);
    return this.places.push(place) - 1;
  }
}

interface Cut {
  readonly triangles: number[];
  /** Sides between two facets of the face that are no borders: two vertices each. */
  readonly inner: readonly [number, number][];
}

/**
 * Cuts what lies within these sides into triangles that turn to the left; inside is told by how many sides lie between
 * there and the outside.
 * @param places no two at one place
 * @param sides two places each, from border to border
 * @throws NotElementary where sides cross
 */
export const trianglesWithin = (places: readonly Vec2[], sides: readonly (readonly [number, number])[]): number[] =>
  triangulate(places, sides).triangles;

function triangulate(places: readonly Vec2[], sides: readonly (readonly [number, number])[]): Cut {
  const flat = new Float64Array(places.length * 2 + 8);
  places.forEach((place, at) => flat.set(place, at * 2));
  // Four points far around, so that no border runs along the rim of the triangulation.
  flat.set(frameAround(places), places.length * 2);
  const mesh = new Delaunator(flat);
  const borders = new Map<number, number>();
  const pair = (a: number, b: number): number => (a < b ? a * 4294967296 + b : b * 4294967296 + a);
  for (const [a, b] of sides) borders.set(pair(a, b), (borders.get(pair(a, b)) ?? 0) + 1);
  try {
    new Constrainautor(mesh, sides as [number, number][]);
  } catch (error) {
    throw new NotElementary(`outlines that cross (${error instanceof Error ? error.message : String(error)})`);
  }
  const { triangles, halfedges } = mesh;
  const odd = (edge: number): number => (borders.get(pair(triangles[edge], triangles[next(edge)])) ?? 0) % 2;
  const within = new Int8Array(triangles.length / 3).fill(-1);
  const waiting: number[] = [];
  for (let edge = 0; edge < triangles.length; edge++) {
    if (halfedges[edge] >= 0 || within[third(edge)] >= 0) continue;
    within[third(edge)] = odd(edge);
    waiting.push(third(edge));
    while (waiting.length > 0) {
      const triangle = waiting.pop()!;
      for (let own = triangle * 3; own < triangle * 3 + 3; own++) {
        const other = halfedges[own];
        if (other < 0 || within[third(other)] >= 0) continue;
        within[third(other)] = within[triangle] ^ odd(own);
        waiting.push(third(other));
      }
    }
  }
  const kept: number[] = [],
    inner: [number, number][] = [];
  for (let edge = 0; edge < triangles.length; edge++) {
    if (within[third(edge)] !== 1) continue;
    kept.push(triangles[edge]);
    if (edge < halfedges[edge] && !borders.has(pair(triangles[edge], triangles[next(edge)])))
      inner.push([triangles[edge], triangles[next(edge)]]);
  }
  return { triangles: turnedLeft(kept, places), inner };
}

function frameAround(places: readonly Vec2[]): number[] {
  const [low, high] = [Math.min, Math.max].map((pick) =>
    [0, 1].map((axis) => places.reduce((most, place) => pick(most, place[axis]), places[0][axis])),
  );
  const far = Math.max(high[0] - low[0], high[1] - low[1], 1e-9);
  const [left, bottom, right, top] = [low[0] - far, low[1] - far, high[0] + far, high[1] + far];
  return [left, bottom, right, bottom, right, top, left, top];
}

const third = (edge: number): number => Math.floor(edge / 3);
const next = (edge: number): number => (edge % 3 === 2 ? edge - 2 : edge + 1);

function turnedLeft(triangles: number[], places: readonly Vec2[]): number[] {
  for (let at = 0; at < triangles.length; at += 3) {
    const [a, b, c] = [places[triangles[at]], places[triangles[at + 1]], places[triangles[at + 2]]];
    if ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) < 0)
      [triangles[at + 1], triangles[at + 2]] = [triangles[at + 2], triangles[at + 1]];
  }
  return triangles;
}

/** Middles of sides along which the surface strays too far from the facets or turns too much. */
function coarseSides(
  { inner }: Cut,
  places: readonly Vec2[],
  indices: readonly number[],
  chart: Chart,
  { deflection, angle }: Fineness,
  points: Points,
): Vec2[] {
  const least = Math.cos(Math.min(angle * SLACK, Math.PI / 2));
  // Beside a border that is coarser than that, cutting would never end.
  const shortest = Math.min(...chart.steps) / 4;
  return inner.flatMap(([a, b]): Vec2[] => {
    const way = [places[b][0] - places[a][0], places[b][1] - places[a][1]];
    if (indices[a] === indices[b] || hypot(way[0], way[1]) < shortest) return [];
    const middle: Vec2 = [(places[a][0] + places[b][0]) / 2, (places[a][1] + places[b][1]) / 2];
    const turns = dot(chart.normal(places[a]), chart.normal(places[b])) < least;
    return turns || strays(points.at(indices[a]), points.at(indices[b]), chart.point(middle), deflection * SLACK)
      ? [middle]
      : [];
  });
}

function strays(a: Vec3, b: Vec3, middle: Vec3, most: number): boolean {
  const chord = subtract(b, a);
  const off = cross(chord, subtract(middle, a));
  return dot(off, off) > most * most * dot(chord, chord);
}

/** Inner points of a lattice as wide as the map's steps, none near the border. */
function latticeWithin({ places, sides }: Corners, { steps }: Chart): Vec2[] {
  const low = [0, 1].map((axis) => places.reduce((least, place) => Math.min(least, place[axis]), Infinity));
  const high = [0, 1].map((axis) => places.reduce((most, place) => Math.max(most, place[axis]), -Infinity));
  const counts = [0, 1].map((axis) => Math.max(1, Math.ceil((high[axis] - low[axis]) / steps[axis] - 1e-6)));
  if (counts[0] * counts[1] > MOST_VERTICES) throw new NotElementary('a face of too many facets');
  const wide = [0, 1].map((axis) => (high[axis] - low[axis]) / counts[axis]);
  const taken = new Set<number>();
  const cell = (place: Vec2): [number, number] =>
    [0, 1].map((axis) => Math.round((place[axis] - low[axis]) / wide[axis])) as [number, number];
  // A knot of the lattice whose square a border runs through is left out.
  for (const [a, b] of sides) {
    const length = Math.max(...[0, 1].map((axis) => Math.abs(places[a][axis] - places[b][axis]) / wide[axis]));
    const stops = Math.max(1, Math.ceil(length * 4));
    for (let stop = 0; stop <= stops; stop++) {
      const share = stop / stops;
      const [column, row] = cell([
        places[a][0] + (places[b][0] - places[a][0]) * share,
        places[a][1] + (places[b][1] - places[a][1]) * share,
      ]);
      taken.add(row * (counts[0] + 1) + column);
    }
  }
  const found: Vec2[] = [];
  for (let row = 1; row < counts[1]; row++) {
    const crossings = crossingsAt(low[1] + row * wide[1], places, sides);
    let at = 0;
    for (let column = 1; column < counts[0]; column++) {
      const x = low[0] + column * wide[0];
      while (at < crossings.length && crossings[at] < x) at++;
      if (at % 2 === 1 && !taken.has(row * (counts[0] + 1) + column)) found.push([x, low[1] + row * wide[1]]);
    }
  }
  return found;
}

/** Where the borders cross a level line of the map, from left to right. */
function crossingsAt(y: number, places: readonly Vec2[], sides: readonly [number, number][]): number[] {
  const found: number[] = [];
  for (const [one, other] of sides) {
    const [a, b] = [places[one], places[other]];
    if (a[1] > y !== b[1] > y) found.push(a[0] + ((y - a[1]) / (b[1] - a[1])) * (b[0] - a[0]));
  }
  return found.sort((one, other) => one - other);
}
