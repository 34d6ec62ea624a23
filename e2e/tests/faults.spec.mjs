import { expect, test } from '@playwright/test';
import { add, fact, field, newPiece, saved, type } from './desk.mjs';

test('what does not fit stays in its field with a reason, and the last good piece stays', async ({
  page,
}) => {
  await newPiece(page, 'Faults');
  await add(page, 'Hole');
  await page.keyboard.press('Escape');
  await page
    .locator('.plan-svg rect')
    .first()
    .click({ position: { x: 60, y: 580 } });
  const reason = page.locator('.settings .field-error');
  for (const [label, text, words] of [
    ['Width', 'wide', 'not a number or a unit'],
    ['Width', '10000', '1 mm to 500 mm'],
    ['Width', '-5', '1 mm to 500 mm'],
    ['Width', '', 'Type a length'],
    ['Width', '3/0', 'divides by zero'],
  ]) {
    await type(field(page, label), text || ' ');
    await expect(reason.filter({ hasText: words })).toBeVisible();
    await expect(field(page, label)).toHaveAttribute('aria-invalid', 'true');
    // Escape takes back all that was typed since the field was entered.
    await page.keyboard.press('Escape');
    await expect(field(page, label)).not.toHaveAttribute('aria-invalid', 'true');
    await expect(fact(page, 'size')).toHaveText('72 × 24 × 3 mm');
  }
  // A figure that is larger than can be is made as large as can be, and the field says so.
  await type(field(page, 'Corner size'), '13');
  await page.keyboard.press('Enter');
  const note = page.locator('.field-note').filter({ hasText: /12 mm at most.*used instead of 13 mm/ });
  await expect(note.first()).toBeVisible();
  await page.keyboard.press('ControlOrMeta+z');
  await expect(note).toHaveCount(0);
  await page.locator('.plan-svg .element').first().focus();
  await type(field(page, 'Across'), '30');
  await expect(reason.filter({ hasText: 'does not fit' })).toBeVisible();
});

test('a letter the face lacks is named and a face that has it is one click away', async ({ page }) => {
  await newPiece(page, 'Жук');
  await add(page, 'Lettering');
  await page.locator('[aria-haspopup=listbox]').click();
  await page.locator('[data-typeface=anton]').click();
  await type(field(page, 'Words'), 'Ж');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText('Anton does not have “Ж”')).toBeVisible();
  await page.getByRole('button', { name: /^Use / }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await expect(page.locator('.elevation-svg')).toContainText('Ж');
});

test('five hundred letters are refused at the words, and nothing is lost', async ({ page }) => {
  await newPiece(page, 'Long');
  await add(page, 'Lettering');
  // New words would give way.
  await field(page, 'Where there is no room').selectOption('nothing');
  await saved(page);
  await field(page, 'Words').fill('W'.repeat(500));
  await expect(
    page.locator('.settings .field-error').filter({ hasText: 'Use fewer or smaller letters' }),
  ).toBeVisible();
  await expect(page.locator('.elevation-svg')).toContainText('NAME');
  await field(page, 'Words').fill('');
  await expect(page.getByRole('button', { name: /Preflight:/ })).toContainText('1 to mend');
});

test('a slow or absent network never blocks typing and loses nothing', async ({ page }) => {
  await newPiece(page, 'Slow');
  await add(page, 'Lettering');
  await saved(page);
  let requests = 0;
  let down = true;
  await page.route('**/edits', async (route) => {
    requests += 1;
    if (down) await route.abort();
    else await route.continue();
  });
  await page.keyboard.type('Þórhildur');
  await expect(page.locator('.desk-head [data-state]')).toHaveText('not saved yet, trying again');
  await expect(field(page, 'Words')).toHaveValue('Þórhildur');
  down = false;
  await saved(page);
  await expect(page.locator('.elevation-svg')).toContainText('Þórhildur');
  // Nine letters typed meanwhile took far fewer requests than letters and retries together.
  expect(requests).toBeLessThan(9);
  await page.reload();
  await expect(page.locator('.elevation-svg')).toContainText('Þórhildur');
});
