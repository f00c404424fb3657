import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { newColumn } from '../columns/index.ts';
import { billTotals, chartShares, columnFindings, idleColumns, makeBill, noDecisions, type Recipe } from './index.ts';

const kg = (value: number) => ({ properties: { Mass: { value, unit: 'kg' } } });
const machine = assemblyOf(
  node(
    'TOP',
    [1, node('SUB', [2, leaf('A', { name: 'Slat', material: 'Ash', ...kg(1.5) })])],
    [3, leaf('B', { name: 'Beam', material: 'Ash', ...kg(4) })],
    [5, leaf('C', { name: 'Cord' })],
  ),
);
const columns = [newColumn('item'), newColumn('name'), { ...newColumn('property:Material'), required: true }];
const bill = (recipe: Recipe) => makeBill(machine, recipe, noDecisions, { columns });

describe('what a list comes to', () => {
  test('pieces and mass are those of the parts, at any depth, over all machines; what is unknown is said', () => {
    const structured: Recipe = { depth: 'structured', identity: 'part-number', machines: 2 };
    expect(billTotals(bill(structured), columns)).toEqual({
      lines: 4,
      pieces: 20,
      mass: 30,
      withoutMass: 1,
      empty: [{ heading: 'Material', lines: 1 }],
    });
    expect(billTotals(bill({ ...structured, depth: 'parts-only' }), columns)).toMatchObject({
      lines: 3,
      pieces: 20,
      mass: 30,
    });
  });
  test('shares of a column, largest first, with what the mass lacks', () => {
    const made = bill({ depth: 'parts-only', identity: 'part-number' });
    expect(chartShares(made, 'property:Material', 'mass')).toEqual([
      { title: 'Ash', amount: 15, lines: 2, without: 0 },
      { title: '', amount: 0, lines: 1, without: 1 },
    ]);
    expect(chartShares(made, 'property:Material', 'pieces').map(({ title, amount }) => [title, amount])).toEqual([
      ['Ash', 5],
      ['', 5],
    ]);
    expect(chartShares(made, 'property:Material', 'lines').map(({ amount }) => amount)).toEqual([2, 1]);
  });
  test('a cell that must not be empty is a finding', () => {
    expect(
      columnFindings(bill({ depth: 'parts-only', identity: 'part-number' }), columns).map(({ message }) => message),
    ).toEqual(['Material must not be empty, but line 3 has nothing there.']);
    expect(columnFindings(bill({ depth: 'parts-only', identity: 'part-number' }), columns.slice(0, 2))).toEqual([]);
  });
});

describe('the sum below a column', () => {
  const length = (value: number) => ({ properties: { Length: { value, unit: 'mm' }, Mass: { value: 1, unit: 'kg' } } });
  const frame = assemblyOf(node('TOP', [1, node('SUB', [2, leaf('T', length(760))])], [3, leaf('U', length(380))]));
  const lengths = newColumn('property:Length');
  const sumOf = (recipe: Recipe, column: Parameters<ReturnType<typeof makeBill>['sum']>[0]) =>
    makeBill(frame, recipe, noDecisions, { columns: [column] }).sum(column)!.text;
  test('of what one piece has counts the pieces of the whole machine, at any depth', () => {
    expect(sumOf({ depth: 'parts-only', identity: 'part-number' }, { ...lengths, total: true })).toBe('2660\u00a0mm');
    expect(sumOf({ depth: 'structured', identity: 'part-number' }, { ...lengths, total: true })).toBe('2660\u00a0mm');
    expect(sumOf({ depth: 'parts-only', identity: 'part-number', machines: 2 }, { ...lengths, total: true })).toBe(
      '5320\u00a0mm',
    );
    expect(sumOf({ depth: 'parts-only', identity: 'part-number' }, { ...newColumn('massEach'), total: true })).toBe(
      '5.000',
    );
  });
  test('of one of each line says so', () =>
    expect(sumOf({ depth: 'parts-only', identity: 'part-number' }, { ...lengths, total: 'one each' })).toBe(
      '1140\u00a0mm (one each)',
    ));
  test('of quantities adds them as they stand', () =>
    expect(sumOf({ depth: 'parts-only', identity: 'part-number' }, { ...newColumn('quantity'), total: true })).toBe(
      '5',
    ));
});

describe('columns that say nothing', () => {
  const same = assemblyOf(node('TOP', [1, leaf('A', { name: 'A', material: 'Ash' })], [2, leaf('B', { name: 'B' })]));
  const shown = ['item', 'partNumber', 'name', 'property:Material', 'property:Finish'] as const;
  const said = (changes: Partial<Record<(typeof shown)[number], object>> = {}) => {
    const own = shown.map((source) => ({ ...newColumn(source), ...changes[source] }));
    const made = makeBill(same, { depth: 'parts-only', identity: 'part-number' }, noDecisions, { columns: own });
    return idleColumns(made, own).map(({ message }) => message);
  };
  test('are proposed for taking out: empty ones, and those that repeat another', () =>
    expect(said()).toEqual(['Name repeats Part number in every line.', 'Finish says nothing in any line.']));
  test('are not when they are to stay, must be filled, or are hidden already', () => {
    expect(said({ name: { stays: true }, 'property:Finish': { required: true } })).toEqual([]);
    expect(said({ partNumber: { hidden: true }, 'property:Finish': { hidden: true } })).toEqual([]);
  });
  test('two empty ones are each empty, and neither repeats the other', () =>
    expect(said({ 'property:Material': { source: 'property:Colour', heading: 'Colour' } }).slice(1)).toEqual([
      'Colour says nothing in any line.',
      'Finish says nothing in any line.',
    ]));
});
