import type { Vec2 } from '../geometry/index.ts';

/** Corners of a wavy border: round at any scale that a sheet has. */
const CORNERS = 120;
/** How far it swings to either side, as a share of the smaller half side, and how often on its way round. */
const SWINGS = [
  { share: 0.03, times: 5, from: 0.4 },
  { share: 0.012, times: 9, from: 2.1 },
] as const;
/** Between an ellipse (2) and a box (the more, the squarer). */
const SQUARENESS = 3.2;

/**
 * The border of a piece that is cut open as it is drawn by hand (ISO 128-2, line 01.1: limit of a local section): closed,
 * anticlockwise, within the box of these half sides. The same piece has the same border each time.
 */
export function wavyBorder([x, y]: Vec2, [halfX, halfY]: Vec2): Vec2[] {
  const most = SWINGS.reduce((sum, { share }) => sum + share, 0);
  const swing = Math.min(halfX, halfY);
  return Array.from({ length: CORNERS }, (_, at): Vec2 => {
    const turn = (2 * Math.PI * at) / CORNERS;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const reach = (Math.abs(c) ** SQUARENESS + Math.abs(s) ** SQUARENESS) ** (-1 / SQUARENESS);
    const wave = SWINGS.reduce((sum, { share, times, from }) => sum + share * Math.sin(times * turn + from), -most);
    return [x + c * (reach * halfX + wave * swing), y + s * (reach * halfY + wave * swing)];
  });
}
