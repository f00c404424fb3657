import { hypot, type Vec2 } from '../../geometry/index.ts';
import { lineKinds } from '../records.ts';
import { chainsOf, piecesNear, TOUCHES, type LinePiece } from './chains.ts';

/** Tangent edges end so far short of full lines; in pens: 1 mm for a pen of 0.5 mm. */
const SHORT = 2;
/** From so many of that on, they are long enough to be shortened at both ends. */
const LONG_ENOUGH = 4;

interface Stroke extends LinePiece {
  /** Index into `lineKinds`. */
  readonly kind: number;
}

/**
 * Tangent edges as the narrow pen draws them: they end short of the full lines that they run into, so that a rounding does not
 * read as an edge. Source: ISO 128-3:2022, imaginary intersections do not touch outlines.
 * @param strokes all visible lines
 * @param pen of full lines, in mm at the scale of the lines
 * @returns x1, y1, x2, y2 each
 */
export function shortTangents(strokes: readonly Stroke[], pen: number): Float64Array {
  const isTangent = ({ kind }: Stroke) => lineKinds[kind] === 'tangent';
  const tangents = strokes.filter(isTangent);
  if (tangents.length === 0) return new Float64Array(0);
  const fullNear = piecesNear(
    strokes.filter((stroke) => !isTangent(stroke)),
    TOUCHES * pen,
  );
  const meetsFull = ([x, y]: Vec2) => fullNear(x, y).length > 0;
  const { lines, places, lengths } = chainsOf(tangents, false);
  const chains = new Map<number, number[]>();
  for (const piece of Array.from(tangents.keys()).sort((a, b) => places[a] - places[b])) {
    const chain = chains.get(lines[piece]);
    if (chain) chain.push(piece);
    else chains.set(lines[piece], [piece]);
  }
  const ends: number[] = [];
  for (const chain of chains.values()) {
    const points = pointsAlong(chain.map((piece) => tangents[piece]));
    const gap = lengths[chain[0]] >= LONG_ENOUGH * SHORT * pen ? SHORT * pen : 0;
    const from = meetsFull(points[0]) ? gap : 0,
      to = meetsFull(points[points.length - 1]) ? gap : 0;
    const left = withoutStart(withoutStart(points, from).toReversed(), to);
    for (let at = 1; at < left.length; at++) ends.push(...left[at - 1], ...left[at]);
  }
  return Float64Array.from(ends);
}

/** The corners of a line whose pieces follow one another, whichever way each runs. */
function pointsAlong(pieces: readonly LinePiece[]): Vec2[] {
  const [first, second] = pieces;
  const far = (x: number, y: number, { x1, y1, x2, y2 }: LinePiece) =>
    Math.min(hypot(x - x1, y - y1), hypot(x - x2, y - y2));
  const turned = second && far(first.x1, first.y1, second) < far(first.x2, first.y2, second);
  const points: Vec2[] = [turned ? [first.x2, first.y2] : [first.x1, first.y1]];
  for (const { x1, y1, x2, y2 } of pieces) {
    const [x, y] = points[points.length - 1];
    points.push(hypot(x - x1, y - y1) <= hypot(x - x2, y - y2) ? [x2, y2] : [x1, y1]);
  }
  return points;
}

/** The line without so much of it at its beginning. */
function withoutStart(points: readonly Vec2[], by: number): readonly Vec2[] {
  if (by === 0) return points;
  let left = by;
  for (let at = 1; at < points.length; at++) {
    const [[x1, y1], [x2, y2]] = [points[at - 1], points[at]];
    const size = hypot(x2 - x1, y2 - y1);
    if (size > left) {
      const share = left / size;
      return [[x1 + share * (x2 - x1), y1 + share * (y2 - y1)], ...points.slice(at)];
    }
    left -= size;
  }
  return [];
}
