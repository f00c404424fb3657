import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  comparisons,
  needsOperand,
  readColumns,
  readKeys,
  readRules,
  rulesText,
  sourceFinder,
  sourceName,
  type ColumnSource,
  type RuleGroup,
} from './index.ts';

const find = sourceFinder(['Material', 'Length', 'Heat treated or not', 'Weight, net']);
const rules = (text: string) => {
  const read = readRules(text, find);
  return read.ok ? read.content : read.fault;
};

describe('names of columns', () => {
  test.each([
    ['partNumber', 'partNumber'],
    ['Part number', 'partNumber'],
    ['part-number', 'partNumber'],
    ['qty', 'quantity'],
    ['material', 'property:Material'],
    ['property:Anything', 'property:Anything'],
    ['Colour', null],
  ])('%s is %s', (name, source) => expect(find(name)).toBe(source));
});

describe('rules as a person writes them', () => {
  const material = { source: 'property:Material', comparison: 'is', operand: 'Ash' };
  test.each<[string, unknown]>([
    ['Material is Ash', { holds: 'all', of: [material] }],
    ['material = "Ash"', { holds: 'all', of: [material] }],
    [
      'Length >= 1.5 m',
      { holds: 'all', of: [{ source: 'property:Length', comparison: 'is at least', operand: '1.5 m' }] },
    ],
    [
      'Made or bought is not empty',
      { holds: 'all', of: [{ source: 'source', comparison: 'is not empty', operand: '' }] },
    ],
    ['is bought', { holds: 'all', of: [{ source: 'source', comparison: 'is', operand: 'bought' }] }],
    [
      'Heat treated or not is yes or Material is Ash',
      { holds: 'any', of: [{ source: 'property:Heat treated or not', comparison: 'is', operand: 'yes' }, material] },
    ],
    [
      'Material is Ash and (Qty is more than 4 or is bought)',
      {
        holds: 'all',
        of: [
          material,
          {
            holds: 'any',
            of: [
              { source: 'quantity', comparison: 'is more than', operand: '4' },
              { source: 'source', comparison: 'is', operand: 'bought' },
            ],
          },
        ],
      },
    ],
    [
      'Name contains "nut and bolt"',
      { holds: 'all', of: [{ source: 'name', comparison: 'contains', operand: 'nut and bolt' }] },
    ],
  ])('%s', (text, expected) => expect(rules(text)).toEqual(expected));

  test.each([
    [
      'Colour is red',
      '“Colour is red” is no rule: a column of this file, then is, is not, contains … or a sign, then a value.',
      0,
      13,
    ],
    ['Material is', 'A value is missing here.', 11, 0],
    [
      'Material is Ash and is bought or Qty > 3',
      '“and” and “or” side by side can be read in two ways; put parentheses around what belongs together.',
      32,
      0,
    ],
    ['(Material is Ash', 'This ( is not closed.', 0, 1],
    ['Material is Ash)', 'This ) closes nothing.', 15, 1],
    ['', 'A rule is missing here: Material is Ash, for instance.', 0, 0],
  ])('%j is told where it is wrong', (text, message, at, length) =>
    expect(rules(text)).toEqual({ message, at, length }),
  );

  test('what the sentence says is read back as the same rules', () => {
    const sources = fc.constantFrom<ColumnSource>(
      'name',
      'quantity',
      'source',
      'property:Material',
      'property:Heat treated or not',
    );
    const rule = fc
      .record({
        source: sources,
        comparison: fc.constantFrom(...comparisons),
        operand: fc.oneof(
          fc.constantFrom('4', 'nut and bolt', 'or', 'not', '1/2"', '(a)', ' x ', 'at least'),
          fc.string({ maxLength: 12 }),
        ),
      })
      .map((one) => (needsOperand(one.comparison) ? one : { ...one, operand: '' }));
    const inner = fc.record({
      holds: fc.constantFrom('all' as const, 'any' as const),
      of: fc.array(rule, { minLength: 2, maxLength: 3 }),
    });
    const group = fc.record({
      holds: fc.constantFrom('all' as const, 'any' as const),
      of: fc.array(fc.oneof(rule, inner), { minLength: 2, maxLength: 4 }),
    });
    fc.assert(
      fc.property(group, (wanted) => {
        expect(rules(rulesText(wanted as RuleGroup<ColumnSource>, sourceName))).toEqual(wanted);
      }),
      { numRuns: 400 },
    );
  });
});

describe('columns and keys as a person writes them', () => {
  const columns = (text: string) => {
    const read = readColumns(text, find);
    return read.ok
      ? read.content.map(({ source, heading, expression }) => [
          source,
          heading,
          ...(expression === undefined ? [] : [expression]),
        ])
      : read.fault;
  };
  test('names, headings, texts and formulas', () =>
    expect(
      columns(
        'Item, qty as Pieces, Material, "Weight, net", "{Name}, L = {Length}" as Text, = {Qty} × {Mass each} as All',
      ),
    ).toEqual([
      ['item', 'Item'],
      ['quantity', 'Pieces'],
      ['property:Material', 'Material'],
      ['property:Weight, net', 'Weight, net'],
      ['pattern', 'Text', '{name}, L = {property:Length}'],
      ['formula', 'All', '{quantity} × {massEach}'],
    ]));
  test('a name that nothing has is told with its place', () => {
    expect(columns('Item, Colour')).toEqual({ message: 'No column or property is called “Colour”.', at: 6, length: 6 });
    expect(columns('Item, "{Colour}!" as Text')).toMatchObject({
      message: 'No column or property is called “Colour”.',
      at: 6,
    });
  });
  test('order, downwards where it says so', () => {
    expect(readKeys('Material, Length downwards, name desc', find)).toEqual({
      ok: true,
      content: [
        { source: 'property:Material' },
        { source: 'property:Length', descending: true },
        { source: 'name', descending: true },
      ],
    });
    expect(readKeys('Colour', find)).toMatchObject({ ok: false });
  });
});
