import type { Box2 } from '../../geometry/index.ts';
import { boxAround } from '../../sections/index.ts';
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
    const borders = rings.map((ring) => new ClosedBorder(ring));
    const [x0, y0, x1, y1]: Box2 = boxAround(rings);
    const last = Math.min(height - 1, Math.floor((y1 - originY) / pixel));
    for (let row = Math.max(0, Math.floor((y0 - originY) / pixel)); row <= last; row++) {
      const y = originY + (row + 0.5) * pixel;
      // Within an odd number of outlines: holes are outlines too.
      const stretch = [x0 - pixel, y, x1 + pixel, y];
      const ends = borders
        .flatMap((border) => border.parts(stretch, 0, true).flat())
        .map((share) => stretch[0] + share * (stretch[2] - stretch[0]))
        .sort((a, b) => a - b);
      for (let k = 0; k + 1 < ends.length; k += 2) {
        const from = Math.max(0, Math.ceil((ends[k] - originX) / pixel - 0.5)),
          to = Math.min(width - 1, Math.floor((ends[k + 1] - originX) / pixel - 0.5));
        for (let place = row * width + from; place <= row * width + to; place++)
          if (labels[place] >= 0 && isCut[labels[place]]) labels[place] = label;
      }
    }
  });
}
