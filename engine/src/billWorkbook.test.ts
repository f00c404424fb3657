import { expect, test } from 'vitest';
import { readWorkbook } from './workbook.ts';
import { sheetNameFor, writeBillWorkbook } from './billWorkbook.ts';

test.each([
  ['History', 'History list'],
  ["'Buyer’s'", 'Buyer’s'],
  ['[]:*?/\\', 'Bill'],
  ['x'.repeat(40), 'x'.repeat(31)],
  [`${'x'.repeat(30)}😀`, 'x'.repeat(30)],
  ['', 'Bill'],
])('the sheet of “%s” is called “%s”', (name, expected) => expect(sheetNameFor(name)).toBe(expected));

test('a workbook of any name, with signs that XML cannot hold, opens again', async () => {
  const columns = [{ heading: 'Name', width: 20, align: 'left' as const, isPicture: false }];
  const lines = [
    {
      kind: 'row' as const,
      outline: 0,
      component: 0,
      cells: [{ kind: 'text' as const, value: 'Ice\u0001 \ud83d drill' }],
    },
  ];
  for (const name of ['History', "'", '\u0007', 'a/b'])
    expect(await readWorkbook(await writeBillWorkbook({ columns, lines }, name, new Map()))).toEqual([
      ['Name'],
      ['Ice\ufffd \ufffd drill'],
    ]);
});
