import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execFileSync } from 'node:child_process';
import type { Page } from '@playwright/test';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const file = join(mkdtempSync(join(tmpdir(), 'sledge-paper-')), 'table.step');
writeFileSync(file, stepOf(tableProduct()));

test.beforeEach(async ({ page }) => {
  await openProject(page, file, 'sheets');
});
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const undo = (page: Page, words: string) => page.getByRole('button', { name: `Undo: ${words}` }).click();
const paper = (page: Page) => page.locator('.paper');
/** A view put down where the program proposes it. */
async function place(page: Page, direction: string) {
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: direction, exact: true }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel(`View ${direction}`)).toBeVisible();
}
const boxOf = async (page: Page, label: string | RegExp) => (await page.getByLabel(label).boundingBox())!;

test('several things at once: brought in line, moved together, changed together, taken away in one step', async ({
  page,
}) => {
  await place(page, 'front');
  await place(page, 'top');
  await page.getByLabel('View front').click({ modifiers: ['Shift'] });
  await expect(page.getByRole('heading', { name: '2 things' })).toBeVisible();
  await page.getByRole('button', { name: 'bottom', exact: true }).click();
  const bottom = async (label: string) => {
    const { y, height } = await boxOf(page, label);
    return y + height;
  };
  await expect.poll(async () => Math.abs((await bottom('View front')) - (await bottom('View top')))).toBeLessThan(1.5);

  const before = [await boxOf(page, 'View front'), await boxOf(page, 'View top')];
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(async () => before[0].y - (await boxOf(page, 'View front')).y).toBeGreaterThan(5);
  const [one, other] = [await boxOf(page, 'View front'), await boxOf(page, 'View top')];
  expect(before[0].y - one.y).toBeCloseTo(before[1].y - other.y, 0);

  await page.getByRole('checkbox', { name: 'Not to scale' }).check();
  await expect(paper(page)).toContainText('N/A');
  // The caption is put beside the view, and back below it.
  const caption = await boxOf(page, /^Caption FRONT/);
  await page.mouse.move(caption.x + 4, caption.y + 2);
  await page.mouse.down();
  await page.mouse.move(caption.x + 80, caption.y + 30, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await boxOf(page, /^Caption FRONT/)).x - caption.x).toBeGreaterThan(60);
  await page.getByRole('button', { name: 'Below the view again' }).click();
  await expect.poll(async () => Math.abs((await boxOf(page, /^Caption FRONT/)).x - caption.x)).toBeLessThan(1);
  // What is dropped on the title block is put beside it.
  const block = await boxOf(page, 'Title block');
  const dropped = await boxOf(page, 'View top');
  await page.mouse.move(dropped.x + dropped.width / 2, dropped.y + dropped.height / 2);
  await page.mouse.down();
  await page.mouse.move(block.x + block.width / 2, block.y + block.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect
    .poll(async () => {
      const { x, y, width, height } = await boxOf(page, 'View top');
      const isMoved = Math.abs(x - dropped.x) + Math.abs(y - dropped.y) > 5;
      return isMoved && (y + height <= block.y + 1 || x + width <= block.x + 1);
    })
    .toBe(true);
  await undo(page, 'move view');
  // A frame drawn around everything picks what lies in it; the menu at the pointer takes it away.
  const area = (await paper(page).boundingBox())!;
  await page.mouse.move(area.x + 20, area.y + 20);
  await page.mouse.down();
  await page.mouse.move(area.x + area.width - 20, area.y + area.height - 20, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('heading', { name: '2 things' })).toBeVisible();
  await page.mouse.click(one.x + one.width / 2, one.y + one.height / 2, { button: 'right' });
  await page.getByRole('menuitem', { name: 'Take away' }).click();
  await expect(page.getByLabel('View front')).toHaveCount(0);
  await expect(page.getByLabel('View top')).toHaveCount(0);
  await undo(page, 'take away 2 things');
  await expect(page.getByLabel('View front')).toBeVisible();
  await expect(page.getByLabel('View top')).toBeVisible();
  await kept(page);
});

test('reference dimensions follow the model, in the unit of the set, and print', async ({ page }) => {
  await place(page, 'front');
  await page.getByRole('button', { name: 'width', exact: true }).click();
  const text = async () => (await page.getByRole('heading', { level: 2 }).textContent())!;
  await expect.poll(text).toMatch(/^\(\d+(\.\d)?\)$/);
  const mm = Number((await text()).slice(1, -1));
  await page.getByRole('radiogroup', { name: 'Unit of dimensions' }).getByText('inch').click();
  await page.getByLabel('Decimals at most').fill('3');
  await expect.poll(async () => Number((await text()).slice(1, -1))).toBeCloseTo(mm / 25.4, 2);
  await page.getByLabel('View front').click();
  await page.getByRole('button', { name: 'height', exact: true }).click();
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(2);

  // Two points picked on paper: a corner of the top, and one of a foot.
  const view = await boxOf(page, 'View front');
  await page.getByLabel('View front').click();
  await page.getByRole('button', { name: 'two points …' }).click();
  for (const [x, y] of [
    [view.x, view.y + 1],
    [view.x + view.width, view.y + view.height - 1],
  ]) {
    await page.mouse.move(x, y);
    await expect(page.locator('[data-measured]').last()).toBeVisible();
    await page.mouse.click(x, y);
  }
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(3);
  await expect.poll(async () => Number((await text()).slice(1, -1))).toBeGreaterThan(0);

  // Without a pointer: arrows bring a cross to the end of a line, Enter takes it.
  await page.mouse.move(5, 5);
  await page.getByLabel('View front').click();
  await page.getByRole('button', { name: 'two points …' }).press('Enter');
  for (const [point, way] of ['ArrowLeft', 'ArrowUp'].entries()) {
    await page.keyboard.press(`Shift+${way}`);
    for (let step = 0; step < 60 && (await page.locator(`[data-measured="1"]`).count()) === 0; step++)
      await page.keyboard.press(way);
    await page.keyboard.press('Enter');
    if (point === 0) await expect(page.locator('[data-measured="0"]')).toBeVisible();
  }
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(4);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(3);

  await kept(page);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('menuitem', { name: 'Sheet as PDF' }).click();
  const pdf = execFileSync('pdftotext', ['-layout', await (await download).path(), '-'], { encoding: 'utf8' });
  expect(pdf).toContain(`(${Number((mm / 25.4).toFixed(3))})`);

  await page
    .getByRole('button', { name: /^Dimension \(/ })
    .first()
    .click({ force: true });
  await page.keyboard.press('Delete');
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(2);
  await undo(page, 'take away dimension');
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).toHaveCount(3);
  await kept(page);
});

test('the title block: typed where it stands, with fields of one’s own and a line for each revision', async ({
  page,
}) => {
  const block = page.getByLabel('Title block', { exact: true });
  const title = async () => {
    const { x, y, width, height } = (await block.boundingBox())!;
    return { x: x + width * 0.6, y: y + height - (42 - 6) * (width / 180) };
  };
  const spot = await title();
  await page.mouse.dblclick(spot.x, spot.y);
  await page.getByRole('textbox', { name: 'Title', exact: true }).first().fill('Folding table');
  await page.keyboard.press('Enter');
  await expect(paper(page)).toContainText('Folding table');
  await block.click();
  const before = (await block.boundingBox())!;
  await page.getByLabel('A new field is called').fill('Order number');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Order number' }).fill('A-4711');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Line in the revision table' }).click();
  await page.getByRole('textbox', { name: 'Change' }).fill('Longer legs');
  await page.keyboard.press('Enter');
  const logo = (name: string, text: string) => ({ name, mimeType: 'image/svg+xml', buffer: Buffer.from(text) });
  const input = page.locator('.panel input[type=file]');
  await input.setInputFiles(logo('list.svg', 'no picture at all'));
  await expect(page.getByText('This is no PNG or SVG picture')).toBeVisible();
  await input.setInputFiles(
    logo(
      'logo.svg',
      '<svg xmlns="http://www.w3.org/2000/svg" width="60" height="20"><rect width="60" height="20" fill="#08c"/></svg>',
    ),
  );
  await expect(paper(page).locator('image')).toHaveCount(1);
  await expect(paper(page)).toContainText('A-4711');
  await expect(paper(page)).toContainText('Longer legs');
  expect((await block.boundingBox())!.height).toBeGreaterThan(before.height * 1.3);
  await kept(page);
  await page.reload();
  await expect(paper(page)).toContainText('Longer legs');
  await expect(paper(page).locator('image')).toHaveCount(1);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.getByRole('menuitem', { name: 'Sheet as PDF' }).click();
  const images = execFileSync('pdfimages', ['-list', await (await download).path()], { encoding: 'utf8' });
  expect(images).toMatch(/\b960 +320\b/);
  await undo(page, 'logo in the title block');
  await expect(paper(page).locator('image')).toHaveCount(0);
  await undo(page, 'revision A');
  await expect(paper(page)).not.toContainText('Longer legs');
  await kept(page);
});

test('sheets of single parts in one step, their numbers written to the parts', async ({ page }) => {
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'Sheets of single parts …' }).click();
  const parts = page.getByRole('group', { name: 'Parts' });
  await parts.getByRole('checkbox').nth(1).check();
  await parts.getByRole('checkbox').nth(2).check();
  await page.getByRole('checkbox', { name: 'Write the numbers of the drawings into' }).check();
  await page.getByRole('button', { name: 'Make sheets of 2 parts' }).click();
  const names = page.getByRole('navigation', { name: 'Sheets of this project' }).locator('.sheetname span');
  await expect(names).toHaveCount(3, { timeout: 120_000 });
  await page.getByRole('button', { name: /^Sheet 2, / }).click();
  await expect(paper(page)).toContainText('-01');
  await expect(paper(page)).toContainText('Part drawing');
  await expect(page.getByRole('button', { name: /^Dimension \(/ })).not.toHaveCount(0);
  await undo(page, 'sheets of single parts');
  await expect(names).toHaveCount(1);
  await kept(page);
});

test('a pose adjusted by hand beside the machine: farther, earlier, back, played, and taken back', async ({ page }) => {
  await page.getByRole('link', { name: 'Model', exact: true }).click();
  await page.getByRole('button', { name: 'Poses: take the machine apart' }).click();
  const poses = page.getByRole('complementary', { name: 'Poses' });
  await poses.getByRole('button', { name: 'New pose' }).click();
  await page.getByRole('menuitem', { name: 'Taken apart down to the parts' }).click();
  const moves = poses.getByRole('listitem');
  await expect(moves.first()).toBeVisible({ timeout: 120_000 });
  const count = await moves.count();
  const far = async (at: number) => Number(/(\d+) mm/.exec((await moves.nth(at).textContent())!)![1]);
  await moves.first().getByRole('button').first().click();
  await expect(moves.first()).toHaveClass(/picked/);
  await poses.getByRole('combobox', { name: 'Along' }).click();
  await page.getByRole('option', { name: 'up – down' }).click();
  await poses.getByRole('textbox', { name: 'Farther by, mm' }).fill('5000');
  await poses.getByRole('button', { name: 'Go' }).click();
  await expect.poll(() => far(0)).toBeGreaterThan(4000);
  const second = (await moves.nth(1).textContent())!;
  await moves
    .nth(1)
    .getByRole('button', { name: /leaves earlier$/ })
    .click();
  await expect(moves.first()).toHaveText(second);
  await moves
    .first()
    .getByRole('button', { name: /back to its seat$/ })
    .click();
  await expect(moves).toHaveCount(count - 1);
  // Played backwards with the keyboard: at its beginning nothing can be carried on.
  const slider = poses.getByRole('slider', { name: 'From assembled to this pose' });
  await slider.focus();
  await page.keyboard.press('Home');
  await expect(slider).toHaveAttribute('aria-valuenow', '0');
  await page.keyboard.press('End');
  await kept(page);
  for (const words of [/^Undo: .*back to its seat$/, /^Undo: .*leaves earlier$/, /^Undo: move /])
    await page.getByRole('button', { name: words }).click();
  await expect(moves).toHaveCount(count);
  await expect.poll(() => far(0)).toBeLessThan(4000);
  await kept(page);
});

test('a balloon put by hand with the pointer and with the keyboard, and its leader taken elsewhere on the part', async ({
  page,
}) => {
  await place(page, 'front');
  const balloons = page.getByRole('button', { name: /^Balloon / });
  const tiles = page.getByLabel('Which items are ballooned').locator('.tile.missing');
  const missing = await tiles.count();
  // With the pointer: the number, a place of its part, where it is to stand.
  await tiles.first().click();
  const told = page.getByText(/Click a place of line/);
  await expect(told).toBeVisible();
  const view = await boxOf(page, 'View front');
  await page.mouse.move(view.x + view.width / 2, view.y + view.height / 2);
  await expect(page.locator('[data-place]')).toBeVisible();
  await page.mouse.click(view.x + view.width / 2, view.y + view.height / 2);
  await expect(page.getByText('Click where the balloon is to stand.')).toBeVisible();
  await page.mouse.move(view.x - 40, view.y - 30);
  await page.mouse.click(view.x - 40, view.y - 30);
  await expect(balloons).toHaveCount(1);
  await expect(tiles).toHaveCount(missing - 1);
  await expect(page.getByText('hand; arranging leaves it')).toBeVisible();

  // With the keyboard, and taken back.
  await tiles.first().press('Enter');
  await expect(told).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  for (let step = 0; step < 6; step++) await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Enter');
  await expect(balloons).toHaveCount(2);
  await undo(page, 'place a balloon');
  await expect(balloons).toHaveCount(1);

  // The end of its leader is dragged over the part; the balloon stays where it stands.
  await balloons.first().click();
  const end = page.getByLabel(/^End of the leader/);
  const [before, standing] = [(await end.boundingBox())!, (await balloons.first().boundingBox())!];
  await page.mouse.move(before.x + before.width / 2, before.y + before.height / 2);
  await page.mouse.down();
  await page.mouse.move(view.x + view.width - 5, view.y + view.height / 2, { steps: 6 });
  await expect(page.getByText(/mm free|the leader stays on/)).toBeVisible();
  await page.mouse.up();
  await expect.poll(async () => (await end.boundingBox())!.x).not.toBeCloseTo(before.x, 0);
  expect((await balloons.first().boundingBox())!.x).toBeCloseTo(standing.x, 0);
  await kept(page);
});

test('balloons for some lines only, and a number that is missing here leads to the sheet where it is seen best', async ({
  page,
}) => {
  await place(page, 'isometric');
  const balloons = page.getByRole('button', { name: /^Balloon / });
  // For lines that a rule holds for.
  await page.getByRole('button', { name: 'Balloons for some lines only' }).click();
  await page.getByRole('menuitem', { name: 'For lines that …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Balloons for which lines' });
  await dialog.getByRole('button', { name: 'Rule', exact: true }).click();
  await dialog.getByRole('combobox', { name: 'Column' }).click();
  await page.getByRole('option', { name: 'Name', exact: true }).click();
  await dialog.getByRole('textbox', { name: 'Value' }).fill('Top');
  await dialog.getByRole('button', { name: 'Place them' }).click();
  await expect(balloons).toHaveCount(1, { timeout: 30_000 });
  // For what is picked; the first one stays where it is.
  const stood = (await balloons.first().boundingBox())!;
  await page.locator('.tile', { hasText: /^1$/ }).click();
  await page.getByRole('button', { name: 'Balloons for some lines only' }).click();
  await page.getByRole('menuitem', { name: /^For what is picked: 1 line/ }).click();
  await expect(balloons).toHaveCount(2, { timeout: 30_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Balloon 1', { exact: true })).toBeAttached();
  expect((await page.getByLabel('Balloon 3', { exact: true }).boundingBox())!.x).toBeCloseTo(stood.x, 0);

  // Another sheet without a view: the number leads back to where it is seen.
  await page.getByRole('button', { name: 'Sheet', exact: true }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Empty');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Empty' })).toBeVisible();
  await page.locator('.tile.missing', { hasText: /^2$/ }).click();
  await expect(page.getByText('it is seen best on sheet 1, Assembly')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('link', { name: 'Place it there' }).click();
  await expect(page.getByText(/Click a place of line 2/)).toBeVisible();
  await page.keyboard.press('Enter');
  for (let step = 0; step < 6; step++) await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Balloon 2', { exact: true })).toBeAttached();
  await kept(page);
});

test('a list as the house wants it: title, lettering, heading, widths, its own place; and back', async ({ page }) => {
  await page.getByRole('button', { name: 'Place list' }).click();
  await page.getByRole('menuitem', { name: 'on the title block' }).click();
  const list = page.getByLabel('List', { exact: true }).first();
  await expect(list).toBeVisible();
  await page.getByLabel('Line 1', { exact: true }).click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Parts to order');
  await page.keyboard.press('Enter');
  await expect(paper(page)).toContainText('Parts to order');
  const height = async () => (await list.boundingBox())!.height;
  const usual = await height();
  await page.getByRole('textbox', { name: 'Row pitch, mm' }).fill('9');
  await page.keyboard.press('Enter');
  await expect.poll(height).toBeGreaterThan(usual * 1.1);
  await page.getByRole('combobox', { name: 'Heading stands' }).click();
  await page.getByRole('option', { name: 'none', exact: true }).click();
  await expect(paper(page)).not.toContainText('PART NUMBER');
  await undo(page, 'heading none');
  await expect(paper(page)).toContainText('PART NUMBER');

  // Pictures of the parts behind the number, as large as is said; letters of the narrow family.
  await page.getByRole('textbox', { name: 'Pictures, mm' }).fill('8');
  await page.keyboard.press('Enter');
  await expect(paper(page)).toContainText('PICTURE');
  await expect(paper(page).locator('image').first()).toBeAttached();
  const family = () => paper(page).getByText('PART NUMBER').first().getAttribute('font-family');
  expect(await family()).not.toContain('barlow');
  await page.getByRole('checkbox', { name: 'Narrow heading' }).check();
  await expect.poll(family).toContain('barlow');
  await undo(page, 'narrow heading');
  await undo(page, 'pictures, mm');
  await expect(paper(page)).not.toContainText('PICTURE');

  // A column made wider by its border, and fitted again by a double click on it.
  await page.getByRole('combobox', { name: 'Which column' }).click();
  await page.getByRole('option', { name: 'Name', exact: true }).click();
  const wide = page.getByRole('combobox', { name: 'Wide' });
  await expect(wide).toHaveValue('what fits');
  const border = page.getByLabel('Border of the column Name').first();
  const edge = (await border.boundingBox())!;
  await page.mouse.move(edge.x + edge.width / 2, edge.y + 20);
  await page.mouse.down();
  await page.mouse.move(edge.x - 40, edge.y + 20, { steps: 5 });
  await page.mouse.up();
  await expect(wide).toHaveValue('mm');
  await border.dblclick({ position: { x: 1, y: 20 } });
  await expect(wide).toHaveValue('what fits');

  // Dragged away, and hung where it hung.
  const from = (await list.boundingBox())!;
  const line = (await page.getByLabel('Line 1', { exact: true }).boundingBox())!;
  await page.mouse.move(line.x + 15, line.y + 3);
  await page.mouse.down();
  await page.mouse.move(line.x - 105, line.y - 40, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => from.x - (await list.boundingBox())!.x).toBeGreaterThan(60);
  await page.getByRole('button', { name: 'Back where it hangs' }).click();
  await expect.poll(async () => Math.abs((await list.boundingBox())!.x - from.x)).toBeLessThan(2);
  await kept(page);
});

test('balloons in columns, in hexagons, on one leader, in a style; a list goes on on a further sheet', async ({
  page,
}) => {
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'This sheet only' }).click();
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  const choose = async (what: string, option: string) => {
    await page.getByRole('combobox', { name: what }).click();
    await page.getByRole('option', { name: option }).click();
  };
  await choose('Balloons stand', 'in columns at the sides');
  const view = await boxOf(page, /^View /);
  for (const item of ['1', '2', '3'])
    await expect
      .poll(async () => {
        // While they are arranged anew, one is not there.
        const box = await page.getByLabel(`Balloon ${item}`, { exact: true }).boundingBox();
        const middle = box ? box.x + box.width / 2 : NaN;
        return middle < view.x || middle > view.x + view.width;
      })
      .toBe(true);
  await choose('Around numbers', 'hexagon');
  await kept(page);
  await undo(page, 'what is around numbers');
  await undo(page, 'balloons in columns at the sides');
  await expect(page.getByRole('combobox', { name: 'Balloons stand' })).toHaveValue('as suits');

  // Two on one leader, and apart again.
  const apart = async () => {
    const [one, two] = await Promise.all(
      ['1', '2'].map((item) => page.getByLabel(`Balloon ${item}`, { exact: true }).boundingBox()),
    );
    if (!one || !two) return NaN;
    return Math.hypot(one.x - two.x, one.y - two.y) / one.width;
  };
  const before = await apart();
  await page.getByLabel('Balloon 1', { exact: true }).click();
  await page.getByLabel('Balloon 2', { exact: true }).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'in a row' }).click();
  await expect.poll(apart).toBeLessThan(1.1);
  expect(before).toBeGreaterThan(1.1);
  await page.keyboard.press('Escape');
  await page.getByLabel('Balloon 2', { exact: true }).click();
  await page.getByRole('button', { name: 'Own leaders again' }).click();
  await expect.poll(apart).toBeGreaterThan(1.1);
  await undo(page, 'balloons on leaders of their own');
  await undo(page, 'balloons on one leader');
  await expect.poll(async () => Math.abs((await apart()) - before)).toBeLessThan(0.05);

  // A style is looked at first, then taken over in one step.
  await page.getByRole('application').focus();
  await page.keyboard.press('Escape');
  await choose('Sheets as in', 'Large print');
  await expect(page.getByRole('img', { name: 'This sheet as in Large print' })).toBeVisible();
  await page.getByRole('button', { name: 'Take over on all sheets' }).click();
  await expect(page.getByRole('textbox', { name: 'Numbers, mm' })).toHaveValue('7');
  await kept(page);
  await undo(page, 'sheets as in Large print');
  await expect(page.getByRole('textbox', { name: 'Numbers, mm' })).toHaveValue('');

  // How clearly a leader ends can be checked on the paper.
  await page.getByLabel('Balloon 2', { exact: true }).click();
  await expect(page.getByRole('row', { name: /How clear/ })).toContainText(/(face|edge), (\d+\.\d mm|nothing near)/);

  await page.getByLabel('Line 3', { exact: true }).click();
  const most = page.getByRole('textbox', { name: 'Most lines in a strip' });
  await most.fill('1');
  await most.press('Enter');
  await page.getByRole('button', { name: 'Go on on further sheets' }).click();
  const sheets = page.getByRole('navigation', { name: 'Sheets of this project' });
  await expect(sheets.getByRole('button', { name: /^Sheet 2/ })).toBeVisible({ timeout: 30_000 });
  await expect(paper(page)).toContainText('Continued on a further sheet');
  await sheets.getByRole('button', { name: /^Sheet 2/ }).click();
  await expect(paper(page)).toContainText('Continued');
  await page.getByLabel('Line 3', { exact: true }).click();
  await expect(page.getByText(/Lines \d+ to 3 of 3; the others stand elsewhere/)).toBeVisible();
  await undo(page, 'let the list go on elsewhere');
  await expect(sheets.getByRole('button', { name: /^Sheet 2/ })).toHaveCount(0);
  await expect(paper(page)).not.toContainText('Continued');
});

test('balloons by keyboard alone: stepped through, moved, bent, pointed elsewhere, taken away; cells typed on paper', async ({
  page,
}) => {
  await page.getByRole('button', { name: 'Which sheets to make' }).click();
  await page.getByRole('menuitem', { name: 'This sheet only' }).click();
  await expect(page.getByLabel('Balloon 3', { exact: true })).toBeAttached({ timeout: 60_000 });
  await kept(page);
  const balloons = page.getByRole('button', { name: /^Balloon \d+$/ });
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  const about = () => inspector.getByRole('heading', { level: 2 }).first().textContent();
  const sheet = page.getByRole('application');
  await sheet.focus();
  for (let at = 0; at < 30 && !(await inspector.getByText('Balloon', { exact: true }).isVisible()); at++)
    await page.keyboard.press('n');
  // In reading order, each of them once.
  const seen = [await about()];
  for (let at = 1; at < 3; at++) {
    await page.keyboard.press('Tab');
    await expect.poll(about).not.toBe(seen.at(-1));
    seen.push(await about());
  }
  expect(seen.toSorted()).toEqual(['1', '2', '3']);
  const item = (await about())!;
  const balloon = page.getByLabel(`Balloon ${item}`, { exact: true });
  const x = async () => (await balloon.boundingBox())?.x ?? NaN;
  const before = await x();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(x).toBeGreaterThan(before + 5);
  await expect(inspector).toContainText('hand; arranging leaves it');

  // The end of its leader, a corner in it, and that away again.
  await page.keyboard.press('Enter');
  await expect(inspector.getByText('Points at')).toBeVisible();
  await inspector.getByRole('button', { name: 'Corner in its leader' }).focus();
  await page.keyboard.press('Enter');
  const corner = page.getByLabel(`Corner 1 of the leader of balloon ${item}`);
  await sheet.focus();
  await expect(corner).toBeAttached();
  await page.keyboard.press('Enter'); // from the end of the leader to its corner
  const high = async () => (await corner.boundingBox())?.y ?? NaN;
  const was = await high();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(high).toBeLessThan(was - 5);
  await page.keyboard.press('Delete');
  await expect(corner).toHaveCount(0);

  await sheet.focus();
  await page.keyboard.press('Escape');
  for (let at = 0; at < 30 && !(await inspector.getByText('Balloon', { exact: true }).isVisible()); at++)
    await page.keyboard.press('n');
  await page.keyboard.press('Delete');
  await expect(balloons).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(balloons).toHaveCount(3);

  // Texts beside all of them follow the list.
  await sheet.focus();
  await page.keyboard.press('Escape');
  const beside = inspector.getByRole('textbox', { name: 'Text right of it' });
  await beside.fill('{quantity}×');
  await beside.press('Enter');
  await expect(paper(page)).toContainText(/\d+×/);

  // A cell of the list, typed where it stands; Tab goes on to the next one.
  await page.getByLabel('Line 2', { exact: true }).click();
  await sheet.focus();
  await page.keyboard.press('Enter');
  const name = page.getByRole('textbox', { name: /^Name of / });
  for (let at = 0; at < 8 && !(await name.isVisible()); at++) await page.keyboard.press('Tab');
  await page.keyboard.type('Foot, oiled');
  await page.keyboard.press('Enter');
  await expect(paper(page)).toContainText('Foot, oiled');
  await undo(page, 'type Name');
  await expect(paper(page)).not.toContainText('Foot, oiled');

  // A table of one's own: typed cell by cell, its words stay true.
  await page.getByRole('button', { name: 'Place list' }).click();
  await page.getByRole('menuitem', { name: 'an empty table to type into' }).click();
  await expect(page.getByLabel('Table', { exact: true })).toBeAttached();
  await sheet.focus();
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Row 1, column 1' }).fill('{lines} lines');
  await page.keyboard.press('Tab');
  await page.getByRole('textbox', { name: 'Row 1, column 2' }).fill('of the sledge');
  await page.keyboard.press('Enter');
  await expect(paper(page)).toContainText('3 lines');
  await expect(paper(page)).toContainText('of the sledge');
  await undo(page, 'type into a table');
  await expect(paper(page)).not.toContainText('of the sledge');
  await kept(page);
});
