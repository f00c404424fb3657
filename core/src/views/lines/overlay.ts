import { hypot } from '../../geometry/index.ts';
import { layOutCells } from '../scene/grid.ts';

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
  /** Whether it may bound what is seen of its body. */
  readonly isContour: boolean;
}

const TANGENT = 2;

/** What is kept where pieces lie on one another: full lines before tangent ones before hidden ones, then the nearer. */
const rank = (piece: Piece): number =>
  piece.visible ? (piece.kind === TANGENT ? 1 : 0) : piece.kind === TANGENT ? 3 : 2;

/** What bounds a body before what does not, so that outlines stay whole where parts lie flush; then the nearer. */
function nearerFirst(pieces: readonly Piece[]): (one: number, other: number) => number {
  const depths = Float64Array.from(pieces, ({ z1, z2 }) => z1 + z2);
  const inner = Uint8Array.from(pieces, ({ isContour }) => (isContour ? 0 : 1));
  return (one, other) => inner[one] - inner[other] || depths[other] - depths[one];
}

/**
 * Pieces so that no two lie on one another: what a nearer or stronger piece already draws is cut away. Two chords of
 * the same curve, tessellated differently, stray from each other by up to both sagittas and count as lying on one
 * another.
 * @param samePoint mm; pieces this close are one line
 * @param shortest mm; left-overs shorter than this are dropped
 * @param prefer which of two pieces of one rank is kept, as a comparison of their indices; the nearer one unless said
 *   otherwise
 */
export function overlayPieces<Own extends Piece>(
  pieces: readonly Own[],
  samePoint: number,
  shortest: number,
  prefer: (one: number, other: number) => number = nearerFirst(pieces),
): Own[] {
  const ranks = Uint8Array.from(pieces, rank);
  const order = Uint32Array.from(pieces.keys()).sort((a, b) => ranks[a] - ranks[b] || prefer(a, b) || a - b);
  const stretches = new Stretches(pieces, samePoint, shortest);
  const cells = layOutCells(boxOf(pieces), pieces.length, stretches.margin);
  const drawn = new CellLists(cells.count);
  const kept: Own[] = [];
  const seen: number[] = []; // by kept piece, for which one it was asked last
  for (const index of order) {
    const piece = pieces[index];
    const { covered } = stretches.start(piece);
    cells.startStretch(piece.x1, piece.y1, piece.x2, piece.y2);
    rows: while (cells.nextRow())
      for (let cell = cells.first; cell <= cells.last; cell++)
        for (let at = drawn.head[cell]; at >= 0; at = drawn.next[at]) {
          const other = drawn.items[at];
          if (seen[other] === index) continue;
          seen[other] = index;
          if (stretches.isCoveredBy(other)) break rows;
        }
    for (let at = keepRest(piece, covered, shortest, kept); at < kept.length; at++) {
      const { x1, y1, x2, y2 } = kept[at];
      stretches.keep(kept[at]);
      seen.push(-1);
      cells.startStretch(x1, y1, x2, y2);
      while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) drawn.add(cell, at);
    }
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

/** A growing list per cell, all in two arrays: from `head[cell]` along `next`, until -1. */
class CellLists {
  readonly head: Int32Array;
  readonly items: number[] = [];
  readonly next: number[] = [];
  constructor(cells: number) {
    this.head = new Int32Array(cells).fill(-1);
  }

  add(cell: number, item: number): void {
    this.next.push(this.head[cell]);
    this.head[cell] = this.items.push(item) - 1;
  }
}

/** Numbers per kept piece: where it starts, its direction, its length, how far it strays. */
const NUMBERS = 6;

/** Which parts of a piece run along those that are kept; in plain numbers, since a sheet of a machine asks a million times. */
class Stretches {
  /** By how much each piece is widened, so that those near enough to be compared share a cell. */
  readonly margin: number;
  /** Parts (0..1) of the piece in question that others draw. */
  private covered: [number, number][] = [];
  private readonly kept: number[] = [];
  private x = 0;
  private y = 0;
  private dx = 0;
  private dy = 0;
  private size = 0;
  private sagitta = 0;

  constructor(
    pieces: readonly Piece[],
    private readonly samePoint: number,
    private readonly shortest: number,
  ) {
    let strays = 0;
    for (const { sagitta } of pieces) strays = Math.max(strays, sagitta);
    // Coarse curves are not looked for farther off than this: their cells would hold everything.
    this.margin = Math.min(0.501 * samePoint + strays, 2 * samePoint);
  }

  /** Goes on to another piece, of which nothing is covered yet. */
  start({ x1, y1, x2, y2, sagitta }: Piece): { readonly covered: [number, number][] } {
    this.size = hypot(x2 - x1, y2 - y1);
    this.x = x1;
    this.y = y1;
    this.dx = (x2 - x1) / this.size;
    this.dy = (y2 - y1) / this.size;
    this.sagitta = sagitta;
    return { covered: (this.covered = []) };
  }

  /** Those that come later may run along this one too. */
  keep({ x1, y1, x2, y2, sagitta }: Piece): void {
    const size = hypot(x2 - x1, y2 - y1);
    this.kept.push(x1, y1, (x2 - x1) / size, (y2 - y1) / size, size, sagitta);
  }

  /** Notes the part of the piece that runs along a kept one, if they do more than cross or touch; whether it is all. */
  isCoveredBy(other: number): boolean {
    const { kept, x, y, dx, dy, size, samePoint, shortest } = this;
    const to = other * NUMBERS;
    const reach = kept[to + 4];
    if (reach === 0 || size === 0) return false;
    const ox = kept[to + 2],
      oy = kept[to + 3];
    const along = ox * dx + oy * dy;
    if (Math.abs(along) < 0.5) return false; // more than 60° apart
    const fromX = x - kept[to],
      fromY = y - kept[to + 1];
    // Where the ends of the other one are, in shares of the piece.
    const start = -(fromX * ox + fromY * oy) / (along * size),
      end = start + reach / (along * size);
    const from = Math.max(0, Math.min(start, end)),
      until = Math.min(1, Math.max(start, end));
    if ((until - from) * size < Math.min(shortest, 0.5 * size)) return false;
    const gap = samePoint + this.sagitta + kept[to + 5];
    const off = fromX * oy - fromY * ox,
      turn = (dx * oy - dy * ox) * size;
    if (Math.abs(off + from * turn) > gap || Math.abs(off + until * turn) > gap) return false;
    this.covered.push([from, until]);
    return from === 0 && until === 1;
  }
}

/** Puts what is not covered of a piece to what is kept; where that begins. */
function keepRest<Own extends Piece>(piece: Own, covered: [number, number][], shortest: number, kept: Own[]): number {
  const first = kept.length;
  if (covered.length === 0) {
    kept.push(piece);
    return first;
  }
  const own = hypot(piece.x2 - piece.x1, piece.y2 - piece.y1);
  covered.sort((a, b) => a[0] - b[0]);
  let at = 0;
  const keep = (from: number, to: number) => {
    if ((to - from) * own < shortest) return;
    kept.push(partOf(piece, from, to));
  };
  for (const [from, to] of covered) {
    if (from > at) keep(at, from);
    at = Math.max(at, to);
  }
  keep(at, 1);
  return first;
}

/** The part of a piece between two shares (0..1) of it. */
export function partOf<Own extends Piece>(piece: Own, from: number, to: number): Own {
  const between = (a: number, b: number, share: number) => a + share * (b - a);
  return {
    ...piece,
    x1: between(piece.x1, piece.x2, from),
    y1: between(piece.y1, piece.y2, from),
    z1: between(piece.z1, piece.z2, from),
    x2: between(piece.x1, piece.x2, to),
    y2: between(piece.y1, piece.y2, to),
    z2: between(piece.z1, piece.z2, to),
  };
}
