import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { bringAsOwn, expect, test } from './app.ts';

const DEMO = 'demo/files/hauling-sledge-A.step';

/** Uploads a file on the start page and waits until its project is open. */
async function importFile(page: Page, file: string): Promise<void> {
  await page.goto('/projects');
  await bringAsOwn(page, file);
  await page.waitForURL(/\/projects\/[0-9a-f-]+\/model/, { timeout: 120_000 });
  await expect(page.getByRole('tree')).toBeVisible();
}
const toSheets = (page: Page) => page.getByRole('link', { name: 'Sheets', exact: true }).click();
/** Shapes are made while the structure can be worked on; drawings need them. */
const shapesReady = (page: Page) => expect(page.locator('.shapes')).toHaveCount(0, { timeout: 120_000 });
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const strip = (page: Page) => page.getByRole('contentinfo', { name: 'Which items are ballooned' });
const choose = async (page: Page, menu: string, item: string) => {
  await page.getByRole('button', { name: menu }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
};
const centreOf = async (page: Page, label: string) => {
  const box = (await page.getByLabel(label, { exact: true }).boundingBox())!;
  return { x: Math.round((box.x + box.width / 2) * 10) / 10, y: Math.round((box.y + box.height / 2) * 10) / 10 }; // px
};

test('from a STEP file to a printed assembly drawing', async ({ page }) => {
  await importFile(page, DEMO);
  await shapesReady(page);
  await toSheets(page);
  await expect(page.getByText('An empty sheet.')).toBeVisible();

  await page.getByRole('combobox', { name: 'Paper' }).click();
  await page.getByRole('option', { name: 'A2' }).click();

  // A view follows the pointer until it is put down.
  await choose(page, 'Place view', 'isometric');
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  const paper = (await page.getByLabel('Sheet Assembly, A2').boundingBox())!;
  await page.mouse.move(paper.x + paper.width * 0.5, paper.y + paper.height * 0.5);
  await page.mouse.move(paper.x + paper.width * 0.34, paper.y + paper.height * 0.52, { steps: 5 });
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.getByLabel('View isometric')).toBeVisible();
  await expect(page.getByText('placed by hand')).toBeVisible();

  await choose(page, 'Place list', 'on the title block');
  await expect(page.getByLabel('Line 69', { exact: true })).toBeAttached(); // every part once, the winch still opened

  await page.getByRole('button', { name: 'Place balloons' }).click();
  await expect(strip(page)).toContainText(/6\d of 69 ballooned once/, { timeout: 90_000 });
  await kept(page);

  // What is bought whole becomes one line.
  await page.getByRole('link', { name: 'Model' }).click();
  await page.getByRole('treeitem', { name: /Hand winch 350/ }).click();
  await page.getByRole('group', { name: 'Is what is inside it counted?' }).getByText('no', { exact: true }).click();
  await expect(page.getByRole('complementary', { name: 'Inspector' }).getByRole('status')).toContainText(
    'The list has 69 lines now and 61 then.',
  );
  await page.getByRole('button', { name: 'Apply' }).click();
  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByText('61 lines, 360 pieces')).toBeVisible();

  // Columns: one more, one renamed, one moved with the keyboard.
  await page.getByRole('button', { name: 'column', exact: true }).click();
  await page.getByPlaceholder('Find a property').fill('mass');
  await page.getByRole('option', { name: /^Mass \d/ }).click();
  await page.getByRole('button', { name: 'Column Name' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByRole('textbox', { name: 'Heading' }).fill('Designation');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('columnheader', { name: 'Designation' })).toBeVisible();
  await kept(page);

  // The bill's depth changes: list and balloons follow in one gesture, and one undo takes all of it back.
  await page.getByRole('button', { name: /^Depth of the list/ }).click();
  await page.getByRole('menuitem', { name: /^the first level only/ }).click();
  await expect(page.getByText(/^7 lines/).first()).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await expect(strip(page)).toContainText('7 of 7 ballooned once');
  await expect(page.getByLabel('Balloon 7', { exact: true })).toBeAttached();
  await expect(page.getByLabel('Balloon 8', { exact: true })).toHaveCount(0);
  await kept(page);
  await page.getByRole('button', { name: 'Undo: list the first level only' }).click();
  await expect(page.getByLabel('Line 61', { exact: true })).toBeAttached();

  // A balloon dragged by hand stays when the rest is arranged again.
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo: arrange balloons' })).toBeEnabled({ timeout: 90_000 });
  await expect(strip(page)).toContainText(/5\d of 61 ballooned once/);
  await kept(page);
  const from = await centreOf(page, 'Balloon 1');
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 20, from.y + 34, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('hand; arranging leaves it')).toBeVisible();
  const put = await centreOf(page, 'Balloon 1');
  expect(Math.hypot(put.x - from.x - 20, put.y - from.y - 34)).toBeLessThan(2);
  await expect(page.getByRole('button', { name: 'Undo: move balloon' })).toBeEnabled();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo: arrange balloons' })).toBeEnabled({ timeout: 90_000 });
  expect(await centreOf(page, 'Balloon 1')).toEqual(put);

  // The title block, by typing.
  await page.getByLabel('Title block', { exact: true }).click();
  await page.getByRole('textbox', { name: 'Approved by' }).fill('I. Maarsund');
  await page.keyboard.press('Enter');
  await kept(page);

  await page.reload();
  await expect(page.getByLabel('Balloon 1', { exact: true })).toBeAttached({ timeout: 60_000 });
  await expect.poll(() => centreOf(page, 'Balloon 1')).toEqual(put); // once the desk has its size

  const download = page.waitForEvent('download');
  await choose(page, 'Hand over', 'Sheet as PDF');
  const pdf = await (await download).path();
  const text = execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' });
  for (const words of [
    'Hauling sledge HS-2',
    'SL-0000',
    'I. Maarsund',
    'DESIGNATION',
    'Hand winch 350',
    'Hexagon bolt M8 × 60',
  ])
    expect(text).toContain(words);
  expect(text).toMatch(/1:(7\.5|10)\b/);
  expect(text.match(/\bSC-0540\b/g)).toHaveLength(1);
  expect(execFileSync('pdfinfo', [pdf], { encoding: 'utf8' })).toMatch(/Page size:\s+1683\.78 x 1190\.55 pts \(A2\)/);
});

test('from nothing to a set of five sheets in one PDF, in one step that can be taken back', async ({ page }) => {
  await importFile(page, DEMO);
  await shapesReady(page);
  await toSheets(page);
  await page.getByRole('combobox', { name: 'Paper' }).click();
  await page.getByRole('option', { name: 'A2' }).click();
  await choose(page, 'Which sheets to make', 'Cover, drawing, section, taken apart, details');
  await expect(page.getByText('69 of 69 lines have a balloon')).toBeVisible({ timeout: 120_000 });
  const sheets = page.getByRole('navigation', { name: 'Sheets of this project' });
  const names = () => sheets.locator('.sheetname span').allTextContents();
  expect(await names()).toEqual(['1 Cover', '2 Assembly', '3 Section', '4 Exploded', '5 Details']);

  const download = page.waitForEvent('download');
  await choose(page, 'Hand over', 'All sheets as one PDF');
  const pdf = await (await download).path();
  const info = execFileSync('pdfinfo', ['-l', '5', pdf], { encoding: 'utf8' });
  expect(info).toMatch(/Pages:\s+5/);
  expect(info.match(/A2/g)).toHaveLength(5);
  const pages = execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' }).split('\f').slice(0, 5);
  pages.forEach((text, at) => expect(text.replace(/ /g, '')).toContain(`${at + 1}/5`));
  // Each number stands in a balloon on some sheet: once in the list, and once more at least.
  const words = pages.join(' ').split(/\s+/);
  for (let item = 1; item <= 69; item++)
    expect(words.filter((word) => word === String(item)).length, `number ${item}`).toBeGreaterThanOrEqual(2);

  // One view alone, as a figure for a document.
  const third = sheets.getByRole('button', { name: 'Sheet 4, Exploded' });
  await third.click();
  await expect(third).toHaveAttribute('aria-current', 'page'); // until then the paper is still the one before
  await page.getByLabel('View isometric').click();
  const figure = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Figure as SVG' }).click();
  const svg = readFileSync(await (await figure).path(), 'utf8');
  const [, width, height] = /<svg [^>]*width="([\d.]+)mm" height="([\d.]+)mm"/.exec(svg)!.map(Number);
  expect([width < 594, height < 420]).toEqual([true, true]);
  expect(svg).toMatch(/data-of="view /);
  expect(svg).toMatch(/data-of="balloon /);
  expect(svg).not.toContain('data-of="frame');

  await kept(page);
  await sheets.getByRole('button', { name: 'Sheet 2, Assembly' }).click();
  await page.getByRole('button', { name: 'Undo: make the drawing' }).click();
  await expect.poll(names).toEqual(['1 Assembly']);
  await expect(page.getByText('An empty sheet.')).toBeVisible();
  await page.getByRole('button', { name: 'Redo: make the drawing' }).click();
  await expect.poll(names).toEqual(['1 Cover', '2 Assembly', '3 Section', '4 Exploded', '5 Details']);
});

test('a new export of the sledge: what was pinned, typed and put by hand stays, through one sheet, then all, and back', async ({
  page,
  context,
}) => {
  await importFile(page, DEMO);
  await shapesReady(page);
  // A drawing; a number of one’s own, a name typed over, a balloon put elsewhere, a count in a note, and a sheet more.
  await page.getByRole('link', { name: 'Bill', exact: true }).click();
  const slats = page.getByRole('row', { name: /SL-1310/ });
  const typeInto = async (cell: string, text: string) => {
    await slats.getByRole('gridcell', { name: cell, exact: true }).dblclick();
    await page.keyboard.press('Control+A');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  // A line that is only half in sight moves under the first click.
  await page.getByRole('grid').hover();
  await page.mouse.wheel(0, 300);
  await page.waitForTimeout(500);
  await typeInto('Deck slat', 'Deck board');
  await expect(slats).toContainText('Deck board');
  await typeInto('17', '117');
  await expect(slats).toContainText('117');
  await kept(page);
  await toSheets(page);
  await page.getByRole('combobox', { name: 'Paper' }).click();
  await page.getByRole('option', { name: 'A2' }).click();
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'This sheet only' }).click();
  const balloon = page.getByLabel('Balloon 117', { exact: true });
  await expect(balloon).toBeAttached({ timeout: 120_000 });
  await balloon.click();
  for (let step = 0; step < 3; step++) await page.keyboard.press('Shift+ArrowUp');
  await expect(page.getByText('hand; arranging leaves it')).toBeVisible();
  await page.getByRole('button', { name: 'Note', exact: true }).click();
  await page.getByRole('textbox', { name: 'Text of the note' }).click();
  await page.keyboard.type('Oil {count 117} boards');
  await page.getByLabel('Width, mm').click();
  const paper = page.locator('.paper');
  await expect(paper).toContainText('Oil 7 boards');
  await kept(page);
  await page.getByRole('button', { name: 'Sheet', exact: true }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Spare');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Spare' })).toBeVisible();
  const first = async () => {
    await toSheets(page);
    await page.getByRole('button', { name: 'Sheet 1, Assembly' }).click();
    await expect(balloon).toBeAttached({ timeout: 60_000 });
  };
  await first();
  const stood = await centreOf(page, 'Balloon 117');

  await page.getByRole('link', { name: 'Changes', exact: true }).click();
  await page.getByRole('button', { name: 'Bring in a new revision' }).click();
  const bringing = page.getByRole('dialog', { name: 'Bring in a new revision' });
  await bringing.locator('input[type=file]').setInputFiles('demo/files/hauling-sledge-B.step');
  await bringing.getByRole('button', { name: 'Bring it in' }).click();
  await expect(bringing).toHaveCount(0, { timeout: 240_000 });
  const other = await context.newPage();
  await other.goto(page.url().replace('/changes', '/bill'));
  await expect(other.getByRole('banner')).toContainText('revision B waits');

  const does = page.getByRole('region', { name: 'What it does' });
  const takeOver = async (button: string) => {
    await page.getByRole('link', { name: 'Changes', exact: true }).click();
    await does.getByRole('button', { name: button, exact: true }).click({ timeout: 120_000 });
    const dialog = page.getByRole('dialog', { name: 'Take over revision B' });
    await dialog.getByRole('button', { name: 'Take over', exact: true }).click();
    await expect(dialog).toHaveCount(0, { timeout: 240_000 });
  };
  await takeOver('Take over in Assembly');
  await first();
  for (const text of ['Oil 8 boards', 'Deck board', 'Tail lamp']) await expect(paper).toContainText(text);
  const stands = await centreOf(page, 'Balloon 117');
  expect(Math.hypot(stands.x - stood.x, stands.y - stood.y)).toBeLessThan(1);
  const list = page.getByRole('navigation', { name: 'Sheets of this project' });
  await expect(list.getByText('shows revision A')).toHaveCount(1);
  await expect(other.getByRole('banner')).toContainText('1 list or sheet behind');

  await takeOver('Take over all');
  await expect(page.getByRole('banner')).not.toContainText('waits');
  await toSheets(page);
  await expect(list.getByText('shows revision A')).toHaveCount(0);

  // One step back leaves the sheet as it was taken over, another one as it was drawn.
  const undo = page.getByRole('button', { name: 'Undo: take over revision B' });
  await undo.click();
  await expect(list.getByText('shows revision A')).toHaveCount(1);
  await undo.click();
  await first();
  await expect(paper).toContainText('Oil 7 boards');
  await expect(paper).not.toContainText('Tail lamp');
  // The paper may still be travelling to what was picked.
  await expect
    .poll(async () => {
      const back = await centreOf(page, 'Balloon 117');
      return Math.hypot(back.x - stood.x, back.y - stood.y);
    })
    .toBeLessThan(1);
});

test('another window that changed the same thing first is told about, and nothing is lost', async ({
  page,
  browser,
}) => {
  await importFile(page, DEMO);
  await toSheets(page);
  const address = page.url();
  const second = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await second.goto(address);
  await page.route('**/api/projects/*?session=*', (route) => route.abort()); // this window hears nothing of the other one
  for (const one of [page, second]) await one.getByLabel('Title block', { exact: true }).click();

  await second.getByRole('textbox', { name: 'Owner' }).fill('Camp workshop');
  await second.keyboard.press('Enter');
  await kept(second);

  // Something else: both stand, without a question.
  await page.getByRole('textbox', { name: 'Created by' }).fill('T. Halvorsdal');
  await page.keyboard.press('Enter');
  await kept(page);
  await expect(page.getByRole('textbox', { name: 'Owner' })).toHaveValue('Camp workshop');

  // The same thing: told, and the drafter decides.
  await second.getByRole('textbox', { name: 'Date' }).fill('2026-03-02');
  await second.keyboard.press('Enter');
  await kept(second);
  await page.getByRole('textbox', { name: 'Date' }).fill('2026-04-01');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Another window was first: “date of all sheets”.');
  // Until then nothing can be taken back: it would be another gesture than the one that is named.
  await expect(page.getByRole('button', { name: 'Decide first whose change stands' }).first()).toBeDisabled();
  await page.getByRole('button', { name: 'Do mine on top' }).click();
  await kept(page);
  await second.reload();
  await second.getByLabel('Title block', { exact: true }).click();
  await expect(second.getByRole('textbox', { name: 'Date' })).toHaveValue('2026-04-01');
  await expect(second.getByRole('textbox', { name: 'Created by' })).toHaveValue('T. Halvorsdal');
});

test('a file that cannot be read is refused in words, and the next try works', async ({ page }) => {
  await page.goto('/projects');
  await page.waitForLoadState('networkidle'); // the cards are there
  const cards = await page.locator('.card').count();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'photo.step', mimeType: 'model/step', buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 1]) });
  await expect(page.getByRole('alert')).toHaveText(
    'This is not a STEP file: it must begin with “ISO-10303-21;”, but begins with the mark of a PNG picture.',
  );
  await expect(page.locator('.card')).toHaveCount(cards);
  await importFile(page, DEMO);
  await shapesReady(page);
  await toSheets(page);
  await page.getByRole('button', { name: 'Make the drawing' }).click();
  // Every line is seen well somewhere: on this sheet, or on those that were made besides.
  await expect(strip(page)).toContainText(/of \d+ ballooned once · \d\d on other sheets/, { timeout: 90_000 });
  await expect(page.getByText('69 of 69 lines have a balloon')).toBeVisible();
});

test('what is picked in one pane is lit in the others; Ctrl K finds by material', async ({ page }) => {
  await importFile(page, DEMO);
  await shapesReady(page);
  await toSheets(page);
  await page.getByRole('button', { name: 'Make the drawing' }).click();
  await expect(strip(page)).toContainText('ballooned once', { timeout: 90_000 });
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Part number, name, material …').fill('Sheave axle');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByRole('row', { selected: true })).toContainText('SL-3217');
  await expect(page.getByText('Why 1 × Sheave axle?')).toBeVisible();
  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowDown');
  await page.getByRole('link', { name: 'Model' }).click();
  await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('Split pin 4 × 32');
});
