import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import excel from 'exceljs';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { parseRecipeFile } from '../../contract/src/index.ts';
import { measuredNames } from '../../core/src/assembly/index.ts';
import { openRecipe } from '../../core/src/documents/index.ts';
import { readStep } from '../../core/src/step/index.ts';
import { sitePlanSvg } from '../../demo/sitePlan.ts';
import { workshopForm, workshopMap } from '../../testkit/forms.ts';
import { run as runCommand } from './main.ts';

// A frame of two legs with bolts; the same as a list, whose bill needs no shapes.
const LIST = [
  'Level;Number;Name;Qty;Material;Length;Made or bought',
  '0;A-1;Frame;1;;;made',
  '1;L-1;Leg;2;;;made',
  '2;T-1;Tube;1;Steel;760 mm;made',
  '2;B-10;Bolt M10;4;A4-70;40 mm;bought',
  '1;S-1;Slat;6;Ash;1200 mm;made',
  '1;B-6;Bolt M6;12;A4-70;30 mm;bought',
];
let folder: string;
let list: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-bill-'));
  list = join(folder, 'frame.csv');
  writeFileSync(list, `${LIST.join('\n')}\n`);
});
afterAll(() => rmSync(folder, { recursive: true }));

/** One command in this process: each of its own would take a second to begin. cli.test.ts runs the real script. */
async function run(...args: string[]) {
  const output = join(folder, 'out');
  rmSync(output, { force: true });
  const errors: string[] = [];
  const spy = vi.spyOn(process.stderr, 'write').mockImplementation((text) => errors.push(String(text)) > 0);
  const status = await runCommand(['bill', list, '--output', output, ...args], 'no worker: nothing here has a shape');
  spy.mockRestore();
  const bytes = status === 0 && existsSync(output) ? readFileSync(output) : Buffer.alloc(0);
  return { status, stdout: bytes.toString(), stderr: errors.join(''), bytes };
}
const csv = async (...args: string[]) =>
  (await run('--depth', 'parts-only', '--format', 'csv', ...args)).stdout.trim().split('\r\n').slice(1);
const recipe = (content: unknown): string => {
  const path = join(folder, `${Math.random()}.json`);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
};

describe('a layout', () => {
  test('is counted by symbol, apart by attributes where wanted', async () => {
    const plan = join(folder, 'plan.svg');
    writeFileSync(plan, sitePlanSvg({ revision: 'A' }));
    const lines = async (...args: string[]) => {
      const output = join(folder, 'plan.csv');
      const spy = vi.spyOn(process.stderr, 'write').mockImplementation(() => true);
      const status = await runCommand(
        ['bill', plan, '--depth', 'parts-only', '--format', 'csv', '--output', output, ...args],
        'no worker: counting draws nothing',
      );
      spy.mockRestore();
      return status === 0 ? readFileSync(output, 'utf8').trim().split('\r\n').slice(1) : status;
    };
    expect(await lines('--columns', 'Qty, Name')).toEqual(['22,Snow anchor', '14,Cap flag', '7,Camp lamp', '9,Crate']);
    const split = (await lines('--split', 'Colour, Size')) as string[];
    expect(split.filter((line) => line.includes('Cap flag'))).toEqual([
      '2,9,,Cap flag,red,standard',
      '3,5,,Cap flag,black,tall',
    ]);
    expect(await lines('--split', 'Shoe size')).toBe(1);
  });
});

describe('the company’s own form', () => {
  let form: string;
  beforeAll(async () => {
    form = join(folder, 'form.xlsx');
    writeFileSync(form, await workshopForm());
  });
  const written = async (name: string) => {
    const book = new excel.Workbook();
    await book.xlsx.readFile(join(folder, name));
    return book.getWorksheet('Parts')!;
  };

  test('is filled by its headings, named after its pattern, and what it asks for in vain is said', async () => {
    const { status, stderr } = await run(
      ...['--depth', 'parts-only', '--form', form, '--output', join(folder, '{Bill} for {Buyer}.xlsx')],
      ...['--columns', 'Item, Qty, Name', '--field', 'Buyer=Camp = store', '--field', 'Bill=Parts'],
    );
    expect(status).toBe(0);
    expect(stderr).toMatch(/B6 on “Parts”; the bill has no column “Part No.”/);
    const sheet = await written('Parts for Camp = store.xlsx');
    expect([6, 7, 8, 9].map((row) => sheet.getCell(row, 3).value)).toEqual(['Tube', 'Bolt M10', 'Slat', 'Bolt M6']);
    expect(sheet.getCell('D10').formula).toBe('SUM(D6:D9)');
    expect(sheet.getCell('C3').value).toBe('Handed over to Camp = store');
  });
  test('is filled as a map says; nothing is written over formulas', async () => {
    const over = { ...workshopMap, columns: [{ to: 'F', heading: 'Total', from: 'Qty' }] };
    const { status, stderr } = await run(
      '--form',
      form,
      '--form-map',
      recipe(over),
      '--output',
      join(folder, 'no.xlsx'),
    );
    expect(status).toBe(1);
    expect(stderr).toMatch(/F6.*=D6\*E6/);
    expect(existsSync(join(folder, 'no.xlsx'))).toBe(false);
    expect((await run('--form', form, '--form-map', recipe({ ...over, version: 2 }))).stderr).toMatch(/newer version/);
    expect((await run('--form', form, '--form-map', recipe({ ...over, columns: [] }))).stderr).toMatch(
      /columns.*at least one/,
    );
    expect((await run('--form', list)).stderr).toMatch(/no XLSX workbook/);
    expect((await run('--form', form, '--field', 'Buyer')).stderr).toMatch(/is no field/);
  });
});

describe('choices on the command line', () => {
  test('columns, order and rules', async () => {
    expect(
      await csv('--columns', 'Item, Qty as Pieces, Name', '--sort', 'Name', '--filter', 'is bought or Material = Ash'),
    ).toEqual(['4,12,Bolt M6', '2,8,Bolt M10', '3,6,Slat']);
    expect(
      await csv('--columns', '"{Name}, L = {Length}" as Text, = {Qty} × {Length} as All', '--sort', 'length downwards'),
    ).toEqual([
      '"Slat, L = 1200 mm",7200 mm',
      '"Tube, L = 760 mm",1520 mm',
      '"Bolt M10, L = 40 mm",320 mm',
      '"Bolt M6, L = 30 mm",360 mm',
    ]);
  });
  test('groups have headings and subtotals', async () =>
    expect(await csv('--columns', 'Qty, Name', '--group', 'Material')).toEqual([
      ',A4-70',
      '8,Bolt M10',
      '12,Bolt M6',
      '20,Sum A4-70',
      ',Ash',
      '6,Slat',
      '6,Sum Ash',
      ',Steel',
      '2,Tube',
      '2,Sum Steel',
      '28,Total',
    ]));
  test('JSON tells the texts of the columns, the groups and their sums', async () => {
    const bill = JSON.parse(
      (await run('--depth', 'parts-only', '--columns', 'Qty,Name', '--group', 'Material', '--machines', '3')).stdout,
    );
    expect(bill.columns).toEqual([
      { heading: 'Qty', source: 'quantity' },
      { heading: 'Name', source: 'name' },
    ]);
    expect(bill.rows.map(({ cells }: { cells: string[] }) => cells)).toEqual([
      ['8', 'Bolt M10'],
      ['12', 'Bolt M6'],
      ['6', 'Slat'],
      ['2', 'Tube'],
    ]);
    expect(bill.groups).toEqual([
      { title: 'A4-70', level: 1, at: 0, to: 2, sums: { Qty: '20' } },
      { title: 'Ash', level: 1, at: 2, to: 3, sums: { Qty: '6' } },
      { title: 'Steel', level: 1, at: 3, to: 4, sums: { Qty: '2' } },
    ]);
    expect([bill.sums, bill.machines]).toEqual([{ Qty: '28' }, 3]);
  });
  test('the recipe as a sentence', async () =>
    expect(
      (
        await run(
          '--explain',
          '--depth',
          'parts-only',
          '--group',
          'Material',
          '--sort',
          'Name downwards',
          '--filter',
          'Qty > 4',
        )
      ).stdout,
    ).toBe(
      'List every part once, merging lines with the same part number, counted over one whole machine, with everything in it, where Qty is more than 4, grouped by Material and sorted by Name downwards. Numbers from 1; they stay with their parts. 3 lines.\n',
    ));
});

test('a line whose parts do not agree, and a formula without a result, are findings', async () => {
  const differing = join(folder, 'differing.csv');
  writeFileSync(
    differing,
    'Level;Number;Name;Qty;Material\n0;A-1;Frame;1;\n1;S-1;Slat;2;Ash\n1;S-1;Slat;3;Birch\n1;B-6;Bolt;4;Steel\n',
  );
  const output = join(folder, 'differing.json');
  expect(
    await runCommand(['bill', differing, '--columns', 'Qty, Material, = {Qty} + 1 mm as Odd', '--output', output], ''),
  ).toBe(0);
  const { rows, findings } = JSON.parse(readFileSync(output, 'utf8')) as {
    rows: { quantity: number }[];
    findings: { message: string }[];
  };
  expect(rows.map(({ quantity }) => quantity)).toEqual([5, 4]);
  expect(findings.map(({ message }) => message)).toEqual([
    'Material: the parts of line 1 do not agree. The first value is shown; count the property towards what makes lines one, or set it right.',
    'Odd has no value in lines 1, 2: A plain number and a length cannot be added.',
  ]);
});

describe('a recipe file', () => {
  const full = {
    recipe: {
      depth: 'parts-only',
      sort: 'Name',
      numbering: { start: 10, step: 10 },
      quantityRules: [{ when: 'Material is Steel', is: { kind: 'sum', size: 'Length', unit: 'm' } }],
    },
    columns: [
      'Item',
      'Qty',
      { source: 'name', heading: 'Part', format: { upperCase: true } },
      { source: 'formula', heading: 'Long', expression: '{Qty} × 2' },
      { source: 'formula', heading: 'Longer', expression: '{Long} + {Long}' },
    ],
    ledger: { 'S-1': { number: 7, pinned: true } },
    treatments: { 'B-6': 'left out' },
    variants: { short: { name: 'Short', without: ['L-1'], typed: { 'S-1': { Name: { value: 'Short slat' } } } } },
  };
  test('names parts by number, and says everything of a bill', async () =>
    expect((await run('--recipe', recipe(full), '--format', 'csv')).stdout.trim().split('\r\n')).toEqual([
      'Item,Qty,Part,Long,Longer',
      '20,8,BOLT M10,16,32',
      '7,6,SLAT,12,24',
      '10,1.52 m,TUBE,3040 mm,6080 mm',
    ]));
  test('what is typed wins over it', async () => {
    expect(
      (await run('--recipe', recipe(full), '--depth', 'single-level', '--columns', 'Name', '--format', 'csv')).stdout,
    ).toBe('Name\r\nLeg\r\nSlat\r\n');
  });
  test('one of its variants', async () => {
    expect(
      (await run('--recipe', recipe(full), '--variant', 'Short', '--columns', 'Qty,Name', '--format', 'csv')).stdout,
    ).toBe('Qty,Name\r\n6,Short slat\r\n');
    expect(await run('--recipe', recipe(full), '--variant', 'Long')).toMatchObject({
      status: 1,
      stdout: '',
      stderr: 'There is no variant “Long”; the recipe has “Short”.\n',
    });
  });
  test('given out as a file, it makes the same bill again', async () => {
    const given = (await run('--recipe', recipe(full), '--format', 'recipe')).stdout;
    expect((await run('--recipe', recipe(given))).stdout).toBe((await run('--recipe', recipe(full))).stdout);
  });
  test('a part that this file lacks is told, and the rest holds', async () => {
    const { stdout, stderr } = await run(
      '--recipe',
      recipe({ treatments: { 'B-6': 'left out', 'X-1': 'left out' }, columns: 'Name' }),
      '--format',
      'csv',
      '--depth',
      'single-level',
    );
    expect(stdout).toBe('Name\r\nLeg\r\nSlat\r\n');
    expect(stderr).toBe('The recipe names “X-1”, which this file does not have; what it says of it is passed over.\n');
  });
});

test('a workbook has real numbers, an outline and a frozen heading', async () => {
  const { bytes } = await run('--format', 'xlsx', '--columns', 'Item,Qty,Name,Length');
  const workbook = new excel.Workbook();
  await workbook.xlsx.load(bytes as never);
  const [sheet] = workbook.worksheets;
  expect(sheet.views[0]).toMatchObject({ state: 'frozen', ySplit: 1 });
  expect([1, 2, 3, 4].map((at) => sheet.getRow(3).getCell(at).value)).toEqual(['1.1', 1, 'Tube', 760]);
  expect(sheet.getRow(3).getCell(4).numFmt).toContain('mm');
  expect([2, 3, 4, 5, 6].map((at) => sheet.getRow(at).outlineLevel)).toEqual([0, 1, 1, 0, 0]);
});

describe('what goes wrong is one sentence', () => {
  test.each<[string, string[], number, RegExp]>([
    [
      'a column that nothing has',
      ['--columns', 'Item, Colour'],
      1,
      /^The columns of the recipe: No column or property is called “Colour”\.\n$/,
    ],
    [
      'a rule about a column that is gone',
      ['--filter', 'Colour is red'],
      1,
      /^The rules of the recipe: “Colour is red” is no rule/,
    ],
    [
      'a formula that cannot be read',
      ['--columns', '= {Qty} × as All'],
      1,
      /^The formula of “All”: The formula cannot be read/,
    ],
    ['machines', ['--machines', '0'], 2, /whole number/],
    [
      'a variant without a recipe',
      ['--variant', 'Short'],
      1,
      /^There is no variant “Short”; variants stand in the recipe file/,
    ],
    ['no such recipe', ['--recipe', '/nowhere/r.json'], 1, /^There is no file or folder \/nowhere\/r\.json/],
  ])('%s', async (_, args, status, stderr) => {
    const ran = await run(...args);
    expect([ran.status, ran.stdout]).toEqual([status, '']);
    expect(ran.stderr).toMatch(stderr);
  });
  test.each<[unknown, RegExp]>([
    ['{ "recipe": ', /is no JSON/],
    [{ recipe: { depth: 'deep' } }, /is no recipe that can be read: recipe\.depth: /],
    [{ kind: 'sledgeboard recipe', version: 0 }, /is no recipe that can be read: version: /],
    [{ kind: 'sledgeboard recipe', version: 2 }, /was stored by a newer version of the program/],
    [{ colums: ['Item'] }, /is no recipe that can be read: colums: /],
    [
      {
        columns: [
          { source: 'formula', heading: 'A', expression: '{B}' },
          { source: 'formula', heading: 'B', expression: '{A}' },
        ],
      },
      /^“A” is made from “B” is made from “A”: that leads back to itself\.\n$/,
    ],
  ])('recipe %j', async (content, stderr) => {
    const ran = await run('--recipe', recipe(content));
    expect([ran.status, ran.stdout]).toEqual([1, '']);
    expect(ran.stderr).toMatch(stderr);
  });
});

test('the example of docs/recipes.md is a recipe for the demo', async () => {
  const example = /```json\n(.*?)```/s.exec(readFileSync('docs/recipes.md', 'utf8'))![1];
  const { assembly } = readStep(readFileSync('demo/files/hauling-sledge-A.step'), { shapes: false });
  const { bill, findings } = openRecipe(parseRecipeFile(JSON.parse(example)), assembly, measuredNames);
  expect(findings).toEqual([]);
  expect(bill.columns.map(({ heading }) => heading)).toEqual(['Item', 'Qty', 'Name', 'Stuff', 'Mass', 'Bars']);
});
