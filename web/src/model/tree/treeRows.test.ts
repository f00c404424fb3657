import { expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { treeRows } from './treeRows.ts';

const bolt = leaf('BOLT');
const assembly = assemblyOf(node('TABLE', [4, node('FOOT', [2, bolt], [1, leaf('PLATE')])], [3, bolt]));
const read = (open: string[] = [], matches: ((component: number) => boolean) | null = null) =>
  treeRows(assembly, new Set(open), matches).map(
    ({ component, level, quantity, opens, open: isOpen }) =>
      `${'  '.repeat(level)}${quantity} ${assembly.components[component].partNumber}${opens ? (isOpen ? ' −' : ' +') : ''}`,
  );
const footKey = treeRows(assembly, new Set(), null)[0].key;

test('closed: the first level, equal pieces on one line', () => {
  expect(read()).toEqual(['4 FOOT +', '3 BOLT']);
});
test('opened: what is inside stands below, indented, counted per parent', () => {
  expect(read([footKey])).toEqual(['4 FOOT −', '  2 BOLT', '  1 PLATE', '3 BOLT']);
});
test('the same part in two places has two lines with keys of their own', () => {
  const keys = treeRows(assembly, new Set([footKey]), null).map(({ key }) => key);
  expect(new Set(keys).size).toBe(keys.length);
});
test('searching lists every matching component once, wherever it is', () => {
  expect(read([], (component) => assembly.components[component].partNumber.includes('O'))).toEqual([
    '1 FOOT',
    '1 BOLT',
  ]);
});
test('a file that is one part shows that part', () => {
  const one = assemblyOf(leaf('ONLY'));
  expect(treeRows(one, new Set(), null).map(({ component }) => component)).toEqual([0]);
});
