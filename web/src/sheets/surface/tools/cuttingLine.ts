import type { Box2, Vec2 } from '../../../../../core/src/geometry/index.ts';
import {
  placeSection,
  sectionAlong,
  type LaidView,
  type Paper,
  type Projection,
  type SheetView,
} from '../../../../../core/src/sheets/index.ts';
import type { ViewLines } from '../../../../../core/src/views/index.ts';

/** Within this of level or upright a stretch is; sine. */
const NEARLY = 0.07;

/** A point brought level or upright with the one before, where it nearly is. */
export function straightened([x, y]: Vec2, last: Vec2 | null): Vec2 {
  if (!last) return [x, y];
  const [dx, dy] = [Math.abs(x - last[0]), Math.abs(y - last[1])];
  return dy < dx * NEARLY ? [x, last[1]] : dx < dy * NEARLY ? [last[0], y] : [x, y];
}

/** A point of the paper on the view plane of a view. */
export function fromPaper({ toPaper, view: { scale } }: Pick<LaidView, 'toPaper' | 'view'>, [x, y]: Vec2): Vec2 {
  const [x0, y0] = toPaper(0, 0);
  return [(x - x0) / scale, (y0 - y) / scale];
}

interface SectionMeans {
  readonly id: string;
  readonly projection: Projection;
  readonly paper: Paper;
  /** What it would lie over; mm of the paper. */
  readonly taken: readonly Box2[];
  readonly draw: (view: SheetView) => Promise<ViewLines>;
}

/**
 * The section along a line that was drawn on a view, beside it.
 * @param points of the paper
 * @throws Error with a sentence where it cannot be
 */
export async function madeSection(
  laid: LaidView,
  points: readonly Vec2[],
  views: readonly SheetView[],
  { id, draw, ...room }: SectionMeans,
): Promise<SheetView> {
  const line = points.map((point) => fromPaper(laid, point));
  const made = sectionAlong(laid.view, line, views, id);
  if (typeof made === 'string') throw new Error(made);
  const drawn = await draw(made);
  if (drawn.kinds.length === 0)
    throw new Error('This line takes the whole machine away; look at it from the other side.');
  return placeSection(made, laid.view, { lines: laid.lines, drawn }, room);
}
