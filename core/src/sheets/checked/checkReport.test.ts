import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import { makeBill, usualNumbering } from '../../bill/index.ts';
import { checkReport, countOfReport, drawReport, drawSheet, type Sheet } from '../index.ts';

const { sheet, inputs } = drawing(12);
const checked = (one: Sheet, others: readonly Sheet[] = []) => {
  const own = { ...inputs, sheet: one, others };
  return { drawn: drawSheet(own), inputs: own };
};
const textsOf = (report: ReturnType<typeof checkReport>) =>
  drawReport(report).map(({ marks }) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])));

describe('what there is to look at on a set of sheets', () => {
  test('nothing where every line has its balloon and every leader ends clearly', () => {
    const report = checkReport([checked(sheet)], 'Blocks', '2026-03-02');
    expect(report.lines).toEqual({ ballooned: 12, needed: 12, missing: [], excused: [] });
    expect(countOfReport(report)).toBe(report.sheets[0].doubtful.length);
    expect(report.sheets[0].problems).toEqual([]);
    expect(textsOf(report)[0]).toContain('12 of 12 lines have a balloon.');
  });
  test('a line is missing only where no sheet has it', () => {
    const [some, rest] = [sheet.balloons.slice(0, 5), sheet.balloons.slice(6)];
    const sheets: Sheet[] = [some, rest].map((balloons) => ({ ...sheet, balloons }));
    const report = checkReport(
      sheets.map((one, at) => checked(one, sheets.toSpliced(at, 1))),
      'Blocks',
      '',
    );
    expect(report.lines).toMatchObject({
      ballooned: 11,
      needed: 12,
      missing: [drawSheet(inputs).layout.balloons[5].item],
    });
    expect(report.sheets.map(({ number }) => number)).toEqual([1, 2]);
  });
  test('a sheet that shows another bill has no say in what is missing', () => {
    const lacks: Sheet = { ...sheet, balloons: sheet.balloons.slice(1) };
    const [{ item }] = drawSheet(inputs).layout.balloons;
    const bill = makeBill(inputs.assembly, {
      depth: 'parts-only',
      identity: 'part-number',
      numbering: { ...usualNumbering, start: 500 },
    });
    const elsewhere = { ...inputs, bill, sheet: { ...sheet, balloons: [] } };
    const report = checkReport([checked(lacks), { drawn: drawSheet(elsewhere), inputs: elsewhere }], '', '');
    expect(report.lines).toMatchObject({ ballooned: 11, missing: [item] });
  });
  test('a leader that ends near another line is doubtful, with what is near and how near', () => {
    const [first] = sheet.balloons;
    // To the very edge of its block.
    const moved = { ...first, end: 'dot', anchor: [0.05, 0.05, 20] } as const;
    const report = checkReport([checked({ ...sheet, balloons: [moved, ...sheet.balloons.slice(1)] })], '', '');
    const [doubtful] = report.sheets[0].doubtful.filter(
      ({ item }) => item === drawSheet(inputs).layout.balloons[0].item,
    );
    expect(doubtful.score.freeMm).toBeLessThan(0.75);
    expect(
      textsOf(report)
        .flat()
        .some((text) => text.startsWith(`${doubtful.item}, isometric: `)),
    ).toBe(true);
  });
  test('a long one goes on on further pages, each within its margins', () => {
    const plain = checkReport([checked(sheet)], 'Blocks', '');
    const [one] = plain.sheets;
    const problem = {
      code: 'x',
      message: 'A finding that is long enough to take more than a single line of the page. '.repeat(3),
      items: ['1', '2'],
    };
    const long = { ...plain, sheets: [{ ...one, problems: Array(40).fill(problem) }] };
    const pages = drawReport(long);
    expect(pages.length).toBeGreaterThan(1);
    for (const { marks, widthMm, heightMm } of pages)
      for (const mark of marks)
        if (mark.kind === 'text') {
          expect(mark.at[0] + mark.width).toBeLessThan(widthMm - 10);
          expect(mark.at[1]).toBeLessThan(heightMm - 8);
        }
    expect(textsOf(long).map((texts) => texts.at(-1))).toEqual(pages.map((_, at) => `${at + 1} / ${pages.length}`));
  });
});
