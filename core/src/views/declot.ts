import { overlayPieces, type Piece } from './overlay.ts';
import { visibleLines, type ViewLines } from './records.ts';

/** Between the middles of two parallel strokes, in pens: nearer ones leave no white between them that prints. */
const NEAREST = 1.5;

const known = new WeakMap<ViewLines, { readonly pen: number; readonly lines: ViewLines }>();

/**
 * The visible lines that a pen can print without clotting: of two that run along each other nearer than the pen is wide,
 * the lesser is left out (a tangent edge beside a full line, else the shorter one). Kept for the pen asked
 * for last, since a sheet asks at every move of the pointer.
 * @param pen width of the pen in mm at the scale of the lines (1:1)
 */
export function linesForPen(lines: ViewLines, pen: number): ViewLines {
  const before = known.get(lines);
  if (before?.pen === pen) return before.lines;
  const made = thinOut(visibleLines(lines), NEAREST * pen);
  known.set(lines, { pen, lines: made });
  return made;
}

const sizeOf = ({ x1, y1, x2, y2 }: Piece): number => Math.hypot(x2 - x1, y2 - y1);
/** So that a thin rod keeps one of its sides all along, instead of changing from one to the other. */
const longerFirst = (one: Piece, other: Piece): number => sizeOf(other) - sizeOf(one);

function thinOut({ ends, depths, kinds, occurrences, paths, box }: ViewLines, gap: number): ViewLines {
  const pieces = Array.from(kinds, (kind, at): Piece => ({
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
  }));
  const kept = overlayPieces(pieces, gap, gap / 2, longerFirst);
  return {
    ends: Float64Array.from(kept.flatMap(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2])),
    depths: Float64Array.from(kept.flatMap(({ z1, z2 }) => [z1, z2])),
    kinds: Uint8Array.from(kept, ({ kind }) => kind),
    visible: new Uint8Array(kept.length).fill(1),
    occurrences: Int32Array.from(kept, ({ body }) => body),
    paths,
    box,
  };
}
