import type { Page } from '@playwright/test';

/** Long enough for the page to ask, which it does at once where it does. */
const ASKED = 1500;

/** Brings a file in as a project of its own, also where one of that name is there. */
export async function bringAsOwn(page: Page, file: string): Promise<void> {
  await page.waitForLoadState('networkidle'); // the projects are known
  await page.locator('input[type=file]').setInputFiles(file);
  const own = page.getByRole('button', { name: 'A project of its own' });
  await own.waitFor({ timeout: ASKED }).then(
    () => own.click(),
    () => {},
  );
}
