import { distanceToStretch, type Box2, type Vec2 } from '../../geometry/index.ts';

/** Parts of stretches shorter than this are round-off; share of a stretch. */
const NOTHING = 1e-12;

/** Where a line goes over a closed border. */
export interface Crossing {
  /** Which side of the border, by its first corner, and where along it (0..1). */
  readonly side: number;
  readonly along: number;
}

/** A closed line on the view plane that does not cross itself. */
export class ClosedBorder {
  readonly box: Box2;

  constructor(readonly corners: readonly Vec2[]) {
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    this.box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  }

  side(at: number): readonly [Vec2, Vec2] {
    return [this.corners[at], this.corners[(at + 1) % this.corners.length]];
  }

  /** Source: an odd number of sides to the right (M. Shimrat, "Algorithm 112", CACM 5, 1962). */
  has(x: number, y: number): boolean {
    let inside = false;
    for (let at = 0; at < this.corners.length; at++) {
      const [[ax, ay], [bx, by]] = this.side(at);
      if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
    }
    return inside;
  }

  /**
   * Its corners as far as it lies in a box; along the sides of the box it may run there and back.
   * Source: I. Sutherland, G. Hodgman, "Reentrant polygon clipping", CACM 17 (1974).
   */
  cornersWithin(box: Box2): Vec2[] {
    let left: readonly Vec2[] = this.corners;
    for (const side of [0, 1, 2, 3]) {
      const [axis, sign] = [side % 2, side < 2 ? 1 : -1];
      const depth = (corner: Vec2) => sign * (corner[axis] - box[side]);
      const all = left;
      left = all.flatMap((corner, at): Vec2[] => {
        const next = all[(at + 1) % all.length];
        const [one, other] = [depth(corner), depth(next)];
        const share = one / (one - other);
        const met: Vec2[] =
          one >= 0 !== other >= 0
            ? [[corner[0] + share * (next[0] - corner[0]), corner[1] + share * (next[1] - corner[1])]]
            : [];
        return one >= 0 ? [corner, ...met] : met;
      });
    }
    return [...left];
  }

  /** mm to the nearest point of it. */
  distanceTo(point: Vec2): number {
    let nearest = Infinity;
    for (let at = 0; at < this.corners.length; at++)
      nearest = Math.min(nearest, distanceToStretch(point, ...this.side(at)));
    return nearest;
  }

  /**
   * Which parts (0..1 each) of the stretch at this place of `ends` (x1, y1, x2, y2) lie within it, or outside.
   * @param onCrossing is told where the stretch goes over it
   */
  parts(
    ends: ArrayLike<number>,
    place: number,
    within: boolean,
    onCrossing?: (crossing: Crossing) => void,
  ): [number, number][] {
    const [x0, y0] = [ends[place], ends[place + 1]];
    const [dx, dy] = [ends[place + 2] - x0, ends[place + 3] - y0];
    const [left, low, right, high] = this.box;
    if (Math.max(x0, x0 + dx) < left || Math.min(x0, x0 + dx) > right) return within ? [] : [[0, 1]];
    if (Math.max(y0, y0 + dy) < low || Math.min(y0, y0 + dy) > high) return within ? [] : [[0, 1]];
    const cuts = [0, 1];
    for (let at = 0; at < this.corners.length; at++) {
      const [[ax, ay], [bx, by]] = this.side(at);
      const [ex, ey] = [bx - ax, by - ay];
      const turn = dx * ey - dy * ex;
      if (turn === 0) continue;
      const share = ((ax - x0) * ey - (ay - y0) * ex) / turn,
        along = ((ax - x0) * dy - (ay - y0) * dx) / turn;
      if (share <= 0 || share >= 1 || along < 0 || along > 1) continue;
      cuts.push(share);
      onCrossing?.({ side: at, along });
    }
    cuts.sort((a, b) => a - b);
    const parts: [number, number][] = [];
    for (let at = 0; at + 1 < cuts.length; at++) {
      const [from, to] = [cuts[at], cuts[at + 1]];
      if (to - from <= NOTHING) continue;
      const middle = (from + to) / 2;
      if (this.has(x0 + middle * dx, y0 + middle * dy) !== within) continue;
      const last = parts[parts.length - 1];
      if (last?.[1] === from) last[1] = to;
      else parts.push([from, to]);
    }
    return parts;
  }
}
