import { describe, expect, test } from 'vitest';
import { makeBill, numbersToKeep, rowLabel, type LineWithoutShape } from '../../bill/index.ts';
import { newColumn } from '../../columns/index.ts';
import { billDecisions, newBill, type BillDocument } from '../index.ts';
import { blockToText, textToBlock } from '../../formats/index.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { after, beyondList, joinRows, mergeAsUsual, partRow, spread, typeInto } from './cellEdits.ts';

const assembly = assemblyOf(
  node('TOP', [2, leaf('A', { name: 'Slat' })], [1, leaf('A', { name: 'Slat' })], [1, leaf('B', { name: 'Pin' })]),
);
const wax: LineWithoutShape = {
  id: 'wax',
  parent: null,
  after: null,
  quantity: { kind: 'as required' },
  properties: { Name: { value: 'Wax' } },
};
const blank = newBill(assembly, 'List');
const bill: BillDocument = {
  ...blank,
  lines: [wax],
  ledger: numbersToKeep(makeBill(assembly, blank.recipe, { ...billDecisions(blank, []), lines: [wax] })),
};
const made = (document: BillDocument) =>
  makeBill(assembly, document.recipe, billDecisions(document, []), { columns: document.columns });
const column = (source: 'item' | 'quantity' | 'name' | 'totalQuantity') => newColumn(source);

/** Types into the line of this label; what the list reads then, and what was refused. */
function type(label: string, source: Parameters<typeof column>[0], text: string | null, document = bill) {
  const open = made(document);
  const row = open.rows.find((one) => rowLabel(open, one) === label)!;
  const { commands, refused } = typeInto(assembly, open, document, [{ row, column: column(source), text }]);
  const next = after(document, commands)!;
  const read = made(next);
  return {
    next,
    refused,
    lines: read.rows.map((one) =>
      [one.item, read.cell(one, column('quantity')).text, rowLabel(read, one)].join(' ').replace('\u00a0', ' '),
    ),
  };
}

describe('typing into a list', () => {
  test('as it was', () =>
    expect(type('Slat', 'name', 'Slat').lines).toEqual(['1 as required Wax', '2 3 Slat', '3 1 Pin']));
  test('a name is an override of this bill for every part of the line', () => {
    const { next, lines } = type('Slat', 'name', 'Board');
    expect(lines).toEqual(['1 as required Wax', '2 3 Board', '3 1 Pin']);
    expect(Object.keys(next.overrides)).toHaveLength(2);
    expect(type('Board', 'name', null, next).next.overrides).toEqual({});
    expect(type('Board', 'name', 'Slat', next).next.overrides).toEqual({}); // what the model says anyway
  });
  test('a number goes to the ledger, pinned', () => {
    const { next, lines } = type('Pin', 'item', '12');
    expect(lines).toEqual(['1 as required Wax', '2 3 Slat', '12 1 Pin']);
    expect(Object.values(next.ledger).filter(({ pinned }) => pinned)).toEqual([{ number: 12, pinned: true }]);
    expect(type('Pin', 'item', 'twelve').refused[0]).toContain('“twelve” is no number that line 3 can have');
  });
  test('a quantity is fixed, as required, or with nothing counted again', () => {
    const fixed = type('Pin', 'quantity', '0,5 kg').next;
    expect(type('Slat', 'quantity', 'as required', fixed).lines).toEqual([
      '1 as required Wax',
      '2 as required Slat',
      '3 0.5 kg Pin',
    ]);
    expect(type('Pin', 'quantity', '', fixed).lines[2]).toBe('3 1 Pin');
    expect(type('Pin', 'quantity', 'some', fixed).refused[0]).toContain('“some” is no quantity');
  });
  test('on a line without a shape it is the line itself', () => {
    const { next, lines } = type('Wax', 'quantity', '200 g');
    expect(lines[0]).toBe('1 200 g Wax');
    expect(type('Wax', 'name', 'Runner wax', next).lines[0]).toBe('1 200 g Runner wax');
    expect(type('Wax', 'name', 'Runner wax', next).next.overrides).toEqual({});
  });
  test('what is worked out is refused in words', () => {
    expect(type('Pin', 'totalQuantity', '7').refused).toEqual(['Total qty is worked out; it cannot be typed.']);
    expect(type('Pin', 'totalQuantity', '7').next).toEqual(bill);
  });
});

test('a block fills the selection, repeating where it is smaller', () => {
  const { rows } = made(bill);
  const texts = spread([['a', 'b']], rows, [column('name'), column('quantity'), column('item')]).map(
    ({ text }) => text,
  );
  expect(texts).toEqual(['a', 'b', 'a', 'a', 'b', 'a', 'a', 'b', 'a']);
  expect(spread([], rows, [column('name')])).toEqual([]);
});

test('blocks travel through the clipboard whole, with tabs, quotes and breaks in them', () => {
  const block = [
    ['a\tb', 'say "x"'],
    ['two\nlines', ''],
  ];
  expect(textToBlock(blockToText(block))).toEqual(block);
  expect(textToBlock('1\t2\r\n3\t4\r\n')).toEqual([
    ['1', '2'],
    ['3', '4'],
  ]);
});

test('what of a pasted block lies beyond the list is said', () => {
  const block = [
    ['a', 'b', 'c'],
    ['d', 'e', 'f'],
  ];
  expect(beyondList(block, 2, 3)).toBeNull();
  expect(beyondList(block, 1, 3)).toBe(
    'The block is larger than what is left of the list: its last 1 row was not pasted. Nothing else was lost.',
  );
  expect(beyondList(block, 1, 1)).toBe(
    'The block is larger than what is left of the list: its last 1 row and 2 columns were not pasted. Nothing else was lost.',
  );
});

describe('making lines one and keeping parts apart', () => {
  const twins = assemblyOf(
    node(
      'TOP',
      [2, leaf('A', { name: 'Slat' })],
      [1, leaf('B', { name: 'Pin' })],
      [3, leaf('C', { name: 'Peg' })],
      [1, leaf('A', { name: 'Slat, birch' })],
    ),
  );
  const open = (document: BillDocument) => makeBill(twins, document.recipe, billDecisions(document, []));
  const lines = (document: BillDocument) =>
    open(document).rows.map((row) => `${row.quantity} ${twins.components[row.components[0]].name}`);
  const start = newBill(twins, 'List');
  test('several selected lines become the first of them, and can be parted again', () => {
    const { rows } = open(start);
    const joined = after(start, [joinRows(twins, rows.slice(1, 3))!])!;
    expect([lines(start), lines(joined)]).toEqual([
      ['3 Slat', '1 Pin', '3 Peg'],
      ['3 Slat', '4 Pin'],
    ]);
    const parted = after(joined, [partRow(twins, joined, open(joined).rows[1])!])!;
    expect(lines(parted)).toEqual(lines(start));
    expect(parted.joins).toEqual({});
  });
  test('parts of one number are kept apart by hand, and merged as usual again', () => {
    const parted = after(start, [partRow(twins, start, open(start).rows[0])!])!;
    expect(lines(parted)).toEqual(['2 Slat', '1 Pin', '3 Peg', '1 Slat, birch']);
    const row = open(parted).rows[3];
    expect([partRow(twins, parted, row), mergeAsUsual(twins, start, row)]).toEqual([null, null]);
    expect(lines(after(parted, [mergeAsUsual(twins, parted, row)!])!)).toEqual(lines(start));
  });
  test('lines of different kinds, or of different subassemblies, are not offered', () => {
    const deep = assemblyOf(node('TOP', [1, node('SUB', [1, leaf('A')])], [1, leaf('B')]));
    const { rows } = makeBill(deep, { depth: 'structured', identity: 'part-number' });
    expect([joinRows(deep, [rows[0], rows[2]]), joinRows(deep, [rows[1], rows[2]]), joinRows(deep, [rows[0]])]).toEqual(
      [null, null, null],
    );
  });
});
