import { pathKey, type PathKey } from '../assembly/index.ts';
import {
  applyToDirection,
  applyToPoint,
  boxDiagonal,
  cross,
  determinant,
  dot,
  faceSurfaces,
  length,
  meshBox,
  normalize,
  roundsOf,
  scale,
  subtract,
  type Mesh,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import type { Pose, PoseMove } from './records.ts';
import type { Part } from './units.ts';

/** Most pieces of the way of one thing; as the door takes them. */
export const MOST_STEPS = 20;

/**
 * The pose with things carried farther by so much. What has not moved yet leaves last.
 * @param further as a step of its own, so that the way is bent; else the last step becomes longer or turns
 */
export function carriedOn(pose: Pose, paths: readonly PathKey[], by: Vec3, further = false): Pose {
  if (by.every((value) => value === 0)) return pose;
  const known = new Map(pose.moves.map((move, at) => [move.path, at]));
  const moves = [...pose.moves];
  const back = new Set<PathKey>();
  for (const path of outermost(paths)) {
    const at = known.get(path);
    if (at === undefined) {
      moves.push({ path, steps: [by] });
      continue;
    }
    const { steps } = moves[at];
    const isNew = further && steps.length < MOST_STEPS;
    const last = steps[steps.length - 1];
    const next: Vec3 = [last[0] + by[0], last[1] + by[1], last[2] + by[2]];
    const stays = next.every((value) => Math.abs(value) < 1e-9);
    const changed = isNew ? [...steps, by] : [...steps.slice(0, -1), ...(stays ? [] : [next])];
    if (changed.length === 0) back.add(path);
    else moves[at] = { path, steps: changed };
  }
  return { ...pose, moves: moves.filter(({ path }) => !back.has(path)) };
}

/** Without what stands in another of them: that comes along anyway. */
function outermost(paths: readonly PathKey[]): PathKey[] {
  const all = new Set<string>(paths);
  return [...new Set(paths)].filter((path) => {
    for (let end = path.lastIndexOf('/'); end > 0; end = path.lastIndexOf('/', end - 1))
      if (all.has(path.slice(0, end))) return false;
    return true;
  });
}

/** The pose with things back on their seats. */
export function seated(pose: Pose, paths: readonly PathKey[]): Pose {
  const back = new Set(paths);
  return { ...pose, moves: pose.moves.filter(({ path }) => !back.has(path)) };
}

/** The pose in which one move comes earlier or later. */
export function reordered(pose: Pose, from: number, to: number): Pose {
  const move = pose.moves[from];
  const place = Math.max(0, Math.min(pose.moves.length - 1, to));
  return move && place !== from ? { ...pose, moves: pose.moves.toSpliced(from, 1).toSpliced(place, 0, move) } : pose;
}

/** Of the whole time, at least, in which one thing leaves: with many moves several are on their way at once. */
const LEAST_SHARE = 0.15;

/**
 * What has left its seat while a pose is played: one thing after the other, each along its steps.
 * @param share 0 assembled, 1 as the pose is
 */
export function playedTo(moves: readonly PoseMove[], share: number): readonly PoseMove[] {
  if (share >= 1) return moves;
  if (share <= 0) return [];
  const takes = Math.max(1 / moves.length, LEAST_SHARE);
  return moves.flatMap(({ path, steps }, at) => {
    const starts = moves.length === 1 ? 0 : (at / (moves.length - 1)) * (1 - takes);
    const done = Math.min(1, (share - starts) / takes);
    if (done <= 0) return [];
    const lengths = steps.map(length);
    let left = done * lengths.reduce((sum, one) => sum + one, 0);
    const gone: Vec3[] = [];
    for (let step = 0; step < steps.length && left > 0; left -= lengths[step++])
      gone.push(lengths[step] <= left ? steps[step] : scale(steps[step], left / lengths[step]));
    return gone.length > 0 ? [{ path, steps: gone }] : [];
  });
}

/**
 * The way that a face suggests: across a plane one, along the axis of a round one.
 * @param face index into the faces of the mesh
 * @returns unit vector in machine coordinates; null for free-form faces and balls
 */
export function wayOfFace(mesh: Mesh, placement: Placement, face: number): Vec3 | null {
  const surface = faceSurfaces(mesh)[face];
  if (!surface || surface.kind === 'sphere') return null;
  return normalize(applyToDirection(placement, surface.axis));
}

/** A way that a click on a thing suggests, and what it was clicked on. */
export interface ClickedWay {
  /** Unit vector in machine coordinates. */
  readonly along: Vec3;
  readonly of: 'face' | 'edge';
}

/** Edges that turn by less than this where they meet are one round edge, by less than the second one straight; cosines. */
const ROUND = Math.cos((35 * Math.PI) / 180),
  STRAIGHT = Math.cos((0.5 * Math.PI) / 180);

/**
 * The way that a click suggests: along a straight edge of the face where that is near, else what the face itself
 * suggests, see `wayOfFace`.
 * @param point where the face was clicked, in machine coordinates
 * @param reach how near an edge has to be; mm in the machine
 */
export function wayAt(mesh: Mesh, placement: Placement, face: number, point: Vec3, reach: number): ClickedWay | null {
  const edge = nearestStraightEdge(mesh, placement, face, point, reach);
  if (edge) return { along: edge, of: 'edge' };
  const along = face < 0 ? null : wayOfFace(mesh, placement, face);
  return along && { along, of: 'face' };
}

/** Along the border of a face, where it runs straight: a piece of an arc suggests nothing. */
function nearestStraightEdge(mesh: Mesh, placement: Placement, face: number, point: Vec3, reach: number): Vec3 | null {
  const { triangles, faceStarts } = mesh;
  if (face < 0) return null;
  const pairs = new Map<string, [number, number] | null>();
  for (let at = faceStarts[face] * 3; at < faceStarts[face + 1] * 3; at += 3)
    for (let side = 0; side < 3; side++) {
      const a = triangles[at + side],
        b = triangles[at + ((side + 1) % 3)];
      const name = a < b ? `${a} ${b}` : `${b} ${a}`;
      // What two triangles of the face share is no border of it.
      pairs.set(name, pairs.has(name) ? null : [a, b]);
    }
  const border = [...pairs.values()].filter((pair) => pair !== null);
  const { positions } = mesh;
  const at = (vertex: number): Vec3 =>
    applyToPoint(placement, [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]]);
  const wayOf = ([a, b]: readonly [number, number]): Vec3 => normalize(subtract(at(b), at(a)));
  let best: { readonly pair: readonly [number, number]; readonly off: number } | null = null;
  for (const pair of border) {
    const [a, b] = pair.map(at);
    const along = subtract(b, a);
    const size = dot(along, along);
    if (size === 0) continue;
    const share = Math.min(1, Math.max(0, dot(subtract(point, a), along) / size));
    const off = length(subtract(point, [a[0] + share * along[0], a[1] + share * along[1], a[2] + share * along[2]]));
    if (off <= reach && (!best || off < best.off)) best = { pair, off };
  }
  if (!best) return null;
  const { pair } = best;
  const way = wayOf(pair);
  const isBent = border.some((other) => {
    if (other === pair || !other.some((vertex) => pair.includes(vertex))) return false;
    const turn = Math.abs(dot(way, wayOf(other)));
    return turn > ROUND && turn < STRAIGHT;
  });
  return isBent ? null : way;
}

/** A round feature where it stands in the machine. */
interface Bore {
  readonly origin: Vec3;
  readonly axis: Vec3;
  /** Along the axis from the origin; mm. */
  readonly to: number;
  readonly radius: number;
}

/** How far from an axis, and how askew, is still on it: share of the radius. */
const ON_AXIS = 0.05;
const ASKEW = 0.01;
/** A fastener reaches no farther from the axis on which it stands than so many radii of its largest round: heads and nuts do. */
const SLENDER = 3;

/**
 * What is fastened to things, at the places beside them: pins and screws that stand in their holes, and the washers and
 * nuts on those, as far as they lie on one axis and touch or overlap along it. Found by shape alone, whatever they are
 * called.
 * @param parts everything with a shape
 * @param paths what is asked about, each with everything in it
 */
export function fastenedTo(parts: readonly Part[], paths: readonly PathKey[]): PathKey[] {
  const asked = new Set(parts.filter((part) => paths.some((path) => isUnder(pathKey(part.path), path))));
  if (asked.size === 0) return [];
  const size = ({ mesh, placement }: Part) => diagonalOf(mesh) * Math.cbrt(Math.abs(determinant(placement)));
  let largest = 0;
  for (const part of asked) largest = Math.max(largest, size(part));
  const others = parts
    .filter((part) => !asked.has(part) && size(part) < largest)
    .map((part) => ({ part, bores: boresOf(part) }))
    .filter(({ bores }) => bores.length > 0);
  const found = new Set<(typeof others)[number]>();
  let fronts = [...asked].map(boresOf);
  // From hole to screw, from screw to washer and nut.
  while (fronts.length > 0) {
    const next: Bore[][] = [];
    for (const other of others) {
      if (
        found.has(other) ||
        !fronts.some((bores) => bores.some((one) => other.bores.some((two) => onOneAxis(one, two))))
      )
        continue;
      if (!isSlender(other.part, other.bores)) continue;
      found.add(other);
      next.push(other.bores);
    }
    fronts = next;
  }
  return [...found].map(({ part }) => pathKey(part.path));
}

const isUnder = (path: PathKey, place: PathKey): boolean =>
  path === place || place === '' || path.startsWith(`${place}/`);

const diagonals = new WeakMap<Mesh, number>();
/** Of the box around a shape; asked for every place of it. */
function diagonalOf(mesh: Mesh): number {
  let known = diagonals.get(mesh);
  if (known === undefined) diagonals.set(mesh, (known = boxDiagonal(meshBox(mesh))));
  return known;
}

function boresOf({ mesh, placement }: Part): Bore[] {
  const factor = Math.cbrt(Math.abs(determinant(placement)));
  return roundsOf(mesh).flatMap(({ along, radius }) => {
    if (along.length !== 2) return [];
    const [from, to] = along.map((point) => applyToPoint(placement, point));
    const far = length(subtract(to, from));
    if (far === 0) return [];
    return [{ origin: from, axis: scale(subtract(to, from), 1 / far), to: far, radius: radius * factor }];
  });
}

function onOneAxis(one: Bore, other: Bore): boolean {
  if (length(cross(one.axis, other.axis)) > ASKEW) return false;
  const between = subtract(other.origin, one.origin);
  const off = length(cross(between, one.axis));
  if (off > ON_AXIS * Math.min(one.radius, other.radius)) return false;
  const along = dot(between, one.axis);
  const way = dot(other.axis, one.axis) > 0 ? 1 : -1;
  const [low, high] = [along, along + way * other.to].sort((a, b) => a - b);
  const touch = ON_AXIS * Math.min(one.radius, other.radius);
  return low <= one.to + touch && high >= -touch;
}

/** Whether a part is turned about the axis that it stands on: a bolt, a pin, a washer, not a plate with a hole. */
function isSlender({ mesh, placement }: Part, bores: readonly Bore[]): boolean {
  const { axis, origin, radius } = bores.reduce((best, one) => (one.radius > best.radius ? one : best));
  let far = 0;
  const p = mesh.positions;
  for (let at = 0; at < p.length; at += 3) {
    const from = subtract(applyToPoint(placement, [p[at], p[at + 1], p[at + 2]]), origin);
    far = Math.max(far, length(cross(from, axis)));
  }
  return far <= radius * SLENDER;
}
