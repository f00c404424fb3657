import type { CutBar, CutProblem } from './records.ts';

/** A stretch of a bar, from its left end; mm. */
interface BarStretch {
  /** What becomes of it. `waste`: too short to be kept. */
  readonly kind: 'trim' | 'piece' | 'kerf' | 'left-over' | 'waste';
  /** mm. */
  readonly from: number;
  /** mm. */
  readonly to: number;
  /** Index of the piece; −1 for all else. */
  readonly piece: number;
}

const cutWidth = (kerfMm: number, angle: number): number => kerfMm / Math.cos((angle * Math.PI) / 180);

/** How a bar is cut, from left to right without a gap: trimmed end, pieces with cuts between them, what is left, trimmed end. */
export function barLayout({ pieces, stock, kerfMm, trimMm, leastLeftOverMm }: CutProblem, bar: CutBar): BarStretch[] {
  const { lengthMm } = stock[bar.stock];
  const stretches: BarStretch[] = [];
  let at = 0;
  const put = (kind: BarStretch['kind'], length: number, piece = -1) => {
    if (length <= 0) return;
    stretches.push({ kind, from: at, to: at + length, piece });
    at += length;
  };
  put('trim', trimMm);
  let before: number | null = null;
  for (const { piece, count } of bar.pieces) {
    const [left, right] = pieces[piece].ends ?? [0, 0];
    for (let times = 0; times < count; times++) {
      if (before !== null) put('kerf', Math.max(cutWidth(kerfMm, before), cutWidth(kerfMm, left)));
      put('piece', pieces[piece].lengthMm, piece);
      before = right;
    }
  }
  // Lengths are told apart to a thousandth; what is below that comes from adding.
  const room = lengthMm - trimMm - at;
  if (room > 0.0005) {
    put('kerf', Math.min(room, cutWidth(kerfMm, before ?? 0)));
    const rest = lengthMm - trimMm - at;
    if (rest > 0.0005) put(rest >= leastLeftOverMm ? 'left-over' : 'waste', rest);
  }
  put('trim', Math.min(trimMm, lengthMm - at));
  return stretches;
}
