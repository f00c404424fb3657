import { pathKey, type Occurrence, type PathKey, type ShapeKey } from '../../../../core/src/assembly/index.ts';
import type { Mesh, Placement } from '../../../../core/src/geometry/index.ts';

/** A shape of a layout as it is drawn: areas and lines with their colours, in its own mm, y up. */
export interface FlatShape {
  readonly pieces: readonly {
    readonly rings: readonly (readonly number[])[];
    readonly colour: string;
    readonly isLine: boolean;
  }[];
  readonly box: readonly [number, number, number, number];
}
/** One of them on the page. */
export interface FlatThing {
  readonly shape: FlatShape;
  readonly placement: Placement;
  readonly occurrence: Occurrence;
  readonly path: PathKey;
  /** Around it on the page; mm. */
  readonly box: readonly [number, number, number, number];
}
/** What is looked at: the middle in mm, and pixels to a mm. */
export interface PlanView {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

/** Bands that stand for lines are no broader than this share of their length. */
const NARROW = 1e-3;

/** The outlines of a flat mesh: borders of its faces, as rings. */
export function flatShape({ positions, triangles, faceStarts, faceColours }: Mesh): FlatShape {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let at = 0; at < positions.length; at += 3) {
    box[0] = Math.min(box[0], positions[at]);
    box[1] = Math.min(box[1], positions[at + 1]);
    box[2] = Math.max(box[2], positions[at]);
    box[3] = Math.max(box[3], positions[at + 1]);
  }
  // Lower faces are painted first.
  const faces = Array.from({ length: faceStarts.length - 1 }, (_, face) => face).sort(
    (one, other) => heightOf(one) - heightOf(other),
  );
  function heightOf(face: number): number {
    return positions[triangles[faceStarts[face] * 3] * 3 + 2] ?? 0;
  }
  const pieces = faces.map((face) => {
    const rings = ringsOf(triangles.subarray(faceStarts[face] * 3, faceStarts[face + 1] * 3), positions);
    const colour = faceColours[face];
    return {
      rings,
      colour: colour < 0 ? '#8a9499' : `#${colour.toString(16).padStart(6, '0')}`,
      isLine: isBand(rings),
    };
  });
  return { pieces, box };
}

/** Borders of triangles as closed rings of x, y. Vertices at one place are one. */
function ringsOf(triangles: ArrayLike<number>, positions: Float64Array): number[][] {
  const nameOf = (vertex: number): string => `${positions[vertex * 3]} ${positions[vertex * 3 + 1]}`;
  const edges = new Map<string, { readonly from: number; readonly to: number }>();
  for (let at = 0; at < triangles.length; at += 3)
    for (let side = 0; side < 3; side++) {
      const from = triangles[at + side],
        to = triangles[at + ((side + 1) % 3)];
      const [one, other] = [nameOf(from), nameOf(to)];
      // An edge that two triangles share is no border.
      if (!edges.delete(`${other}|${one}`)) edges.set(`${one}|${other}`, { from, to });
    }
  const next = new Map<string, { to: number; key: string }[]>();
  for (const [key, { from, to }] of edges) {
    const name = nameOf(from);
    next.set(name, [...(next.get(name) ?? []), { to, key }]);
  }
  const rings: number[][] = [];
  for (const [first, { from }] of edges) {
    if (!edges.has(first)) continue;
    const ring: number[] = [];
    for (let at = from, guard = 0; guard <= triangles.length; guard++) {
      const step = next.get(nameOf(at))?.find(({ key }) => edges.has(key));
      if (!step) break;
      edges.delete(step.key);
      ring.push(positions[at * 3], positions[at * 3 + 1]);
      at = step.to;
    }
    rings.push(ring);
  }
  return rings;
}

/** Whether rings are the band of a line: between them is next to no area for their length. */
function isBand(rings: readonly (readonly number[])[]): boolean {
  let area = 0,
    length = 0;
  for (const ring of rings)
    for (let at = 0; at < ring.length; at += 2) {
      const next = (at + 2) % ring.length;
      area += ring[at] * ring[next + 1] - ring[next] * ring[at + 1];
      length += Math.hypot(ring[next] - ring[at], ring[next + 1] - ring[at + 1]);
    }
  return Math.abs(area) / 2 < (NARROW * length * length) / 4;
}

/** Things of a layout in the order in which they are painted: what belongs to no symbol first. */
export function flatThings(
  occurrences: readonly Occurrence[],
  shapeOf: (occurrence: Occurrence) => ShapeKey,
  shapes: ReadonlyMap<ShapeKey, FlatShape>,
): FlatThing[] {
  return occurrences.flatMap((occurrence) => {
    const shape = shapes.get(shapeOf(occurrence));
    if (!shape) return [];
    const { placement } = occurrence;
    return [{ shape, placement, occurrence, path: pathKey(occurrence.path), box: placedBox(shape.box, placement) }];
  });
}

function placedBox([x0, y0, x1, y1]: FlatShape['box'], m: Placement): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of [
    [x0, y0],
    [x1, y0],
    [x0, y1],
    [x1, y1],
  ]) {
    const [px, py] = [m[0] * x + m[1] * y + m[3], m[4] * x + m[5] * y + m[7]];
    box[0] = Math.min(box[0], px);
    box[1] = Math.min(box[1], py);
    box[2] = Math.max(box[2], px);
    box[3] = Math.max(box[3], py);
  }
  return box;
}

/** Around several things; null for none. */
export function boxAround(things: readonly FlatThing[]): [number, number, number, number] | null {
  if (things.length === 0) return null;
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { box: one } of things) {
    box[0] = Math.min(box[0], one[0]);
    box[1] = Math.min(box[1], one[1]);
    box[2] = Math.max(box[2], one[2]);
    box[3] = Math.max(box[3], one[3]);
  }
  return box;
}

/** The view in which a box fills the picture, with some room around it. */
export function fittedView(
  box: readonly [number, number, number, number],
  width: number,
  height: number,
  share = 0.92,
): PlanView {
  const [x0, y0, x1, y1] = box;
  const scale = share * Math.min(width / Math.max(x1 - x0, 1e-6), height / Math.max(y1 - y0, 1e-6));
  return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, scale };
}

/**
 * What is at a place of the page: the smallest thing whose box holds it, the uppermost of equal ones. What belongs to no symbol
 * is never meant.
 * @param reach how far beside it counts too; mm
 */
export function thingAt(things: readonly FlatThing[], x: number, y: number, reach: number): FlatThing | null {
  let best: FlatThing | null = null,
    least = Infinity;
  for (const thing of things) {
    const [x0, y0, x1, y1] = thing.box;
    if (thing.path === '' || x < x0 - reach || x > x1 + reach || y < y0 - reach || y > y1 + reach) continue;
    const size = (x1 - x0) * (y1 - y0);
    if (size > least) continue;
    least = size;
    best = thing;
  }
  return best;
}
