import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { coaxialPack } from '../demo/machines.ts';
import { productStep } from '../demo/writeDemo.ts';
import { expect, openProject, test } from './app.ts';

const file = join(mkdtempSync(join(tmpdir(), 'sledge-sections-')), 'coaxial-pack.step');
writeFileSync(file, productStep(coaxialPack(), 'coaxial-pack.step'));

const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');
const undo = (page: Page, words: string) => page.getByRole('button', { name: `Undo: ${words}` }).click();
const middle = async (of: ReturnType<Page['getByLabel']>) => {
  const box = (await of.boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2, box };
};
/** Lines of the hatching of a view. */
const hatching = (page: Page) => page.locator('.paper svg [data-of="hatching"]');

/** A view from above, put down low on the sheet. */
async function fromAbove(page: Page) {
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: 'top', exact: true }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('View top')).toBeVisible();
  await page.getByRole('textbox', { name: 'Or type one' }).fill('1:2');
  await page.keyboard.press('Enter');
  return page.getByLabel('View top');
}

test('a section along a line drawn with the pointer: hatched, in line with its view, moved, turned, ballooned and taken back', async ({
  page,
}) => {
  await openProject(page, file, 'sheets');
  const top = await fromAbove(page);
  const { x, y, box } = await middle(top);
  await page.getByRole('button', { name: 'Cut along a line' }).click();
  await expect(page.getByText('Click where the cutting line begins')).toBeVisible();
  await page.mouse.click(box.x - 15, y);
  await page.mouse.move(box.x + box.width / 2, y + 2);
  await expect(page.locator('[data-cutting="2"]')).toBeVisible();
  await page.mouse.click(box.x + box.width + 15, y + 1);
  const section = page.getByLabel('Section A', { exact: true });
  await expect(section).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('heading', { name: 'A', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Caption A–A/ })).toBeVisible();
  await expect(page.getByLabel('Cutting line A', { exact: true })).toBeVisible();
  // There is no room above or below the view, so it stands beside it, as high as it.
  const beside = await middle(section);
  expect(Math.abs(beside.y - y)).toBeLessThan(2);
  expect(Math.abs(beside.x - x)).toBeGreaterThan((box.width + beside.box.width) / 2);
  await expect(hatching(page)).not.toHaveCount(0);
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-1.png` });

  // What stays whole is listed, and can be cut all the same.
  const parts = page.getByRole('group', { name: 'Cut and hatched' });
  const shaft = parts.getByRole('checkbox', { name: /Shaft$/ });
  await expect(shaft).not.toBeChecked();
  await expect(parts.getByRole('checkbox', { name: /Housing$/ })).toBeChecked();
  await shaft.check();
  await expect(shaft).toBeChecked();
  await kept(page);
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-2.png` });
  await undo(page, 'cut CP-10 Shaft');
  await expect(shaft).not.toBeChecked({ timeout: 60_000 });

  // The line is dragged off the shaft: what it met there is cut no more.
  const line = page.getByLabel('Cutting line A', { exact: true });
  await page.mouse.move(box.x - 12, y);
  await page.mouse.down();
  await page.mouse.move(box.x - 12, y + 10, { steps: 4 });
  await page.mouse.move(box.x - 12, y + 52, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Undo: move a cutting line' })).toBeEnabled();
  await expect(page.getByLabel(/^End 1 of cutting line A/)).toBeVisible();
  await expect(parts.getByRole('checkbox', { name: /Inner race$/ })).toHaveCount(0, { timeout: 60_000 });
  await undo(page, 'move a cutting line');
  await expect(parts.getByRole('checkbox', { name: /Inner race$/ })).toBeVisible({ timeout: 60_000 });

  // A typed place.
  await page.getByRole('textbox', { name: 'It is at y, mm of the model' }).fill('-50');
  await page.keyboard.press('Enter');
  await expect(parts.getByRole('checkbox', { name: /Inner race$/ })).toHaveCount(0, { timeout: 60_000 });
  await undo(page, 'cut at y = -50 mm');
  await expect(parts.getByRole('checkbox', { name: /Inner race$/ })).toBeVisible({ timeout: 60_000 });

  // From the other side, under another letter.
  await page.getByRole('button', { name: 'From the other side' }).click();
  await kept(page);
  await page.getByRole('textbox', { name: 'Letter', exact: true }).fill('K');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Caption K–K/ })).toBeVisible();
  await expect(page.getByLabel('Cutting line K', { exact: true })).toBeVisible();

  // How all sections of the set look: no text of the house style is lost while it is typed.
  const look = page.getByRole('group', { name: 'All sections of the set' });
  await look.getByText('Away from it').click();
  await look.getByRole('textbox', { name: 'Between hatch lines, %' }).fill('200');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Undo: distance of hatch lines' })).toBeEnabled();
  await look.getByRole('checkbox', { name: 'Hatched by material' }).check();
  await expect(page.getByRole('checkbox', { name: /^By material/ })).toBeChecked();
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-8.png` });
  await undo(page, 'hatch all sections by material');
  await expect(page.getByRole('checkbox', { name: /^By material/ })).not.toBeChecked();
  await undo(page, 'distance of hatch lines');
  await expect(look.getByRole('textbox', { name: 'Between hatch lines, %' })).toHaveValue('100');

  // Balloons point into cut faces; they go with the section, and the section with its view.
  await page.getByRole('button', { name: 'Place balloons', exact: true }).click();
  await expect(page.getByRole('button', { name: /^Balloon \d+$/ })).toHaveCount(12, { timeout: 120_000 });
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-3.png` });
  await page.getByLabel('View top').click({ position: { x: 20, y: 20 } });
  await page.keyboard.press('Delete');
  await expect(page.getByLabel('Section K')).toHaveCount(0);
  await undo(page, 'take away view');
  await expect(page.getByLabel('Section K')).toBeVisible();
  await expect(line).toHaveCount(0);
  await kept(page);
});

test('by keyboard: a cutting line with a corner, from the middle of a view', async ({ page }) => {
  await openProject(page, file, 'sheets');
  await fromAbove(page);
  await page.getByRole('button', { name: 'Cut along a line' }).click();
  const press = async (key: string, times: number) => {
    for (let at = 0; at < times; at++) await page.keyboard.press(key);
  };
  await press('Shift+ArrowLeft', 5);
  await page.keyboard.press('Enter');
  await press('Shift+ArrowRight', 5);
  await page.keyboard.press('Shift+Enter');
  await press('Shift+ArrowDown', 5);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Section A', { exact: true })).toBeVisible({ timeout: 60_000 });
  // A half section: the line turns to who looks at it in the middle.
  await page.getByLabel('Cutting line A', { exact: true }).focus();
  await kept(page);
  // Its second stretch, turned into the plane of the first.
  await page.getByRole('checkbox', { name: 'Second stretch turned into the plane of the view' }).check();
  await kept(page);
  if (process.env.SHOT)
    await page.waitForTimeout(8000).then(() => page.screenshot({ path: `${process.env.SHOT}-7.png` }));
  await undo(page, 'turn the second stretch into the plane');
  await undo(page, 'cut along A–A');
  await expect(page.getByLabel('Section A', { exact: true })).toHaveCount(0);
});

test('a quarter of a pictorial view is cut open, and closed again', async ({ page }) => {
  await openProject(page, file, 'sheets');
  await page.getByRole('button', { name: 'Place view' }).click();
  await page.getByRole('menuitem', { name: 'isometric', exact: true }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Cut a quarter open' }).click();
  await expect(hatching(page)).not.toHaveCount(0, { timeout: 60_000 });
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-4.png` });
  await page.getByRole('button', { name: 'Take nothing away', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Cut a quarter open' })).toBeVisible();
  await undo(page, 'take nothing away');
  await expect(page.getByRole('button', { name: 'Take nothing away', exact: true })).toBeVisible();
});

test('a piece of a view is cut open within a border: made larger, deepened, a second one, closed again', async ({
  page,
}) => {
  await openProject(page, file, 'sheets');
  await fromAbove(page);
  await page.getByRole('button', { name: 'Cut a piece open', exact: true }).click();
  await expect(hatching(page)).not.toHaveCount(0, { timeout: 60_000 });
  await kept(page);
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-5.png` });

  // Its border is taken hold of to move it, then its corner to draw it out.
  const piece = page.getByLabel('Piece 1 cut open', { exact: true });
  const { box } = await middle(piece);
  const on = await piece.evaluate((path: SVGPathElement) => {
    const { x, y } = path.getPointAtLength(path.getTotalLength() / 3).matrixTransform(path.getScreenCTM()!);
    return { x, y };
  });
  await page.mouse.move(on.x, on.y);
  await page.mouse.down();
  await page.mouse.move(on.x + 30, on.y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await middle(piece)).box.x - box.x).toBeGreaterThan(20);
  const corner = await middle(page.getByLabel('Size of piece 1 cut open'));
  const { width } = (await middle(piece)).box;
  await page.mouse.move(corner.x, corner.y);
  await page.mouse.down();
  await page.mouse.move(corner.x + 15, corner.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await middle(piece)).box.width - width).toBeGreaterThan(20);

  // How deep it goes is typed.
  const depth = page.getByRole('textbox', { name: /^Piece 1 cut at z/ });
  await depth.fill('3');
  await depth.press('Enter');
  await kept(page);
  await expect(page.getByRole('button', { name: 'Undo: cut piece 1 open to z = 3 mm' })).toBeVisible();
  await page.getByRole('button', { name: 'Cut another piece open' }).click();
  await expect(page.getByLabel('Piece 2 cut open', { exact: true })).toHaveCount(1);
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-6.png` });
  await page.getByRole('button', { name: 'Close piece 1' }).click();
  await expect(page.getByLabel('Piece 2 cut open', { exact: true })).toHaveCount(0);
  await page.getByLabel('Piece 1 cut open', { exact: true }).focus();
  await page.getByRole('button', { name: 'Take nothing away', exact: true }).click();
  await expect(page.getByLabel('Piece 1 cut open', { exact: true })).toHaveCount(0);
  await undo(page, 'take nothing away');
  await expect(page.getByLabel('Piece 1 cut open', { exact: true })).toHaveCount(1);
});

test('what is cut open in 3D becomes a section on the sheet', async ({ page }) => {
  await openProject(page, file, 'model');
  const tool = page.getByRole('button', { name: 'Cut the machine open' });
  await tool.click();
  const dialog = page.getByRole('dialog', { name: 'Cut the machine open' });
  // Through the axis of what is clicked: the shaft in the middle of the machine.
  await dialog.getByRole('button', { name: 'Click a hole, shaft or face' }).click();
  await expect(page.getByText('Click a hole or a shaft to cut through its axis')).toBeVisible();
  const picture = (await page.getByRole('img', { name: 'The machine in 3D' }).boundingBox())!;
  await expect(async () => {
    await page.mouse.click(picture.x + picture.width / 2, picture.y + picture.height / 2);
    await expect(tool).toHaveAttribute('aria-pressed', 'true', { timeout: 1000 });
  }).toPass({ timeout: 60_000 });
  await expect(dialog.getByRole('switch', { name: 'Cut open' })).toBeChecked();
  await expect(dialog.getByRole('slider', { name: 'Where' })).toHaveAttribute('aria-valuenow', '50');
  if (process.env.SHOT) await page.screenshot({ path: `${process.env.SHOT}-9.png` });
  await dialog.getByRole('button', { name: 'As a section on a sheet' }).click();
  await expect(page.locator('[data-ghost]')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Section A', { exact: true })).toBeVisible();
  await expect(hatching(page)).not.toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'A', exact: true })).toBeVisible();
  await kept(page);
});
