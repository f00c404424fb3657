import {
  add,
  applyToDirection,
  applyToPoint,
  commonBox,
  cross,
  determinant,
  dot,
  faceSurfaces,
  identityPlacement,
  length,
  meshBox,
  scale,
  subtract,
  type Box3,
  type Mesh,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import type { Cut, Standing } from './records.ts';

/** A plane face where it stands in the machine. */
interface PlaneFace {
  /** Unit vector out of the matter. */
  readonly normal: Vec3;
  /** Along the normal, from the origin; mm. */
  readonly offset: number;
  readonly area: number;
  readonly box: Box3;
}

/** A flat part: two large faces, narrow ones square to them; coordinates of the shape, mm. */
interface Plate {
  /** Of the first large face. */
  readonly normal: Vec3;
  /** A point half way between the large faces. */
  readonly middle: Vec3;
  readonly thickness: number;
  /** Places of the large faces among the plane ones. */
  readonly large: readonly [number, number];
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
  const faces = new Map<number, readonly PlaneFace[]>();
  const facesOf = (at: number): readonly PlaneFace[] => {
    const known = faces.get(at) ?? planeFaces(bodies[at]);
    faces.set(at, known);
    return known;
  };
  const along = bodies.flatMap(({ mesh, placement }, at) => {
    const plate = plateOf(mesh);
    return plate && cuts.every((cut) => runsThrough(plate, placement, cut)) ? [{ at, plate }] : [];
  });
  // Few plates lie in the plane of a cut; only for them it is asked what they stand on.
  const boxes = along.length > 0 ? bodies.map(({ mesh, placement }) => grown(meshBox(mesh, placement))) : [];
  const isRib = ({ at, plate: { large } }: (typeof along)[number]): boolean => {
    const near = bodies.flatMap((_, other) => (other !== at && meets(boxes[at], boxes[other]) ? facesOf(other) : []));
    const stands = facesOf(at).filter(
      (face, one) => !large.includes(one) && near.some((other) => touched(face, other) > 0),
    );
    const isInCorner = stands.some((one) => stands.some((other) => length(cross(one.normal, other.normal)) > 0.5));
    const isCovered = large.some((one) => {
      const face = facesOf(at)[one];
      return near.reduce((sum, other) => sum + touched(face, other), 0) > COVERED * face.area;
    });
    return isInCorner && !isCovered;
  };
  return new Set(along.filter(isRib).map(({ at }) => at));
}

function planeFaces({ mesh, placement }: Standing): PlaneFace[] {
  const { positions: p, triangles, faceStarts } = mesh;
  const at = (vertex: number): Vec3 => applyToPoint(placement, [p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]]);
  return faceSurfaces(mesh).flatMap((surface, face): PlaneFace[] => {
    if (surface?.kind !== 'plane') return [];
    const points = Array.from(triangles.subarray(faceStarts[face] * 3, faceStarts[face + 1] * 3), at);
    let sum: Vec3 = [0, 0, 0];
    for (let corner = 0; corner < points.length; corner += 3) {
      const [a, b, c] = points.slice(corner, corner + 3);
      sum = add(sum, cross(subtract(b, a), subtract(c, a)));
    }
    const twice = length(sum);
    if (twice === 0) return [];
    // A mirrored shape would be inside out.
    const normal = scale(sum, Math.sign(determinant(placement)) / twice);
    return [{ normal, offset: dot(normal, points[0]), area: twice / 2, box: boxAround(points) }];
  });
}

function boxAround(points: readonly Vec3[]): Box3 {
  const reach = (axis: number, of: (one: number, other: number) => number): number =>
    points.reduce((far, point) => of(far, point[axis]), points[0][axis]);
  const [low, high] = [Math.min, Math.max].map((of) => [0, 1, 2].map((axis) => reach(axis, (a, b) => of(a, b))));
  return [...low, ...high] as unknown as Box3;
}

const plates = new WeakMap<Mesh, Plate | null>();
/** Found once per shape; null where it is no plate. */
function plateOf(mesh: Mesh): Plate | null {
  let known = plates.get(mesh);
  if (known === undefined) plates.set(mesh, (known = findPlate(planeFaces({ mesh, placement: identityPlacement }))));
  return known;
}

function findPlate(faces: readonly PlaneFace[]): Plate | null {
  if (faces.length < 5) return null;
  const one = faces.reduce((largest, face, at) => (face.area > faces[largest].area ? at : largest), 0);
  const { normal, offset, area } = faces[one];
  const other = faces.findIndex(
    (face) => dot(face.normal, normal) < STRAIGHT - 1 && Math.abs(face.area / area - 1) < UNLIKE,
  );
  if (other < 0) return null;
  const thickness = offset + faces[other].offset;
  const isThin = thickness > 0 && thickness < THICKEST * Math.sqrt(area);
  const isSquare = faces.every(
    (face, at) => at === one || at === other || Math.abs(dot(face.normal, normal)) < STRAIGHT,
  );
  return isThin && isSquare
    ? { normal, middle: scale(normal, offset - thickness / 2), thickness, large: [one, other] }
    : null;
}

/** Whether a cut has a plane between the large faces of a plate, along them. */
function runsThrough({ normal, middle, thickness }: Plate, placement: Placement, cut: Cut): boolean {
  const turned = applyToDirection(placement, normal);
  const factor = length(turned);
  const at = applyToPoint(placement, middle);
  return cut.some(
    (half) =>
      Math.abs(dot(half.normal, turned)) >= (1 - STRAIGHT) * factor &&
      Math.abs(dot(half.normal, at) - half.offset) < 0.5 * thickness * factor - 1e-6,
  );
}

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
