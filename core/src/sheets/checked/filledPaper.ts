import { distanceToStretch, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { SheetLayout } from '../laid/layout.ts';

/** Paper so near to something is in use: a view needs air. mm */
const NEAR = 15;
/** Paper is looked at in squares of this side; mm. */
const SQUARE = 5;

/**
 * Share of a sheet's drawing area, the title block left out, that lies within 15 mm of a view, caption, list or balloon.
 * @returns 0 to 1; 0 where the title block takes it all
 */
export function filledShare({
  frame,
  titleBlock,
  views,
  tables,
  balloons,
}: Pick<SheetLayout, 'frame' | 'titleBlock' | 'views' | 'tables' | 'balloons'>): number {
  const boxes = [
    ...views.flatMap(({ captionBox }): Box2[] => (captionBox ? [captionBox] : [])),
    ...tables.flatMap(({ measured }) => measured.strips.map(({ box }) => box)),
    ...balloons.map(({ box }) => box),
  ];
  const shapes = [...views.map(({ hull }) => hull), ...boxes.map(cornersOf)];
  let all = 0,
    used = 0;
  for (let x = frame[0] + SQUARE / 2; x < frame[2]; x += SQUARE)
    for (let y = frame[1] + SQUARE / 2; y < frame[3]; y += SQUARE) {
      if (x > titleBlock[0] && x < titleBlock[2] && y > titleBlock[1] && y < titleBlock[3]) continue;
      all++;
      if (shapes.some((shape) => distanceToConvex([x, y], shape) <= NEAR)) used++;
    }
  return all === 0 ? 0 : used / all;
}

const cornersOf = ([x0, y0, x1, y1]: Box2): readonly Vec2[] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** Of a point from a convex polygon; 0 inside. */
function distanceToConvex(point: Vec2, corners: readonly Vec2[]): number {
  let least = Infinity,
    sides = 0;
  corners.forEach((from, at) => {
    const to = corners[(at + 1) % corners.length];
    sides += Math.sign((to[0] - from[0]) * (point[1] - from[1]) - (to[1] - from[1]) * (point[0] - from[0]));
    least = Math.min(least, distanceToStretch(point, from, to));
  });
  return corners.length > 2 && Math.abs(sides) === corners.length ? 0 : least;
}
