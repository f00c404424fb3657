import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { letteringFonts, measureText, missingGlyphs, textMark, wrapText } from './index.ts';

test('the width of a text is the sum of its characters, without kerning', () => {
  expect(measureText('AV', 3.5).width).toBeCloseTo(measureText('A', 3.5).width + measureText('V', 3.5).width, 9);
});
test('lettering is measured by the height of capitals', () => {
  for (const face of ['regular', 'bold', 'narrow', 'narrowBold'] as const) {
    const { runs, size } = measureText('H', 3.5, face);
    expect((size * letteringFonts[runs[0].font].capHeight) / 1000).toBeCloseTo(3.5, 9);
  }
});
test('each character is set by the first font that has it', () => {
  const { runs } = measureText('Ø40 Лыжи Ω', 2.5);
  expect(runs.map(({ font, text }) => [letteringFonts[font].name, text])).toEqual([
    ['b612-latin-400', 'Ø40 '],
    ['source-sans-3-cyrillic-400', 'Лыжи'],
    ['b612-latin-400', ' '],
    ['source-sans-3-greek-400', 'Ω'],
  ]);
});
test('the narrow family is narrower at the same height, in its own weight, and lacks no character', () => {
  const name = 'Cross-bearer, left 1200';
  for (const [usual, narrow] of [
    ['regular', 'narrow'],
    ['bold', 'narrowBold'],
  ] as const) {
    const made = measureText(name, 2.5, narrow);
    expect(made.width).toBeLessThan(0.95 * measureText(name, 2.5, usual).width);
    expect(made.runs.map(({ font }) => letteringFonts[font].weight)).toEqual([usual]);
    expect(missingGlyphs([textMark({ kind: 'note', id: '1' }, 'Лыжи 绞 כ', 0, 0, 2.5, 'left', narrow)])).toEqual([]);
  }
});
test('a character that no font has becomes a box, and is named', () => {
  const mark = textMark({ kind: 'note', id: '1' }, 'Aꌠ', 0, 0, 2.5); // Yi
  expect(measureText('ꌠ', 2.5).width).toBeGreaterThan(0);
  expect(missingGlyphs([mark])).toEqual(['ꌠ']);
});
test.each([
  ['Chinese', '绞盘支架'],
  ['Japanese', 'ウインチ台座、ドラム軸'],
  ['Korean', '윈치 받침대'],
  ['Hebrew', 'כננת יד'],
  ['Hebrew with vowels', 'שָׁלוֹם'],
  ['Arabic', 'رافعة يدوية'],
  ['Persian', 'پیچ گوشتی'],
])('part names in %s have all their characters, in both weights', (_, text) => {
  for (const weight of ['regular', 'bold'] as const)
    expect(missingGlyphs([textMark({ kind: 'note', id: '1' }, text, 0, 0, 2.5, 'left', weight)])).toEqual([]);
});

const onPaper = (text: string) =>
  measureText(text, 2.5)
    .runs.map((run) => run.text)
    .join('');
describe('texts that run from right to left', () => {
  test('stand turned, numbers and Latin words in them as they are read', () => {
    expect(onPaper('שלום')).toBe('םולש');
    expect(onPaper('בורג M8 × 50')).toBe('M8 × 50 גרוב');
    expect(onPaper('SL-3200 כננת (יד)')).toBe('SL-3200 (די) תננכ');
  });
  test('Arabic letters join: initial, medial, final; lam and alef are one', () => {
    // ba-ba-ba, then lam-alef on its own and behind a ba
    expect([...onPaper('ببب')].map((char) => char.codePointAt(0))).toEqual([0xfe90, 0xfe92, 0xfe91]);
    expect([...onPaper('لا')].map((char) => char.codePointAt(0))).toEqual([0xfefb]);
    expect([...onPaper('بلا')].map((char) => char.codePointAt(0))).toEqual([0xfefc, 0xfe91]);
    // dal joins to what is before it only
    expect([...onPaper('دب')].map((char) => char.codePointAt(0))).toEqual([0xfe8f, 0xfea9]);
  });
  test('a mark between two letters does not part them', () => {
    expect([...onPaper('بَب')].map((char) => char.codePointAt(0))).toEqual([0xfe90, 0xfe91, 0x64e]);
  });
  test('no character is lost or added but direction signs and joined alefs', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', '7', ' ', '(', 'ש', 'ב', '漢', 'Ø', '𝄞'), maxLength: 20 }),
        (text) => {
          const turnBack = (char: string) => (char === ')' ? '(' : char);
          expect([...onPaper(text)].map(turnBack).sort()).toEqual([...text].sort());
        },
      ),
    );
  });
});
test('a mark stands on the middle of its letter and takes no room; a letter that has it is taken instead', () => {
  expect(onPaper('e\u0301')).toBe('é');
  const [{ x }] = measureText('שָ', 10).runs;
  const alone = measureText('ש', 10).width;
  expect(measureText('שָ', 10).width).toBeCloseTo(alone, 9);
  expect(x[1]).toBeGreaterThan(-alone / 2);
  expect(x[1]).toBeLessThan(alone);
});
test('wrapping loses no word and no line is too wide', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'grapheme-ascii', maxLength: 60 }),
      fc.integer({ min: 6, max: 60 }),
      (text, width) => {
        const lines = wrapText(text, 2.5, width);
        expect(lines.join('').replace(/\s/g, '')).toBe(text.replace(/\s/g, ''));
        for (const line of lines) expect(line.length <= 1 || measureText(line, 2.5).width <= width).toBe(true);
      },
    ),
  );
});
