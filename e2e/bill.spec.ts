import { readFileSync } from 'node:fs';
import excel from 'exceljs';
import type { Page } from '@playwright/test';
import { expect, openProject, test } from './app.ts';

const DEMO = 'demo/files/hauling-sledge-A.step';

async function openBill(page: Page): Promise<void> {
  await openProject(page, DEMO, 'bill');
  await expect(page.getByRole('grid')).toBeVisible();
}
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const foot = (page: Page, words: string | RegExp) => expect(page.getByText(words).first()).toBeVisible();
const cell = (page: Page, text: string) => page.getByRole('gridcell', { name: text, exact: true }).first();
const row = (page: Page, text: string) => page.getByRole('row').filter({ hasText: text });
const choose = (page: Page, label: RegExp) => page.getByRole('button', { name: label }).click();
const apply = (page: Page) => page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click();
async function addColumn(page: Page, find: string, option: RegExp): Promise<void> {
  await page.getByRole('button', { name: 'column', exact: true }).click();
  await page.getByPlaceholder('Find a property').fill(find);
  await page.getByRole('option', { name: option }).click();
}
async function fromMenu(page: Page, column: string, item: string): Promise<void> {
  await page.getByRole('button', { name: `Column ${column}`, exact: true }).click();
  await page.getByRole('menuitem', { name: item }).click();
}

test('a buyer’s list: its own copy, only what is bought, grouped with sums, in tens, handed over', async ({ page }) => {
  await openBill(page);
  await foot(page, '69 lines, 376 pieces');
  await page.getByRole('button', { name: 'More about the bill and others' }).click();
  await page.getByRole('menuitem', { name: /^Duplicate/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Buyer’s list');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('tab', { name: 'Buyer’s list' })).toHaveAttribute('aria-selected', 'true');

  // Only fasteners of stainless steel, said as a rule.
  await choose(page, /^Which lines are shown/);
  await page.getByRole('button', { name: 'Rule', exact: true }).click();
  await page.getByRole('combobox', { name: 'Column' }).click();
  await page.getByRole('option', { name: 'Made or bought' }).click();
  await page.getByRole('combobox', { name: 'Comparison' }).click();
  await page.getByRole('option', { name: 'is', exact: true }).click();
  await page.getByRole('textbox', { name: 'Value' }).fill('bought');
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText(/^\d+ lines would be listed\.$/);
  const left = Number(/\d+/.exec((await page.getByRole('dialog').getByRole('status').textContent())!)![0]);
  await apply(page);
  await foot(page, new RegExp(`^${left} lines,`));
  await expect(
    page.getByRole('button', { name: /^Which lines are shown: where Made or bought is bought/ }),
  ).toBeVisible();

  // Grouped by material, with the sum of the masses below each group and below all.
  await addColumn(page, 'mass total', /^Mass total/);
  await fromMenu(page, 'Mass total', 'Sum below');
  await choose(page, /^Order of the lines/);
  await page.getByRole('button', { name: 'Key' }).first().click();
  await page.getByRole('combobox', { name: 'Column' }).click();
  await page.getByRole('option', { name: 'Material', exact: true }).click();
  await page.getByLabel('sums').check();
  await apply(page);
  await expect(page.getByRole('row', { name: /^A4-70 \d+ lines/ })).toBeVisible();

  // In tens, as shown; what changes is said before.
  await choose(page, /^Renumber/);
  await page.getByRole('textbox', { name: 'Start' }).fill('10');
  await page.getByRole('textbox', { name: 'Step' }).fill('10');
  await page.getByRole('textbox', { name: 'Before it' }).fill('B');
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText(
    `${left} of ${left} lines get another number. Numbers of lines that are not shown are not given out.`,
  );
  await apply(page);
  await expect(page.getByRole('gridcell', { name: 'B20', exact: true })).toBeVisible(); // 10 is held by a line that is not shown
  await expect(page.getByRole('gridcell', { name: 'B10', exact: true })).toHaveCount(0);
  await kept(page);

  // The drawing's list kept its numbers; the two are compared.
  await page.getByRole('button', { name: 'More about the bill and others' }).click();
  await page.getByRole('menuitem', { name: /^Compare/ }).click();
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText(`${69 - left} only there, ${left} differs`);
  await page.getByRole('dialog').press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'List as CSV' }).click();
  const csv = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(csv[0]).toContain('Mass total [kg]');
  expect(csv.filter((line) => /^B\d+0,/.test(line))).toHaveLength(left);
  expect(csv.at(-1)).toMatch(/Total.*,\d+\.\d{3}$/);
  await page.getByRole('button', { name: 'Hand over' }).click();
  const book = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'List as XLSX workbook' }).click();
  const workbook = new excel.Workbook();
  await workbook.xlsx.readFile(await (await book).path());
  const total = workbook.worksheets[0].lastRow!.values as unknown[];
  expect(Number(total.at(-1)).toFixed(3)).toBe(csv.at(-1)!.split(',').at(-1));

  // What weighs most, as bars.
  await page.getByRole('button', { name: 'Chart' }).click();
  await expect(page.getByRole('dialog').getByRole('status')).toContainText(/^[\d.]+ kg in all, \d kinds\./);
  await expect(page.getByRole('dialog').locator('svg').getByText('A4-70', { exact: true })).toBeVisible();
  await page.getByRole('dialog').press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);

  // One undo takes the renumbering back.
  await page.getByRole('button', { name: 'Undo: number by the order shown' }).click();
  await expect(page.getByRole('gridcell', { name: 'B20', exact: true })).toHaveCount(0);
  await page.getByRole('tab', { name: 'Drawing list' }).click();
  await foot(page, '69 lines, 376 pieces');

  // Taken away, and brought back by undo.
  await page.getByRole('tab', { name: 'Buyer’s list' }).click();
  await page.getByRole('button', { name: 'More about the bill and others' }).click();
  await page.getByRole('menuitem', { name: 'Take “Buyer’s list” away' }).click();
  await expect(page.getByRole('tab', { name: 'Buyer’s list' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo: take the bill Buyer’s list away' }).click();
  await expect(page.getByRole('tab', { name: 'Buyer’s list' })).toBeVisible();

  // Its recipe, handed over as a file, makes another bill that reads alike.
  await page.getByRole('tab', { name: 'Buyer’s list' }).click();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const recipe = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: /^Recipe as JSON/ }).click();
  await page.getByRole('button', { name: 'More about the bill and others' }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('menuitem', { name: 'New bill from a recipe file …' }).click();
  await (await chooser).setFiles(await (await recipe).path());
  await expect(page.getByRole('menu')).toHaveCount(0);
  await page.getByRole('textbox', { name: 'Name' }).fill('Spares');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('tab', { name: 'Spares' })).toHaveAttribute('aria-selected', 'true');
  await foot(page, new RegExp(`^${left} lines,`));

  // The sheet can show it instead of the drawing's list: its lines, its numbers.
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('combobox', { name: 'Lines and numbers from' }).click();
  await page.getByRole('option', { name: 'Buyer’s list' }).click();
  await expect(page.getByText(new RegExp(`of ${left} lines|${left} lines`)).first()).toBeVisible();
  await kept(page);
  await page.reload();
  await expect(page.getByRole('combobox', { name: 'Lines and numbers from' })).toHaveValue('Buyer’s list');
});

test('a list edited as in a spreadsheet: typed, copied, filled, taken back; wax without a shape; lengths in a text', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openBill(page);

  // Typed over; the bar says what the model says and the way back.
  await cell(page, 'Runner sole').click();
  await page.keyboard.type('Runner shoe');
  await page.keyboard.press('Enter');
  await expect(cell(page, 'Nose cap')).toHaveAttribute('aria-selected', 'true'); // Enter went down
  await page.keyboard.press('ArrowUp');
  const bar = page.getByRole('toolbar', { name: 'Selected cells' });
  await expect(bar).toContainText('typed in this bill; the model says “Runner sole”');
  await bar.getByRole('button', { name: 'Back to the model' }).click();
  await expect(cell(page, 'Runner sole')).toBeVisible();

  // A block is copied, pasted one column on and filled down, each as one gesture.
  await page.getByRole('gridcell', { name: 'Ash', exact: true }).first().click();
  await page.keyboard.press('ControlOrMeta+c');
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe('Ash');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ControlOrMeta+v');
  await expect(row(page, 'SL-1115')).toContainText('Ash');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('ControlOrMeta+d');
  await expect(row(page, 'SL-1118')).toContainText('Ash');
  await expect(row(page, 'SL-1122-L')).toContainText('Ash');
  await page.getByRole('button', { name: 'Undo: fill down 3 lines' }).click();
  await expect(row(page, 'SL-1118')).toContainText('Al 6082');
  await kept(page);

  // Pushed to the part, every bill has it and this one needs no override.
  await row(page, 'SL-1115').getByRole('gridcell', { name: 'Ash', exact: true }).click();
  await bar.getByRole('button', { name: 'For every bill' }).click();
  await expect(bar.getByRole('button', { name: 'Back to the model' })).toHaveCount(0);
  await expect(row(page, 'SL-1115')).toContainText('Ash');

  // Two lines made one by hand, and apart again.
  await cell(page, 'Stanchion foot, left').click();
  await page.keyboard.press('Shift+ArrowDown');
  await bar.getByRole('button', { name: 'Make them one line' }).click();
  await foot(page, /^68 lines, 376 pieces/);
  await expect(row(page, 'SL-1122-L')).toContainText('2 values'); // what differs in it is shown
  await row(page, 'SL-1122-L').getByRole('gridcell').first().click();
  await bar.getByRole('button', { name: 'Keep its parts apart' }).click();
  await foot(page, /^69 lines, 376 pieces/);

  // Wax: a line that no component stands behind, with an amount of its own.
  await page.getByRole('button', { name: 'Line without a shape' }).click();
  await page.getByRole('menuitem', { name: 'To be typed' }).click();
  await cell(page, 'New line').click();
  await page.keyboard.type('Runner wax');
  await page.keyboard.press('Enter');
  await row(page, 'Runner wax').getByRole('gridcell', { name: 'as required' }).click();
  await page.keyboard.type('0.2 kg');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Runner wax')).toContainText('0.2 kg');

  // A text made of columns, checked while it is typed.
  await addColumn(page, 'text made', /^A text made of other columns/);
  await page.getByRole('textbox', { name: 'Heading' }).fill('To order');
  await page.getByRole('textbox', { name: 'Text' }).fill('{Nmae}, {Material}');
  await expect(page.getByRole('dialog')).toContainText('No column or property is called “Nmae”.');
  await expect(page.getByRole('dialog').getByRole('button', { name: 'Apply' })).toBeDisabled();
  await page.getByRole('textbox', { name: 'Text' }).fill('{Name}, {Material}');
  await apply(page);
  await expect(row(page, 'SL-1110-L')).toContainText('Runner, curved, left, Ash');

  // And a formula that does not fit says so.
  await addColumn(page, 'formula', /^A formula/);
  await page.getByRole('textbox', { name: 'Formula' }).fill('{Qty} + 1 mm');
  await expect(page.getByRole('dialog')).toContainText('A plain number and a length cannot be added.');
  await page.getByRole('textbox', { name: 'Formula' }).fill('ceil({Qty} / 50)');
  await page.getByRole('textbox', { name: 'Heading' }).fill('Bags');
  await apply(page);
  await expect(row(page, 'WS-06').getByRole('gridcell').last()).toHaveText('2');

  await kept(page);
  await page.reload();
  await expect(row(page, 'Runner wax')).toContainText('0.2 kg');
  await expect(row(page, 'WS-06').getByRole('gridcell').last()).toHaveText('2');
});

test('why a quantity; two builds side by side; columns as a house style; an indented list in tens with pins through a sort', async ({
  page,
}) => {
  await openBill(page);
  await cell(page, 'Cross-bearer').click();
  const why = page.getByRole('region', { name: 'Why this quantity' });
  await expect(why).toContainText('Why 5 × Cross-bearer?');
  await why.getByRole('button', { name: 'The next place' }).click();
  await expect(why).toContainText('1 of 5');
  await why.getByRole('button', { name: 'The place before' }).click();
  await expect(why).toContainText('5 of 5');

  // Two builds, one without cross-bearers and one without nose caps, their quantities in columns side by side.
  await choose(page, /^Variant/);
  for (const [name, part] of [
    ['Short mast', 'Cross-bearer'],
    ['Summer', 'Nose cap'],
  ]) {
    await page.getByRole('button', { name: 'New variant' }).click();
    await page.getByRole('textbox', { name: 'Name' }).last().fill(name);
    await page.getByRole('combobox', { name: 'It does without' }).last().fill(part);
    await page.getByRole('option', { name: new RegExp(`^${part}`) }).click();
    await page.keyboard.press('Escape');
    await kept(page);
  }
  await page.getByRole('dialog').press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await addColumn(page, 'Short', /^Short mast/);
  await addColumn(page, 'Summer', /^Summer/);
  const builds = async (part: string) => (await row(page, part).getByRole('gridcell').allTextContents()).slice(-2);
  await expect.poll(() => builds('SL-1210')).toEqual(['–', '5']);
  expect(await builds('SL-1118')).toEqual(['2', '–']);
  expect(await builds('SL-1115')).toEqual(['2', '2']);

  // The columns become a house style, which is handed on and brought back.
  await page.getByRole('button', { name: 'House style', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Keep these columns as a style …' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Workshop list');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await fromMenu(page, 'Material', 'Take away');
  await expect(page.getByRole('columnheader', { name: /Material/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'House style', exact: true }).click();
  await page.getByRole('menuitem', { name: /^Workshop list \d columns/ }).click();
  await expect(page.getByRole('columnheader', { name: /Material/ })).toBeVisible();

  // Indented; a subassembly is closed on its own and opened again.
  await choose(page, /^Depth of the list/);
  await page.getByRole('menuitem', { name: /^indented/ }).click();
  await expect(page.getByRole('button', { name: 'Close 1', exact: true })).toBeVisible();
  const lines = await page.getByText(/^\d+ lines, 376 pieces/).textContent();
  await page.getByRole('button', { name: 'Close 1', exact: true }).click();
  await expect(page.getByText(lines!)).toHaveCount(0);
  await page.getByRole('button', { name: 'Open 1', exact: true }).click();
  await expect(page.getByText(lines!)).toBeVisible();

  // Numbered in tens, lower levels in ones, with the first two lines pinned: no change of order moves a number.
  const items = () => page.locator('.gridcell.item').allTextContents();
  const bar = page.getByRole('toolbar', { name: 'Selected cells' });
  const item = (number: string) =>
    page.locator('.gridcell.item').filter({ hasText: new RegExp(`^${number.replace('.', '\\.')}$`) });
  for (const number of ['1', '1.1']) {
    await item(number).click();
    await bar.getByRole('button', { name: 'Pin the number' }).click();
  }
  await choose(page, /^Renumber/);
  await page.getByRole('textbox', { name: 'Start', exact: true }).fill('10');
  await page.getByRole('textbox', { name: 'Step', exact: true }).fill('10');
  await page.getByRole('button', { name: 'Number level 2 in its own way' }).click();
  await expect(page.getByRole('dialog').getByRole('status')).toContainText('2 are pinned and keep theirs.');
  await apply(page);
  await expect.poll(async () => (await items()).slice(0, 3)).toEqual(['1', '1.1', '1.1.1']);
  const listed = async () => {
    await kept(page);
    await page.getByRole('button', { name: 'Hand over' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'List as JSON' }).click();
    const { rows } = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as {
      rows: { item: string; partNumber: string }[];
    };
    return rows.map(({ item: number, partNumber }) => `${number} ${partNumber}`);
  };
  const before = await listed();
  await choose(page, /^Order of the lines/);
  await page.getByRole('button', { name: 'Key' }).last().click();
  await page.getByRole('combobox', { name: 'Column' }).click();
  await page.getByRole('option', { name: 'Name', exact: true }).click();
  await apply(page);
  await expect(page.getByRole('button', { name: 'Order of the lines: sorted by Name' })).toBeVisible();
  const after = await listed();
  expect(after).not.toEqual(before);
  expect(after.toSorted()).toEqual(before.toSorted());
  expect(after.filter((line) => /^1(\.1)? /.test(line)).toSorted()).toEqual(before.slice(0, 2).toSorted());
});
