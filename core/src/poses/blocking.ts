import type { Vec3 } from '../geometry/index.ts';

/** Three unit vectors at right angles, right-handed. */
export interface Frame {
  readonly u: Vec3;
  readonly v: Vec3;
  readonly w: Vec3;
}

/** Which of the three vectors of a frame: u, v or w. */
export type Axis = 0 | 1 | 2;

/** The triangles of one thing in a frame: (u, v, w) per corner, three corners per triangle. */
export interface FramedSolid {
  readonly corners: Float32Array;
  /** Least and largest u, v, w. */
  readonly box: readonly [number, number, number, number, number, number];
}

/** How two things stand in each other's way along an axis; `up` is where it points. */
interface PairAlong {
  /** How far the first can go forwards before it hits the second; Infinity where it never does. mm */
  readonly up: number;
  /** The same backwards. mm */
  readonly down: number;
  /** How far the first has to go forwards until all of it is beyond the second; negative where it is already. mm */
  readonly upBy: number;
  /** The same backwards. mm */
  readonly downBy: number;
}

/** Samples across the narrower window of both; lips of 3 % of it are found, seams of neighbouring facets are not. */
const SIDE = 64;

const size = SIDE * SIDE;
/** What a thing has at every sample. */
class Depths {
  /** Nearest and farthest matter. */
  readonly low = new Float32Array(size);
  readonly high = new Float32Array(size);
  /** Lowest upper side of any of its matter, and highest lower side: they lead where it goes up or down. */
  readonly lowTop = new Float32Array(size);
  readonly highBottom = new Float32Array(size);
  clear(): void {
    this.low.fill(Infinity);
    this.high.fill(-Infinity);
    this.lowTop.fill(Infinity);
    this.highBottom.fill(-Infinity);
  }
}
const depthsA = new Depths(),
  depthsB = new Depths();
const touched = new Uint8Array(size);

/**
 * Whether two things lie in each other's way along an axis of their frame: both are looked at along it through the window
 * that they share; at every sample a thing is held where the other has matter beyond it, or in a gap of it, or it in a gap
 * of the other. Exact up to the samples; the border of the shared region is left out, so that faces that touch do not
 * count, and what lies inside the other already (a screw in wood without a hole, a thread drawn through its nut) is not hit
 * by leaving.
 * Source: R. Wilson, J.-C. Latombe, "Geometric reasoning about mechanical assembly", Artificial Intelligence 71 (1994):
 * directional blocking graphs.
 * @param least mm along it within which faces touch
 * @returns null where they are not one behind the other
 */
export function pairAlong(a: FramedSolid, b: FramedSolid, axis: Axis, least: number): PairAlong | null {
  const u = (axis + 1) % 3,
    v = (axis + 2) % 3;
  const u0 = Math.max(a.box[u], b.box[u]),
    u1 = Math.min(a.box[u + 3], b.box[u + 3]),
    v0 = Math.max(a.box[v], b.box[v]),
    v1 = Math.min(a.box[v + 3], b.box[v + 3]);
  if (u1 - u0 <= sideBySide(a, b, u, least) || v1 - v0 <= sideBySide(a, b, v, least)) return null;
  const window = { axis, u0, v0, perU: SIDE / (u1 - u0), perV: SIDE / (v1 - v0) };
  sample(a, window, depthsA);
  sample(b, window, depthsB);
  for (let at = 0; at < size; at++)
    touched[at] = depthsA.low[at] <= depthsA.high[at] && depthsB.low[at] <= depthsB.high[at] ? 1 : 0;
  return judge(least);
}

/** How far the first can go across an axis, backwards and forwards, before it hits the second; Infinity where it never does. mm */
export type Across = readonly [down: number, up: number];

/**
 * How far the first has to go until it is beyond what of the second stands around it: a bolt beyond a flange, however high the
 * neck beside it is, and what lies in a cup beyond its rim. Looked at through the window that both share, as much wider as there
 * is room across.
 * @param across along the next axis of the frame, and the one after
 */
export function beyondHolder(
  a: FramedSolid,
  b: FramedSolid,
  axis: Axis,
  across: readonly [Across, Across],
): { readonly upBy: number; readonly downBy: number } | null {
  const [[u0, u1], [v0, v1]] = across.map(([down, up], at): [number, number] => {
    const k = (axis + 1 + at) % 3;
    const [low, high] = [Math.max(a.box[k], b.box[k]), Math.min(a.box[k + 3], b.box[k + 3])];
    const more = Math.max(FITTED, WALL_SHARE * (high - low));
    // Which of both moves is all one: room on one side of the first is room on the other side of the second.
    const room = Math.max(...[down, up].map((far) => (far === Infinity ? 0 : far)));
    return [low - room - more, high + room + more];
  });
  const window = { axis, u0, v0, perU: SIDE / (u1 - u0), perV: SIDE / (v1 - v0) };
  sample(a, window, depthsA);
  sample(b, window, depthsB);
  const [lowA, lowB] = [depthsA, depthsB].map(({ low }) => low.reduce((one, other) => Math.min(one, other), Infinity));
  const [highA, highB] = [depthsA, depthsB].map(({ high }) =>
    high.reduce((one, other) => Math.max(one, other), -Infinity),
  );
  return lowA > highA || lowB > highB ? null : { upBy: highB - lowA, downBy: highA - lowB };
}
/** Of the window, so much more on each side: there the wall is. */
const WALL_SHARE = 0.06;

/** Two things that reach over one another by less than this, across, stand side by side. */
const sideBySide = ({ box: a }: FramedSolid, { box: b }: FramedSolid, axis: number, least: number): number =>
  Math.max(least, Math.min(FITTED, FITTED_SHARE * Math.min(a[axis + 3] - a[axis], b[axis + 3] - b[axis])));
const FITTED = 0.5; // mm
const FITTED_SHARE = 0.04;

interface Window {
  readonly axis: Axis;
  readonly u0: number;
  readonly v0: number;
  readonly perU: number;
  readonly perV: number;
}

/** Nearest and farthest matter at every sample of the window. */
function sample({ corners: p }: FramedSolid, { axis, u0, v0, perU, perV }: Window, into: Depths): void {
  const u = (axis + 1) % 3,
    v = (axis + 2) % 3;
  into.clear();
  const { low, high, lowTop, highBottom } = into;
  for (let at = 0; at < p.length; at += 9) {
    const ax = (p[at + u] - u0) * perU - 0.5,
      bx = (p[at + 3 + u] - u0) * perU - 0.5,
      cx = (p[at + 6 + u] - u0) * perU - 0.5;
    const left = ax < bx ? (ax < cx ? ax : cx) : bx < cx ? bx : cx;
    const right = ax > bx ? (ax > cx ? ax : cx) : bx > cx ? bx : cx;
    if (right < 0 || left > SIDE - 1) continue;
    const ay = (p[at + v] - v0) * perV - 0.5,
      by = (p[at + 3 + v] - v0) * perV - 0.5,
      cy = (p[at + 6 + v] - v0) * perV - 0.5;
    const bottom = ay < by ? (ay < cy ? ay : cy) : by < cy ? by : cy;
    const top = ay > by ? (ay > cy ? ay : cy) : by > cy ? by : cy;
    if (top < 0 || bottom > SIDE - 1) continue;
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (Math.abs(area) < 1e-9) continue;
    const az = p[at + axis],
      bz = p[at + 3 + axis],
      cz = p[at + 6 + axis];
    const firstY = bottom < 0 ? 0 : Math.ceil(bottom),
      lastY = top > SIDE - 1 ? SIDE - 1 : Math.floor(top);
    const firstX = left < 0 ? 0 : Math.ceil(left),
      lastX = right > SIDE - 1 ? SIDE - 1 : Math.floor(right);
    const one = 1 / area;
    for (let y = firstY; y <= lastY; y++)
      for (let x = firstX; x <= lastX; x++) {
        const fa = ((bx - x) * (cy - y) - (by - y) * (cx - x)) * one;
        const fb = ((cx - x) * (ay - y) - (cy - y) * (ax - x)) * one;
        const fc = 1 - fa - fb;
        if (fa < 0 || fb < 0 || fc < 0) continue;
        const z = fa * az + fb * bz + fc * cz;
        const cell = y * SIDE + x;
        if (z < low[cell]) low[cell] = z;
        if (z > high[cell]) high[cell] = z;
        // Counter-clockwise as seen from where the axis points: an upper side.
        if (area > 0) {
          if (z < lowTop[cell]) lowTop[cell] = z;
        } else if (z > highBottom[cell]) highBottom[cell] = z;
      }
  }
}

/** What the samples say; those at the border of the shared region have no say. */
function judge(least: number): PairAlong | null {
  let up = Infinity,
    down = Infinity,
    aligned = false;
  let upBy = -Infinity,
    downBy = -Infinity;
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const at = y * SIDE + x;
      if (!touched[at] || !isInner(x, y)) continue;
      aligned = true;
      const toUp = depthsB.high[at] - depthsA.low[at],
        toDown = depthsA.high[at] - depthsB.low[at];
      if (toUp > upBy) upBy = toUp;
      if (toDown > downBy) downBy = toDown;
      // What lies inside the other already is not hit by leaving: only what reaches beyond a leading side is.
      const free = freeAt(at, least);
      if (free[0] < up) up = free[0];
      if (free[1] < down) down = free[1];
    }
  return aligned ? { up, down, upBy, downBy } : null;
}

const found: [number, number] = [0, 0];
/** How far the first can go up and down at a sample before it hits the second. */
function freeAt(at: number, least: number): readonly [number, number] {
  const { low: lowA, high: highA, lowTop: topA, highBottom: bottomA } = depthsA;
  const { low: lowB, high: highB, lowTop: topB, highBottom: bottomB } = depthsB;
  const free = (up: number, down: number) => {
    found[0] = Math.max(0, up);
    found[1] = Math.max(0, down);
    return found;
  };
  if (lowB[at] >= highA[at] - least) return free(lowB[at] - highA[at], Infinity);
  if (lowA[at] >= highB[at] - least) return free(Infinity, lowA[at] - highB[at]);
  const gapInA = bottomA[at] - topA[at] > least,
    gapInB = bottomB[at] - topB[at] > least;
  if (gapInB && lowA[at] >= topB[at] - least && highA[at] <= bottomB[at] + least)
    return free(bottomB[at] - highA[at], lowA[at] - topB[at]);
  if (gapInA && lowB[at] >= topA[at] - least && highB[at] <= bottomA[at] + least)
    return free(lowB[at] - topA[at], bottomA[at] - highB[at]);
  // Like the fingers of two hands; else they lie inside one another, and leaving hits nothing that is not hit already.
  return gapInA && gapInB ? free(0, 0) : free(Infinity, Infinity);
}

/** Whether the shared region goes on to all four sides; beyond the window it does. */
const isInner = (x: number, y: number): boolean =>
  (x === 0 || touched[y * SIDE + x - 1] === 1) &&
  (x + 1 === SIDE || touched[y * SIDE + x + 1] === 1) &&
  (y === 0 || touched[(y - 1) * SIDE + x] === 1) &&
  (y + 1 === SIDE || touched[(y + 1) * SIDE + x] === 1);
