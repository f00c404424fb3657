import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { place } from '../demo/product.ts';
import { move } from '../demo/solids.ts';
import { group, part, stepOf, tableProduct, times } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-changes-'));
const fileOf = (name: string, text: string): string => {
  const file = join(folder, name);
  writeFileSync(file, text);
  return file;
};
const earlier = fileOf('table.step', stepOf(tableProduct()));
/** Three bolts in each foot, another name of the top, another plate under another number, and a drawer. */
const later = fileOf(
  'table-B.step',
  stepOf(
    group(
      'A-1',
      'Table',
      ...times(
        4,
        group(
          'F-1',
          'Foot',
          ...times(3, part('B-1', 'Bolt', 4)),
          place(part('W-9', 'Washer plate', 10), move(40, 0, 0)),
        ),
      ),
      place(part('T-1', 'Table top', 60), move(0, 0, 50)),
      place(part('D-1', 'Drawer', 20), move(0, 0, 30)),
    ),
  ),
);

test.beforeEach(async ({ page }) => {
  await openProject(page, earlier, 'model');
});
const station = (page: Page, name: string) => page.getByRole('link', { name, exact: true }).click();
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const tree = (page: Page) => page.getByRole('tree', { name: 'Parts of both revisions' });
const does = (page: Page) => page.getByRole('region', { name: 'What it does' });
const bringIn = async (page: Page, file: string) => {
  await station(page, 'Changes');
  await page.getByRole('button', { name: 'Bring in a new revision' }).click();
  const dialog = page.getByRole('dialog', { name: 'Bring in a new revision' });
  await dialog.locator('input[type=file]').setInputFiles(file);
  await dialog.getByLabel('Why').fill('A drawer');
  await dialog.getByRole('button', { name: 'Bring it in' }).click();
  return dialog;
};
const takeOver = async (page: Page, button: string) => {
  await does(page).getByRole('button', { name: button, exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Letter' }).fill('B');
  await dialog.getByRole('textbox', { name: 'What changed' }).fill('Drawer added');
  await dialog.getByRole('button', { name: 'Take over', exact: true }).click();
  await expect(dialog).toHaveCount(0, { timeout: 60_000 });
};

test('a fresh export of the model: seen first, a doubtful part told, taken over sheet by sheet, taken back', async ({
  page,
}) => {
  // A drawing with a pinned look: its list, balloons, and a text typed over.
  await station(page, 'Sheets');
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'This sheet only' }).click();
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await station(page, 'Bill');
  await page.getByRole('gridcell', { name: 'Top', exact: true }).dblclick();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('Oak top');
  await page.keyboard.press('Enter');
  await kept(page);
  await expect(page.locator('.behind')).toHaveCount(0);

  const dialog = await bringIn(page, later);
  await expect(dialog).toHaveCount(0, { timeout: 60_000 });
  await expect(page.getByRole('banner')).toContainText('table-B.step waits');

  // One part is likely the same: the same shape at the same place under another number and name.
  const doubtful = page.getByRole('region', { name: 'Are these the same?' });
  await expect(doubtful).toContainText('P-1 Plate → W-9 Washer plate');
  await doubtful.getByRole('button', { name: 'The same', exact: true }).click();
  await expect(doubtful).toHaveCount(0, { timeout: 30_000 });

  await expect(tree(page).getByRole('treeitem', { name: /D-1 Drawer/ })).toContainText('new');
  await expect(tree(page).getByRole('treeitem', { name: /B-1 Bolt/ })).toContainText('23changed');
  await expect(tree(page).getByRole('treeitem', { name: /W-9/ })).toContainText('number P-1 → W-9');
  await page.getByRole('button', { name: 'new', exact: true }).click();
  await expect(tree(page).getByRole('treeitem', { name: /D-1 Drawer/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'new', exact: true }).click();
  await tree(page)
    .getByRole('treeitem', { name: /D-1 Drawer/ })
    .click();
  await expect(tree(page).getByRole('treeitem', { name: /D-1 Drawer/ })).toHaveAttribute('aria-selected', 'true');
  await expect(does(page)).toContainText('New lines without a balloon: 4');
  await expect(does(page)).toContainText('you wrote “Oak top”, the model now says “Table top”');
  await expect(page.getByRole('region', { name: 'What is otherwise' })).toContainText('Drawer');

  // Both machines stand over one another; the slider fades from one to the other.
  await expect(page.getByRole('img', { name: /laid over one another/ })).toBeVisible({ timeout: 30_000 });
  const slider = page.getByRole('slider', { name: /^From / });
  await slider.press('End');
  await expect(slider).toHaveAttribute('aria-valuenow', '100');
  // How the sheet looks and will look.
  await page.getByRole('button', { name: 'Assembly before and after, larger' }).click({ timeout: 60_000 });
  const pictures = page.getByRole('dialog', { name: 'Assembly, before and after' });
  for (const side of [0, 1])
    await expect
      .poll(() =>
        pictures
          .locator('.page img')
          .nth(side)
          .evaluate((one: HTMLImageElement) => one.naturalWidth),
      )
      .toBeGreaterThan(500);
  await page.keyboard.press('Escape');

  // Nothing is touched so far: the sheet shows the old machine, and says what waits.
  await station(page, 'Sheets');
  await expect(page.locator('.strip')).toContainText(/change.*4 comes/, { timeout: 30_000 });
  await expect(page.locator('.paper')).toContainText('Plate');
  await expect(page.locator('.paper')).not.toContainText('Washer plate');
  await expect(page.getByRole('navigation', { name: 'Sheets of this project' })).toContainText('shows');

  await station(page, 'Changes');
  await takeOver(page, 'Take over in Assembly');
  await expect(does(page).getByRole('listitem').filter({ hasText: 'Assembly' })).toContainText('taken over');
  await station(page, 'Sheets');
  const paper = page.locator('.paper');
  await expect(paper).toContainText('Washer plate', { timeout: 30_000 });
  for (const text of ['Oak top', 'Drawer', 'Drawer added']) await expect(paper).toContainText(text);
  for (const number of [1, 2, 3]) await expect(page.getByLabel(`Balloon ${number}`, { exact: true })).toBeAttached();
  await expect(page.locator('.behind')).toHaveCount(0);

  // What was typed over a name that is another one by now stays said until it is dealt with; undo brings it back.
  await station(page, 'Bill');
  const noticed = page.getByRole('region', { name: 'What was noticed in this list' });
  await expect(noticed).toContainText('you wrote “Oak top”, the model now says “Table top” (it said “Top”)');
  await noticed.getByRole('button', { name: /^Keep what I wrote/ }).click();
  await expect(noticed.getByText('you wrote “Oak top”')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo: keep what was typed' }).click();
  await expect(noticed).toContainText('you wrote “Oak top”');
  await station(page, 'Sheets');
  await expect(paper).toContainText('Washer plate', { timeout: 30_000 });

  await page.getByRole('button', { name: 'Undo: take over table-B.step' }).click();
  await expect(paper).not.toContainText('Washer plate', { timeout: 30_000 });
  await expect(paper).toContainText('Oak top');
  await expect(paper).not.toContainText('Drawer');
  await expect(page.getByRole('banner')).toContainText('table-B.step waits');
});

test('a file whose name agrees is asked about, and comes as a revision of the project', async ({ page }) => {
  await page.goto('/projects');
  await page.waitForLoadState('networkidle');
  await page.locator('input[type=file]').setInputFiles(later);
  await page.getByRole('button', { name: 'A new revision of Table' }).first().click();
  await page.waitForURL(/\/changes$/, { timeout: 60_000 });
  await expect(tree(page).getByRole('treeitem', { name: /D-1 Drawer/ })).toContainText('new');
  // The drafter knows better: the drawer is what the plate was.
  await tree(page)
    .getByRole('treeitem', { name: /D-1 Drawer/ })
    .click();
  await page.getByRole('button', { name: 'It is not new …' }).click();
  const asked = page.getByRole('dialog', { name: 'What was D-1 Drawer?' });
  const was = asked.getByRole('combobox', { name: 'In the earlier revision it is' });
  await expect(was).toBeFocused();
  await was.fill('plate');
  await page.getByRole('option', { name: 'P-1 Plate' }).click();
  await asked.getByRole('button', { name: 'It is that' }).click();
  await expect(asked).toHaveCount(0, { timeout: 60_000 });
  await expect(tree(page).getByRole('treeitem', { name: /D-1 Drawer – 1/ })).toContainText('number P-1 → D-1');
  await expect(tree(page).getByRole('treeitem', { name: /W-9/ }).first()).toContainText('new');
  await station(page, 'Projects');
  await expect(page.locator('.card').first()).toContainText('A later revision waits');
});

test('the same file again is no change, and another window sees what is taken over', async ({ page, context }) => {
  const again = await bringIn(page, earlier);
  await expect(again.getByRole('alert')).toContainText('No change', { timeout: 60_000 });
  await again.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByText('The model has one revision so far.')).toBeVisible();

  const dialog = await bringIn(page, later);
  await expect(dialog).toHaveCount(0, { timeout: 60_000 });
  const other = await context.newPage();
  await other.goto(page.url().replace('/changes', '/bill'));
  await expect(other.getByRole('gridcell', { name: 'D-1', exact: true })).toHaveCount(0);
  await expect(other.getByRole('banner')).toContainText('waits');
  await takeOver(page, 'Take over all');
  await expect(other.getByRole('gridcell', { name: 'D-1', exact: true })).toBeVisible({ timeout: 30_000 });
  await expect(other.getByRole('banner')).not.toContainText('waits');
  // The list of changes goes out as a file.
  await page.getByRole('button', { name: 'Hand the changes over' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'CSV' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('changes.csv');
});
