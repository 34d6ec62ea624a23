import { expect, test } from '@playwright/test';
import { add, choose, dimension, exportStl, fact, field, newPiece, readStl, saved, type } from './desk.mjs';

const band = (page, key) => page.locator(`.elevation-svg .band[data-key$="${key}"]`);

test('a medallion with chamfers, a countersunk hole and a rounded anchor', async ({ page }) => {
  await newPiece(page, 'Medallion');
  await choose(page, 'Outline', 'ellipse');
  await type(field(page, 'Width'), '50');
  await type(field(page, 'Height'), '50');
  await type(field(page, 'Thickness'), '5');
  await choose(page, 'Top edge', 'chamfer');
  await type(field(page, 'Top edge, size'), '2');
  await choose(page, 'Foot edge', 'chamfer');
  await type(field(page, 'Foot edge, size'), '2');
  // 2 frusta of 2 mm and 1 mm of disc: 9.206 cm³ (closed form), less what flattening takes.
  await expect(fact(page, 'volume')).toHaveText('9.20 cm³');

  await add(page, 'Hole');
  await choose(page, 'Across, measured from', 'centre');
  await choose(page, 'Near edge', 'chamfer');
  await type(field(page, 'Near edge, size'), '1.5');
  await add(page, 'Emblem');
  await page.locator('[aria-haspopup=listbox]').click();
  await page.getByRole('option', { name: 'Anchor' }).click();
  await type(field(page, 'Wide'), '12');
  await choose(page, 'Edges', 'round');
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await saved(page);
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
  [50, 50, 6].forEach((size, axis) => expect(stl.size[axis]).toBeCloseTo(size, 2));
});

test('a tag with a field, a loop led around the outline, and a rim', async ({ page }) => {
  await newPiece(page, 'Tag');
  await add(page, 'Recess');
  await choose(page, 'How deep', 'floor');
  await type(field(page, 'Depth of the recess'), '1');
  await expect(band(page, 'recess-1')).toContainText('−2 mm');
  await add(page, 'Loop');
  await expect(fact(page, 'size')).toHaveText('82 × 24 × 3 mm');
  await type(field(page, 'Direction'), '90');
  await expect(fact(page, 'size')).toHaveText('72 × 34 × 3 mm');

  // Led by hand to the right end.
  await page.getByRole('button', { name: 'Fit' }).click();
  const ring = await page
    .locator('.plan-svg .element[data-key="component-1/loop-1"] path')
    .first()
    .boundingBox();
  const blank = await page.locator('.plan-svg .blank').boundingBox();
  await page.mouse.move(ring.x + ring.width * 0.2, ring.y + ring.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(blank.x + blank.width - 20, blank.y + blank.height / 2, { steps: 5 });
  await page.mouse.move(blank.x + blank.width + 20, blank.y + blank.height * 0.66, { steps: 5 });
  await page.mouse.up();
  const angle = async () => Math.abs(Number.parseFloat(await field(page, 'Direction').inputValue()));
  await expect.poll(angle).toBeLessThan(30);

  await add(page, 'Lettering');
  await expect(band(page, 'lettering-1')).toContainText('+1.5 mm');
  await add(page, 'Rim');
  await dimension(page, 'rim-width').click();
  await page.keyboard.type('3');
  await page.keyboard.press('Enter');
  await expect(field(page, 'Wide')).toHaveValue('3 mm');
  await band(page, 'lettering-1').focus();
  await choose(page, 'How high', 'level-with-rim');
  // From the floor at 1 mm to the rim at 4 mm.
  await expect(band(page, 'lettering-1')).toContainText('+3 mm');
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
});

test('every outline can be chosen and comes to the same overall size', async ({ page }) => {
  await newPiece(page, 'Outlines');
  const outlines = await page
    .getByLabel('Outline', { exact: true })
    .locator(':scope > option')
    .evaluateAll((options) => options.map((option) => option.value));
  expect(outlines.length).toBeGreaterThan(10);
  const volumes = new Set();
  for (const outline of [...outlines.slice(1), outlines[0]]) {
    await choose(page, 'Outline', outline);
    await saved(page);
    await expect(page.getByLabel('Outline', { exact: true })).toHaveValue(outline);
    // A polygon is regular until each measure is asked for on its own.
    if (outline !== 'polygon')
      await expect(fact(page, 'size')).toHaveText(/^(72|71.9\d) × (24|23.9\d) × 3 mm$/);
    volumes.add(await fact(page, 'volume').innerText());
  }
  expect(volumes.size).toBeGreaterThan(8);
  // Each corner on its own.
  await page.getByText('Each corner on its own').click();
  await choose(page, 'Top left corner', 'chamfer');
  await type(field(page, 'Top left corner, size'), '7');
  await expect(page.locator('.settings').getByLabel('Corners', { exact: true })).toHaveValue('mixed');
  await page.keyboard.press('ControlOrMeta+z');
});

test('an edge there is no room for is reduced and said', async ({ page }) => {
  await newPiece(page, 'Edges');
  await add(page, 'Lettering');
  await choose(page, 'Edges', 'round');
  await type(field(page, 'Edges, size'), '1,4');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  // In the list and at the field.
  await expect(page.getByText('the thinnest stroke or wall')).toHaveCount(2);
});
