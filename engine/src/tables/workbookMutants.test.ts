import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { beforeAll, expect, test, vi } from 'vitest';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { mutant } from '../../../testkit/mutants.ts';
import { readWorkbook } from './workbook.ts';

/** Of the workbook; one takes longer than one of a text. */
const MUTANTS = Math.ceil(Number(process.env.SLEDGEBOARD_MUTANTS ?? 2000) / 10);
vi.setConfig({ testTimeout: 60_000 + MUTANTS * 60 });

let entries: Record<string, Uint8Array>;
beforeAll(async () => {
  const { default: excel } = await import('exceljs');
  const book = new excel.Workbook();
  book.addWorksheet('Parts').addRows([
    ['Level', 'Number', 'Name', 'Qty', 'Due'],
    [1, 'A-1', 'Frame', 2, new Date('2026-03-02')],
    [2, 'B-1', 'Bolt', { formula: '2*4', result: 8 }, null],
  ]);
  entries = unzipSync(new Uint8Array(await book.xlsx.writeBuffer()));
});

test('a number that is no day, in a cell that shows days, is told to be none', async () => {
  const path = 'xl/worksheets/sheet1.xml';
  const text = strFromU8(entries[path]);
  const other = text.replace('<v>46083</v>', '<v>9e99</v>');
  expect(other).not.toBe(text);
  const table = await readWorkbook(zipSync({ ...entries, [path]: strToU8(other) }));
  expect(table[1]).toEqual(['1', 'A-1', 'Frame', '2', '(no date)']);
});

test.each(['xl/worksheets/sheet1.xml', 'xl/workbook.xml', 'xl/sharedStrings.xml', 'xl/styles.xml'])(
  'a workbook with a damaged %s is read or refused in a sentence, never anything else',
  async (path) => {
    expect(strFromU8(entries[path])).toContain('<');
    let refused = 0;
    for (let seed = 1; seed <= MUTANTS / 4; seed++) {
      const { kind, bytes } = mutant(entries[path], seed);
      try {
        const table = await readWorkbook(zipSync({ ...entries, [path]: bytes }, { level: 0 }));
        expect(table.every((row) => row.every((cell) => typeof cell === 'string'))).toBe(true);
      } catch (error) {
        if (!(error instanceof Refusal)) throw new Error(`Seed ${seed} (${kind}): ${(error as Error).stack}`);
        expect(error.message).toMatch(/^\S.{15,}[.!?”)]$/s);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(0);
  },
);
