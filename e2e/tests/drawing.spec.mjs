import { expect, test } from '@playwright/test';
import { add, exportStl, field, newPiece, opened, readStl, saved, type } from './desk.mjs';

/** Where on the window a place of the board is, given in mm, y upwards. */
async function place(page, [x, y]) {
  const board = page.locator('.draw-board');
  const box = await board.boundingBox();
  const width = await board.evaluate((svg) => svg.viewBox.baseVal.width);
  const scale = box.width / width;
  return [box.x + box.width / 2 + x * scale, box.y + box.height / 2 - y * scale];
}

const click = async (page, at) => page.mouse.click(...(await place(page, at)));
const start = async (page) => {
  await page.goto('/shapes/draw');
  await expect(page.locator('.draw-board[data-ready=yes]')).toBeVisible();
};
const facts = (page) => page.locator('[data-facts]');
const point = (page, name) => page.getByRole('button', { name });

test('half a heart is drawn, mirrored and made a pendant with a hole and rounded edges', async ({ page }) => {
  await start(page);
  await page.getByLabel('Mirrored').selectOption('across');
  await page.getByLabel('Limit, wide').fill('40');
  await page.getByLabel('Limit, wide').press('Enter');
  for (const at of [
    [0, 10],
    [8, 14],
    [14, 6],
    [0, -14],
  ])
    await click(page, at);
  await expect(point(page, 'Point 4 of line 1, 0, -14 mm')).toBeVisible();
  for (const name of ['Point 2 of line 1, 8, 14 mm', 'Point 3 of line 1, 14, 6 mm']) {
    await point(page, name).focus();
    await page.getByLabel('The line', { exact: true }).selectOption('smooth');
  }
  await expect(facts(page)).toContainText('1 part, 0 openings');
  // Overall sizes are typed, in proportion; the limit is said when it is passed.
  // An answer that comes late, to what was changed before, takes away neither what has been said by Enter, nor
  // what is being typed.
  const held = [];
  const hold = async (route) => {
    await new Promise((done) => held.push(done));
    await route.continue();
  };
  const isHeld = (count) => expect.poll(() => held.length).toBe(count);
  const wide = page.getByLabel('Wide, all in all');
  const foot = point(page, /^Point 4 of line 1/);
  await page.route('**/api/drawings/look', hold, { times: 2 });
  await foot.press('ArrowUp');
  await isHeld(1);
  await wide.fill('48');
  await wide.press('Enter');
  held[0]();
  await isHeld(2);
  await expect(facts(page)).toContainText('× 27.12');
  await expect(wide).toHaveValue('48');
  held[1]();
  await expect(page.getByText('It reaches 4 mm beyond the limit.')).toBeVisible();
  await expect(facts(page)).toContainText('48 × 46.01');
  await page.route('**/api/drawings/look', hold, { times: 1 });
  await foot.press('ArrowUp');
  await isHeld(3);
  await wide.fill('30');
  held[2]();
  await expect(facts(page)).toContainText('× 45.01');
  await expect(wide).toHaveValue('30');
  await wide.press('Enter');
  await expect(facts(page)).toContainText('30 × ');
  // One step back and forward again.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(facts(page)).toContainText('48.02 × ');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(facts(page)).toContainText('30 × ');
  // A reload loses nothing.
  await page.reload();
  await expect(facts(page)).toContainText('30 × ');
  await page.getByLabel('Called').fill('Heart of Ğülşah');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('button', { name: 'Make a plate of it' }).click();
  await opened(page, 'Heart of Ğülşah');
  await expect(field(page, 'Width')).toHaveValue('30 mm');
  for (const edge of ['Top edge', 'Foot edge']) {
    await field(page, edge).selectOption('round');
    await saved(page);
    await type(page.locator('.settings').getByLabel(`${edge}, size`), '0.5');
    await page.keyboard.press('Enter');
    await saved(page);
  }
  await add(page, 'Hole');
  await saved(page);
  await type(field(page, 'Across'), '3');
  await page.keyboard.press('Enter');
  await saved(page);
  const { path } = await exportStl(page);
  const made = await readStl(path);
  expect(made.closed).toBe(true);
  expect(made.size[0]).toBeCloseTo(30, 1);
  expect(made.size[2]).toBeCloseTo(3, 5);

  // It is opened again as it was drawn.
  await page.goto('/shapes');
  await page
    .locator('[data-shape]')
    .filter({ has: page.getByRole('textbox', { name: 'Name of Heart of Ğülşah' }) })
    .getByRole('button', { name: 'Read again' })
    .click();
  await expect(facts(page)).toContainText('30 × ');
  await expect(page.getByLabel('Mirrored')).toHaveValue('across');
});

test('corners are rounded, arcs, circles, holes and lines of a width are drawn, and all by keyboard too', async ({
  page,
}) => {
  await start(page);
  for (const at of [
    [-20, -10],
    [20, -10],
    [20, 10],
    [-20, 10],
  ])
    await click(page, at);
  // On the first point it closes.
  await click(page, [-20, -10]);
  await expect(facts(page)).toContainText('40 × 20 mm · 1 part, 0 openings');
  await page.getByLabel('Rounded, mm').fill('5');
  await page.getByLabel('Rounded, mm').press('Enter');
  // A circle through three points in it is a hole.
  await page.getByText('A circle through three points').click();
  for (const at of [
    [4, 0],
    [0, 4],
    [-4, 0],
  ])
    await click(page, at);
  await expect(facts(page)).toContainText('1 part, 1 opening');
  // A quick line across the edge, as wide as a brush.
  await page.getByText('A scribble, made smooth').click();
  const way = [
    [15, 0],
    [20, 2],
    [25, -2],
    [30, 2],
    [34, 0],
  ];
  await page.mouse.move(...(await place(page, way[0])));
  await page.mouse.down();
  for (const at of way.slice(1)) await page.mouse.move(...(await place(page, at)), { steps: 12 });
  await page.mouse.up();
  await expect(page.getByLabel('Smoothed, mm')).toHaveValue('0.6');
  await expect(facts(page)).toContainText('55 × 20 mm · 1 part, 1 opening');
  // By keyboard: a point is nudged by the grid, ten times as far, and taken away.
  const first = page.locator('.draw-points circle').first();
  await first.focus();
  await page.keyboard.press('ArrowLeft');
  // The corner is rounded, so that its tip is not all the way out.
  await expect(facts(page)).toContainText('55.74 × 20 mm');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(facts(page)).not.toContainText('55');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(facts(page)).toContainText('55 × 20 mm');
  await page.getByRole('button', { name: 'Clear the board' }).click();
  await expect(facts(page)).toContainText('Nothing is drawn yet.');
  await page.getByRole('button', { name: 'Begin a line' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('.draw-points circle')).toHaveCount(1);
  await page.getByRole('button', { name: 'Add a point' }).click();
  await page.getByLabel('Point, up').fill('12');
  await page.getByLabel('Point, up').press('Enter');
  await page.getByRole('button', { name: 'Add a point' }).click();
  await page.getByLabel('Closed').check();
  await expect(facts(page)).toContainText('1 part, 0 openings');
});

test('a scroll is drawn on the face of a piece, put where it was drawn, and given a section', async ({
  page,
}) => {
  await newPiece(page, 'Berth of Øystein');
  await page.getByRole('button', { name: 'Drawing', exact: true }).click();
  await expect(page.locator('.draw-board[data-ready=yes]')).toBeVisible();
  await expect(page.getByText('On Berth of Øystein, front')).toBeVisible();
  // The limit of the bed it is printed on, shown while drawing.
  await page.getByRole('button', { name: 'Limit it to the bed' }).click();
  await expect(page.getByLabel('Limit, wide')).toHaveValue('220');
  // The first point catches on the corner of the plate's edge: 72 × 24 mm, its corners are rounded, so on its
  // upper edge.
  for (const at of [
    [-10, 11.8],
    [0, -4],
    [10, 4],
  ])
    await click(page, at);
  await expect(point(page, 'Point 1 of line 1, -10, 12 mm')).toBeVisible();
  await page.getByLabel('Wide, mm').fill('2');
  await page.getByLabel('Wide, mm').press('Enter');
  await page.getByLabel('Ends').selectOption('square');
  await expect(facts(page)).toContainText('1 part, 0 openings');
  await page.getByRole('button', { name: 'Put it on the piece' }).click();
  await opened(page, 'Berth of Øystein');
  await saved(page);
  // As large as it was drawn, and where: its left end on the edge.
  await expect(field(page, 'Section')).toHaveValue('flat');
  await expect(page.getByLabel('How wide its lines are')).toHaveValue('drawn');
  const flat = await readStl((await exportStl(page)).path);
  expect(flat.closed).toBe(true);
  expect(flat.size[2]).toBeCloseTo(4, 5);
  await field(page, 'Section').selectOption('round');
  await saved(page);
  const round = await readStl((await exportStl(page)).path);
  expect(round.closed).toBe(true);
  // Half an ellipse has π/4 of its rectangle; at corners and ends a little less.
  expect(flat.volume - round.volume).toBeGreaterThan(5);
  // It was put once: a reload puts nothing more, and one step back takes it away.
  await page.reload();
  await opened(page, 'Berth of Øystein');
  await expect(page.locator('.elevation-svg .band[data-key*="emblem"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(page.locator('.elevation-svg .band[data-key*="emblem"]')).toHaveCount(0);
});

test('lines are split, welded, and scribbles become points; steps back outlive a reload', async ({
  page,
}) => {
  await start(page);
  for (const at of [
    [-20, 0],
    [-5, 10],
    [5, -10],
    [20, 0],
  ])
    await click(page, at);
  await page.getByLabel('Wide, mm').fill('1.5');
  await page.getByLabel('Wide, mm').press('Enter');
  await expect(facts(page)).toContainText('1 part');
  await point(page, 'Point 2 of line 1, -5, 10 mm').focus();
  await page.getByRole('button', { name: 'Split here' }).click();
  await expect(point(page, 'Point 1 of line 2, -5, 10 mm')).toBeVisible();
  await point(page, 'Point 2 of line 1, -5, 10 mm').focus();
  await page.getByRole('button', { name: 'Weld to the nearest end' }).click();
  await expect(point(page, 'Point 4 of line 1, 20, 0 mm')).toBeVisible();
  await expect(page.getByRole('button', { name: /of line 2/ })).toHaveCount(0);

  await page.getByLabel('A scribble, made smooth').check();
  const at = async (x) => place(page, [x, -20 + 4 * Math.sin(x / 4)]);
  await page.mouse.move(...(await at(-25)));
  await page.mouse.down();
  for (let x = -24; x <= 25; x += 1) await page.mouse.move(...(await at(x)));
  await page.mouse.up();
  await expect(facts(page)).toContainText('2 parts');
  const before = await facts(page).textContent();
  await page.getByRole('button', { name: 'Make points of it' }).click();
  await expect(page.getByRole('button', { name: /^Point 3 of line 2/ })).toBeVisible();
  await expect(facts(page)).toContainText('2 parts');
  // What the points make is what was scribbled, but for a tenth of a millimetre.
  const size = (text) =>
    text
      .match(/[\d.]+/g)
      .slice(0, 2)
      .map(Number);
  const after = await facts(page).textContent();
  size(after).forEach((mm, i) => expect(Math.abs(mm - size(before)[i])).toBeLessThan(0.3));

  await page.reload();
  await expect(page.getByRole('button', { name: /^Point 3 of line 2/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /of line 2/ })).toHaveCount(0);
  await expect(facts(page)).toHaveText(before);
});

test('fields of the board take either unit and sums, and say what they cannot read', async ({ page }) => {
  await start(page);
  const wide = page.getByLabel('Limit, wide');
  await type(wide, '2.5 in');
  await wide.press('Enter');
  await expect(wide).toHaveValue('63.5');
  await type(wide, '25.4/2 + 1 mm');
  await wide.press('Enter');
  await expect(wide).toHaveValue('13.7');
  await type(wide, 'as wide as a hand');
  await wide.press('Tab');
  await expect(page.getByRole('alert').filter({ hasText: /\S/ })).toHaveCount(1);
  await expect(wide).toHaveValue('as wide as a hand');
  await expect(page.getByLabel('Limit, high')).toHaveValue('63.5');
  await type(wide, '40');
  await wide.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: /\S/ })).toHaveCount(0);
  await expect(wide).toHaveValue('40');
  // A point is put where it is typed to, in inches too.
  await click(page, [-10, 0]);
  await click(page, [10, 0]);
  const across = page.getByLabel('Point, across');
  await type(across, '1/2 in');
  await across.press('Enter');
  await expect(point(page, 'Point 2 of line 1, 12.7, 0 mm')).toBeVisible();
});
