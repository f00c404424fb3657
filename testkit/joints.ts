import type { UsageKey } from '../core/src/assembly/index.ts';
import {
  applyToPoint,
  composePlacements,
  length,
  placementFromAxes,
  scale,
  type Mesh,
  type Placement,
  type Vec3,
} from '../core/src/geometry/index.ts';
import { displacements, type Exploded, type Part } from '../core/src/poses/index.ts';
import { at, latheMesh } from './shapes.ts';
import { runsInto, waysBetween } from './slowBlocking.ts';

export const part = (path: string, mesh: Mesh, placement: Placement, shape = path): Part => ({
  path: path.split('/') as UsageKey[],
  mesh,
  placement,
  shape,
});
export const ring = (outer: number, inner: number, height: number): Mesh =>
  latheMesh([
    [inner, 0],
    [outer, 0],
    [outer, height],
    [inner, height],
  ]);
/** Its head on top, 5 high. */
export const bolt = (length: number): Mesh =>
  latheMesh([
    [0, 0],
    [4, 0],
    [4, length],
    [6.5, length],
    [6.5, length + 5],
    [0, length + 5],
  ]);

/** Shapes of one part, each moved along x by so much more than the one before. */
export function inRow(meshes: readonly Mesh[], by: number): Mesh {
  return meshes.reduce((one, other, rank) => {
    const shift = one.positions.length / 3;
    const moved = other.positions.map((value, index) => (index % 3 === 0 ? value + by * rank : value));
    const faces = one.faceStarts[one.faceStarts.length - 1];
    return {
      ...one,
      positions: Float64Array.from([...one.positions, ...moved]),
      normals: Float32Array.from([...one.normals, ...other.normals]),
      triangles: Uint32Array.from([...one.triangles, ...other.triangles.map((index) => index + shift)]),
      faceStarts: Uint32Array.from([...one.faceStarts.slice(0, -1), ...other.faceStarts.map((start) => start + faces)]),
      faceColours: Int32Array.from([...one.faceColours, ...other.faceColours]),
    };
  });
}

/** Between holes; mm. */
const PITCH = 100;

type Random = () => number;
const pick = (random: Random, count: number): number => Math.floor(random() * count);

/** Plates that bolt sets clamp, with nuts or without; the sets are groups of their own, one group, or none. */
function clampedPlates(random: Random): Part[] {
  const parts: Part[] = [];
  const holes = 1 + pick(random, 3),
    plates = 2 + pick(random, 2),
    grouping = pick(random, 3);
  let top = 0;
  for (let plate = 0; plate < plates; plate++) {
    const height = 8 + Math.round(12 * random());
    const outer = 25 + pick(random, 15);
    const row = Array.from({ length: holes }, () => ring(outer, 4.2, height));
    parts.push(part(`plate ${plate}`, inRow(row, PITCH), at(0, 0, top)));
    top += height;
  }
  const hasNuts = random() < 0.7;
  for (let hole = 0; hole < holes; hole++) {
    const x = PITCH * hole;
    const name = (thing: string) =>
      grouping === 0 ? `${thing} ${hole}` : grouping === 1 ? `set ${hole}/${thing}` : `fasteners/${thing} ${hole}`;
    const below = hasNuts ? 8 : 0;
    parts.push(part(name('bolt'), bolt(top + 1.5 + below), at(x, 0, -below), 'bolt'));
    parts.push(part(name('washer'), ring(8, 4.2, 1.5), at(x, 0, top), 'washer'));
    if (!hasNuts) continue;
    parts.push(part(name('lower washer'), ring(8, 4.2, 1.5), at(x, 0, -1.5), 'washer'));
    parts.push(part(name('nut'), ring(6.5, 4.05, 5), at(x, 0, -6.5), 'nut'));
  }
  return parts;
}

/** A shaft with a collar and rings on it. */
function packOnShaft(random: Random, x: number): Part[] {
  const shaft = latheMesh([
    [0, 0],
    [20, 0],
    [20, 6],
    [10, 6],
    [10, 90],
    [0, 90],
  ]);
  const parts = [part('shaft', shaft, at(x, 0, 0))];
  const rings = 1 + pick(random, 4);
  for (let rank = 0, z = 6; rank < rings; rank++) {
    const height = 4 + pick(random, 10);
    parts.push(part(`ring ${rank}`, ring(14 + pick(random, 6), 10.1, height), at(x, 0, z)));
    z += height;
  }
  return parts;
}

/** A cup with something in it, under a lid. */
function cupWithLid(random: Random, x: number): Part[] {
  const depth = 20 + pick(random, 30);
  const cup = latheMesh([
    [0, 0],
    [30, 0],
    [30, depth],
    [26, depth],
    [26, 4],
    [0, 4],
  ]);
  return [
    part('cup', cup, at(x, 0, 0)),
    part('core', ring(20, 6, depth - 6), at(x, 0, 4)),
    part('lid', ring(30, 3, 4), at(x, 0, depth)),
  ];
}

/** A machine that is put together from below, of such things side by side, turned anyhow about the machine's axes. */
export function jointedMachine(random: Random): Part[] {
  const parts = [
    ...clampedPlates(random),
    ...packOnShaft(random, -PITCH),
    ...(random() < 0.6 ? cupWithLid(random, -2 * PITCH) : []),
  ];
  const axes: readonly Vec3[] = [
    [0, 0, 1],
    [0, 1, 0],
    [1, 0, 0],
    [0, 0, -1],
  ];
  const turned = placementFromAxes([10 * pick(random, 5), 0, 0], axes[pick(random, 4)], null);
  return parts.map((one) => ({ ...one, placement: composePlacements(turned, one.placement) }));
}

/**
 * Slow and obvious: what hits what is still there on its way, in the order of leaving, by lines along the way of every pair of
 * meshes. Things inside a subassembly leave when that is opened, past what stands beside them in it. What is held is left out.
 */
export function collisions(
  parts: readonly Part[],
  { moves, locked }: Exploded,
  random: () => number,
  lines = 300,
): string[] {
  const keyOf = (one: Part) => one.path.join('/');
  const isIn = (path: string, place: string) => path === place || path.startsWith(`${place}/`);
  const moved = moves.map(({ path }) => path as string);
  const held = new Set<string>(locked.map(({ path }) => path));
  // What a thing leaves: everything that the nearest place that moves by itself holds.
  const placeOf = (path: string) =>
    moved
      .filter((place) => place !== path && isIn(path, place))
      .reduce((deep, place) => (place.length > deep.length ? place : deep), '');
  const gone = new Set<string>();
  const found: string[] = [];
  for (const { path, steps } of moves) {
    const place = placeOf(path);
    const beside = parts.filter((one) => {
      const key = keyOf(one);
      if (isIn(key, path) || (place !== '' && !isIn(key, place))) return false;
      return ![...gone].some((left) => isIn(key, left) && placeOf(left) === place);
    });
    const own = parts.filter((one) => isIn(keyOf(one), path));
    gone.add(path);
    if (held.has(path)) continue;
    let from: Vec3 = [0, 0, 0];
    for (const step of steps) {
      const far = length(step);
      const seen = placementFromAxes([0, 0, 0], scale(step, 1 / far), null);
      const along =
        (placement: Placement, by: Vec3) =>
        (point: Vec3): Vec3 => {
          const [x, y, z] = applyToPoint(placement, point);
          const p: Vec3 = [x + by[0], y + by[1], z + by[2]];
          return [0, 1, 2].map(
            (axis) => seen[axis] * p[0] + seen[4 + axis] * p[1] + seen[8 + axis] * p[2],
          ) as unknown as Vec3;
        };
      for (const one of own)
        for (const other of beside) {
          const share = runsInto(
            one.mesh,
            along(one.placement, from),
            other.mesh,
            along(other.placement, [0, 0, 0]),
            far,
            random,
            lines,
          );
          if (share > HIT) found.push(`${keyOf(one)} hits ${keyOf(other)} on ${share.toFixed(3)} of the lines`);
        }
      from = [from[0] + step[0], from[1] + step[1], from[2] + step[2]];
    }
  }
  return found;
}
/**
 * Slow and obvious: which things have come to stand in one another, that were not at their seats; by lines through every pair of
 * meshes.
 */
export function standingInOthers(parts: readonly Part[], { moves }: Exploded, random: () => number): string[] {
  const gone = displacements(moves);
  const placed = parts.map((one) => {
    const by = gone(one.path.join('/')) ?? ([0, 0, 0] as const);
    const placeOf =
      (way: Vec3) =>
      (point: Vec3): Vec3 => {
        const [x, y, z] = applyToPoint(one.placement, point);
        return [x + way[0], y + way[1], z + way[2]];
      };
    return { one, seat: placeOf([0, 0, 0]), place: placeOf(by) };
  });
  return placed.flatMap((a, at) =>
    placed.slice(at + 1).flatMap((b) => {
      const shareIn = (from: 'seat' | 'place') =>
        waysBetween(a.one.mesh, a[from], b.one.mesh, b[from], random, 60).inside;
      return shareIn('place') > HIT && shareIn('seat') <= HIT
        ? [`${a.one.path.join('/')} stands in ${b.one.path.join('/')}`]
        : [];
    }),
  );
}

/** Share of lines; rounds of facets graze one another. */
const HIT = 0.02;
