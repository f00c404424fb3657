import { describe, expect, test } from 'vitest';
import { documentKinds, kindOf, newBill, type BillDocument } from '../../core/src/documents/index.ts';
import { blankSheet, usualPaper } from '../../core/src/sheets/index.ts';
import { assemblyOf, leaf, node } from '../../testkit/assemblies.ts';
import { lastReadable, readStored, type StoredText } from './index.ts';

const bill = newBill(assemblyOf(node('TOP', [2, leaf('A', { name: 'Slat' })])), 'list');
const stored = (content: unknown, kind: StoredText['kind'] = 'bill'): StoredText => ({
  id: 'd',
  kind,
  version: 7,
  content: typeof content === 'string' ? content : JSON.stringify(content),
});
const shown = (document: StoredText) => {
  const found = lastReadable(document, []);
  return found && { record: readStored({ ...document, ...found }), damaged: found.damaged };
};

test('a value that does not fit is as in a new bill; everything else stays', () => {
  const { record, damaged } = shown(stored({ ...bill, recipe: { ...bill.recipe, depth: 'sideways' } }))!;
  expect(record).toEqual(bill);
  expect(damaged).toBe('It is shown with what does not fit (in recipe) as in a new one.');
});
test('a field that nobody knows, and an entry that makes no sense, are left out', () => {
  const [first, second] = bill.columns;
  const { record } = shown(
    stored({ ...bill, surprise: 1, columns: [first, { ...second, id: 9, source: 4 }, second] }),
  )!;
  expect((record as BillDocument).columns).toEqual([first, second]);
  expect(record).not.toHaveProperty('surprise');
});
test('a field that is gone comes back as in a new one', () => {
  const { ledger: _, ...rest } = bill;
  expect(shown(stored(rest))!.record).toEqual(bill);
});
test('a sheet whose balloons are none keeps its name and paper', () => {
  const sheet = blankSheet('Cover', usualPaper('A2'));
  expect(shown(stored({ ...sheet, balloons: 'none', views: [3] }, 'sheet'))!.record).toEqual(sheet);
});
describe.each(documentKinds)('a %s', (kind) => {
  const fresh = () => kindOf(kind).fresh();
  test('that is new is one that can be read, in the form in which it is stored now', () => {
    expect(readStored({ kind, content: JSON.stringify(fresh()) })).toEqual(fresh());
    expect(fresh()).toMatchObject({ version: kindOf(kind).version });
    expect(kindOf(kind).upgrades).toHaveLength(kindOf(kind).version - 1);
  });
  test('is mended in every field: what does not fit is as in a new one, the others stay', () => {
    const bare = JSON.parse(JSON.stringify(fresh())) as Record<string, unknown>;
    for (const field of Object.keys(bare)) {
      if (field === 'version') continue;
      const { [field]: _, ...without } = bare;
      for (const broken of [without, { ...without, [field]: null === bare[field] ? 7 : null }]) {
        const { record, damaged } = shown(stored({ ...broken, more: 1 }, kind)) ?? {};
        expect([field, record]).toEqual([field, fresh()]);
        expect(damaged).toContain(field);
      }
    }
  });
});
test('what is no JSON, or no record, has nothing to be shown', () => {
  expect([shown(stored('{"version":')), shown(stored('[]')), shown(stored('7'))]).toEqual([null, null, null]);
});
