import { describe, expect, test } from 'vitest';
import { applyVariant, editAssembly, treatmentFor, type Assembly, type ComponentKey } from '../assembly/index.ts';
import { newColumn } from '../columns/index.ts';
import { newComponentEdits } from '../documents/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import {
  firstNumbers,
  addressOf,
  compareBills,
  explainRow,
  makeBill,
  noDecisions,
  numbersToKeep,
  printedLines,
  printedTexts,
  renumber,
  rowLabel,
  usualNumbering,
  type Address,
  type Bill,
  type BillDecisions,
  type LineWithoutShape,
  type Recipe,
} from './index.ts';

const partsOnly: Recipe = { depth: 'parts-only', identity: 'part-number' };
const structured: Recipe = { depth: 'structured', identity: 'part-number' };
const keyOf = (assembly: Assembly, number: string, nth = 0): ComponentKey =>
  assembly.components.filter(({ partNumber }) => partNumber === number)[nth].key;
const at = (assembly: Assembly, number: string, nth = 0): Address => addressOf(keyOf(assembly, number, nth), null);
/** `item label × quantity` per row. */
const read = (bill: Bill) => bill.rows.map((row) => `${row.item} ${rowLabel(bill, row)} × ${row.totalQuantity}`);
const bill = (assembly: Assembly, recipe: Recipe, decisions: Partial<BillDecisions> = {}) =>
  makeBill(assembly, recipe, { ...noDecisions, ...decisions });
const codes = ({ findings }: Bill) => findings.map(({ code }) => code);

describe('what makes two lines one', () => {
  const slats = assemblyOf(
    node('TOP', [2, leaf('S', { material: 'Ash' })], [3, leaf('S', { material: 'Birch' })], [1, leaf('S')]),
  );
  test('the number alone, or the number and a property', () => {
    expect(read(bill(slats, partsOnly))).toEqual(['1 S × 6']);
    expect(read(bill(slats, { ...partsOnly, identityWith: ['Material'] }))).toEqual(['1 S × 2', '2 S × 3', '3 S × 1']);
  });
  test('the shape, whatever it is called; a thing without one by its number', () => {
    const shapes = assemblyOf(
      node('TOP', [1, leaf('A', { shape: 'x' })], [2, leaf('B', { shape: 'x' })], [1, leaf('A')]),
    );
    expect(read(bill(shapes, { ...partsOnly, identity: 'shape' }))).toEqual(['1 A × 3', '2 A × 1']);
  });
  test('texts that differ in capitals or blanks stay apart, with a finding that joins them', () => {
    const odd = assemblyOf(node('TOP', [1, leaf('SC-05 40')], [2, leaf('sc-0540')], [1, leaf('SC-0541')]));
    const found = bill(odd, partsOnly);
    expect(read(found)).toHaveLength(3);
    const [{ join, message }] = found.findings;
    expect(message).toContain('“SC-05 40” and “sc-0540” differ only in capitals or blanks');
    const joined = bill(odd, partsOnly, { joins: { [join!.from]: join!.to } });
    expect(read(joined)).toEqual(['1 SC-05 40 × 3', '2 SC-0541 × 1']);
    expect(codes(bill(odd, partsOnly, { apart: { [at(odd, 'sc-0540')]: 'apart' } }))).toEqual([]);
  });
  test('lines joined by hand are one, in every depth; lines kept apart are two', () => {
    const machine = assemblyOf(
      node('TOP', [2, leaf('A')], [1, node('SUB', [3, leaf('B')], [1, leaf('A', { name: 'other' })])]),
    );
    const joins = { [at(machine, 'B')]: at(machine, 'A') };
    expect(read(bill(machine, partsOnly, { joins }))).toEqual(['1 A × 6']);
    expect(read(bill(machine, partsOnly, { apart: { [at(machine, 'A', 1)]: 'mine' } }))).toEqual([
      '1 A × 2',
      '2 B × 3',
      '3 other × 1',
    ]);
    expect(read(bill(machine, structured, { joins }))).toEqual(['1 A × 2', '2 SUB × 1', '2.1 B × 4']);
  });
  test('assemblies with different contents are never joined: the contents of one would be wrong for the other', () => {
    const machine = assemblyOf(node('TOP', [1, node('X', [1, leaf('A')])], [1, node('Y', [2, leaf('A')])]));
    const joins = { [at(machine, 'Y')]: at(machine, 'X') };
    expect(read(bill(machine, structured, { joins }))).toEqual(['1 X × 1', '1.1 A × 1', '2 Y × 1', '2.1 A × 2']);
    expect(bill(machine, structured, { joins }).findings.map(({ message }) => message)).toContain(
      '“Y” was made one with “X”, but they hold different things; they stay lines of their own so that no quantity is wrong.',
    );
  });
  test('joins that lead in a circle join all of it and end', () => {
    const machine = assemblyOf(node('TOP', [1, leaf('A')], [1, leaf('B')]));
    const joins = { [at(machine, 'A')]: at(machine, 'B'), [at(machine, 'B')]: at(machine, 'A') };
    expect(bill(machine, partsOnly, { joins }).rows.reduce((sum, row) => sum + row.totalQuantity, 0)).toBe(2);
  });
});

describe('numbers as they are written', () => {
  const machine = assemblyOf(node('TOP', [1, node('SUB', [1, leaf('A')], [1, leaf('B')])], [1, leaf('C')]));
  const numbered = (numbering: Partial<typeof usualNumbering>) =>
    bill(machine, { ...structured, numbering: { ...usualNumbering, ...numbering } }).rows.map(({ item }) => item);
  test.each([
    [{}, ['1', '1.1', '1.2', '2']],
    [{ start: 10, step: 10 }, ['10', '10.10', '10.20', '20']],
    [{ prefix: 'A', width: 3 }, ['A001', 'A001.001', 'A001.002', 'A002']],
    [{ separator: '-' }, ['1', '1-1', '1-2', '2']],
    [{ letters: true }, ['1', '1a', '1b', '2']],
    [{ letters: true, start: 10, step: 10 }, ['10', '10a', '10b', '20']],
    [{ start: 10, step: 10, levels: [{ start: 1, step: 1, prefix: '', width: 2 }] }, ['10', '10.01', '10.02', '20']],
    [{ levels: [{ start: 5, step: 5, prefix: 'P', width: 1 }] }, ['1', '1.P5', '1.P10', '2']],
    [{ reserved: [{ from: 1, to: 4 }] }, ['5', '5.5', '5.6', '6']],
  ])('%j', (numbering, items) => expect(numbered(numbering)).toEqual(items));
  test('the 27th letter is followed by two', () => {
    const many = assemblyOf(
      node('TOP', [1, node('SUB', ...Array.from({ length: 28 }, (_, nth) => [1, leaf(`P${nth}`)] as const))]),
    );
    const items = bill(many, { ...structured, numbering: { ...usualNumbering, letters: true } }).rows.map(
      ({ item }) => item,
    );
    expect(items.slice(-3)).toEqual(['1z', '1aa', '1ab']);
  });
  test('gaps, and numbers whose part is gone, are told; retiring settles both', () => {
    const flat = assemblyOf(node('TOP', [1, leaf('A')], [1, leaf('B')]));
    const gone = '0'.repeat(32) as Address;
    const ledger = { [at(flat, 'A')]: { number: 1 }, [at(flat, 'B')]: { number: 4 }, [gone]: { number: 3 } };
    const found = bill(flat, partsOnly, { ledger });
    expect(found.findings.map(({ message }) => message)).toEqual([
      'Numbers that nothing has: 2. Renumber closes the gaps, or retire the numbers.',
      'The parts of number 3 are gone. Retire what is not to be used again.',
    ]);
    expect(found.findings[1].retire).toEqual([gone]);
    const retired = { ...ledger, [gone]: { number: 3, retired: true } };
    expect(codes(bill(flat, partsOnly, { ledger: retired }))).toEqual(['number-gap']);
  });
});

describe('renumbering', () => {
  const flat = assemblyOf(
    node(
      'TOP',
      [1, leaf('C', { material: 'Ash' })],
      [1, leaf('A', { material: 'Oak' })],
      [1, leaf('B', { material: 'Ash' })],
    ),
  );
  const ledger = numbersToKeep(makeBill(flat, partsOnly));
  const byNumber: Recipe = { ...partsOnly, sort: [{ source: 'partNumber' }] };
  test('a new list is numbered as it reads, without gaps for what it does not show', () => {
    const ash: Recipe = {
      ...byNumber,
      filter: { holds: 'all', of: [{ source: 'property:Material', comparison: 'is', operand: 'Ash' }] },
    };
    const { rows, findings } = bill(flat, ash, { ledger: firstNumbers(bill(flat, ash)) });
    expect(rows.map(({ item, provisional }) => [item, provisional])).toEqual([
      ['1', false],
      ['2', false],
    ]);
    expect(findings).toEqual([]);
    const pinned = { [at(flat, 'B')]: { number: 1, pinned: true } };
    const around = bill(flat, byNumber, { ledger: firstNumbers(bill(flat, byNumber, { ledger: pinned }), pinned) });
    expect(around.rows.map(({ item }) => item)).toEqual(['2', '1', '3']);
  });
  const plan = (
    recipe: Recipe,
    order: 'shown' | 'structure' | 'balloons',
    more: Partial<typeof usualNumbering> = {},
    balloons: number[] = [],
  ) => {
    const shown = bill(flat, recipe, { ledger });
    const made = renumber({
      bill: shown,
      structure: bill(flat, partsOnly, { ledger }),
      ledger,
      numbering: { ...usualNumbering, ...more },
      order,
      balloons,
    });
    return made.changes.map(({ row, from, to }) => `${rowLabel(shown, shown.rows[row])} ${from} → ${to}`);
  };
  test('by the order shown', () => expect(plan(byNumber, 'shown')).toEqual(['A 2 → 1', 'B 3 → 2', 'C 1 → 3']));
  test('by structure, whatever is shown', () => expect(plan(byNumber, 'structure')).toEqual([]));
  test('by the balloons, what has none after them', () =>
    expect(plan(partsOnly, 'balloons', {}, [2, 0])).toEqual(['B 3 → 1', 'C 1 → 2', 'A 2 → 3']));
  test('each group in a range of its own', () =>
    expect(
      plan({ ...byNumber, groups: [{ source: 'property:Material' }] }, 'shown', { groupRange: 100, start: 1 }),
    ).toEqual(['B 3 → 1', 'C 1 → 2', 'A 2 → 100']));
  test('numbers of lines that are filtered out are not given out', () =>
    expect(
      plan(
        { ...byNumber, filter: { holds: 'all', of: [{ source: 'partNumber', comparison: 'is not', operand: 'C' }] } },
        'shown',
      ),
    ).toEqual([])); // A 2, B 3 stay, for C holds 1
});

describe('lines without a shape', () => {
  const machine = assemblyOf(node('TOP', [1, node('SUB', [2, leaf('A')])], [1, leaf('B')]));
  const wax: LineWithoutShape = {
    id: 'wax',
    parent: null,
    after: at(machine, 'SUB'),
    quantity: { kind: 'fixed', value: 0.2, unit: 'kg' },
    properties: { Name: { value: 'Runner wax' } },
  };
  const paint: LineWithoutShape = {
    ...wax,
    id: 'paint',
    parent: keyOf(machine, 'SUB'),
    after: addressOf(keyOf(machine, 'A'), keyOf(machine, 'SUB')),
    quantity: { kind: 'as required' },
    properties: { Name: { value: 'Paint' } },
  };
  const columns = [newColumn('quantity'), newColumn('name')];
  const cells = (recipe: Recipe) => {
    const made = makeBill(machine, recipe, { ...noDecisions, lines: [wax, paint] }, { columns });
    return made.rows.map((row) =>
      [row.item, ...columns.map((column) => made.cell(row, column).text.replace('\u00a0', ' '))].join(' | '),
    );
  };
  test('move with their neighbour when the list is sorted, and stand in a group of their own where it is grouped', () => {
    const machine = assemblyOf(
      node('TOP', [1, leaf('B', { name: 'Beam', material: 'Ash' })], [1, leaf('A', { name: 'Arm', material: 'Ash' })]),
    );
    const lines = [
      {
        id: 'w',
        parent: null,
        after: at(machine, 'B'),
        quantity: { kind: 'as required' as const },
        properties: { Name: { value: 'Aqua seal' } },
      },
    ];
    const names = (recipe: Recipe) => {
      const made = bill(machine, recipe, { lines });
      return made.rows.map((row) => rowLabel(made, row));
    };
    expect(names({ ...partsOnly, sort: [{ source: 'name' }] })).toEqual(['Arm', 'Beam', 'Aqua seal']);
    expect(
      names({ ...partsOnly, groups: [{ source: 'property:Material' }], sort: [{ source: 'name', descending: true }] }),
    ).toEqual(['Beam', 'Arm', 'Aqua seal']);
  });
  test('several behind one line stand in the order in which they were put there', () => {
    const machine = assemblyOf(node('TOP', [1, leaf('A')], [1, leaf('B')]));
    const behind = (id: string, after: string | null) => ({
      id,
      parent: null,
      after: after as Address | null,
      quantity: { kind: 'as required' as const },
      properties: { Name: { value: id } },
    });
    const lines = [
      behind('wax', at(machine, 'A')),
      behind('paint', at(machine, 'A')),
      behind('plan', null),
      behind('thinner', 'line:paint'),
      behind('label', null),
    ];
    const made = bill(machine, partsOnly, { lines });
    expect(made.rows.map((row) => rowLabel(made, row))).toEqual(['plan', 'label', 'A', 'wax', 'paint', 'thinner', 'B']);
  });
  test('stand behind the line they follow, with their own quantity', () => {
    expect(cells(structured)).toEqual(
      ['1 | 1 | SUB', '1.1 | 2 | ', '1.2 | as required | Paint', '2 | 0.2 kg | Runner wax', '3 | 1 | '].map((line) =>
        line.replace('| SUB', '| '),
      ),
    );
    expect(cells(partsOnly)).toEqual(['1 | 2 | ', '2 | as required | Paint', '3 | 1 | ', '4 | 0.2 kg | Runner wax']);
  });
  test('move with their neighbour when the list is made in another order of structure', () => {
    const turned = {
      ...machine,
      components: machine.components.map((one) => ({ ...one, usages: one.usages.toReversed() })),
    };
    const made = makeBill(turned, structured, { ...noDecisions, lines: [wax] });
    expect(made.rows.filter(({ level }) => level === 1).map((row) => rowLabel(made, row))).toEqual([
      'B',
      'SUB',
      'Runner wax',
    ]);
  });
  test('are numbered among their neighbours', () => {
    const made = makeBill(machine, structured, { ...noDecisions, lines: [wax] });
    const again = makeBill(machine, partsOnly, { ...noDecisions, lines: [wax], ledger: numbersToKeep(made) });
    expect(codes(again)).not.toContain('number-gap');
  });
});

describe('order, groups and sums', () => {
  const machine = assemblyOf(
    node(
      'TOP',
      [1, leaf('M10', { material: 'Steel', properties: { Mass: { value: 2, unit: 'kg' } } })],
      [2, leaf('M6', { material: 'Ash', properties: { Mass: { value: 500, unit: 'g' } } })],
      [3, leaf('M8', { material: 'Steel', properties: { Mass: { value: 1, unit: 'kg' } } })],
      [1, leaf('X')],
    ),
  );
  const columns = [newColumn('item'), newColumn('partNumber'), { ...newColumn('massTotal'), total: true }];
  const printed = (recipe: Recipe) => {
    const made = makeBill(machine, recipe, noDecisions, { columns });
    return printedLines(made, columns).map((line) => printedTexts(made, columns, line).join(' | '));
  };
  test('natural order, empty last whichever way', () => {
    const by = (source: 'partNumber' | 'property:Material', descending: boolean) =>
      read(bill(machine, { ...partsOnly, sort: [{ source, descending }, { source: 'partNumber' }] })).map(
        (line) => line.split(' ')[1],
      );
    expect(by('partNumber', false)).toEqual(['M6', 'M8', 'M10', 'X']);
    expect(by('partNumber', true)).toEqual(['X', 'M10', 'M8', 'M6']);
    expect(by('property:Material', false)).toEqual(['M6', 'M8', 'M10', 'X']);
    expect(by('property:Material', true)).toEqual(['M8', 'M10', 'M6', 'X']);
  });
  test('groups have a heading, and a sum where it is asked for', () => {
    expect(printed({ ...partsOnly, groups: [{ source: 'property:Material', subtotal: true }] })).toEqual([
      ' | Ash | ',
      '2 | M6 | 1.000',
      ' | Sum Ash | 1.000',
      ' | Steel | ',
      '1 | M10 | 2.000',
      '3 | M8 | 3.000',
      ' | Sum Steel | 5.000',
      ' | not given | ',
      '4 | X | ',
      ' | Sum  | ',
      ' | Total | 6.000',
    ]);
  });
  test('a filter keeps a subassembly as long as something in it is listed', () => {
    const nested = assemblyOf(
      node('TOP', [1, node('SUB', [1, leaf('A', { source: 'bought' })], [1, leaf('B')])], [1, leaf('C')]),
    );
    const bought: Recipe = {
      ...structured,
      filter: { holds: 'all', of: [{ source: 'source', comparison: 'is', operand: 'bought' }] },
    };
    const made = bill(nested, bought);
    expect(read(made)).toEqual(['1 SUB × 1', '1.1 A × 1']);
    const path = (number: string) => [
      nested.root,
      ...(number === 'C' ? [] : [1]),
      nested.components.findIndex(({ partNumber }) => partNumber === number),
    ];
    expect(['A', 'B', 'C'].map((number) => made.rowOf(path(number)))).toEqual([1, -1, -1]);
  });
});

describe('variants', () => {
  const mast = node('MAST', [1, leaf('LONG')], [2, leaf('GUY')]);
  const machine = assemblyOf(node('TOP', [1, mast], [4, leaf('BOLT')]));
  const withShort = { ...machine, components: [...machine.components, ...assemblyOf(leaf('SHORT')).components] };
  const short = {
    name: 'Short mast',
    without: [keyOf(machine, 'GUY')],
    withoutPlaces: [],
    exchanged: { [keyOf(machine, 'LONG')]: keyOf(withShort, 'SHORT') },
    typed: { [keyOf(machine, 'BOLT')]: { Material: { value: 'A4' } } },
  };
  const made = applyVariant(withShort, newComponentEdits, short);
  const { assembly, treatments } = editAssembly(made.assembly, made.edits, new Map());
  test('a variant leaves out, exchanges and says otherwise', () => {
    const own = makeBill(assembly, partsOnly, { ...noDecisions, treatments });
    expect(read(own)).toEqual(['1 SHORT × 1', '2 BOLT × 4']);
    expect(own.values(own.rows[1], 'property:Material')).toEqual([{ kind: 'text', text: 'A4' }]);
  });
  test.each([partsOnly, structured])(
    'side by side, a line that a variant lacks shows a dash, not zero ($depth)',
    (recipe) => {
      const columns = [newColumn('partNumber'), newColumn('quantity'), newColumn('variant:short')];
      const whole = makeBill(withShort, recipe, noDecisions, {
        columns,
        variants: new Map([['short', { assembly, treatments }]]),
      });
      const rows = whole.rows.map((row) => columns.map((column) => whole.cell(row, column).text).join(' '));
      expect(rows.filter((row) => !row.startsWith('MAST')).sort()).toEqual([
        'BOLT 4 4',
        'GUY 2 –',
        'LONG 1 –',
        'SHORT – 1',
      ]);
    },
  );
  test('an exchange that would put a thing into itself is left out', () => {
    const odd = applyVariant(machine, newComponentEdits, {
      ...short,
      exchanged: { [keyOf(machine, 'LONG')]: keyOf(machine, 'MAST') },
    });
    expect(odd.assembly.components).toEqual(machine.components);
  });
});

describe('why', () => {
  const foot = node('FOOT', [2, leaf('BOLT')]);
  const machine = assemblyOf(
    node('TOP', [3, foot], [1, node('DECK', [1, foot])], [1, leaf('BOLT', { name: 'again' })]),
  );
  const row = (made: Bill, label: string) => made.rows.findIndex((one) => rowLabel(made, one) === label);
  test('the places of a line, grouped by the way down, add up to its quantity', () => {
    const made = bill(machine, partsOnly);
    const why = explainRow(machine, made, row(made, 'BOLT'), noDecisions);
    expect(why.places.map(({ names, pieces }) => [names.join(' > '), pieces])).toEqual([
      ['FOOT', 6],
      ['DECK > FOOT', 2],
      ['', 1],
    ]);
    expect(why.pieces).toBe(9);
    expect(why.more).toBe(0);
    expect(why.remarks).toEqual(['2 definitions count as one line: the same part number.']);
  });
  test('a closed subassembly is explained by its own places, not by what is in it', () => {
    const closed = bill(machine, { ...structured, closed: { [at(machine, 'FOOT')]: true } });
    const why = explainRow(machine, closed, row(closed, 'FOOT'), noDecisions);
    expect(why.places.map(({ pieces }) => pieces)).toEqual([3]);
    expect(why.remarks).toEqual(['Closed here: its contents are not listed.']);
  });
  test('treatments on the way are named', () => {
    const treatments = machine.components.map(({ partNumber }) =>
      partNumber === 'DECK' ? treatmentFor('opened up') : undefined,
    );
    const made = bill(machine, structured, { treatments });
    const why = explainRow(machine, made, row(made, 'FOOT'), { ...noDecisions, treatments });
    expect(why.remarks).toEqual(['Counted through DECK, opened up.']);
    expect(why.pieces).toBe(4);
  });
  test('a line of 10,000 places says how many are not listed', () => {
    const many = assemblyOf(node('TOP', [100, node('SUB', [100, leaf('PIN')])]));
    const why = explainRow(many, bill(many, partsOnly), 0, noDecisions);
    expect(why.pieces).toBe(10_000);
    expect(why.places[0].pieces + why.more).toBe(10_000);
  });
});

test('comparing two bills tells what only one has, and what differs in number, quantity or a shown column', () => {
  const before = assemblyOf(node('TOP', [2, leaf('A', { material: 'Ash' })], [1, leaf('B')], [1, leaf('C')]));
  const columns = [newColumn('item'), newColumn('partNumber'), newColumn('property:Material')];
  const side = (recipe: Recipe, decisions: Partial<BillDecisions> = {}) => ({
    assembly: before,
    bill: makeBill(before, recipe, { ...noDecisions, ...decisions }, { columns }),
    columns,
  });
  const filtered: Recipe = {
    ...partsOnly,
    filter: { holds: 'all', of: [{ source: 'partNumber', comparison: 'is not', operand: 'C' }] },
  };
  const ledger = { ...numbersToKeep(makeBill(before, partsOnly)), [at(before, 'B')]: { number: 9 } };
  const overrides = { [at(before, 'A')]: { 'property:Material': 'Oak' } };
  expect(compareBills(side(partsOnly), side({ ...filtered, machines: 3 }, { ledger, overrides }))).toEqual([
    {
      kind: 'changed',
      before: 0,
      after: 0,
      changes: [
        { what: 'Quantity', from: '2', to: '6' },
        { what: 'Material', from: 'Ash', to: 'Oak' },
      ],
    },
    {
      kind: 'changed',
      before: 1,
      after: 1,
      changes: [
        { what: 'Item', from: '2', to: '9' },
        { what: 'Quantity', from: '1', to: '3' },
      ],
    },
    { kind: 'removed', before: 2, after: -1, changes: [] },
  ]);
});

test('rules and order that rest on a property which nothing has say so, and nothing is lost', () => {
  const machine = assemblyOf(node('TOP', [1, leaf('A', { material: 'Ash' })], [1, leaf('B')]));
  const recipe: Recipe = {
    ...partsOnly,
    sort: [{ source: 'property:Colour' }, { source: 'property:Material' }],
    filter: { holds: 'any', of: [{ source: 'property:Weight', comparison: 'is empty', operand: '' }] },
  };
  const { rows, findings } = bill(machine, recipe);
  expect(rows).toHaveLength(2);
  expect(findings.map(({ message }) => message)).toEqual([
    'Which lines are shown rests on “Weight”, but nothing in this machine has that property. Choose another one, or give it to the parts.',
    'The order rests on “Colour”, but nothing in this machine has that property. Choose another one, or give it to the parts.',
  ]);
});
