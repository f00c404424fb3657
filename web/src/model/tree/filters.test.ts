import { describe, expect, test } from 'vitest';
import type { Component } from '../../../../core/src/assembly/index.ts';
import { answers, finds, searchText, type Filter } from './filters.ts';

const part = {
  key: 'k',
  partNumber: 'SL-1310',
  name: 'Deck slat',
  description: '',
  revision: '',
  source: 'made',
  shape: 's',
  properties: { Material: { value: 'Birch ply' }, Length: { value: 760, unit: 'mm' } },
  usages: [],
} as unknown as Component;
const facts = (component: Partial<Component>, count = 1, treatment?: { ownLine: boolean; countContents: boolean }) => ({
  component: { ...part, ...component },
  count,
  treatment,
});

describe('questions about components', () => {
  test.each<[Filter, ReturnType<typeof facts>, ReturnType<typeof facts>]>([
    ['no-material', facts({ properties: { Material: { value: ' ' } } }), facts({})],
    ['many', facts({}, 11), facts({}, 10)],
    ['bought', facts({ source: 'bought' }), facts({})],
    [
      'treated',
      facts({}, 1, { ownLine: true, countContents: false }),
      facts({}, 1, { ownLine: true, countContents: true }),
    ],
    ['no-number', facts({ partNumber: '' }), facts({})],
    ['no-shape', facts({ shape: null }), facts({})],
    ['parts', facts({}), facts({ usages: [{}] as never })],
  ])('%s', (filter, yes, no) =>
    expect([answers(filter, yes), answers(filter, no), answers('everything', no)]).toEqual([true, false, true]),
  );
  test('an assembly lacks no material', () =>
    expect(answers('no-material', facts({ properties: {}, usages: [{}] as never }))).toBe(false));
});

test('a search finds words of number, name and properties, in any order and case', () => {
  const text = searchText(part);
  for (const query of ['slat birch', 'sl-13', '760', 'length: 760', 'DECK', ''])
    expect([query, finds(text, query)]).toEqual([query, true]);
  for (const query of ['birch steel', 'length: 761']) expect([query, finds(text, query)]).toEqual([query, false]);
});
