import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { add, newPiece } from './desk.mjs';

// Rules of WCAG 2.0 to 2.2, levels A and AA, as far as axe-core can check them.
const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

const faults = async (page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(RULES).analyze();
  return violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map((one) => one.html.slice(0, 120)).join(' | ')}`,
  );
};

for (const colorScheme of ['light', 'dark']) {
  test(`pages can be used with a screen reader and read by weak eyes (${colorScheme})`, async ({ page }) => {
    test.slow();
    await page.emulateMedia({ colorScheme });
    await page.goto('/pieces');
    expect(await faults(page)).toEqual([]);
    await newPiece(page, 'Access');
    await add(page, 'Hole');
    await add(page, 'Lettering');
    await expect(page.locator('.settings').getByLabel('Words')).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.locator('[aria-haspopup=listbox]').click();
    await expect(page.locator('.face-list [role=option]').first()).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.getByLabel('Colour', { exact: true }).selectOption('Sail white');
    await page.getByRole('button', { name: /2 colours/ }).click();
    await expect(page.getByText('Change to')).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Export' }).click();
    await expect(page.getByText('access-name.3mf')).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Keep as a starter' }).click();
    expect(await faults(page)).toEqual([]);
    await page.goto(`${page.url()}/form`);
    await expect(page.getByLabel('Words')).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.goto('/typefaces');
    expect(await faults(page)).toEqual([]);
    for (const address of ['/filaments', '/meshes']) {
      await page.goto(address);
      expect(await faults(page)).toEqual([]);
    }
  });
}

test('the whole of a fob can be made by keyboard alone', async ({ page }) => {
  await page.goto('/pieces');
  const reach = async (test_) => {
    for (let i = 0; i < 60; i += 1) {
      await page.keyboard.press('Tab');
      if (await page.evaluate(test_)) return;
    }
    throw new Error(`not reached by Tab: ${test_}`);
  };
  await reach('document.activeElement.id === "new-name"');
  await page.keyboard.type('By keyboard');
  await page.keyboard.press('Enter');
  await expect(page.locator('.plan-svg .blank')).toBeVisible();
  await reach('document.activeElement.textContent.trim() === "Lettering"');
  await page.keyboard.press('Enter');
  await expect(page.locator('#f-words')).toBeFocused();
  await page.keyboard.type('Zoë');
  await reach('document.activeElement.getAttribute("aria-label") === "Letters tall"');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('.element')).toHaveAttribute('aria-label', 'Lettering, Zoë');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Escape');
  await reach('document.activeElement.getAttribute("aria-label")?.startsWith("Width of the plate")');
  await page.keyboard.press('Enter');
  await page.keyboard.type('60');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-fact=size]')).toContainText('60 ×');
});
