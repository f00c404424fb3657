import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { naturalOrder } from './order.ts';
import { defaultColumns, knownColumns, newColumn, propertyText, toStored } from './index.ts';

const assembly = assemblyOf(
  node(
    'TOP',
    [1, leaf('A-1', { name: 'Slat', material: 'Ash' })],
    [2, leaf('B-1', { name: 'Slat', material: 'Birch ply' })],
    [1, leaf('C-1', { name: 'Pin' })],
  ),
);
describe('values as text', () => {
  test.each([
    [{ value: 33.7, unit: 'mm' }, '33.7 mm'],
    [{ value: 0.1 + 0.2 }, '0.3'],
    [{ value: 123456789 }, '123456789'],
    [{ value: 123456.789 }, '123457'],
    [{ value: true }, 'yes'],
    [{ value: false }, 'no'],
    [{ value: 'Ø40' }, 'Ø40'],
    [{ value: 0, unit: 'kg' }, '0 kg'],
  ])('%j reads “%s”', (property, text) => expect(propertyText(property)).toBe(text));
  test('what is not known is empty, not zero', () => expect(propertyText(undefined)).toBe(''));
});

describe('columns to choose from', () => {
  test('each property with an example of this machine and how many parts have it', () => {
    expect(knownColumns(assembly).find(({ id }) => id === 'property:Material')).toEqual({
      id: 'property:Material',
      source: 'property:Material',
      heading: 'Material',
      example: 'Ash',
      filled: 2,
      of: 3,
    });
  });
  test('a new bill shows a material column only where the machine has materials', () => {
    expect(defaultColumns(assembly).map(({ heading }) => heading)).toEqual([
      'Item',
      'Qty',
      'Part number',
      'Name',
      'Material',
    ]);
    expect(
      defaultColumns(assemblyOf(node('TOP', [1, leaf('A', { name: 'Slat' })]))).map(({ heading }) => heading),
    ).toEqual(['Item', 'Qty', 'Part number', 'Name']);
  });
  test('a property called like a built-in column stays a property', () => {
    expect(newColumn('property:quantity')).toEqual({
      id: 'property:quantity',
      source: 'property:quantity',
      heading: 'quantity',
    });
  });
});

describe('what a new list shows', () => {
  const sourcesOf = (...parts: readonly ReturnType<typeof leaf>[]) =>
    defaultColumns(assemblyOf(node('TOP', ...parts.map((one) => [1, one] as const)))).map(({ source }) => source);
  test('leaves out part numbers that repeat every name, and nothing else', () => {
    expect(sourcesOf(leaf('Plate', { name: 'Plate' }), leaf('Pin', { name: 'Pin' }))).toEqual([
      'item',
      'quantity',
      'name',
    ]);
    expect(sourcesOf(leaf('P-1', { name: 'Plate' }), leaf('Pin', { name: 'Pin' }))).toEqual([
      'item',
      'quantity',
      'partNumber',
      'name',
    ]);
  });
  test('leaves out what nothing fills', () => {
    expect(sourcesOf(leaf('', { name: 'Plate' }))).toEqual(['item', 'quantity', 'name']);
    expect(sourcesOf(leaf('P-1', { name: '' }))).toEqual(['item', 'quantity', 'partNumber']);
  });
});

test('a misspelt column is named, with the one it is nearest to', () => {
  const names = ['Length', 'Mass each', 'Name'];
  const read = (typed: string) => toStored(typed, (name) => (names.includes(name) ? name : null), names);
  expect(read('{Name}, {Lengt}')).toEqual({
    ok: false,
    fault: { message: 'No column or property is called “Lengt”; did you mean “Length”?', at: 8, length: 7 },
  });
  expect(read('{Colour}')).toMatchObject({ fault: { message: 'No column or property is called “Colour”.' } });
});

test('a language that there is none of orders as the machine does, and throws nothing', () => {
  expect(['M10', 'M6'].sort(naturalOrder('zz-1'))).toEqual(['M6', 'M10']);
});
