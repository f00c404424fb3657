import { expect, test } from 'vitest';
import { newCatalogue, type Catalogue } from '../../catalogues/index.ts';
import { sayInCatalogue } from '../index.ts';

const catalogue: Catalogue = {
  ...newCatalogue,
  name: 'Workshop',
  columns: [
    ...newCatalogue.columns,
    { id: 'price', heading: 'Price [EUR]', kind: 'money', unit: 'EUR' },
    { id: 'time', heading: 'Lead time', kind: 'number', unit: 'weeks' },
  ],
  items: ['A-1', 'B-1', 'B-1'].map((number, at) => ({ id: `i${at}`, values: { number: { value: number } } })),
};
const say = (number: string, what: 'unitCost' | 'leadTime', of = catalogue) =>
  sayInCatalogue(of, number, what, { value: 12, unit: what === 'unitCost' ? 'EUR' : 'days' }, () => 'new');

test('a part that is there gets its price under whatever that is called', () => {
  expect(say('A-1', 'unitCost')).toEqual({
    ok: true,
    command: { kind: 'typeItems', items: { i0: { price: { value: 12, unit: 'EUR' } } } },
  });
});
test('days stay days in a column that is in weeks', () => {
  expect(say('A-1', 'leadTime')).toMatchObject({ command: { items: { i0: { time: { value: 12, unit: 'days' } } } } });
});
test('a part that is not there is put in', () => {
  expect(say('C-1', 'unitCost')).toMatchObject({
    command: { kind: 'changeItems', put: [{ at: 3, item: { id: 'new', values: { number: { value: 'C-1' } } } }] },
  });
});
test('where it cannot be said, the reason is', () => {
  expect(say('B-1', 'unitCost')).toMatchObject({
    ok: false,
    reason: expect.stringContaining('several times') as string,
  });
  expect(say('', 'unitCost')).toMatchObject({ ok: false, reason: expect.stringContaining('no part number') as string });
  expect(say('A-1', 'unitCost', newCatalogue)).toMatchObject({
    reason: 'Catalogue has no column Unit cost; add it there first.',
  });
});
