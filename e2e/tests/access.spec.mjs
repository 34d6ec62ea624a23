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
    await page.getByRole('dialog').getByRole('button', { name: 'Keep as a starter' }).click();
    expect(await faults(page)).toEqual([]);
    await page.goto(`${page.url()}/form`);
    await expect(page.getByLabel('Words')).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.goto('/typefaces');
    expect(await faults(page)).toEqual([]);
    for (const address of ['/filaments', '/printers', '/meshes', '/shapes', '/shapes/draw', '/guide']) {
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

test('every page fits its window, from a phone to a wide screen, with one heading and one main part', async ({
  page,
}) => {
  test.slow();
  await newPiece(page, 'Widths');
  await add(page, 'Lettering');
  const { pathname } = new URL(page.url());
  for (const address of [
    '/pieces',
    '/pieces?deleted=true',
    '/pieces?find=nothing+of+the+kind',
    pathname,
    `${pathname}/form`,
    '/typefaces',
    '/filaments',
    '/printers',
    '/meshes',
    '/shapes',
    '/shapes/draw',
    '/guide',
    '/no-such-page',
  ]) {
    for (const width of [390, 1024, 1280, 1920]) {
      await page.setViewportSize({ width, height: 800 });
      await page.goto(address);
      const found = await page.evaluate(() => ({
        over: document.documentElement.scrollWidth - innerWidth,
        mains: document.querySelectorAll('main').length,
        headings: document.querySelectorAll('h1').length,
      }));
      expect({ address, width, ...found }).toEqual({ address, width, over: 0, mains: 1, headings: 1 });
    }
  }
});

test('the focus has a place after leaving a field and after deleting, and single keys can be switched off', async ({
  page,
}) => {
  await newPiece(page, 'Focus');
  await add(page, 'Hole');
  await add(page, 'Lettering');
  const words = page.locator('#f-words');
  await expect(words).toBeFocused();
  const focused = page.locator(':focus');
  await words.press('Escape');
  await expect(focused).toHaveAttribute('data-key', 'component-1/lettering-1');
  await page.keyboard.press('Delete');
  await expect(page.locator('.plan-svg .element')).toHaveCount(1);
  await expect(focused).toHaveClass(/plan-svg|element/);

  // The preflight list closes before anything else does.
  const back = page.getByRole('radio', { name: 'back', exact: true });
  await page.keyboard.press('b');
  await expect(back).toBeChecked();
  await page.keyboard.press('b');
  await page.keyboard.press('?');
  await page.getByLabel('Keys that are a single sign').uncheck();
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('b');
  await page.keyboard.press('?');
  await expect(back).not.toBeChecked();
  await expect(page.getByRole('dialog')).toBeHidden();

  // What each view shows is said in a sentence.
  await expect(page.locator('.plan-svg')).toHaveAttribute(
    'aria-label',
    /^Plan of the front, 72 × 24 mm: Hole\./,
  );
  await expect(page.locator('.elevation-svg')).toHaveAttribute(
    'aria-label',
    'Elevation: the plate to 3 mm and Hole from 0 mm to 3 mm.',
  );
  await expect(page.locator('.solid-canvas')).toHaveAttribute(
    'aria-label',
    /^Solid of Focus, 72 × 24 × 3 mm/,
  );
});

test('the first piece comes with four hints, which go and come again when asked', async ({ browser }) => {
  const page = await (await browser.newContext({ storageState: undefined })).newPage();
  await newPiece(page, 'Hints');
  const hints = page.locator('.tip:visible');
  await expect(hints).toHaveCount(4);
  await page.getByRole('button', { name: 'Close the hints' }).click();
  await expect(hints).toHaveCount(0);
  await page.reload();
  await expect(page.locator('.plan-svg .blank')).toBeVisible();
  await expect(hints).toHaveCount(0);
  await page.getByRole('button', { name: /^Help/ }).click();
  await page.getByRole('button', { name: 'Show the four hints' }).click();
  await expect(hints).toHaveCount(4);
  await page.context().close();
});
