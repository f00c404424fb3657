import { describe, expect, test } from 'vitest';
import { seeded } from '../../../../testkit/mutants.ts';
import { overlayPieces, partOf, type Piece } from './overlay.ts';

/**
 * What stays of each piece, found without cells: every piece is turned so that each stronger one in turn lies on the x
 * axis, and what runs along it is taken away in shares.
 */
function slowOverlay(pieces: readonly Piece[], samePoint: number, shortest: number): Piece[] {
  const strength = ({ visible, kind }: Piece) => (visible ? 10 : 0) - (kind === 2 ? 1 : 0);
  const sorted = pieces
    .map((piece, at) => ({ piece, at }))
    .sort(
      (a, b) =>
        strength(b.piece) - strength(a.piece) || b.piece.z1 + b.piece.z2 - a.piece.z1 - a.piece.z2 || a.at - b.at,
    );
  const left: Piece[] = [];
  const drawn: Piece[] = [];
  for (const { piece } of sorted) {
    const size = Math.hypot(piece.x2 - piece.x1, piece.y2 - piece.y1);
    let free: [number, number][] = [[0, 1]];
    let touched = false;
    for (const other of drawn) {
      const turn = -Math.atan2(other.y2 - other.y1, other.x2 - other.x1);
      const turned = (x: number, y: number) => [
        (x - other.x1) * Math.cos(turn) - (y - other.y1) * Math.sin(turn),
        (x - other.x1) * Math.sin(turn) + (y - other.y1) * Math.cos(turn),
      ];
      const [[ax, ay], [bx, by]] = [turned(piece.x1, piece.y1), turned(piece.x2, piece.y2)];
      if (Math.abs(bx - ax) < size / 2) continue;
      const reach = Math.hypot(other.x2 - other.x1, other.y2 - other.y1);
      const shares = [(0 - ax) / (bx - ax), (reach - ax) / (bx - ax)].sort((a, b) => a - b);
      const [from, to] = [Math.max(0, shares[0]), Math.min(1, shares[1])];
      if ((to - from) * size < Math.min(shortest, size / 2)) continue;
      const gap = samePoint + piece.sagitta + other.sagitta;
      if ([from, to].some((share) => Math.abs(ay + share * (by - ay)) > gap)) continue;
      touched = true;
      free = free.flatMap(([start, end]): [number, number][] => [
        [start, Math.min(end, from)],
        [Math.max(start, to), end],
      ]);
    }
    const kept = touched ? free.filter(([from, to]) => to > from && (to - from) * size >= shortest) : free;
    for (const [from, to] of kept) {
      const part = partOf(piece, from, to);
      left.push(part);
      drawn.push(part);
    }
  }
  return left;
}

describe('pieces lying on one another, beside an obvious way of finding them', () => {
  // Bundles of nearly parallel pieces, as rims of rollers and threads are, at a distance where they touch or do not.
  const bundle = (random: () => number, count: number, spread: number): Piece[] =>
    Array.from({ length: count }, () => {
      const angle = (Math.floor(random() * 6) * Math.PI) / 6 + (random() - 0.5) * 0.05;
      const [x, y, size] = [random() * 100, Math.floor(random() * 20) * spread, 0.2 + random() * 30];
      return {
        x1: x,
        y1: y,
        x2: x + Math.cos(angle) * size,
        y2: y + Math.sin(angle) * size,
        z1: random(),
        z2: random(),
        kind: Math.floor(random() * 3),
        visible: random() < 0.8,
        body: Math.floor(random() * 5),
        sagitta: 0,
        isContour: false,
      };
    });
  const lengthOf = (list: readonly Piece[]) =>
    list.reduce((sum, { x1, y1, x2, y2 }) => sum + Math.hypot(x2 - x1, y2 - y1), 0);
  test.each([
    ['far apart', 3, 0.01],
    ['nearer than a pen', 0.4, 0.7],
    ['much nearer than a pen', 0.05, 2],
  ])('%s', (_, spread, samePoint) => {
    const random = seeded(spread * 1000);
    let taken = 0;
    for (let round = 0; round < 30; round++) {
      const pieces = bundle(random, 1 + Math.floor(random() * 120), spread);
      const [fast, slow] = [
        overlayPieces(pieces, samePoint, samePoint / 2),
        slowOverlay(pieces, samePoint, samePoint / 2),
      ];
      const plain = (list: readonly Piece[]) =>
        list.map(({ x1, y1, x2, y2, z1, z2, kind, body }) =>
          [x1, y1, x2, y2, z1, z2, kind, body].map((value) => Number(value.toFixed(7))).join(' '),
        );
      expect(plain(fast)).toEqual(plain(slow));
      taken += lengthOf(pieces) - lengthOf(fast);
    }
    if (samePoint > 0.1) expect(taken).toBeGreaterThan(100);
  });
});
