import { hypot } from '../../geometry/index.ts';
import type { ViewLines } from '../records.ts';
import { bodyOfLabel, type ItemBuffer } from './itemBuffer.ts';

/** So far beside a line it is looked what is seen there; pixels. */
const BESIDE = 1.6;
/** Where along a line it is looked. */
const SHARES = [0.3, 0.5, 0.7];

/**
 * Which lines bound what is seen of their occurrence: those at which its matter turns away and beside which, on one of the two
 * sides, something else is seen. So the border of a boss before its own plate is an inner line, and is thinned like one.
 * @param lines with `outer` where matter turns away
 */
export function outerLines(
  { ends, outer }: ViewLines,
  { width, height, pixel, originX, originY, labels }: ItemBuffer,
  firstLabel: Int32Array,
): Uint8Array {
  const bodyAt = (x: number, y: number): number => {
    const column = Math.floor((x - originX) / pixel),
      row = Math.floor((y - originY) / pixel);
    if (column < 0 || row < 0 || column >= width || row >= height) return -1;
    const label = labels[row * width + column];
    return label < 0 ? -1 : bodyOfLabel(firstLabel, label);
  };
  return (outer ?? new Uint8Array(ends.length / 4)).map((isContour, line) => {
    if (isContour === 0) return 0;
    const at = line * 4;
    const dx = ends[at + 2] - ends[at],
      dy = ends[at + 3] - ends[at + 1];
    const size = hypot(dx, dy);
    if (size === 0) return 0;
    const [ax, ay] = [(-dy / size) * BESIDE * pixel, (dx / size) * BESIDE * pixel];
    const apart = SHARES.filter((share) => {
      const x = ends[at] + share * dx,
        y = ends[at + 1] + share * dy;
      return bodyAt(x + ax, y + ay) !== bodyAt(x - ax, y - ay);
    }).length;
    return apart >= 2 ? 1 : 0;
  });
}
