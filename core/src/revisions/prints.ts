import type { ShapeKey } from '../assembly/index.ts';
import {
  hypot,
  invariantsAgree,
  length,
  meshBox,
  meshMoments,
  subtract,
  type Mesh,
  type Vec3,
} from '../geometry/index.ts';
import type { ShapePrint, ShapePrints } from './records.ts';

/** Nearer than this is the same place; mm. */
export const SAME_PLACE = 0.001;
/** Two meshes of one shape that were cut differently stray as far; of the size of the shape. */
const FACET_SHARE = 1e-3,
  CENTROID_SHARE = 1e-5;
/** Volumes this near are worth a second look; wider than what agrees. */
const NEIGHBOURS = 1e-4;

/** What is compared of a shape that is there as a mesh. */
export function printOf(mesh: Mesh): ShapePrint {
  const { volume, area, centroid, principal } = meshMoments(mesh);
  const [x0, y0, z0, x1, y1, z1] = meshBox(mesh);
  return { volume, area, centroid, principal, corner: [x0, y0, z0], box: [x1 - x0, y1 - y0, z1 - z0] };
}

/**
 * Whether two shapes are one, wherever they stand in their own coordinates but not turned: what a turned or mirrored one
 * has elsewhere is where its centroid lies in its box.
 */
export function samePrint(one: ShapePrint, other: ShapePrint): boolean {
  if (!invariantsAgree(one, other)) return false;
  const tolerance = SAME_PLACE + FACET_SHARE * hypot(...one.box);
  return [0, 1, 2].every(
    (axis) =>
      Math.abs(one.box[axis] - other.box[axis]) <= tolerance &&
      Math.abs(one.centroid[axis] - one.corner[axis] - other.centroid[axis] + other.corner[axis]) <= tolerance,
  );
}

/** How far a shape stands from where the same one stood in its own coordinates; null where that is nothing but noise. */
export function shiftOf(was: ShapePrint, is: ShapePrint): Vec3 | null {
  const shift = subtract(is.centroid, was.centroid);
  return length(shift) <= SAME_PLACE + CENTROID_SHARE * hypot(...was.box) ? null : shift;
}

/**
 * A number for every shape, the same for those that are the same: by key, else by print. Sorted by volume, so only
 * neighbours are looked at.
 */
export function shapeClasses(shapes: Iterable<ShapeKey>, prints: ShapePrints): Map<ShapeKey, number> {
  const volumeOf = (shape: ShapeKey): number => prints.get(shape)?.volume ?? -1;
  const sorted = [...new Set(shapes)].sort(
    (one, other) => volumeOf(one) - volumeOf(other) || (one < other ? -1 : one > other ? 1 : 0),
  );
  const classes = new Map<ShapeKey, number>();
  for (const [at, shape] of sorted.entries()) {
    const print = prints.get(shape);
    let same: number | undefined;
    for (let other = at - 1; print && other >= 0 && same === undefined; other--) {
      const known = prints.get(sorted[other]);
      if (!known || known.volume < print.volume * (1 - NEIGHBOURS)) break;
      if (samePrint(known, print)) same = classes.get(sorted[other]);
    }
    classes.set(shape, same ?? at);
  }
  return classes;
}
