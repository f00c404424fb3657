// npm run pictures [name …]: takes the screenshots of the README anew, from the demo data of a server of its own.
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect } from '@playwright/test';
import { findProgram, projectRoot } from './setup.mjs';

const target = join(projectRoot, 'docs/screenshots');
const scratch = mkdtempSync(join(tmpdir(), 'sledge-pictures-'));
const LONG = { timeout: 120_000 };

/** Brings the page to what the picture shows; what changes the project comes last. */
const pictures = {
  projects: async ({ go, page }) => {
    await go('/projects');
    await expect(page.locator('.card svg, .card img')).toHaveCount(2, LONG);
  },
  model: async ({ station, page }) => {
    await station('model');
    await page.getByRole('treeitem').filter({ hasText: 'Hand winch 350' }).first().click();
  },
  'model-inspector': async ({ station, page }) => {
    await station('model');
    await page.getByPlaceholder(/^Name, number/).fill('rail post');
    await page.getByRole('treeitem').filter({ hasText: 'Rail post' }).first().click();
  },
  'model-findings': async ({ station, page }) => {
    await station('model');
    await page.getByRole('button', { name: /to decide$/ }).click();
  },
  'model-layout': async ({ layout, page }) => {
    await layout('model');
    await page.getByRole('treeitem').filter({ hasText: 'Cap flag' }).click();
    await page.getByRole('combobox', { name: 'Apart by' }).click();
    await page.getByRole('option', { name: 'Colour' }).click();
    await page.keyboard.press('Escape');
  },
  bill: async ({ station, page }) => {
    await station('bill');
    await page.getByRole('gridcell', { name: 'Cross-bearer', exact: true }).click();
  },
  'bill-columns': async ({ station, page }) => {
    await station('bill');
    await page.getByRole('gridcell', { name: 'Stanchion', exact: true }).click();
    await page.getByRole('button', { name: 'column', exact: true }).click();
  },
  'bill-renumber': async ({ buyers, page }) => {
    await buyers();
    await page.getByRole('button', { name: /^Renumber/ }).click();
    await page.getByRole('textbox', { name: 'Step' }).fill('10');
    await expect(page.getByRole('dialog').getByRole('status')).toContainText('another number');
  },
  'bill-catalogues': async ({ buyers, page }) => {
    await buyers();
    await page.getByRole('button', { name: 'Catalogues' }).click();
    await expect(page.getByRole('dialog')).toContainText('is written');
  },
  'bill-form': async ({ buyers, page }) => {
    await buyers();
    await page.getByRole('button', { name: 'Hand over' }).click();
    await page.getByRole('menuitem', { name: /^In the company’s own form/ }).click();
    await page.getByRole('button', { name: 'How it is filled …' }).click();
    await expect(page.getByRole('application', { name: /^Sheet Order/ })).toBeVisible(LONG);
  },
  sheets: async ({ sheet, page }) => {
    await sheet('Assembly');
    await page.getByRole('contentinfo').getByRole('button', { name: '25', exact: true }).click();
  },
  'sheets-exploded': async ({ sheet }) => sheet('Exploded'),
  'sheets-section': async ({ sheet, page }) => {
    await sheet('Section');
    await page.getByLabel('Section A', { exact: true }).click({ position: { x: 6, y: 30 } });
  },
  buying: async ({ station, page }) => {
    await station('buying');
    await page.getByText(/^Bars and cuts/).click();
    const post = page.getByRole('button', { name: /Rail post, 196 mm/ }).first();
    await expect(post).toBeVisible(LONG);
    await post.click();
    await expect(page.getByRole('region', { name: 'The picked line' })).toContainText('Rail post');
  },
  changes: async ({ station, page }) => {
    await station('changes');
    const set = page.getByRole('treeitem').filter({ hasText: 'Side rail set, left' }).first();
    await set.click(LONG);
    await expect(page.getByText(/^(Waiting|Drawing the)/)).toHaveCount(0, LONG);
  },
  catalogue: async ({ go, page, get }) => {
    const list = await get('/api/catalogues');
    await go(`/catalogues/${list.find(({ name }) => name === 'Camp workshop').id}`);
    await page
      .getByRole('row', { name: /BN-0420/ })
      .getByRole('gridcell')
      .nth(4)
      .click();
  },
  'model-poses': async ({ station, page }) => {
    await station('model');
    await page.getByRole('button', { name: 'Poses: take the machine apart' }).click();
    const poses = page.getByRole('complementary', { name: 'Poses' });
    await poses.getByRole('button', { name: 'New pose' }).click();
    await page.getByRole('menuitem', { name: 'Taken apart down to the parts' }).click();
    await expect(poses.getByRole('listitem').first()).toBeVisible(LONG);
    await poses.getByRole('listitem').filter({ hasText: 'Core box with lid' }).getByRole('button').first().click();
    await page.waitForTimeout(3000); // the machine has come apart
  },
  'sheets-dimensions': async ({ sheet, page }) => {
    await sheet('Cover');
    await page
      .getByRole('navigation', { name: 'Sheets of this project' })
      .getByRole('button', { name: 'Sheet', exact: true })
      .click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Overall');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Overall', level: 2 })).toBeVisible(LONG);
    await page.getByRole('button', { name: 'Place view' }).click();
    await page.getByRole('menuitem', { name: 'front', exact: true }).click();
    await expect(page.locator('[data-ghost]')).toBeVisible(LONG);
    await page.getByRole('application').focus();
    await page.keyboard.press('Enter');
    for (const side of ['width', 'height']) {
      await page
        .getByLabel('View front')
        .first()
        .click({ position: { x: 4, y: 4 } });
      await page.getByRole('button', { name: side, exact: true }).click();
    }
    await page
      .getByLabel('View front')
      .first()
      .click({ position: { x: 4, y: 4 } });
    await page.getByRole('combobox', { name: 'Faces', exact: true }).click();
    await page.getByRole('option', { name: /colours/ }).click();
    await page.getByRole('button', { name: 'Enlarge a detail' }).click();
    await page.waitForTimeout(3000); // its own lines have been asked for
    await expect(page.getByText('Drawing the view …')).toHaveCount(0, LONG);
    await page.waitForTimeout(3000);
  },
};

const wanted = process.argv.slice(2);
const isWanted = (name) => wanted.length === 0 || wanted.includes(name);
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, [join(projectRoot, 'scripts/start.mjs')], {
  env: { ...process.env, SLEDGEBOARD_DATA: join(scratch, 'data'), PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
let browser = null;
try {
  browser = await chromium.launch({
    executablePath: findProgram('chromium', 'chromium-browser'),
    args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
  });
  await new Promise((resolve, reject) => {
    server.stdout.on('data', (text) => String(text).includes('is ready') && resolve());
    server.on('exit', () => reject(new Error('The server ended.')));
  });
  const get = async (path) => (await fetch(base + path)).json();
  const projects = await demoProjects(get);
  if (isWanted('printed-sheet')) await printSheet(projects.sledge);
  for (const [name, show] of Object.entries(pictures)) {
    if (!isWanted(name)) continue;
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.addInitScript(() => localStorage.setItem('hints-seen', '3'));
    try {
      await show(driverOf(page, projects, get));
      for (const told of await page.locator('.mantine-Notification-root').all()) await told.getByRole('button').click();
      await page.mouse.move(640, 790);
      await page.waitForTimeout(1500); // what fades and turns has come to rest
      await page.screenshot({ path: join(target, `${name}.png`) });
      console.log(name);
    } catch (error) {
      process.exitCode = 1;
      console.error(`${name} was not taken: ${error.message}`);
    }
    await page.context().close();
  }
} finally {
  await browser?.close();
  if (server.kill('SIGTERM')) await new Promise((resolve) => server.once('exit', resolve));
  rmSync(scratch, { recursive: true, force: true });
}

/** Once both projects of the demo and their later revisions are there. */
async function demoProjects(get) {
  for (const end = Date.now() + 300_000; Date.now() < end;) {
    const list = await get('/api/projects');
    const find = (words) => list.find(({ name }) => words.test(name)).id;
    if (list.length === 2 && list.every(({ behind }) => behind > 0))
      return { sledge: find(/sledge/), layout: find(/site plan/) };
    await new Promise((resolve) => setTimeout(resolve, 2000));
  }
  throw new Error('The demo was not there after five minutes.');
}

function driverOf(page, { sledge, layout }, get) {
  const go = async (path) => {
    await page.goto(base + path);
    await page.waitForLoadState('networkidle');
    await expect(page.locator('.shapes')).toHaveCount(0, LONG);
  };
  const station = (name) => go(`/projects/${sledge}/${name}`);
  return {
    page,
    get,
    go,
    station,
    layout: (name) => go(`/projects/${layout}/${name}`),
    buyers: async () => {
      await station('bill');
      await page.getByRole('tab', { name: 'Buyer’s list' }).click();
      await expect(page.getByRole('row', { name: /^A4-70/ })).toBeVisible(LONG);
    },
    sheet: async (name) => {
      await station('sheets');
      await page
        .getByRole('navigation', { name: 'Sheets of this project' })
        .getByRole('button', { name: new RegExp(`^Sheet \\d, ${name}`) })
        .click();
      await expect(page.getByRole('heading', { name, level: 2 })).toBeVisible(LONG);
      await page.waitForTimeout(3000); // its views are drawn
    },
  };
}

/** The assembly sheet as it is printed. */
async function printSheet(project) {
  const pdf = join(scratch, 'set.pdf');
  const answer = await fetch(`${base}/api/projects/${project}/set/pdf`);
  if (!answer.ok) throw new Error(`The set cannot be printed: ${await answer.text()}`);
  writeFileSync(pdf, Buffer.from(await answer.arrayBuffer()));
  const options = ['-png', '-singlefile', '-f', '2', '-l', '2', '-scale-to-x', '1280', '-scale-to-y', '-1'];
  execFileSync('pdftoppm', [...options, pdf, join(target, 'printed-sheet')]);
  console.log('printed-sheet');
}

function freePort() {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port: free } = probe.address();
      probe.close(() => resolve(free));
    });
  });
}
