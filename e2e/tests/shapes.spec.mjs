import { expect, test } from '@playwright/test';
import { exportStl, field, newPiece, add, opened, readStl, saved, type } from './desk.mjs';

const file = (name, text) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) });
const svg = (body) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">${body}</svg>`;
const choose = (page) => page.getByLabel('Choose a drawing');

/** Reads a drawing and keeps what it makes under a name. */
async function keep(page, drawing, name) {
  await page.goto('/shapes');
  await choose(page).setInputFiles(drawing);
  await expect(page.locator('svg[data-ready=yes]')).toBeVisible();
  await page.getByLabel('Called').fill(name);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('button', { name: 'Make a plate of it' })).toBeVisible();
}

// A sail: a triangle with a round porthole in it.
const SAIL = svg(
  '<path fill-rule="evenodd" d="M10 50H50V10ZM38 40a4 4 0 1 0 8 0a4 4 0 1 0 -8 0Z"/><text>Skerry</text>',
);

test('a drawing becomes a shape of one’s own, a plate of it, and travels with its piece', async ({
  page,
}) => {
  await keep(page, file('sail.svg', SAIL), 'Sail of Łucja');
  await page.getByRole('button', { name: 'Make a plate of it' }).click();
  await opened(page, 'Sail of Łucja');
  await expect(field(page, 'Width')).toHaveValue('40 mm');
  await expect(field(page, 'Height')).toHaveValue('40 mm');
  const { path } = await exportStl(page);
  const made = await readStl(path);
  expect(made).toMatchObject({ closed: true, size: [40, 40, 3] });
  // A triangle of 40 × 40 mm less a disc of 8 mm, 3 mm thick; the disc's chords are within 0.02 mm.
  expect(Math.abs(made.volume - 3 * (800 - Math.PI * 16))).toBeLessThan(3 * 0.02 * 26);

  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'Piece file' }).check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /Download/ }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/\.zip$/);
  const archive = await download.path();
  await page.goto('/pieces');
  await page.getByLabel('Open a piece file').setInputFiles({
    name: 'sail.zip',
    mimeType: 'application/zip',
    buffer: (await import('node:fs')).readFileSync(archive),
  });
  await opened(page, 'Sail of Łucja');
  await page.goto('/shapes');
  const card = page
    .locator('[data-shape]')
    .filter({ has: page.getByRole('textbox', { name: /Sail of Łucja/ }) });
  await expect(card).toContainText('in 2 pieces');
  await expect(card.getByRole('button', { name: 'Delete' })).toHaveCount(0);
});

test('a badge in three colours comes as three shapes that stay together', async ({ page }) => {
  const badge = svg(
    '<circle cx="30" cy="30" r="28" fill="#1f4e79"/><circle cx="30" cy="30" r="22" fill="#f4efe0"/>' +
      '<path d="M12 34H48L42 44H18Z" fill="#c8452b"/>',
  );
  await keep(page, file('badge.svg', badge), 'Badge of Gül');
  await page.getByRole('button', { name: 'Put it on a plate' }).click();
  await opened(page, 'Badge of Gül');
  await expect(page.getByRole('button', { name: /^Emblem, Badge of Gül/ })).toHaveCount(3);
  await expect(page.getByText('4 colours')).toBeVisible();
  const { path } = await exportStl(page);
  const made = await readStl(path);
  expect(made.closed).toBe(true);
  // The plate of 64 × 64 mm with corners of 3 mm, 3 mm thick, and the disc of 56 mm, 1 mm high.
  const plate = 3 * (64 * 64 - (4 - Math.PI) * 9);
  expect(Math.abs(made.volume - plate - Math.PI * 28 * 28)).toBeLessThan(0.02 * 190 + 3 * 0.02 * 20);
});

test('lines, layers, gaps and sizes are chosen with the result in sight, and what is wrong is said', async ({
  page,
}) => {
  await page.goto('/shapes');
  const open = svg(
    '<g fill="none" stroke="#000" stroke-width="2"><path d="M10 10H50V50"/><path d="M50 50.4L10 10.3"/></g>',
  );
  await choose(page).setInputFiles(file('open.svg', open));
  await expect(page.locator('svg[data-ready=yes] path')).toHaveCount(1);
  await page.getByText('the edges of areas, where they close').click();
  await expect(page.getByText('None of its lines closes', { exact: false })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep it' })).toBeDisabled();
  await page.getByLabel('Gaps closed up to').fill('0.5');
  await page.getByLabel('Gaps closed up to').press('Enter');
  await expect(
    page.getByText('2 gaps between the ends of lines were closed, the widest 0.400 mm.'),
  ).toBeVisible();
  await page.getByLabel('Wide', { exact: true }).fill('20');
  await page.getByLabel('Wide', { exact: true }).press('Tab');
  await expect(page.locator('figcaption')).toContainText('20 × 20.2 mm');

  await choose(page).setInputFiles(file('lies.svg', '<svg xmlns="http://www.w3.org/2000/svg">'));
  await expect(page.getByRole('alert').first()).toContainText('This SVG cannot be read');
  await choose(page).setInputFiles(file('note.dxf', 'dear cooperative'));
  await expect(page.getByRole('alert').first()).toHaveText('This is no SVG and no DXF file.');
});

test('emblems, fields and outlines can be a shape of one’s own', async ({ page }) => {
  await keep(page, file('sail.svg', SAIL.replace('40a4', '38a4')), 'Sail of Søren');
  await newPiece(page, 'Sailing class');
  await add(page, 'Emblem');
  await page.locator('#emblem-name').click();
  await page.getByRole('option', { name: 'Sail of Søren' }).click();
  await saved(page);
  await expect(page.locator('#emblem-name')).toHaveText('Sail of Søren');
  await type(field(page, 'Wide'), '12');
  await field(page, 'Wide').press('Enter');
  await saved(page);
  await page.locator('.plan-svg .blank').click({ position: { x: 6, y: 30 } });
  await field(page, 'Outline').selectOption({ label: 'Sail of Søren' });
  await saved(page);
  // The width stays, the height follows the shape.
  await expect(field(page, 'Height')).toHaveValue('72 mm');
  const { path } = await exportStl(page);
  expect((await readStl(path)).closed).toBe(true);
});

test('a picture is traced over itself, in colours, and traced again otherwise', async ({ page }) => {
  await page.goto('/shapes');
  await choose(page).setInputFiles('../demo/skerry-light.png');
  await expect(page.locator('svg[data-ready=yes] image')).toHaveCount(1);
  const size = page.locator('figcaption');
  await expect(size).toContainText('mm');
  // What is traced lies where it is in the picture: the box of both is drawn in the same places.
  const boxes = () =>
    page.locator('svg[data-ready=yes]').evaluate((svg) => {
      const [picture, shape] = [svg.querySelector('image').getBBox(), svg.querySelector('path').getBBox()];
      return [picture.x, picture.y, shape.x, shape.y, picture.width, shape.width];
    });
  // Boxes are only known of what is shown.
  await expect(page.locator('svg[data-ready=yes]')).toBeVisible();
  await expect.poll(async () => (await boxes())[4]).toBeGreaterThan(0);
  const [px, py, sx, sy, pw, sw] = await boxes();
  // In the picture of 720 pixels the waves begin 8.3 % from the left and the roof 12 % from the top.
  expect(Math.abs(sx - px - 0.083 * pw)).toBeLessThan(0.01 * pw);
  expect(Math.abs(sy - py - 0.12 * pw)).toBeLessThan(0.01 * pw);
  expect(sw / pw).toBeCloseTo(0.834, 2);

  await page.getByText('every colour for itself').click();
  await expect(page.locator('svg[data-ready=yes] path')).toHaveCount(3);
  await page.locator('fieldset').getByRole('checkbox').first().uncheck();
  await expect(page.locator('svg[data-ready=yes] path')).toHaveCount(2);
  await page.getByLabel('Smoothed by, mm').fill('0.3');
  await page.getByLabel('Smoothed by, mm').press('Enter');
  await page.getByLabel('Called').fill('Light of Þórunn');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('button', { name: 'On its contour' }).click();
  await opened(page, 'Light of Þórunn');
  const { path } = await exportStl(page);
  expect((await readStl(path)).closed).toBe(true);

  await page.goto('/shapes');
  await page
    .locator('[data-shape]')
    .filter({ has: page.getByRole('textbox', { name: /Light of Þórunn/ }) })
    .first()
    .getByRole('button', { name: 'Read again' })
    .click();
  await expect(page.getByLabel('Smoothed by, mm')).toHaveValue('0.3');
  await expect(page.locator('svg[data-ready=yes] path')).toHaveCount(2);
});

test('an SVG with shades is traced as a picture, and what stands out from its background alone', async ({
  page,
}) => {
  const shades =
    '<radialGradient id="g"><stop offset=".5" stop-color="#123"/><stop offset="1" stop-color="#245"/></radialGradient>' +
    '<rect width="60" height="60" fill="#e8c33a"/><circle cx="30" cy="30" r="20" fill="url(#g)"/>';
  await page.goto('/shapes');
  await choose(page).setInputFiles(file('shades.svg', svg(shades)));
  await expect(page.locator('svg[data-ready=yes]')).toBeVisible();
  await page.getByLabel('Trace it as a picture, with its shades').check();
  await expect(page.getByLabel('what is dark')).toBeChecked();
  await page.getByLabel('what stands out from the background').check();
  // As large as the file says it is.
  await expect(page.getByRole('figure', { name: /^(39\.9|40).*1 part, 0 openings/ })).toBeVisible();
  await page.getByLabel('Trace it as a picture, with its shades').uncheck();
  await expect(page.getByLabel('what is dark')).toBeHidden();
  await expect(page.getByRole('figure', { name: /^60.*60 mm/ })).toBeVisible();
});
