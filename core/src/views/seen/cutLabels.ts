import type { Box2, Vec2 } from '../../geometry/index.ts';
import { hatchLines } from '../../sections/index.ts';
import type { Body, ViewCuts, ViewLines } from '../records.ts';
import { ClosedBorder } from './closedBorder.ts';
import { cutAreas } from './cutAreas.ts';
import type { ItemBuffer } from './itemBuffer.ts';

/**
 * Writes into the picture whose cut face is seen where several lie in one plane, as `seenCuts` found it: a dot on a thread
 * must not be taken for one on its nut.
 * @param cuts of the same view
 */
export function labelCutFaces(
  { width, height, pixel, originX, originY, labels }: ItemBuffer,
  cuts: ViewLines & Pick<ViewCuts, 'cutOccurrences' | 'cutPlanes'>,
  bodies: readonly Body[],
  firstLabel: Int32Array,
): void {
  const picture: Box2 = [originX, originY, originX + (width - 1) * pixel, originY + (height - 1) * pixel];
  const isCut = new Uint8Array(firstLabel[bodies.length]);
  const labelOf = new Map<string, number>();
  bodies.forEach(({ cut, path }, body) => {
    for (const { face, plane } of cut?.faces ?? []) {
      isCut[firstLabel[body] + face] = 1;
      labelOf.set(`${plane} ${path}`, firstLabel[body] + face);
    }
  });
  cutAreas(cuts).forEach((rings, at) => {
    const label = labelOf.get(`${cuts.cutPlanes[at]} ${cuts.paths[cuts.cutOccurrences[at]]}`);
    if (label === undefined) return;
    // Level lines through the middles of pixels, which lie on whole numbers.
    const inPixels = rings.map((ring) =>
      new ClosedBorder(ring)
        .cornersWithin(picture)
        .map(([x, y]): Vec2 => [(x - originX) / pixel - 0.5, (y - originY) / pixel - 0.5]),
    );
    const lines = hatchLines(
      inPixels.filter((ring) => ring.length > 2),
      { angle: 0, pitch: 1 },
    );
    for (let line = 0; line < lines.length; line += 4) {
      const row = Math.round(lines[line + 1]) * width;
      for (let column = Math.ceil(lines[line]); column <= lines[line + 2]; column++)
        if (labels[row + column] >= 0 && isCut[labels[row + column]]) labels[row + column] = label;
    }
  });
}
