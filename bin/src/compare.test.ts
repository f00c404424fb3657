import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { place } from '../../demo/product.ts';
import { move } from '../../demo/solids.ts';
import { group, part, stepOf, tableProduct, times } from '../../testkit/stepFiles.ts';
import { sledgeboard } from '../../testkit/commandLine.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-compare-'));
  write('was.step', stepOf(tableProduct()));
});
afterAll(() => rmSync(folder, { recursive: true }));
const write = (name: string, text: string): string => {
  const file = join(folder, name);
  writeFileSync(file, text);
  return file;
};
const compare = (was: string, is: string, ...more: string[]) => sledgeboard(folder, 'compare', was, is, ...more);
const was = () => join(folder, 'was.step');

/** The table with a larger bolt, a third one in each foot, another name of the top, and a drawer. */
function changedTable(): string {
  const bolt = part('B-1', 'Bolt', 6),
    plate = part('P-1', 'Plate', 10),
    top = part('T-1', 'Table top', 60),
    drawer = part('D-1', 'Drawer', 20);
  const foot = group('F-1', 'Foot', ...times(3, bolt), ...times(1, plate));
  return stepOf(group('A-1', 'Table', ...times(4, foot), place(top, move(0, 0, 50)), place(drawer, move(0, 0, 30))));
}

describe('compare', () => {
  test('of a file with itself: no change, and the command ends with 0', async () => {
    expect(await compare(was(), was(), '--format', 'text')).toEqual({ status: 0, stdout: 'No change.\n', stderr: '' });
  });
  test('tells components, places and lines that differ as JSON, and ends with 3', async () => {
    const { status, stdout, stderr } = await compare(was(), write('is.step', changedTable()));
    expect([status, stderr]).toEqual([3, '']);
    const { components, usages, bill, summary } = JSON.parse(stdout) as {
      components: {
        kind: string;
        partNumber: string;
        changes: string[];
        confidence: string;
        was: object;
        is: object;
      }[];
      usages: object;
      bill: object[];
      summary: { same: boolean };
    };
    expect(
      components.map(({ kind, partNumber, changes, confidence }) => [kind, partNumber, changes, confidence]),
    ).toEqual([
      ['new', 'D-1', [], 'sure'],
      ['changed', 'B-1', ['shape', 'quantity'], 'sure'],
      ['changed', 'T-1', ['name'], 'sure'],
    ]);
    expect(components[1]).toMatchObject({
      was: { quantity: 8, volume: 64, size: [4, 4, 4] },
      is: { quantity: 12, volume: 216, size: [6, 6, 6] },
    });
    expect(usages).toEqual({ added: 2, removed: 0, moved: 0 });
    expect(bill).toEqual([
      expect.objectContaining({ kind: 'changed', item: '1.1', partNumber: 'B-1', quantityWas: 8, quantityIs: 12 }),
      {
        kind: 'changed',
        item: '2',
        partNumber: 'T-1',
        name: 'Table top',
        quantityWas: 1,
        quantityIs: 1,
        cells: { Name: { was: 'Top', is: 'Table top' } },
      },
      expect.objectContaining({ kind: 'added', item: '3', partNumber: 'D-1', quantityWas: 0, quantityIs: 1 }),
    ]);
    expect(summary.same).toBe(false);
  });
  test('as CSV, workbook and words, into a file', async () => {
    const is = write('is.step', changedTable());
    const output = join(folder, 'changes.csv');
    expect((await compare(was(), is, '--format', 'csv', '--output', output, '--depth', 'parts-only')).status).toBe(3);
    expect(readFileSync(output, 'utf8').split('\r\n').slice(0, 4)).toEqual([
      'Change,Item,Part number,Name,What,Was,Is,Recognised',
      'new,,D-1,Drawer,part,,1,',
      'changed,,B-1,Bolt,shape,4 × 4 × 4 mm,6 × 6 × 6 mm,sure',
      'changed,,B-1,Bolt,quantity,8,12,sure',
    ]);
    const book = join(folder, 'changes.xlsx');
    expect((await compare(was(), is, '--format', 'xlsx', '--output', book)).status).toBe(3);
    expect(readFileSync(book).subarray(0, 2).toString()).toBe('PK');
    expect((await compare(was(), is, '--format', 'text')).stdout).toContain(
      'line changed: 1.1 B-1 Bolt: Quantity: 8 → 12\n',
    );
  });
  test('the same table in metres, with lines of the file in another order: no change', async () => {
    const text = readFileSync(was(), 'utf8').replace(/SI_UNIT\(\.MILLI\.,\.METRE\.\)/g, 'SI_UNIT($,.METRE.)');
    const metres = text.replace(
      /(CARTESIAN_POINT\('[^']*',\()([^)]*)(\)\))/g,
      (_, start, numbers: string, end) =>
        `${start}${numbers
          .split(',')
          .map((one) => (Number(one) / 1000).toExponential(9).replace('e', 'E'))
          .join(',')}${end}`,
    );
    const { status, stdout, stderr } = await compare(was(), write('metres.step', metres), '--format', 'text');
    expect([status, stdout, stderr]).toEqual([0, 'No change.\n', '']);
  });
  test('another machine altogether is refused in a sentence', async () => {
    const other = group(
      'Z-9',
      'Crane',
      ...times(2, part('H-1', 'Hook', 33)),
      ...times(3, part('R-7', 'Rope', 44)),
      ...times(1, part('W-3', 'Winch', 71)),
    );
    const { status, stdout, stderr } = await compare(was(), write('crane.step', stepOf(other)));
    expect([status, stdout]).toEqual([1, '']);
    expect(stderr).toContain('these are two machines');
  });
  test('a file that is not there, and an option that there is none of', async () => {
    expect(await compare(was(), join(folder, 'none.step'))).toMatchObject({ status: 1, stdout: '' });
    expect((await compare(was(), was(), '--format', 'doc')).status).toBe(2);
  });
});
