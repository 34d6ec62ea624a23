import { expect, test } from '@playwright/test';
import { add, choose, dimension, exportStl, fact, field, newPiece, readStl, saved, type } from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);
const band = (page, id) => page.locator(`.elevation-svg .band[data-key$="${id}"]`);
const cubic = async (page) => Number.parseFloat(await fact(page, 'volume').innerText());

async function pull(page, handle, by) {
  const box = await page.locator(`[data-handle=${handle}]`).boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + by[0], y + by[1], { steps: 6 });
  await page.mouse.up();
  await saved(page);
}

test('lettering on the back is placed as it is seen from there', async ({ page }) => {
  await newPiece(page, 'Both faces');
  await add(page, 'Hole');
  await expect(element(page, 'hole-1')).toBeVisible();
  const hole = await element(page, 'hole-1').boundingBox();
  await page.keyboard.press('Escape');
  await page.keyboard.press('b');
  // The hole is seen from behind, at the other end.
  const mirrored = await element(page, 'hole-1').boundingBox();
  expect(mirrored.x - hole.x).toBeGreaterThan(200);
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type('ÅSE');
  await saved(page);
  // What goes on the back is sunk, so that the piece still lies flat on the bed.
  await expect(page.locator('[name=relief][value=recessed]')).toBeChecked();
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 3 mm');
  await dimension(page, 'across-left').click();
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await saved(page);
  const blank = await page.locator('.plan-svg .blank').boundingBox();
  const frame = await page.locator('.selection').boundingBox();
  expect((frame.x - blank.x) / blank.width).toBeLessThan(0.07);
  // On the front it is not there; chosen in the elevation, the plan turns over to it.
  await page.keyboard.press('Escape');
  await page.locator('[name=seen][value=front]').check();
  await expect(element(page, 'lettering-1')).toHaveCount(0);
  await band(page, 'lettering-1').focus();
  await expect(element(page, 'lettering-1')).toBeVisible();
  await expect(page.locator('[name=seen][value=back]')).toBeChecked();
  // Raised, it stands on the bed, and preflight says so.
  await page.locator('[name=relief][value=raised]').check();
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 4 mm');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText('stands on what is raised on its back')).toBeVisible();
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
  expect(stl.size[2]).toBeCloseTo(4, 4);
});

test('a field of its own shape is pulled by its handles and dug by the elevation', async ({ page }) => {
  await newPiece(page, 'Field');
  await add(page, 'Recess');
  await choose(page, 'Shape', 'own');
  await saved(page);
  const before = Number.parseFloat(await field(page, 'Width').inputValue());
  await pull(page, 'e', [20, 0]);
  const wider = Number.parseFloat(await field(page, 'Width').inputValue());
  expect(wider).toBeGreaterThan(before + 2);
  await choose(page, 'Outline', 'stadium');
  await saved(page);
  await dimension(page, 'length').click();
  await page.keyboard.type('40');
  await page.keyboard.press('Enter');
  await expect(field(page, 'Width')).toHaveValue('40 mm');
  await choose(page, 'How deep', 'floor');
  await type(field(page, 'Depth of the recess'), '1');
  await expect(band(page, 'recess-1')).toContainText('−2 mm');
  const grip = await band(page, 'recess-1').locator('.grip').boundingBox();
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + grip.width / 2, grip.y - 40, { steps: 5 });
  await page.mouse.up();
  await saved(page);
  // It still is a floor, only a thicker one.
  const floor = Number.parseFloat(await field(page, 'Depth of the recess').inputValue());
  expect(floor).toBeGreaterThan(1);
  // Lettering level with the face fills up from the floor.
  const empty = await cubic(page);
  await add(page, 'Lettering');
  await choose(page, 'How high', 'level-with-face');
  await expect.poll(() => cubic(page)).toBeGreaterThan(empty);
  await expect(fact(page, 'size')).toHaveText('72 × 24 × 3 mm');
});

test('the plate is pulled by its sides and its corners, a rim by its edges', async ({ page }) => {
  await newPiece(page, 'Pulled');
  await pull(page, 'plate-e', [-40, 0]);
  const width = Number.parseFloat(await field(page, 'Width').inputValue());
  expect(width).toBeLessThan(68);
  await pull(page, 'plate-corner', [30, 0]);
  expect(Number.parseFloat(await field(page, 'Corner size').inputValue())).toBeGreaterThan(4);
  await add(page, 'Rim');
  await expect(field(page, 'Wide')).toHaveValue('2 mm');
  await pull(page, 'rim-width', [12, 0]);
  expect(Number.parseFloat(await field(page, 'Wide').inputValue())).toBeGreaterThan(2.5);
  // A groove takes material away.
  const raised = await cubic(page);
  await page.locator('[name=relief][value=recessed]').check();
  await expect.poll(() => cubic(page)).toBeLessThan(raised);
});

test('a hole is made blind by dragging its floor up, and a loop stands at a point, thick on its own', async ({
  page,
}) => {
  await newPiece(page, 'Loops');
  await add(page, 'Hole');
  await expect(band(page, 'hole-1')).toContainText('through');
  const grip = await band(page, 'hole-1').locator('.grip').boundingBox();
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + grip.width / 2, grip.y - 60, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator('.settings').getByLabel('How deep')).toHaveValue('blind');
  await add(page, 'Loop');
  await choose(page, 'Stands', 'point');
  await saved(page);
  await type(field(page, 'Distance across'), '-20');
  await type(field(page, 'Distance up'), '30');
  await choose(page, 'Opening', 'ribbon');
  await expect(fact(page, 'size')).toHaveText('72 × 34 × 3 mm');
  await choose(page, 'Thickness of the loop', 'own');
  await type(field(page, 'Thickness'), '5');
  await expect(fact(page, 'size')).toHaveText('72 × 34 × 5 mm');
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
});
