import { LEAST_CLEARANCE, LEAST_FACE_RADIUS } from '../../balloons/index.ts';
import type { Spots } from '../../views/index.ts';

/** What is smaller on paper is a speck, however free it stands; mm. */
const LEAST_EXTENT = 2;

/**
 * Which spots let a leader end on enough of a face, or clear of other lines on something large enough.
 * @param scale paper mm per model mm
 */
export function goodSpots(spots: Spots): (spot: number, scale: number) => boolean {
  const extent = extentsOf(spots);
  return (spot, scale) => {
    const isFace = spots.onFace[spot] > 0;
    return (
      spots.room[spot] * scale >= (isFace ? LEAST_FACE_RADIUS : LEAST_CLEARANCE) &&
      (isFace || extent[spots.occurrences[spot]] * scale >= LEAST_EXTENT)
    );
  };
}

/**
 * Rows that are seen well: on which a leader can end as `goodSpots` says.
 * @param rowOf row per entry of `spots.paths`, −1 for none
 * @param scale paper mm per model mm
 */
export function rowsSeenWell(spots: Spots, rowOf: readonly number[], scale: number): Set<number> {
  const isGood = goodSpots(spots);
  const rows = new Set<number>();
  spots.occurrences.forEach((occurrence, spot) => {
    const row = rowOf[occurrence];
    if (row >= 0 && !rows.has(row) && isGood(spot, scale)) rows.add(row);
  });
  return rows;
}

/** More room around the end of a leader makes nothing clearer; mm. */
const CLEAR = 2.5;

/**
 * How clearly each row can be pointed at: the room that a leader's end has at best, no more than is of use; mm on paper.
 * @param rowOf row per entry of `spots.paths`, −1 for none
 * @param scale paper mm per model mm
 */
export function clearness(spots: Spots, rowOf: readonly number[], scale: number): Map<number, number> {
  const rooms = new Map<number, number>();
  spots.occurrences.forEach((occurrence, spot) => {
    const row = rowOf[occurrence];
    if (row < 0) return;
    rooms.set(row, Math.max(rooms.get(row) ?? 0, Math.min(spots.room[spot] * scale, CLEAR)));
  });
  return rooms;
}

/** How far what is seen of each occurrence reaches, across or up; mm at 1:1. */
function extentsOf({ occurrences, points, paths }: Spots): number[] {
  const boxes = paths.map((): [number, number, number, number] => [Infinity, Infinity, -Infinity, -Infinity]);
  occurrences.forEach((occurrence, spot) => {
    const box = boxes[occurrence];
    const x = points[spot * 2],
      y = points[spot * 2 + 1];
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
  });
  return boxes.map(([x0, y0, x1, y1]) => Math.max(x1 - x0, y1 - y0));
}
