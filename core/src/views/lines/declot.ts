import { hypot } from '../../geometry/index.ts';
import { chainsOf, piecesNear, TOUCHES } from './chains.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { shortTangents } from './tangents.ts';
import { asideOf, visibleLines, type ViewLines } from '../records.ts';

/** Between the middles of two parallel strokes, in pens: nearer ones leave no white between them that prints. */
const NEAREST = 1.5;
/** Strokes nearer than this are one stroke on paper: what is cut there still touches what covers it. In pens. */
const ONE_STROKE = 0.6;
/** An inner line is left out as a whole where at least this share of it runs too near along others. */
const MOST_BESIDE = 0.8;
/** Of what is smaller than this on paper only the outline is drawn; in pens. */
const SMALLEST = 6;
/** What stands alone and is shorter is left out; in pens. */
const CRUMB = 3;

const known = new WeakMap<ViewLines, { readonly pen: number; readonly lines: ViewLines }>();

/**
 * The visible lines that a pen can print without clotting. Lines that bound what is seen of an occurrence stay, all of them:
 * no outline is opened. Of the others those are left out, each as a whole, that run along a line nearer than the pen is wide
 * (a tangent edge beside a full line, else the shorter line, such as the inner rim beside the outer one), and all of what is
 * very small; and what is no more than a speck. Kept for the pen asked for last, since a sheet asks at every move of the
 * pointer.
 * @param pen width of the pen in mm at the scale of the lines (1:1)
 */
export function linesForPen(lines: ViewLines, pen: number): ViewLines {
  const before = known.get(lines);
  if (before?.pen === pen) return before.lines;
  const made = thinOut(visibleLines(lines), pen);
  known.set(lines, { pen, lines: made });
  return made;
}

/** A piece that knows of the line that it is part of. */
interface Stroke extends Piece {
  /** Index among all strokes. */
  readonly at: number;
}

function thinOut(lines: ViewLines, pen: number): ViewLines {
  const strokes = strokesOf(lines);
  const small = smallOnes(strokes, SMALLEST * pen);
  const shown = strokes.filter(({ isContour, body }) => isContour || !small.has(body));
  // Where edges of two bodies lie on one another, pieces of either are drawn: one line to the eye.
  const { lengths, places, lines: lineOf } = chainsOf(shown, false);
  // By whole lines, each from end to end, so that of two side by side one stays all along, instead of pieces of either,
  // also where both are one line: the rims of a thin disc, which go on into one another around its edge.
  const outline = Uint8Array.from(shown, ({ isContour }) => (isContour ? 1 : 0));
  const order = Uint32Array.from(shown.keys()).sort(
    (one, other) => outline[other] - outline[one] || lengths[other] - lengths[one] || places[one] - places[other],
  );
  const rank = new Int32Array(strokes.length);
  order.forEach((index, at) => (rank[shown[index].at] = at));
  const byRank = (all: readonly Stroke[]) => {
    const own = Int32Array.from(all, ({ at }) => rank[at]);
    return (one: number, other: number) => own[one] - own[other];
  };
  const left = lengthsLeft(overlayPieces(shown, NEAREST * pen, 0.1 * pen, byRank(shown)));
  const beside = wholeLinesBeside(shown, lineOf, left);
  const sound = shown.filter(({ at }) => !beside.has(at));
  const kept = withoutSpecks(overlayPieces(sound, ONE_STROKE * pen, 0.1 * pen, byRank(sound)), pen);
  return {
    ends: Float64Array.from(kept.flatMap(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2])),
    depths: Float64Array.from(kept.flatMap(({ z1, z2 }) => [z1, z2])),
    kinds: Uint8Array.from(kept, ({ kind }) => kind),
    visible: new Uint8Array(kept.length).fill(1),
    outer: Uint8Array.from(kept, ({ isContour }) => (isContour ? 1 : 0)),
    occurrences: Int32Array.from(kept, ({ body }) => body),
    paths: lines.paths,
    box: lines.box,
    smoothEnds: shortTangents(kept, pen),
    ...asideOf(lines),
  };
}

const strokesOf = ({ ends, depths, kinds, occurrences, outer }: ViewLines): Stroke[] =>
  Array.from(kinds, (kind, at): Stroke => ({
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
    isContour: outer?.[at] === 1,
    at,
  }));

const sizeOf = ({ x1, y1, x2, y2 }: Piece): number => hypot(x2 - x1, y2 - y1);

/** Occurrences of which so little is seen, across and up, that only its outline can be read. */
function smallOnes(strokes: readonly Stroke[], most: number): Set<number> {
  const boxes = new Map<number, [number, number, number, number]>();
  const outlined = new Set<number>();
  for (const { x1, y1, x2, y2, body, isContour } of strokes) {
    if (isContour) outlined.add(body);
    const box = boxes.get(body) ?? [Infinity, Infinity, -Infinity, -Infinity];
    boxes.set(body, [
      Math.min(box[0], x1, x2),
      Math.min(box[1], y1, y2),
      Math.max(box[2], x1, x2),
      Math.max(box[3], y1, y2),
    ]);
  }
  const isSmall = ([x0, y0, x1, y1]: readonly number[]) => Math.max(x1 - x0, y1 - y0) < most;
  return new Set([...boxes].flatMap(([body, box]) => (outlined.has(body) && isSmall(box) ? [body] : [])));
}

/** How much of each stroke is left, by its index among all. */
function lengthsLeft(pieces: readonly Stroke[]): Map<number, number> {
  const left = new Map<number, number>();
  for (const piece of pieces) left.set(piece.at, (left.get(piece.at) ?? 0) + sizeOf(piece));
  return left;
}

/**
 * Strokes of lines most of which run too near along others, as far as they bound nothing.
 * @param lineOf which whole line each is part of
 */
function wholeLinesBeside(
  strokes: readonly Stroke[],
  lineOf: Int32Array,
  left: ReadonlyMap<number, number>,
): Set<number> {
  const all = new Map<number, number>(),
    white = new Map<number, number>();
  const add = (to: Map<number, number>, line: number, size: number) => to.set(line, (to.get(line) ?? 0) + size);
  strokes.forEach((stroke, index) => {
    if (stroke.isContour) return;
    add(all, lineOf[index], sizeOf(stroke));
    add(white, lineOf[index], left.get(stroke.at) ?? 0);
  });
  const isBeside = ({ isContour }: Stroke, index: number) =>
    !isContour && white.get(lineOf[index])! <= (1 - MOST_BESIDE) * all.get(lineOf[index])!;
  return new Set(strokes.filter(isBeside).map(({ at }) => at));
}

/** Without short lines whose ends touch nothing: specks of what is almost hidden. */
function withoutSpecks(pieces: readonly Stroke[], pen: number): Stroke[] {
  if (pieces.length === 0) return [];
  const { lengths, lines } = chainsOf(pieces, false);
  const near = piecesNear(pieces, TOUCHES * pen);
  /** Whether something of another line is there. */
  const touches = (x: number, y: number, own: number): boolean =>
    near(x, y).some((other) => lines[other] !== lines[own]);
  const joined = new Set<number>();
  pieces.forEach(({ x1, y1, x2, y2 }, at) => {
    if (lengths[at] < CRUMB * pen && (touches(x1, y1, at) || touches(x2, y2, at))) joined.add(lines[at]);
  });
  return pieces.filter((_, at) => lengths[at] >= CRUMB * pen || joined.has(lines[at]));
}
