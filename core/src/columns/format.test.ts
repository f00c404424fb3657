import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  compareValues,
  formatValue,
  isEmptyValue,
  numberValue,
  readNumber,
  rulesHold,
  rulesText,
  textValue,
  typedValue,
  type Comparison,
  type Format,
  type Value,
} from './index.ts';

const written = (value: Value, format: Format = {}) => formatValue(value, format).replace('\u00a0', ' ');

describe('numbers as they are written', () => {
  test.each<[number, string, Format, string]>([
    [33.7, 'mm', {}, '33.7 mm'],
    [0.1 + 0.2, '', {}, '0.3'],
    [1520, 'mm', { unit: 'm' }, '1.52 m'],
    [1520, 'mm', { unit: 'm', unitPlace: 'heading' }, '1.52'],
    [1520, 'mm', { unit: 'kg', unitPlace: 'heading' }, '1520 mm'], // never without the unit that it is in
    [1.005, '', { decimals: 2 }, '1.01'],
    [-1.005, '', { decimals: 2 }, '−1.01'],
    [2.5, '', { decimals: 0 }, '3'],
    [-0.001, '', { decimals: 2 }, '0.00'],
    [1234.5, 'kg', { decimals: 1, decimalSign: ',' }, '1234,5 kg'],
    [0.0123456, '', { significant: 3 }, '0.0123'],
    [99.96, '', { significant: 3 }, '100'],
    [0, '', { significant: 3 }, '0.00'],
    [1e21, '', { decimals: 2 }, '1e+21'],
  ])('%d %s as %j reads “%s”', (value, unit, format, text) =>
    expect(written(numberValue(value, unit), format)).toBe(text),
  );

  test.each<[number, 2 | 8 | 16 | 64, boolean, string]>([
    [34.925, 8, false, '1 3/8"'],
    [34.925, 8, true, '1³⁄₈"'],
    [3.175, 8, false, '1/8"'],
    [25.4, 16, false, '1"'],
    [25.3, 2, false, '1"'], // carried over into the whole
    [0, 64, false, '0"'],
    [-12.7, 8, false, '−1/2"'],
    [0.1, 8, false, '0"'],
  ])('%d mm in inches down to 1/%d (raised: %s) is %s', (value, denominator, stacked, text) =>
    expect(written(numberValue(value, 'mm'), { unit: 'in', fraction: { denominator, stacked } })).toBe(text),
  );
  test('a fraction is never further off than half of its denominator', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.constantFrom(2, 4, 8, 16, 32, 64 as const),
        (inches, denominator) => {
          const text = written(numberValue(inches, 'in'), {
            fraction: { denominator: denominator as 2, stacked: false },
          });
          const [, whole = '0', top = '0', bottom = '1'] = /^(?:(\d+)(?: |"|$))?(?:(\d+)\/(\d+))?"?$/.exec(text)!;
          expect(Math.abs(Number(whole) + Number(top) / Number(bottom) - inches)).toBeLessThanOrEqual(
            0.5 / denominator + 1e-9,
          );
        },
      ),
    );
  });
});

describe('texts as they are written', () => {
  test.each<[Value, Format, string]>([
    [null, {}, ''],
    [null, { empty: '–' }, '–'],
    [textValue(''), { empty: 'n/a' }, 'n/a'],
    [textValue('straße'), { upperCase: true }, 'STRASSE'],
    [{ kind: 'flag', value: true }, {}, 'yes'],
    [{ kind: 'flag', value: false }, { no: 'nein' }, 'nein'],
    [textValue('2026-03-05'), { date: '05.03.2026' }, '05.03.2026'],
    [textValue('2026-03-05T10:00:00'), { date: '5 March 2026' }, '5 March 2026'],
    [textValue('2026-03-05'), { date: '03/05/2026' }, '03/05/2026'],
    [textValue('spring'), { date: '05.03.2026' }, 'spring'],
  ])('%j as %j', (value, format, text) => expect(written(value, format)).toBe(text));
});

describe('what is typed', () => {
  test.each([
    ['1,5', { value: 1.5, unit: '' }],
    ['−2.5 kg', { value: -2.5, unit: 'kg' }],
    ['3 m²', { value: 3, unit: 'm²' }],
    ['2"', { value: 2, unit: '"' }],
    ['M8', null],
    ['8 × 60', null],
    ['', null],
  ])('“%s” as a number', (text, number) => expect(readNumber(text)).toEqual(number));
  test('stays what stood there before, where it can', () => {
    expect(typedValue('800', numberValue(760, 'mm'))).toEqual(numberValue(800, 'mm'));
    expect(typedValue('80 cm', numberValue(760, 'mm'))).toEqual(numberValue(80, 'cm'));
    expect(typedValue('about 800', numberValue(760, 'mm'))).toEqual(textValue('about 800'));
    expect(typedValue('800', textValue('760'))).toEqual(textValue('800'));
    expect(typedValue('no', { kind: 'flag', value: true })).toEqual({ kind: 'flag', value: false });
  });
});

describe('order of values', () => {
  test('natural: M6 before M10, 2 before 10, 50 cm before 1 m', () => {
    const sorted = (values: Value[]) => values.toSorted((a, b) => compareValues(a, b, 'en'));
    expect(sorted(['M10', 'M6', 'm8', 'A'].map(textValue))).toEqual(['A', 'M6', 'm8', 'M10'].map(textValue));
    expect(sorted([numberValue(1, 'm'), numberValue(50, 'cm'), numberValue(2, 'mm')])).toEqual([
      numberValue(2, 'mm'),
      numberValue(50, 'cm'),
      numberValue(1, 'm'),
    ]);
  });
  test('follows the language: ä after z in Swedish, beside a in German', () => {
    const words = ['zink', 'ärm', 'arm'].map(textValue);
    const order = (locale: string) =>
      words.toSorted((a, b) => compareValues(a, b, locale)).map((value) => (value as { text: string }).text);
    expect(order('sv')).toEqual(['arm', 'zink', 'ärm']);
    expect(order('de')).toEqual(['arm', 'ärm', 'zink']);
  });
  test('is an order: never two ways at once, and empty values last', () => {
    const any = fc.oneof(
      fc.string().map(textValue),
      fc.integer().map((value) => numberValue(value, 'mm')),
      fc.constant(null),
      fc.boolean().map((value): Value => ({ kind: 'flag', value })),
    );
    fc.assert(
      fc.property(any, any, (a, b) => {
        expect(Math.sign(compareValues(a, b, 'en')) + Math.sign(compareValues(b, a, 'en'))).toBe(0);
        if (isEmptyValue(b) && !isEmptyValue(a)) expect(compareValues(a, b, 'en')).toBeLessThan(0);
      }),
    );
  });
});

describe('rules', () => {
  const holds = (value: Value | Value[], comparison: Comparison, operand = '') =>
    rulesHold({ source: 'x', comparison, operand }, () => (Array.isArray(value) ? value : [value]));
  test.each<[Value, Comparison, string, boolean]>([
    [textValue('Ash'), 'is', 'ash', true],
    [textValue('Ash'), 'is not', 'Oak', true],
    [textValue('Hexagon bolt M8'), 'contains', 'BOLT', true],
    [textValue('Hexagon bolt M8'), 'does not contain', 'nut', true],
    [textValue('Hexagon bolt'), 'begins with', 'hex', true],
    [null, 'is empty', '', true],
    [textValue(' '), 'is not empty', '', false],
    [numberValue(760, 'mm'), 'is more than', '0.7 m', true],
    [numberValue(760, 'mm'), 'is at most', '760', true],
    [numberValue(760, 'mm'), 'is', '76 cm', true],
    [numberValue(760, 'mm'), 'is', '1 kg', false],
    [textValue('M10'), 'is more than', 'M6', true],
    [null, 'is less than', '5', false],
    [{ kind: 'flag', value: true }, 'is', 'yes', true],
  ])('%j %s %s: %s', (value, comparison, operand, result) => expect(holds(value, comparison, operand)).toBe(result));
  test('a line with several values: one of them is enough, denying needs all', () => {
    const values = [textValue('Ash'), textValue('Oak')];
    expect(holds(values, 'is', 'Oak')).toBe(true);
    expect(holds(values, 'is not', 'Oak')).toBe(false);
    expect(holds(values, 'is not', 'Birch')).toBe(true);
  });
  test('groups read as a sentence, and hold as it reads', () => {
    const rules = {
      holds: 'all',
      of: [
        { source: 'Name', comparison: 'contains', operand: 'bolt' },
        {
          holds: 'any',
          of: [
            { source: 'Source', comparison: 'is', operand: 'bought' },
            { source: 'Supplier', comparison: 'is not empty', operand: '' },
          ],
        },
      ],
    } as const;
    expect(rulesText(rules, (source) => source)).toBe(
      'Name contains bolt and (Source is bought or Supplier is not empty)',
    );
    const line = (values: Record<string, string>) =>
      rulesHold(rules, (source) => [values[source] ? textValue(values[source]) : null]);
    expect(line({ Name: 'Bolt', Source: 'made' })).toBe(false);
    expect(line({ Name: 'Bolt', Source: 'made', Supplier: 'Nordkamm' })).toBe(true);
    expect(rulesHold({ holds: 'any', of: [] }, () => [])).toBe(true);
  });
});
