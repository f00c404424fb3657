import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readNote, writeNote, type NoteLine } from '../../../../core/src/sheets/index.ts';
import { fromDoc, toDoc } from './noteDoc.ts';

const word = fc.stringMatching(/^[A-Za-zØ°±×äß{}]{1,9}( [a-z0-9]{1,6})?$/);
const line = fc
  .record({
    kind: fc.constantFrom('plain' as const, 'item' as const, 'number' as const),
    large: fc.boolean(),
    words: fc.array(word, { minLength: 1, maxLength: 4 }),
    bold: fc.boolean(),
  })
  .map(({ kind, large, words, bold }): NoteLine => ({
    kind,
    large: large && kind === 'plain',
    runs: words.map((text, at) => ({ text, bold: (at % 2 === 0) === bold })),
  }));

describe('the text of a note', () => {
  test('says lists, larger lines and what is bold; the rest stands as it is', () => {
    expect(readNote('# Before use\n- Wax the **runners**\n2. Oil\nØ 20 ± 0.1 ** and 3 * 4')).toEqual([
      { kind: 'plain', large: true, runs: [{ text: 'Before use', bold: false }] },
      {
        kind: 'item',
        large: false,
        runs: [
          { text: 'Wax the ', bold: false },
          { text: 'runners', bold: true },
        ],
      },
      { kind: 'number', large: false, runs: [{ text: 'Oil', bold: false }] },
      { kind: 'plain', large: false, runs: [{ text: 'Ø 20 ± 0.1 ** and 3 * 4', bold: false }] },
    ]);
  });
  test('is read back as it was written, also by way of the editor', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 8 }), (lines) => {
        const text = writeNote(lines);
        expect(readNote(text)).toEqual(lines);
        expect(fromDoc(toDoc(text))).toBe(text);
      }),
    );
  });
  test('items that follow one another are one list, and a line break in the editor is a line of its own', () => {
    expect(toDoc('- a\n- b\nc').content!.map(({ type }) => type)).toEqual(['bulletList', 'paragraph']);
    const broken = {
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          content: [{ type: 'text', text: 'a' }, { type: 'hardBreak' }, { type: 'text', text: 'b' }],
        },
      ],
    };
    expect(fromDoc(broken)).toBe('a\nb');
    expect(fromDoc({ type: 'doc' })).toBe('');
  });
});
