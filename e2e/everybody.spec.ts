import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AxeResults } from 'axe-core';
import type { Page } from '@playwright/test';

import { place } from '../demo/product.ts';
import { move } from '../demo/solids.ts';
import { group, part, stepOf, tableProduct, times } from '../testkit/stepFiles.ts';
import { bringAsOwn, expect, openProject, test } from './app.ts';

// What every drafter can use: nothing that axe finds on any view, menu or dialog, and the drawing made by keyboard alone.
const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');
const folder = mkdtempSync(join(tmpdir(), 'sledge-everybody-'));
const file = join(folder, 'table.step');
// With one shape under two numbers, so that there is something to decide.
writeFileSync(
  file,
  stepOf(group('T-0', 'Table with a peg', ...times(1, tableProduct()), ...times(1, part('B-2', 'Peg', 4)))),
);
/** A later revision: another name and size of the top, and a peg that is only likely the same. */
const later = join(folder, 'table-B.step');
const foot = group('F-1', 'Foot', ...times(2, part('B-1', 'Bolt', 4)), ...times(1, part('P-1', 'Plate', 10)));
writeFileSync(
  later,
  stepOf(
    group(
      'T-0',
      'Table with a peg',
      ...times(1, group('A-1', 'Table', ...times(4, foot), place(part('T-1', 'Table top', 66), move(0, 0, 50)))),
      ...times(1, part('B-9', 'Dowel', 4)),
    ),
  ),
);
const list = join(folder, 'list.csv');
writeFileSync(list, 'Level,Part number,Name,Quantity\n1,A-1,Frame,1\n2,B-1,Bolt,8\n2,P-1,Plate,2\n');

const bringIn = (page: Page) => openProject(page, file, 'model');

/** What axe finds, one line each; it is put in by hand, since the page's own rules let no foreign script in. */
async function faults(page: Page): Promise<string[]> {
  const found = await faultsNow(page);
  // In the dark only colours are others.
  await page.emulateMedia({ colorScheme: 'dark' });
  const dark = await faultsNow(page, ['color-contrast']);
  await page.emulateMedia({ colorScheme: 'light' });
  return [...found, ...dark.map((fault) => `dark: ${fault}`)];
}
/** @param rules those alone; all where absent */
async function faultsNow(page: Page, rules?: readonly string[]): Promise<string[]> {
  // What fades in is only half as dark as it will be.
  await page.waitForFunction(() => document.getAnimations().every(({ playState }) => playState !== 'running'));
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe);
  const { violations } = await page.evaluate((only) => {
    const { axe, looked = new Set() } = window as unknown as {
      axe: { run: (of: Node | { include: Node[] }, how: object) => Promise<AxeResults> };
      looked?: Set<string>;
    };
    Object.assign(window, { looked });
    // The page behind a dialog or menu was looked at before; behind the first of each kind it is looked at once more.
    const open = [...document.querySelectorAll('[role=dialog], [role=menu], [role=listbox]')];
    const kinds = open.map((one) => `${one.getAttribute('role')} ${only ?? ''}`);
    const within = open.length > 0 && kinds.every((kind) => looked.has(kind));
    for (const kind of kinds) looked.add(kind);
    return axe.run(within ? { include: open } : document, {
      resultTypes: ['violations'],
      ...(only ? { runOnly: [...only] } : {}),
    });
  }, rules);
  return violations.flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 160)}`));
}

test('axe finds nothing on any view, menu or dialog', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
  const clean = async (what: string) => expect.soft(await faults(page), what).toEqual([]);
  const dialog = async (what: string, open: () => Promise<void>, leave = () => page.keyboard.press('Escape')) => {
    await open();
    await expect(page.getByRole('dialog').first()).toBeVisible();
    await clean(what);
    await leave();
    await expect(page.getByRole('dialog')).toHaveCount(0);
  };
  const menu = async (what: string, open: () => Promise<void>) => {
    await open();
    await expect(page.getByRole('menu').first()).toBeVisible();
    await clean(what);
    await page.keyboard.press('Escape');
  };
  await bringIn(page);
  await page.waitForTimeout(300); // the machine comes up
  await clean('model');
  await page.getByRole('treeitem').nth(1).click();
  await clean('model, a part picked');
  await menu('looking from', () => page.getByRole('button', { name: 'Look from' }).click());
  await page.getByRole('button', { name: 'Up and front of the machine' }).click();
  await clean('up and front');
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: /to decide/ }).click();
  await clean('findings');
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Poses: take the machine apart' }).click();
  await clean('poses, none yet');
  await page.getByRole('button', { name: 'New pose' }).click();
  await page.getByRole('menuitem', { name: 'Taken apart down to the parts' }).click();
  const moved = page.getByRole('list', { name: 'Moves of this pose' }).getByRole('listitem').first();
  await expect(moved).toBeVisible({ timeout: 60_000 });
  await moved.getByRole('button').first().click();
  await clean('a pose, a move picked');
  await page.getByRole('button', { name: 'Close poses' }).click();

  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByRole('grid')).toBeVisible();
  await clean('bill');
  await page.getByRole('gridcell').nth(2).click();
  await clean('bill, a cell picked');
  for (const [what, label] of [
    ['what is counted', /^What is counted/],
    ['variants', /^Variant/],
    ['filter', /^Which lines/],
    ['order', /^Order of/],
    ['numbers', /^Renumber/],
  ] as const)
    await dialog(what, () => page.getByRole('button', { name: label }).click());
  await dialog('chart', () => page.getByRole('button', { name: 'Chart' }).click());
  await dialog('how values read', async () => {
    await page.getByRole('button', { name: 'Column Name', exact: true }).click();
    await page.getByRole('menuitem', { name: 'How its values read …' }).click();
  });
  await dialog('catalogues of a bill', () => page.getByRole('button', { name: 'Catalogues' }).click());
  await page.getByRole('button', { name: 'Line without a shape' }).click();
  await page.getByRole('menuitem', { name: 'To be typed' }).click();
  await clean('a line without a shape');
  await dialog('another bill', async () => {
    await page.getByRole('button', { name: 'More about the bill' }).click();
    await page.getByRole('menuitem', { name: 'New bill …' }).click();
  });
  await page.getByRole('button', { name: 'More about the bill' }).click();
  await page.getByRole('menuitem', { name: 'New bill …' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Second list');
  await page.getByRole('dialog').getByRole('button', { name: /^Make/ }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: /^Depth of/ }).click();
  await page.getByRole('menuitem').first().click();
  await dialog('two bills compared', async () => {
    await page.getByRole('button', { name: 'More about the bill' }).click();
    await page.getByRole('menuitem', { name: 'Compare with another list or variant …' }).click();
  });
  await menu('depth', () => page.getByRole('button', { name: /^Depth of/ }).click());
  await menu('a column', () => page.getByRole('button', { name: 'Column Item', exact: true }).click());
  await menu('bills', () => page.getByRole('button', { name: 'More about the bill' }).click());
  await menu('house styles', () => page.getByRole('button', { name: 'House style' }).click());
  await page.getByRole('button', { name: 'column', exact: true }).click();
  await expect(page.getByPlaceholder('Find a property')).toBeVisible();
  await clean('a further column');
  await page.keyboard.press('Escape');

  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('button', { name: 'Make the drawing' }).click();
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await clean('sheet');
  await page.getByRole('application').focus();
  for (const thing of ['title block', 'view', 'list', 'balloon']) {
    await page.keyboard.press('n');
    await clean(`sheet, ${thing} picked`);
  }
  await page.keyboard.press('Control+a');
  await clean('sheet, everything picked');
  await menu('at the pointer', () => page.getByLabel('View isometric').click({ button: 'right' }));
  await page.getByRole('button', { name: 'Note', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Text of the note' })).toBeVisible();
  await clean('sheet, a note picked');
  await page.getByLabel('View isometric').click({ position: { x: 3, y: 3 } });
  await page.getByRole('button', { name: 'Enlarge a detail' }).click();
  await clean('sheet, a detail picked');
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: 'front', exact: true }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'width', exact: true }).click();
  await clean('sheet, a dimension picked');
  await page.getByLabel('Title block', { exact: true }).click();
  await page.getByLabel('A new field is called').fill('Order');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Line in the revision table' }).click();
  await clean('sheet, title block with a field and a revision');
  await dialog('sheets of single parts', async () => {
    await page.getByRole('button', { name: 'Which sheets to make' }).click();
    await page.getByRole('menuitem', { name: 'Sheets of single parts …' }).click();
  });
  await menu('place a view', () => page.getByRole('button', { name: 'Place view' }).click());
  await menu('hand over', () => page.getByRole('button', { name: 'Hand over' }).click());
  await menu('of a sheet', () =>
    page
      .getByRole('button', { name: /^More about sheet/ })
      .first()
      .click(),
  );
  await menu('which sheets', () => page.getByRole('button', { name: 'Which sheets to make' }).click());
  await dialog('help', () => page.getByRole('button', { name: 'Help' }).click());
  await dialog('find', () => page.keyboard.press('Control+k'));

  await page.getByRole('link', { name: 'Buying', exact: true }).click();
  await clean('buying, nothing planned');
  await page.getByRole('button', { name: 'Plan buying' }).click();
  await expect(page.getByRole('row', { name: /B-1/ }).first()).toBeVisible();
  await page.getByRole('row', { name: /B-1/ }).first().click();
  await clean('buying, what to order');
  for (const [pane, name] of [
    [/^Bars and cuts/, 'bars'],
    ['What drives it', 'what drives it'],
    [/^Not known/, 'not known'],
    [/^Issued/, 'issued orders'],
  ] as const) {
    await page.getByText(pane).click();
    await clean(`buying, ${name}`);
  }
  await dialog('issuing an order', () => page.getByRole('button', { name: 'Issue the order' }).click());

  await page.getByRole('link', { name: 'Changes', exact: true }).click();
  await clean('changes, one revision');
  await page.getByRole('button', { name: 'Bring in a new revision' }).click();
  await expect(page.getByRole('dialog').first()).toBeVisible();
  await clean('bringing a revision in');
  await page.getByRole('dialog').locator('input[type=file]').setInputFiles(later);
  await page.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0, { timeout: 60_000 });
  await page.getByRole('treeitem', { name: /T-1/ }).first().click();
  await expect(page.getByRole('region', { name: 'Are these the same?' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take over all' })).toBeVisible();
  await clean('changes, a part picked');
  await dialog('taking over', () => page.getByRole('button', { name: 'Take over all' }).click());
  await dialog('a part pointed elsewhere', () =>
    page.getByRole('button', { name: /^It (was another part|is not new) …$/ }).click(),
  );
  await dialog('a sheet before and after', () =>
    page
      .getByRole('button', { name: /before and after, larger$/ })
      .first()
      .click(),
  );
  await menu('handing changes over', () => page.getByRole('button', { name: 'Hand the changes over' }).click());

  await page.goto('/projects');
  await expect(page.locator('.card').first()).toBeVisible();
  await clean('projects');
  await dialog('taking a project away', () =>
    page
      .getByRole('button', { name: /^Delete / })
      .first()
      .click(),
  );
  await page.locator('input[type=file]').setInputFiles(list);
  await expect(page.getByRole('button', { name: /Bring .*in|Bring in|Read/ }).first()).toBeVisible();
  await clean('a list before it is brought in');
  const reading = page.getByRole('dialog');
  await reading.getByLabel('Column 2', { exact: true }).click();
  await clean('a list: what a column says');
  await page.getByRole('option', { name: 'nothing', exact: true }).click();
  await reading.getByLabel('Column 3', { exact: true }).click();
  await page.getByRole('option', { name: 'nothing', exact: true }).click();
  await expect(reading.getByRole('alert')).toBeVisible();
  await clean('a list that cannot be read so');
  await page.keyboard.press('Escape');
  // Kept where it stands, so that there is time to look at it.
  const running = { id: 'job', kind: 'import', state: 'running', reason: null, project: null };
  const told = JSON.stringify({ ...running, progress: { step: 'Making the shapes', done: 3, of: 7 } });
  await page.route('**/api/jobs/*/events', (route) =>
    route.fulfill({ contentType: 'text/event-stream', body: `data: ${told}\n\n` }),
  );
  await bringAsOwn(page, file);
  await expect(page.getByText('Making the shapes: 3 of 7')).toBeVisible();
  await clean('a file on its way');
});

test('axe finds nothing in catalogues', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
  const clean = async (what: string) => expect.soft(await faults(page), what).toEqual([]);
  const tableOf = (text: string) => ({ name: 'Parts.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await page.goto('/catalogues');
  await expect(page.getByRole('heading', { name: 'Catalogues' })).toBeVisible();
  await clean('catalogues');
  await page
    .locator('input[type=file]')
    .setInputFiles(tableOf(`Part number,Price €,Since\nA-1,"1,234",2026-03-02\nA-1,"2,500",2026-03-02\n`));
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('alert')).toBeVisible();
  await clean('a table whose decimals are asked about');
  await dialog.getByLabel('Before the decimals stands').click();
  await page.getByRole('option', { name: /a comma/ }).click();
  await dialog.getByRole('button', { name: 'Make the catalogue' }).click();
  await expect(page.getByText('1 key stands in several items')).toBeVisible();
  await clean('a catalogue with a key that stands twice');
  await page.getByRole('gridcell').nth(1).click();
  await clean('a cell picked');
  await page.getByRole('columnheader').nth(1).getByRole('button').click();
  await expect(page.getByRole('menu')).toBeVisible();
  await clean('menu of a column');
  await page.getByRole('menuitem', { name: 'Heading, kind and unit …' }).click();
  await expect(dialog).toBeVisible();
  await clean('a column');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Bring a table in' }).click();
  await dialog.locator('input[type=file]').setInputFiles(tableOf(`Part number,Price €\nA-1,"3,00"\nB-2,"4,00"\n`));
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await expect(page.getByRole('dialog', { name: /changes$/ })).toBeVisible();
  await clean('what a table changes');
});

test('by keyboard alone: a column made wider, the list left, a view and a balloon picked and pushed', async ({
  page,
}) => {
  await bringIn(page);
  await expect(page.getByRole('treeitem').first()).toBeVisible();
  await page.getByRole('link', { name: 'Bill' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('grid')).toBeVisible();
  const heading = page.getByRole('button', { name: 'Column Item', exact: true });
  await heading.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[data-heading]').nth(1)).toBeFocused();
  const width = async () => (await page.getByRole('columnheader').nth(1).boundingBox())!.width;
  const before = await width();
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(width).toBeGreaterThan(before + 5);

  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+Tab');
  const inGrid = () => page.evaluate(() => document.activeElement?.getAttribute('role') === 'grid');
  expect(await inGrid()).toBe(false);

  await page.getByRole('link', { name: 'Sheets', exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Make the drawing' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await page.getByRole('application').focus();
  for (let at = 0; at < 2; at++) await page.keyboard.press('n');
  const viewAt = () => page.locator('[data-view]').getAttribute('x');
  const from = Number(await viewAt());
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => Number(await viewAt())).toBeLessThan(from - 5);
  await page.keyboard.press('Shift+n');
  await page.keyboard.press('Shift+n');
  const balloon = page.locator('[data-balloon]').last();
  const stood = Number(await balloon.getAttribute('y'));
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => Number(await balloon.getAttribute('y'))).not.toBe(stood);
  await expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
});
