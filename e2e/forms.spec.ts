import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import excel from 'exceljs';
import { workshopForm } from '../testkit/forms.ts';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-forms-'));

test('the company’s workbook is set up once on its picture, filled with a list, and read back by another program', async ({
  page,
}) => {
  const table = join(folder, 'table.step'),
    workbook = join(folder, 'Workshop order.xlsx');
  writeFileSync(table, stepOf(tableProduct()));
  writeFileSync(workbook, await workshopForm());
  await openProject(page, table, 'bill');
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('menuitem', { name: 'In the company’s own form …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.locator('input[type=file]').setInputFiles(workbook);

  // Where the list begins is proposed; another cell is picked with the arrows, and back.
  const picture = dialog.getByRole('application', { name: /^Sheet Parts/ });
  await expect(picture).toHaveAccessibleName(/begins at A6/);
  await expect(dialog.getByLabel('What column B takes')).toHaveValue('Part number');
  await expect(dialog.getByLabel('Unit of column E')).toHaveValue('kg');
  await picture.focus();
  await page.keyboard.press('ArrowDown');
  await expect(picture).toHaveAccessibleName(/begins at A7/);
  await page.keyboard.press('ArrowUp');
  await expect(picture).toHaveAccessibleName(/begins at A6/);
  await dialog.getByLabel('File name').fill('{Title} for {Buyer}');
  await dialog.getByRole('button', { name: 'Another text' }).click();
  await dialog.getByLabel('Cell of text 1').fill('F2');
  await dialog.getByLabel('Text 1', { exact: true }).fill('List {Bill}');
  await dialog.getByRole('button', { name: 'Keep it so' }).click();

  // What the form asks for in vain is said by name and cell.
  await expect(dialog).toContainText('The form asks for “Mass [kg]” in E6 on “Parts”');
  await expect(dialog).toContainText('{Buyer}');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Hand over' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Table for {Buyer}.xlsx');
  const filled = join(folder, 'filled.xlsx');
  await download.saveAs(filled);
  const book = new excel.Workbook();
  await book.xlsx.readFile(filled);
  const sheet = book.getWorksheet('Parts')!;
  expect(sheet.getColumn(3).values.slice(6, 10)).toEqual(['Bolt', 'Plate', 'Top', 'Sum']);
  expect(sheet.getCell('D6').value).toBe(8);
  expect(sheet.getCell('D9').formula).toBe('SUM(D6:D8)');
  expect(sheet.getCell('F8').formula).toBe('D8*E8');
  expect(sheet.getCell('F2').value).toMatch(/^List /);
  expect(sheet.getImages()).toHaveLength(1);

  // A formula of the form is never lost unseen.
  await dialog.getByRole('button', { name: 'How it is filled …' }).click();
  await dialog.getByRole('button', { name: 'Another column' }).click();
  await dialog.getByLabel('Letters of column 6').fill('F');
  await dialog.getByRole('button', { name: 'Keep it so' }).click();
  await expect(dialog).toContainText('F6 on “Parts” holds the formula =D6*E6');
  await expect(dialog.getByText('Nothing is written while something stands in the way.')).toBeVisible();
});
