import type { Vec2 } from '../../geometry/index.ts';
import type { Mark, MarkSource } from '../../marks/index.ts';

export const ARROW = 3; // mm, length of an arrowhead
const HALF = ARROW * Math.tan((7.5 * Math.PI) / 180); // 15° arrowhead, ISO 129-1

/** A closed, filled arrowhead whose tip is at `to`. */
export function arrowhead(source: MarkSource, from: Vec2, to: Vec2): Mark {
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const ux = (to[0] - from[0]) / size,
    uy = (to[1] - from[1]) / size;
  const back: Vec2 = [to[0] - ux * ARROW, to[1] - uy * ARROW];
  return {
    kind: 'path',
    source,
    points: [to, [back[0] - uy * HALF, back[1] + ux * HALF], [back[0] + uy * HALF, back[1] - ux * HALF]],
    closed: true,
    pen: 0,
    filled: true,
  };
}
