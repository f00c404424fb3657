import { applyToDirection, applyToPoint, hypot, type Box2, type Vec2, type Vec3 } from '../../geometry/index.ts';
import { viewPlacement } from '../../views/index.ts';
import { alignedCuts, type CutPath } from '../../sections/index.ts';
import type { SheetView } from '../records.ts';
import { usualSectionLook, type SectionLook } from '../section.ts';
import type { LaidView } from './laidView.ts';

/** A cutting line as it lies on the view that shows it; paper mm. */
export interface LaidCuttingLine {
  /** Id of the section. */
  readonly section: string;
  /** Id of the view on which it lies. */
  readonly on: string;
  readonly letter: string;
  /** From end to end. */
  readonly points: readonly Vec2[];
  /** At each end that has one: the way that one looks. */
  readonly arrows: readonly { readonly tail: Vec2; readonly tip: Vec2 }[];
  /** Middle of the letter at each end. */
  readonly letters: readonly Vec2[];
  /** Their height; mm. */
  readonly lettering: number;
  readonly box: Box2;
  /** Around what stands at each of its ends. */
  readonly endBoxes: readonly Box2[];
}

/** Length of an arrow with its head; mm. */
const ARROW_LENGTH = 10;
/** Sight along which a cutting line lies on a view; sine. */
const ALONG_SIGHT = 1e-3;

/** The cutting line of a section on a view; null where that is not seen along it, or there is none. */
export function cuttingLineOn(
  section: SheetView,
  laid: Pick<LaidView, 'view' | 'toPaper'>,
  { lettering, arrows: where }: SectionLook = usualSectionLook,
): LaidCuttingLine | null {
  const { path, letter = '', of } = section.section ?? {};
  if (!path || of !== laid.view.id) return null;
  const seen = onPaper(path, laid);
  if (!seen) return null;
  const { points, sights } = seen;
  const ends = [0, points.length - 1].map((at) => {
    const [end, next] = [points[at], points[at === 0 ? 1 : at - 1]];
    const sight = sights[at === 0 ? 0 : 1];
    const way: Vec2 = [next[0] - end[0], next[1] - end[1]];
    // The end of a half section runs the way that one looks: an arrow would lie on the line.
    const runsAlong = Math.abs(way[0] * sight[1] - way[1] * sight[0]) < 1e-6 * hypot(...way);
    return { end, sight, hasArrow: !runsAlong };
  });
  // Arrows and letters stand behind the line as one looks, or before it.
  const side = where === 'onto' ? -1 : 1;
  const off = ({ end: [x, y], sight }: (typeof ends)[number], far: number): Vec2 => [
    x + side * sight[0] * far,
    y + side * sight[1] * far,
  ];
  const arrows = ends.flatMap((one) => {
    if (!one.hasArrow) return [];
    const far = off(one, ARROW_LENGTH);
    return [where === 'onto' ? { tail: far, tip: one.end } : { tail: one.end, tip: far }];
  });
  const letters = ends.map((one) => off(one, (one.hasArrow ? ARROW_LENGTH : 0) + lettering * 0.8));
  const boxOf = (around: readonly Vec2[]): Box2 => {
    const half = lettering * 0.6;
    const [xs, ys] = [around.map(([x]) => x), around.map(([, y]) => y)];
    return [Math.min(...xs) - half, Math.min(...ys) - half, Math.max(...xs) + half, Math.max(...ys) + half];
  };
  return {
    section: section.id,
    on: laid.view.id,
    letter,
    points,
    arrows,
    letters,
    lettering,
    box: boxOf([...points, ...letters]),
    endBoxes: ends.map(({ end }, at) => boxOf([end, letters[at]])),
  };
}

function onPaper(
  path: CutPath,
  { view, toPaper }: Pick<LaidView, 'view' | 'toPaper'>,
): { points: Vec2[]; sights: readonly [first: Vec2, last: Vec2] } | null {
  const placement = viewPlacement(view.direction);
  const along = applyToDirection(placement, path.along);
  if (hypot(along[0], along[1]) > ALONG_SIGHT) return null;
  // On paper y runs down; one looks away from where one stands.
  const sight = (towards: Vec3): Vec2 => {
    const [x, y] = applyToDirection(placement, towards);
    return [-x, y];
  };
  return {
    points: path.points.map((point): Vec2 => {
      const [u, v] = applyToPoint(placement, point);
      return toPaper(u, v);
    }),
    sights: [sight(path.towards), sight(alignedCuts(path)?.turn.towards ?? path.towards)],
  };
}
