import fc from 'fast-check';
import { expect, test } from 'vitest';
import { bodySize, letteringFonts, measureText, missingGlyphs, textMark, wrapText } from './index.ts';

test('the width of a text is the sum of its characters, without kerning', () => {
  expect(measureText('AV', 3.5).width).toBeCloseTo(measureText('A', 3.5).width + measureText('V', 3.5).width, 9);
});
test('lettering is measured by the height of capitals', () => {
  expect((bodySize(3.5) * letteringFonts[0].capHeight) / 1000).toBeCloseTo(3.5, 9);
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
test('a character that no font has becomes a box, and is named', () => {
  const mark = textMark({ kind: 'note', id: '1' }, 'A橇', 0, 0, 2.5);
  expect(measureText('橇', 2.5).width).toBeGreaterThan(0);
  expect(missingGlyphs([mark])).toEqual(['橇']);
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
