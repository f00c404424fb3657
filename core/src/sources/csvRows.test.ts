import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { seeded } from '../../../testkit/mutants.ts';
import { separatorOf, splitRows } from './csvRows.ts';

/** Random text of the signs that matter. */
function randomText(seed: number, signs: readonly string[]): string {
  const next = seeded(seed);
  return Array.from({ length: Math.floor(next() * 60) }, () => signs[Math.floor(next() * signs.length)]).join('');
}

describe('rows of separated text', () => {
  test.each([
    [
      'a,b\nc,d',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    [
      'a,b\r\nc,d\r\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    [
      'a,\n,b',
      [
        ['a', ''],
        ['', 'b'],
      ],
    ],
    [
      '"a,b","c ""d"""\n"e\nf",g',
      [
        ['a,b', 'c "d"'],
        ['e\nf', 'g'],
      ],
    ],
    ['"a" ,b', [['a', 'b']]],
    ['a"b,c', [['a"b', 'c']]],
    ['a,b,', [['a', 'b', '']]],
    ['', [['']]],
  ])('%j', (text, rows) => expect(splitRows(text, ',')).toEqual({ rows, openIn: null }));
  test.each([
    ['a,b\n"c,d\n', 1],
    ['a,b\n"c"d,e', 1],
    ['"', 0],
  ])('%j has a mark that stands wrong in row %i', (text, row) => expect(splitRows(text, ',').openIn).toBe(row));

  test.each(Array.from({ length: 3000 }, (_, seed) => seed))('agrees with a library (seed %i)', (seed) => {
    // It takes blanks behind a closing mark amiss at the very end only.
    const text = randomText(seed, ['a', 'b', ',', '"', '""', '"a"', '\n', ' ', '","']).trimEnd();
    const { rows, openIn } = splitRows(text, ',');
    const { data, errors } = Papa.parse<string[]>(text, { delimiter: ',', newline: '\n' });
    const wrong = errors.find(({ type }) => type === 'Quotes');
    expect(openIn === null).toBe(wrong === undefined);
    if (wrong) return;
    // It makes one more row of the line end of the last.
    const theirs = text.endsWith('\n') && data.at(-1)?.join() === '' ? data.slice(0, -1) : data;
    if (text !== '') expect(rows).toEqual(theirs);
  });

  test.each(Array.from({ length: 300 }, (_, seed) => seed))(
    'the separator is the one the rows were written with (seed %i)',
    (seed) => {
      const next = seeded(seed);
      const separator = [',', ';', '\t', '|'][Math.floor(next() * 4)];
      const width = 2 + Math.floor(next() * 5);
      const text = Papa.unparse(
        Array.from({ length: 3 + Math.floor(next() * 12) }, () =>
          Array.from({ length: width }, () => ['12', 'Slat "long"', 'M8', 'bolt', ''][Math.floor(next() * 5)]),
        ),
        { delimiter: separator },
      );
      expect(separatorOf(text)).toBe(separator);
    },
  );
  test('a megabyte of marks is read in one pass over it', () => {
    for (const unit of ['"a"\n', '"a";', '"a"b,', '" "', '""', '"']) {
      let looked = 0;
      const text = unit.repeat(Math.floor(1.2e6 / unit.length));
      const own = String.prototype.indexOf;
      const spy = (String.prototype.indexOf = function (this: string, ...args: [string, number]) {
        const found = own.apply(this, args);
        looked += (found < 0 ? this.length : found) - (args[1] ?? 0);
        return found;
      });
      try {
        separatorOf(text);
        splitRows(text, ',');
      } finally {
        String.prototype.indexOf = own;
      }
      expect(spy).not.toBe(own);
      expect(looked).toBeLessThan(8 * text.length);
    }
  });
});
