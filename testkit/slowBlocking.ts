import type { Mesh, Vec3 } from '../core/src/geometry/index.ts';

/**
 * Slow and obvious: what straight lines along z meet of two solids. Every line is cut with every triangle of both; between
 * odd and even crossings is matter. Shares of the lines that meet both: where the second has matter right above matter of
 * the first, right below it, or in the same place; how many met both, and how wide the region is in which they may.
 * @param random numbers from 0 to 1
 */
export function waysBetween(
  one: Mesh,
  placeOne: (point: Vec3) => Vec3,
  other: Mesh,
  placeOther: (point: Vec3) => Vec3,
  random: () => number,
  lines = 600,
): { up: number; down: number; inside: number; met: number; across: number } {
  const [a, b] = [soup(one, placeOne), soup(other, placeOther)];
  const low = [0, 1].map((axis) => Math.max(least(a, axis), least(b, axis)));
  const high = [0, 1].map((axis) => Math.min(most(a, axis), most(b, axis)));
  const sums = { up: 0, down: 0, inside: 0, met: 0 };
  const across = Math.min(high[0] - low[0], high[1] - low[1]);
  for (let line = 0; line < lines && across > 0; line++) {
    const [x, y] = [0, 1].map((axis) => low[axis] + random() * (high[axis] - low[axis]));
    const [matterA, matterB] = [stretches(a, x, y), stretches(b, x, y)];
    if (matterA.length === 0 || matterB.length === 0) continue;
    sums.met++;
    const pairs = matterA.flatMap((p) => matterB.map((q) => [p, q]));
    if (pairs.some(([p, q]) => q[0] >= p[1] - 1e-6)) sums.up++;
    if (pairs.some(([p, q]) => q[1] <= p[0] + 1e-6)) sums.down++;
    if (pairs.some(([p, q]) => Math.min(p[1], q[1]) - Math.max(p[0], q[0]) > 1e-3)) sums.inside++;
  }
  const share = (count: number) => (sums.met > 0 ? count / sums.met : 0);
  return { up: share(sums.up), down: share(sums.down), inside: share(sums.inside), met: sums.met, across };
}

/**
 * Slow and obvious: of straight lines along z that meet both, the share on which matter of the first, moved so far along them,
 * runs into matter of the second that lies ahead of it, deeper than contact. What lies inside the other already is not run into.
 */
export function runsInto(
  one: Mesh,
  placeOne: (point: Vec3) => Vec3,
  other: Mesh,
  placeOther: (point: Vec3) => Vec3,
  far: number,
  random: () => number,
  lines = 300,
): number {
  const [a, b] = [soup(one, placeOne), soup(other, placeOther)];
  const low = [0, 1].map((axis) => Math.max(least(a, axis), least(b, axis)));
  const high = [0, 1].map((axis) => Math.min(most(a, axis), most(b, axis)));
  if (low[0] >= high[0] || low[1] >= high[1] || least(b, 2) > most(a, 2) + far || most(b, 2) < least(a, 2)) return 0;
  let met = 0,
    hits = 0;
  for (let line = 0; line < lines; line++) {
    const [x, y] = [0, 1].map((axis) => low[axis] + random() * (high[axis] - low[axis]));
    const [matterA, matterB] = [stretches(a, x, y), stretches(b, x, y)];
    if (matterA.length === 0 || matterB.length === 0) continue;
    met++;
    if (matterA.some((p) => matterB.some((q) => q[0] >= p[1] - CONTACT && q[0] < p[1] + far - CONTACT))) hits++;
  }
  return met < FEWEST ? 0 : hits / met;
}
/** mm */
const CONTACT = 0.05;
/** What hardly any line meets is the sliver between facets of two rounds. */
const FEWEST = 5;

const soup = ({ positions, triangles }: Mesh, place: (point: Vec3) => Vec3): Vec3[] =>
  Array.from(triangles, (vertex) =>
    place([positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]]),
  );
const least = (points: readonly Vec3[], axis: number) => Math.min(...points.map((point) => point[axis]));
const most = (points: readonly Vec3[], axis: number) => Math.max(...points.map((point) => point[axis]));

/** Matter along the line x, y: from and to in z. */
function stretches(points: readonly Vec3[], x: number, y: number): [number, number][] {
  const crossings: number[] = [];
  for (let at = 0; at < points.length; at += 3) {
    const [p, q, r] = [points[at], points[at + 1], points[at + 2]];
    const area = (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
    if (Math.abs(area) < 1e-12) continue;
    const s = ((x - p[0]) * (r[1] - p[1]) - (y - p[1]) * (r[0] - p[0])) / area;
    const t = ((q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0])) / area;
    if (s < 0 || t < 0 || s + t > 1) continue;
    crossings.push(p[2] + s * (q[2] - p[2]) + t * (r[2] - p[2]));
  }
  crossings.sort((one, two) => one - two);
  const found: [number, number][] = [];
  for (let at = 0; at + 1 < crossings.length; at += 2) found.push([crossings[at], crossings[at + 1]]);
  return found;
}
