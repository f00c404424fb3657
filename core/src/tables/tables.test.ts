import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Mark } from '../marks/index.ts';
import { drawTable, layOutTable, type TableContent, type TableRoom } from './index.ts';

const content = (count: number, text = 'Cross-bearer'): TableContent => ({
  headings: ['ITEM', 'QTY', 'NAME'],
  alignments: ['centre', 'right', 'left'],
  rows: Array.from({ length: count }, (_, at) => [String(at + 1), '2', text]),
});
const onTitleBlock: TableRoom = { box: [20, 10, 410, 245], grows: 'up', side: 'right', fullWidth: 180, share: 0.62 };
const texts = (marks: readonly Mark[]) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark] : []));

describe('a list on the title block', () => {
  const measured = layOutTable(content(10), onTitleBlock);
  test('is as wide as the title block, stands on it and ends at the frame', () => {
    expect([measured.box[0], measured.box[2], measured.box[3]].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([
      230, 410, 245,
    ]);
  });
  test('has its heading lowest and item 1 just above it', () => {
    const drawn = texts(drawTable(measured, content(10), 'up', (row) => ({ kind: 'table', id: String(row) })));
    const y = (text: string) => drawn.find((mark) => mark.text === text)!.at[1];
    expect(y('ITEM')).toBeGreaterThan(y('1'));
    expect(y('1')).toBeGreaterThan(y('3')); // every quantity is 2
  });
});

test('a list that is too long breaks into strips side by side, each with its heading and every row in one of them', () => {
  const measured = layOutTable(content(90), onTitleBlock);
  expect(measured.strips.length).toBeGreaterThan(1);
  expect(measured.strips.map(({ from }) => from)).toEqual([0, ...measured.strips.slice(0, -1).map(({ to }) => to)]);
  expect(measured.strips.at(-1)!.to).toBe(90);
  expect(measured.fits).toBe(true);
  const drawn = texts(drawTable(measured, content(90), 'up', () => ({ kind: 'table', id: '' })));
  expect(drawn.filter((mark) => mark.text === 'ITEM')).toHaveLength(measured.strips.length);
  expect(drawn.filter((mark) => mark.text === 'Cross-bearer')).toHaveLength(90);
});

test('one piece with smaller lettering is preferred to two pieces with larger', () => {
  expect(layOutTable(content(44), onTitleBlock)).toMatchObject({ style: { lettering: 2.5 }, strips: { length: 1 } });
});

test('rows of one line with smaller lettering are preferred to wrapped ones with larger', () => {
  const long = content(5, 'A name of sixty letters and more, which is long but not too long');
  const measured = layOutTable(long, { ...onTitleBlock, fullWidth: 150 });
  expect(measured.style.lettering).toBe(2.5);
  expect(measured.lines.flat().every((cell) => cell.length === 1)).toBe(true);
});

test('a list that cannot fit says so and still has every row', () => {
  const measured = layOutTable(content(3000), onTitleBlock);
  expect(measured.fits).toBe(false);
  expect(measured.strips.reduce((sum, { from, to }) => sum + to - from, 0)).toBe(3000);
});

test('headings stay inside their columns, wrapped between words; numbers keep their unit beside them', () => {
  const wide: TableContent = {
    headings: ['ITEM', 'PART NUMBER', 'NAME', 'MASS EACH [kg]', 'MASS TOTAL [kg]', 'STOCK LENGTH'],
    alignments: ['centre', 'left', 'left', 'right', 'right', 'right'],
    rows: [['1', 'SL-1110-L', 'A name that is a good deal longer than all the others', '1.250', '2.500', '1860.5 mm']],
  };
  const measured = layOutTable(wide, { ...onTitleBlock, fullWidth: 140 });
  const edges = measured.widths.reduce<number[]>(
    (found, width) => [...found, found.at(-1)! + width],
    [measured.strips[0].box[0]],
  );
  expect(edges.at(-1)! - edges[0]).toBeLessThanOrEqual(140 + 1e-6);
  const drawn = texts(drawTable(measured, wide, 'up', (row) => ({ kind: 'table', id: String(row) })));
  for (const mark of drawn) {
    const column = edges.findLastIndex((edge) => edge <= mark.at[0]);
    expect(mark.at[0] + mark.width).toBeLessThanOrEqual(edges[column + 1]);
  }
  expect(drawn.filter(({ source }) => source.id === '-1').map(({ text }) => text)).toEqual(
    expect.arrayContaining(['PART', 'NUMBER', 'STOCK', 'LENGTH']),
  );
  expect(drawn.map(({ text }) => text)).toContain('1860.5 mm');
});

test('nothing of a text is lost, and it stays inside its column', () => {
  fc.assert(
    fc.property(
      fc.array(fc.string({ unit: 'grapheme-ascii', maxLength: 140 }), { minLength: 1, maxLength: 12 }),
      (names) => {
        const table: TableContent = { ...content(0), rows: names.map((name, at) => [String(at), '1', name]) };
        const measured = layOutTable(table, onTitleBlock);
        const marks = texts(drawTable(measured, table, 'up', (row) => ({ kind: 'table', id: String(row) })));
        names.forEach((name, at) => {
          const x = measured.strips[0].box[0] + measured.widths[0] + measured.widths[1];
          const own = marks.filter((mark) => mark.source.id === String(at) && mark.at[0] >= x);
          expect(
            own
              .map((mark) => mark.text)
              .join('')
              .replace(/\s/g, ''),
          ).toBe(name.replace(/\s/g, ''));
          for (const mark of own) expect(mark.at[0] + mark.width).toBeLessThanOrEqual(measured.strips[0].box[2] + 1e-6);
        });
      },
    ),
    { numRuns: 60 },
  );
});
