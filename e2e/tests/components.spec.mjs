// Pieces of several components, from an empty page to the files.
import { expect, test } from '@playwright/test';
import { add, exportStl, fact, field, newPiece, opened, readStl, saved } from './desk.mjs';

const chip = (page, name) => page.locator('.chips').getByRole('button', { name, exact: true });
const slotWord = (page) => page.locator('.settings').getByText(/of room on either side/);

/** Types a figure and ends with Enter. */
async function put(page, label, text) {
  const input = field(page, label);
  await input.fill(text);
  await input.press('Enter');
  await saved(page);
}

test('a nameplate of two parts: an upright with its name cut through, and a foot with a slot for it', async ({
  page,
}) => {
  await newPiece(page, 'Harbour desk, Luçil');
  await put(page, 'Width', '120');
  await put(page, 'Height', '40');
  await put(page, 'Thickness', '4');
  await add(page, 'Lettering');
  await put(page, 'Words', 'LUCIL');
  await page.locator('.settings').getByRole('radio', { name: 'through', exact: true }).check();
  await saved(page);

  await page.getByLabel('Add a component').selectOption('block');
  await expect(chip(page, 'Block')).toHaveAttribute('aria-pressed', 'true');
  await put(page, 'Called', 'Foot');
  await put(page, 'Width', '140');
  await page.getByRole('button', { name: 'Cut a slot for Plate' }).click();
  await expect(slotWord(page)).toHaveText('4.1 mm wide, 0.05 mm of room on either side');
  await put(page, 'Leans back', '10');
  await expect(page.locator('.plan-svg .slot-mouth')).toBeVisible();

  await page.getByLabel('Seen from').selectOption('front');
  await add(page, 'Lettering');
  await put(page, 'Words', 'HARBOUR');
  await page.locator('.settings').getByRole('radio', { name: 'recessed', exact: true }).check();
  await saved(page);
  // A part of the name stands in the slot, which is said; one click brings it out.
  await page.getByRole('button', { name: /^Preflight: 1 to mend/ }).click();
  await page.getByRole('button', { name: /^Move it up by/ }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();

  // A thicker plate takes its slot along.
  await chip(page, 'Plate').click();
  await put(page, 'Thickness', '6');
  await page.getByRole('button', { name: 'Stands in Foot' }).click();
  await expect(slotWord(page)).toHaveText('6.1 mm wide, 0.05 mm of room on either side');

  // Undone in one step, on whichever component it was.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(slotWord(page)).toHaveText('4.1 mm wide, 0.05 mm of room on either side');

  const { path } = await exportStl(page);
  const { closed, size } = await readStl(path);
  expect(closed).toBe(true);
  // Side by side on the bed, 5 mm apart or a little more.
  expect(size[0]).toBeGreaterThanOrEqual(265);
  expect(size[0]).toBeLessThan(266.5);

  // Drawn apart along the joint, and a copy of the foot in another piece.
  await page.getByLabel('Components shown').selectOption('apart');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(page.getByText('Copied: Foot with all that is on it.')).toBeVisible();
  const nameplate = page.url();
  await newPiece(page, 'Another, Åse');
  await page.getByRole('button', { name: 'Paste', exact: true }).click();
  await expect(chip(page, 'Foot')).toBeVisible();
  await page.goto(nameplate);
  await expect(chip(page, 'Foot')).toBeVisible();

  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'each on its own' }).first().check();
  await expect(page.locator('dialog[open] li').filter({ hasText: /foot/ })).toBeVisible();
  await expect(page.locator('dialog[open] li').filter({ hasText: /plate/ })).toBeVisible();
});

test('letters stand on the leaning face of a bent bar, and what is there is found again', async ({
  page,
}) => {
  await page.goto('/pieces');
  await page.getByLabel('Name of the new piece').fill('Desk plate');
  await page.getByLabel('What it starts from').selectOption('bent-bar');
  await page.getByRole('button', { name: 'Start the piece' }).click();
  await opened(page, 'Desk plate');
  await expect(page.getByLabel('Seen from')).toHaveValue('front');
  const before = Number((await fact(page, 'volume').textContent()).split(' ')[0]);
  await add(page, 'Lettering');
  await put(page, 'Words', 'TIDE WATCH');
  await expect(fact(page, 'volume')).not.toHaveText(`${before.toFixed(2)} cm³`);
  const after = Number((await fact(page, 'volume').textContent()).split(' ')[0]);
  expect(after).toBeGreaterThan(before);
  // On another face it is not seen; chosen in the elevation of its own, it is.
  await page.getByLabel('Seen from').selectOption('top');
  await expect(page.locator('.plan-svg .element')).toHaveCount(0);
  await page.getByLabel('Seen from').selectOption('front');
  await expect(page.locator('.plan-svg .element')).toHaveCount(1);
  // Its legs are measured from elsewhere, and it stays as large as it is.
  await page.locator('.plan-svg .blank').click({ position: { x: 8, y: 8 } });
  await expect(field(page, 'Base')).toHaveValue('38 mm');
  await page.getByLabel('Both run from').selectOption('straight');
  await expect(field(page, 'Base')).not.toHaveValue('38 mm');
  await expect(page.getByRole('img', { name: 'run from where the bend ends' })).toBeVisible();
  await expect(fact(page, 'volume')).toHaveText(`${after.toFixed(2)} cm³`);
  await page.getByLabel('Both run from').selectOption('corner');
  await expect(field(page, 'Base')).toHaveValue('38 mm');
  // What cannot be is said at its field, and the solid stays.
  await field(page, 'Bend inside').fill('60');
  await expect(page.getByText(/The bend would take up/)).toBeVisible();
  await expect(fact(page, 'volume')).toHaveText(`${after.toFixed(2)} cm³`);
});
