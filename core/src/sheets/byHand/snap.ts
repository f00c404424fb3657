import type { Box2, Vec2 } from '../../geometry/index.ts';
import type { SheetLayout } from '../laid/layout.ts';

/** A hairline that shows what a dragged thing is in line with, or one of the gaps that have become equal. */
export interface Guide {
  /** `x` for an upright line, `y` for a level one; of a gap `x` where it lies across. */
  readonly axis: 'x' | 'y';
  /** Of the line; of a gap where it is shown on the other axis. mm on paper. */
  readonly at: number;
  /** Where it is a gap: from where to where. */
  readonly gap?: readonly [number, number];
}

/**
 * Where a dragged view comes to lie: in line with another view or the drawing space by middle or edge, where one of them
 * is near, else at a gap that other views have too; each way by itself.
 * @param centre where the pointer has it; mm
 * @param reach how near is near; mm
 */
export function snapView(
  { views, frame }: Pick<SheetLayout, 'views' | 'frame'>,
  view: string,
  centre: Vec2,
  reach: number,
): { readonly centre: Vec2; readonly guides: readonly Guide[] } {
  const own = views.find((laid) => laid.view.id === view);
  if (!own) return { centre, guides: [] };
  const others = [frame, ...views.filter((laid) => laid !== own).map(({ box }) => box)];
  const guides: Guide[] = [];
  /** As far from a neighbour as that is from the next one, or half way between two; nothing where neither is near. */
  const evenly = (at: 0 | 1, half: number): number | null => {
    const across = at === 0 ? 1 : 0;
    const halfAcross = (own.box[across + 2] - own.box[across]) / 2;
    // Beside it or above it, not somewhere else on the sheet.
    const beside = views
      .filter((laid) => laid !== own)
      .map(({ box }) => box)
      .filter((box) => box[across] < centre[across] + halfAcross && box[across + 2] > centre[across] - halfAcross)
      .sort((a, b) => a[at] - b[at]);
    let best: { readonly to: number; readonly gaps: readonly (readonly [number, number])[] } | null = null;
    const offer = (to: number, gap: number, ...gaps: readonly (readonly [number, number])[]) => {
      const isNear = gap > 0 && Math.abs(to - centre[at]) <= reach;
      if (isNear && (!best || Math.abs(to - centre[at]) < Math.abs(best.to - centre[at]) - 1e-9)) best = { to, gaps };
    };
    beside.slice(1).forEach((second, index) => {
      const [low, high] = [beside[index][at + 2], second[at]];
      const gap = high - low;
      offer(second[at + 2] + gap + half, gap, [low, high], [second[at + 2], second[at + 2] + gap]);
      offer(beside[index][at] - gap - half, gap, [beside[index][at] - gap, beside[index][at]], [low, high]);
      const middle = (low + high) / 2;
      offer(middle, gap / 2 - half, [low, middle - half], [middle + half, high]);
    });
    const found = best as { readonly to: number; readonly gaps: readonly (readonly [number, number])[] } | null;
    if (!found) return null;
    for (const gap of found.gaps) guides.push({ axis: at === 0 ? 'x' : 'y', at: centre[across], gap });
    return found.to;
  };
  const along = (at: 0 | 1): number => {
    const half = (own.box[at + 2] - own.box[at]) / 2;
    const places = (box: Box2) => [(box[at] + box[at + 2]) / 2, box[at], box[at + 2]];
    let best: { readonly by: number; readonly line: number } | null = null;
    for (const line of others.flatMap(places))
      for (const edge of [0, -half, half]) {
        const by = line - (centre[at] + edge);
        if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-9)) best = { by, line };
      }
    if (!best) return evenly(at, half) ?? centre[at];
    guides.push({ axis: at === 0 ? 'x' : 'y', at: best.line });
    return centre[at] + best.by;
  };
  return { centre: [along(0), along(1)], guides };
}
