import { beforeAll, describe, expect, test } from 'vitest';
import { newColumn, readyForFormulas, type Column, type ColumnSource } from '../columns/index.ts';
import { addressOf, columnFindings, makeBill, noDecisions, type BillDecisions, type Recipe } from './index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';

const partsOnly: Recipe = { depth: 'parts-only', identity: 'part-number' };
const mm = (value: number) => ({ value, unit: 'mm' });
const machine = assemblyOf(
  node(
    'TOP',
    [
      2,
      node(
        'FRAME',
        [
          2,
          leaf('TUBE', {
            name: 'Tube',
            material: 'Steel',
            properties: { Length: mm(760), Mass: { value: 1.9, unit: 'kg' } },
          }),
        ],
        [4, leaf('BOLT', { name: 'Bolt', properties: { Mass: { value: 12, unit: 'g' } } })],
      ),
    ],
    [1, leaf('TUBE', { name: 'tube', material: 'Al', properties: { Length: mm(500) } })],
  ),
);

interface Asked {
  readonly recipe?: Partial<Recipe>;
  readonly decisions?: Partial<BillDecisions>;
  readonly more?: readonly Column[];
}
/** The texts of one column, row by row. */
function column(wanted: ColumnSource | Column, { recipe, decisions, more = [] }: Asked = {}): string[] {
  const own = typeof wanted === 'string' ? newColumn(wanted) : wanted;
  const bill = makeBill(
    machine,
    { ...partsOnly, ...recipe },
    { ...noDecisions, ...decisions },
    { columns: [own, ...more], fileName: 'top.step' },
  );
  return bill.rows.map((row) => bill.cell(row, own).text.replace('\u00a0', ' '));
}
const made = (source: 'pattern' | 'formula', expression: string, format = {}): Column => ({
  id: expression,
  source,
  heading: 'Made',
  expression,
  format,
});
const key = (number: string, nth = 0) =>
  addressOf(machine.components.filter(({ partNumber }) => partNumber === number)[nth].key, null);

describe('what cells say', () => {
  test.each<[ColumnSource, string[]]>([
    ['item', ['1', '2']],
    ['quantity', ['5', '8']],
    ['partNumber', ['TUBE', 'BOLT']],
    ['name', ['Tube', 'Bolt']],
    ['usedIn', ['FRAME, TOP', 'FRAME']],
    ['fileName', ['top.step', 'top.step']],
    ['massEach', ['1.900', '0.012']],
    ['massTotal', ['', '0.096']], // one of the tubes has no mass: not known, not zero
    ['property:Colour', ['', '']],
  ])('%s', (source, texts) => expect(column(source)).toEqual(texts));

  test('totals are for the machines that are built, quantities for one', () => {
    expect(column('totalQuantity', { recipe: { machines: 3 } })).toEqual(['15', '24']);
    expect(column('quantity', { recipe: { machines: 3 } })).toEqual(['5', '8']);
  });
  test('a subassembly weighs what is in it', () => {
    expect(column('massEach', { recipe: { depth: 'single-level' } })).toEqual(['3.848', '']);
    expect(column('massTotal', { recipe: { depth: 'single-level' } })).toEqual(['7.696', '']);
  });
  test('a merged line shows its first value, and how many there are is a finding', () => {
    const columns = [newColumn('property:Material')];
    const bill = makeBill(machine, partsOnly, noDecisions, { columns });
    expect(bill.cell(bill.rows[0], columns[0])).toMatchObject({ text: 'Steel', differing: 2 });
    expect(columnFindings(bill, columns)[0].message).toContain('Material: the parts of line 1 do not agree.');
    expect(columnFindings(bill, [newColumn('item'), newColumn('partNumber')])).toEqual([]);
  });
});

describe('quantities by a size, as required, fixed', () => {
  const tubes = { holds: 'all', of: [{ source: 'partNumber', comparison: 'is', operand: 'TUBE' }] } as const;
  const by = (recipe: Partial<Recipe>, source: ColumnSource, more: Column[] = []) => column(source, { recipe, more });
  test('by rule: lengths summed in metres, with the unit behind or in its own column', () => {
    const recipe: Partial<Recipe> = {
      quantityRules: [{ when: tubes, is: { kind: 'sum', size: 'Length', unit: 'm' } }],
      machines: 2,
    };
    expect(by(recipe, 'quantity')).toEqual(['3.54 m', '8']);
    expect(by(recipe, 'totalQuantity', [newColumn('unit')])).toEqual(['7.08', '16']);
    expect(by(recipe, 'unit')).toEqual(['m', '']);
  });
  test('the choice for a component wins over the rule', () => {
    const recipe: Partial<Recipe> = {
      quantityRules: [{ when: tubes, is: { kind: 'as required' } }],
      quantityOf: { [key('TUBE')]: { kind: 'fixed', value: 2.5, unit: 'kg' } } as Recipe['quantityOf'],
    };
    expect(by(recipe, 'quantity')).toEqual(['2.5 kg', '8']);
    expect(by({ quantityRules: recipe.quantityRules! }, 'quantity')).toEqual(['as required', '8']);
  });
  test('a size that one part lacks gives no sum, and a finding', () => {
    const recipe: Recipe = {
      ...partsOnly,
      quantityRules: [{ when: { holds: 'all', of: [] }, is: { kind: 'sum', size: 'Length', unit: 'm' } }],
    };
    const bill = makeBill(machine, recipe);
    expect(bill.rows.map(({ amount }) => amount.perParent)).toEqual([3.54, null]);
    expect(bill.findings.map(({ code }) => code)).toEqual(['size-missing']);
  });
  test('counts stay whole pieces whatever is shown', () => {
    const recipe: Partial<Recipe> = {
      quantityRules: [{ when: tubes, is: { kind: 'sum', size: 'Length', unit: 'm' } }],
    };
    expect(makeBill(machine, { ...partsOnly, ...recipe }).rows.map(({ totalQuantity }) => totalQuantity)).toEqual([
      5, 8,
    ]);
  });
});

describe('texts typed into cells', () => {
  const typed = (text: string, source = 'name') => ({ overrides: { [key('TUBE')]: { [source]: text } } });
  test('win over the model, which the cell still tells', () => {
    const columns = [newColumn('name')];
    const bill = makeBill(machine, partsOnly, { ...noDecisions, ...typed('Post') }, { columns });
    expect(bill.cell(bill.rows[0], columns[0])).toMatchObject({ text: 'Post', model: 'Tube', differing: 1 });
    expect(bill.cell(bill.rows[1], columns[0])).not.toHaveProperty('model');
  });
  test('an empty text is a value', () => expect(column('name', { decisions: typed('') })).toEqual(['', 'Bolt']));
  test('a number typed where a number stood keeps its unit', () =>
    expect(column('property:Length', { decisions: typed('800', 'property:Length') })).toEqual(['800 mm', '']));
  test('rules, order and other columns see what was typed', () => {
    expect(column('name', { decisions: typed('Aaa'), recipe: { sort: [{ source: 'name' }] } })).toEqual([
      'Aaa',
      'Bolt',
    ]);
    expect(column(made('pattern', '{name}!'), { decisions: typed('Post') })).toEqual(['Post!', 'Bolt!']);
  });
  test('different texts for parts of one line: the first counts, and it is told', () => {
    const overrides = { [key('TUBE')]: { name: 'Post' }, [key('TUBE', 1)]: { name: 'Pole' } };
    expect(column('name', { decisions: { overrides } })[0]).toBe('Post');
    expect(makeBill(machine, partsOnly, { ...noDecisions, overrides }).findings.map(({ code }) => code)).toEqual([
      'override-twice',
    ]);
  });
});

describe('columns made of others', () => {
  beforeAll(() => readyForFormulas());
  test('a text pattern follows the formats of the columns it names', () => {
    const length: Column = { ...newColumn('property:Length'), format: { unit: 'm', decimals: 2 } };
    expect(column(made('pattern', '{partNumber}, L = {property:Length}'), { more: [length] })).toEqual([
      'TUBE, L = 0.76 m',
      'BOLT, L = ',
    ]);
    expect(column(made('pattern', 'L = {property:Length}'))).toEqual(['L = 760 mm', '']);
  });
  test('a formula calculates with units', () => {
    expect(column(made('formula', '{quantity} × {property:Length}', { unit: 'm' }))).toEqual(['3.8 m', '']);
    expect(column(made('formula', 'ceil({property:Length} × {quantity} / 6 m)'))).toEqual(['1', '']);
    expect(column(made('formula', 'if({quantity} > 5, 2, 1)'))).toEqual(['1', '2']);
  });
  test('a formula over another formula; one that leads back to itself has no value, and says why', () => {
    const one: Column = { id: 'one', source: 'formula', heading: 'One', expression: '{quantity} + 1' };
    expect(column(made('formula', '2 × {column:one}'), { more: [one] })).toEqual(['12', '18']);
    const loop: Column = { ...one, expression: '{column:one} + 1' };
    const bill = makeBill(machine, partsOnly, noDecisions, { columns: [loop] });
    expect(bill.cell(bill.rows[0], loop)).toMatchObject({ text: '', fault: '“One” leads back to itself.' });
  });
  test('what does not fit has no value, and says why', () => {
    const wrong = made('formula', '{property:Length} + {massEach}');
    const bill = makeBill(machine, partsOnly, noDecisions, { columns: [wrong] });
    expect(bill.cell(bill.rows[0], wrong)).toMatchObject({ text: '', fault: 'A length and a mass cannot be added.' });
  });
});

test('sums add what is known, in one unit, and nothing that is opened twice', () => {
  const columns: Column[] = [{ ...newColumn('massTotal'), total: true }];
  const bill = makeBill(machine, { ...partsOnly, depth: 'structured' }, noDecisions, { columns });
  expect(bill.rows.map((row) => bill.cell(row, columns[0]).text)).toEqual(['7.696', '7.600', '0.096', '']);
  expect(bill.sum(columns[0])!.text).toBe('7.696');
  expect(bill.sum(newColumn('name'))).toBeNull();
});

describe('expressions that double', () => {
  const doubling = Array.from({ length: 40 }, (_, at) => {
    const before = at === 0 ? 'name' : `text-${at - 1}`;
    return {
      ...newColumn('pattern', `text-${at}`),
      expression: at === 0 ? '{name}{name}' : `{column:${before}}{column:${before}}`,
    };
  });
  test('are worked out once per line, and say so where they would have too many letters', () => {
    const bill = makeBill(machine, partsOnly, noDecisions, { columns: doubling });
    const cells = doubling.map((one) => bill.cell(bill.rows[0], one));
    expect(cells[3].text).toBe(cells[0].text.repeat(8));
    expect(cells.at(-1)!.fault).toMatch(/would have over 10000 letters/);
  });
});
