import { chainsOf } from './chains.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { asideOf, visibleLines, type ViewLines } from '../records.ts';

/** Between the middles of two parallel strokes, in pens: nearer ones leave no white between them that prints. */
const NEAREST = 1.5;
/** What is left of a longer line is left out where it is shorter than this; in gaps. */
const CRUMB = 2;

const known = new WeakMap<ViewLines, { readonly pen: number; readonly lines: ViewLines }>();

/**
 * The visible lines that a pen can print without clotting: of two that run along each other nearer than the pen is wide,
 * the lesser is left out (a tangent edge beside a full line, else the shorter line, such as the inner rim beside the outer
 * one), also crumbs of it where it strays a little farther off. Kept for the pen asked for last, since a sheet asks at
 * every move of the pointer.
 * @param pen width of the pen in mm at the scale of the lines (1:1)
 */
export function linesForPen(lines: ViewLines, pen: number): ViewLines {
  const before = known.get(lines);
  if (before?.pen === pen) return before.lines;
  const made = thinOut(visibleLines(lines), NEAREST * pen);
  known.set(lines, { pen, lines: made });
  return made;
}

/** A piece that knows how long the line is that it is part of. */
interface Stroke extends Piece {
  own: number;
}

function thinOut(lines: ViewLines, gap: number): ViewLines {
  const { ends, depths, kinds, occurrences, paths, box } = lines;
  const pieces = Array.from(kinds, (kind, at): Stroke => ({
    x1: ends[at * 4],
    y1: ends[at * 4 + 1],
    x2: ends[at * 4 + 2],
    y2: ends[at * 4 + 3],
    z1: depths[at * 2],
    z2: depths[at * 2 + 1],
    kind,
    visible: true,
    body: occurrences[at],
    sagitta: 0,
    own: 0,
  }));
  chainsOf(pieces, true).lengths.forEach((own, at) => (pieces[at].own = own));
  // Where edges of two bodies lie on one another, pieces of either are drawn: one line to the eye.
  const { lengths, places } = chainsOf(pieces, false);
  // By whole lines, each from end to end, so that of two side by side one stays all along, instead of pieces of either,
  // also where both are one line: the rims of a thin disc, which go on into one another around its edge.
  const longerFirst = (one: number, other: number) => lengths[other] - lengths[one] || places[one] - places[other];
  const left = overlayPieces(pieces, gap, gap / 2, longerFirst);
  const runs = chainsOf(left, false).lengths;
  const kept = left.filter(({ own }, at) => runs[at] >= Math.min(CRUMB * gap, own / 4));
  return {
    ends: Float64Array.from(kept.flatMap(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2])),
    depths: Float64Array.from(kept.flatMap(({ z1, z2 }) => [z1, z2])),
    kinds: Uint8Array.from(kept, ({ kind }) => kind),
    visible: new Uint8Array(kept.length).fill(1),
    occurrences: Int32Array.from(kept, ({ body }) => body),
    paths,
    box,
    ...asideOf(lines),
  };
}
