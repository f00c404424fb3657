import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';

const base = process.env.SLEDGEBOARD_URL!;
const file = join(mkdtempSync(join(tmpdir(), 'sledge-away-')), 'table.step');
writeFileSync(file, stepOf(tableProduct()));

test('while nothing can be kept: the page says why, asks before it is closed, and keeps it later', async ({ page }) => {
  await page.addInitScript(() => localStorage.setItem('hints-seen', '3'));
  await page.goto(`${base}/projects`);
  await page.locator('input[type=file]').setInputFiles(file);
  await page.waitForURL(/\/projects\/[0-9a-f-]+\/model/, { timeout: 60_000 });
  await page.getByRole('link', { name: 'Bill' }).click();
  await expect(page.getByRole('grid')).toBeVisible();
  const status = page.getByRole('banner').getByRole('status');
  const sentence =
    'The disk is full: nothing can be kept until there is room on it. What is not kept waits in the page.';
  await page.route('**/edits', (route) => route.fulfill({ status: 503, json: { error: sentence } }));

  await page.getByRole('gridcell', { name: 'Bolt', exact: true }).click();
  await page.keyboard.type('Long bolt');
  await page.keyboard.press('Enter');
  await expect(status).toHaveText('Not kept yet');
  await expect(page.getByText(sentence)).toBeVisible();
  await expect(page.getByRole('gridcell', { name: 'Long bolt' })).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();

  await page.unroute('**/edits');
  await expect(status).toHaveText('All kept');
  await page.reload();
  await expect(page.getByRole('gridcell', { name: 'Long bolt' })).toBeVisible();
});
