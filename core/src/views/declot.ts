import { hypot, Places } from '../geometry/index.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { asideOf, visibleLines, type ViewLines } from './records.ts';

/** Between the middles of two parallel strokes, in pens: nearer ones leave no white between them that prints. */
const NEAREST = 1.5;
/** Pieces that meet at a point and turn by less than this are one line; cosine. */
const COS_GOES_ON = Math.cos((30 * Math.PI) / 180);

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

const sizeOf = ({ x1, y1, x2, y2 }: Piece): number => hypot(x2 - x1, y2 - y1);

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
  const sizes = Float64Array.from(pieces, sizeOf);
  lineLengths(pieces, true).forEach((own, at) => (pieces[at].own = own));
  // Where edges of two bodies lie on one another, pieces of either are drawn: one line to the eye.
  const lengths = lineLengths(pieces, false);
  // By whole lines, so that of two side by side one stays all along, instead of pieces of either; of the sides of a thin
  // rod, which its ends join, the longer piece.
  const longerFirst = (one: number, other: number) => lengths[other] - lengths[one] || sizes[other] - sizes[one];
  const left = overlayPieces(pieces, gap, gap / 2, longerFirst);
  const runs = lineLengths(left, false);
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

/** Ends this close meet; mm. */
const SAME_END = 1e-4;

/**
 * For each piece the length of the line that it is part of: pieces that go on into one another.
 * @param byBody whether only pieces of one body do
 */
function lineLengths(pieces: readonly Piece[], byBody: boolean): Float64Array {
  const parent = Int32Array.from(pieces, (_, at) => at);
  const rootOf = (at: number): number => {
    while (parent[at] !== at) at = parent[at] = parent[parent[at]];
    return at;
  };
  const ends = new Places(pieces.length * 2);
  pieces.forEach((piece, at) => {
    const body = byBody ? piece.body : 0;
    const meet = (x: number, y: number) => {
      const before = ends.add(Math.round(x / SAME_END), Math.round(y / SAME_END), body);
      for (let end = before; end >= 0; end = ends.before[end])
        if (goesOn(piece, pieces[end >> 1])) parent[rootOf(at)] = rootOf(end >> 1);
    };
    meet(piece.x1, piece.y1);
    meet(piece.x2, piece.y2);
  });
  const sums = new Float64Array(pieces.length);
  pieces.forEach((piece, at) => (sums[rootOf(at)] += sizeOf(piece)));
  return sums.map((_, at) => sums[rootOf(at)]);
}

/** Whether two pieces with a common end run on in about one direction, forwards or back. */
function goesOn(one: Piece, other: Piece): boolean {
  const along = (one.x2 - one.x1) * (other.x2 - other.x1) + (one.y2 - one.y1) * (other.y2 - other.y1);
  return Math.abs(along) >= COS_GOES_ON * sizeOf(one) * sizeOf(other);
}
