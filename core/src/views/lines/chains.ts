import Flatbush from 'flatbush';
import { distanceToStretch, hypot, Places } from '../../geometry/index.ts';

/** A straight piece of a line on the view plane, of one of the bodies. */
export interface LinePiece {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
  readonly body: number;
}

/** Pieces joined to whole lines. Arrays are by piece. */
interface Chains {
  /** Length of the whole line. */
  readonly lengths: Float64Array;
  /** Pieces of one line follow one another from its one end to the other. */
  readonly places: Int32Array;
  /** Which whole line each is part of, numbered from 0. */
  readonly lines: Int32Array;
}

/** Ends this close meet; mm. */
const SAME_END = 1e-4;
/** Pieces that meet at a point and turn by less than this are one line; cosine. */
const COS_GOES_ON = Math.cos((30 * Math.PI) / 180);
/** Where more ends than this meet it is a star, and no two of them are one line more than others. */
const MOST_ENDS = 64;

/**
 * Joins pieces that go on into one another: at each point those that run on straightest, two and two.
 * @param byBody whether only pieces of one body are joined
 */
export function chainsOf(pieces: readonly LinePiece[], byBody: boolean): Chains {
  const links = linkEnds(pieces, byBody);
  const lengths = new Float64Array(pieces.length);
  const places = new Int32Array(pieces.length).fill(-1);
  const lines = new Int32Array(pieces.length);
  let place = 0,
    count = 0;
  const walk = (start: number): void => {
    const line: number[] = [];
    for (let end = start; end >= 0 && places[end >> 1] < 0; end = links[end ^ 1]) {
      places[end >> 1] = place++;
      line.push(end >> 1);
    }
    const whole = line.reduce((sum, piece) => sum + sizeOf(pieces[piece]), 0);
    for (const piece of line) {
      lengths[piece] = whole;
      lines[piece] = count;
    }
    count++;
  };
  for (let end = 0; end < links.length; end++) if (links[end] < 0 && places[end >> 1] < 0) walk(end);
  // What is left is closed. It begins at its far end, where the two sides of a narrow one turn into one another.
  for (let end = 0; end < links.length; end += 2)
    if (places[end >> 1] < 0) walk(farthest(endsAlong(end, links), pieces));
  return { lengths, places, lines };
}

const sizeOf = ({ x1, y1, x2, y2 }: LinePiece): number => hypot(x2 - x1, y2 - y1);

/** For each end, two per piece, the end of another piece that goes on from there; -1 for none. */
function linkEnds(pieces: readonly LinePiece[], byBody: boolean): Int32Array {
  const ends = new Places(pieces.length * 2);
  for (const { x1, y1, x2, y2, body } of pieces) {
    const of = byBody ? body : 0;
    ends.add(Math.round(x1 / SAME_END), Math.round(y1 / SAME_END), of);
    ends.add(Math.round(x2 / SAME_END), Math.round(y2 / SAME_END), of);
  }
  const links = new Int32Array(pieces.length * 2).fill(-1);
  const isFollowed = new Uint8Array(links.length);
  for (let end = 0; end < links.length; end++) if (ends.before[end] >= 0) isFollowed[ends.before[end]] = 1;
  for (let last = 0; last < links.length; last++) {
    if (isFollowed[last]) continue;
    const meeting: number[] = [];
    for (let end = last; end >= 0 && meeting.length <= MOST_ENDS; end = ends.before[end]) meeting.push(end);
    if (meeting.length > 1 && meeting.length <= MOST_ENDS) linkStraightest(meeting.reverse(), pieces, links);
  }
  return links;
}

function linkStraightest(meeting: readonly number[], pieces: readonly LinePiece[], links: Int32Array): void {
  const pairs: { one: number; other: number; straight: number }[] = [];
  for (const [at, one] of meeting.entries())
    for (const other of meeting.slice(at + 1)) {
      const straight = straightness(pieces, one, other);
      if (one >> 1 !== other >> 1 && straight >= COS_GOES_ON) pairs.push({ one, other, straight });
    }
  for (const { one, other } of pairs.sort((a, b) => b.straight - a.straight))
    if (links[one] < 0 && links[other] < 0) {
      links[one] = other;
      links[other] = one;
    }
}

/** Cosine of the turn from one piece into the other at these ends of theirs: 1 straight on, -1 back. */
function straightness(pieces: readonly LinePiece[], end: number, otherEnd: number): number {
  const [one, other] = [pieces[end >> 1], pieces[otherEnd >> 1]];
  const along = (one.x2 - one.x1) * (other.x2 - other.x1) + (one.y2 - one.y1) * (other.y2 - other.y1);
  return (end % 2 === otherEnd % 2 ? -along : along) / (sizeOf(one) * sizeOf(other));
}

/** All ends at which a closed line is entered, walked from one of them. */
function endsAlong(start: number, links: Int32Array): number[] {
  const ends = [start];
  for (let end = links[start ^ 1]; end !== start; end = links[end ^ 1]) ends.push(end);
  return ends;
}

/** The end that lies farthest from the middle of all. */
function farthest(ends: readonly number[], pieces: readonly LinePiece[]): number {
  const at = (end: number): readonly [number, number] => {
    const { x1, y1, x2, y2 } = pieces[end >> 1];
    return end % 2 === 0 ? [x1, y1] : [x2, y2];
  };
  let [x, y] = [0, 0];
  for (const end of ends) {
    x += at(end)[0] / ends.length;
    y += at(end)[1] / ends.length;
  }
  let [best, most] = [ends[0], -1];
  for (const end of ends) {
    const far = hypot(at(end)[0] - x, at(end)[1] - y);
    if (far > most) [best, most] = [end, far];
  }
  return best;
}

/** An end as near to another line touches it; in pens. */
export const TOUCHES = 0.75;

/** Gives the pieces that come this near to a point; indices. */
export function piecesNear(pieces: readonly LinePiece[], near: number): (x: number, y: number) => number[] {
  if (pieces.length === 0) return () => [];
  const index = new Flatbush(pieces.length);
  for (const { x1, y1, x2, y2 } of pieces)
    index.add(Math.min(x1, x2), Math.min(y1, y2), Math.max(x1, x2), Math.max(y1, y2));
  index.finish();
  const isNear = (x: number, y: number, { x1, y1, x2, y2 }: LinePiece) =>
    distanceToStretch([x, y], [x1, y1], [x2, y2]) <= near;
  return (x, y) => index.search(x - near, y - near, x + near, y + near, (at) => isNear(x, y, pieces[at]));
}
