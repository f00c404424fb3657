import { Clipper, ClipType, FillRule, type Paths64 } from 'clipper2-ts';
import type { Vec2 } from '../../geometry/index.ts';
import type { ViewCuts } from '../records.ts';

/** Closed outlines of an area; around matter to the left, around holes to the right. */
type Rings = readonly (readonly Vec2[])[];

/** Polygons are clipped on a lattice of this many steps along their extent: products of places stay exact. */
const LATTICE = 2 ** 25;
/** What is left of an outline that is smaller than this many squares of the lattice is round-off. */
const LEAST_AREA = 64;

/** An area without what others cover. Source: B. R. Vatti, "A generic solution to polygon clipping", CACM 35 (1992), by Clipper2. */
export const without = (rings: Rings, others: Rings, extent: number): Vec2[][] =>
  clipped(ClipType.Difference, rings, others, extent);

/** What an area has in common with others. */
export const sharedBy = (rings: Rings, others: Rings, extent: number): Vec2[][] =>
  clipped(ClipType.Intersection, rings, others, extent);

function clipped(how: ClipType, rings: Rings, others: Rings, extent: number): Vec2[][] {
  const steps = LATTICE / (extent || 1);
  const onLattice = (ring: readonly Vec2[]) =>
    ring.map(([x, y]) => ({ x: Math.round(x * steps), y: Math.round(y * steps), z: 0 }));
  const subject: Paths64 = rings.map(onLattice);
  // Outlines of faces go round holes the other way, which counts; triangles may come either way round.
  const cover = Clipper.union(others.map(onLattice), FillRule.NonZero);
  return Clipper.booleanOp(how, subject, cover, FillRule.NonZero)
    .filter((path) => Math.abs(Clipper.area(path)) >= LEAST_AREA)
    .map((path) => path.map(({ x, y }): Vec2 => [x / steps, y / steps]));
}

/**
 * Areas of cut faces as they are kept; those of which nothing is left are left out.
 * @param of for each area what it belongs to, and which plane made it
 */
export function packedCuts(
  areas: readonly Rings[],
  { cutOccurrences, cutPlanes }: Partial<Pick<ViewCuts, 'cutOccurrences' | 'cutPlanes'>>,
): Pick<ViewCuts, 'cutCorners' | 'cutRingStarts' | 'cutRingFaces' | 'cutOccurrences' | 'cutPlanes'> {
  const corners: number[] = [],
    starts: number[] = [],
    faces: number[] = [];
  const kept = Array.from(areas.keys()).filter((at) => areas[at].length > 0);
  kept.forEach((at, face) => {
    for (const ring of areas[at]) {
      starts.push(corners.length / 2);
      faces.push(face);
      for (const [x, y] of ring) corners.push(x, y);
    }
  });
  return {
    cutCorners: Float64Array.from(corners),
    cutRingStarts: Int32Array.from([...starts, corners.length / 2]),
    cutRingFaces: Int32Array.from(faces),
    cutOccurrences: Int32Array.from(kept, (at) => cutOccurrences![at]),
    cutPlanes: Int32Array.from(kept, (at) => cutPlanes![at]),
  };
}

/** The outlines of the cut faces of a view, by face, as `packedCuts` has them. */
export function cutAreas({ cutCorners, cutRingStarts, cutRingFaces, cutOccurrences }: Partial<ViewCuts>): Vec2[][][] {
  const areas = Array.from(cutOccurrences ?? [], (): Vec2[][] => []);
  cutRingFaces?.forEach((face, ring) => {
    const corners: Vec2[] = [];
    for (let at = cutRingStarts![ring]; at < cutRingStarts![ring + 1]; at++)
      corners.push([cutCorners![at * 2], cutCorners![at * 2 + 1]]);
    areas[face].push(corners);
  });
  return areas;
}
