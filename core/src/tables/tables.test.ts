import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { letteringFonts, type Mark } from '../marks/index.ts';
import {
  bandsOf,
  drawTable,
  layOutTable,
  type MeasuredTable,
  type TableContent,
  type TableLook,
  type TableRoom,
} from './index.ts';

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
    const drawn = texts(drawTable(measured, content(10), (row) => ({ kind: 'table', id: String(row) })));
    const y = (text: string) => drawn.find((mark) => mark.text === text)!.at[1];
    expect(y('ITEM')).toBeGreaterThan(y('1'));
    expect(y('1')).toBeGreaterThan(y('3')); // every quantity is 2
  });
});

describe('a list as it is asked for', () => {
  const marksOf = (measured: MeasuredTable, of: TableContent) =>
    drawTable(measured, of, (row) => ({ kind: 'table', id: String(row) }));
  const yOf = (measured: MeasuredTable, text: string, of = content(10)) =>
    texts(marksOf(measured, of)).find((mark) => mark.text === text)!.at[1];
  test('heading and rows stand as is said, wherever it hangs; without a heading it is lower by that', () => {
    const usual = layOutTable(content(10), onTitleBlock);
    const topDown = layOutTable(content(10), onTitleBlock, { heading: 'top', rows: 'down' });
    expect(topDown.box).toEqual(usual.box);
    expect(yOf(topDown, 'ITEM')).toBeLessThan(yOf(topDown, '1'));
    expect(yOf(topDown, '1')).toBeLessThan(yOf(topDown, '10'));
    const bare = layOutTable(content(10), onTitleBlock, { heading: 'none' });
    expect(texts(marksOf(bare, content(10))).some(({ text }) => text === 'ITEM')).toBe(false);
    expect(bare.box[1] - usual.box[1]).toBeCloseTo(usual.headingHeight, 9);
  });
  test('lettering that is said stays, however little room there is, and a pitch too', () => {
    for (const lettering of [1, 2.5, 7, 14]) {
      const measured = layOutTable(content(40), onTitleBlock, { lettering });
      expect(measured.style.lettering).toBe(lettering);
      expect(measured.style.pitch / lettering).toBeGreaterThan(1.6);
    }
    expect(layOutTable(content(4), onTitleBlock, { pitch: 9 }).rowHeights).toEqual([9, 9, 9, 9]);
    // Lettering that would touch the lines makes rows higher all the same.
    expect(layOutTable(content(1), onTitleBlock, { lettering: 10, pitch: 4 }).rowHeights[0]).toBeCloseTo(13, 9);
  });
  test('rows stand closer before one is left over; no strip of one or two lines is left behind', () => {
    // 38 rows of 6 mm fit the room, 39 do not.
    const room: TableRoom = { ...onTitleBlock, box: [20, 10, 410, 10 + 39 * 6 + 1] };
    expect(layOutTable(content(39), room, { lettering: 3 })).toMatchObject({
      strips: { length: 1 },
      style: { pitch: 5.04 },
    });
    const many = layOutTable(content(39), room, { lettering: 3, pitch: 6 });
    expect(many.strips.map(({ from, to }) => to - from)).toEqual([20, 19]);
  });
  test('widths that are said are kept, the others share what is left', () => {
    const measured = layOutTable(content(5), onTitleBlock, { widths: new Map([[0, { width: 33.5 }]]) });
    expect(measured.widths[0]).toBe(33.5);
    expect(measured.widths.reduce((sum, one) => sum + one, 0)).toBeCloseTo(180, 6);
    const narrow = layOutTable(
      content(5),
      { ...onTitleBlock, fullWidth: 0 },
      { widths: new Map([[2, { width: 20 }]]) },
    );
    expect(narrow.widths[2]).toBe(20);
    expect(narrow.cells.every(([, , name]) => name.lines.length > 1)).toBe(true); // wrapped
  });
  test('a title over the whole width; further strips say that they go on', () => {
    const measured = layOutTable(content(90), onTitleBlock, { title: 'Sledge', lettering: 2.5 });
    const titles = texts(marksOf(measured, content(90))).filter(({ text }) => text.startsWith('Sledge'));
    expect(titles.map(({ text }) => text)).toEqual([
      'Sledge',
      ...measured.strips.slice(1).map(() => 'Sledge (continued)'),
    ]);
  });
  test('so many strips, of about one height; or so many lines in each; every row in one of them', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 6 }), (count, strips) => {
        const measured = layOutTable(content(count), onTitleBlock, { strips, lettering: 1.8, pitch: 3 });
        expect(measured.strips).toHaveLength(Math.min(strips, Math.ceil(count / Math.ceil(count / strips))));
        const sizes = measured.strips.map(({ from, to }) => to - from);
        expect(Math.max(...sizes)).toBe(Math.ceil(count / strips));
        expect(sizes.reduce((sum, one) => sum + one, 0)).toBe(count);
      }),
    );
    const lines = layOutTable(content(25), onTitleBlock, { stripLines: 10 });
    expect(lines.strips.map(({ from, to }) => to - from)).toEqual([10, 10, 5]);
  });
  test('a title or a heading across that is longer than the list is wide goes on below itself', () => {
    const long = 'Everything that is bought for the sledge and its mast '.repeat(6).trim();
    const of: TableContent = { ...content(3), rows: [['', '', long], ...content(2).rows], across: new Set([0]) };
    const measured = layOutTable(of, onTitleBlock, { title: long, lettering: 3.5 });
    const [x0, , x1] = measured.strips[0].box;
    for (const { at, width } of texts(marksOf(measured, of))) {
      expect(at[0]).toBeGreaterThan(x0 - 1e-6);
      expect(at[0] + width).toBeLessThan(x1 + 1e-6);
    }
    expect(measured.rowHeights[0]).toBeGreaterThan(measured.rowHeights[1]);
  });
  test('headings of groups stand across the table, and no strip ends with one', () => {
    const grouped: TableContent = {
      ...content(12),
      rows: content(12).rows.map((row, at) => (at === 5 ? ['', '', 'Material: Ash'] : row)),
      bold: new Set([5]),
      across: new Set([5]),
    };
    const measured = layOutTable(grouped, onTitleBlock, { stripLines: 6 });
    expect(measured.strips.map(({ from, to }) => [from, to])).toEqual([
      [0, 5],
      [5, 11],
      [11, 12],
    ]);
    const heading = texts(marksOf(measured, grouped)).find(({ text }) => text === 'Material: Ash')!;
    expect(heading.at[0]).toBeCloseTo(measured.strips[1].box[0] + 1.4, 9);
    // No line between columns runs through it.
    const { rows } = bandsOf(measured, measured.strips[1]);
    const band = rows.find(({ row }) => row === 5)!;
    const inside = marksOf(measured, grouped).filter(
      (mark) =>
        mark.kind === 'path' &&
        mark.points.length === 2 &&
        mark.points[0][0] === mark.points[1][0] &&
        mark.points[0][0] > measured.strips[1].box[0] + 1 &&
        mark.points[0][0] < measured.strips[1].box[2] - 1 &&
        mark.points[0][1] < band.bottom - 0.1 &&
        mark.points[1][1] > band.top + 0.1,
    );
    expect(inside).toEqual([]);
  });
});

test('a list that is too long breaks into strips side by side, each with its heading and every row in one of them', () => {
  const measured = layOutTable(content(90), onTitleBlock);
  expect(measured.strips.length).toBeGreaterThan(1);
  expect(measured.strips.map(({ from }) => from)).toEqual([0, ...measured.strips.slice(0, -1).map(({ to }) => to)]);
  expect(measured.strips.at(-1)!.to).toBe(90);
  expect(measured.fits).toBe(true);
  const drawn = texts(drawTable(measured, content(90), () => ({ kind: 'table', id: '' })));
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
  expect(measured.cells.flat().every(({ lines }) => lines.length === 1)).toBe(true);
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
  const drawn = texts(drawTable(measured, wide, (row) => ({ kind: 'table', id: String(row) })));
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
        const marks = texts(drawTable(measured, table, (row) => ({ kind: 'table', id: String(row) })));
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

test('lines are as wide as is said, and left out at 0', () => {
  const made = layOutTable(content(5), onTitleBlock, { pens: { frame: 0.7, heading: 0.35, rows: 0.18, columns: 0 } });
  const pens = drawTable(made, content(5), () => ({ kind: 'table', id: 't' })).flatMap((mark) =>
    'pen' in mark ? [mark.pen] : [],
  );
  expect(new Set(pens)).toEqual(new Set([0.7, 0.35, 0.18]));
  expect(pens.filter((pen) => pen === 0.18)).toHaveLength(4);
  const bare = layOutTable(content(5), onTitleBlock, { pens: { frame: 0, heading: 0, rows: 0, columns: 0 } });
  expect(drawTable(bare, content(5), () => ({ kind: 'table', id: 't' })).every(({ kind }) => kind === 'text')).toBe(
    true,
  );
});

describe('texts in their cells', () => {
  const room: TableRoom = { ...onTitleBlock, fullWidth: 0 };
  const name = 'Cross-bearer/left hand side, oiled';
  const named = (text: string, more: Partial<TableContent> = {}): TableContent => ({ ...content(3, text), ...more });
  const cellsOf = (measured: MeasuredTable) => measured.cells[0][2];
  const narrow = (overflow?: 'wrap' | 'shrink' | 'cut', width = 20) => ({
    lettering: 2.5,
    widths: new Map([[2, { width }]]),
    ...(overflow ? { texts: new Map([[2, { overflow }]]) } : {}),
  });
  test('wrap behind blanks, dashes and slashes, inside of words only where nothing else is left', () => {
    const { lines } = cellsOf(layOutTable(named(name), room, narrow()));
    expect(lines.join('|')).toBe('Cross-|bearer/|left hand|side, oiled');
    expect(cellsOf(layOutTable(named('Unbreakablenameofone'), room, narrow())).lines.length).toBeGreaterThan(1);
  });
  test('shrink as far as can be read, then they wrap at that', () => {
    const shrunk = cellsOf(layOutTable(named('Bearer, oiled'), room, narrow('shrink')));
    expect([shrunk.lines.length, shrunk.lettering < 2.5, shrunk.lettering >= 1.8]).toEqual([1, true, true]);
    const long = cellsOf(layOutTable(named(name), room, narrow('shrink')));
    expect([long.lettering, long.lines.length > 1]).toEqual([1.8, true]);
  });
  test('are cut with a mark, and that is known', () => {
    const measured = layOutTable(named(name), room, narrow('cut'));
    const { lines, isCut } = cellsOf(measured);
    expect([lines.length, isCut, /^Cross-b.*…$/.test(lines[0])]).toEqual([1, true, true]);
    const drawn = texts(drawTable(measured, named(name), () => ({ kind: 'table', id: 't' })));
    for (const { at, width } of drawn) expect(at[0] + width).toBeLessThanOrEqual(measured.box[2] + 1e-6);
    expect(cellsOf(layOutTable(named('Oil'), room, narrow('cut')))).toMatchObject({ lines: ['Oil'], isCut: false });
  });
  test('part numbers are never broken inside unless the list says so', () => {
    const of = named('SL-1110-LEFT-00412', { whole: new Set([2]) });
    expect(cellsOf(layOutTable(of, room, narrow(undefined, 33))).lines).toEqual(['SL-1110-LEFT-00412']);
    expect(cellsOf(layOutTable(of, room, narrow('wrap', 20))).lines.length).toBeGreaterThan(1);
  });
  test('nothing is lost, whatever the width, and nothing that could stay whole is broken inside', () => {
    const words = fc.array(fc.constantFrom('Bolt', 'M8', 'cross-bearer', 'left/right', 'zinc', '12.5'), {
      minLength: 1,
      maxLength: 8,
    });
    fc.assert(
      fc.property(words, fc.integer({ min: 14, max: 90 }), (some, width) => {
        const text = some.join(' ');
        const { lines } = cellsOf(layOutTable(named(text), room, narrow(undefined, width)));
        expect(lines.join('').replaceAll(' ', '')).toBe(text.replaceAll(' ', ''));
        if (width > 30)
          for (const word of text.split(/[ \-/]+/)) expect(lines.some((line) => line.includes(word))).toBe(true);
      }),
    );
  });
});

describe('columns as they are asked for', () => {
  const marksOf = (look: TableLook, of = content(2)) => {
    const measured = layOutTable(of, onTitleBlock, { lettering: 2.5, ...look });
    return { measured, drawn: texts(drawTable(measured, of, (row) => ({ kind: 'table', id: String(row) }))) };
  };
  test('so many figures wide, or a share of what the others leave', () => {
    const { measured } = marksOf({ widths: new Map([[0, { characters: 6 }]]) });
    const { measured: wider } = marksOf({ widths: new Map([[0, { characters: 12 }]]) });
    expect(wider.widths[0]).toBeGreaterThan(measured.widths[0] * 1.5);
    const shares = marksOf({
      widths: new Map([
        [1, { share: 1 }],
        [2, { share: 3 }],
      ]),
    }).measured.widths;
    expect(shares[2] / shares[1]).toBeCloseTo(3, 6);
    expect(shares[0] + shares[1] + shares[2]).toBeCloseTo(180, 6);
  });
  test('the list is as wide as is said, in every strip', () => {
    const { measured } = marksOf({ totalWidth: 120, strips: 2 }, content(40));
    for (const { box } of measured.strips) expect(box[2] - box[0]).toBeCloseTo(120, 6);
  });
  test('texts stand left, in the middle or right, their heading otherwise if wanted', () => {
    const { measured, drawn } = marksOf({ texts: new Map([[2, { align: 'right', headingAlign: 'left' }]]) });
    const left = measured.box[0] + measured.widths[0] + measured.widths[1];
    const text = drawn.find((mark) => mark.text === 'Cross-bearer')!;
    expect(text.at[0] + text.width).toBeCloseTo(measured.box[2] - measured.padding, 6);
    expect(drawn.find((mark) => mark.text === 'NAME')!.at[0]).toBeCloseTo(left + measured.padding, 6);
  });
  test('in high rows they stand at the top, in the middle, or at the bottom', () => {
    const of: TableContent = { ...content(1), rows: [['1', '2', 'A name that takes several lines in its column']] };
    const y = (upright: 'top' | 'middle' | 'bottom') =>
      marksOf({ widths: new Map([[2, { width: 25 }]]), texts: new Map([[0, { upright }]]) }, of).drawn.find(
        ({ text }) => text === '1',
      )!.at[1];
    expect(y('top')).toBeLessThan(y('middle'));
    expect(y('middle')).toBeLessThan(y('bottom'));
    expect(y('bottom') - y('middle')).toBeCloseTo(y('middle') - y('top'), 6);
  });
  test('padding keeps lines away, levels move names in, weights are turned round', () => {
    const of: TableContent = { ...content(3), levels: [0, 1, 2], indented: 2 };
    const { measured, drawn } = marksOf({ padding: 3, indent: 4, boldRows: true, plainHeading: true }, of);
    const names = drawn.filter(({ text }) => text === 'Cross-bearer').map(({ at }) => at[0]);
    expect(names.map((x) => Math.round((x - Math.min(...names)) * 1e6) / 1e6).sort()).toEqual([0, 4, 8]);
    expect(Math.min(...names)).toBeCloseTo(measured.box[0] + measured.widths[0] + measured.widths[1] + 3, 6);
    const isBold = (text: string) => letteringFonts[drawn.find((mark) => mark.text === text)!.runs[0].font].weight;
    expect([isBold('Cross-bearer'), isBold('NAME')]).toEqual(['bold', 'regular']);
  });
});

describe('pictures and struck lines', () => {
  const of: TableContent = {
    ...content(4),
    headings: ['ITEM', 'PICTURE', 'NAME'],
    rows: [
      ['1', '', 'Runner'],
      ['2', '', 'Slat'],
      ['3', '', 'Rivet'],
      ['4', '', 'Grease'],
    ],
    struck: new Set([2]),
    pictures: { column: 1, of: new Map([[0, { shape: 'a', png: Uint8Array.of(1) }]]) },
  };
  const measured = layOutTable(of, onTitleBlock, { pictures: 14 });
  const drawn = drawTable(measured, of, (row) => ({ kind: 'table', id: String(row) }));
  test('a picture is as large as is said, inside its cell; only its row is higher', () => {
    const pictures = drawn.flatMap((mark) => (mark.kind === 'picture' ? [mark] : []));
    expect(pictures.map(({ shape, source }) => [shape, source.id])).toEqual([['a', '0']]);
    const [x0, y0, x1, y1] = pictures[0].box;
    expect([x1 - x0, y1 - y0].map((edge) => Math.round(edge * 1e6) / 1e6)).toEqual([14, 14]);
    const left = measured.box[0] + measured.widths[0];
    expect(x0).toBeGreaterThan(left);
    expect(x1).toBeLessThan(left + measured.widths[1]);
    const band = bandsOf(measured, measured.strips[0]).rows.find(({ row }) => row === 0)!;
    expect(y0).toBeGreaterThan(band.top);
    expect(y1).toBeLessThan(band.bottom);
    expect(measured.rowHeights.slice(1)).toEqual(measured.rowHeights.slice(1).map(() => measured.style.pitch));
  });
  test('every text of a struck line has a line through its middle, no other text has', () => {
    const lines = drawn.flatMap((mark) => (mark.kind === 'path' && mark.source.id !== '-1' ? [mark] : []));
    expect(
      lines.map(({ points: [[x0, y], [x1]] }) => {
        const text = texts(drawn).find(
          ({ at, width, height }) => x0 === at[0] && x1 === at[0] + width && y === at[1] - height / 2,
        );
        return text?.text;
      }),
    ).toEqual(['3', 'Rivet']);
  });
});

test('rows, and heading with title, are lettered in the narrow family each for itself, groups too', () => {
  const of: TableContent = {
    ...content(2),
    across: new Set([0]),
    rows: [
      ['', '', 'Ash'],
      ['1', '2', 'Runner'],
    ],
    bold: new Set([0]),
  };
  const fontOf = (look: TableLook, text: string) => {
    const measured = layOutTable(of, onTitleBlock, { title: 'Sledge', ...look });
    const drawn = texts(drawTable(measured, of, (row) => ({ kind: 'table', id: String(row) })));
    return letteringFonts[drawn.find((mark) => mark.text === text)!.runs[0].font].name;
  };
  const all = ['Sledge', 'NAME', 'Ash', 'Runner'];
  const names = (look: TableLook) => all.map((text) => fontOf(look, text).replace(/-latin-/, ' '));
  expect(names({})).toEqual(['b612 700', 'b612 700', 'b612 700', 'b612 400']);
  expect(names({ narrowRows: true })).toEqual([
    'b612 700',
    'b612 700',
    'barlow-semi-condensed 700',
    'barlow-semi-condensed 400',
  ]);
  expect(names({ narrowHeading: true })).toEqual([
    'barlow-semi-condensed 700',
    'barlow-semi-condensed 700',
    'b612 700',
    'b612 400',
  ]);
});

test('figures of fractions stand small above and below their bar, within their column', () => {
  const of: TableContent = { ...content(1), rows: [['1', '2 3\u20448"', 'Rope 1\u20442 and 1\u20444']] };
  const measured = layOutTable(of, onTitleBlock, { lettering: 3.5 });
  const drawn = texts(drawTable(measured, of, (row) => ({ kind: 'table', id: String(row) }))).filter(
    ({ source }) => source.id === '0',
  );
  expect(drawn.map(({ text }) => text)).toEqual(
    ['1', '2', '3', '\u2044', '8', '"', 'Rope', '1', '\u2044', '2', ' and', '1', '\u2044', '4'].map((text) =>
      text === 'Rope' ? 'Rope ' : text === ' and' ? ' and ' : text,
    ),
  );
  const [, whole, top, , bottom, inch] = drawn;
  expect([top.height < whole.height, bottom.height]).toEqual([true, top.height]);
  expect(top.at[1]).toBeLessThan(whole.at[1]);
  expect(bottom.at[1]).toBeGreaterThan(top.at[1]);
  // Right-aligned: the last piece ends where the column does.
  expect(inch.at[0] + inch.width).toBeCloseTo(
    measured.box[0] + measured.widths[0] + measured.widths[1] - measured.padding,
    6,
  );
});
