import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { stepOf, tableProduct } from '../testkit/stepFiles.ts';
import { expect, openProject, test } from './app.ts';

const file = join(mkdtempSync(join(tmpdir(), 'sledge-away-')), 'table.step');
writeFileSync(file, stepOf(tableProduct()));

test.beforeEach(async ({ page }) => {
  await openProject(page, file, 'bill');
  await expect(page.getByRole('grid')).toBeVisible();
});

test('while nothing can be kept: the page says why, asks before it is closed, and keeps it later', async ({ page }) => {
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

test('an edit that the server never takes stands aside with its reason, and those behind it are kept', async ({
  page,
}) => {
  const status = page.getByRole('banner').getByRole('status');
  const type = async (cell: string, text: string) => {
    await page.getByRole('gridcell', { name: cell, exact: true }).click();
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  await page.route('**/edits', (route) =>
    route.request().postData()!.includes('Poison')
      ? route.fulfill({ status: 422, json: { error: 'That would be more than a bill can hold.' } })
      : route.continue(),
  );
  await type('Bolt', 'Poison');
  await type('Plate', 'Long plate');
  const notice = page.getByRole('alert').filter({ hasText: 'was not kept: That would be more than a bill can hold.' });
  await expect(notice).toBeVisible();
  await expect(status).toHaveText('All kept');
  await expect(page.getByRole('gridcell', { name: 'Bolt', exact: true })).toBeVisible();
  // It covers nothing that is needed.
  await page.getByRole('button', { name: 'Hand over' }).click();
  await page.keyboard.press('Escape');
  await page.unroute('**/edits');
  await notice.getByRole('button', { name: 'Try again' }).click();
  await expect(notice).toHaveCount(0);
  await expect(status).toHaveText('All kept');
  await page.reload();
  await expect(page.getByRole('gridcell', { name: 'Poison' })).toBeVisible();
  await expect(page.getByRole('gridcell', { name: 'Long plate' })).toBeVisible();
});
