import {
  cross,
  length,
  normalOf,
  ontoAll,
  ontoBoth,
  scale,
  signedDistance,
  subtract,
  type Surface,
  type Vec3,
} from '../../geometry/index.ts';
import { between, ownRegions, piecesFor, rootOf } from './candidates.ts';
import type { Crossing, Facet } from './frontFacets.ts';
import type { LineList } from './lists.ts';
import { EDGE_ON } from './placed.ts';
import { EDGE_FEATURE, edgesOfTriangles } from './topology.ts';

/** Kind of these lines; order as in `lineKinds`. */
const FEATURE = 0;
/** Surfaces that meet at less than this touch: a shaft in its bore, a roller on its track. Sine; for free-form faces by facets. */
export const LEAST_ANGLE = Math.sin((4 * Math.PI) / 180);
const LEAST_FREE_ANGLE = Math.sin((15 * Math.PI) / 180);

/** Where a stretch ends: a side of this facet passes through the other one. */
export interface Passing extends Crossing {
  readonly of: Facet;
}
/** What two facets have in common. */
export interface Stretch {
  readonly from: Passing;
  readonly to: Passing;
  readonly facets: readonly [Facet, Facet];
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

/**
 * One stretch, carried onto the surfaces of both faces, divided so that it follows their curve and where one turns away.
 * @param fine lines are divided until they stray from their curve by less; mm
 */
export function addMeeting(stretch: Stretch, fine: number, lines: LineList): void {
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
