import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import excel from 'exceljs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { sledgeboard } from '../../testkit/commandLine.ts';

let folder: string;
const write = (name: string, text: string): string => {
  const file = join(folder, name);
  writeFileSync(file, text);
  return file;
};
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-buy-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const LIST = `Item,Qty,Part number,Name,Made or bought,Material,Section,Length [mm],Ends
1,2,T-1,Post,made,Steel,Tube 30 × 2,1400,
2,3,T-2,Rail,made,Steel,Tube 30 × 2,900,45/45
3,16,B-1,Bolt,bought,,,,
4,1,W-1,Winch,bought,,,,
`;
const BARS = `Stock number,Section,Material,Stock length,Unit cost [EUR],Available,Lead time [days]
B6,tube 30x2,Steel,6 m,40.00,,12
B3,tube 30x2,Steel,3000 mm,22.00,2,12
`;
const PARTS = `Part number,Unit cost [EUR],Packs,Lead time [days],Supplier
B-1,0.50,100: 30.00,4,Fjord Bolts
`;
const buy = (...more: string[]) => sledgeboard(folder, 'buy', ...more);
const all = () => [
  write('frame.csv', LIST),
  ...['--stock', write('bars.csv', BARS), '--catalogue', write('parts.csv', PARTS)],
];

interface Bought {
  machines: number;
  requirement: { partNumber: string; needed: number; toGet: number }[];
  cutPlans: {
    section: string;
    kerfMm: number;
    bars: {
      stockMm: number;
      count: number;
      pieces: { item: string; lengthMm: number; count: number }[];
      leftOverMm: number;
    }[];
    cost: number;
    wasteMm: number;
    lowerBound: number;
    optimal: boolean;
  }[];
  packs: { partNumber: string; saving: number | null }[];
  cost: { known: number; unknownLines: string[] };
  leadTime: { days: number; because: { name: string }[] };
  withoutStock: { section: string }[];
}

describe('buy', () => {
  test('tells requirement, cut plans, packs, cost and lead time as JSON', async () => {
    const { status, stdout } = await buy(...all(), '--machines', '5', '--kerf', '2');
    expect(status).toBe(0);
    const bought = JSON.parse(stdout) as Bought;
    expect(bought.requirement.map(({ partNumber, toGet }) => [partNumber, toGet])).toEqual([
      ['T-1', 10],
      ['T-2', 15],
      ['B-1', 80],
      ['W-1', 5],
    ]);
    const [plan] = bought.cutPlans;
    expect(plan).toMatchObject({ kerfMm: 2, optimal: true });
    expect(plan.lowerBound).toBe(plan.cost);
    const cut = (item: string) =>
      plan.bars.reduce(
        (sum, { count, pieces }) => sum + count * (pieces.find((piece) => piece.item === item)?.count ?? 0),
        0,
      );
    expect([cut('1'), cut('2')]).toEqual([10, 15]);
    for (const { stockMm, pieces } of plan.bars)
      expect(pieces.reduce((sum, { lengthMm, count }) => sum + lengthMm * count, 0)).toBeLessThanOrEqual(stockMm);
    // 80 single bolts would be 40.00; the pack of a hundred is 30.00
    expect(bought.packs).toMatchObject([{ partNumber: 'B-1', saving: 10 }]);
    expect(bought.cost).toEqual({ known: plan.cost + 30, unknownLines: ['W-1'] });
    expect(bought.leadTime).toMatchObject({ days: 12, because: [{ name: 'bars of Tube 30 × 2' }] });
  });
  test('without bars nothing is invented: it asks for them', async () => {
    const { status, stdout, stderr } = await buy(write('frame.csv', LIST));
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({ cutPlans: [], withoutStock: [{ section: 'Tube 30 × 2' }] });
    expect(stderr).toContain('Tube 30 × 2, Steel: which bars are there for these 5 pieces (the longest 1400 mm)?');
  });
  test('what cannot be cut or read is named on standard error, and the rest is planned', async () => {
    const list = write(
      'odd.csv',
      `${LIST}5,1,T-9,Mast,made,Steel,Tube 30 × 2,7000,\n6,1,T-8,Stub,made,Steel,Tube 30 × 2,-5,\n7,1,T-7,Brace,made,Steel,Tube 30 × 2,500,95\n`,
    );
    const { status, stdout, stderr } = await buy(list, '--stock', write('bars.csv', BARS));
    expect(status).toBe(0);
    expect(stderr).toContain('item 5, T-9 takes 7000 mm and is longer than any bar gives (6000 mm');
    expect(stderr).toMatch(/T-8 Stub: Length “−?-?5[^”]*” is no length above 0/);
    expect(stderr).toContain('T-7 Brace: Mitred ends “95” cannot be read');
    expect((JSON.parse(stdout) as Bought).cutPlans).toHaveLength(1);
  });
  test('a table without a section or a length is said to have no bars', async () => {
    const { stderr } = await buy(write('frame.csv', LIST), '--stock', write('parts.csv', PARTS));
    expect(stderr).toContain('parts has no bars: it lacks a column Section and a column Stock length.');
  });
  test('goes out as a table, with what is not known said', async () => {
    const file = join(folder, 'order.xlsx');
    expect((await buy(...all(), '--format', 'xlsx', '--output', file)).status).toBe(0);
    const book = new excel.Workbook();
    await book.xlsx.readFile(file);
    const [sheet] = book.worksheets;
    expect(sheet.getColumn(4).values).toEqual(expect.arrayContaining(['B-1', 'B6', 'W-1']));
    expect(sheet.lastRow!.getCell(1).value).toBe('Sum without 1 line whose cost is not known');
    expect((await buy(...all(), '--format', 'csv')).stdout.split('\n')[0]).toContain('Cost [EUR]');
  });
  test('the cut list of the workshop is the same bytes at every call', async () => {
    const made = async (name: string) => {
      const file = join(folder, name);
      expect((await buy(...all(), '--format', 'pdf', '--output', file)).status).toBe(0);
      return readFileSync(file);
    };
    const [one, two] = [await made('one.pdf'), await made('two.pdf')];
    expect(one.subarray(0, 5).toString()).toBe('%PDF-');
    expect(one.equals(two)).toBe(true);
  });
  test.each([
    ['machines that are none', ['--machines', '0'], 2],
    ['a currency that is none', ['--currency', 'XYZ'], 2],
    ['a saw of less than nothing', ['--kerf', '-1'], 2],
    ['a rate that is none', ['--rate', 'USD'], 1],
    ['a table that is not there', ['--stock', 'none.csv'], 1],
  ])('%s: refused with a sentence', async (_, more, code) => {
    const { status, stderr } = await buy(write('frame.csv', LIST), ...more);
    expect(status).toBe(code);
    expect(stderr.trim()).not.toBe('');
  });
});
