import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { sitePlanSvg } from '../demo/sitePlan.ts';
import { expect, openProject, test } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'sledge-layout-'));
const plan = (revision: 'A' | 'B'): string => {
  const file = join(folder, `camp-plan-${revision}.svg`);
  writeFileSync(file, sitePlanSvg({ revision }));
  return file;
};
const kept = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText('All kept');

test('caps of a layout are counted, split, one left out, placed as a live text; a new revision adds two', async ({
  page,
}) => {
  await openProject(page, plan('A'), 'model');

  // The structure is by symbol, and the picture is the drawing.
  await expect(page.getByRole('img', { name: /^The layout, \d+ things drawn/ })).toBeVisible();
  const caps = page.getByRole('treeitem').filter({ hasText: 'Cap flag' });
  await expect(caps).toHaveCount(1);
  await expect(caps).toContainText('14');
  await caps.click();
  const counted = page.getByRole('region', { name: 'Uses of Cap flag' });
  await expect(counted).toContainText('14counted');

  // One after the other; apart by attributes; one is left out with a reason.
  await counted.getByRole('button', { name: 'Next' }).click();
  await expect(counted).toContainText('this is number 1 of 14');
  await counted.getByRole('button', { name: 'Previous' }).click();
  await expect(counted).toContainText('this is number 14 of 14');
  await counted.getByRole('combobox', { name: 'Apart by' }).click();
  await page.getByRole('option', { name: 'Colour' }).click();
  await page.getByRole('option', { name: 'Size', exact: true }).click();
  await page.keyboard.press('Escape');
  const groups = counted.getByRole('table', { name: 'Cap flag by Colour, Size' });
  await expect(groups.getByRole('row')).toHaveText(['9red, standard', '5black, tall']);
  await groups.getByRole('button', { name: 'black, tall' }).click();
  await expect(counted).toContainText('this is number 1 of 5');
  await counted.getByRole('button', { name: 'Leave this one out …' }).click();
  await counted.getByLabel('Why is it not counted?').fill('stands there already');
  await page.keyboard.press('Enter');
  await expect(counted).toContainText('13counted, 1 left out');
  await expect(counted).toContainText('stands there already');
  await expect(groups.getByRole('row')).toHaveText(['9red, standard', '4black, tall']);
  await kept(page);

  // Fuel drums are drawn and no symbol: one is picked and declared, with its likes.
  const canvas = page.getByRole('img', { name: /^The layout/ });
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Show all of it' }).click();
  const box = (await canvas.boundingBox())!;
  const scale = 0.92 * Math.min(box.width / 60_000, box.height / 40_000);
  await canvas.click({
    position: { x: box.width / 2 + (37_400 - 30_000) * scale, y: box.height / 2 + (34_500 - 20_000) * scale },
  });
  const declare = page.getByRole('region', { name: 'Declare a symbol' });
  await expect(declare).toContainText('6 shapes of the drawing are like it');
  await declare.getByLabel('larger and smaller ones too').check();
  await expect(declare).toContainText('7 shapes of the drawing are like it');
  await declare.getByLabel('larger and smaller ones too').uncheck();
  await declare.getByLabel('Count them as').fill('Fuel drum');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('treeitem').filter({ hasText: 'Fuel drum' })).toContainText('6');

  // The list says so too, and splits where it is told to.
  await page.getByRole('link', { name: 'Bill', exact: true }).click();
  const row = (name: string) => page.getByRole('row').filter({ hasText: name });
  await expect(row('Cap flag')).toContainText('13');
  await expect(row('Snow anchor')).toContainText('22');
  await expect(row('Fuel drum')).toContainText('6');

  // On paper the layout is a view, and words count on.
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('button', { name: 'Make the drawing' }).click();
  await expect(page.getByText(/5 of 5 ballooned/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Note', exact: true }).click();
  const editor = page.getByRole('textbox', { name: 'Text of the note' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Flags: {count of Cap flag}, red {count of Cap flag where Colour = red}');
  await page.getByRole('button', { name: 'count of Camp lamp' }).click();
  await page
    .locator('.paper, .desk, main')
    .first()
    .click({ position: { x: 4, y: 4 } });
  await kept(page);
  const address = page.url();
  const project = /projects\/([0-9a-f-]+)/.exec(address)![1];
  const noteOf = async (): Promise<string> => {
    const set = (await (await page.request.get(`/api/projects/${project}`)).json()) as {
      documents: { id: string; kind: string }[];
    };
    const sheet = set.documents.find(({ kind }) => kind === 'sheet')!.id;
    return (await page.request.get(`/api/projects/${project}/sheets/${sheet}/svg`)).text();
  };
  const words = async () => (await noteOf()).replace(/<style>.*?<\/style>|<[^>]*>/gs, ' ').replace(/\s+/g, ' ');
  await expect.poll(words).toMatch(/Flags: 13, red 9/);

  // Two flags more in the next revision: every count follows when it is taken over.
  await page.getByRole('link', { name: 'Changes', exact: true }).click();
  await page.getByRole('button', { name: 'Bring in a new revision' }).click();
  const bringing = page.getByRole('dialog', { name: 'Bring in a new revision' });
  await bringing.locator('input[type=file]').setInputFiles(plan('B'));
  await bringing.getByLabel('Why').fill('Two flags more');
  await bringing.getByRole('button', { name: 'Bring it in' }).click();
  const does = page.getByRole('region', { name: 'What it does' });
  await does.getByRole('button', { name: 'Take over all', exact: true }).click({ timeout: 60_000 });
  const taking = page.getByRole('dialog');
  await taking.getByRole('textbox', { name: 'Letter' }).fill('B');
  await taking.getByRole('textbox', { name: 'What changed' }).fill('Two flags more');
  await taking.getByRole('button', { name: 'Take over', exact: true }).click();
  await expect(taking).toHaveCount(0, { timeout: 60_000 });
  await kept(page);
  await expect.poll(words, { timeout: 60_000 }).toMatch(/Flags: 15, red 11/);
});
