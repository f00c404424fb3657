import type { RowIndex } from '../assembly/index.ts';
import type { Vec2 } from '../geometry/index.ts';
import { areTooNear, COST, GAP, leadersCross, pairCost, type Seat } from './costs.ts';
import { roomEnough } from './records.ts';
import { costOfChoice, type Placed, type RingRequest } from './request.ts';

const ROUNDS = 12;
/** A balloon that costs less than this more than its best place alone is left where it is; mm. */
const WORTH = 40;
/** Of an item so many places are looked at, the cheapest for it alone first. */
const MOST_OPTIONS = 3000;
/** Of about so many places nearest to it. */
const MOST_NEAR = 1200,
  SAMPLE = 8;
/** So many places are looked at from which another balloon would have to go, and so many tried. */
const MOST_PUSHES = 80,
  PUSHES = 6;

/** What stands so near to something in trouble takes part in mending it; mm. */
const AROUND = 80;
const STEPS_PER_BALLOON = 5000,
  /** Each step looks at all balloons. */
  MOST_WORK = 16e6;
/** How much worse a step may be at first and at last, roughly; mm of leader. */
const HOT = 2500,
  COLD = 3;

/** Seats that are looked at together. */
const BLOCK = 8;

/** Items by the direction in which their seats lie from the middle of all. */
function inTurn(seats: readonly (Seat | null)[]): number[] {
  const taken = seats.filter((seat) => seat !== null);
  const middle = (of: (seat: Seat) => number) => taken.reduce((sum, seat) => sum + of(seat), 0) / (taken.length || 1);
  const x = middle((seat) => seat.x),
    y = middle((seat) => seat.y);
  const turns = seats.map((seat) => (seat ? Math.atan2(seat.y - y, seat.x - x) : Infinity));
  return Array.from(seats.keys()).sort((a, b) => turns[a] - turns[b] || a - b);
}

/** One name for a square cell of the paper. */
const cellAt = (column: number, row: RowIndex): number => column * 65_536 + row;

/** Numbers from 0 to 1, the same ones every time. Source: T. Ettinger, mulberry32 (2017), public domain. */
function randomNumbers(): () => number {
  let state = 1;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** Places with choices for one item, the cheapest first: as columns of numbers, since there are very many. */
interface Options {
  /** What the leader alone costs there. */
  readonly own: Float64Array;
  /** Indices into the places. */
  readonly at: Int32Array;
  readonly choice: Uint16Array;
}
/** Of each item, once it was asked for. */
export type KnownOptions = Map<number, Options>;
/** Parts of a millimetre to which options are put in order, and more options than there are of one item. */
const FINE = 1024,
  MOST_OF_ONE = 2 ** 20;

interface Move {
  readonly item: number;
  readonly gain: number;
  readonly own: number;
  readonly at: number;
  readonly choice: number;
}

export interface Arranged {
  readonly placed: (Placed | null)[];
  /** Of all leaders together; mm. */
  readonly length: number;
  /** What is wrong, by its cost; 0 where nothing is. */
  readonly faults: number;
}

/** Moves single balloons, exchanges pairs, and pushes one away for another, as long as that makes the whole cheaper. */
export class Repair {
  private readonly seats: (Seat | null)[];
  private readonly chosen: number[];
  private readonly fixed: readonly Seat[];
  /** Per place how many balloons stand so near that none fits there. */
  private readonly blockers: Int32Array;
  /** Places by square cells of the paper; see `cellOf`. */
  private readonly cells = new Map<number, number[]>();
  private readonly cell: number;
  private readonly placesX: Float64Array;
  private readonly placesY: Float64Array;
  /** What was last found to be in the way is most likely so again. */
  private inTheWay = 0;
  /** Around leader and balloon of each seat, least x and y, then most; beyond everything where there is none. */
  private readonly boxes: Float64Array;
  /** Around every few of those, which stand near one another. */
  private readonly blocks: Float64Array;
  /** Items as they follow one another around the view, and where each of them comes in that. */
  private readonly around: Int32Array;
  private readonly turnOf: Int32Array;

  /**
   * @param places that balloons may be moved to
   * @param known of an earlier repair among the same places
   */
  constructor(
    private readonly request: RingRequest,
    private readonly places: readonly Vec2[],
    placed: readonly (Placed | null)[],
    readonly known: KnownOptions = new Map(),
  ) {
    this.chosen = placed.map((one) => one?.choice ?? 0);
    this.seats = placed.map((one, item) => (one ? this.seatAt(item, one.centre, one.choice) : null));
    this.placesX = Float64Array.from(places, ([x]) => x);
    this.placesY = Float64Array.from(places, ([, y]) => y);
    this.boxes = new Float64Array(placed.length * 4);
    this.blocks = new Float64Array(Math.ceil(placed.length / BLOCK) * 4);
    this.around = Int32Array.from(inTurn(this.seats));
    this.turnOf = new Int32Array(placed.length);
    this.around.forEach((item, turn) => (this.turnOf[item] = turn));
    this.seats.forEach((seat, item) => this.keepBox(item, seat));
    this.fixed = request.standing.map(({ centre, anchor }) => ({
      x: centre[0],
      y: centre[1],
      extra: request.extra ?? 0,
      toX: anchor[0],
      toY: anchor[1],
    }));
    const widest = request.items.reduce((most, { extra = 0 }) => Math.max(most, extra), request.extra ?? 0);
    this.cell = 2 * request.radius + GAP + widest;
    places.forEach(([x, y], at) => {
      const cell = cellAt(Math.floor(x / this.cell), Math.floor(y / this.cell));
      const held = this.cells.get(cell);
      if (held) held.push(at);
      else this.cells.set(cell, [at]);
    });
    this.blockers = new Int32Array(places.length);
    for (const seat of [...this.fixed, ...this.seats]) if (seat) this.block(seat, 1);
  }

  /**
   * Very many small steps, of which those that make things worse are taken ever more seldom: out of what moves of single
   * balloons cannot mend. The same steps every time. What comes of it is not worse.
   * Source: J. Christensen, J. Marks, S. Shieber, "An empirical study of algorithms for point-feature label placement", ACM
   * Transactions on Graphics 14 (1995), where this came out best.
   */
  anneal(): void {
    const moving = this.inTrouble();
    const steps = Math.min(STEPS_PER_BALLOON * moving.length, MOST_WORK / this.seats.length);
    const random = randomNumbers();
    let now = 0,
      least = 0,
      kept = this.seats.slice(),
      keptChoices = this.chosen.slice();
    for (let step = 0; step < steps; step++) {
      const heat = HOT * (COLD / HOT) ** (step / steps);
      const item = moving[Math.floor(random() * moving.length)];
      const options = this.options(item);
      const { length } = options.own;
      if (length === 0) continue;
      const which = Math.floor(random() ** 2 * length);
      const choice = options.choice[which];
      const seat = this.seatAt(item, this.places[options.at[which]], choice);
      const before = this.costNow(item);
      const after = this.costOf(item, seat, options.own[which], -1, before + 10 * heat);
      if (after > before && random() >= Math.exp((before - after) / heat)) continue;
      this.put(item, seat, choice);
      now += after - before;
      if (now < least - 1e-6) {
        least = now;
        kept = this.seats.slice();
        keptChoices = this.chosen.slice();
      }
    }
    kept.forEach((seat, item) => this.put(item, seat, keptChoices[item]));
  }

  /** What is in trouble, and what stands around it. */
  private inTrouble(): number[] {
    const troubled = this.seats.flatMap((seat, item) =>
      this.troubleOf(item, this.costNow(item)) < COST.slant ? [] : [seat ?? this.seatOf(item)],
    );
    return Array.from(this.seats.keys()).filter((item) => {
      const { x, y } = this.seats[item] ?? this.seatOf(item);
      return troubled.some((other) => Math.hypot(other.x - x, other.y - y) < AROUND);
    });
  }

  /** Stands for the seat of what has none: where its leader would end. */
  private seatOf(item: number): Seat {
    return this.seatAt(item, this.request.items[item].choices[0].point, 0);
  }

  /** Where all stand at the end; how long their leaders are together, and what else they cost. */
  run(): Arranged {
    const count = this.seats.length;
    for (let round = 0; round < ROUNDS; round++) {
      let changed = false;
      for (let item = 0; item < count; item++) if (this.exchange(item)) changed = true;
      // Of two balloons in each other's way the one moves for which that costs less: the largest gains go first.
      const moves = Array.from({ length: count }, (_, item) => this.findMove(item)).filter((move) => move !== null);
      for (const move of moves.sort((one, two) => two.gain - one.gain)) if (this.apply(move)) changed = true;
      if (!changed) for (let item = 0; item < count; item++) if (this.push(item)) changed = true;
      if (!changed) break;
    }
    this.uncross();
    // What still overlaps something is better left out and said than printed.
    for (let item = 0; item < count; item++) if (this.costNow(item) >= COST.overlap) this.put(item, null, 0);
    return this.result();
  }

  private result(): Arranged {
    let length = 0,
      faults = 0;
    const placed = this.seats.map((seat, item): Placed | null => {
      if (!seat) {
        faults += COST.overlap;
        return null;
      }
      const size = Math.hypot(seat.toX - seat.x, seat.toY - seat.y);
      const hasRoom = roomEnough(this.request.items[item].choices[this.chosen[item]]);
      length += size;
      faults += this.costNow(item) - size - (hasRoom ? 0 : COST.room);
      return { centre: [seat.x, seat.y], choice: this.chosen[item] };
    });
    return { placed, length, faults: faults < 1e-6 ? 0 : faults };
  }

  private seatAt(item: number, [x, y]: Vec2, choice: number): Seat {
    const { items, extra = 0 } = this.request;
    const [toX, toY] = items[item].choices[choice].point;
    return { x, y, extra: items[item].extra ?? extra, toX, toY };
  }

  private put(item: number, seat: Seat | null, choice: number): void {
    const before = this.seats[item];
    if (before) this.block(before, -1);
    if (seat) this.block(seat, 1);
    this.seats[item] = seat;
    this.chosen[item] = choice;
    this.keepBox(item, seat);
  }

  private keepBox(item: number, seat: Seat | null): void {
    const { boxes, blocks } = this;
    const turn = this.turnOf[item],
      at = turn * 4;
    boxes[at] = seat ? Math.min(seat.x, seat.toX) - seat.extra : Infinity;
    boxes[at + 1] = seat ? Math.min(seat.y, seat.toY) - seat.extra : Infinity;
    boxes[at + 2] = seat ? Math.max(seat.x, seat.toX) + seat.extra : -Infinity;
    boxes[at + 3] = seat ? Math.max(seat.y, seat.toY) + seat.extra : -Infinity;
    const block = Math.floor(turn / BLOCK),
      from = block * BLOCK * 4,
      to = Math.min(boxes.length, from + BLOCK * 4);
    let x0 = Infinity,
      y0 = Infinity,
      x1 = -Infinity,
      y1 = -Infinity;
    for (let one = from; one < to; one += 4) {
      x0 = Math.min(x0, boxes[one]);
      y0 = Math.min(y0, boxes[one + 1]);
      x1 = Math.max(x1, boxes[one + 2]);
      y1 = Math.max(y1, boxes[one + 3]);
    }
    blocks[block * 4] = x0;
    blocks[block * 4 + 1] = y0;
    blocks[block * 4 + 2] = x1;
    blocks[block * 4 + 3] = y1;
  }

  private isBlocking(seat: Seat, [x, y]: Vec2, extra: number): boolean {
    return areTooNear(seat.x, seat.y, seat.extra, x, y, extra, this.request.radius);
  }

  /** Counts where not even a round balloon fits. */
  private block(seat: Seat, by: 1 | -1): void {
    const column = Math.floor(seat.x / this.cell),
      row = Math.floor(seat.y / this.cell);
    for (let x = column - 1; x <= column + 1; x++)
      for (let y = row - 1; y <= row + 1; y++)
        for (const at of this.cells.get(cellAt(x, y)) ?? [])
          if (this.isBlocking(seat, this.places[at], 0)) this.blockers[at] += by;
  }

  /**
   * Exchanges the places of every two balloons whose leaders still cross, whatever else that costs: the drawing may
   * not be misread. Two crossing stretches are together longer than the two that join their ends the other way, so
   * the total length falls with every exchange and the loop ends.
   */
  private uncross(): void {
    for (let changed = true; changed;) {
      changed = false;
      for (let one = 0; one < this.seats.length; one++)
        for (let two = one + 1; two < this.seats.length; two++) {
          const [a, b] = [this.seats[one], this.seats[two]];
          if (!a || !b || !leadersCross(a, b)) continue;
          this.swap(one, two, a, b);
          changed = true;
        }
    }
  }

  private swap(one: number, two: number, a: Seat, b: Seat): void {
    this.put(one, this.seatAt(one, [b.x, b.y], this.chosen[one]), this.chosen[one]);
    this.put(two, this.seatAt(two, [a.x, a.y], this.chosen[two]), this.chosen[two]);
  }

  private ownCost(item: number, seat: Seat, choice: number): number {
    const one = this.request.items[item];
    return costOfChoice(this.request, one, [seat.x, seat.y], one.choices[choice]);
  }

  /** Cost of an item on a seat among all others as they stand; gives up beyond the limit. */
  private costOf(item: number, seat: Seat, own: number, except = -1, limit = Infinity): number {
    const { radius } = this.request;
    let cost = own;
    for (const other of this.fixed) cost += pairCost(seat, other, radius);
    const { boxes, blocks } = this;
    // What lies farther away than two balloons side by side costs nothing.
    const reach = 2 * radius + GAP + seat.extra;
    const x0 = Math.min(seat.x, seat.toX) - reach,
      y0 = Math.min(seat.y, seat.toY) - reach,
      x1 = Math.max(seat.x, seat.toX) + reach,
      y1 = Math.max(seat.y, seat.toY) + reach;
    const isFar = (of: Float64Array, box: number) =>
      of[box] > x1 || of[box + 1] > y1 || of[box + 2] < x0 || of[box + 3] < y0;
    const all = blocks.length / 4;
    for (let step = 0, block = this.inTheWay; step < all; step++, block++) {
      if (block === all) block = 0;
      if (isFar(blocks, block * 4)) continue;
      const end = Math.min(this.around.length, (block + 1) * BLOCK);
      for (let turn = block * BLOCK; turn < end; turn++) {
        if (isFar(boxes, turn * 4)) continue;
        const at = this.around[turn];
        const other = this.seats[at];
        if (other === null || at === item || at === except) continue;
        cost += pairCost(seat, other, radius);
        if (cost < limit) continue;
        this.inTheWay = block;
        return cost;
      }
    }
    return cost;
  }

  private costNow(item: number): number {
    const seat = this.seats[item];
    return seat ? this.costOf(item, seat, this.ownCost(item, seat, this.chosen[item])) : COST.overlap;
  }

  /** What an item costs beyond the length of its leader and what cannot be helped. */
  private troubleOf(item: number, now: number): number {
    const seat = this.seats[item];
    if (!seat) return now;
    const hasRoom = this.request.items[item].choices.some(roomEnough);
    return now - Math.hypot(seat.toX - seat.x, seat.toY - seat.y) - (hasRoom ? 0 : COST.room);
  }

  /** The cheapest place for one item as all others stand; null where it is well placed, or only its leader is long. */
  private findMove(item: number): Move | null {
    const now = this.costNow(item);
    if (this.troubleOf(item, now) < WORTH) return null;
    const options = this.options(item);
    const seat = this.seats[item];
    let best = now - 1e-6;
    let found: Move | null = null;
    for (let which = 0; which < options.own.length; which++) {
      const own = options.own[which],
        at = options.at[which];
      if (own >= best) break; // cheapest first: alone, every further place already costs more
      // Where another balloon stands in the way, nothing is gained whatever the leader does.
      const blocking = this.blockers[at];
      if (blocking > 1 || (blocking === 1 && !(seat && this.isBlocking(seat, this.places[at], 0)))) continue;
      const choice = options.choice[which];
      const cost = this.costOf(item, this.seatAt(item, this.places[at], choice), own, -1, best);
      if (cost >= best) continue;
      best = cost;
      found = { own, at, choice, item, gain: now - cost };
    }
    return found;
  }

  /** Carries out a move unless what was moved before it has made it useless. */
  private apply({ item, at, own, choice }: Move): boolean {
    const seat = this.seatAt(item, this.places[at], choice);
    if (this.costOf(item, seat, own) >= this.costNow(item) - 1e-6) return false;
    this.put(item, seat, choice);
    return true;
  }

  /** Places with choices for one item, by what its leader alone costs. */
  private options(item: number): Options {
    let known = this.known.get(item);
    if (!known) {
      const one = this.request.items[item];
      const { length } = one.choices;
      // Only what is near can be among the cheapest.
      const near = this.nearest(one.choices[0].point);
      const costs = new Float64Array(near.length * length);
      near.forEach((place, at) => {
        for (let choice = 0; choice < length; choice++)
          costs[at * length + choice] = costOfChoice(this.request, one, this.places[place], one.choices[choice]);
      });
      // Numbers sort much faster than anything else: cost and place in one.
      const order = costs.map((own, at) => Math.floor(own * FINE) * MOST_OF_ONE + at).sort();
      const kept = order.subarray(0, MOST_OPTIONS).map((both) => both % MOST_OF_ONE);
      known = {
        own: kept.map((at) => costs[at]),
        at: Int32Array.from(kept, (at) => near[Math.floor(at / length)]),
        choice: Uint16Array.from(kept, (at) => at % length),
      };
      this.known.set(item, known);
    }
    return known;
  }

  /** The places nearest to a point, in no order. */
  private nearest([x, y]: Vec2): number[] {
    const { placesX, placesY } = this;
    const count = placesX.length;
    const far = new Float64Array(count);
    // How far the nearest reach is told by a few of them.
    const few = new Float64Array(Math.ceil(count / SAMPLE));
    for (let at = 0; at < count; at++) {
      const dx = placesX[at] - x,
        dy = placesY[at] - y;
      far[at] = dx * dx + dy * dy;
      if (at % SAMPLE === 0) few[at / SAMPLE] = far[at];
    }
    const farthest = few.sort()[Math.ceil(MOST_NEAR / SAMPLE)] ?? Infinity;
    const near: number[] = [];
    for (let at = 0; at < count; at++) if (far[at] < farthest) near.push(at);
    return near;
  }

  /** Exchanges the places of one item and one that it disturbs, where that is cheaper for both together. */
  private exchange(item: number): boolean {
    const own = this.seats[item];
    if (!own) return false;
    const now = this.costNow(item);
    const { radius } = this.request;
    for (let other = 0; other < this.seats.length; other++) {
      const theirs = this.seats[other];
      if (other === item || !theirs || pairCost(own, theirs, radius) < COST.through) continue;
      const cost = (of: number, seat: Seat, except: number) =>
        this.costOf(of, seat, this.ownCost(of, seat, this.chosen[of]), except);
      const before = now + cost(other, theirs, item);
      const [a, b] = [
        this.seatAt(item, [theirs.x, theirs.y], this.chosen[item]),
        this.seatAt(other, [own.x, own.y], this.chosen[other]),
      ];
      if (cost(item, a, other) + cost(other, b, item) + pairCost(a, b, radius) >= before - 1e-6) continue;
      this.swap(item, other, own, theirs);
      return true;
    }
    return false;
  }

  /**
   * Takes a place for which one other balloon has to go, where both together are better off then. Only for what is in
   * trouble: a balloon without place, or with something in its way.
   */
  private push(item: number): boolean {
    const seat = this.seats[item],
      chosen = this.chosen[item];
    const now = this.costNow(item);
    if (this.troubleOf(item, now) < COST.slant) return false;
    const options = this.options(item);
    const tries = Array.from(options.own.subarray(0, MOST_PUSHES), (own, which) => {
      const at = options.at[which],
        choice = options.choice[which];
      return { own, at, choice, ...this.worstAt(item, this.seatAt(item, this.places[at], choice)) };
    })
      .filter(({ other, rest, own }) => other >= 0 && own + rest < now - 1e-6)
      .sort((a, b) => a.own + a.rest - b.own - b.rest)
      .slice(0, PUSHES);
    for (const { at, choice, own, other } of tries) {
      const theirs = this.seats[other]!,
        theirChoice = this.chosen[other];
      const before = now + this.costOf(other, theirs, this.ownCost(other, theirs, theirChoice), item);
      this.put(other, null, theirChoice);
      this.put(item, this.seatAt(item, this.places[at], choice), choice);
      const moved = this.findMove(other);
      if (moved) {
        this.put(other, this.seatAt(other, this.places[moved.at], moved.choice), moved.choice);
        const after = this.costOf(item, this.seats[item]!, own, other) + this.costNow(other);
        if (after < before - 1e-6) return true;
      }
      this.put(item, seat, chosen);
      this.put(other, theirs, theirChoice);
    }
    return false;
  }

  /** Which balloon costs a seat most, and what all the others cost it. */
  private worstAt(item: number, seat: Seat): { other: number; rest: number } {
    const { radius } = this.request;
    let other = -1,
      most = 0,
      rest = 0;
    for (const one of this.fixed) rest += pairCost(seat, one, radius);
    for (let at = 0; at < this.seats.length; at++) {
      const one = this.seats[at];
      if (!one || at === item) continue;
      const cost = pairCost(seat, one, radius);
      rest += Math.min(cost, most);
      if (cost > most) {
        most = cost;
        other = at;
      }
    }
    return { other, rest };
  }
}
