import { add, cross, dot, hypot, length, normalize, scale, subtract, type Vec3 } from '../geometry/index.ts';
import { MOST_CUTS } from './planes.ts';
import type { Cut, HalfSpace } from './records.ts';

/** A cutting line, and what is looked at along it; machine coordinates. */
export interface CutPath {
  /** Corners of the line, from end to end; mm. Two for a full section; more for one that steps, or ends in the middle. */
  readonly points: readonly Vec3[];
  /** Unit vector of the sight in which the line is a line: planes go along it. */
  readonly along: Vec3;
  /** Unit vector towards who looks at the section: matter on that side of the line is taken away. */
  readonly towards: Vec3;
  /**
   * Of three points: what is cut along the second stretch is turned into the plane across the sight, about the axis through
   * the middle point (ISO 128-3, section by two planes that meet).
   */
  readonly aligned?: true;
}

/** A cutting line has so many corners at most. */
export const MOST_CORNERS = 24;
/** Corners nearer than this are one; mm. */
const SAME = 1e-6;

/** A corner by how far along the line it lies, and how far towards the viewer. */
interface Place {
  readonly along: number;
  readonly near: number;
}

const acrossOf = ({ along, towards }: CutPath): Vec3 => cross(along, towards);

function placesOf(path: CutPath): Place[] {
  const across = acrossOf(path);
  const places = path.points.map((point): Place => ({ along: dot(point, across), near: dot(point, path.towards) }));
  return places[0].along <= places[places.length - 1].along ? places : places.reverse();
}

/** What is wrong with a cutting line, as a sentence; null where nothing is. */
export function pathFault(path: CutPath): string | null {
  const { points, along, towards } = path;
  if (points.length < 2) return 'A cutting line takes two points at least.';
  if (points.length > MOST_CORNERS) return `A cutting line takes ${MOST_CORNERS} points at most.`;
  const isUnit = (way: Vec3) => Math.abs(length(way) - 1) < 1e-3;
  if (!isUnit(along) || !isUnit(towards) || Math.abs(dot(along, towards)) > 1e-3)
    return 'A cutting line is looked at across the way in which its planes go.';
  const places = placesOf(path);
  const far = (one: Place, other: Place) => hypot(other.along - one.along, other.near - one.near);
  if (places.slice(1).some((place, at) => far(places[at], place) <= SAME))
    return 'Two points of the cutting line are one.';
  if (path.aligned) return alignedFault(path);
  if (places[places.length - 1].along - places[0].along <= SAME)
    return 'This cutting line runs straight towards who looks at it; draw it across.';
  if (places.slice(1).some((place, at) => place.along < places[at].along - SAME))
    return 'The cutting line turns back over itself; draw it from one side to the other.';
  return null;
}

/**
 * What a cutting line takes away, stretch by stretch: all that lies before it, beyond its ends too unless it turns straight
 * towards the viewer there, as that of a half section does. Stretches that run straight towards the viewer are steps.
 * @param path without fault
 */
export function cutsAlong(path: CutPath): Cut[] {
  const across = acrossOf(path);
  const places = placesOf(path);
  const isStep = (at: number) => places[at + 1].along - places[at].along <= SAME;
  const last = places.length - 2;
  const cuts: Cut[] = [];
  for (let at = 0; at <= last; at++) {
    if (isStep(at)) continue;
    const [from, to] = [places[at], places[at + 1]];
    const way = normalize(add(scale(across, to.along - from.along), scale(path.towards, to.near - from.near)));
    const beside = cross(way, path.along);
    const before = dot(beside, path.towards) > 0 ? beside : scale(beside, -1);
    const on = add(scale(across, from.along), scale(path.towards, from.near));
    const cut: HalfSpace[] = [{ normal: scale(before, -1), offset: -dot(before, on) }];
    if (at > 0) cut.push({ normal: scale(across, -1), offset: -from.along });
    if (at < last) cut.push({ normal: across, offset: to.along });
    cuts.push(cut);
  }
  return cuts.slice(0, MOST_CUTS);
}

/** Stretches that are turned into one plane meet at this angle at least, and do not lie on one another; radian. */
const LEAST_TURN = 0.005,
  MOST_TURN = Math.PI - 0.1;

function alignedFault(path: CutPath): string | null {
  if (path.points.length !== 3) return 'A section that is turned into one plane has a cutting line of two stretches.';
  const across = acrossOf(path);
  const first = subtract(path.points[1], path.points[0]);
  if (Math.abs(dot(first, across)) < 0.1 * length(first))
    return 'The first stretch of this cutting line runs towards who looks at it; draw it across.';
  return Math.abs(turnOf(path).by) > MOST_TURN
    ? 'The second stretch of the cutting line runs back over the first.'
    : null;
}

/** How the second stretch of an aligned section is turned. */
export interface AlignedTurn {
  /** A point of the axis; it runs along the sight in which the line is a line. */
  readonly about: Vec3;
  /** Anticlockwise against `along`; radian. */
  readonly by: number;
  /** Unit vector along the first stretch, away from its end, square to the sight: so the second one lies, turned. */
  readonly way: Vec3;
  /** Unit vector towards who looks at the second stretch, before it is turned. */
  readonly towards: Vec3;
}

function turnOf({ points, along, towards }: CutPath): AlignedTurn {
  const across = cross(along, towards);
  const flat = (way: Vec3): Vec3 => subtract(way, scale(along, dot(way, along)));
  const first = flat(subtract(points[1], points[0])),
    second = normalize(flat(subtract(points[2], points[1])));
  const way = dot(first, across) < 0 ? scale(across, -1) : across;
  const by = Math.atan2(dot(cross(second, way), along), dot(second, way));
  const back = add(scale(towards, Math.cos(by)), scale(cross(along, towards), -Math.sin(by)));
  return { about: points[1], by, way, towards: back };
}

/**
 * What an aligned section takes away: before its first stretch, and, where the machine is turned, before its second one.
 * Null for any other, and for one whose stretches are in one plane anyway.
 * @param path without fault
 */
export function alignedCuts(
  path: CutPath,
): { readonly first: Cut; readonly second: Cut; readonly turn: AlignedTurn } | null {
  if (!path.aligned) return null;
  const turn = turnOf(path);
  if (Math.abs(turn.by) < LEAST_TURN) return null;
  const [[first]] = [cutsAlong({ ...path, points: path.points.slice(0, 2) })];
  const second: Cut = [{ normal: scale(turn.towards, -1), offset: -dot(turn.towards, turn.about) }];
  return { first, second, turn };
}
