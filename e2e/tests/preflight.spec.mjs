import { expect, test } from '@playwright/test';
import { add, field, newPiece, saved, type } from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);
const verdict = (page) => page.getByRole('button', { name: /Preflight:/ });

/** Sets fields of the open piece as its page would, and shows it anew. */
async function setAll(page, fields) {
  await page.evaluate(async (fields) => {
    const id = location.pathname.split('/').pop();
    const edits = fields.map(([target, field, value]) => ({
      set: { target: `component-1/${target}`, field, value },
    }));
    const body = JSON.stringify({ edits });
    const headers = { 'content-type': 'application/json' };
    const answer = await fetch(`/api/pieces/${id}/edits`, { method: 'POST', headers, body });
    if (!answer.ok) throw new Error(await answer.text());
  }, fields);
  await page.reload();
  await saved(page);
}

async function faulty(page) {
  await newPiece(page, 'Crew tag');
  await add(page, 'Rim');
  await add(page, 'Lettering');
  await page.keyboard.type('ÆGIR');
  await saved(page);
  await setAll(page, [
    ['rim-1', 'width', 0.3],
    ['lettering-1', 'relief', { raised: { by: 0.2 } }],
  ]);
}

test('what will not print is said, shown where it is, and mended in one step', async ({ page }) => {
  await faulty(page);
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
  await verdict(page).click();
  const list = page.locator('.findings');
  const rim = list.getByRole('listitem').filter({ hasText: 'The rim is thinner than a line' });
  await expect(rim).toContainText('0.3 mm, limit 0.9 mm (the printer’s)');
  // Pointed at in the list it stands out in the plan.
  await rim.hover();
  await expect(page.locator('.trouble.is-pointed')).toHaveCount(1);
  // What would be done is shown before it is.
  await list.getByRole('button', { name: 'Mend all that can be…' }).click();
  await expect(list).toContainText('Make the rim 0.95 mm wide');
  await expect(list).toContainText('Make the lettering two layers, 0.4 mm');
  await expect(list).toContainText('Nothing would be left.');
  await list.getByRole('button', { name: 'Do all of it' }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  // One step back takes all of it back.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
});

test('a finding is left for a reason that stays with the piece, and taken up again', async ({ page }) => {
  await faulty(page);
  await verdict(page).click();
  const list = page.locator('.findings');
  const rim = list.getByRole('listitem').filter({ hasText: 'The rim is thinner' });
  await rim.getByRole('button', { name: 'Leave it…' }).click();
  await expect(rim.getByLabel('Why it is left as it is')).toBeFocused();
  await page.keyboard.type('It is milled off again.');
  await page.keyboard.press('Enter');
  await expect(verdict(page)).toContainText('1 to look at, 1 left');
  await page.reload();
  await verdict(page).click();
  await expect(list).toContainText('Left as it is: It is milled off again.');
  await list.getByRole('button', { name: 'Take it up again' }).click();
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
});

test('what is lost in print is drawn over the name, and follows it', async ({ page }) => {
  await newPiece(page, 'Thin name');
  await add(page, 'Lettering');
  await page.keyboard.type('HAL');
  await saved(page);
  await setAll(page, [
    ['lettering-1', 'size', { height: 10 }],
    ['lettering-1', 'style.heavier', -0.8],
  ]);
  await page.getByRole('button', { name: 'As printed' }).click();
  const lost = page.locator('.lost-in-print');
  await expect(lost).toHaveAttribute('d', /M/);
  const before = await lost.getAttribute('d');
  await element(page, 'lettering-1').focus();
  await type(field(page, 'Letters tall'), '9');
  await saved(page);
  await expect(lost).not.toHaveAttribute('d', before);
  await page.getByRole('button', { name: 'As printed' }).click();
  await expect(lost).toHaveCount(0);
});

test('what would fall out is held by bridges, which are moved by hand and go with their letters', async ({
  page,
}) => {
  await newPiece(page, 'Berth stencil');
  await add(page, 'Lettering');
  await field(page, 'Words').fill('NO');
  await saved(page);
  await page.getByRole('radio', { name: 'through' }).check();
  await expect(verdict(page)).toContainText('1 to mend');
  await verdict(page).click();
  const list = page.locator('.findings');
  await expect(list.getByRole('button', { name: /^Use .*Stencil/ })).toBeVisible();
  await list.getByRole('button', { name: 'Hold them by bridges' }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await expect(field(page, 'Bridges hold what would fall out')).toBeChecked();
  await expect(page.getByText('1 bridge.', { exact: true })).toBeVisible();
  // Pulled to the right stroke of the O and turned it is one put by hand.
  const handle = page.locator('[data-handle="bridge-0"]');
  const from = await handle.boundingBox();
  const letters = await element(page, 'lettering-1').locator('path').first().boundingBox();
  await page.mouse.move(from.x + 4, from.y + 4);
  await page.mouse.down();
  await page.mouse.move(letters.x + letters.width - 8, letters.y + letters.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByText('1 of them put by hand.')).toBeVisible();
  await page.getByText('Each on its own', { exact: true }).click();
  await type(field(page, 'Turned by').last(), '0');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(page.getByText('1 bridge, 1 of them put by hand.')).toBeVisible();
  // Another word with an O there keeps it; in one without, it is said to lie nowhere.
  await field(page, 'Words').fill('HO');
  await saved(page);
  await expect(page.getByText('1 bridge, 1 of them put by hand.')).toBeVisible();
  await field(page, 'Words').fill('NA');
  await saved(page);
  await expect(verdict(page)).toContainText('1 to know');
  await page.getByRole('button', { name: 'None by hand' }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  // And through the other side, by the keyboard alone.
  await page.getByRole('button', { name: 'Lay one more' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/put by hand\.$/).first()).toBeVisible();
});

test('a finding is shown where it is: its own shape in the plan, its heights, and in the solid', async ({
  page,
}) => {
  await newPiece(page, 'Two holes');
  await add(page, 'Hole');
  await add(page, 'Hole');
  await saved(page);
  const from = (distance) => ({ from: 'centre', distance });
  await setAll(page, [
    ['hole-1', 'diameter', 6],
    ['hole-2', 'diameter', 6],
    ['hole-1', 'place.across', from(-3.2)],
    ['hole-2', 'place.across', from(3.2)],
    ['hole-1', 'place.up', from(0)],
    ['hole-2', 'place.up', from(0)],
  ]);
  await expect(verdict(page)).toContainText('1 to mend');
  await verdict(page).click();
  const wall = page.locator('.findings').getByRole('listitem').filter({ hasText: 'The wall between' });
  const canvas = page.locator('.solid-canvas');
  const before = await canvas.screenshot();
  await wall.hover();
  const shape = page.locator('path.trouble.is-pointed');
  await expect(shape).toHaveCount(1);
  await expect(page.locator('.plan-svg .trouble-word')).toHaveText('0.4 mm');
  await expect(page.locator('.elevation-svg .trouble-height.is-pointed')).toHaveCount(1);
  expect(Buffer.compare(before, await canvas.screenshot())).not.toBe(0);
  // It lies in the middle between the holes, and the list leaves it in sight.
  const [at, list] = [await shape.boundingBox(), await page.locator('.findings').boundingBox()];
  const plate = await page.locator('.plan-svg .blank').first().boundingBox();
  expect(Math.abs(at.x + at.width / 2 - plate.x - plate.width / 2)).toBeLessThan(2);
  expect(at.y + at.height).toBeLessThan(list.y);
  // By the keyboard it is pointed at, too.
  await page.mouse.move(5, 5);
  await expect(shape).toHaveCount(0);
  await wall.getByRole('button').first().focus();
  await expect(shape).toHaveCount(1);
});

test('ties of a contour are put by hand, and go with the whole', async ({ page }) => {
  await newPiece(page, 'Dotted');
  await add(page, 'Lettering');
  await field(page, 'Words').fill('i');
  await saved(page);
  await setAll(page, [
    ['lettering-1', 'size', { height: 16 }],
    ['blank', 'outline', { contour: { offset: 0.3, crevices: 0, gaps: 0, ties: null, by_hand: [] } }],
  ]);
  await expect(verdict(page)).toContainText('to mend');
  await verdict(page).click();
  await page.locator('.findings').getByRole('button', { name: 'Tie them together, 2 mm wide' }).click();
  await expect(page.getByText('1 tie.', { exact: true })).toBeVisible();
  await page.getByText('Each on its own', { exact: true }).click();
  const handle = page.locator('[data-handle="bridge-0"]');
  const from = await handle.boundingBox();
  await page.mouse.move(from.x + 4, from.y + 4);
  await page.mouse.down();
  await page.mouse.move(from.x - 2, from.y + 4, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('1 tie, 1 of them put by hand.')).toBeVisible();
  await saved(page);
  // Another size, and it is still there.
  await setAll(page, [['lettering-1', 'size', { height: 24 }]]);
  await expect(page.getByText('1 tie, 1 of them put by hand.')).toBeVisible();
  await page.getByText('Each on its own', { exact: true }).click();
  await page.getByRole('button', { name: 'None by hand' }).click();
  await expect(page.getByText('1 tie.', { exact: true })).toBeVisible();
});
