import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { add, dimension, exportStl, fact, field, newPiece, opened, readStl, saved, type } from './desk.mjs';

test('from an empty page to a printable key fob', async ({ page }) => {
  const faults = [];
  page.on('pageerror', (error) => faults.push(error.message));
  await newPiece(page, 'Cabin key, Åse');
  await expect(page.getByText('A plate, ready for a name.')).toBeVisible();

  await add(page, 'Hole');
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 3 mm');
  await add(page, 'Lettering');
  // The words are ready to be typed over.
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('ÅSE');
  await expect(page.locator('.elevation-svg')).toContainText('ÅSE');
  await type(field(page, 'Letters tall'), '3/8 in');
  await type(field(page, 'stands above the plate'), '1,2');
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 4.2 mm');

  // Click a dimension and type: the plate grows and the lettering keeps its place.
  await dimension(page, 'width').click();
  await page.keyboard.type('80');
  await page.keyboard.press('Enter');
  await expect(fact(page, 'size')).toHaveText('80 × 24 × 4.2 mm');
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await saved(page);

  const { name, path } = await exportStl(page);
  expect(name).toBe('cabin-key-åse.stl');
  const stl = await readStl(path);
  expect(stl.closed).toBe(true);
  [80, 24, 4.2].forEach((size, axis) => expect(stl.size[axis]).toBeCloseTo(size, 3));
  const shown = Number.parseFloat(await fact(page, 'volume').innerText());
  expect(stl.volume / 1000).toBeCloseTo(shown, 2);
  const triangles = (await fact(page, 'triangles').innerText()).replace(/\D/g, '');
  expect(stl.count).toBe(Number(triangles));

  // All of it is still there after a reload, and can be taken back step by step.
  await page.reload();
  await opened(page, 'Cabin key, Åse');
  await expect(fact(page, 'size')).toHaveText('80 × 24 × 4.2 mm');
  await page.keyboard.press('ControlOrMeta+z');
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 4.2 mm');
  await page.keyboard.press('ControlOrMeta+Shift+z');
  await expect(fact(page, 'size')).toHaveText('80 × 24 × 4.2 mm');
  expect(faults).toEqual([]);
});

test('an inch piece takes inches and shows inches', async ({ page }) => {
  await newPiece(page, 'Sounding pipe 4', 'in');
  await type(field(page, 'Width'), '3');
  await expect(fact(page, 'size')).toHaveText('3 × 1 × 1/8 in');
  await type(field(page, 'Height'), '1 1/2');
  await type(field(page, 'Thickness'), '3 mm + 1/16');
  await expect(fact(page, 'size')).toHaveText('3 × 1 1/2 × 0.1806 in');
  await page.locator('.desk-head [value=mm]').check();
  await expect(fact(page, 'size')).toHaveText('76.2 × 38.1 × 4.59 mm');
});

test('recessed and cut through letters change the solid as they say', async ({ page }) => {
  await newPiece(page, 'Crate, quay 2');
  await add(page, 'Lettering');
  const cubic = async () => Number.parseFloat(await fact(page, 'volume').innerText());
  const raised = await cubic();
  await page.getByRole('radio', { name: 'recessed' }).check();
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 3 mm');
  await expect(field(page, 'goes into the plate')).toHaveValue('1.5 mm');
  const recessed = await cubic();
  expect(recessed).toBeLessThan(raised);
  await page.getByRole('radio', { name: 'through' }).check();
  await expect.poll(cubic).toBeLessThan(recessed);
  // NAME cut through loses the inside of its A; preflight says so.
  await expect(page.getByRole('button', { name: /Preflight:/ })).toContainText('1 to mend');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText('One part hangs on nothing and falls out')).toBeVisible();
});

test('the same solid is taken away as STL text, 3MF and OBJ', async ({ page }) => {
  await newPiece(page, 'Formats');
  await add(page, 'Hole');
  await saved(page);
  await page.getByRole('button', { name: 'Export' }).click();
  for (const [format, ending, begins] of [
    ['STL, text', 'stl', 'solid'],
    ['3MF', '3mf', 'PK'],
    ['OBJ', 'obj', '# Kalotype'],
  ]) {
    await page.getByRole('radio', { name: format, exact: true }).check();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: /^Download/ }).click(),
    ]);
    expect(download.suggestedFilename()).toBe(`formats.${ending}`);
    const bytes = await readFile(await download.path());
    expect(bytes.subarray(0, begins.length).toString()).toBe(begins);
  }
});
