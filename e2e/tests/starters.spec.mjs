import { expect, test } from '@playwright/test';
import { add, fact, field, newPiece, readStl, saved } from './desk.mjs';

const cards = (page) => page.locator('[data-starter]');

test('a starter becomes a file by typing a name', async ({ page }) => {
  await page.goto('/pieces');
  expect(await cards(page).count()).toBeGreaterThanOrEqual(12);
  await page.getByRole('button', { name: 'Key fob' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('GUĐRÚN');
  await page.getByLabel('Name of the piece').fill('Fob, Guđrún');
  await expect(page.locator('[data-state]')).toHaveText('saved');
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download STL' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('fob-guđrún.stl');
  const stl = await readStl(await download.path());
  expect(stl.closed).toBe(true);
  [72, 24, 4.5].forEach((size, axis) => expect(stl.size[axis]).toBeCloseTo(size, 2));
  // The rest is one click away, and the way back too.
  await page.getByRole('link', { name: 'Open in full' }).click();
  await expect(page.locator('.plan-svg .element')).toHaveCount(2);
  await page.getByRole('link', { name: 'Short form' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('GUĐRÚN');
});

test('every starter opens with its form and nothing to mend', async ({ page }) => {
  test.slow();
  await page.goto('/pieces');
  const names = await cards(page).evaluateAll((all) => all.map((one) => one.innerText.trim()));
  for (const name of names) {
    await page.goto('/pieces');
    await page.getByRole('button', { name, exact: true }).click();
    await expect(page.locator('[data-fact=size]')).toHaveText(/ (mm|in)$/, { timeout: 15_000 });
    await expect(page.locator('.form-fields .field').nth(1)).toBeVisible();
    await expect(page.getByText('Preflight has nothing to say'), name).toBeVisible();
    await expect(page.locator('footer li'), name).toHaveCount(0);
  }
});

test('a piece of one’s own is kept as a starter that asks for chosen fields', async ({ page }) => {
  await newPiece(page, 'Berth tag');
  await add(page, 'Hole');
  await expect(page.locator('.plan-svg .element')).toHaveCount(1);
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('{{name}');
  await saved(page);
  // Braces without a text behind them are said, and mended by one click.
  await field(page, 'Words').fill('{name}');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await page.getByRole('button', { name: 'Make it a text of the piece' }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await page.getByRole('navigation').getByRole('button', { name: 'Keep as a starter' }).click();
  const dialog = page.getByRole('dialog', { name: 'Keep as a starter' });
  await dialog.getByRole('checkbox', { name: 'Words' }).uncheck();
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Who is it for?');
  await dialog.getByRole('checkbox', { name: 'Hole across' }).check();
  await dialog.getByLabel('Called').fill('Berth tag, blank');
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByText('Kept as the starter “Berth tag, blank”')).toBeVisible();

  await page.goto('/pieces');
  await page.getByRole('button', { name: 'Berth tag, blank', exact: true }).first().click();
  await page.getByLabel('Who is it for?').fill('Zoë');
  await page.getByLabel('Hole across').fill('4');
  await expect(page.locator('[data-state]')).toHaveText('saved');
  await page.getByRole('link', { name: 'Open in full' }).click();
  await expect(page.locator('.plan-svg .element[data-key="component-1/lettering-1"]')).toBeVisible();
  await expect(fact(page, 'size')).toContainText('72');
  await page.goto('/pieces');
  const own = (name) => page.locator(`[data-starter][data-name="${name}"]`);
  await own('Berth tag, blank').getByRole('button', { name: 'Rename' }).click();
  await page.getByLabel('New name of the starter').locator('visible=true').fill('Berth, Ærø');
  await page.keyboard.press('Enter');
  await expect(own('Berth, Ærø')).toBeVisible();

  // The piece takes the place of what it made before; under another name it is one more, with a number.
  const keep = async (choose) => {
    await page.goto('/pieces');
    await page
      .locator('.cards a', { hasText: /^Berth tag$/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Keep as a starter' }).first().click();
    await choose();
    await dialog.getByRole('button', { name: 'Keep it' }).click();
    await expect(dialog).toBeHidden();
    await page.goto('/pieces');
  };
  await keep(() => dialog.getByLabel('Kept as').selectOption('in the place of Berth, Ærø'));
  await expect(page.locator('[data-starter][data-name^="Berth, Ærø"]')).toHaveCount(1);
  await keep(() => dialog.getByLabel('Called').fill('Berth, Ærø'));
  await expect(own('Berth, Ærø 2')).toBeVisible();

  await own('Berth, Ærø').getByRole('button', { name: 'Delete' }).click();
  await expect(own('Berth, Ærø')).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(own('Berth, Ærø')).toBeVisible();
  for (const name of ['Berth, Ærø', 'Berth, Ærø 2']) {
    await own(name).getByRole('button', { name: 'Delete' }).click();
    await expect(own(name)).toHaveCount(0);
  }
});
