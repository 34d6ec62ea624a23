// Takes the pictures in docs/screenshots from the demo: `node screenshots.mjs` in e2e/, after
// `cargo build`. They are meant to be looked at and committed.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import config from './playwright.config.mjs';

const here = dirname(fileURLToPath(import.meta.url));
const out = join(here, '../docs/screenshots');
mkdirSync(out, { recursive: true });
const server = spawn(join(here, '../target/debug/kalotype'), ['demo', '--port', '7392'], {
  stdio: ['ignore', 'pipe', 'inherit'],
});
const home = await new Promise((resolve) => {
  server.stdout.on('data', (text) => resolve(String(text).match(/http:\S+/)[0]));
});

const browser = await chromium.launch(config.use.launchOptions);
const shoot = async (page, name) => page.screenshot({ path: join(out, `${name}.png`) });

async function piece(page, name) {
  await page.goto(`${home}pieces`);
  await page.getByRole('link', { name, exact: true }).first().click();
  await page.locator('[data-ready=yes]').waitFor();
  await page.waitForFunction(() => document.fonts.status === 'loaded');
  await page.evaluate(
    () =>
      new Promise((done) => {
        requestAnimationFrame(() => requestAnimationFrame(done));
      }),
  );
}

try {
  const page = await browser.newPage({ viewport: config.use.viewport });
  await page.addInitScript(() => localStorage.setItem('kalotype-hints-seen', 'yes'));
  await page.goto(`${home}pieces`);
  await page.waitForLoadState('networkidle');
  await shoot(page, 'pieces');

  await piece(page, 'Cabin key, Solveig');
  await page.locator('.elevation-svg .band[data-key="component-1/lettering-1"]').focus();
  await shoot(page, 'piece');

  await page.locator('[aria-haspopup=listbox]').click();
  await page.locator('.face-list [role=option]').first().waitFor();
  await shoot(page, 'chooser');
  await page.goto(`${home}typefaces`);
  await page.waitForLoadState('networkidle');
  await shoot(page, 'typefaces');

  await page.goto(`${home}pieces`);
  await page.getByRole('button', { name: 'Cabin key with a rim' }).click();
  await page.locator('[data-ready=yes]').waitFor();
  await page.waitForLoadState('networkidle');
  await shoot(page, 'form');

  await piece(page, 'Watch medal, Ólafur');
  await page.locator('.elevation-svg .band[data-key="component-1/lettering-1"]').focus();
  await shoot(page, 'circle');
  await piece(page, 'Name tag, Łucja');
  await shoot(page, 'contour');

  await piece(page, 'Berth plate, Marit');
  await page.locator('.plan-svg .element[data-key$="emblem-2"]').focus();
  await page.getByLabel('Placed by', { exact: true }).scrollIntoViewIfNeeded();
  await shoot(page, 'growing');

  await piece(page, 'Ferry Ægir, hull');
  await page.locator('.elevation-svg .band[data-key="plate"]').focus();
  await shoot(page, 'hull');

  await page.goto(`${home}shapes`);
  await page.getByLabel('Choose a drawing').setInputFiles('../demo/skerry-light.png');
  await page.locator('svg[data-ready=yes]').waitFor();
  await page.getByText('every colour for itself').click();
  await page.waitForLoadState('networkidle');
  await shoot(page, 'shapes');
  await page.goto(`${home}shapes/draw`);
  const board = page.locator('.draw-board[data-ready=yes]');
  await board.waitFor();
  await page.getByLabel('Mirrored').selectOption('across');
  await page.getByLabel('Limit, wide').fill('40');
  await page.getByLabel('Limit, wide').press('Enter');
  const box = await board.boundingBox();
  const scale = box.width / (await board.evaluate((svg) => svg.viewBox.baseVal.width));
  const on = (x, y) =>
    page.mouse.click(box.x + box.width / 2 + x * scale, box.y + box.height / 2 - y * scale);
  for (const [x, y] of [
    [0, 10],
    [8, 15],
    [16, 6],
    [0, -16],
  ])
    await on(x, y);
  for (const index of [1, 2]) {
    await page.locator('.draw-points circle').nth(index).focus();
    await page.getByLabel('The line', { exact: true }).selectOption('smooth');
  }
  await page.waitForLoadState('networkidle');
  await shoot(page, 'draw');

  await piece(page, 'Sounding pipe 7, Þórunn');
  await page.getByLabel('Seen from').selectOption('around');
  await page.waitForTimeout(300);
  await shoot(page, 'cap');

  await piece(page, 'Desk sign, harbour office');
  await page.locator('.chips').getByRole('button', { name: 'Foot' }).click();
  await page.getByLabel('Components shown').selectOption('joined');
  await page.locator('.sliver').scrollIntoViewIfNeeded();
  await shoot(page, 'nameplate');

  await piece(page, 'Cabin key, Solveig');
  await page.locator('.elevation-svg .band[data-key="component-1/lettering-1"]').focus();
  await page.getByLabel('Words', { exact: true }).fill('SOLVEIG & ÅSE');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await shoot(page, 'preflight');
  await page.getByRole('button', { name: 'Undo' }).click();

  await piece(page, 'Tide medal, Ğülşah');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('listitem').filter({ hasText: 'triangles' }).first().waitFor();
  await shoot(page, 'export');
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();

  await piece(page, 'Watch medal, Ólafur');
  await page.getByLabel('Bodies shown').selectOption('apart');
  await page.getByRole('button', { name: /colours, / }).click();
  await page.waitForFunction(() => document.querySelector('#f-pause-lines').value !== '');
  await shoot(page, 'swaps');
  await page.goto(`${home}printers`);
  await page.getByRole('button', { name: 'Add a printer' }).click();
  const printer = page.getByRole('region', { name: 'New printer' });
  await printer.getByLabel('Name', { exact: true }).fill('Quay North, grey');
  await page.keyboard.press('Tab');
  const kept = page.getByRole('region', { name: 'Quay North, grey' });
  await kept.getByRole('button', { name: 'Say what went in' }).click();
  for (const [mm, how] of [
    ['0.15', 'mallet'],
    ['0.20', 'hand'],
    ['0.25', 'hand'],
    ...['0.30', '0.35', '0.40', '0.45', '0.50'].map((mm) => [mm, 'itself']),
  ]) {
    await kept.getByLabel(`${mm} mm`).selectOption(how);
  }
  await shoot(page, 'printers');
  await page.goto(`${home}meshes`);
  await page.getByLabel('Choose a mesh file').setInputFiles('../demo/ferry-hull.stl');
  await page.locator('[data-ready=yes]').waitFor();
  await page.waitForLoadState('networkidle');
  await shoot(page, 'mesh');

  const dark = await browser.newPage({ viewport: config.use.viewport, colorScheme: 'dark' });
  await dark.addInitScript(() => localStorage.setItem('kalotype-hints-seen', 'yes'));
  await piece(dark, 'Window ornament, east quay');
  await dark.locator('.elevation-svg .band[data-key="component-1/emblem-1"]').focus();
  await shoot(dark, 'piece-dark');
} finally {
  await browser.close();
  server.kill();
}
