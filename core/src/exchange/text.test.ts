import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { quote } from '../../../demo/stepWriter.ts';
import { decodeText, TextCoding } from './text.ts';

const decodeBytes = (bytes: Uint8Array) => decodeText(bytes, 0, bytes.length, new TextCoding(bytes));
const decode = (text: string) => decodeBytes(new TextEncoder().encode(text));

describe('texts of ISO 10303-21', () => {
  test.each([
    ['a doubled quote is one', "it''s", "it's"],
    ['a doubled backslash is one', 'a\\\\b', 'a\\b'],
    ['\\X2\\ holds 16-bit code units', '\\X2\\00D8\\X0\\40', 'Ø40'],
    ['\\X2\\ holds pairs of units beyond them', '\\X2\\D83DDEF7\\X0\\', '🛷'],
    ['\\X4\\ holds whole code points', '\\X4\\0001F6F7\\X0\\', '🛷'],
    ['\\X\\ holds a byte of ISO 8859-1', '\\X\\E9t\\X\\E9', 'été'],
    ['\\S\\ shifts a letter by 128', '\\S\\dnger', 'änger'],
    ['\\P chooses the page of \\S\\', '\\PB\\\\S\\1', 'ą'],
    ['raw UTF-8 stays', 'Gleitschiene für Eis', 'Gleitschiene für Eis'],
    ['an unfinished directive stays as written', '\\X2\\00D', '\\X2\\00D'],
    ['a line end inside a text is none of it', 'RUNNER,\n CURVED', 'RUNNER, CURVED'],
    ['what looks like an entity is text', '#12=PRODUCT(/* */;', '#12=PRODUCT(/* */;'],
  ])('%s', (_, written, meant) => expect(decode(written)).toBe(meant));

  test('whatever the writer quotes, the reader gives back', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const clean = text.replace(/[\r\n]/g, '');
        expect(decode(quote(clean).slice(1, -1))).toBe(clean);
      }),
    );
  });

  test('bytes that are no UTF-8 are read as Windows-1252', () => {
    const bytes = Uint8Array.of(0x4b, 0xfc, 0x68, 0x6c); // Kühl
    expect(decodeBytes(bytes)).toBe('Kühl');
  });
});
