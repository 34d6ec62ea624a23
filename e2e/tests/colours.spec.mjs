import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { add, fact, field, newPiece, readStl, exportStl, saved, type } from './desk.mjs';

const colour = (page) => field(page, 'Colour');
const swaps = (page) => page.locator('.desk-foot').getByRole('button', { name: /colours/ });

test('letters in another colour: seen, counted, swapped and taken away in parts', async ({ page }) => {
  await newPiece(page, 'Two colours');
  await add(page, 'Hole');
  await add(page, 'Lettering');
  await type(field(page, 'Words'), 'ÅSE');
  await saved(page);
  await expect(swaps(page)).toBeHidden();
  const before = await fact(page, 'volume').textContent();
  await colour(page).selectOption('Lifebuoy orange');
  await expect(swaps(page)).toHaveText('2 colours, 1 swap');
  await expect(fact(page, 'volume')).toHaveText(before);
  await expect(page.locator('.elements .adds')).toHaveAttribute('fill', '#e2682b');
  await expect(page.locator('.elevation-svg .swap-word')).toHaveText('L16');

  // Rooted, it shares layers with the plate, and the page says how to cure it.
  await type(field(page, 'Goes down into it by'), '0.6');
  await saved(page);
  await swaps(page).click();
  const sheet = page.getByRole('dialog', { name: 'Colours with one nozzle' });
  await expect(sheet.getByText('leave the root out.')).toBeVisible();
  await expect(sheet.getByLabel('Lines for the printer')).toHaveValue(
    '; before layer 16, Z 3.000 mm: Lifebuoy orange\nM600\n',
  );
  await sheet.getByText('M25', { exact: true }).click();
  await sheet.getByLabel('A colour starts').selectOption('2 layers up');
  await expect(sheet.getByText('before layer 18', { exact: true })).toBeVisible();
  await expect(sheet.getByLabel('Lines for the printer')).toHaveValue(
    '; before layer 18, Z 3.400 mm: Lifebuoy orange\nM25\n',
  );
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await sheet.getByRole('button', { name: 'Copy the lines' }).click();
  await expect(sheet.getByRole('status')).toHaveText('The lines are copied.');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain('M25');
  // The list, the lines and what is copied or saved are of one answer, whatever is typed.
  for (const [height, layer] of [
    ['0.1', 32],
    ['0.25', 15],
  ]) {
    await type(sheet.getByLabel('Height of a layer'), height);
    await expect(sheet.getByText(`before layer ${layer}`, { exact: true })).toBeVisible();
    await expect(sheet.getByLabel('Lines for the printer')).toHaveValue(
      new RegExp(`^; before layer ${layer}, .*\nM25\n$`),
    );
    await expect(sheet.getByRole('status')).toHaveText('');
    await sheet.getByRole('button', { name: 'Copy the list' }).click();
    expect(await page.evaluate(() => navigator.clipboard.readText())).toContain(`Before layer ${layer},`);
    const saved = await sheet.getByRole('link', { name: 'Save the list' }).getAttribute('href');
    expect(decodeURIComponent(saved)).toContain(`Before layer ${layer},`);
  }
  await sheet.getByRole('button', { name: 'Leave the root out' }).click();
  await expect(sheet.getByText('leave the root out.')).toHaveCount(0);
  await sheet.getByRole('button', { name: 'Close' }).click();

  // The files: what is listed is what comes.
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('button', { name: 'One nozzle? Colour changes…' }).click();
  await expect(sheet).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByText('STL', { exact: true }).click();
  await expect(page.getByText(/^two-colours-.*harbour-blue\.stl$/)).toBeVisible();
  await expect(page.getByText(/^two-colours-.*lifebuoy-orange\.stl$/)).toBeVisible();
  await page.getByLabel('Named by').fill('fob {colour} {date}');
  await expect(page.getByText(/fob-lifebuoy-orange-20\d\d-\d\d-\d\d\.stl/)).toBeVisible();
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download ZIP' }).click(),
  ]);
  expect(zip.suggestedFilename()).toMatch(/^fob-20\d\d-\d\d-\d\d\.zip$/);
  const bytes = await readFile(await zip.path());
  expect(bytes.subarray(0, 2).toString()).toBe('PK');
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);

  // The short form leads there, too.
  const address = page.url();
  await page.goto(`${address}/form`);
  await page.getByRole('link', { name: 'One nozzle? Colour changes…' }).click();
  await expect(sheet).toBeVisible();
  await sheet.getByRole('button', { name: 'Close' }).click();

  // Taken back, there is one colour again.
  await page.locator('.elevation-svg .band[data-key="component-1/lettering-1"]').focus();
  await colour(page).selectOption('as the plate');
  await expect(swaps(page)).toBeHidden();
});

test('floors and faces take a colour of their own, and bodies can be looked at one by one', async ({
  page,
}) => {
  await newPiece(page, 'Inlays');
  await field(page, 'Front').selectOption('Sail white');
  await expect(page.locator('.plan-svg .blank')).toHaveAttribute('fill', '#f2efe6');
  await expect(field(page, 'Inlaid by')).toHaveValue('0.6 mm');
  await add(page, 'Recess');
  await field(page, 'Floor').selectOption('Tar black');
  await expect(page.locator('.elements .cuts')).toHaveAttribute('fill', '#23262b');
  await expect(swaps(page)).toContainText('3 colours');
  await page.getByLabel('Bodies shown').selectOption('Tar black');
  await page.getByLabel('Bodies shown').selectOption('taken apart');
  await page.keyboard.press('Escape');

  // A copy takes its colour into another piece.
  await page.locator('.elevation-svg .band[data-key="component-1/recess-1"]').focus();
  await page.keyboard.press('ControlOrMeta+c');
  await newPiece(page, 'Other piece');
  await page.locator('.plan-svg').click({ position: { x: 40, y: 40 } });
  await page.keyboard.press('ControlOrMeta+v');
  await expect(field(page, 'Floor')).toHaveValue('tar');
});

test('filaments are added, changed and used', async ({ page }) => {
  await page.goto('/filaments');
  await page.getByRole('button', { name: 'Add a filament' }).click();
  const last = page.locator('.filaments tbody tr').last();
  await last.getByLabel('Name').fill('Buoy pink');
  await last.getByLabel('Name').press('Tab');
  await expect(page.getByRole('status')).toHaveText('Buoy pink is kept.');
  await last.getByLabel('Price of a spool').fill('50');
  await last.getByLabel('Price of a spool').press('Tab');
  await last.getByLabel('Density in g/cm³').fill('dense');
  await last.getByLabel('Density in g/cm³').press('Tab');
  await expect(page.getByRole('alert')).toHaveText('“dense” is no number.');

  await newPiece(page, 'Buoy');
  const before = Number(await fact(page, 'cost').textContent());
  await colour(page).selectOption('Buoy pink');
  // 72 × 24 × 3 mm with 3 mm corners is 5.16 cm³: 6.40 g at 50 for a kilogram.
  await expect(fact(page, 'cost')).toHaveText('0.32');
  expect(before).toBeLessThan(0.2);
  await page.reload();
  await expect(colour(page)).toHaveValue(/^own-/);
});

test('a filament is made once however fast its fields are left, and who comes second is told', async ({
  page,
}) => {
  await page.goto('/filaments');
  await page.route('**/api/filaments', async (route) => {
    if (route.request().method() === 'POST') await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await page.getByRole('button', { name: 'Add a filament' }).click();
  const last = page.locator('.filaments tbody tr').last();
  await last.getByLabel('Name').fill('Tide teal');
  await last.getByLabel('Name').press('Tab');
  await last.getByLabel('Price of a spool').fill('31');
  await last.getByLabel('Price of a spool').press('Tab');
  await last.getByLabel('Density in g/cm³').fill('dense');
  await last.getByLabel('Density in g/cm³').press('Tab');
  await expect(page.getByRole('alert')).toHaveText('“dense” is no number.');
  const kept = async () =>
    (await (await page.request.get('/api/filaments')).json()).filter(({ name }) => name === 'Tide teal');
  const [one, ...more] = await kept();
  expect([one.spool_price, one.density, more.length]).toEqual([31, 1.24, 0]);

  // Somebody else is first: the row shows what they typed, and what was typed here is not lost.
  const change = { field: 'material', seen: 'PLA', value: 'PETG' };
  expect((await page.request.post(`/api/filaments/${one.id}`, { data: change })).ok()).toBe(true);
  await last.getByLabel('Material').fill('ASA');
  await last.getByLabel('Material').press('Tab');
  await expect(page.getByRole('alert')).toContainText('You typed “ASA”.');
  await expect(last.getByLabel('Material')).toHaveValue('PETG');
  await last.getByLabel('Material').fill('ASA');
  await last.getByLabel('Material').press('Tab');
  await expect(page.getByRole('status')).toHaveText('Tide teal is kept.');
  expect((await kept())[0].material).toBe('ASA');
});
