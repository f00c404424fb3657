import { NotElementary, trianglesWithin } from '../breps/index.ts';
import { cross, dot, normalize, weldPoints, type Vec2, type Vec3 } from '../geometry/index.ts';
import type { Shell, Side } from './shell.ts';

/** Two unit vectors in a plane, so that the first, the second and the normal turn to the right-handed. */
export function frameOf(normal: Vec3): readonly [Vec3, Vec3] {
  const away: Vec3 = Math.abs(normal[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const u = normalize(cross(away, normal));
  return [u, cross(normal, u)];
}

/** The matter in a plane. */
export interface Cap {
  /** Three places each, counter-clockwise seen from where the normal points. */
  readonly triangles: readonly number[];
  /** Whether solids of the shape lie in one another there, each with a cap of its own. */
  readonly overlaps: boolean;
  /** Whether some of the borders do not close: there nobody knows what is matter. */
  readonly isOpen: boolean;
}

/**
 * The matter in a plane. Where borders cross, as those of solids that lie in one another or touch along a side, each solid is
 * closed by itself, with the hollows that lie in it.
 */
export function capOf(shell: Shell, sides: readonly Side[], normal: Vec3): Cap {
  const whole = closed(shell, sides, normal);
  if (whole) return { triangles: whole, overlaps: false, isOpen: false };
  const solids = solidsOf(shell, sides, normal);
  if (solids.length === 1) return { triangles: [], overlaps: false, isOpen: true };
  const caps = solids.map((own) => closed(shell, own, normal));
  return { triangles: caps.flatMap((cap) => cap ?? []), overlaps: true, isOpen: caps.includes(null) };
}

/** Borders by solid: what hangs together in the shape, hollows with the smallest solid around them. */
function solidsOf(shell: Shell, sides: readonly Side[], normal: Vec3): Side[][] {
  const groups = new Map<number, Side[]>();
  for (const side of sides) {
    const solid = shell.solidOf(side[0]);
    const known = groups.get(solid);
    if (known) known.push(side);
    else groups.set(solid, [side]);
  }
  const [u, v] = frameOf(normal);
  const flat = (place: number): Vec2 => [dot(shell.points[place], u), dot(shell.points[place], v)];
  const all = [...groups.values()].map((own) => {
    const lines = own.map(([from, to]) => [flat(from), flat(to)] as const);
    const area = lines.reduce((sum, [[x0, y0], [x1, y1]]) => sum + (x0 * y1 - x1 * y0) / 2, 0);
    return { own, lines, area };
  });
  const solids = all.filter(({ area }) => area >= 0).sort((a, b) => a.area - b.area);
  for (const { own, lines } of all.filter(({ area }) => area < 0)) {
    const around = solids.find((solid) => isWithin(lines[0][0], solid.lines));
    if (around) around.own.push(...own);
  }
  return solids.map(({ own }) => own);
}

/** Whether an odd number of lines lies to the right of a point. */
function isWithin([x, y]: Vec2, lines: readonly (readonly [Vec2, Vec2])[]): boolean {
  const met = lines.filter(([[ax, ay], [bx, by]]) => ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax));
  return met.length % 2 === 1;
}

/** What lies within borders as triangles; null where they do not close or cross one another. */
function closed(shell: Shell, sides: readonly Side[], normal: Vec3): number[] | null {
  const found = sameOnce(shell, sides);
  const borders = uncancelled(found);
  if (borders.length === 0) return [];
  if (!isClosed(borders)) return null;
  const [u, v] = frameOf(normal);
  const places = [...new Set(borders.flat())];
  const numbers = new Map(places.map((place, at) => [place, at]));
  const flat = places.map((place): Vec2 => [dot(shell.points[place], u), dot(shell.points[place], v)]);
  try {
    const triangles = trianglesWithin(
      flat,
      borders.map(([from, to]) => [numbers.get(from)!, numbers.get(to)!] as const),
    );
    return triangles.map((at) => places[at]);
  } catch (error) {
    if (error instanceof NotElementary) return null;
    throw error;
  }
}

/** Borders whose ends are one place where they are the same but for round-off. */
function sameOnce(shell: Shell, sides: readonly Side[]): Side[] {
  const places = [...new Set(sides.flat())];
  const positions = places.flatMap((place) => shell.points[place]);
  const weld = weldPoints(positions, shell.on / 1e-7);
  const one = new Map(places.map((place, at) => [place, places[weld[at]]]));
  for (const [place, same] of one) if (same !== place) shell.points[place] = shell.points[same];
  return sides.map(([from, to]): Side => [one.get(from)!, one.get(to)!]).filter(([from, to]) => from !== to);
}

/** Without those that run there and back. */
function uncancelled(sides: readonly Side[]): Side[] {
  const counts = new Map<string, number>();
  for (const [from, to] of sides) {
    const [name, way] = from < to ? [`${from} ${to}`, 1] : [`${to} ${from}`, -1];
    counts.set(name, (counts.get(name) ?? 0) + way);
  }
  return [...counts].flatMap(([name, count]): Side[] => {
    const [low, high] = name.split(' ').map(Number);
    return Array.from({ length: Math.abs(count) }, (): Side => (count > 0 ? [low, high] : [high, low]));
  });
}

function isClosed(sides: readonly Side[]): boolean {
  const balance = new Map<number, number>();
  for (const [from, to] of sides) {
    balance.set(from, (balance.get(from) ?? 0) + 1);
    balance.set(to, (balance.get(to) ?? 0) - 1);
  }
  return [...balance.values()].every((count) => count === 0);
}
