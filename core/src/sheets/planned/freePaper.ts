import { boxHeight, boxWidth, type Box2, type Vec2 } from '../../geometry/index.ts';
import type { SheetLayout } from '../laid/layout.ts';
import { obstaclesOf } from './plan.ts';

/** Kept free around what is there: arrows of cutting lines and letters stand beside views. mm */
const BESIDE = 12,
  AROUND_BALLOON = 3;
/** Free paper is looked for in squares of this side; mm. */
const SQUARE = 5;

/** The largest free room of a sheet beside what it shows: views, captions, balloons, lists and title block; null where there is none. */
export function freeRoom(layout: SheetLayout): Box2 | null {
  const grown = ([x0, y0, x1, y1]: Box2, by: number): Box2 => [x0 - by, y0 - by, x1 + by, y1 + by];
  return largestFree(layout.frame, [
    ...obstaclesOf(layout),
    ...layout.views.flatMap(({ box, captionBox }) => [grown(box, BESIDE), ...(captionBox ? [captionBox] : [])]),
    ...layout.balloons.flatMap(({ box, leader }) => [
      grown(box, AROUND_BALLOON),
      ...(leader.length > 0 ? [boxAround(leader)] : []),
    ]),
  ]);
}

const boxAround = (points: readonly Vec2[]): Box2 => [
  Math.min(...points.map(([x]) => x)),
  Math.min(...points.map(([, y]) => y)),
  Math.max(...points.map(([x]) => x)),
  Math.max(...points.map(([, y]) => y)),
];

/**
 * The largest room of a frame that holds no obstacle, whole squares alone; of two as large the less narrow one.
 * Time: rows² × columns of squares, however many obstacles there are.
 */
export function largestFree(frame: Box2, obstacles: readonly Box2[]): Box2 | null {
  const columns = Math.floor(boxWidth(frame) / SQUARE),
    rows = Math.floor(boxHeight(frame) / SQUARE);
  const isTaken = new Uint8Array(columns * rows);
  for (const [x0, y0, x1, y1] of obstacles)
    for (let row = Math.max(0, squareAt(y0 - frame[1])); row < rows && frame[1] + row * SQUARE < y1; row++)
      for (let column = Math.max(0, squareAt(x0 - frame[0])); column < columns; column++) {
        if (frame[0] + column * SQUARE >= x1) break;
        isTaken[row * columns + column] = 1;
      }
  let best: Box2 | null = null,
    most = 0;
  for (let top = 0; top < rows; top++) {
    const band = new Uint8Array(columns);
    for (let row = top; row < rows; row++) {
      let from = 0;
      for (let column = 0; column <= columns; column++) {
        if (column < columns && !(band[column] ||= isTaken[row * columns + column])) continue;
        const [width, height] = [column - from, row + 1 - top];
        // A long narrow room holds a view badly: its shorter side counts more.
        const worth = width * height * Math.min(width, height);
        if (worth > most) {
          most = worth;
          best = [from, top, column, row + 1].map((square, at) => frame[at % 2] + square * SQUARE) as unknown as Box2;
        }
        from = column + 1;
      }
    }
  }
  return best;
}
const squareAt = (mm: number): number => Math.floor(mm / SQUARE);

/**
 * Where in a free room a picture stands: in the corner of it that is farthest out, as large as it may be.
 * @param least width and height without which there is no picture; mm
 * @param most the same that it takes at most; mm
 * @returns null where the room is too small
 */
export function cellIn(room: Box2, frame: Box2, least: number, most: number): Box2 | null {
  const [width, height] = [Math.min(boxWidth(room), most), Math.min(boxHeight(room), most)];
  if (width < least || height < least) return null;
  const isRight = room[0] + room[2] > frame[0] + frame[2],
    isBelow = room[1] + room[3] > frame[1] + frame[3];
  const x = isRight ? room[2] - width : room[0],
    y = isBelow ? room[3] - height : room[1];
  return [x, y, x + width, y + height];
}
