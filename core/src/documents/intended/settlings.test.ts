import { expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { applyCommand, newBill, settlingsOf, type BillDocument } from '../index.ts';

const finding = { code: 'x', severity: 'warning', message: 'Something' } as const;
const document: BillDocument = {
  ...newBill(assemblyOf(node('TOP', [1, leaf('A')])), 'List'),
  ledger: { a: { number: 4 }, b: { number: 7 } } as never,
  overrides: { a: { 'property:Length': '12' } } as never,
};
/** The bill after the settling of this label. */
const after = (more: object, label: string): BillDocument => {
  const settling = settlingsOf({ ...finding, ...more } as never, document).find((one) => one.label === label)!;
  const applied = applyCommand('bill', document, settling.command);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document as BillDocument;
};

test('a finding that nothing settles offers nothing', () =>
  expect(settlingsOf(finding as never, document)).toEqual([]));

test('two lines are joined, or kept apart, as components: wherever they are listed', () => {
  const join = { from: 'a@x', to: 'b@x' };
  expect(after({ join }, 'Join them').joins).toEqual({ a: 'b' });
  expect(after({ join }, 'Keep apart').apart).toEqual({ a: 'apart' });
});

test('a column that says nothing is hidden, or stays', () => {
  const [{ id }] = document.columns;
  expect(after({ idle: id }, 'Hide it').columns[0]).toMatchObject({ hidden: true });
  expect(after({ idle: id }, 'Keep it').columns[0]).toMatchObject({ stays: true });
});

test('a cell whose model changed goes back to the model, or keeps what was typed', () => {
  const overtaken = { address: 'a', reference: 'property:Length' };
  expect(after({ overtaken }, 'Take the model’s').overrides).toEqual({});
  expect(after({ overtaken }, 'Keep what I wrote').overrides).toEqual(document.overrides);
});

test('numbers whose parts are gone are retired; they stay what they were', () =>
  expect(after({ retire: ['a', 'b'] }, 'Retire').ledger).toEqual({
    a: { number: 4, retired: true },
    b: { number: 7, retired: true },
  }));
