import { expect, test } from '@playwright/test';
import { add, dimension, fact, field, newPiece, opened, saved, type } from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);

test('several elements are chosen, lined up, spaced and moved together', async ({ page }) => {
  await newPiece(page, 'Several');
  for (const [index, distance] of ['10', '20', '60'].entries()) {
    await add(page, 'Hole');
    await expect(page.locator('.plan-svg .element')).toHaveCount(index + 1);
    await page.locator('select[aria-label="Across, measured from"]').selectOption('left');
    await type(field(page, 'Distance across'), distance);
    await saved(page);
  }
  await type(field(page, 'Distance up'), '4');
  await saved(page);
  await element(page, 'hole-1').click();
  await element(page, 'hole-2').click({ modifiers: ['Shift'] });
  await element(page, 'hole-3').click({ modifiers: ['Shift'] });
  await expect(page.locator('.settings')).toContainText('3 elements');
  await page.getByRole('button', { name: 'across', exact: true }).click();
  await page.getByRole('button', { name: 'middle', exact: true }).click();
  await saved(page);
  await expect(page.locator('.settings')).toContainText('3 elements');
  // Drag one, and all move.
  const box = await element(page, 'hole-2').boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2 + 30, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  await page.locator('.elevation-svg .band[data-key="component-1/hole-2"]').focus();
  const moved = Number.parseFloat(await field(page, 'Distance across').inputValue());
  const low = Number.parseFloat(await field(page, 'Distance up').inputValue());
  expect(moved).toBeGreaterThan(35);
  for (const [id, by] of [
    ['hole-1', -25],
    ['hole-3', 25],
  ]) {
    await page.locator(`.elevation-svg .band[data-key$="${id}"]`).focus();
    await expect(field(page, 'Distance up')).toHaveValue(`${low} mm`);
    const across = Number.parseFloat(await field(page, 'Distance across').inputValue());
    expect(across).toBeCloseTo(moved + by, 1);
  }
});

test('copies go into another piece, repeats multiply, a field is dug first whatever the order', async ({
  page,
}) => {
  await newPiece(page, 'From here');
  await add(page, 'Emblem');
  await element(page, 'emblem-1').focus();
  await page.keyboard.press('ControlOrMeta+c');
  await newPiece(page, 'To there');
  await page.keyboard.press('ControlOrMeta+v');
  await expect(element(page, 'emblem-1')).toBeVisible();
  await type(field(page, 'Wide'), '5');
  await dimension(page, 'across-left').click();
  await page.keyboard.type('5');
  await page.keyboard.press('Enter');
  const cubic = async () => Number.parseFloat(await fact(page, 'volume').innerText());
  await page.locator('.settings').getByLabel('Repeated', { exact: true }).selectOption('row');
  await type(field(page, 'How many in all'), '8');
  await saved(page);
  const eight = await cubic();
  await type(field(page, 'How many in all'), '2');
  await saved(page);
  expect(eight).toBeGreaterThan(await cubic());

  // A field is dug first, whatever the order of work: the emblem stands on its floor either way.
  await add(page, 'Recess');
  await saved(page);
  const dug = await cubic();
  await page.getByRole('button', { name: 'Earlier in the order of work' }).click();
  await saved(page);
  expect(await cubic()).toBe(dug);
  await element(page, 'emblem-1').focus();
  await page.keyboard.press('Delete');
  await expect(element(page, 'emblem-1')).toHaveCount(0);
  await expect.poll(cubic).toBeLessThan(dug);
});

test('what is locked stays where it is, and neighbours are caught at equal gaps', async ({ page }) => {
  await newPiece(page, 'Row');
  for (const [index, distance] of ['10', '25', '60'].entries()) {
    await add(page, 'Hole');
    await expect(page.locator('.plan-svg .element')).toHaveCount(index + 1);
    await page.locator('select[aria-label="Across, measured from"]').selectOption('left');
    await type(field(page, 'Distance across'), distance);
    await saved(page);
  }
  const across = () => field(page, 'Distance across').inputValue();
  // Dragged near the place 15 mm beyond the second, the third is caught there.
  const [second, third] = [
    await element(page, 'hole-2').boundingBox(),
    await element(page, 'hole-3').boundingBox(),
  ];
  const step = (third.x - second.x) / 35;
  await page.mouse.move(third.x + third.width / 2, third.y + third.height / 2);
  await page.mouse.down();
  await page.mouse.move(third.x + third.width / 2 - 20 * step + 3, third.y + third.height / 2, { steps: 8 });
  await expect(page.locator('.guide-word').first()).toHaveText('equal gaps');
  await page.mouse.up();
  await saved(page);
  await expect.poll(across).toBe('40 mm');

  await page.getByRole('button', { name: 'Lock' }).click();
  await saved(page);
  await element(page, 'hole-3').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Delete');
  await expect(page.getByText('What is locked stays')).toBeVisible();
  expect(await across()).toBe('40 mm');
  await page.getByRole('button', { name: 'Lock' }).click();
  await saved(page);
  await element(page, 'hole-3').focus();
  await page.keyboard.press('Delete');
  await expect(element(page, 'hole-3')).toHaveCount(0);
});

test('several are chosen by the keyboard alone', async ({ page }) => {
  await newPiece(page, 'Keyboard');
  for (const count of [1, 2]) {
    await add(page, 'Hole');
    await expect(page.locator('.plan-svg .element')).toHaveCount(count);
  }
  await element(page, 'hole-1').focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('Tab');
  await expect(page.locator('.settings')).toContainText('2 elements');
  await page.keyboard.press('ArrowUp');
  await saved(page);
  await page.keyboard.press('Escape');
  for (const id of ['hole-1', 'hole-2']) {
    await element(page, id).focus();
    await expect(field(page, 'Distance up')).toHaveValue('1 mm');
  }
  await page.keyboard.press('ControlOrMeta+a');
  await expect(page.locator('.settings')).toContainText('2 elements');
});
