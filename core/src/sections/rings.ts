import { Clipper, FillRule } from 'clipper2-ts';
import {
  add,
  dot,
  length,
  meshBox,
  boxDiagonal,
  ontoAll,
  scale,
  subtract,
  weldPoints,
  type Mesh,
  type Surface,
  type Vec3,
} from '../geometry/index.ts';
import { frameOf } from './caps.ts';
import { pairOf } from './shell.ts';

/** Outlines are divided until they stray from the curve that they stand for by less than this share of the shape's extent. */
const FINE_SHARE = 2e-5;
const MOST_PIECES = 16;
/** A curve that leaves its chord by more than this share of it is another one. */
const FARTHEST = 0.35;

/** The outlines of a cut face, following the surfaces beside it where they are known; see `CutFace.rings`. */
export function ringsOf(mesh: Mesh, face: number, surfaces: readonly (Surface | null)[]): Float64Array[] {
  const extent = boxDiagonal(meshBox(mesh));
  const weld = weldPoints(mesh.positions, extent);
  const borders = bordersOf(mesh, face, weld);
  const beside = facesBeside(mesh, face, weld, borders);
  const own = surfaces[face]!;
  const pointAt = (vertex: number): Vec3 => [
    mesh.positions[vertex * 3],
    mesh.positions[vertex * 3 + 1],
    mesh.positions[vertex * 3 + 2],
  ];
  return chained(borders).map((ring) => {
    const corners = ring.flatMap((from, at) => {
      const to = ring[(at + 1) % ring.length];
      const surface = surfaces[beside.get(pairOf(from, to)) ?? -1] ?? null;
      return along(pointAt(from), pointAt(to), own, surface, extent * FINE_SHARE).flat();
    });
    return Float64Array.from(corners);
  });
}

/** Sides of a face's triangles that no other triangle of it has, as it turns around them. */
function bordersOf(mesh: Mesh, face: number, weld: Uint32Array): Map<number, number[]> {
  const open = new Map<number, readonly [number, number]>();
  for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3)
    for (let side = 0; side < 3; side++) {
      const from = weld[mesh.triangles[at + side]],
        to = weld[mesh.triangles[at + ((side + 1) % 3)]];
      if (!open.delete(pairOf(from, to))) open.set(pairOf(from, to), [from, to]);
    }
  const next = new Map<number, number[]>();
  for (const [from, to] of open.values()) {
    const known = next.get(from);
    if (known) known.push(to);
    else next.set(from, [to]);
  }
  return next;
}

/** By the pair of its ends, which other face has a border too. */
function facesBeside(
  mesh: Mesh,
  face: number,
  weld: Uint32Array,
  borders: ReadonlyMap<number, readonly number[]>,
): Map<number, number> {
  const isCorner = new Uint8Array(weld.length);
  for (const from of borders.keys()) isCorner[from] = 1;
  const beside = new Map<number, number>();
  for (let other = 0; other + 1 < mesh.faceStarts.length; other++) {
    if (other === face) continue;
    for (let at = mesh.faceStarts[other] * 3; at < mesh.faceStarts[other + 1] * 3; at += 3)
      for (let side = 0; side < 3; side++) {
        const from = weld[mesh.triangles[at + side]],
          to = weld[mesh.triangles[at + ((side + 1) % 3)]];
        if (isCorner[from] && isCorner[to] && borders.get(to)?.includes(from)) beside.set(pairOf(from, to), other);
      }
  }
  return beside;
}

/** Closed ways through the borders; where several meet, any of them goes on. */
function chained(borders: ReadonlyMap<number, number[]>): number[][] {
  const left = new Map([...borders].map(([from, ends]) => [from, [...ends]]));
  const rings: number[][] = [];
  for (const [start, ends] of left)
    while (ends.length > 0) {
      const ring = [start];
      for (let at = ends.pop()!; at !== start;) {
        ring.push(at);
        const onward = left.get(at)?.pop();
        if (onward === undefined) break;
        at = onward;
      }
      if (ring.length > 2) rings.push(ring);
    }
  return rings;
}

/** From one corner to the next, without that: on the curve where the surface beside meets the plane. */
function along(from: Vec3, to: Vec3, own: Surface, surface: Surface | null, fine: number): Vec3[] {
  if (!surface || surface.kind === 'plane') return [from];
  const way = subtract(to, from);
  const reach = FARTHEST * length(way);
  const at = (share: number): Vec3 => {
    const chord = add(from, scale(way, share));
    const found = ontoAll([own, surface], chord);
    return found && length(subtract(found, chord)) <= reach ? found : chord;
  };
  const bulge = length(subtract(at(0.5), add(from, scale(way, 0.5))));
  const pieces = Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.sqrt(bulge / fine))));
  return Array.from({ length: pieces }, (_, piece) => (piece === 0 ? from : at(piece / pieces)));
}

/** Outlines are united on a lattice of this many steps along their extent. */
const LATTICE = 2 ** 25;

/** Outlines around what lies in any of these areas, which may lie over one another; all in one plane. */
export function unitedRings(rings: readonly Float64Array[], normal: Vec3): Float64Array[] {
  const [u, v] = frameOf(normal);
  const flat = rings.map((ring) =>
    Array.from({ length: ring.length / 3 }, (_, at) => {
      const point: Vec3 = [ring[at * 3], ring[at * 3 + 1], ring[at * 3 + 2]];
      return { x: dot(point, u), y: dot(point, v), along: dot(point, normal) };
    }),
  );
  const [first] = flat.flat();
  if (!first) return [];
  const extent = flat
    .flat()
    .reduce((most, { x, y }) => Math.max(most, Math.abs(x - first.x), Math.abs(y - first.y)), 1e-9);
  const steps = LATTICE / extent;
  const paths = flat.map((ring) =>
    ring.map(({ x, y }) => ({ x: Math.round((x - first.x) * steps), y: Math.round((y - first.y) * steps), z: 0 })),
  );
  return Clipper.union(paths, FillRule.NonZero).map((path) =>
    Float64Array.from(
      path.flatMap(({ x, y }) =>
        add(scale(normal, first.along), add(scale(u, first.x + x / steps), scale(v, first.y + y / steps))),
      ),
    ),
  );
}
