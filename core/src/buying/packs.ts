import type { Offer, PriceStep } from './records.ts';

/** What is bought of one part, and what it costs. */
export interface Mix {
  /** Packs by size, largest first. */
  readonly packs: readonly { readonly size: number; readonly count: number; readonly price: number }[];
  /** Single pieces, and what each costs. */
  readonly singles: number;
  readonly singlePrice: number;
  /** Pieces altogether. */
  readonly pieces: number;
  readonly cost: number;
  /** Pieces more than needed. */
  readonly over: number;
  /** What exactly the pieces needed would cost, where that can be bought and is dearer. */
  readonly exactly: number | null;
}

/** Prices are compared to a ten-thousandth of the currency. */
const UNITS = 10_000;
/** Tables go up to so many pieces; what is beyond comes in the packs that are cheapest by the piece. */
const MOST_PIECES = 300_000;

/**
 * The cheapest mix of single pieces and packs that covers a need, exactly (dynamic programming over the pieces); of mixes
 * that cost the same the one with the fewest single pieces. Breaks hold for all single pieces.
 * @param need whole, at least 1
 * @returns null where the offer has no price
 */
export function cheapestMix(need: number, offer: Offer): Mix | null {
  const { unitPrice, breaks, multiple, packs, minimum } = offer;
  const sellsSingles = unitPrice !== null || breaks.length > 0;
  if (!sellsSingles && packs.length === 0) return null;
  const wanted = Math.max(need, minimum);
  const bulk = bulkOf(wanted, packs);
  const rest = wanted - bulk.count * (bulk.pack?.count ?? 0);
  const covers = packs.length > 0 ? cheapestPacks(rest, packs, false) : null;
  const singlePrice = (count: number): number | null => {
    let price = unitPrice;
    for (const step of breaks) if (step.count <= count) price = step.price;
    return price;
  };
  const whole = (count: number) => Math.ceil(count / multiple) * multiple;
  const best = (cost: (left: number) => number, exactly: boolean) => {
    let least = Infinity,
      singles = 0;
    const consider = (count: number) => {
      const price = count === 0 ? 0 : singlePrice(count);
      if (price === null) return;
      const left = Math.max(0, rest - count);
      const sum = Math.round(price * UNITS) * count + cost(left);
      if (sum >= least) return;
      least = sum;
      singles = count;
    };
    if (packs.length === 0) consider(whole(rest));
    else {
      consider(0);
      if (sellsSingles)
        for (let count = multiple; count <= (exactly ? rest : whole(rest)); count += multiple) consider(count);
    }
    // More than needed, for the price of a larger number.
    if (!exactly) for (const step of breaks) if (step.count > rest) consider(whole(step.count));
    return { least, singles };
  };
  const chosen = best((left) => (left === 0 ? 0 : (covers?.costs[left] ?? Infinity)), false);
  if (chosen.least === Infinity) return null;
  const counts = new Map<PriceStep, number>();
  if (bulk.pack) counts.set(bulk.pack, bulk.count);
  for (let left = Math.max(0, rest - chosen.singles); left > 0;) {
    const pack = packs[covers!.taken[left]];
    counts.set(pack, (counts.get(pack) ?? 0) + 1);
    left = Math.max(0, left - pack.count);
  }
  const bought = [...counts].filter(([, count]) => count > 0).sort(([one], [other]) => other.count - one.count);
  const pieces = chosen.singles + bought.reduce((sum, [pack, count]) => sum + pack.count * count, 0);
  const bulkCost = bulk.pack ? Math.round(bulk.pack.price * UNITS) * bulk.count : 0;
  const cost = chosen.least + bulkCost;
  const exact = pieces > wanted ? exactCost() + bulkCost : Infinity;
  return {
    packs: bought.map(([{ count: size, price }, count]) => ({ size, count, price })),
    singles: chosen.singles,
    singlePrice: chosen.singles === 0 ? 0 : singlePrice(chosen.singles)!,
    pieces,
    cost: cost / UNITS,
    over: pieces - need,
    exactly: exact > cost && exact < Infinity ? exact / UNITS : null,
  };

  function exactCost(): number {
    const exactly = packs.length > 0 ? cheapestPacks(rest, packs, true) : null;
    if (packs.length === 0 && whole(rest) !== rest) return Infinity;
    return best((left) => (left === 0 ? 0 : (exactly?.costs[left] ?? Infinity)), true).least;
  }
}

/** So many of the packs that are cheapest by the piece that a table can hold the rest. */
function bulkOf(wanted: number, packs: readonly PriceStep[]): { pack: PriceStep | null; count: number } {
  if (wanted <= MOST_PIECES || packs.length === 0) return { pack: null, count: 0 };
  const pack = packs.reduce((best, one) => (one.price / one.count < best.price / best.count ? one : best));
  return { pack, count: Math.floor((wanted - MOST_PIECES) / pack.count) };
}

/** By number of pieces, up to `most`: the least cost of packs that cover it (or come to just that), and which pack is one of them. */
function cheapestPacks(
  most: number,
  packs: readonly PriceStep[],
  exactly: boolean,
): { costs: Float64Array; taken: Int32Array } {
  const costs = new Float64Array(most + 1).fill(Infinity);
  const taken = new Int32Array(most + 1).fill(-1);
  const prices = packs.map(({ price }) => Math.round(price * UNITS));
  costs[0] = 0;
  for (let pieces = 1; pieces <= most; pieces++)
    packs.forEach(({ count }, at) => {
      if (exactly && count > pieces) return;
      const cost = costs[Math.max(0, pieces - count)] + prices[at];
      if (cost < costs[pieces]) {
        costs[pieces] = cost;
        taken[pieces] = at;
      }
    });
  return { costs, taken };
}
