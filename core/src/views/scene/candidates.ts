import {
  hypot,
  add,
  dot,
  isRuled,
  length,
  normalize,
  normalOf,
  ontoBoth,
  ontoSurface,
  radialBend,
  scale,
  subtract,
  type Surface,
  type Vec3,
} from '../../geometry/index.ts';
import type { Cover } from './cover.ts';
import type { LineList, OwnRegion, TriangleList } from './lists.ts';
import { EDGE_ON, type PlacedBody } from './placed.ts';
import type { Window } from './window.ts';
import { bulgeAlong, EDGE_FEATURE, EDGE_INNER, standsOut } from './topology.ts';

/** Kinds of a line in a view; order as in `lineKinds`. */
const FEATURE = 0,
  OUTLINE = 1,
  TANGENT = 2;

/** A facet's corner stands out of the next facet by the stray of both. */
const CLEAR = 2;
/** A curve is divided into at most this many pieces between two vertices. */
const MOST_PIECES = 8;
/** A curve that leaves its chord by more than this share of it is another one. */
const FARTHEST = 0.35;
/** A border may bulge this many times as far as the surface beside it does: one that leans to the border's plane. */
const MOST_OFF = 3;
const VIEWER: Vec3 = [0, 0, 1];

/** A point where a surface is seen edge-on, and its normal there. */
interface Grazing {
  readonly point: Vec3;
  readonly normal: Vec3;
}

/**
 * All lines of a body that may be seen: edges of its faces, divided where a curved face beside them turns away, and the
 * outlines of its curved faces. Where a face's surface is known, lines lie on that surface and outlines exactly where it
 * turns away; on free-form faces the normals between vertices are interpolated. So an outline does not jump from facet edge
 * to facet edge, and ends where the border of its face turns away.
 * Source: A. Hertzmann, "Introduction to 3D silhouette detection", SIGGRAPH course notes 1999 (outlines where the
 * interpolated normal is square to the view).
 * @param fine lines are divided until they stray from their curve by less; mm
 * @param cover what surely hides things, where only lines that can be seen are wanted
 * @param triangles what is added to it covers the strips between facets and the true outline or border
 * @param window what lies beside it is not wanted; null for everything
 */
export function candidateLines(
  body: PlacedBody,
  fine: number,
  cover: Cover | null,
  lines: LineList,
  triangles: TriangleList,
  window: Window | null = null,
): void {
  const { edges, points } = body;
  for (let edge = 0; edge < edges.kinds.length; edge++)
    if (
      edges.kinds[edge] !== EDGE_INNER &&
      !isAtStep(body, edge) &&
      (!window || isWithin(body, edge, window)) &&
      !(cover && isSurelyHidden(body, edge, cover))
    )
      addBorder(body, edge, fine, lines, triangles);
  const { triangles: corners } = body.body.mesh;
  for (let triangle = 0; triangle < edges.faceOf.length; triangle++) {
    const surface = body.surfaces[edges.faceOf[triangle]];
    if (surface?.kind === 'plane') continue;
    const [a, b, c] = [corners[triangle * 3], corners[triangle * 3 + 1], corners[triangle * 3 + 2]];
    const { normals } = body;
    const fronts = +(normals[a * 3 + 2] > EDGE_ON) + +(normals[b * 3 + 2] > EDGE_ON) + +(normals[c * 3 + 2] > EDGE_ON);
    if (fronts !== 1 && fronts !== 2) continue;
    const stray = MOST_OFF * edges.strays[edges.regionOf[edges.faceOf[triangle]]];
    if ((!window || window.meets(points, [a, b, c], stray)) && !cover?.hidesCorners(points, a, b, c, stray))
      addOutline(body, triangle, [a, b, c], fine, lines, triangles);
  }
}

export const pointAt = (values: Float64Array, at: number): Vec3 => [
  values[at * 3],
  values[at * 3 + 1],
  values[at * 3 + 2],
];
export const between = (a: Vec3, b: Vec3, t: number): Vec3 => add(a, scale(subtract(b, a), t));

/** Whether an edge is turned away all along, or lies wholly behind what surely hides it. */
function isSurelyHidden({ edges, normals, points }: PlacedBody, edge: number, cover: Cover): boolean {
  const { vertices } = edges;
  let away = edges.closed;
  for (let end = 0; away && end < 4; end++) {
    const vertex = vertices[edge * 4 + end];
    if (vertex >= 0 && !(normals[vertex * 3 + 2] < -EDGE_ON)) away = false;
  }
  return away || cover.hidesLine(points, vertices[edge * 4], vertices[edge * 4 + 1], MOST_OFF * edges.sagitta[edge]);
}

const isWithin = ({ edges: { vertices, sagitta }, points }: PlacedBody, edge: number, window: Window): boolean =>
  window.meets(points, [vertices[edge * 4], vertices[edge * 4 + 1]], MOST_OFF * sagitta[edge]);

/** Whether an edge bounds a step of a section. */
const isAtStep = ({ steps, edges }: PlacedBody, edge: number): boolean =>
  steps !== null &&
  [0, 1].some((side) => {
    const triangle = edges.triangles[edge * 2 + side];
    return triangle >= 0 && steps[edges.faceOf[triangle]] === 1;
  });

/** One side of an edge: its face, and its normal along the edge. */
interface Side {
  readonly surface: Surface | null;
  readonly region: number;
  readonly stray: number;
  readonly slot: number;
  readonly face: number;
  readonly triangle: number;
  /** Whether it turns from front to back along the edge. */
  readonly isCut: boolean;
  /** Between those of both ends. */
  readonly middleNormal: Vec3;
  readonly normalAt: (point: Vec3, t: number) => Vec3;
}

function sideOf(body: PlacedBody, edge: number, which: 0 | 1): Side | null {
  const { edges, normals, surfaces, firstRegion, slots } = body;
  const triangle = edges.triangles[edge * 2 + which];
  if (triangle < 0) return null;
  const face = edges.faceOf[triangle];
  const surface = surfaces[face];
  const [na, nb] = [0, 1].map((end) => pointAt(normals, edges.vertices[edge * 4 + which * 2 + end]));
  return {
    surface,
    face,
    triangle,
    region: firstRegion + edges.regionOf[face],
    stray: edges.strays[edges.regionOf[face]],
    slot: slots[triangle],
    isCut: na[2] * nb[2] < 0,
    middleNormal: normalize(add(na, nb)),
    normalAt: (point, t) => (surface ? normalOf(surface, point) : normalize(between(na, nb, t))),
  };
}

/** An edge between two faces (or of one): divided where a face turns away, and so that it follows its curve. */
function addBorder(body: PlacedBody, edge: number, fine: number, lines: LineList, triangles: TriangleList): void {
  const { edges, points } = body;
  const from = pointAt(points, edges.vertices[edge * 4]),
    to = pointAt(points, edges.vertices[edge * 4 + 1]);
  const sides = [sideOf(body, edge, 0), sideOf(body, edge, 1)].filter((side) => side !== null);
  const isFeature = edges.kinds[edge] === EDGE_FEATURE;
  // Almost all edges are straight enough as they are and turn away nowhere: no surface is asked then.
  const isPlain = sides.every(({ stray, isCut }) => stray === 0 || !isCut);
  if (isPlain && edges.sagitta[edge] * MOST_OFF < fine) {
    addPiece(body, edge, sides, from, to, 0.5, edges.sagitta[edge], null, lines);
    return;
  }
  const onCurve = curveOf(sides, from, to, isFeature);
  const cuts = [0, ...cutsOf(sides, onCurve), 1];
  const bulge = onCurve.follows ? length(subtract(onCurve.point(0.5), between(from, to, 0.5))) : edges.sagitta[edge];
  const pieces = onCurve.follows ? piecesFor(bulge, fine) : 1;
  for (let piece = 1; piece < pieces; piece++) cuts.push(piece / pieces);
  cuts.sort((a, b) => a - b);
  const at = cuts.map((t) => onCurve.point(t));
  for (let cut = 1; cut < cuts.length; cut++) {
    const t = (cuts[cut - 1] + cuts[cut]) / 2;
    if (cuts[cut] - cuts[cut - 1] < 1e-9) continue;
    addPiece(body, edge, sides, at[cut - 1], at[cut], t, bulge / (pieces * pieces), onCurve, lines);
  }
  if (isFeature && at.length > 2) coverBeside(body, sides, at, triangles);
}

/** One piece of an edge, between two points; `t` is its middle, 0..1 along the edge. */
function addPiece(
  body: PlacedBody,
  edge: number,
  sides: readonly Side[],
  from: Vec3,
  to: Vec3,
  t: number,
  sagitta: number,
  curve: Curve | null,
  lines: LineList,
): void {
  const normals = sides.map((side) => (curve ? side.normalAt(curve.point(t), t) : side.middleNormal));
  lines.add({
    from,
    to,
    kind: body.edges.kinds[edge] === EDGE_FEATURE ? FEATURE : TANGENT,
    body: body.index,
    sagitta,
    neighbours: [sides[0].slot, sides[1]?.slot ?? -1],
    turnedAway: body.edges.closed && normals.every((n) => n[2] < -EDGE_ON),
    isContour: normals.length < 2 || normals.some((n) => n[2] <= EDGE_ON),
    own: ownRegions(sides, normals),
  });
}

/** Regions whose facets stray, each with the step beside the line that is clear of them. */
export function ownRegions(sides: readonly Pick<Side, 'region' | 'stray'>[], normals: readonly Vec3[]): OwnRegion[] {
  const own: OwnRegion[] = [];
  sides.forEach(({ region, stray }, at) => {
    if (stray === 0 || own.some((one) => one.region === region)) return;
    own.push({ region, shift: [normals[at][0] * CLEAR * stray, normals[at][1] * CLEAR * stray] });
  });
  return own;
}

interface Curve {
  /** Whether points lie on the true curve and not just on the chord. */
  readonly follows: boolean;
  readonly point: (t: number) => Vec3;
}

/** The curve that an edge stands for: where the surfaces of both sides meet, as far as they are known. */
function curveOf(sides: readonly Side[], from: Vec3, to: Vec3, isFeature: boolean): Curve {
  const chord = (t: number) => between(from, to, t);
  const surfaces = sides.map(({ surface }) => surface);
  const curved = surfaces.filter((surface) => surface && surface.kind !== 'plane') as Surface[];
  if (curved.length === 0 || surfaces.some((surface) => surface === null)) return { follows: false, point: chord };
  const reach = FARTHEST * length(subtract(to, from));
  // Where two surfaces touch smoothly, one alone does not tell where along it they part; a ruled one does, on its rims.
  const [one, other] =
    isFeature && surfaces.length === 2 ? [surfaces[0]!, surfaces[1]!] : [curved.find(isRuled) ?? curved[0], null];
  if (!isFeature && (curved.length < surfaces.length || !isRuled(one))) return { follows: false, point: chord };
  return {
    follows: true,
    point: (t) => {
      if (t === 0 || t === 1) return t === 0 ? from : to;
      const start = chord(t);
      const found = other ? ontoBoth(one, other, start) : ontoSurface(one, start);
      return length(subtract(found, start)) <= reach ? found : start;
    },
  };
}

/** Where along the edge the faces beside it turn from front to back. */
function cutsOf(sides: readonly Side[], curve: Curve): number[] {
  return sides.flatMap((side) => {
    if (side.stray === 0 || !side.isCut) return [];
    const towards = (t: number) => side.normalAt(curve.point(t), t)[2];
    return [rootOf(towards)];
  });
}

const ROOT_WITHIN = 1e-12;
/**
 * Where the function changes sign between 0 and 1: by secants, every third step by halving so that a bent function does not
 * hold it up. Source: M. Dowell, P. Jarratt, "A modified regula falsi method", BIT 11 (1971), the Illinois step.
 */
export function rootOf(value: (t: number) => number): number {
  let low = 0,
    high = 1,
    atLow = value(0),
    atHigh = value(1);
  if (atLow > 0 === atHigh > 0) return 1;
  for (let step = 1; high - low > ROOT_WITHIN && step < 90; step++) {
    const share = step % 3 === 0 ? 0.5 : atLow / (atLow - atHigh);
    const t = low + share * (high - low);
    if (t <= low || t >= high) break;
    const here = value(t);
    if (here === 0) return t;
    if (here > 0 === atLow > 0) {
      low = t;
      atLow = here;
      atHigh /= 2;
    } else {
      high = t;
      atHigh = here;
      atLow /= 2;
    }
  }
  return (low + high) / 2;
}

/** A plane face bounded by a curve covers more than its facets where the curve bulges over their chord. */
function coverBeside(body: PlacedBody, sides: readonly Side[], at: readonly Vec3[], triangles: TriangleList): void {
  for (const side of sides) {
    if (side.surface?.kind !== 'plane' || side.slot < 0) continue;
    const corners = [0, 1, 2].map((corner) => body.body.mesh.triangles[side.triangle * 3 + corner]);
    const inside = corners.reduce<Vec3>(
      (sum, vertex) => add(sum, scale(pointAt(body.points, vertex), 1 / 3)),
      [0, 0, 0],
    );
    const [first, last] = [at[0], at[at.length - 1]];
    const sideOfChord = (p: Vec3) =>
      (last[0] - first[0]) * (p[1] - first[1]) - (last[1] - first[1]) * (p[0] - first[0]);
    if (sideOfChord(inside) * sideOfChord(at[at.length >> 1]) >= 0) continue;
    const like = { body: body.index, face: side.face, region: side.region, stray: 0 };
    for (let next = 2; next < at.length; next++) triangles.addEitherWay(first, at[next - 1], at[next], like);
  }
}

/** The outline inside one triangle of a curved face. */
function addOutline(
  body: PlacedBody,
  triangle: number,
  corners: readonly [number, number, number],
  fine: number,
  lines: LineList,
  triangles: TriangleList,
): void {
  const { edges, points, firstRegion, slots } = body;
  const face = edges.faceOf[triangle];
  const surface = body.surfaces[face];
  const isFront = corners.map((vertex) => body.normals[vertex * 3 + 2] > EDGE_ON);
  const ends: Grazing[] = [];
  const front: Vec3[] = []; // the corners of the front part, in order
  let outlineAt = 0;
  for (let at = 0; at < 3; at++) {
    const next = (at + 1) % 3;
    if (isFront[at]) front.push(pointAt(points, corners[at]));
    if (isFront[at] === isFront[next]) continue;
    if (isFront[at]) outlineAt = front.length;
    const [a, b] = isFront[at] ? [at, next] : [next, at];
    const found = grazingPoint(body, surface, corners[a], corners[b]);
    if (isFront[at]) ends.unshift(found);
    else ends.push(found);
  }
  const [start, end] = ends; // start where the round leaves the front part, end where it comes back
  const way = subtract(end.point, start.point);
  if (length(way) < 1e-12) return;
  const region = edges.regionOf[face];
  const stray = edges.strays[region];
  const chain = divide(surface, start, end, fine);
  const bends = edges.closed ? bendsAlong(body, surface, corners, chain) : null;
  for (let at = 1; at < chain.points.length; at++) {
    const [one, other] = [chain.points[at - 1], chain.points[at]];
    const beside = normalize(add(one.normal, other.normal));
    lines.add({
      from: one.point,
      to: other.point,
      kind: OUTLINE,
      body: body.index,
      sagitta: chain.sagitta,
      neighbours: [slots[triangle], -1],
      turnedAway: bends !== null && bends[at - 1] < 0,
      isContour: true,
      own: [{ region: firstRegion + region, shift: [beside[0] * CLEAR * stray, beside[1] * CLEAR * stray] }],
    });
  }
  if (bends?.some((bend) => bend < 0)) return;
  // The front part reaches to the true outline, a little further than its facets do.
  const round = front.toSpliced(outlineAt, 0, ...chain.points.map(({ point }) => point));
  const like = {
    body: body.index,
    face,
    region: firstRegion + region,
    stray: standsOut(points, body.normals, ...corners),
  };
  const hub = round.indexOf(front[0]);
  const turned = [...round.slice(hub), ...round.slice(0, hub)];
  for (let at = 2; at < turned.length; at++) triangles.addEitherWay(turned[0], turned[at - 1], turned[at], like);
}

/** Where the surface between a front vertex and one that is not turns away. */
function grazingPoint(body: PlacedBody, surface: Surface | null, front: number, other: number): Grazing {
  const { points, normals } = body;
  const a = pointAt(points, front),
    b = pointAt(points, other);
  const na = pointAt(normals, front),
    nb = pointAt(normals, other);
  if (nb[2] >= -EDGE_ON) return { point: b, normal: nb };
  if (surface) {
    const t = rootOf((s) => normalOf(surface, between(a, b, s))[2]);
    const point = ontoSurface(surface, between(a, b, t));
    return { point, normal: normalOf(surface, point) };
  }
  const t = na[2] / (na[2] - nb[2]);
  const normal = normalize(between(na, nb, t));
  // The surface stands above the chord like a parabola.
  const above = 4 * t * (1 - t) * bulgeAlong(points, normals, front, other);
  return { point: add(between(a, b, t), scale(normal, above)), normal };
}

/** A curve that stands so far from its chord is divided into so many pieces: the bulge falls with their square. */
export const piecesFor = (bulge: number, fine: number): number =>
  Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.sqrt(bulge / fine))));

interface Chain {
  readonly points: readonly Grazing[];
  /** How far the outline may stray from the pieces between them; mm. */
  readonly sagitta: number;
}

/**
 * The outline between two grazing points, divided so that it follows a surface that bends both ways, and at the cusp where
 * it stops being seen.
 */
function divide(surface: Surface | null, start: Grazing, end: Grazing, fine: number): Chain {
  const bulge = Math.abs(bulgeAlong([...start.point, ...end.point], [...start.normal, ...end.normal], 0, 1));
  if (!surface || isRuled(surface)) return { points: [start, end], sagitta: surface ? 0 : bulge };
  const pieces = piecesFor(bulge, fine);
  const reach = 2 * bulge + fine;
  const at = (t: number) => settle(surface, between(start.point, end.point, t), reach);
  const cuts = Array.from({ length: pieces - 1 }, (_, piece) => (piece + 1) / pieces);
  if (surface.kind === 'torus') {
    const bend = (t: number) => {
      const found = t === 0 ? start : t === 1 ? end : at(t);
      return found ? radialBend(surface, found.point, VIEWER) : 0;
    };
    if (bend(0) * bend(1) < 0) cuts.push(rootOf(bend));
  }
  const inner = cuts.sort((a, b) => a - b).flatMap((t) => at(t) ?? []);
  return { points: [start, ...inner, end], sagitta: bulge / pieces ** 2 };
}

/** The grazing point of the surface near a point, found by going along the view; null where there is none within reach. */
function settle(surface: Surface, start: Vec3, reach: number): Grazing | null {
  let point = ontoSurface(surface, start);
  for (let step = 0; step < 6; step++) {
    const towards = normalOf(surface, point)[2];
    if (Math.abs(towards) < 1e-7) break;
    const small = 1e-4 * surface.profile[1];
    const slope = (normalOf(surface, ontoSurface(surface, add(point, [0, 0, small])))[2] - towards) / small;
    if (slope === 0) return null;
    point = ontoSurface(surface, add(point, [0, 0, -towards / slope]));
  }
  if (!(hypot(point[0] - start[0], point[1] - start[1]) <= reach)) return null;
  const normal = normalOf(surface, point);
  return Math.abs(normal[2]) < 1e-4 ? { point, normal } : null;
}

/** See radialBend, for each piece of a chain; on a free-form face from how the normal turns over the triangle. */
function bendsAlong(
  { points, normals }: PlacedBody,
  surface: Surface | null,
  [a, b, c]: readonly [number, number, number],
  { points: chain }: Chain,
): number[] {
  if (surface)
    return chain.slice(1).map(({ point }, at) => {
      const middle = between(chain[at].point, point, 0.5);
      return radialBend(surface, settle(surface, middle, Infinity)?.point ?? ontoSurface(surface, middle), VIEWER);
    });
  const [p, q, r] = [a, b, c].map((vertex) => pointAt(points, vertex));
  const u = subtract(q, p),
    v = subtract(r, p);
  // The way in the triangle's plane that is nearest to the way to the viewer: least squares of α u + β v against it.
  const uu = dot(u, u),
    vv = dot(v, v),
    uv = dot(u, v);
  const det = uu * vv - uv * uv;
  if (det === 0) return chain.map(() => 1);
  const alpha = (u[2] * vv - v[2] * uv) / det,
    beta = (v[2] * uu - u[2] * uv) / det;
  const bend = alpha * (normals[b * 3 + 2] - normals[a * 3 + 2]) + beta * (normals[c * 3 + 2] - normals[a * 3 + 2]);
  return chain.map(() => bend);
}
