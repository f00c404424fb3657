import type { ViewScene } from '../scene/scene.ts';
import type { Piece } from './overlay.ts';

/** Into so many lots a view is divided where threads share it out: several for each, since none knows how long one takes. */
export const LOTS = 16;

/** Some of the bodies of a view, with their lines. */
export interface Lot {
  /** From one to before another; indices of bodies. */
  readonly bodies: readonly [from: number, to: number];
  /** Of the scene's lines. */
  readonly lines: readonly [from: number, to: number];
}

/** What was made of a lot. */
export interface LotPieces {
  readonly lines: readonly Piece[];
  /** Of lines where its bodies pass through others. */
  readonly meetings: readonly Piece[];
}
/** The same on its way between threads. */
export interface PackedLot {
  readonly lines: Float64Array;
  readonly meetings: Float64Array;
}

/** One view that several threads work on. */
export interface SharedWork {
  /** Numbers of lots from 0 on, each given once to whoever asks. */
  readonly take: () => number;
  /** What others made of the lots that they took; waits for them. Lots that they could not finish are missing. */
  readonly others: () => ReadonlyMap<number, PackedLot>;
}

/** A scene in lots: bodies that follow one another, with about as many facets in each; the same ones for whoever asks. */
export function lotsOf({ surfaces, triangleBody, lines: { edgeBody } }: ViewScene, count: number): Lot[] {
  const ends = Array.from({ length: count }, (_, lot) =>
    lot === count - 1
      ? surfaces.length
      : 1 + (triangleBody[Math.floor((triangleBody.length * (lot + 1)) / count)] ?? -1),
  );
  let body = 0,
    line = 0;
  return ends.map((end, lot) => {
    const from = [body, line];
    body = Math.max(body, end);
    // What belongs to no body comes last.
    if (lot === count - 1) line = edgeBody.length;
    else while (line < edgeBody.length && edgeBody[line] >= 0 && edgeBody[line] < body) line++;
    return { bodies: [from[0], body], lines: [from[1], line] };
  });
}

/** Numbers per piece: both ends, how far it strays, kind, body, and two marks as one. */
const NUMBERS = 10;

export function packPieces(pieces: readonly Piece[]): Float64Array {
  const packed = new Float64Array(pieces.length * NUMBERS);
  pieces.forEach(({ x1, y1, z1, x2, y2, z2, sagitta, kind, body, visible, isContour }, at) =>
    packed.set([x1, y1, z1, x2, y2, z2, sagitta, kind, body, (visible ? 1 : 0) + (isContour ? 2 : 0)], at * NUMBERS),
  );
  return packed;
}

export const unpackPieces = (packed: Float64Array): Piece[] =>
  Array.from({ length: packed.length / NUMBERS }, (_, piece) => {
    const [x1, y1, z1, x2, y2, z2, sagitta, kind, body, marks] = packed.subarray(
      piece * NUMBERS,
      (piece + 1) * NUMBERS,
    );
    return { x1, y1, z1, x2, y2, z2, sagitta, kind, body, visible: (marks & 1) !== 0, isContour: (marks & 2) !== 0 };
  });
