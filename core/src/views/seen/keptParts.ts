import type { ViewAxes, ViewLines } from '../records.ts';
import type { Spots } from './spots.ts';

/** Which parts (0..1 each) of the stretch at this place of `ends` (x1, y1, x2, y2) are kept. */
export type PartsOf = (ends: Float64Array, place: number) => readonly (readonly [number, number])[];

/** The lines of a view as far as parts of them are kept, with what stands beside them of the same kind. */
export function linesKept(
  lines: ViewLines,
  partsOf: PartsOf,
): Pick<
  ViewLines,
  'ends' | 'depths' | 'kinds' | 'visible' | 'outer' | 'occurrences' | 'paths' | 'wayEnds' | 'hiddenEnds' | 'borderEnds'
> {
  const { ends, depths, kinds, visible, outer, occurrences, paths, wayEnds, hiddenEnds, borderEnds } = lines;
  const kept: number[] = [],
    newEnds: number[] = [],
    newDepths: number[] = [];
  for (let line = 0; line < kinds.length; line++)
    for (const [from, to] of partsOf(ends, line * 4)) {
      kept.push(line);
      pushPart(newEnds, ends, line * 4, from, to);
      const [z0, z1] = [depths[line * 2], depths[line * 2 + 1]];
      newDepths.push(z0 + from * (z1 - z0), z0 + to * (z1 - z0));
    }
  const piecesOf = (of: Float64Array): Float64Array => {
    const pieces: number[] = [];
    for (let at = 0; at < of.length; at += 4)
      for (const [from, to] of partsOf(of, at)) pushPart(pieces, of, at, from, to);
    return Float64Array.from(pieces);
  };
  return {
    ends: Float64Array.from(newEnds),
    depths: Float64Array.from(newDepths),
    kinds: Uint8Array.from(kept, (line) => kinds[line]),
    visible: Uint8Array.from(kept, (line) => visible[line]),
    ...(outer ? { outer: Uint8Array.from(kept, (line) => outer[line]) } : {}),
    occurrences: Int32Array.from(kept, (line) => occurrences[line]),
    paths,
    ...(wayEnds ? { wayEnds: piecesOf(wayEnds) } : {}),
    ...(hiddenEnds ? { hiddenEnds: piecesOf(hiddenEnds) } : {}),
    ...(borderEnds ? { borderEnds: piecesOf(borderEnds) } : {}),
  };
}

function pushPart(into: number[], of: Float64Array, at: number, from: number, to: number): void {
  const dx = of[at + 2] - of[at],
    dy = of[at + 3] - of[at + 1];
  for (const share of [from, to]) into.push(of[at] + share * dx, of[at + 1] + share * dy);
}

/** Rows of numbers, `stride` each, of those that are kept. */
const rows = (from: Float64Array, stride: number, kept: readonly number[]): Float64Array =>
  Float64Array.from(kept.flatMap((row) => [...from.subarray(row * stride, row * stride + stride)]));

/** The axes of a view that are kept. @param isKept asked with a number of an axis */
export function axesKept(
  { axisEnds, axisRadii, axisOccurrences, axisFeatures }: Partial<ViewAxes>,
  isKept: (axis: number) => boolean,
): Partial<ViewAxes> {
  if (!axisEnds || !axisRadii || !axisOccurrences || !axisFeatures) return {};
  const kept = Array.from(axisRadii.keys()).filter(isKept);
  return {
    axisEnds: rows(axisEnds, 6, kept),
    axisRadii: Float64Array.from(kept, (axis) => axisRadii[axis]),
    axisOccurrences: Int32Array.from(kept, (axis) => axisOccurrences[axis]),
    axisFeatures: Int32Array.from(kept, (axis) => axisFeatures[axis]),
  };
}

/** The spots of a view that have room in a piece of it. @param roomAt to the border of the piece; nothing where not above 0 */
export function spotsKept(spots: Spots, roomAt: (x: number, y: number) => number): Spots {
  const rooms = Array.from(spots.occurrences, (_, spot) => roomAt(spots.points[spot * 2], spots.points[spot * 2 + 1]));
  const room = Float64Array.from(rooms, (most, spot) => Math.min(spots.room[spot], most));
  return pickSpots({ ...spots, room }, (spot) => rooms[spot] > 0);
}

/** Some of the spots of a view. @param isKept asked with the number of a spot */
export function pickSpots(spots: Spots, isKept: (spot: number) => boolean): Spots {
  const kept = Array.from(spots.occurrences.keys()).filter(isKept);
  return {
    occurrences: Int32Array.from(kept, (spot) => spots.occurrences[spot]),
    paths: spots.paths,
    breadths: spots.breadths,
    onFace: Uint8Array.from(kept, (spot) => spots.onFace[spot]),
    points: rows(spots.points, 2, kept),
    room: rows(spots.room, 1, kept),
    anchors: rows(spots.anchors, 3, kept),
  };
}
