import { distance2, type Vec2 } from '../geometry/index.ts';
import { cheapestAssignment } from './assignment.ts';
import { COST, GAP, runsThrough, type Seat } from './costs.ts';
import { spinesApart } from './outline.ts';
import { railPlaces, type RailRoom } from './rails.ts';
import { arrangements, type Arrangement } from './records.ts';
import { Repair, type Arranged, type KnownOptions } from './repair.ts';
import { costOfChoice, type Placed, type RingRequest } from './request.ts';

/** In the order in which they are tried; what offers fewer places only for few balloons. */
const arrangementsFor = (count: number): readonly Arrangement[] =>
  count > 60 ? ['ring'] : count > 40 ? ['ring', 'box'] : arrangements;
/** Places offered per balloon before no further rail is laid. */
const PLENTY = 1.6;
const MAX_RAILS = 5;
/** Balloons as close to one another as they may be, or with lanes between them. */
const PATTERNS = ['close', 'lanes'] as const;
/** Between the balloons of a first row, leaders of a second pass at up to this slant. */
const LANE_SLANT = (40 * Math.PI) / 180;
/** Whether a leader runs through other places is asked of those so near to its own; in radii. */
const LANE_REACH = 5;

/**
 * Places balloons on rails around a view: the assignment of anchors to places with the least total leader length, which
 * for straight leaders has no crossings (two crossing leaders could be exchanged for shorter ones), then repairs what
 * obstacles, angles and balloons standing by hand spoil. Where one row does not do, balloons stand in two, those of the
 * first far enough apart for the leaders of the second. Null for an item that finds no place. Deterministic.
 * Source: M. Bekos, M. Kaufmann, A. Symvonis, A. Wolff, "Boundary labeling: models and efficient algorithms for
 * rectangular maps", Computational Geometry 36 (2007), for leaders of least total length.
 */
export function arrangeRing(request: RingRequest): (Placed | null)[] {
  if (request.items.length === 0 || request.hull.length < 3) return request.items.map(() => null);
  let best: (Arranged & { readonly places: readonly Vec2[]; readonly known: KnownOptions }) | null = null;
  // Of what is only unsightly small steps make the best; what cannot be read is tried otherwise.
  const isReadable = () => best !== null && best.faults < COST.through;
  for (const arrangement of request.arrangements ?? arrangementsFor(request.items.length))
    for (const pattern of isReadable() ? [] : PATTERNS) {
      const { slots, places } = layRails(request, arrangement, pattern);
      const repair = new Repair(request, places, assign(request, slots));
      const made = repair.run();
      if (!best || isBetter(made, best)) best = { ...made, places, known: repair.known };
      if (made.faults === 0) return made.placed;
    }
  const { placed, places, known } = best!;
  const repair = new Repair(request, places, placed, known);
  repair.anneal();
  const annealed = repair.run();
  return isBetter(annealed, best!) ? annealed.placed : placed;
}

const isBetter = (one: Arranged, other: Arranged): boolean =>
  one.faults < other.faults || (one.faults === other.faults && one.length < other.length);

/** The places of the first rail alone. A look is chosen by how many there are. */
export const firstRow = (room: RailRoom & { readonly distance: number }): Vec2[] =>
  spread(railPlaces(room, room.distance), 2 * room.radius + GAP, room.extra ?? 0, []);

/** Places that balloons are assigned to, and all places that they may be moved to. */
function layRails(
  request: RingRequest,
  arrangement: Arrangement,
  pattern: (typeof PATTERNS)[number],
): { slots: Vec2[]; places: Vec2[] } {
  const { radius, extra = 0, items, distance } = request;
  const room: RailRoom = { ...request, arrangement };
  const spacing = 2 * radius + GAP;
  const wide = pattern === 'close' ? spacing : (2 * (radius + 1.1)) / Math.cos(LANE_SLANT);
  const places: Vec2[] = [],
    slots: Vec2[] = [];
  const standing = request.standing.map(({ centre }) => centre);
  let inner: Vec2[] = [];
  for (let rail = 0; rail < MAX_RAILS; rail++) {
    const isEnough = slots.length >= items.length * (rail <= 1 ? 1 : PLENTY);
    if (isEnough && (pattern === 'close' || rail > 2)) break;
    const found = railPlaces(room, distance + rail * (spacing + GAP));
    for (const place of found) places.push(place);
    if (isEnough) continue; // to be moved to
    // The places of a second row stand behind the gaps of the first.
    const order = pattern === 'lanes' && rail > 0 ? behindGaps(found, inner) : found;
    const free = spread(order, rail === 0 ? wide : spacing, extra, [...slots, ...standing]);
    for (const slot of free) slots.push(slot);
    inner = free;
  }
  return { slots, places };
}

/** The places, those nearest to the middles between neighbours of the row before first. */
function behindGaps(places: readonly Vec2[], inner: readonly Vec2[]): Vec2[] {
  if (places.length === 0) return [];
  const first = inner.map(([x, y], at): Vec2 => {
    const [nextX, nextY] = inner[(at + 1) % inner.length];
    const middle: Vec2 = [(x + nextX) / 2, (y + nextY) / 2];
    return places.reduce((best, place) => (distance2(place, middle) < distance2(best, middle) ? place : best));
  });
  return [...first, ...places];
}

/** Of these places, as many as stand apart from one another and from those taken; in order. */
function spread(places: readonly Vec2[], spacing: number, extra: number, taken: readonly Vec2[]): Vec2[] {
  const kept: Vec2[] = [];
  /** The last ones first: what follows one another stands side by side. */
  const isApart = (others: readonly Vec2[], place: Vec2) => {
    for (let at = others.length - 1; at >= 0; at--) if (spinesApart(others[at], place, extra) < spacing) return false;
    return true;
  };
  for (const place of places) if (isApart(kept, place) && isApart(taken, place)) kept.push(place);
  return kept;
}

function assign(request: RingRequest, slots: readonly Vec2[]): (Placed | null)[] {
  const { items, radius, extra = 0 } = request;
  const placed: (Placed | null)[] = items.map(() => null);
  const columns = Math.max(slots.length, items.length); // what gets a column beyond the slots stays without place
  const costs = new Float64Array(items.length * columns).fill(COST.overlap);
  const choices = new Uint8Array(costs.length);
  const before = slots.map((slot) =>
    slots.filter((other) => other !== slot && distance2(other, slot) < LANE_REACH * (radius + extra)),
  );
  items.forEach((item, row) =>
    slots.forEach((slot, column) => {
      const at = row * columns + column;
      item.choices.forEach((choice, which) => {
        const cost = costOfChoice(request, item, slot, choice);
        if (cost >= costs[at]) return;
        costs[at] = cost;
        choices[at] = which;
      });
      // A leader that would run through a place before it is dear, whether a balloon will stand there or not.
      const [toX, toY] = item.choices[choices[at]].point;
      const seat: Seat = { x: slot[0], y: slot[1], extra: item.extra ?? extra, toX, toY };
      for (const [x, y] of before[column])
        if (runsThrough(seat, { x, y, extra, toX: x, toY: y }, radius)) costs[at] += COST.through / 4;
    }),
  );
  cheapestAssignment(costs, items.length, columns).forEach((column, row) => {
    if (column < slots.length) placed[row] = { centre: slots[column], choice: choices[row * columns + column] };
  });
  return placed;
}
