import { hypot, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { ViewAxes, ViewCuts, ViewLines } from '../records.ts';
import { shareWithin } from '../scene/window.ts';
import { cutAreas, packedCuts, sharedBy } from './cutAreas.ts';
import { axesKept, linesKept, spotsKept } from './keptParts.ts';
import type { Spots } from './spots.ts';

/** A round or upright piece of a view. */
export interface Region {
  /** On the view plane; mm. */
  readonly centre: Vec2;
  /** Of the circle; where it is a box, of the circle around that. mm at 1:1. */
  readonly radius: number;
  /** Half the width and half the height where it is a box; mm at 1:1. */
  readonly half?: Vec2;
}

/** The box around a piece of a view. */
export const regionBox = ({ centre: [x, y], radius, half = [radius, radius] }: Region): Box2 => [
  x - half[0],
  y - half[1],
  x + half[0],
  y + half[1],
];

/** How far inside the border of a piece a point lies; negative outside. */
function depthIn({ centre: [cx, cy], radius, half }: Region, x: number, y: number): number {
  return half ? Math.min(half[0] - Math.abs(x - cx), half[1] - Math.abs(y - cy)) : radius - Math.hypot(x - cx, y - cy);
}

const known = new WeakMap<ViewLines, Map<string, ViewLines>>();
/** A page asks at every move of the pointer, and a dragged region is another one each time. */
const KEPT = 8;

/** The lines of a view as far as they lie in a piece of it; its box is that of the piece. Kept with the lines. */
export function linesWithin(lines: ViewLines, region: Region): ViewLines {
  let made = known.get(lines);
  if (!made) known.set(lines, (made = new Map()));
  const name = JSON.stringify([region.centre, region.radius, region.half]);
  const before = made.get(name);
  if (before) return before;
  const clipped = clip(lines, region);
  made.set(name, clipped);
  for (const old of [...made.keys()].slice(0, -KEPT)) made.delete(old);
  return clipped;
}

function clip(lines: ViewLines, region: Region): ViewLines {
  return {
    ...linesKept(lines, (ends, at) => {
      const share = within(ends, at, region);
      return share ? [share] : [];
    }),
    box: regionBox(region),
    ...clipAxes(lines, region),
    ...clipCuts(lines, region),
    // Clipped where it is drawn.
    ...(lines.shade && lines.shadeBox ? { shade: lines.shade, shadeBox: lines.shadeBox } : {}),
  };
}

const ROUND = 96; // corners of a round piece

/** What of cut faces lies in the piece. */
function clipCuts(lines: ViewLines, region: Region): Partial<ViewCuts> {
  if (!lines.cutOccurrences) return {};
  const { centre, radius, half } = region;
  const [x0, y0, x1, y1] = regionBox(region);
  const border = half
    ? [[x0, y0] as Vec2, [x1, y0] as Vec2, [x1, y1] as Vec2, [x0, y1] as Vec2]
    : Array.from({ length: ROUND }, (_, at): Vec2 => {
        const turn = (2 * Math.PI * at) / ROUND;
        return [centre[0] + radius * Math.cos(turn), centre[1] + radius * Math.sin(turn)];
      });
  const size = hypot(x1 - x0, y1 - y0);
  const { cutOpen, cutWhole } = lines;
  return {
    ...packedCuts(
      cutAreas(lines).map((rings) => sharedBy(rings, [border], size)),
      lines,
    ),
    ...(cutOpen ? { cutOpen } : {}),
    ...(cutWhole ? { cutWhole } : {}),
  };
}

/** Axes that lie in the piece altogether: of others there would be no end to be seen. */
function clipAxes(lines: ViewLines, region: Region): Partial<ViewAxes> {
  const inside = (at: number) => depthIn(region, lines.axisEnds![at], lines.axisEnds![at + 1]) >= 0;
  return axesKept(lines, (axis) => inside(axis * 6) && inside(axis * 6 + 3));
}

/** Which part (0..1) of a stretch lies in the piece; null where none does. */
function within(ends: Float64Array, at: number, { centre: [cx, cy], radius, half }: Region): [number, number] | null {
  const x = ends[at] - cx,
    y = ends[at + 1] - cy;
  const dx = ends[at + 2] - ends[at],
    dy = ends[at + 3] - ends[at + 1];
  if (half) return shareWithin(x, y, dx, dy, half);
  // |p + t d|² = r²
  const a = dx * dx + dy * dy,
    b = x * dx + y * dy,
    c = x * x + y * y - radius * radius;
  if (a === 0) return null;
  const square = b * b - a * c;
  if (square <= 0) return null;
  const root = Math.sqrt(square);
  const from = Math.max(0, (-b - root) / a),
    to = Math.min(1, (-b + root) / a);
  return from < to ? [from, to] : null;
}

/** The spots of a view that lie in a piece of it; nothing has more room than there is to its border. */
export const spotsWithin = (spots: Spots, region: Region): Spots => spotsKept(spots, (x, y) => depthIn(region, x, y));
