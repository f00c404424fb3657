import fc from 'fast-check';
import { expect, test } from 'vitest';
import { cheapestMix, type Offer } from './index.ts';

const offer = (more: Partial<Offer>): Offer => ({
  unitPrice: null,
  breaks: [],
  multiple: 1,
  packs: [],
  minimum: 0,
  ...more,
});

test('single pieces and packs are mixed where that is cheapest', () => {
  const bolts = offer({
    unitPrice: 0.5,
    packs: [
      { count: 25, price: 9 },
      { count: 100, price: 30 },
    ],
  });
  expect(cheapestMix(60, bolts)).toMatchObject({ packs: [{ size: 25, count: 2 }], singles: 10, cost: 23, over: 0 });
  expect(cheapestMix(127, bolts)).toMatchObject({
    packs: [
      { size: 100, count: 1 },
      { size: 25, count: 1 },
    ],
    singles: 2,
    cost: 40,
  });
});
test('a bigger pack that costs less than the exact number is proposed, with what that would cost', () => {
  const bolts = offer({ unitPrice: 0.5, packs: [{ count: 100, price: 30 }] });
  expect(cheapestMix(80, bolts)).toMatchObject({
    packs: [{ size: 100, count: 1 }],
    singles: 0,
    pieces: 100,
    over: 20,
    cost: 30,
    exactly: 40,
  });
});
test('a break is worth buying more for', () => {
  const bolts = offer({ unitPrice: 1, breaks: [{ count: 100, price: 0.5 }] });
  expect(cheapestMix(40, bolts)).toMatchObject({ singles: 40, cost: 40, exactly: null });
  expect(cheapestMix(60, bolts)).toMatchObject({ singles: 100, singlePrice: 0.5, cost: 50, exactly: 60 });
});
test('nothing below the least order is bought, and only in multiples', () => {
  expect(cheapestMix(7, offer({ unitPrice: 2, minimum: 20 }))).toMatchObject({ singles: 20, over: 13, cost: 40 });
  expect(cheapestMix(101, offer({ unitPrice: 2, multiple: 50 }))).toMatchObject({ singles: 150, over: 49, cost: 300 });
});
test('without any price there is no mix, and a price of nothing is a price', () => {
  expect(cheapestMix(5, offer({}))).toBeNull();
  expect(cheapestMix(5, offer({ breaks: [{ count: 10, price: 1 }] }))).toMatchObject({ singles: 10, cost: 10 });
  expect(cheapestMix(5, offer({ unitPrice: 0 }))).toMatchObject({ singles: 5, cost: 0 });
});
test('millions of pieces are bought in packs without counting them one by one', () => {
  const nails = offer({
    unitPrice: 0.02,
    packs: [
      { count: 500, price: 4 },
      { count: 7, price: 0.1 },
    ],
  });
  const mix = cheapestMix(10_000_003, nails)!;
  expect(mix.pieces).toBeGreaterThanOrEqual(10_000_003);
  expect(mix.cost).toBeCloseTo(80_000 + 0.06, 6);
});

/** Every combination of packs and singles, tried one by one. */
function leastCost(need: number, { unitPrice, breaks, multiple, packs, minimum }: Offer): number {
  const wanted = Math.max(need, minimum);
  const price = (count: number): number =>
    [...breaks].reverse().find((step) => step.count <= count)?.price ?? unitPrice ?? Infinity;
  let least = Infinity;
  const go = (at: number, pieces: number, cost: number) => {
    if (at === packs.length) {
      for (let singles = 0; singles <= wanted + 60; singles += multiple)
        if (pieces + singles >= wanted) least = Math.min(least, cost + (singles === 0 ? 0 : singles * price(singles)));
      return;
    }
    for (let count = 0; count * packs[at].count <= wanted + packs[at].count; count++)
      go(at + 1, pieces + count * packs[at].count, cost + count * packs[at].price);
  };
  go(0, 0, 0);
  return least;
}
const cents = (most: number) => fc.integer({ min: 0, max: most }).map((value) => value / 100);
test('no mix is cheaper, and every one covers the need and costs what it says', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 40 }),
      fc.record({
        unitPrice: fc.option(cents(200), { nil: null, freq: 4 }),
        breaks: fc
          .uniqueArray(fc.record({ count: fc.integer({ min: 2, max: 50 }), price: cents(200) }), {
            maxLength: 2,
            selector: ({ count }) => count,
          })
          .map((steps) => steps.sort((one, other) => one.count - other.count)),
        multiple: fc.constantFrom(1, 1, 5),
        packs: fc.array(fc.record({ count: fc.integer({ min: 2, max: 30 }), price: cents(2000) }), { maxLength: 3 }),
        minimum: fc.constantFrom(0, 0, 12),
      }),
      (need, offered) => {
        const mix = cheapestMix(need, offered);
        const least = leastCost(need, offered);
        if (!mix) return void expect(least).toBe(Infinity);
        expect(mix.cost).toBeCloseTo(least, 6);
        const packed = mix.packs.reduce((sum, { size, count }) => sum + size * count, 0);
        expect(packed + mix.singles).toBe(mix.pieces);
        expect(mix.pieces).toBeGreaterThanOrEqual(Math.max(need, offered.minimum));
        expect(mix.over).toBe(mix.pieces - need);
        const told = mix.packs.reduce((sum, { count, price }) => sum + count * price, mix.singles * mix.singlePrice);
        expect(mix.cost).toBeCloseTo(told, 6);
        if (mix.exactly !== null) expect(mix.exactly).toBeGreaterThan(mix.cost);
      },
    ),
    { numRuns: 400 },
  );
});
