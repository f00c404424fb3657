/** About two things per cell; a finer grid only costs memory. */
const THINGS_PER_CELL = 1;
const MAX_CELLS = 1 << 20;
const MAX_SIDE = 4096;
/** Numbers per side of what is walked. */
const SIDE = 5;

/**
 * Cells for about `things` things over a box on the view plane.
 * @param margin widens every thing, so that neighbours within it share a cell
 */
export function layOutCells(box: readonly [number, number, number, number], things: number, margin: number): Cells {
  const width = Math.max(box[2] - box[0], 1e-9) + 4 * margin,
    height = Math.max(box[3] - box[1], 1e-9) + 4 * margin;
  const side = Math.max(
    Math.sqrt((width * height) / Math.min(MAX_CELLS, Math.max(1, things / THINGS_PER_CELL))),
    2 * margin, // in smaller ones every thing would lie many times
  );
  const columns = clamp(Math.ceil(width / side), 1, MAX_SIDE),
    rows = clamp(Math.ceil(height / side), 1, MAX_SIDE);
  return new Cells(box[0] - 2 * margin, box[1] - 2 * margin, columns, rows, width / columns, height / rows, margin);
}

/**
 * Square cells over a part of the view plane, numbered from 0, row by row from the lowest. The cells that a line or a
 * triangle may touch are asked for row by row, so that a slanting thing gets only the cells it passes, not its whole box:
 *
 *     cells.startTriangle(corners, at);
 *     while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) …
 *
 * One thing at a time. Not a visitor: the call per cell was the dearest part of every view.
 */
export class Cells {
  readonly count: number;
  /** The cells of the row that `nextRow` went to. */
  first = 0;
  last = -1;
  private readonly slack: number;
  private readonly px = new Float64Array(3);
  private readonly py = new Float64Array(3);
  /** Per side of the thing: its lower end, its upper end, x per y. */
  private readonly sides = new Float64Array(3 * SIDE);
  private corners = 0;
  private row = 0;
  private lastRow = -1;
  private isOneRow = false;

  constructor(
    private readonly originX: number,
    private readonly originY: number,
    private readonly columns: number,
    private readonly rows: number,
    readonly width: number,
    readonly height: number,
    private readonly margin: number,
  ) {
    this.count = columns * rows;
    this.slack = 1e-6 * Math.min(width, height);
  }

  /** Middle of a cell. */
  xOf(cell: number): number {
    return this.originX + ((cell % this.columns) + 0.5) * this.width;
  }

  yOf(cell: number): number {
    return this.originY + (Math.floor(cell / this.columns) + 0.5) * this.height;
  }

  startStretch(x1: number, y1: number, x2: number, y2: number): void {
    const { px, py } = this;
    px[0] = x1;
    py[0] = y1;
    px[1] = x2;
    py[1] = y2;
    this.start(2, Math.min(y1, y2), Math.max(y1, y2));
  }

  /** @param at where the triangle's x, y, z, x, y, z, x, y, z begin */
  startTriangle(corners: Float64Array, at: number): void {
    const { px, py } = this;
    px[0] = corners[at];
    py[0] = corners[at + 1];
    px[1] = corners[at + 3];
    py[1] = corners[at + 4];
    px[2] = corners[at + 6];
    py[2] = corners[at + 7];
    this.start(3, Math.min(py[0], py[1], py[2]), Math.max(py[0], py[1], py[2]));
  }

  private start(corners: number, low: number, high: number): void {
    this.corners = corners;
    this.row = clamp(Math.floor((low - this.margin - this.originY) / this.height), 0, this.rows - 1) - 1;
    this.lastRow = clamp(Math.floor((high + this.margin - this.originY) / this.height), 0, this.rows - 1);
    this.isOneRow = this.row + 1 === this.lastRow;
    if (this.isOneRow) return;
    const { px, py, sides } = this;
    for (let corner = 0, side = 0; corner < corners; corner++, side += SIDE) {
      const next = corner + 1 === corners ? 0 : corner + 1;
      const [from, to] = py[corner] <= py[next] ? [corner, next] : [next, corner];
      sides[side] = px[from];
      sides[side + 1] = py[from];
      sides[side + 2] = px[to];
      sides[side + 3] = py[to];
      sides[side + 4] = (px[to] - px[from]) / (py[to] - py[from]);
    }
  }

  /** Whether there is a further row; `first` and `last` are its cells then. */
  nextRow(): boolean {
    const { px, sides, corners, margin, columns } = this;
    while (this.row < this.lastRow) {
      const row = ++this.row;
      let left = Infinity,
        right = -Infinity;
      if (this.isOneRow) {
        for (let corner = 0; corner < corners; corner++) {
          if (px[corner] < left) left = px[corner];
          if (px[corner] > right) right = px[corner];
        }
      } else {
        const bandLow = this.originY + row * this.height - margin,
          bandHigh = this.originY + (row + 1) * this.height + margin;
        for (let side = 0; side < corners * SIDE; side += SIDE) {
          const lowY = sides[side + 1],
            highY = sides[side + 3];
          if (highY < bandLow || lowY > bandHigh) continue;
          const low = lowY < bandLow ? sides[side] + sides[side + 4] * (bandLow - lowY) : sides[side],
            high = highY > bandHigh ? sides[side] + sides[side + 4] * (bandHigh - lowY) : sides[side + 2];
          if (low < left) left = low;
          if (high < left) left = high;
          if (low > right) right = low;
          if (high > right) right = high;
        }
        if (left > right) continue;
      }
      this.first = row * columns + clamp(Math.floor((left - margin - this.originX) / this.width), 0, columns - 1);
      this.last = row * columns + clamp(Math.floor((right + margin - this.originX) / this.width), 0, columns - 1);
      return true;
    }
    return false;
  }

  /**
   * Writes into `out` which part (0..1) of the line from (x, y) along (dx, dy) lies in a cell; false where none does.
   * Parts of neighbouring cells overlap a little, so that nothing falls between them.
   */
  within(cell: number, x: number, y: number, dx: number, dy: number, out: Float64Array): boolean {
    const { slack } = this;
    const row = Math.floor(cell / this.columns);
    const left = this.originX + (cell - row * this.columns) * this.width - slack - x,
      low = this.originY + row * this.height - slack - y;
    let from = 0,
      to = 1;
    if (dx !== 0) {
      const one = left / dx,
        other = (left + this.width + 2 * slack) / dx;
      from = Math.max(from, Math.min(one, other));
      to = Math.min(to, Math.max(one, other));
    } else if (left > 0 || left + this.width + 2 * slack < 0) return false;
    if (dy !== 0) {
      const one = low / dy,
        other = (low + this.height + 2 * slack) / dy;
      from = Math.max(from, Math.min(one, other));
      to = Math.min(to, Math.max(one, other));
    } else if (low > 0 || low + this.height + 2 * slack < 0) return false;
    out[0] = from;
    out[1] = to;
    return from <= to;
  }
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
 * @param kept triangles, in the order in which each cell is to have its own
 */
export function gridTriangles(corners: Float64Array, margin: number, kept: Int32Array): TriangleGrid {
  const cells = layOutCells(boxOfCorners(corners), kept.length, margin);
  const starts = new Int32Array(cells.count + 1);
  for (const t of kept) {
    cells.startTriangle(corners, t * 9);
    while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) starts[cell + 1]++;
  }
  for (let at = 1; at < starts.length; at++) starts[at] += starts[at - 1];
  const next = starts.slice(0, -1);
  const items = new Int32Array(starts[cells.count]);
  for (const t of kept) {
    cells.startTriangle(corners, t * 9);
    while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) items[next[cell]++] = t;
  }
  return { cells, starts, items };
}
