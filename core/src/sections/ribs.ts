import {
  applyToPoint,
  commonBox,
  cross,
  dot,
  faceSurfaces,
  length,
  meshBox,
  scale,
  subtract,
  type Box3,
  type Mesh,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import type { Cut } from './records.ts';

interface Standing {
  readonly mesh: Mesh;
  readonly placement: Placement;
}

/** A plane face where it stands in the machine. */
interface PlaneFace {
  /** Unit vector out of the matter. */
  readonly normal: Vec3;
  /** Along the normal, from the origin; mm. */
  readonly offset: number;
  readonly area: number;
  readonly box: Box3;
}

/** A flat part: two large faces, and narrow ones square to them. */
interface Plate {
  readonly large: readonly [PlaneFace, PlaneFace];
  readonly narrow: readonly PlaneFace[];
  readonly thickness: number;
}

/** Directions this near are one, or square; sine. */
const STRAIGHT = 0.02;
/** A plate is at most so thick, as a share of the root of its area; its two sides differ by at most so much. */
const THICKEST = 0.25,
  UNLIKE = 0.1;
/** Faces this near touch; mm. */
const TOUCH = 0.2;
/** What covers more than this share of a large face stands on it: then that is a base or a lid. */
const COVERED = 0.2;

/**
 * Ribs and gussets, which are not cut along their plane (ISO 128-3): plates that the plane of every cut runs through from edge to
 * edge, that stand with two narrow faces in a corner of what they stiffen, and on whose large faces nothing else stands.
 * @param cuts in machine coordinates
 * @returns indices of bodies
 */
export function ribsAlong(bodies: readonly Standing[], cuts: readonly Cut[]): Set<number> {
  const faces = bodies.map(() => null as readonly PlaneFace[] | null);
  const facesOf = (at: number): readonly PlaneFace[] => (faces[at] ??= planeFaces(bodies[at]));
  const boxes = bodies.map(() => null as Box3 | null);
  const boxOf = (at: number): Box3 => (boxes[at] ??= grown(meshBox(bodies[at].mesh, bodies[at].placement)));
  const found = new Set<number>();
  for (const [at, { mesh, placement }] of bodies.entries()) {
    if (!mayBePlate(mesh)) continue;
    const plate = plateOf(mesh, placement, facesOf(at));
    if (!plate || !cuts.every((cut) => runsThrough(plate, cut))) continue;
    const own = boxOf(at);
    const near = bodies.flatMap((_, other) => (other !== at && meets(own, boxOf(other)) ? facesOf(other) : []));
    const stands = plate.narrow.filter((face) => near.some((other) => touched(face, other) > 0));
    const isInCorner = stands.some((one) => stands.some((other) => length(cross(one.normal, other.normal)) > 0.5));
    const isCovered = plate.large.some(
      (face) => near.reduce((sum, other) => sum + touched(face, other), 0) > COVERED * face.area,
    );
    if (isInCorner && !isCovered) found.add(at);
  }
  return found;
}

const plates = new WeakMap<Mesh, boolean>();
/** Whether a shape has two large faces and is thin between them; found once per shape. */
function mayBePlate(mesh: Mesh): boolean {
  let known = plates.get(mesh);
  if (known === undefined) {
    const identity: Placement = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
    plates.set(mesh, (known = plateOf(mesh, identity, planeFaces({ mesh, placement: identity })) !== null));
  }
  return known;
}

function planeFaces({ mesh, placement }: Standing): PlaneFace[] {
  const { positions: p, triangles, faceStarts } = mesh;
  const at = (vertex: number): Vec3 => applyToPoint(placement, [p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]]);
  return faceSurfaces(mesh).flatMap((surface, face): PlaneFace[] => {
    if (surface?.kind !== 'plane') return [];
    let sum: Vec3 = [0, 0, 0];
    const box: [number, number, number, number, number, number] = [
      Infinity,
      Infinity,
      Infinity,
      -Infinity,
      -Infinity,
      -Infinity,
    ];
    let last: Vec3 = [0, 0, 0];
    for (let corner = faceStarts[face] * 3; corner < faceStarts[face + 1] * 3; corner += 3) {
      const [a, b, c] = [0, 1, 2].map((next) => at(triangles[corner + next]));
      const square = cross(subtract(b, a), subtract(c, a));
      sum = [sum[0] + square[0], sum[1] + square[1], sum[2] + square[2]];
      for (const point of [a, b, c])
        for (let axis = 0; axis < 3; axis++) {
          box[axis] = Math.min(box[axis], point[axis]);
          box[axis + 3] = Math.max(box[axis + 3], point[axis]);
        }
      last = a;
    }
    const twice = length(sum);
    if (twice === 0) return [];
    // A mirrored shape would be inside out.
    const normal = scale(sum, (isMirrored(placement) ? -1 : 1) / twice);
    return [{ normal, offset: dot(normal, last), area: twice / 2, box }];
  });
}

const isMirrored = (m: Placement): boolean =>
  dot([m[0], m[4], m[8]], cross([m[1], m[5], m[9]], [m[2], m[6], m[10]])) < 0;

function plateOf(mesh: Mesh, placement: Placement, faces: readonly PlaneFace[]): Plate | null {
  if (faces.length < 5) return null;
  const [one] = faces.toSorted((a, b) => b.area - a.area);
  const other = faces.find(
    (face) => dot(face.normal, one.normal) < STRAIGHT - 1 && Math.abs(face.area / one.area - 1) < UNLIKE,
  );
  if (!other) return null;
  const thickness = one.offset + other.offset;
  const narrow = faces.filter((face) => face !== one && face !== other);
  const isPlate =
    thickness > 0 &&
    thickness < THICKEST * Math.sqrt(one.area) &&
    narrow.every((face) => Math.abs(dot(face.normal, one.normal)) < STRAIGHT) &&
    meshBox(mesh, placement).every(Number.isFinite);
  return isPlate ? { large: [one, other], narrow, thickness } : null;
}

/** Whether a cut has a plane between the large faces, along them. */
const runsThrough = ({ large: [one, other], thickness }: Plate, cut: Cut): boolean =>
  cut.some(({ normal, offset }) => {
    const along = dot(normal, one.normal);
    if (Math.abs(along) < 1 - STRAIGHT) return false;
    const middle = (one.offset - other.offset) / 2;
    return Math.abs(middle - Math.sign(along) * offset) < 0.5 * thickness - 1e-6;
  });

const grown = (box: Box3): Box3 => box.map((value, at) => value + (at < 3 ? -TOUCH : TOUCH)) as unknown as Box3;
const meets = (one: Box3, other: Box3): boolean =>
  [0, 1, 2].every((axis) => one[axis] <= other[axis + 3] && one[axis + 3] >= other[axis]);

/** About how much of a face lies on one of another part; mm². */
function touched(face: PlaneFace, other: PlaneFace): number {
  if (dot(face.normal, other.normal) > STRAIGHT - 1 || Math.abs(face.offset + other.offset) > TOUCH) return 0;
  const common = commonBox(grown(face.box), grown(other.box));
  const sizes = [0, 1, 2].map((axis) => Math.max(0, common[axis + 3] - common[axis])).sort((a, b) => b - a);
  return sizes[0] * sizes[1];
}
