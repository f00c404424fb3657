import type { Box2, Vec2, Vec3 } from '../../geometry/index.ts';

/**
 * Which part (0..1) of the stretch from (x, y) along (dx, dy) lies in the box with these half sides around the origin; null
 * where none does. Source: Y.-D. Liang, B. Barsky, "A new concept and method for line clipping", ACM TOG 3 (1984).
 */
export function shareWithin(x: number, y: number, dx: number, dy: number, half: Vec2): [number, number] | null {
  let from = 0,
    to = 1;
  for (const [start, way, reach] of [
    [x, dx, half[0]],
    [y, dy, half[1]],
  ]) {
    if (way === 0) {
      if (Math.abs(start) > reach) return null;
      continue;
    }
    const [one, other] = [(-reach - start) / way, (reach - start) / way];
    from = Math.max(from, Math.min(one, other));
    to = Math.min(to, Math.max(one, other));
  }
  return from < to ? [from, to] : null;
}

/** The upright piece of the view plane that a scene is drawn in; what lies beside it is left out. */
export class Window {
  private readonly middle: Vec2;
  private readonly half: Vec2;

  constructor(readonly box: Box2) {
    const [x0, y0, x1, y1] = box;
    this.middle = [(x0 + x1) / 2, (y0 + y1) / 2];
    this.half = [(x1 - x0) / 2, (y1 - y0) / 2];
  }

  /**
   * Whether the box around some points may reach into it.
   * @param by how far what they stand for may stray from it; mm
   */
  meets(points: ArrayLike<number>, indices: readonly number[], by = 0): boolean {
    for (const axis of [0, 1] as const) {
      let low = Infinity,
        high = -Infinity;
      for (const index of indices) {
        const value = points[index * 3 + axis];
        if (value < low) low = value;
        if (value > high) high = value;
      }
      if (low - by > this.box[axis + 2] || high + by < this.box[axis]) return false;
    }
    return true;
  }

  /** What of a stretch lies in it; null where nothing does. */
  clip(from: Vec3, to: Vec3): readonly [Vec3, Vec3] | null {
    const way: Vec3 = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
    const share = shareWithin(from[0] - this.middle[0], from[1] - this.middle[1], way[0], way[1], this.half);
    if (!share) return null;
    const at = (t: number): Vec3 =>
      t === 0 ? from : t === 1 ? to : [from[0] + t * way[0], from[1] + t * way[1], from[2] + t * way[2]];
    return [at(share[0]), at(share[1])];
  }
}
