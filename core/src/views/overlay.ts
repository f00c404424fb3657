import { hypot } from '../geometry/index.ts';
import { layOutCells } from './grid.ts';

/** A run of one line on the view plane. */
export interface Piece {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
  /** At both ends; larger is nearer. */
  readonly z1: number;
  readonly z2: number;
  /** Index into `lineKinds`. */
  readonly kind: number;
  readonly visible: boolean;
  readonly body: number;
  /** How far the true curve may stray from this chord. */
  readonly sagitta: number;
}

const TANGENT = 2;

/** What is kept where pieces lie on one another: full lines before tangent ones before hidden ones, then the nearer. */
const rank = (piece: Piece): number =>
  piece.visible ? (piece.kind === TANGENT ? 1 : 0) : piece.kind === TANGENT ? 3 : 2;

const nearerFirst = (one: Piece, other: Piece): number => other.z1 + other.z2 - one.z1 - one.z2;

/**
 * Pieces so that no two lie on one another: what a nearer or stronger piece already draws is cut away. Two chords of
 * the same curve, tessellated differently, stray from each other by up to both sagittas and count as lying on one
 * another.
 * @param samePoint mm; pieces this close are one line
 * @param shortest mm; left-overs shorter than this are dropped
 * @param prefer which of two pieces of one rank is kept, as a comparison; the nearer one unless said otherwise
 */
export function overlayPieces<Own extends Piece>(
  pieces: readonly Own[],
  samePoint: number,
  shortest: number,
  prefer: (one: Own, other: Own) => number = nearerFirst,
): Own[] {
  const order = Array.from(pieces.keys()).sort(
    (a, b) => rank(pieces[a]) - rank(pieces[b]) || prefer(pieces[a], pieces[b]) || a - b,
  );
  const cells = layOutCells(boxOf(pieces), pieces.length, samePoint * 2);
  const drawn = new CellLists(cells.count); // pieces of which something was kept; the rest is drawn by others already
  const seen = new Int32Array(pieces.length).fill(-1);
  const kept: Own[] = [];
  for (const index of order) {
    const piece = pieces[index];
    const covered: [number, number][] = [];
    const isAllOf = (other: number): boolean => {
      if (seen[other] === index) return false;
      seen[other] = index;
      const stretch = overlap(piece, pieces[other], samePoint, shortest);
      if (stretch) covered.push(stretch);
      return stretch !== null && stretch[0] === 0 && stretch[1] === 1;
    };
    cells.startStretch(piece.x1, piece.y1, piece.x2, piece.y2);
    rows: while (cells.nextRow())
      for (let cell = cells.first; cell <= cells.last; cell++) if (drawn.some(cell, isAllOf)) break rows;
    const before = kept.length;
    keepRest(piece, covered, shortest, kept);
    if (kept.length === before) continue;
    cells.startStretch(piece.x1, piece.y1, piece.x2, piece.y2);
    while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) drawn.add(cell, index);
  }
  return kept;
}

function boxOf(pieces: readonly Piece[]): [number, number, number, number] {
  const box: [number, number, number, number] = pieces.length
    ? [Infinity, Infinity, -Infinity, -Infinity]
    : [0, 0, 0, 0];
  for (const { x1, y1, x2, y2 } of pieces) {
    box[0] = Math.min(box[0], x1, x2);
    box[1] = Math.min(box[1], y1, y2);
    box[2] = Math.max(box[2], x1, x2);
    box[3] = Math.max(box[3], y1, y2);
  }
  return box;
}

/** A growing list per cell, all in two arrays. */
class CellLists {
  private readonly head: Int32Array;
  private readonly items: number[] = [];
  private readonly next: number[] = [];
  constructor(cells: number) {
    this.head = new Int32Array(cells).fill(-1);
  }

  add(cell: number, item: number): void {
    this.next.push(this.head[cell]);
    this.head[cell] = this.items.push(item) - 1;
  }

  some(cell: number, holds: (item: number) => boolean): boolean {
    for (let at = this.head[cell]; at >= 0; at = this.next[at]) if (holds(this.items[at])) return true;
    return false;
  }
}

/** The part of `piece` (0..1) that runs along `other`; null where they only cross or touch. */
function overlap(piece: Piece, other: Piece, samePoint: number, shortest: number): [number, number] | null {
  const ox = other.x2 - other.x1,
    oy = other.y2 - other.y1;
  const size = hypot(ox, oy);
  const dx = piece.x2 - piece.x1,
    dy = piece.y2 - piece.y1;
  const own = hypot(dx, dy);
  if (size === 0 || own === 0) return null;
  const gap = samePoint + piece.sagitta + other.sagitta;
  // Where along `other` the two ends of `piece` project.
  const s0 = ((piece.x1 - other.x1) * ox + (piece.y1 - other.y1) * oy) / size;
  const s1 = ((piece.x2 - other.x1) * ox + (piece.y2 - other.y1) * oy) / size;
  if (Math.abs(s1 - s0) < 0.5 * own) return null; // more than 60° apart
  const inverse = 1 / (s1 - s0);
  let from = (0 - s0) * inverse,
    to = (size - s0) * inverse;
  if (from > to) [from, to] = [to, from];
  from = Math.max(0, from);
  to = Math.min(1, to);
  if ((to - from) * own < Math.min(shortest, 0.5 * own)) return null;
  const distance = (t: number) => ((piece.x1 + t * dx - other.x1) * oy - (piece.y1 + t * dy - other.y1) * ox) / size;
  if (Math.abs(distance(from)) > gap || Math.abs(distance(to)) > gap) return null;
  return [from, to];
}

function keepRest<Own extends Piece>(piece: Own, covered: [number, number][], shortest: number, kept: Own[]): void {
  if (covered.length === 0) {
    kept.push(piece);
    return;
  }
  const own = hypot(piece.x2 - piece.x1, piece.y2 - piece.y1);
  covered.sort((a, b) => a[0] - b[0]);
  let at = 0;
  const keep = (from: number, to: number) => {
    if ((to - from) * own < shortest) return;
    const between = (a: number, b: number, t: number) => a + t * (b - a);
    kept.push({
      ...piece,
      x1: between(piece.x1, piece.x2, from),
      y1: between(piece.y1, piece.y2, from),
      z1: between(piece.z1, piece.z2, from),
      x2: between(piece.x1, piece.x2, to),
      y2: between(piece.y1, piece.y2, to),
      z2: between(piece.z1, piece.z2, to),
    });
  };
  for (const [from, to] of covered) {
    if (from > at) keep(at, from);
    at = Math.max(at, to);
  }
  keep(at, 1);
}
