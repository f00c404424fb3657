import { munkres } from 'munkres';
import { distance2, stretchesCross, stretchMeetsBox, type Vec2 } from '../geometry/index.ts';
import { spinesApart, spineToStretch } from './outline.ts';
import { railPlaces, type RailRoom } from './rails.ts';
import { LEAST_APART, LEAST_SLANT, roomEnough, type AnchorChoice } from './records.ts';

/** A balloon to be placed: the first choices are the better places for its leader to end. */
export interface Unplaced {
  readonly choices: readonly AnchorChoice[];
}
export interface Placed {
  readonly centre: Vec2;
  /** Index into the choices. */
  readonly choice: number;
}
/** A balloon that stays where it is. */
export interface Standing {
  readonly centre: Vec2;
  readonly anchor: Vec2;
}
export interface RingRequest extends RailRoom {
  readonly items: readonly Unplaced[];
  readonly standing: readonly Standing[];
  /** Distance of the first rail from the outline; mm. */
  readonly distance: number;
}

/** Clear space between two balloons; mm. */
const GAP = 2;
/** Places offered per balloon before no further rail is laid. */
const PLENTY = 1.6;
const MAX_RAILS = 4;
const REPAIR_ROUNDS = 8;
/** A balloon that costs less than this more than its best place alone is left where it is; mm. */
const WORTH = 40;

/** What is wrong costs this much leader length; mm. Overlap outweighs all, then crossings, then what only looks bad. */
const COST = {
  overlap: 100_000,
  crossing: 3000,
  through: 2000,
  sameSpot: 2000,
  obstacle: 2500,
  slant: 250,
  room: 120,
} as const;

/**
 * Places balloons on rails around a view: the assignment of anchors to places with the least total leader length, which
 * for straight leaders has no crossings (two crossing leaders could be exchanged for shorter ones), then repairs what
 * obstacles, angles and balloons standing by hand spoil. Null for an item that finds no place. Deterministic.
 * Source: M. Bekos, M. Kaufmann, A. Symvonis, A. Wolff, "Boundary labeling: models and efficient algorithms for
 * rectangular maps", Computational Geometry 36 (2007), for leaders of least total length.
 */
export function arrangeRing(request: RingRequest): (Placed | null)[] {
  if (request.items.length === 0 || request.hull.length < 3) return request.items.map(() => null);
  const spacing = 2 * request.radius + GAP;
  const places: Vec2[] = [],
    slots: Vec2[] = [];
  const standing = request.standing.map(({ centre }) => centre);
  for (let rail = 0; rail < MAX_RAILS && slots.length < request.items.length * (rail === 0 ? 1 : PLENTY); rail++) {
    const found = railPlaces(request, request.distance + rail * (spacing + GAP));
    const free = spread(found, spacing, request.extra ?? 0, [...slots, ...standing]);
    for (const place of found) places.push(place);
    for (const slot of free) slots.push(slot);
  }
  const placed = assign(request, slots);
  return new Repair(request, places, placed).run();
}

/** How many balloons find a place on the first rail alone: what a look is chosen by. */
export const ringCapacity = (room: RailRoom, distance: number): number =>
  spread(railPlaces(room, distance), 2 * room.radius + GAP, room.extra ?? 0, []).length;

/** Of these places, as many as stand apart from one another and from those taken; in order. */
function spread(places: readonly Vec2[], spacing: number, extra: number, taken: readonly Vec2[]): Vec2[] {
  const kept: Vec2[] = [];
  for (const place of places) {
    if (
      kept.every((other) => spinesApart(other, place, extra) >= spacing) &&
      taken.every((other) => spinesApart(other, place, extra) >= spacing)
    )
      kept.push(place);
  }
  return kept;
}

function assign(request: RingRequest, slots: readonly Vec2[]): (Placed | null)[] {
  const placed: (Placed | null)[] = request.items.map(() => null);
  if (slots.length === 0) return placed;
  const best = request.items.map((item) => slots.map((slot) => cheapestChoice(request, item, slot)));
  for (const [item, slot] of munkres(best.map((row) => row.map(({ cost }) => cost)))) {
    if (item < placed.length && slot < slots.length)
      placed[item] = { centre: slots[slot], choice: best[item][slot].choice };
  }
  return placed;
}

function cheapestChoice(request: RingRequest, { choices }: Unplaced, centre: Vec2): { cost: number; choice: number } {
  let found = { cost: Infinity, choice: 0 };
  choices.forEach((choice, at) => {
    const cost = ownCost(request, centre, choice);
    if (cost < found.cost) found = { cost, choice: at };
  });
  return found;
}

/** Cost of one leader by itself. */
function ownCost({ obstacles, radius, extra = 0 }: RingRequest, centre: Vec2, choice: AnchorChoice): number {
  const { point } = choice;
  const size = distance2(centre, point);
  let cost = size;
  const angle = Math.atan2(Math.abs(point[1] - centre[1]), Math.abs(point[0] - centre[0]));
  if (angle < LEAST_SLANT || angle > Math.PI / 2 - LEAST_SLANT) cost += COST.slant;
  if (!roomEnough(choice)) cost += COST.room;
  if (spinesApart(centre, point, extra / 2) < radius + 2) cost += COST.through;
  for (const box of obstacles) if (stretchMeetsBox(centre, point, box)) cost += COST.obstacle;
  return cost;
}

interface Move {
  readonly item: number;
  readonly place: Vec2;
  readonly choice: number;
  readonly gain: number;
}

/** Moves single balloons, and exchanges pairs, as long as that makes the whole cheaper. */
class Repair {
  private readonly centres: (Vec2 | null)[];
  private readonly chosen: number[];
  private readonly known = new Map<number, { own: number; place: Vec2; choice: number }[]>();

  constructor(
    private readonly request: RingRequest,
    private readonly places: readonly Vec2[],
    placed: readonly (Placed | null)[],
  ) {
    this.centres = placed.map((one) => one?.centre ?? null);
    this.chosen = placed.map((one) => one?.choice ?? 0);
  }

  run(): (Placed | null)[] {
    const count = this.centres.length;
    for (let round = 0; round < REPAIR_ROUNDS; round++) {
      let changed = false;
      for (let item = 0; item < count; item++) if (this.exchange(item)) changed = true;
      // Of two balloons in each other's way the one moves for which that costs less: the largest gains go first.
      const moves = Array.from({ length: count }, (_, item) => this.findMove(item)).filter((move) => move !== null);
      for (const move of moves.sort((one, two) => two.gain - one.gain)) if (this.apply(move)) changed = true;
      if (!changed) break;
    }
    this.uncross();
    // What still overlaps something is better left out and said than printed.
    for (let item = 0; item < count; item++) {
      const centre = this.centres[item];
      if (centre && this.costOf(item, centre, this.chosen[item]) >= COST.overlap) this.centres[item] = null;
    }
    return this.centres.map((centre, item) => (centre ? { centre, choice: this.chosen[item] } : null));
  }

  /**
   * Exchanges the places of every two balloons whose leaders still cross, whatever else that costs: the drawing may
   * not be misread. Two crossing stretches are together longer than the two that join their ends the other way, so
   * the total length falls with every exchange and the loop ends.
   */
  private uncross(): void {
    const count = this.centres.length;
    for (let changed = true; changed;) {
      changed = false;
      for (let one = 0; one < count; one++)
        for (let two = one + 1; two < count; two++) {
          const a = this.centres[one],
            b = this.centres[two];
          if (!a || !b || !stretchesCross(a, this.anchor(one), b, this.anchor(two))) continue;
          this.centres[one] = b;
          this.centres[two] = a;
          changed = true;
        }
    }
  }

  private anchor(item: number): Vec2 {
    return this.request.items[item].choices[this.chosen[item]].point;
  }

  /** Cost of item standing at `centre` with this choice, among all others as they stand. */
  private costOf(item: number, centre: Vec2, choice: number, except = -1, limit = Infinity): number {
    const { items, standing } = this.request;
    const anchor = items[item].choices[choice].point;
    let cost = ownCost(this.request, centre, items[item].choices[choice]);
    const near = (other: Vec2, otherAnchor: Vec2) => pairCost(centre, anchor, other, otherAnchor, this.request);
    for (const { centre: other, anchor: otherAnchor } of standing) cost += near(other, otherAnchor);
    for (let other = 0; other < items.length && cost < limit; other++) {
      const otherCentre = this.centres[other];
      if (other !== item && other !== except && otherCentre) cost += near(otherCentre, this.anchor(other));
    }
    return cost;
  }

  private costNow(item: number): number {
    const centre = this.centres[item];
    return centre ? this.costOf(item, centre, this.chosen[item]) : COST.overlap;
  }

  /** The cheapest place for one item as all others stand; null where it is well placed, or only its leader is long. */
  private findMove(item: number): Move | null {
    const now = this.costNow(item);
    const options = this.options(item);
    if (options.length === 0 || now - options[0].own < WORTH) return null;
    let best = now - 1e-6;
    let found: Move | null = null;
    for (const { own, place, choice } of options) {
      if (own >= best) break; // cheapest first: alone, every further place already costs more
      const cost = this.costOf(item, place, choice, -1, best);
      if (cost >= best) continue;
      best = cost;
      found = { item, place, choice, gain: now - cost };
    }
    return found;
  }

  /** Carries out a move unless what was moved before it has made it useless. */
  private apply({ item, place, choice }: Move): boolean {
    if (this.costOf(item, place, choice) >= this.costNow(item) - 1e-6) return false;
    this.centres[item] = place;
    this.chosen[item] = choice;
    return true;
  }

  /** Every place with every choice for one item, by what its leader alone costs. */
  private options(item: number): readonly { own: number; place: Vec2; choice: number }[] {
    let known = this.known.get(item);
    if (!known) {
      known = this.places.flatMap((place) =>
        this.request.items[item].choices.map((one, choice) => ({
          own: ownCost(this.request, place, one),
          place,
          choice,
        })),
      );
      this.known.set(
        item,
        known.sort((a, b) => a.own - b.own),
      );
    }
    return known;
  }

  /** Whether one of two leaders crosses the other or runs through its balloon. */
  private disturb(a: Vec2, anchorA: Vec2, b: Vec2, anchorB: Vec2): boolean {
    return pairCost(a, anchorA, b, anchorB, this.request) >= COST.through;
  }

  /** Exchanges the places of one item and one that it disturbs, where that is cheaper for both together. */
  private exchange(item: number): boolean {
    const own = this.centres[item];
    if (!own) return false;
    const now = this.costNow(item);
    for (let other = 0; other < this.centres.length; other++) {
      const theirs = this.centres[other];
      if (other === item || !theirs || !this.disturb(own, this.anchor(item), theirs, this.anchor(other))) continue;
      const before = now + this.costOf(other, theirs, this.chosen[other], item);
      const mine = this.costOf(item, theirs, this.chosen[item], other),
        yours = this.costOf(other, own, this.chosen[other], item);
      const between = pairCost(theirs, this.anchor(item), own, this.anchor(other), this.request);
      if (mine + yours + between < before - 1e-6) {
        this.centres[item] = theirs;
        this.centres[other] = own;
        return true;
      }
    }
    return false;
  }
}

function pairCost(
  a: Vec2,
  anchorA: Vec2,
  b: Vec2,
  anchorB: Vec2,
  { radius, extra = 0 }: Pick<RingRequest, 'radius' | 'extra'>,
): number {
  // Most pairs are far apart: their boxes, widened by a balloon, tell.
  const spacing = 2 * radius + GAP;
  const reach = spacing + 2 * extra;
  if (
    Math.min(a[0], anchorA[0]) > Math.max(b[0], anchorB[0]) + reach ||
    Math.min(b[0], anchorB[0]) > Math.max(a[0], anchorA[0]) + reach
  )
    return 0;
  if (
    Math.min(a[1], anchorA[1]) > Math.max(b[1], anchorB[1]) + reach ||
    Math.min(b[1], anchorB[1]) > Math.max(a[1], anchorA[1]) + reach
  )
    return 0;
  let cost = 0;
  if (spinesApart(a, b, extra) < spacing - 1e-6) cost += COST.overlap;
  if (stretchesCross(a, anchorA, b, anchorB)) cost += COST.crossing;
  if (spineToStretch(b, extra, a, anchorA) < radius + 1) cost += COST.through;
  if (spineToStretch(a, extra, b, anchorB) < radius + 1) cost += COST.through;
  if (distance2(anchorA, anchorB) < LEAST_APART) cost += COST.sameSpot;
  return cost;
}
