import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import {
  convert,
  evaluateFormula,
  fillPattern,
  findCircle,
  FormulaMismatch,
  numberValue,
  readFormula,
  readyForFormulas,
  textValue,
  toShown,
  toStored,
  type Value,
  spanOf,
  splitExpression,
} from './index.ts';
import { readColumns, readKeys, readRules } from './written.ts';

const known: Record<string, string> = { Name: 'name', Length: 'property:Length', 'Mass each': 'massEach' };
const resolve = (name: string) => known[name] ?? null;

describe('references in expressions', () => {
  test('are stored by what names a column for good, and shown by its heading', () => {
    const stored = toStored('{Name}, L = {Length}', resolve);
    expect(stored).toEqual({ ok: true, content: '{name}, L = {property:Length}' });
    expect(
      toShown('{name}, L = {property:Length}', (reference) => (reference === 'name' ? 'Designation' : 'Length')),
    ).toBe('{Designation}, L = {Length}');
  });
  test.each([
    ['{Nmae} x', { message: 'No column or property is called “Nmae”.', at: 0, length: 6 }],
    ['x {Name', { message: 'This { is not closed: a column is written {Column}.', at: 2, length: 1 }],
    ['x {Name {Length}', { message: 'This { is not closed: a column is written {Column}.', at: 2, length: 1 }],
    ['x} y', { message: 'This } closes nothing: a column is written {Column}.', at: 1, length: 1 }],
  ])('%s is told at its spot', (text, fault) => expect(toStored(text, resolve)).toEqual({ ok: false, fault }));
  test('a pattern of which nothing is known is empty; one of which something is known is not', () => {
    const fill = (values: Record<string, string>) => fillPattern('{a} × {b}', (reference) => values[reference] ?? '');
    expect(fill({ a: '33.7', b: '2.6' })).toBe('33.7 × 2.6');
    expect(fill({ a: '33.7' })).toBe('33.7 × ');
    expect(fill({})).toBe('');
    expect(fillPattern('no column', () => '')).toBe('no column');
  });
  test('a circle is found wherever it is entered', () => {
    const graph: Record<string, string[]> = { a: ['b'], b: ['c', 'd'], c: [], d: ['b'] };
    expect(findCircle(['a'], (id) => graph[id] ?? [])).toEqual(['b', 'd', 'b']);
    expect(findCircle(['c'], (id) => graph[id] ?? [])).toBeNull();
  });
});

describe('formulas', () => {
  beforeAll(() => readyForFormulas());
  const values: Record<string, Value> = {
    l: numberValue(760, 'mm'),
    w: numberValue(2, 'in'),
    m: numberValue(1.5, 'kg'),
    n: numberValue(4),
    t: numberValue(3, 'weeks'),
    material: textValue('Ash'),
    price: numberValue(1.5, 'EUR'),
    rate: numberValue(2, 'USD'),
    empty: null,
  };
  const result = (text: string): Value => {
    const read = readFormula(text);
    if (!read.ok) throw new Error(read.fault.message);
    return evaluateFormula(read.content, (reference) => values[reference]);
  };
  test.each<[string, Value]>([
    ['{n} × 2 + 1', numberValue(9)],
    ['{l} + {w}', numberValue(810.8, 'mm')],
    ['{l} × {w}', numberValue(38608, 'mm²')],
    ['{m} ÷ {l}', numberValue(1.5 / 760, 'kg/mm')],
    ['{l} / 1 m', numberValue(0.76)],
    ['{l}^2', numberValue(577600, 'mm²')],
    ['{m} {n}', numberValue(6, 'kg')],
    ['−{n}', numberValue(-4)],
    ['round({l} / 1 m, 1)', numberValue(0.8)],
    ['floor(7 / 2)', numberValue(3)],
    ['ceil(0.3 / 0.1)', numberValue(3)], // not 4, though 0.3/0.1 is a hair above 3
    ['min({l}, 50 cm)', numberValue(500, 'mm')],
    ['max({l}, 1 ft, 2 in)', numberValue(760, 'mm')],
    ['abs(-{m})', numberValue(1.5, 'kg')],
    ['if({l} > 70 cm, {m}, 0 kg)', numberValue(1.5, 'kg')],
    ['if({material} == "Ash", 1, 2)', numberValue(1)],
    ['{n} = 4', { kind: 'flag', value: true }],
    ['{n} ≤ 3', { kind: 'flag', value: false }],
    ['{t}', numberValue(21, 'day')],
    ['{price} × {n} + 2 EUR', numberValue(8, 'EUR')],
    ['{price} / {m}', numberValue(1, 'EUR/kg')],
    ['{l} + {empty}', null],
    ['{n} / 0', null],
  ])('%s', (text, value) => {
    const found = result(text);
    if (value?.kind !== 'number') return expect(found).toEqual(value);
    expect(found).toMatchObject({ kind: 'number', unit: value.unit });
    expect((found as typeof value).value).toBeCloseTo(value.value, 9);
  });
  test.each([
    ['{l} + {m}', 'A length and a mass cannot be added.'],
    ['{l} × {l} − {l}', 'An area and a length cannot be subtracted.'],
    ['{price} + {rate}', 'A value in EUR and a value in USD cannot be added.'],
    ['{l} > 3', 'A length and a plain number cannot be compared.'],
    ['round({l})', '“round” takes a plain number, not a length: divide by a unit first, as in round({Length} / 1 m).'],
    ['2 × {material}', '“Ash” is a text where a number is needed.'],
    ['2^{l}', 'An exponent is a plain number.'],
    ['if({n}, 1, 2)', '“if” begins with a comparison, such as {Qty} > 1.'],
    ['min({l}, {m})', '“min” compares values of one kind, not a length and a mass.'],
  ])('%s: %s', (text, message) =>
    expect(() => result(text)).toThrow(expect.objectContaining({ name: 'FormulaMismatch', message })),
  );
  test.each([
    ['{n} × ({l} + {m})', [1, 2]],
    ['{l} + round({m})', [1]],
    ['2 mm + 1 kg', []],
  ])('%s: a mismatch names the columns that it is about', (text, references) => {
    expect(() => result(text)).toThrow(expect.objectContaining({ references }));
  });
  test.each([
    ['', 'Write a formula: {Columns}, numbers with units, + − × ÷ ^ and parentheses.'],
    ['{n} +', 'The formula cannot be read from here on: a sign, a number or a parenthesis is missing or too many.'],
    ['2 × furlong', '“furlong” is no unit; a column is written {furlong}.'],
    ['sin({n})', '“sin” is no function here; there are round, floor, ceil, min, max, abs, if.'],
    ['if({n} > 1, 2)', '“if” takes 3 values, not 2.'],
    [
      'x = 3; x',
      'A formula holds columns, numbers, units, + − × ÷ ^, comparisons, parentheses and functions, nothing else.',
    ],
    [
      '[1, 2]',
      'A formula holds columns, numbers, units, + − × ÷ ^, comparisons, parentheses and functions, nothing else.',
    ],
    ['f(x) = 2', '“f” is no function here; there are round, floor, ceil, min, max, abs, if.'],
    [
      '{n}.constructor',
      'A formula holds columns, numbers, units, + − × ÷ ^, comparisons, parentheses and functions, nothing else.',
    ],
    ['import("x")', '“import” is no function here; there are round, floor, ceil, min, max, abs, if.'],
  ])('%s is refused: %s', (text, message) => {
    const read = readFormula(text);
    expect(read.ok ? null : read.fault.message).toBe(message);
  });
  test('any text is read or refused with a spot inside it, never anything else', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc
            .array(fc.constantFrom('{n}', '{l}', '+', '(', ')', '2', ' ', 'mm', 'if', ',', '>', '!', '"', '^', "'"))
            .map((parts) => parts.join('')),
        ),
        (text) => {
          const read = readFormula(text);
          if (read.ok) {
            try {
              evaluateFormula(read.content, (reference) => values[reference] ?? null);
            } catch (error) {
              expect(error).toBeInstanceOf(FormulaMismatch);
            }
          } else expect(read.fault.at + read.fault.length).toBeLessThanOrEqual(text.length + 1);
        },
      ),
      { numRuns: 500 },
    );
  });
});

test('units convert there and back, and only between what measures the same', () => {
  const lengths = ['mm', 'cm', 'm', 'in', 'ft', 'µm'];
  fc.assert(
    fc.property(
      fc.double({ min: -1e6, max: 1e6, noNaN: true }),
      fc.constantFrom(...lengths),
      fc.constantFrom(...lengths),
      (value, from, to) => {
        expect(convert(convert(value, from, to)!, to, from)).toBeCloseTo(value, 6);
      },
    ),
  );
  expect(convert(2, 'in', 'mm')).toBe(50.8);
  expect(convert(1, 'm²', 'mm2')).toBe(1e6);
  expect(convert(1, 'mm', 'kg')).toBeNull();
  expect(convert(1, 'furlong', 'mm')).toBeNull();
});

test('where references stand in an expression, from the first to the last', () => {
  const typed = '{n} × ({l} + {m})';
  const marked = (references: number[]) => {
    const { at, length } = spanOf(typed, references);
    return typed.slice(at, at + length);
  };
  expect([marked([1, 2]), marked([0]), marked([]), marked([9])]).toEqual(['{l} + {m}', '{n}', typed, typed]);
});

describe('bounds', () => {
  test('an expression of over 2,000 letters is a fault, not work', () => {
    expect(splitExpression('x'.repeat(2001))).toMatchObject({ ok: false });
  });
  test('columns, keys and rules of many blanks are read', () => {
    const blanks = ' '.repeat(900);
    const find = (name: string) => (name === 'Name' ? ('name' as const) : null);
    expect(readColumns(`Name${blanks}as${blanks}Part`, find)).toMatchObject({
      ok: true,
      content: [{ heading: 'Part' }],
    });
    expect(readColumns(`Name${blanks}x`, find)).toMatchObject({ ok: false });
    expect(readKeys(`Name${blanks}downwards`, find)).toEqual({
      ok: true,
      content: [{ source: 'name', descending: true }],
    });
    expect(readRules(`Name is${blanks}Ash${blanks}and${blanks}Name is not${blanks}Oak`, find)).toMatchObject({
      ok: true,
      content: { holds: 'all', of: [{ operand: 'Ash' }, { operand: 'Oak' }] },
    });
  });
  test('parentheses thirty deep are a fault, three deep are not', () => {
    const find = () => 'name' as const;
    const nested = (deep: number) => readRules(`${'('.repeat(deep)}Name is Ash${')'.repeat(deep)}`, find).ok;
    expect([nested(3), nested(1500)]).toEqual([true, false]);
  });
});
