/** Square cells over a part of the view plane, numbered from 0. */
export interface Cells {
  readonly count: number;
  readonly width: number;
  readonly height: number;
  /** Middle of a cell. */
  readonly xOf: (cell: number) => number;
  readonly yOf: (cell: number) => number;
  /**
   * Writes into `out` which part (0..1) of the line from (x, y) along (dx, dy) lies in a cell; false where none does. Parts
   * of neighbouring cells overlap a little, so that nothing falls between them.
   */
  readonly within: (cell: number, x: number, y: number, dx: number, dy: number, out: Float64Array) => boolean;
  /** Calls `visit` with every cell that the polygon of these corners may touch, until it answers true. */
  readonly ofStretch: (x1: number, y1: number, x2: number, y2: number, visit: (cell: number) => boolean | void) => void;
  readonly ofTriangle: (corners: Float64Array, at: number, visit: (cell: number) => boolean | void) => void;
}

/** About two things per cell; a finer grid only costs memory. */
const THINGS_PER_CELL = 1;
const MAX_CELLS = 1 << 20;
const MAX_SIDE = 4096;

/**
 * Cells for about `things` things over a box on the view plane. A slanting thing gets only the cells it passes, row by
 * row, not its whole box.
 * @param margin widens every thing, so that neighbours within it share a cell
 */
export function layOutCells(box: readonly [number, number, number, number], things: number, margin: number): Cells {
  const width = Math.max(box[2] - box[0], 1e-9) + 4 * margin,
    height = Math.max(box[3] - box[1], 1e-9) + 4 * margin;
  const side = Math.sqrt((width * height) / Math.min(MAX_CELLS, Math.max(1, things / THINGS_PER_CELL)));
  const columns = clamp(Math.ceil(width / side), 1, MAX_SIDE),
    rows = clamp(Math.ceil(height / side), 1, MAX_SIDE);
  const stepX = width / columns,
    stepY = height / rows;
  const originX = box[0] - 2 * margin,
    originY = box[1] - 2 * margin;
  const columnOf = (x: number) => clamp(Math.floor((x - originX) / stepX), 0, columns - 1);
  const rowOf = (y: number) => clamp(Math.floor((y - originY) / stepY), 0, rows - 1);
  const slack = 1e-6 * Math.min(stepX, stepY);
  const px = new Float64Array(3),
    py = new Float64Array(3);

  /** Cells of the convex polygon in the first `size` entries of px, py. */
  const sweep = (size: number, visit: (cell: number) => boolean | void) => {
    let low = py[0],
      high = py[0];
    for (let corner = 1; corner < size; corner++) {
      if (py[corner] < low) low = py[corner];
      if (py[corner] > high) high = py[corner];
    }
    const firstRow = rowOf(low - margin),
      lastRow = rowOf(high + margin);
    if (firstRow === lastRow) {
      let left = px[0],
        right = px[0];
      for (let corner = 1; corner < size; corner++) {
        if (px[corner] < left) left = px[corner];
        if (px[corner] > right) right = px[corner];
      }
      const last = columnOf(right + margin);
      for (let column = columnOf(left - margin); column <= last; column++)
        if (visit(firstRow * columns + column)) return;
      return;
    }
    for (let row = firstRow; row <= lastRow; row++) {
      const bandLow = originY + row * stepY - margin,
        bandHigh = originY + (row + 1) * stepY + margin;
      let left = Infinity,
        right = -Infinity;
      for (let corner = 0; corner < size; corner++) {
        const next = (corner + 1) % size;
        const up = py[corner] <= py[next];
        let ax = up ? px[corner] : px[next],
          bx = up ? px[next] : px[corner];
        const ay = up ? py[corner] : py[next],
          by = up ? py[next] : py[corner];
        if (by < bandLow || ay > bandHigh) continue;
        if (by > ay) {
          const slope = (bx - ax) / (by - ay);
          if (by > bandHigh) bx = ax + slope * (bandHigh - ay);
          if (ay < bandLow) ax += slope * (bandLow - ay);
        }
        left = Math.min(left, ax, bx);
        right = Math.max(right, ax, bx);
      }
      if (left > right) continue;
      const last = columnOf(right + margin);
      for (let column = columnOf(left - margin); column <= last; column++) if (visit(row * columns + column)) return;
    }
  };
  return {
    count: columns * rows,
    width: stepX,
    height: stepY,
    xOf: (cell) => originX + ((cell % columns) + 0.5) * stepX,
    yOf: (cell) => originY + (Math.floor(cell / columns) + 0.5) * stepY,
    within: (cell, x, y, dx, dy, out) => {
      const left = originX + (cell % columns) * stepX - slack - x,
        low = originY + Math.floor(cell / columns) * stepY - slack - y;
      let from = 0,
        to = 1;
      if (dx !== 0) {
        const one = left / dx,
          other = (left + stepX + 2 * slack) / dx;
        from = Math.max(from, Math.min(one, other));
        to = Math.min(to, Math.max(one, other));
      } else if (left > 0 || left + stepX + 2 * slack < 0) return false;
      if (dy !== 0) {
        const one = low / dy,
          other = (low + stepY + 2 * slack) / dy;
        from = Math.max(from, Math.min(one, other));
        to = Math.min(to, Math.max(one, other));
      } else if (low > 0 || low + stepY + 2 * slack < 0) return false;
      out[0] = from;
      out[1] = to;
      return from <= to;
    },
    ofStretch: (x1, y1, x2, y2, visit) => {
      px[0] = x1;
      py[0] = y1;
      px[1] = x2;
      py[1] = y2;
      sweep(2, visit);
    },
    ofTriangle: (corners, at, visit) => {
      for (let corner = 0; corner < 3; corner++) {
        px[corner] = corners[at + corner * 3];
        py[corner] = corners[at + corner * 3 + 1];
      }
      sweep(3, visit);
    },
  };
}

const clamp = (value: number, low: number, high: number): number => (value < low ? low : value > high ? high : value);

/** Triangles by cell: those of cell c are `items[starts[c]] … items[starts[c + 1] - 1]`. */
export interface TriangleGrid {
  readonly cells: Cells;
  readonly starts: Int32Array;
  readonly items: Int32Array;
}

/** Around corners given as x, y, z each; zeros for none. */
export function boxOfCorners(corners: Float64Array): [number, number, number, number] {
  if (corners.length === 0) return [0, 0, 0, 0];
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let at = 0; at < corners.length; at += 3) {
    box[0] = Math.min(box[0], corners[at]);
    box[1] = Math.min(box[1], corners[at + 1]);
    box[2] = Math.max(box[2], corners[at]);
    box[3] = Math.max(box[3], corners[at + 1]);
  }
  return box;
}

/**
 * @param corners x, y, z per corner, three corners per triangle
 * @param isLeftOut by where a triangle's corners begin
 */
export function gridTriangles(
  corners: Float64Array,
  margin: number,
  isLeftOut: (corners: Float64Array, at: number) => boolean,
): TriangleGrid {
  const kept: number[] = [];
  for (let t = 0; t * 9 < corners.length; t++) if (!isLeftOut(corners, t * 9)) kept.push(t);
  const cells = layOutCells(boxOfCorners(corners), kept.length, margin);
  const starts = new Int32Array(cells.count + 1);
  for (const t of kept) cells.ofTriangle(corners, t * 9, (cell) => void starts[cell + 1]++);
  for (let at = 1; at < starts.length; at++) starts[at] += starts[at - 1];
  const next = starts.slice(0, -1);
  const items = new Int32Array(starts[cells.count]);
  for (const t of kept) {
    cells.ofTriangle(corners, t * 9, (cell) => {
      items[next[cell]++] = t;
    });
  }
  return { cells, starts, items };
}
