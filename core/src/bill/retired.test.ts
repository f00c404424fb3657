import { expect, test } from 'vitest';
import type { Assembly, ComponentKey } from '../assembly/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { makeBill, noDecisions, numbersToKeep, type Address, type Ledger, type Recipe } from './index.ts';

const structured: Recipe = { depth: 'structured', identity: 'part-number' };
const partsOnly: Recipe = { depth: 'parts-only', identity: 'part-number' };
/** Keys are the part numbers, so that two revisions have the same. */
const keyed = (assembly: Assembly): Assembly => ({
  ...assembly,
  components: assembly.components.map((component) => ({ ...component, key: component.partNumber as ComponentKey })),
});
const before = keyed(
  assemblyOf(
    node('TOP', [1, leaf('A')], [2, leaf('B')], [1, node('BOX', [1, leaf('C')], [1, leaf('D')])], [1, leaf('E')]),
  ),
);
const after = keyed(assemblyOf(node('TOP', [1, leaf('A')], [1, node('BOX', [1, leaf('D')])], [1, leaf('E')])));

/** The ledger of the earlier machine, in which what is gone is retired. */
function ledgerAfter(recipe: Recipe): Ledger {
  const bill = makeBill(before, recipe, noDecisions);
  const there = new Set(makeBill(after, recipe, noDecisions).rows.flatMap(({ addresses }) => addresses));
  const names = new Map(
    bill.rows.flatMap(({ addresses, components }) =>
      addresses.map((address) => [address, before.components[components[0]].partNumber] as const),
    ),
  );
  return Object.fromEntries(
    Object.entries(numbersToKeep(bill)).map(([address, entry]) =>
      there.has(address as Address)
        ? [address, entry]
        : [address, { ...entry, retired: true, was: { partNumber: names.get(address as Address)!, name: '' } }],
    ),
  );
}
/** Lines as they would stand, what is retired in brackets. */
function read(recipe: Recipe): string[] {
  const bill = makeBill(after, recipe, { ...noDecisions, ledger: ledgerAfter(recipe) });
  const retired = (at: number) =>
    (bill.retired ?? []).filter((one) => one.after === at).map(({ item, was }) => `(${item} ${was?.partNumber})`);
  return [
    ...retired(-1),
    ...bill.rows.flatMap(({ item, components }, at) => [
      `${item} ${after.components[components[0]].partNumber}`,
      ...retired(at),
    ]),
  ];
}

test('a number that is kept for what is gone stands where its line would, in each level', () => {
  expect(read(structured)).toEqual(['1 A', '(2 B)', '3 BOX', '(3.1 C)', '3.2 D', '4 E']);
  expect(read(partsOnly)).toEqual(['1 A', '(2 B)', '(3 C)', '4 D', '5 E']);
});
test('in a list that is not in the order of numbers they stand at the end of it', () => {
  expect(read({ ...partsOnly, sort: [{ source: 'partNumber', descending: true }] })).toEqual([
    '5 E',
    '4 D',
    '1 A',
    '(2 B)',
    '(3 C)',
  ]);
});
test('a number that something has again, and one of another depth, do not stand in it', () => {
  const ledger = ledgerAfter(partsOnly);
  const [gone] = Object.keys(ledger).filter((address) => ledger[address as Address].number === 2) as Address[];
  const again = { ...ledger, [gone]: { ...ledger[gone], number: 1 } };
  const items = (of: Ledger, recipe: Recipe) =>
    (makeBill(after, recipe, { ...noDecisions, ledger: of }).retired ?? []).map(({ item }) => item);
  expect(items(again, partsOnly)).toEqual(['3']);
  expect(items(ledger, structured)).toEqual([]);
  expect(items({}, structured)).toEqual([]);
});
