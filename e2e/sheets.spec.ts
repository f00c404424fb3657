import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const file = join(mkdtempSync(join(tmpdir(), 'sledge-sheets-')), 'table.step');
writeFileSync(file, stepOf(tableProduct()));

test.beforeEach(async ({ page }) => {
  await openProject(page, file, 'sheets');
});
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const list = (page: Page) => page.getByRole('navigation', { name: 'Sheets of this project' });
const names = (page: Page) => list(page).locator('.sheetname span').allTextContents();
const named = async (page: Page, name: string) => {
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.keyboard.press('Enter');
};
const ofSheet = async (page: Page, sheet: string, item: string) => {
  await expect(page.getByRole('menu')).toHaveCount(0); // the one before has gone
  await page.getByRole('button', { name: `More about sheet ${sheet}` }).click();
  await page.getByRole('menuitem', { name: item }).click();
};
/** Makes one sheet, not as many as it takes. */
const makeThisSheet = async (page: Page) => {
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'This sheet only' }).click();
};
const undo = (page: Page, words: string) => page.getByRole('button', { name: `Undo: ${words}` }).click();

test('a set: cover, assembly and details, in another order, each with its number and its own texts', async ({
  page,
}) => {
  await makeThisSheet(page);
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });

  await list(page).getByRole('button', { name: 'Sheet', exact: true }).click();
  await named(page, 'Cover');
  await expect(page.getByText('An empty sheet.')).toBeVisible();
  await expect(page.locator('.paper')).toContainText('2 / 2');
  // What the other sheet has a balloon for is not missing here.
  await expect(page.getByRole('contentinfo')).toContainText('3 on other sheets');

  await ofSheet(page, 'Assembly', 'Duplicate …');
  await named(page, 'Assembly, large');
  await expect.poll(() => names(page)).toEqual(['1 Assembly', '2 Assembly, large', '3 Cover']);
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached();

  await ofSheet(page, 'Cover', 'Move up');
  await ofSheet(page, 'Cover', 'Move up');
  await ofSheet(page, 'Assembly, large', 'Rename …');
  await named(page, 'Details');
  await expect.poll(() => names(page)).toEqual(['1 Cover', '2 Assembly', '3 Details']);
  await ofSheet(page, 'Details', 'Take away');
  await expect.poll(() => names(page)).toEqual(['1 Cover', '2 Assembly']);
  await kept(page);
  await undo(page, 'take the sheet Details away');
  await expect.poll(() => names(page)).toEqual(['1 Cover', '2 Assembly', '3 Details']);

  // A text of all sheets, and one that the cover has of its own.
  await list(page).getByRole('button', { name: 'Sheet 1, Cover' }).click();
  await expect(page.locator('.paper')).toContainText('1 / 3');
  await page.getByLabel('Title block', { exact: true }).click();
  await page.getByRole('textbox', { name: 'Owner' }).fill('Camp workshop');
  await page.keyboard.press('Enter');
  await page
    .getByTitle(/^This text stands on all sheets/)
    .first()
    .click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Table, cover');
  await page.keyboard.press('Enter');
  await expect(page.locator('.paper')).toContainText('Table, cover');
  await kept(page);
  await list(page).getByRole('button', { name: 'Sheet 2, Assembly' }).click();
  await expect(page.locator('.paper')).toContainText('Camp workshop');
  await expect(page.locator('.paper')).not.toContainText('Table, cover');

  // The way back to the sheets leads to the one that was open, also after a reload.
  await page.getByRole('link', { name: 'Bill' }).click();
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await expect(page.locator('.paper')).toContainText('2 / 3');
  await page.reload();
  await expect(page.locator('.paper')).toContainText('2 / 3', { timeout: 30_000 });
  await page.goto('/projects');
  await expect(page.getByText('3 sheets').first()).toBeVisible();
});

test('a view is placed, looked at closely, pushed and taken away with the keyboard', async ({ page }) => {
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: 'front' }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  const paper = page.locator('.paper');
  const before = (await paper.boundingBox())!;
  const at = { x: before.x + before.width * 0.4, y: before.y + before.height * 0.4 };
  await page.mouse.move(at.x - 30, at.y - 10);
  await page.mouse.move(at.x, at.y, { steps: 4 });
  await page.mouse.down();
  await page.mouse.up();
  const view = page.getByLabel('View front');
  await expect(view).toBeVisible();
  const middle = async () => {
    const box = (await view.boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };
  // Zooming keeps what is under the pointer there, to a hundredth of what is seen.
  await page.mouse.move(at.x, at.y);
  await page.keyboard.down('Control');
  for (let turn = 0; turn < 3; turn++) await page.mouse.wheel(0, -240);
  await page.keyboard.up('Control');
  await expect.poll(async () => (await paper.boundingBox())!.width).toBeGreaterThan(before.width * 1.2);
  const zoomed = await middle();
  expect(Math.hypot(zoomed.x - at.x, zoomed.y - at.y)).toBeLessThan(before.width / 100);

  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByRole('button', { name: 'Undo: move view' })).toBeEnabled();
  await expect.poll(async () => (await middle()).x).toBeGreaterThan(zoomed.x + 10);
  await page.keyboard.press('Delete');
  await expect(view).toHaveCount(0);
  await undo(page, 'take away view');
  await expect(view).toBeVisible();

  // A copy, dragged until it is in line with the first: a hairline shows it.
  await view.click();
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(view).toHaveCount(2);
  const boxes = async () => [(await view.nth(0).boundingBox())!, (await view.nth(1).boundingBox())!];
  const [first, second] = await boxes();
  const grip = { x: second.x + second.width - 40, y: second.y + second.height - 4 };
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  await page.mouse.move(grip.x + 60, grip.y + first.y - second.y + 3, { steps: 5 });
  await expect(page.locator('[data-guide="y"]')).toBeAttached();
  await page.mouse.up();
  await expect(page.locator('[data-guide]')).toHaveCount(0);
  const [still, lined] = await boxes();
  expect(Math.abs(still.y - lined.y)).toBeLessThan(1);
  await kept(page);
  await undo(page, 'move view');
  await undo(page, 'paste front view');
  await expect(view).toHaveCount(1);
});

test('the machine is taken apart: the view shows it, balloons follow their parts, the name is mine, and undo puts it together', async ({
  page,
}) => {
  await makeThisSheet(page);
  const balloon = page.getByLabel('Balloon 3', { exact: true });
  await expect(balloon).toBeAttached({ timeout: 60_000 });
  await kept(page);
  const viewBox = async () => (await page.getByLabel('View isometric').boundingBox())!;
  const before = await viewBox();
  await page.getByRole('application').focus();
  await page.keyboard.press('n'); // the title block
  await page.keyboard.press('n');
  await page.getByRole('combobox', { name: 'Pose' }).click();
  await page.getByRole('option', { name: 'new: taken apart down to the parts' }).click();
  const name = page.getByRole('textbox', { name: /^Name of the pose/ });
  await expect(name).toHaveValue('Exploded', { timeout: 60_000 });
  // Drawn and arranged anew: at its scale it takes another shape on paper, and every line has its balloon still.
  await expect(page.getByRole('button', { name: 'Undo: fit the drawing to the pose' })).toBeEnabled({
    timeout: 60_000,
  });
  await expect(page.getByRole('contentinfo')).toContainText('3 of 3 ballooned once');
  const apart = await viewBox();
  expect(Math.abs(apart.width / apart.height - before.width / before.height)).toBeGreaterThan(0.01);
  // Path lines are there, unless one does without.
  const traces = page.getByRole('checkbox', { name: 'Path lines from seat to place' });
  await expect(traces).toBeChecked();
  await traces.uncheck();
  await expect(page.getByRole('button', { name: 'Undo: leave path lines out' })).toBeEnabled();
  // Adjusted by hand: the part that a balloon points at goes further, and the picture grows with it.
  await page.getByLabel('Balloon 2', { exact: true }).click();
  const further = page.getByRole('textbox', { name: 'along z' });
  await further.fill('900');
  await further.press('Enter');
  await expect.poll(async () => (await viewBox()).height, { timeout: 30_000 }).toBeGreaterThan(1.2 * apart.height);
  await undo(page, 'move P-1');
  await expect.poll(async () => (await viewBox()).height).toBeLessThan(1.01 * apart.height);
  await page.getByLabel('View isometric').click();
  await name.fill('Legs off');
  await page.keyboard.press('Enter');
  await kept(page);
  await page.reload();
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await page.getByLabel('View isometric').click();
  await expect(page.getByRole('combobox', { name: 'Pose' })).toHaveValue('Legs off');
  await undo(page, 'call the pose Legs off');
  await undo(page, 'leave path lines out');
  await undo(page, 'fit the drawing to the pose');
  await undo(page, 'take the machine apart');
  await expect(page.getByRole('combobox', { name: 'Pose' })).toHaveValue('as assembled');
  await kept(page);
});

test('a piece of a view is shown enlarged, pushed elsewhere with the keyboard, and goes with its view', async ({
  page,
}) => {
  await makeThisSheet(page);
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await page.getByLabel('View isometric').first().click();
  await page.getByRole('button', { name: 'Enlarge a detail' }).click();
  const region = page.getByRole('button', { name: 'What detail A shows', exact: true });
  await expect(region).toBeVisible();
  await expect(page.locator('.paper')).toContainText('DETAIL A');
  const before = (await region.boundingBox())!;
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await region.boundingBox())!.x).toBeGreaterThan(before.x + 5);
  await kept(page);

  // Smaller by its border, and by a typed number.
  const border = (await page.getByRole('button', { name: 'Border of what detail A shows' }).boundingBox())!;
  await page.mouse.move(border.x + border.width / 2, border.y + border.height / 2);
  await page.mouse.down();
  await page.mouse.move(border.x - before.width / 5, border.y + border.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await region.boundingBox())!.width).toBeLessThan(before.width * 0.9);
  await page.getByRole('textbox', { name: 'Letter' }).fill('Z');
  await page.keyboard.press('Enter');
  await expect(page.locator('.paper')).toContainText('DETAIL Z');

  await page
    .getByLabel('View isometric')
    .first()
    .click({ position: { x: 4, y: 4 } });
  await page.getByRole('button', { name: 'Take away, with its balloons' }).click();
  await expect(page.locator('.paper')).not.toContainText('DETAIL');
  await undo(page, 'take away isometric view');
  await expect(page.locator('.paper')).toContainText('DETAIL Z');
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached();
});

test('papers: of the ANSI series, of one’s own size, and without a frame for a figure', async ({ page }) => {
  const paper = page.getByRole('application');
  const shape = async () => {
    const box = (await paper.boundingBox())!;
    return box.width / box.height;
  };
  await page.getByRole('combobox', { name: 'Paper' }).click();
  await page.getByRole('option', { name: 'ANSI C' }).click();
  await expect.poll(shape).toBeCloseTo(22 / 17, 2);
  await expect(paper).toContainText('ANSI C');
  await page.getByRole('combobox', { name: 'Paper' }).click();
  await page.getByRole('option', { name: 'own size' }).click();
  await page.getByLabel('Width, mm').fill('800');
  await page.keyboard.press('Enter');
  await page.getByLabel('Height, mm').fill('300');
  await page.keyboard.press('Enter');
  await expect.poll(shape).toBeCloseTo(800 / 300, 2);
  await expect(paper).toContainText('800 × 300');
  await page.getByLabel('No frame and no title block, as for a figure').check();
  await expect(page.getByLabel('Title block', { exact: true })).toHaveCount(0);
  await expect(paper).not.toContainText('800 × 300');
  await kept(page);
  await undo(page, 'paper without a frame');
  await expect(page.getByLabel('Title block', { exact: true })).toBeVisible();
  await kept(page);
});

test('a view is projected from another: beside it in line, on the other side in third angle, and it moves along', async ({
  page,
}) => {
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: 'front' }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  const front = page.getByLabel('View front');
  await expect(front).toBeVisible();
  await page.getByRole('textbox', { name: 'Or type one' }).fill('1:50');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'left', exact: true }).click();
  const left = page.getByLabel('View left');
  await expect(left).toBeVisible({ timeout: 60_000 });
  const middle = async (of: typeof front) => {
    const box = (await of.boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };
  // First angle: what is seen from the left stands to the right.
  const [one, other] = [await middle(front), await middle(left)];
  expect(other.x).toBeGreaterThan(one.x + 20);
  expect(Math.abs(other.y - one.y)).toBeLessThan(2);

  await front.click();
  await page.getByRole('application').focus();
  for (let step = 0; step < 3; step++) await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await middle(left)).y).toBeGreaterThan(other.y + 20);
  expect(Math.abs((await middle(left)).y - (await middle(front)).y)).toBeLessThan(2);
  await kept(page);

  await page.getByLabel('Title block', { exact: true }).click();
  await page.getByRole('radiogroup', { name: 'Projection' }).getByText('third angle').click();
  await expect.poll(async () => (await middle(left)).x).toBeLessThan(one.x - 20);
  await kept(page);
  await undo(page, 'third angle');
  await expect.poll(async () => (await middle(left)).x).toBeGreaterThan(one.x + 20);
});

test('a note is typed on the sheet, its words stay true, and it is moved and taken away', async ({ page }) => {
  const paper = page.locator('.paper');
  await page.getByRole('button', { name: 'Note', exact: true }).click();
  await page.getByRole('textbox', { name: 'Text of the note' }).click();
  await page.keyboard.type('Paint all ');
  await page.getByRole('button', { name: 'pieces', exact: true }).click();
  await page.getByRole('button', { name: 'Put in ±' }).click();
  await page.getByLabel('Width, mm').click(); // what was typed is kept when it is left
  await expect(paper).toContainText(/Paint all \d+±/);
  const note = page.getByRole('button', { name: /^Note Paint all/ });
  const before = (await note.boundingBox())!;
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await note.boundingBox())!.y).toBeGreaterThan(before.y + 5);
  await page.keyboard.press('Delete');
  await expect(note).toHaveCount(0);
  await undo(page, 'take away note');
  await expect(note).toBeVisible();
  await kept(page);
});
