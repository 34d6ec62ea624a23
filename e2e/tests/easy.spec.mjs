// What fresh eyes tripped over: figures in their own words, steps back, circles, names of files.
import { expect, test } from '@playwright/test';
import { add, choose, fact, field, newPiece, saved, type } from './desk.mjs';

test('figures are typed as people say them, and each Enter is a step back', async ({ page }) => {
  await newPiece(page, 'Figures');
  const widths = ['61', '62', '63 mm', '2.5 in'];
  for (const width of widths) {
    await type(field(page, 'Width'), width);
    await page.keyboard.press('Enter');
  }
  await expect(fact(page, 'size')).toHaveText('63.5 × 24 × 3 mm');
  await saved(page);
  // From within the field: nothing is half typed in it.
  for (const size of ['63', '62', '61', '72']) {
    await page.keyboard.press('ControlOrMeta+z');
    await expect(fact(page, 'size')).toHaveText(`${size} × 24 × 3 mm`);
  }
  await add(page, 'Hole');
  await choose(page, 'Shape', 'square');
  await type(field(page, 'Turned by'), '30 degrees');
  await page.keyboard.press('Enter');
  await expect(field(page, 'Turned by')).toHaveValue('30°');
  await type(field(page, 'Turned by'), '6 mm');
  await expect(page.getByText('That is a length; type degrees, such as 45 or 45°.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(field(page, 'Turned by')).toHaveValue('30°');
});

test('a band of the elevation is chosen by its label', async ({ page }) => {
  await newPiece(page, 'Labels');
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('ÅSE');
  await saved(page);
  await page.keyboard.press('Escape');
  const label = (name) => page.locator('.elevation-svg .band', { hasText: name }).locator('.label-reach');
  await label('Plate').click();
  await expect(field(page, 'Thickness')).toBeVisible();
  await label('ÅSE').click();
  await expect(field(page, 'Words')).toHaveValue('ÅSE');
});

test('words go over and under a circle and have room at once', async ({ page }) => {
  await newPiece(page, 'Medal');
  await choose(page, 'Outline', 'ellipse');
  await type(field(page, 'Width'), '64');
  await type(field(page, 'Height'), '64');
  await add(page, 'Rim');
  for (const [words, way] of [
    ['SKERRY POINT FERRIES', 'clockwise'],
    ['QUAY TWO', 'upright'],
  ]) {
    await add(page, 'Lettering');
    await expect(field(page, 'Words')).toBeFocused();
    await page.keyboard.type(words);
    await saved(page);
    await choose(page, 'Runs', way);
    await saved(page);
    await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  }
});

test('files are named by the words, and words in braces are at hand', async ({ page }) => {
  await newPiece(page, 'Key fob');
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('Łucja');
  await saved(page);
  await page.getByRole('button', { name: 'Export' }).click();
  await expect(page.getByText('key-fob-łucja.3mf')).toBeVisible();
  await page.getByLabel('Named by').fill('{nam}');
  await expect(page.getByText('There is no {nam}.')).toBeVisible();
  await page.getByLabel('Named by').fill('fob');
  await page.getByRole('button', { name: '{words}' }).click();
  await expect(page.getByText('fob-łucja.3mf', { exact: true })).toBeVisible();
});
