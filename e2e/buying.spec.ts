import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { place } from '../demo/product.ts';
import { block, move, tube } from '../demo/solids.ts';
import { bought, made } from '../demo/stock.ts';
import { group, stepOf } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-buying-'));

/** A rack of tubes: posts and rails of one section, bolted. Their lengths stand in no property; they are measured. */
function rack(bolts: number): string {
  const post = made('RK-1', 'Rack post', 'aluminium', [tube(40, 3, 1400)]),
    rail = made('RK-2', 'Rack rail', 'aluminium', [tube(40, 3, 620)]),
    bolt = bought('BN-0650', 'Hexagon bolt M6', 'stainless', 'Kaldvik Fasteners', [block(10, 10, 54)]);
  const many = (count: number, of: typeof post, y: number) =>
    Array.from({ length: count }, (_, at) => place(of, move(at * 100, y, 0)));
  return stepOf(group('RK-0', 'Rack', ...many(4, post, 0), ...many(6, rail, 300), ...many(bolts, bolt, 600)));
}

test('from the bill to the printed cut list: bars are asked for, cut, priced, issued, and compared with a revision of the wish', async ({
  page,
}) => {
  const file = join(folder, 'rack.step');
  writeFileSync(file, rack(8));
  await openProject(page, file, 'buying');
  await page.getByRole('button', { name: 'Plan buying' }).click();
  const sentence = page.locator('.recipe');
  await expect(sentence).toContainText('Everything for 1 machine');

  // Ten of them.
  await sentence.getByRole('button', { name: '1 machine' }).click();
  const machines = page.getByRole('textbox', { name: 'machine', exact: true });
  await machines.fill('10');
  await machines.press('Enter');
  await page.keyboard.press('Escape');
  await expect(sentence).toContainText('Everything for 10 machines');
  await expect(page.getByRole('row', { name: /BN-0650/ })).toContainText('80');

  // Nothing is cut before somebody says from what.
  await page.getByText(/^Bars and cuts/).click();
  await expect(page.getByText('round tube 40 × 3, Al 6082: 100 pieces')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Say which bars' }).click();
  const dialog = page.getByRole('dialog', { name: 'round tube 40 × 3, Al 6082' });
  await dialog.getByLabel('Length of bar 1 in mm').fill('6000');
  await dialog.getByLabel('Price of bar 1').fill('44.1');
  await dialog.getByRole('button', { name: 'Another length' }).click();
  await dialog.getByLabel('Length of bar 2 in mm').fill('4000');
  await dialog.getByLabel('Price of bar 2').fill('31.8');
  await dialog.getByLabel('Saw cut [mm]').fill('2.5');
  await dialog.getByRole('button', { name: 'Apply' }).click();
  const section = page.getByRole('region', { name: 'round tube 40 × 3, Al 6082' });
  await expect(section).toContainText('cheapest possible', { timeout: 30_000 });

  // Every piece is drawn; one is picked, and its line tells how many are cut.
  await section
    .getByRole('button', { name: /Rack rail, 620 mm/ })
    .first()
    .click();
  const panel = page.getByRole('region', { name: 'The picked line' });
  await expect(panel).toContainText('Rack rail');
  await expect(panel).toContainText('60 × 620 mm');
  await expect(section.getByRole('button', { name: /Rack rail, 620 mm/ }).first()).toHaveAttribute(
    'aria-pressed',
    'true',
  );

  // A price that is missing is filled in where it is missed, taken back, and typed again.
  await page.getByText(/^Not known \(1\)/).click();
  await page.getByLabel('Unit cost of BN-0650').fill('0.4');
  await page.getByLabel('Unit cost of BN-0650').press('Enter');
  await expect(page.getByText('Every line has a cost.')).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByText(/^Not known \(1\)/)).toBeVisible();
  await page.getByRole('button', { name: /^Redo/ }).click();
  await expect(page.getByText(/^Not known \(0\)/)).toBeVisible();

  // The order as of today, and what is different once twelve are wanted.
  await page.getByRole('button', { name: 'Issue the order' }).click();
  await page.getByLabel('Number of the order').fill('RK-77');
  await page.getByRole('button', { name: 'Issue it' }).click();
  const order = page.getByRole('region', { name: 'Order RK-77' });
  await expect(order).toContainText('What is needed now is what was ordered.', { timeout: 20_000 });
  await sentence.getByRole('button', { name: '10 machines' }).click();
  await machines.fill('12');
  await machines.press('Enter');
  await page.keyboard.press('Escape');
  await expect(order).toContainText('16 more of item');
  await order.getByRole('button', { name: 'Hand over' }).click();
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'CSV' }).first().click(),
  ]);
  expect(readFileSync(await csv.path(), 'utf8')).toContain('BN-0650');

  // The cut list as the workshop prints it.
  await page.getByText(/^Bars and cuts/).click();
  await expect(section).toContainText('cheapest possible', { timeout: 30_000 });
  const handOver = page.getByRole('button', { name: 'Hand over' });
  await expect(handOver).toBeEnabled({ timeout: 30_000 });
  await handOver.click();
  const [pdf] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Cut list of the workshop (PDF)' }).click(),
  ]);
  const text = execFileSync('pdftotext', ['-layout', await pdf.path(), '-'], { encoding: 'utf8' });
  expect(text).toContain('round tube 40 × 3, Al 6082');
  expect(text).toContain('120 pieces');
  expect(text).toMatch(/RK-1 Rack post · marks at 1400/);
});
