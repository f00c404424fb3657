import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { beforeEnd, readOutcome, stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { withTellableNames } from './largeNames.ts';
import { openStep } from './file.ts';

const table = stepOf(tableProduct());
/** Every entity name made another one; texts keep what looks like one. */
const named = (text: string, name: (digits: string) => string) =>
  text
    .split(/('(?:[^']|'')*')/)
    .map((piece) =>
      piece.startsWith("'") ? piece : piece.replace(/#(\d+)/g, (_, digits: string) => `#${name(digits)}`),
    )
    .join('');
const bytes = (text: string) => new TextEncoder().encode(text);

describe('entity names above 2⁵³−1', () => {
  test.each([
    ['beyond 64 bits', (digits: string) => `184467440737095516${digits.padStart(6, '0')}`],
    ['some above and some below, next to one another', (digits: string) => String(9007199254740900n + BigInt(digits))],
    ['with zeros before them', (digits: string) => `000000000000000000000000${digits}`],
    ['that differ in the last digit only', (digits: string) => `99999999999999999999${digits.padStart(4, '0')}`],
  ])('%s: the same structure is read', (_, name) => {
    expect(readOutcome(named(table, name))).toEqual(readOutcome(table));
  });
  test('a sentence names them as the file does', () => {
    const broken = beforeEnd(table, "#18446744073709551616=PRODUCT('x','x','',(#18446744073709551999));");
    expect(readOutcome(broken).refused).toMatch(/#18446744073709551616 .*#18446744073709551999/);
    const twice = beforeEnd(table, '#18446744073709551616=X();', '#18446744073709551616=X();');
    expect(readOutcome(twice).refused).toContain('#18446744073709551616 is defined twice');
    const file = openStep(bytes(beforeEnd(table, '#18446744073709551616=X();')));
    expect(file.nameOf(file.ofType('X')[0])).toBe('#18446744073709551616');
  });
  test('texts, comments, binary values and addresses are left alone', () => {
    const kept =
      "'#99999999999999999999 it''s #88888888888888888888' /* #77777777777777777777 */ \"0#66666666666666666666\"";
    const { bytes: renamed, originals } = withTellableNames(bytes(`#55555555555555555555=X(${kept});`));
    const text = new TextDecoder().decode(renamed);
    expect(text).toBe(`#00009007199254740991=X(${kept});`);
    expect([...originals]).toEqual([[9007199254740991, '55555555555555555555']]);
  });
  test('every name is another number, none meets a name that the file has, and nothing moves', () => {
    const digits = fc.oneof(
      fc.bigInt({ min: 1n, max: 10n ** 24n }),
      fc.bigInt({ min: 9007199254740980n, max: 9007199254741010n }),
      fc.bigInt({ min: 1n, max: 99n }),
    );
    fc.assert(
      fc.property(fc.array(digits, { minLength: 1, maxLength: 40 }), (names) => {
        const text = names.map((name) => `#${name}=X();`).join('\n');
        const { bytes: renamed } = withTellableNames(bytes(text));
        const after = [...new TextDecoder().decode(renamed).matchAll(/#(\d+)=/g)].map(([, name]) => BigInt(name));
        expect(renamed.length).toBe(text.length);
        // The same names are the same after it, different ones differ, and all of them are exact.
        expect(new Set(after).size).toBe(new Set(names).size);
        names.forEach((name, at) => {
          expect(after[names.indexOf(name)]).toBe(after[at]);
          expect(BigInt(Number(after[at]))).toBe(after[at]);
          if (name <= BigInt(Number.MAX_SAFE_INTEGER)) expect(after[at]).toBe(name);
        });
      }),
    );
  });
});
