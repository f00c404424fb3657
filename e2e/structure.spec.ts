import { writeFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { bigStep } from '../testkit/bigStep.ts';
import { group, part, stepOf, times } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
/** Its line in the inspector: what it is, and where that comes from. */
const property = (page: Page, name: string) =>
  inspector(page)
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name, exact: true }) });
const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' });
const row = (page: Page, name: string | RegExp) => page.getByRole('treeitem', { name });

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-e2e-'));
});
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a large file: progress, cancel leaves nothing, and the next try opens its structure', async ({ page }) => {
  const file = join(folder, 'large.step');
  writeFileSync(file, bigStep({ assemblies: 250, fan: 120, parts: 900, bytes: 60e6 }));
  await page.goto('/projects');
  await expect(page.getByLabel('Bring in a file')).toBeVisible();
  await page.waitForLoadState('networkidle'); // the cards are there
  const cards = await page.locator('.card').count();
  // Held on its way, so that a quick machine is not done before the button is pressed.
  let letGo = () => {};
  const cancelled = new Promise<void>((resolve) => (letGo = resolve));
  await page.route('**/api/imports*', async (route) => cancelled.then(() => route.continue()).catch(() => {}));
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText(/large\.step · /)).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('alert')).toContainText('ancelled; nothing was stored.');
  letGo();
  await page.unroute('**/api/imports*');
  await page.reload();
  await expect(page.locator('.card')).toHaveCount(cards);

  await page.locator('input[type=file]').setInputFiles(file);
  await page.waitForURL(/\/model/, { timeout: 120_000 });
  await expect(page.getByText('1150 components')).toBeVisible({ timeout: 30_000 });
  // 30,000 places through shared definitions: search, questions and the bill are there.
  await page.getByLabel('Search the structure').fill('PT-77');
  await expect(row(page, /PT-77\b/)).toHaveCount(1);
  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByText(/^900 lines, 29751 pieces/)).toBeVisible({ timeout: 30_000 });
});

test('two products under one number: told when the file comes in, kept apart in the list, and taken back', async ({
  page,
}) => {
  const file = join(folder, 'washers.step');
  const washer = (size: number) => part('W-10', 'Washer', size, { description: `M${size}` });
  writeFileSync(file, stepOf(group('A-1', 'Sledge foot', ...times(3, washer(10)), ...times(2, washer(6)))));
  await page.goto('/projects');
  await page.locator('input[type=file]').setInputFiles(file);
  await page.waitForURL(/\/model/, { timeout: 120_000 });
  await expect(page.locator('.shapes')).toHaveCount(0, { timeout: 120_000 });
  await page.getByRole('button', { name: '1 to decide' }).click();
  const finding = page.getByRole('complementary', { name: 'Findings' }).locator('.problem').filter({ hasText: 'W-10' });
  await expect(finding).toHaveCount(1); // the shapes have the word, the products are not told a second time
  await expect(finding).toContainText('2 different shapes');
  await expect(finding.getByRole('button').filter({ hasText: 'M6' })).toHaveCount(1);
  await finding.getByRole('button', { name: 'Keep them apart' }).click();
  await expect(finding).toContainText('Kept apart');
  await kept(page);
  await page.getByRole('link', { name: 'Bill' }).click();
  const quantities = page.getByRole('row').filter({ hasText: 'W-10' }).locator('[role=gridcell]:nth-child(2)');
  await expect(quantities).toHaveText(['3', '2']);
  await page.getByRole('button', { name: /^Undo: finding/ }).click();
  await expect(quantities).toHaveText(['5']);
});

test('cleaning a structure: treatments, a material for several parts, a decided finding, one place; all of it in the bill', async ({
  page,
}) => {
  await openProject(page, 'demo/files/hauling-sledge-B.step', 'model');

  // Measured on the shape, and said how.
  await page.getByLabel('Search the structure').fill('rail post');
  await row(page, /Rail post/).click();
  await expect(property(page, 'Wall: 2.6 mm')).toContainText('measured');

  // One material for several parts at once.
  await page.getByLabel('Search the structure').fill('mast tube');
  await row(page, /Mast tube, lower/).click();
  await row(page, /Mast tube, upper/).click({ modifiers: ['Shift'] });
  await expect(inspector(page).getByRole('heading', { name: '2 components' })).toBeVisible();
  await inspector(page)
    .getByRole('button', { name: /^Material:/ })
    .click();
  await inspector(page).getByRole('textbox', { name: 'Material' }).fill('Steel S355');
  await page.keyboard.press('Enter');
  await expect(property(page, 'Material: Steel S355')).toContainText('typed');
  await kept(page);

  // A grouping that has no line; its contents take its place in an indented list.
  await page.getByLabel('Search the structure').fill('');
  await row(page, /Guy set/).click();
  await inspector(page)
    .getByRole('group', { name: 'Has it a line of its own?' })
    .getByText('no', { exact: true })
    .click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, /Guy set/)).toContainText('opened up');
  await kept(page);

  // A finding, decided and remembered.
  await page.getByRole('button', { name: /to decide$/ }).click();
  const finding = page
    .getByRole('complementary', { name: 'Findings' })
    .locator('.problem')
    .filter({ hasText: 'SL-1312-L' });
  await finding.getByRole('button', { name: 'They are one part' }).click();
  await expect(finding).toContainText('One part');
  await kept(page);
  await page.getByRole('button', { name: 'Close findings' }).click();

  await page.setViewportSize({ width: 1280, height: 2600 }); // the whole list at once: it is drawn only where it shows
  await page.getByRole('link', { name: 'Bill' }).click();
  const line = (text: string) => page.getByRole('row').filter({ hasText: text });
  await expect(line('SL-3121')).toContainText('Steel S355');
  await expect(line('SL-1312-R')).toHaveCount(0);
  await expect(line('SL-1312-L').getByRole('gridcell').nth(1)).toHaveText('2');
  await page.getByRole('button', { name: /^Depth of the list/ }).click();
  await page.getByRole('menuitem', { name: /^the first level only/ }).click();
  await expect(line('Guy set')).toHaveCount(0);
  await expect(line('SL-4112')).toHaveCount(1);

  // Everything is there after a reload, and can be taken back.
  await kept(page);
  await page.reload();
  await expect(line('SL-4112')).toHaveCount(1, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Undo: list the first level only' }).click();
  await page.getByRole('button', { name: 'Undo: finding: one part' }).click();
  await expect(line('SL-1312-R')).toHaveCount(1);
});

test('the tree by keyboard, questions about parts, and the machine turned to stand as it is used', async ({ page }) => {
  await openProject(page, 'demo/files/hauling-sledge-B.step', 'model');
  await page.getByRole('tree').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Runner set, left');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Sledge body');
  await page.keyboard.press('Escape');
  await expect(inspector(page)).toHaveCount(0);

  await page.getByRole('combobox', { name: 'Show' }).click();
  await page.getByRole('option', { name: 'more than 10 used' }).click();
  await expect(row(page, /Deck screw/)).toContainText('SC-054040');

  await page.getByRole('button', { name: 'Up and front of the machine' }).click();
  await page.getByRole('combobox', { name: 'Up' }).click();
  await page.getByRole('option', { name: '+y', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Front' })).toHaveValue('+z'); // what gives way
  await kept(page);
  await page.getByRole('button', { name: 'As in the file' }).click();
  await kept(page);
});

test('a structure list: its columns are proposed, corrected over its first rows, and become a bill', async ({
  page,
}) => {
  await page.goto('/projects');
  await page.locator('input[type=file]').setInputFiles({
    name: 'parts.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Level;Part number;What;Qty\n0;A-1;Table;1\n1;F-1;Foot;4\n2;B-1;Bolt;2\n'),
  });
  await expect(page.getByRole('dialog')).toContainText('4 rows');
  await page.getByRole('combobox', { name: 'Column 3' }).click();
  await page.getByRole('option', { name: 'name', exact: true }).click();
  await page.getByRole('button', { name: 'Bring the list in' }).click();
  await page.waitForURL(/\/model/);
  await expect(page.getByText('This structure came without shapes.')).toBeVisible();
  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'B-1' })).toContainText('Bolt');
  await expect(page.getByText(/^2 lines, 8 pieces/)).toBeVisible();
});
