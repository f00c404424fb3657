/** Numbers per place: where it is. */
const AXES = 3;

/**
 * Things by the lattice point that they lie on. Every view welds hundreds of thousands of corners this way; texts as keys
 * take five times as long.
 */
export class Places {
  /** For each thing, numbered in the order in which they came, the one before it at its place; -1 for the first. */
  before: Int32Array;
  private things = 0;
  private places = 0;
  private at: Float64Array;
  /** Per place the thing that came last, and the next place of the same bucket. */
  private last: Int32Array;
  private next: Int32Array;
  private buckets: Int32Array;

  /** @param expected about how many things there will be; it takes more as well */
  constructor(expected: number) {
    const room = Math.max(16, expected);
    this.before = new Int32Array(room);
    this.at = new Float64Array(room * AXES);
    this.last = new Int32Array(room);
    this.next = new Int32Array(room);
    this.buckets = new Int32Array(2 ** Math.ceil(Math.log2(room))).fill(-1);
  }

  /**
   * Adds the next thing.
   * @param x whole numbers, of any size
   * @returns the thing that came last before it at the same place, or -1
   */
  add(x: number, y: number, z: number): number {
    const thing = this.things++;
    if (thing === this.before.length) this.grow();
    const { at, next, buckets } = this;
    const bucket = bucketOf(x, y, z, buckets.length);
    for (let place = buckets[bucket]; place >= 0; place = next[place])
      if (at[place * AXES] === x && at[place * AXES + 1] === y && at[place * AXES + 2] === z) {
        this.before[thing] = this.last[place];
        this.last[place] = thing;
        return this.before[thing];
      }
    const place = this.places++;
    at[place * AXES] = x;
    at[place * AXES + 1] = y;
    at[place * AXES + 2] = z;
    next[place] = buckets[bucket];
    buckets[bucket] = place;
    this.last[place] = thing;
    this.before[thing] = -1;
    return -1;
  }

  private grow(): void {
    const room = this.before.length * 2;
    const wider = <Numbers extends Int32Array | Float64Array>(numbers: Numbers, made: Numbers): Numbers => {
      made.set(numbers);
      return made;
    };
    this.before = wider(this.before, new Int32Array(room));
    this.at = wider(this.at, new Float64Array(room * AXES));
    this.last = wider(this.last, new Int32Array(room));
    this.next = new Int32Array(room);
    this.buckets = new Int32Array(2 ** Math.ceil(Math.log2(room))).fill(-1);
    for (let place = 0; place < this.places; place++) {
      const [x, y, z] = this.at.subarray(place * AXES, place * AXES + AXES);
      const bucket = bucketOf(x, y, z, this.buckets.length);
      this.next[place] = this.buckets[bucket];
      this.buckets[bucket] = place;
    }
  }
}

/** Multiplicative hashing (Knuth, The Art of Computer Programming 3, 6.4); the high bits are the mixed ones. */
function bucketOf(x: number, y: number, z: number, buckets: number): number {
  let hash = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(z, 0xc2b2ae35);
  hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
  return (hash ^ (hash >>> 13)) & (buckets - 1);
}

/** The odd offset keeps round numbers, which drawings are full of, off the borders between cells. */
const OFF_ROUND = 0.381966;

/**
 * Corners closer than this share of a shape's extent are one; far below any tessellation step, far above round-off.
 */
const WELD_SHARE = 1e-7;

/**
 * Per point the first one at the same place, as far as cells of a lattice tell.
 * @param positions x, y, z each
 * @param extent of the shape, such as the diagonal of its box
 */
export function weldPoints(positions: ArrayLike<number>, extent: number): Uint32Array {
  const cell = Math.max(extent * WELD_SHARE, 1e-9);
  const weld = new Uint32Array(positions.length / AXES);
  const places = new Places(weld.length);
  const lattice = (value: number) => Math.round(value / cell + OFF_ROUND);
  for (let point = 0; point < weld.length; point++) {
    const at = point * AXES;
    const before = places.add(lattice(positions[at]), lattice(positions[at + 1]), lattice(positions[at + 2]));
    weld[point] = before < 0 ? point : weld[before];
  }
  return weld;
}
