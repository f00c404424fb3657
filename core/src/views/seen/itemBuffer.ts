import type { Box2 } from '../../geometry/index.ts';
import type { ViewScene } from '../scene/scene.ts';

/** For each pixel of the view plane the face seen there. Row 0 is at the lowest y. */
export interface ItemBuffer {
  readonly width: number;
  readonly height: number;
  /** mm per pixel. */
  readonly pixel: number;
  /** View coordinates of the corner of pixel (0, 0). */
  readonly originX: number;
  readonly originY: number;
  /** Face label (`firstLabel[body] + face`) or -1 where nothing is seen. */
  readonly labels: Int32Array;
  readonly depth: Float32Array;
}

/** Pixels along the longer side: 0.2 mm on paper for an A3-filling view, fine enough to find a 1.5 mm circle. */
const PIXELS = 2000;
/** Free pixels around the picture, so that its border counts as a border of the faces, also where it is one of a window. */
const MARGIN = 2;

/**
 * Draws all triangles into a depth buffer (software scan conversion at pixel centres).
 * @param firstLabel first label of each body; labels of a body's faces follow one another
 */
export function drawItemBuffer(scene: ViewScene, box: Box2, firstLabel: Int32Array): ItemBuffer {
  const pixel = Math.max(box[2] - box[0], box[3] - box[1], 1e-9) / PIXELS;
  const width = Math.ceil((box[2] - box[0]) / pixel) + 2 * MARGIN,
    height = Math.ceil((box[3] - box[1]) / pixel) + 2 * MARGIN;
  const originX = box[0] - MARGIN * pixel,
    originY = box[1] - MARGIN * pixel;
  const labels = new Int32Array(width * height).fill(-1);
  const depth = new Float32Array(width * height).fill(-Infinity);
  const { corners, triangleBody, triangleFace } = scene;
  for (let t = 0; t < triangleBody.length; t++) {
    const a = t * 9;
    const ax = (corners[a] - originX) / pixel,
      ay = (corners[a + 1] - originY) / pixel,
      az = corners[a + 2];
    const bx = (corners[a + 3] - originX) / pixel,
      by = (corners[a + 4] - originY) / pixel,
      bz = corners[a + 5];
    const cx = (corners[a + 6] - originX) / pixel,
      cy = (corners[a + 7] - originY) / pixel,
      cz = corners[a + 8];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (area <= 0) continue;
    const label = firstLabel[triangleBody[t]] + triangleFace[t];
    const slopeX = ((bz - az) * (cy - ay) - (cz - az) * (by - ay)) / area;
    const slopeY = ((cz - az) * (bx - ax) - (bz - az) * (cx - ax)) / area;
    const lowRow = Math.max(MARGIN, Math.ceil(Math.min(ay, by, cy) - 0.5)),
      highRow = Math.min(height - 1 - MARGIN, Math.floor(Math.max(ay, by, cy) - 0.5));
    for (let row = lowRow; row <= highRow; row++) {
      const y = row + 0.5;
      let left = Infinity,
        right = -Infinity;
      // Where the row's centre line enters and leaves the triangle.
      if (ay <= y !== by <= y) {
        const x = ax + ((y - ay) / (by - ay)) * (bx - ax);
        left = Math.min(left, x);
        right = Math.max(right, x);
      }
      if (by <= y !== cy <= y) {
        const x = bx + ((y - by) / (cy - by)) * (cx - bx);
        left = Math.min(left, x);
        right = Math.max(right, x);
      }
      if (cy <= y !== ay <= y) {
        const x = cx + ((y - cy) / (ay - cy)) * (ax - cx);
        left = Math.min(left, x);
        right = Math.max(right, x);
      }
      const from = Math.max(MARGIN, Math.ceil(left - 0.5)),
        to = Math.min(width - 1 - MARGIN, Math.floor(right - 0.5));
      let z = az + slopeX * (from + 0.5 - ax) + slopeY * (y - ay);
      for (let at = row * width + from, end = row * width + to; at <= end; at++, z += slopeX) {
        if (z > depth[at]) {
          depth[at] = z;
          labels[at] = label;
        }
      }
    }
  }
  return { width, height, pixel, originX, originY, labels, depth };
}

/**
 * Distance in pixels from the centre of each pixel with a label to the nearest pixel of another one; exact Euclidean. Down and up the
 * columns by counting, then along each row by the lower envelope of parabolas.
 * Sources: A. Meijster, J. Roerdink, W. Hesselink, "A general algorithm for computing distance transforms in linear
 * time" (2000); P. Felzenszwalb, D. Huttenlocher, "Distance transforms of sampled functions", Theory of Computing 8
 * (2012), with the pixels on either side of a change of label as sources.
 */
export function distanceToOthers({ width, height, labels }: ItemBuffer): Float32Array {
  const far = width + height;
  const upright = new Float32Array(width * height);
  for (let row = 0, at = 0; row < height; row++) {
    for (let column = 0; column < width; column++, at++) {
      const label = labels[at];
      const border =
        (column > 0 && labels[at - 1] !== label) ||
        (column + 1 < width && labels[at + 1] !== label) ||
        (row > 0 && labels[at - width] !== label) ||
        (row + 1 < height && labels[at + width] !== label);
      upright[at] = border ? 0 : row > 0 ? upright[at - width] + 1 : far;
    }
  }
  for (let at = width * (height - 1) - 1; at >= 0; at--) {
    const below = upright[at + width] + 1;
    if (below < upright[at]) upright[at] = below;
  }
  const line = new Float64Array(width),
    out = new Float64Array(width);
  const hull = new Int32Array(width),
    from = new Float64Array(width + 1);
  for (let start = 0; start < upright.length; start += width) {
    for (let first = 0, next = 0; first < width; first = next) {
      const label = labels[start + first];
      while (next < width && labels[start + next] === label) next++;
      // Both ends of a run are borders, and nothing beyond them is nearer than they are.
      if (label < 0 || (next - first < 3 && first > 0 && next < width)) continue;
      for (let column = first; column < next; column++) line[column - first] = upright[start + column] ** 2;
      lowerEnvelope(line, next - first, out, hull, from);
      for (let column = first; column < next; column++) upright[start + column] = Math.sqrt(out[column - first]);
    }
  }
  return upright;
}

/** out[q] = min over p of (q − p)² + line[p] */
function lowerEnvelope(
  line: Float64Array,
  size: number,
  out: Float64Array,
  hull: Int32Array,
  from: Float64Array,
): void {
  let k = 0;
  hull[0] = 0;
  from[0] = -Infinity;
  from[1] = Infinity;
  for (let q = 1; q < size; q++) {
    let meet = (line[q] + q * q - line[hull[k]] - hull[k] * hull[k]) / (2 * q - 2 * hull[k]);
    while (meet <= from[k]) {
      k--;
      meet = (line[q] + q * q - line[hull[k]] - hull[k] * hull[k]) / (2 * q - 2 * hull[k]);
    }
    hull[++k] = q;
    from[k] = meet;
    from[k + 1] = Infinity;
  }
  k = 0;
  for (let q = 0; q < size; q++) {
    while (from[k + 1] < q) k++;
    const gap = q - hull[k];
    out[q] = gap * gap + line[hull[k]];
  }
}

/** The body to which a label belongs. @param firstLabel of each body, and one past the last */
export function bodyOfLabel(firstLabel: Int32Array, label: number): number {
  let low = 0,
    high = firstLabel.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (firstLabel[middle] <= label) low = middle;
    else high = middle;
  }
  return low;
}
