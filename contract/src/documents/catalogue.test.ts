import fc from 'fast-check';
import { expect, test } from 'vitest';
import * as v from 'valibot';
import { newCatalogue } from '../../../core/src/catalogues/index.ts';
import { catalogueCommandSchema, catalogueSchema } from './catalogue.ts';

const odd = fc.constantFrom<unknown>(null, undefined, '', 7, NaN, Infinity, true, [], {}, 'y'.repeat(41));
/** Mostly as it should be, so that all of an item is at times. */
const mostly = <Of>(good: fc.Arbitrary<Of>, ...others: fc.Arbitrary<unknown>[]): fc.Arbitrary<unknown> =>
  fc.oneof({ weight: 8, arbitrary: good as fc.Arbitrary<unknown> }, odd, ...others);
const value = mostly(
  fc.record(
    {
      value: mostly(fc.constantFrom('A', 1.5, false), fc.constant('z'.repeat(10_001))),
      unit: mostly(fc.constant('EUR')),
    },
    { requiredKeys: ['value'] },
  ),
  fc.record({ value: fc.constant('A'), more: odd }),
);
const item = mostly(
  fc.record({
    id: mostly(fc.constant('x'), fc.constantFrom('__proto__', 'i'.repeat(65))),
    values: mostly(fc.dictionary(fc.constantFrom('a', 'b'), value), fc.dictionary(fc.constant('c'.repeat(65)), value)),
  }),
  fc.record({ id: fc.constant('x'), values: fc.constant({}), more: odd }),
);

test('the quick look at items lets through what the schema of an item does, and nothing else', () => {
  let through = 0;
  fc.assert(
    fc.property(item, (one) => {
      const asCommand = { kind: 'changeItems', remove: [], put: [{ item: one, at: 0 }] };
      const expected = v.is(catalogueCommandSchema, asCommand);
      if (expected) through++;
      expect(v.is(catalogueSchema, { ...newCatalogue, items: [one] })).toBe(expected);
    }),
    { seed: 13, numRuns: 2000 },
  );
  expect(through).toBeGreaterThan(300);
  expect(through).toBeLessThan(1700);
});
