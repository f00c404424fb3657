import type { Box2, Vec2 } from '../geometry/index.ts';
import type { SheetLayout } from './layout.ts';

/** A hairline that shows what a dragged thing is in line with. */
export interface Guide {
  /** `x` for an upright line, `y` for a level one. */
  readonly axis: 'x' | 'y';
  /** mm on paper. */
  readonly at: number;
}

/**
 * Where a dragged view comes to lie: in line with another view or the drawing space by middle or edge, where one of them
 * is near; each way by itself.
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
  const along = (at: 0 | 1): number => {
    const half = (own.box[at + 2] - own.box[at]) / 2;
    const places = (box: Box2) => [(box[at] + box[at + 2]) / 2, box[at], box[at + 2]];
    let best: { readonly by: number; readonly line: number } | null = null;
    for (const line of others.flatMap(places))
      for (const edge of [0, -half, half]) {
        const by = line - (centre[at] + edge);
        if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-9)) best = { by, line };
      }
    if (!best) return centre[at];
    guides.push({ axis: at === 0 ? 'x' : 'y', at: best.line });
    return centre[at] + best.by;
  };
  return { centre: [along(0), along(1)], guides };
}
