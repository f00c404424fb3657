import type { Box2, Vec2 } from '../../geometry/index.ts';
import type { ViewLines } from '../../views/index.ts';
import type { SheetView } from '../records.ts';

/** Where a view lies on paper; mm. */
export interface LaidView {
  readonly view: SheetView;
  readonly lines: ViewLines;
  /** What of them is drawn at this scale with this sheet's pens; dear to find, and only drawing asks for it. */
  readonly drawn: () => ViewLines;
  readonly box: Box2;
  /** Convex outline on paper. */
  readonly hull: readonly Vec2[];
  readonly toPaper: (x: number, y: number) => Vec2;
  /** What stands below it; nothing where empty. */
  readonly captionText: string;
  /** Middle of that text. */
  readonly captionAt: Vec2;
  /** Around it; null without one. */
  readonly captionBox: Box2 | null;
}
