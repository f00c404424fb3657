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

test('the same bill gives the same bytes, whenever it is asked for', async () => {
  const columns = [{ heading: 'Qty', width: 8, align: 'right' as const, isPicture: false }];
  const lines = [
    {
      kind: 'row' as const,
      outline: 0,
      component: 0,
      cells: [{ kind: 'number' as const, value: 4, pattern: 'General' }],
    },
  ];
  const made = async () =>
    Buffer.from(await writeBillWorkbook({ columns, lines }, 'Bill', new Map())).toString('base64');
  const first = await made();
  await new Promise((resolve) => setTimeout(resolve, 2100)); // dates in archives have every second second
  expect(await made()).toBe(first);
});
