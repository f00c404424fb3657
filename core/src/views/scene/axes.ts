import type { OccurrenceIndex } from '../../assembly/index.ts';
import Flatbush from 'flatbush';
import { applyToPoint, composePlacements, determinant, hypot, roundsOf, type Placement } from '../../geometry/index.ts';
import type { Body, BodyCut, ViewAxes, ViewLines } from '../records.ts';

/** What of a circle has to be seen end on, as a share of its length. */
const SEEN_SHARE = 0.25;
/** Seen end on: longer than this on the view plane, as a share of its length, an axis is a line there. */
const END_ON = 1e-4;
/** Pixels of the item buffer that have to be seen of a feature from aside. */
const LEAST_PIXELS = 8;

/**
 * @param lines of the same view: what of a circle that is seen end on can be seen
 * @param pixels how many of a face are seen, see ItemBuffer: what can be seen from aside
 */
export function seenAxes(
  bodies: readonly Body[],
  view: Placement,
  lines: ViewLines,
  pixels: (body: number, face: number) => number,
): ViewAxes {
  const ends: number[] = [],
    radii: number[] = [],
    occurrences: number[] = [],
    features: number[] = [];
  const indexOf = new Map(lines.paths.map((path, at) => [path, at]));
  const circles = new Circles(lines);
  bodies.forEach(({ mesh, placement, path, cut }, body) => {
    const occurrence = indexOf.get(path);
    if (occurrence === undefined) return;
    // Features are those of the shape as it is: cutting it elsewhere renames none.
    const left = cut && facesLeft(cut);
    const toView = composePlacements(view, placement);
    const factor = Math.cbrt(Math.abs(determinant(toView)));
    roundsOf(cut?.whole ?? mesh).forEach(({ along, radius, faces: all }, feature) => {
      const faces = left ? all.flatMap((face) => left.get(face) ?? []) : all;
      const points = along.map((point) => applyToPoint(toView, point));
      const [first, last] = [points[0], points[points.length - 1]];
      const far = hypot(last[0] - first[0], last[1] - first[1], last[2] - first[2]);
      const endOn = points.length === 2 && hypot(last[0] - first[0], last[1] - first[1]) <= END_ON * far;
      const seen = endOn
        ? circles.seen(occurrence, first[0], first[1], radius * factor) >= SEEN_SHARE
        : faces.reduce((sum, face) => sum + pixels(body, face), 0) >= LEAST_PIXELS;
      if (!seen) return;
      for (let at = 0; at + 1 < points.length; at++) {
        ends.push(...points[at], ...points[at + 1]);
        radii.push(radius * factor);
        occurrences.push(occurrence);
        features.push(feature);
      }
    });
  });
  return {
    axisEnds: Float64Array.from(ends),
    axisRadii: Float64Array.from(radii),
    axisOccurrences: Int32Array.from(occurrences),
    axisFeatures: Int32Array.from(features),
  };
}

/** By the face of the shape, the faces of what is left of it. */
function facesLeft({ faceFrom }: BodyCut): Map<number, number[]> {
  const left = new Map<number, number[]>();
  faceFrom.forEach((from, face) => {
    const known = left.get(from);
    if (known) known.push(face);
    else left.set(from, [face]);
  });
  return left;
}

/** Finds what can be seen of circles on the view plane. */
class Circles {
  private readonly shown: number[] = [];
  private readonly index: Flatbush | null;

  constructor(private readonly lines: ViewLines) {
    const { ends, visible } = lines;
    for (let at = 0; at < visible.length; at++) if (visible[at]) this.shown.push(at);
    this.index = this.shown.length > 0 ? new Flatbush(this.shown.length) : null;
    for (const at of this.shown)
      this.index!.add(
        Math.min(ends[at * 4], ends[at * 4 + 2]),
        Math.min(ends[at * 4 + 1], ends[at * 4 + 3]),
        Math.max(ends[at * 4], ends[at * 4 + 2]),
        Math.max(ends[at * 4 + 1], ends[at * 4 + 3]),
      );
    this.index?.finish();
  }

  /** The share of a circle on which there are visible lines of an occurrence, or of what lies on it. */
  seen(occurrence: OccurrenceIndex, x: number, y: number, radius: number): number {
    const { ends, occurrences } = this.lines;
    if (!this.index || radius === 0) return 0;
    const off = radius * 0.02; // chords of a round shape run inside of it
    const isOn = (at: number) => Math.abs(hypot(ends[at] - x, ends[at + 1] - y) - radius) <= off;
    let sum = 0;
    // Only lines at its border matter: those around its four sides and corners, not what lies in the middle of it.
    const inner = radius * 0.7;
    const boxes = [
      [x - radius - off, y - radius - off, x - inner, y + radius + off],
      [x + inner, y - radius - off, x + radius + off, y + radius + off],
      [x - inner, y - radius - off, x + inner, y - inner],
      [x - inner, y + inner, x + inner, y + radius + off],
    ];
    const met = new Set<number>();
    for (const [x0, y0, x1, y1] of boxes)
      for (const found of this.index.search(x0, y0, x1, y1)) {
        const at = this.shown[found];
        if (occurrences[at] !== occurrence || met.has(at) || !isOn(at * 4) || !isOn(at * 4 + 2)) continue;
        met.add(at);
        sum += hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]);
      }
    return sum / (2 * Math.PI * radius);
  }
}
