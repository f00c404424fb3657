import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-catalogues-'));
const fileOf = (name: string, text: string): string => {
  const file = join(folder, name);
  writeFileSync(file, text);
  return file;
};
const table = fileOf('table.step', stepOf(tableProduct()));

const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const cell = (page: Page, text: string) => page.getByRole('gridcell', { name: text, exact: true });
const rowOf = (page: Page, text: string) => page.getByRole('row').filter({ hasText: text });

/** Brings a table in as a catalogue; its address. */
async function bringTable(page: Page, name: string, text: string): Promise<string> {
  await page.goto('/catalogues');
  await page.locator('input[type=file]').setInputFiles(fileOf(name, text));
  await page.getByRole('dialog').getByRole('button', { name: 'Make the catalogue' }).click();
  await page.waitForURL(/\/catalogues\/[0-9a-f-]+/);
  await expect(page.getByRole('grid')).toBeVisible();
  return page.url();
}

test('a bill is completed from a catalogue; a price that changes there is in the bill by itself', async ({
  page,
  context,
}) => {
  const address = await bringTable(
    page,
    'Workshop.csv',
    'Part number,Article,Unit cost [EUR],Lead time [days]\nB 1,Bolt,0.50,4\nT-1,Table top,80.00,21\nGR-40,Grease,9.80,6\n',
  );
  await openProject(page, table, 'bill');
  await page.getByRole('button', { name: 'Catalogues' }).click();
  const dialog = page.getByRole('dialog', { name: 'Catalogues of this bill' });
  await dialog.getByLabel('Take values from').click();
  await page.getByRole('option', { name: 'Workshop, 3 items' }).click();

  // What is written otherwise is accepted, what is not there is put in with what the bill says.
  await expect(dialog).toContainText('B-1 is written B 1 there.');
  await dialog.getByRole('button', { name: 'It is the same' }).click();
  await expect(dialog.getByText('is written B 1 there.')).toHaveCount(0);
  await expect(dialog).toContainText('1 part not in it: P-1');
  await dialog.getByRole('button', { name: 'Put it in' }).click();
  await expect(dialog).toContainText('Every part of the list is found in it.');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'column', exact: true }).click();
  await page.getByPlaceholder('Find a property').fill('Unit cost');
  await page.getByRole('option', { name: /^Unit cost/ }).click();
  await expect(rowOf(page, 'T-1')).toContainText('80 EUR');
  await expect(rowOf(page, 'B-1')).toContainText('0.5 EUR');

  // A line that has no shape says what its item says.
  await page.getByRole('button', { name: 'Line without a shape' }).click();
  await page.getByRole('menuitem', { name: 'From a catalogue …' }).click();
  await page.getByLabel('Find an item').fill('grease');
  await page.getByRole('option', { name: /GR-40/ }).click();
  await expect(rowOf(page, 'GR-40')).toContainText('Grease');
  await expect(rowOf(page, 'GR-40')).toContainText('9.8 EUR');
  await kept(page);

  // Somebody else changes prices; nobody touches the bill.
  const other = await context.newPage();
  await other.goto(address);
  await cell(other, '80.00 EUR').dblclick();
  await other.keyboard.press('Control+a');
  await other.keyboard.type('84,5');
  await other.keyboard.press('Enter');
  await expect(cell(other, '84.50 EUR')).toBeVisible();
  await expect(rowOf(page, 'T-1')).toContainText('84.5 EUR', { timeout: 5000 });
  await cell(other, '9.80 EUR').click();
  await other.keyboard.type('10');
  await other.keyboard.press('Enter');
  await expect(rowOf(page, 'GR-40')).toContainText('10 EUR', { timeout: 5000 });
  await other.getByRole('button', { name: 'Undo: type unit cost 10' }).click();
  await expect(rowOf(page, 'GR-40')).toContainText('9.8 EUR', { timeout: 5000 });

  // A list that is handed over keeps the values of that day, and tells what has changed since.
  await page.getByRole('button', { name: 'Catalogues' }).click();
  await dialog.getByRole('button', { name: 'Keep the values of today' }).click();
  await expect(dialog).toContainText('Nothing has changed since.');
  await cell(other, '84.50 EUR').dblclick();
  await other.keyboard.press('Control+a');
  await other.keyboard.type('85');
  await other.keyboard.press('Enter');
  await expect(dialog.getByRole('region', { name: 'Kept values' })).toContainText('85.00 EUR', { timeout: 5000 });
  await page.keyboard.press('Escape');
  await expect(page.getByText(/^as of 20\d\d-/)).toBeVisible();
  await expect(rowOf(page, 'T-1')).toContainText('84.5 EUR');
  await page.getByRole('button', { name: 'Catalogues' }).click();
  await dialog.getByRole('button', { name: 'Take what they say now' }).click();
  // Suppliers are asked; what they say is taken over with whom was asked, and when.
  await dialog.getByRole('button', { name: 'Ask suppliers …' }).click();
  const offers = page.getByRole('dialog', { name: 'What suppliers ask' });
  await expect(offers).toContainText('No bought part of this list is found');
  await offers.getByLabel('Also for what is made here').check();
  await expect(offers.getByText(/with another price or lead time/)).toBeVisible({ timeout: 15_000 });
  await offers.getByRole('button', { name: /^Put \d offers? into the catalogue$/ }).click();
  await expect(offers).toHaveCount(0);
  await expect(other.getByRole('columnheader', { name: 'Asked of' })).toBeVisible({ timeout: 5000 });
  await other.close();
  await page.keyboard.press('Escape');

  // What is typed in the bill stands above the catalogue.
  await rowOf(page, 'T-1').getByRole('gridcell', { name: / EUR$/ }).click();
  await page.keyboard.type('90 EUR');
  await page.keyboard.press('Enter');
  await expect(rowOf(page, 'T-1')).toContainText('90 EUR');
  await kept(page);
});

test('a catalogue by keyboard and clipboard: typed, filled down, pasted, found, taken out and back', async ({
  page,
}) => {
  await bringTable(page, 'Small.csv', 'Part number,Supplier\nA-1,Kaldvik\nA-2,\nA-3,\n');
  const grid = page.getByRole('grid');
  await cell(page, 'Kaldvik').click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await expect(cell(page, 'Kaldvik')).toHaveCount(3);
  // Below the last item one more is typed.
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Home');
  await page.keyboard.type('A-4');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Norrvik');
  await page.keyboard.press('Enter');
  await expect(rowOf(page, 'A-4')).toContainText('Norrvik');
  await expect(page.getByText('4 items')).toBeVisible();
  // A block from a spreadsheet: the last of its rows becomes an item.
  await rowOf(page, 'A-4').getByRole('gridcell').first().click();
  await grid.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', 'A-4\tTindra\nA-5\tPolarplast');
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(rowOf(page, 'A-4')).toContainText('Tindra');
  await expect(rowOf(page, 'A-5')).toContainText('Polarplast');
  await page.getByRole('textbox', { name: 'Find in any column' }).fill('kald 2');
  await expect(page.getByText('1 of 5 items')).toBeVisible();
  await rowOf(page, 'A-2').getByRole('gridcell').first().click();
  await page.getByRole('button', { name: 'Take out of the catalogue' }).click();
  await expect(page.getByText('0 of 4 items')).toBeVisible();
  await page.getByRole('button', { name: 'Undo: take 1 item out' }).click();
  await expect(rowOf(page, 'A-2')).toBeVisible();
  await kept(page);
});

test('a second table: what is new, changed and gone is shown before it is taken over', async ({ page }) => {
  await bringTable(page, 'Prices.csv', 'Part number,Unit cost [EUR]\nA-1,1.00\nA-2,2.00\n');
  await page.getByRole('button', { name: 'Bring a table in' }).click();
  const asking = page.getByRole('dialog', { name: 'Bring a table into this catalogue' });
  await asking
    .locator('input[type=file]')
    .setInputFiles(fileOf('Prices, spring.csv', 'Part number,Unit cost [EUR],Pack of\nA-1,1.25,50\nA-3,3.00,10\n'));
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  const told = page.getByRole('dialog', { name: 'What Prices, spring.csv changes' });
  await expect(told).toContainText('1 new item, 1 changed, 1 that the table does not have, 0 as they are.');
  await expect(told).toContainText('1.00 EUR');
  await told.getByLabel('Take 1 item out of the catalogue').check();
  await told.getByRole('button', { name: 'Take it over' }).click();
  await expect(rowOf(page, 'A-1')).toContainText('1.25 EUR');
  await expect(rowOf(page, 'A-3')).toContainText('10');
  await expect(rowOf(page, 'A-2')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo: bring in Prices, spring.csv' }).click();
  await expect(rowOf(page, 'A-2')).toContainText('2.00 EUR');
  await expect(rowOf(page, 'A-3')).toHaveCount(0);
  await kept(page);
});

test('an item has a picture, which is in the bill too', async ({ page }) => {
  await bringTable(page, 'Photos.csv', 'Part number,Article\nB-1,Bolt\nT-1,Table top\n');
  await page.getByRole('button', { name: 'Column', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Heading').fill('Photo');
  await dialog.getByRole('combobox', { name: 'What stands in it' }).click();
  await page.getByRole('option', { name: 'picture', exact: true }).click();
  await dialog.getByRole('button', { name: 'Take it' }).click();
  await rowOf(page, 'B-1').getByRole('gridcell').nth(2).click();
  await page.getByLabel('Picture for the picked items').setInputFiles({
    name: 'bolt.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle cx="9" cy="9" r="8"/></svg>',
    ),
  });
  const photo = rowOf(page, 'B-1').getByRole('img', { name: 'picture' });
  await expect(photo).toBeVisible();
  expect(await photo.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(0);
  await kept(page);
  await openProject(page, table, 'bill');
  await page.getByRole('button', { name: 'Catalogues' }).click();
  await page.getByRole('dialog').getByLabel('Take values from').click();
  await page.getByRole('option', { name: /^Photos/ }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'column', exact: true }).click();
  await page.getByPlaceholder('Find a property').fill('Photo');
  await page.getByRole('option', { name: /^Photo/ }).click();
  await expect(rowOf(page, 'B-1').getByRole('img', { name: 'picture' })).toBeVisible();
});
