import fc from 'fast-check';
import { expect, test } from 'vitest';
import { wrapText } from '../marks/index.ts';
import { leastHeight, type BreakableRow } from './leastHeight.ts';
import { layOutTable, type TableContent, type TableRoom } from './index.ts';

/** Of letters that are 1 mm wide each, as blanks are. */
const row = (texts: readonly string[], perLine = 1): BreakableRow => ({
  perLine,
  texts: texts.map((text) => ({
    words: text.split(' ').map((word) => word.split(/(?<=-)/).map(({ length }) => length)),
    space: 1,
    beside: 0,
  })),
});
/** Lines of a text in a room of so many letters, letter by letter on a page. */
function linesIn(text: string, room: number): number {
  const page: string[] = [''];
  const last = () => page[page.length - 1];
  for (const word of text.split(' ')) {
    const joined = last() === '' ? word : `${last()} ${word}`;
    if (joined.length <= room) page[page.length - 1] = joined;
    else {
      if (last() !== '') page.push('');
      for (const piece of word.length <= room ? [word] : word.split(/(?<=-)/)) {
        if (last() !== '' && last().length + piece.length > room) page.push('');
        page[page.length - 1] += piece;
      }
    }
  }
  return page.length;
}
const heightAt = (table: readonly (readonly string[])[], widths: readonly number[]): number =>
  table.reduce((sum, texts) => sum + Math.max(...texts.map((text, at) => linesIn(text, widths[at]))), 0);
/** Every way to share the room out, in whole letters. */
function* shares(room: number, least: readonly number[]): Generator<number[]> {
  if (least.length === 1) return void (room >= least[0] && (yield [room]));
  for (let first = least[0]; first <= room; first++)
    for (const rest of shares(room - first, least.slice(1))) yield [first, ...rest];
}

const word = fc
  .array(fc.integer({ min: 1, max: 5 }), { minLength: 1, maxLength: 2 })
  .map((lengths) => lengths.map((length) => 'x'.repeat(length)).join('-'));
const text = fc.array(word, { minLength: 1, maxLength: 4 }).map((words) => words.join(' '));
const tables = fc
  .integer({ min: 1, max: 3 })
  .chain((columns) =>
    fc.tuple(
      fc.array(fc.array(text, { minLength: columns, maxLength: columns }), { minLength: 1, maxLength: 6 }),
      fc.integer({ min: 0, max: 14 }),
    ),
  );

test('no way to share the room out makes a table lower; words stay whole and the room is kept', () => {
  fc.assert(
    fc.property(tables, ([table, spare]) => {
      const columns = table[0].map((_, at) => table.map((texts) => texts[at]));
      const least = columns.map((texts) =>
        Math.max(...texts.flatMap((one) => one.split(/ |(?<=-)/).map(({ length }) => length))),
      );
      const most = columns.map((texts) => Math.max(...texts.map(({ length }) => length)));
      const room = least.reduce((sum, width) => sum + width, spare);
      const { widths, isLeast } = leastHeight(
        table.map((texts) => row(texts)),
        { least, most, room, start: least },
      );
      expect(isLeast).toBe(true);
      widths.forEach((width, at) => expect(width).toBeGreaterThanOrEqual(least[at] - 1e-6));
      expect(widths.reduce((sum, width) => sum + width, 0)).toBeLessThanOrEqual(room + 1e-6);
      const tried = [...shares(room, least)].map((one) => heightAt(table, one));
      expect(
        heightAt(
          table,
          widths.map((width) => width + 1e-6),
        ),
      ).toBe(Math.min(...tried));
    }),
    { seed: 11, numRuns: 400 },
  );
});

test('a table with too many widths to try is no higher than what it began with, and says so', () => {
  const words = (from: number) =>
    Array.from({ length: 12 }, (_, at) => 'x'.repeat(1 + ((from * 7 + at * 5) % 9))).join(' ');
  const table = Array.from({ length: 120 }, (_, at) =>
    Array.from({ length: 7 }, (__, column) => words(at * 7 + column)),
  );
  const start = Array.from({ length: 7 }, () => 20);
  const { widths, isLeast } = leastHeight(
    table.map((texts) => row(texts)),
    { least: start.map(() => 9), most: start.map(() => 90), room: 140, start },
  );
  expect(isLeast).toBe(false);
  const roomy = widths.map((width) => width + 1e-6);
  expect(heightAt(table, roomy)).toBeLessThanOrEqual(heightAt(table, start));
});

test('one long name beside many middling ones: the middling ones keep their lines, the long one gives way', () => {
  const content: TableContent = {
    headings: ['ITEM', 'NAME', 'REMARK'],
    alignments: ['centre', 'left', 'left'],
    rows: [
      ['1', 'Runner', 'Ash, steamed and bent over a form of the workshop, cut along the grain, oiled twice'],
      ...Array.from({ length: 12 }, (_, at) => [String(at + 2), 'Bearing plate, left and right hand', 'Oiled']),
    ],
  };
  const room: TableRoom = { box: [20, 10, 410, 245], grows: 'up', side: 'right', fullWidth: 140, share: 0.62 };
  const measured = layOutTable(content, room, { lettering: 3.5 });
  expect(measured.cells.slice(1).every((cells) => cells.every(({ lines }) => lines.length === 1))).toBe(true);
  expect(measured.cells[0][2].lines.join(' ')).toBe(content.rows[0][2]);
  // As broken as it has to be at that width, and no further.
  expect(measured.cells[0][2].lines).toEqual(
    wrapText(content.rows[0][2], 3.5, measured.widths[2] - 2 * measured.padding),
  );
});
