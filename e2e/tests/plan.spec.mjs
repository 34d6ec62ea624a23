import { expect, test } from '@playwright/test';
import { add, dimension, fact, field, newPiece, saved, type } from './desk.mjs';

const element = (page, index) => page.locator('.plan-svg .element').nth(index);

async function middle(locator) {
  const box = await locator.boundingBox();
  return [box.x + box.width / 2, box.y + box.height / 2];
}

/** Drags with the mouse in steps, as a hand does. */
async function drag(page, from, by) {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(from[0] + by[0] / 2, from[1] + by[1] / 2, { steps: 4 });
  await page.mouse.move(from[0] + by[0], from[1] + by[1], { steps: 4 });
}

test('dragging catches on the centre line and is one step back', async ({ page }) => {
  await newPiece(page, 'Drag');
  await add(page, 'Hole');
  await expect(field(page, 'Distance across')).toHaveValue('6 mm');
  const start = await middle(element(page, 0));
  // To a few pixels from the upright centre line, and a good way up.
  const plate = await page.locator('.plan-svg .blank').boundingBox();
  await drag(page, start, [plate.x + plate.width / 2 - start[0] + 3, -40]);
  await expect(page.locator('.guide-word').first()).toHaveText('centre');
  await page.mouse.up();
  await expect(page.locator('select[aria-label="Across, measured from"]')).toHaveValue('centre');
  await expect(field(page, 'Distance across')).toHaveValue('0 mm');
  await expect(page.locator('.guide-word')).toHaveCount(0);
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(field(page, 'Distance across')).toHaveValue('6 mm');
});

test('arrow keys move, with Shift ten times and with Alt a tenth', async ({ page }) => {
  await newPiece(page, 'Nudge');
  await add(page, 'Hole');
  await element(page, 0).focus();
  await page.keyboard.press('ArrowRight');
  await expect(field(page, 'Distance across')).toHaveValue('7 mm');
  await page.keyboard.press('Alt+ArrowUp');
  await expect(field(page, 'Distance up')).toHaveValue('0.1 mm');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(field(page, 'Distance across')).toHaveValue('17 mm');
  await page.keyboard.press('Escape');
  await expect(field(page, 'Width')).toBeVisible();
});

test('a handle makes the letters larger and the elevation makes them higher', async ({ page }) => {
  await newPiece(page, 'Handles');
  await add(page, 'Lettering');
  await type(field(page, 'Letters tall'), '8');
  await saved(page);
  const corner = await middle(page.locator('.handle').first());
  const centre = await middle(element(page, 0));
  await drag(page, corner, [(corner[0] - centre[0]) * 0.25, (corner[1] - centre[1]) * 0.25]);
  await page.mouse.up();
  const tall = async () => Number.parseFloat(await field(page, 'Letters tall').inputValue());
  await expect.poll(tall).toBeGreaterThan(9.5);
  expect(await tall()).toBeLessThan(10.5);

  const grip = await middle(page.locator('.elevation-svg .band[data-key="component-1/lettering-1"] .grip'));
  await drag(page, grip, [0, -50]);
  await page.mouse.up();
  const raised = async () => Number.parseFloat(await field(page, 'stands above the plate').inputValue());
  await expect.poll(raised).toBeGreaterThan(1.7);
});

test('a typed distance becomes the relation, and a wider plate carries the element along', async ({
  page,
}) => {
  await newPiece(page, 'Relations');
  await add(page, 'Lettering');
  await dimension(page, 'across-right').click();
  await page.keyboard.type('5');
  await page.keyboard.press('Enter');
  await expect(page.locator('select[aria-label="Across, measured from"]')).toHaveValue('right');
  await dimension(page, 'width').click();
  await page.keyboard.type('100');
  await page.keyboard.press('Enter');
  await expect(fact(page, 'size')).toContainText('100 ×');
  await expect(dimension(page, 'across-right')).toHaveText('5 mm');
});

test('copy, paste, duplicate, delete and the keys sheet', async ({ page }) => {
  await newPiece(page, 'Keys');
  await add(page, 'Hole');
  await element(page, 0).focus();
  await page.keyboard.press('ControlOrMeta+d');
  await expect(page.locator('.plan-svg .element')).toHaveCount(2);
  await page.keyboard.press('ControlOrMeta+c');
  await page.keyboard.press('ControlOrMeta+v');
  await expect(page.locator('.plan-svg .element')).toHaveCount(3);
  await page.keyboard.press('Delete');
  await expect(page.locator('.plan-svg .element')).toHaveCount(2);
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys and help' })).toBeVisible();
});

test('zoom, pan and fit', async ({ page }) => {
  await newPiece(page, 'Zoom');
  const blank = page.locator('.plan-svg .blank');
  const before = await blank.boundingBox();
  await page.mouse.move(before.x + 5, before.y + 5);
  await page.mouse.wheel(0, -300);
  await expect.poll(async () => (await blank.boundingBox()).width).toBeGreaterThan(before.width * 1.2);
  await page.getByRole('button', { name: 'Fit' }).click();
  await expect.poll(async () => Math.round((await blank.boundingBox()).width)).toBe(Math.round(before.width));
  // Dragging beside the plate moves the sheet and nothing on it.
  await drag(page, [before.x + 40, before.y + before.height + 110], [60, 30]);
  await page.mouse.up();
  expect((await blank.boundingBox()).x).toBeCloseTo(before.x + 60, 0);
});

test('the solid is drawn, turned, looked at from named sides, and clicked to select', async ({ page }) => {
  await newPiece(page, 'Solid');
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('I');
  await expect(page.locator('.elevation-svg')).toContainText('I');
  await saved(page);
  await page.keyboard.press('Escape');
  await page
    .locator('.plan-svg rect')
    .first()
    .click({ position: { x: 60, y: 580 } });
  await expect(field(page, 'Width')).toBeVisible();
  const canvas = page.locator('.solid-canvas');
  await expect(canvas).toBeVisible();
  const picture = () => canvas.screenshot();
  const corner = await picture();
  await page.getByRole('group', { name: 'Look at it from' }).getByRole('button', { name: 'face' }).click();
  await expect.poll(async () => (await picture()).equals(corner)).toBe(false);
  const face = await picture();
  await page.getByRole('button', { name: 'Wire' }).click();
  await expect.poll(async () => (await picture()).equals(face)).toBe(false);
  // Seen from the face, the single letter stands in the middle.
  const box = await canvas.boundingBox();
  await canvas.click({ position: { x: box.width / 2, y: box.height / 2 } });
  await expect(field(page, 'Words')).toHaveValue('I');
});

test('words are taken by their letters, and clicking again reaches what lies under', async ({ page }) => {
  await newPiece(page, 'Pile');
  await add(page, 'Rim');
  await add(page, 'Emblem');
  await saved(page);
  await add(page, 'Lettering');
  await type(field(page, 'Words'), 'IIIIIII');
  await page.keyboard.press('Enter');
  await saved(page);
  // They landed beside the emblem; now they lie on it.
  for (const axis of ['across', 'up']) {
    await type(field(page, `Distance ${axis}`), '0');
    await page.keyboard.press('Enter');
    await saved(page);
  }
  const chosen = (id) =>
    expect(page.locator(`.plan-svg .element[data-key="component-1/${id}"]`)).toHaveAttribute(
      'aria-pressed',
      'true',
    );
  const emblem = await page.locator('.plan-svg .element[data-key$="emblem-1"] path').first().boundingBox();
  const centre = [emblem.x + emblem.width / 2, emblem.y + emblem.height / 2];
  // Out of the field, then nothing is chosen.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.mouse.click(...centre);
  await chosen('lettering-1');
  await page.mouse.click(...centre);
  await chosen('emblem-1');
});

test('what is copied is said, and what is pasted lies beside it', async ({ page }) => {
  await newPiece(page, 'Copies');
  await add(page, 'Hole');
  await saved(page);
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(page.getByText('Copied: Hole. Paste it here or into another piece.')).toBeVisible();
  for (const count of [2, 3]) {
    await page.getByRole('button', { name: 'Paste', exact: true }).click();
    await expect(page.locator('.plan-svg .element')).toHaveCount(count);
  }
  const paths = page.locator('.plan-svg .element path:first-child');
  const places = await paths.evaluateAll((all) =>
    all.map((one) => Math.round(one.getBoundingClientRect().x)),
  );
  expect(new Set(places).size).toBe(3);
});

test('edges that are treated are drawn where the level of the face begins', async ({ page }) => {
  await newPiece(page, 'Edges drawn');
  const line = page.locator('.sheet .edge-line');
  await expect(line).toHaveAttribute('d', '');
  await page.getByLabel('Top edge', { exact: true }).selectOption('chamfer');
  await type(page.getByLabel('Top edge, size'), '2');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(line).toHaveAttribute('d', /^M/);
  const [outer, inner] = [await page.locator('.plan-svg .blank').boundingBox(), await line.boundingBox()];
  // 2 mm of 72 on either side.
  expect((outer.width - inner.width) / outer.width).toBeCloseTo(4 / 72, 2);
});
