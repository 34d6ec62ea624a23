import { expect, test } from '@playwright/test';
import { add, dimension, exportStl, fact, field, newPiece, opened, readStl, saved, type } from './desk.mjs';

const file = (name, text) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) });

test('a mesh of somebody else is measured, checked and shown, and a broken one told so', async ({ page }) => {
  await newPiece(page, 'Measured');
  await add(page, 'Hole');
  const { path } = await exportStl(page);
  await page.goto('/pieces');
  await page.getByRole('link', { name: 'Mesh files' }).click();
  const choose = page.getByLabel('Choose a mesh file');
  await choose.setInputFiles(path);
  await expect(page.getByText('Closed and turned outwards')).toBeVisible();
  await expect(page.locator('[data-fact=size]')).toHaveText('72 × 24 × 3 mm');
  await expect(page.getByText('not stated, by its size mm')).toBeVisible();
  await expect(page.locator('[data-ready=yes] canvas')).toBeVisible();

  await choose.setInputFiles(file('gap.obj', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'));
  await expect(page.getByText('3 open edges: there is a gap in the surface.')).toBeVisible();
  await expect(page.getByText('Not sound')).toBeVisible();
  await choose.setInputFiles(file('note.stl', 'dear cooperative'));
  await expect(page.getByRole('alert')).toHaveText('This is no STL, OBJ or 3MF file.');
  await choose.setInputFiles(file('lies.obj', 'v 0 0 0\nf 1 2 3\n'));
  await expect(page.getByRole('alert')).toHaveText(
    'This OBJ file cannot be read: line 2: “2” names no vertex before it.',
  );
});

const HULL = '../demo/ferry-hull.stl';
const choose = (page) => page.getByLabel('Choose a mesh file');

/** Makes a piece of a mesh on the face of this number, the largest being 1. */
async function pieceOfMesh(page, path, name, face = 1) {
  await page.goto('/meshes');
  await choose(page).setInputFiles(path);
  await page
    .locator('[name=face]')
    .nth(face - 1)
    .check();
  await page.getByLabel('Called').fill(name);
  await page.getByRole('button', { name: 'Make the piece' }).click();
  await opened(page, name);
}

test('lettering and a hole go onto the deck of a mesh, and the piece travels with its mesh', async ({
  page,
}) => {
  await page.goto('/meshes');
  await choose(page).setInputFiles(HULL);
  await expect(page.getByText('1 top', { exact: false })).toBeVisible();
  // A face is taken from the list, or clicked.
  await page.locator('[name=face]').nth(1).check();
  await page.locator('[data-ready=yes] canvas').click();
  await expect(page.locator('[name=face]').first()).toBeChecked();
  await pieceOfMesh(page, HULL, 'Skiff, Þóra');
  const plain = await exportStl(page);
  const before = await readStl(plain.path);
  expect(before).toMatchObject({ closed: true, size: [96, 26, 18] });
  expect(await page.locator('.desk-add').getByRole('button', { name: 'Loop' }).isVisible()).toBe(false);

  await page.getByRole('button', { name: 'Add lettering' }).click();
  await type(field(page, 'Words'), 'ÞÓRA');
  await add(page, 'Hole');
  await type(field(page, 'Across'), '3');
  await type(field(page, 'Distance across'), '4');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const { path } = await exportStl(page);
  const after = await readStl(path);
  expect(after.closed).toBe(true);
  expect(after.size).toEqual([96, 26, 19.5]);
  expect(after.volume).toBeGreaterThan(before.volume + 100);

  // The piece file comes in an archive with its mesh, and the archive makes the same piece again.
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'Piece file' }).check();
  await expect(page.getByRole('dialog').getByText('ferry-hull.stl')).toBeVisible();
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download ZIP' }).click(),
  ]);
  await page.goto('/pieces');
  await page.getByLabel('Open a piece file').setInputFiles(await zip.path());
  await opened(page, 'Skiff, Þóra');
  await expect(fact(page, 'size')).toHaveText('96 × 26 × 19.5 mm');

  await page.goto('/meshes');
  const kept = page.locator('[data-mesh]', { hasText: 'ferry-hull.stl' });
  await kept.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('alert')).toContainText(/are made of this mesh, .* \(\d of them\)/);
  await kept.getByRole('button', { name: 'ferry-hull.stl' }).click();
  await expect(page.getByText('Make a piece of it')).toBeVisible();
});

test('a mesh joins a piece as a component, and travels with it', async ({ page }) => {
  await pieceOfMesh(page, HULL, 'Skiff, Ángel');
  await newPiece(page, 'Skiff on a stand, Þóra');
  await page.getByLabel('Add a component').selectOption({ label: 'ferry-hull.stl' });
  const chips = page.locator('.chips').getByRole('button');
  await expect(chips).toHaveText(['Plate', 'Mesh']);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const { closed, size } = await readStl((await exportStl(page)).path);
  expect(closed).toBe(true);
  // Side by side, 5 mm apart on whole millimetres.
  expect(size).toEqual([72 + 5 + 96, 26, 18]);

  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'Piece file' }).check();
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download ZIP' }).click(),
  ]);
  await page.goto('/pieces');
  await page.getByLabel('Open a piece file').setInputFiles(await zip.path());
  await opened(page, 'Skiff on a stand, Þóra');
  await expect(chips).toHaveText(['Plate', 'Mesh']);
  await page.getByRole('button', { name: 'Undo', exact: true }).isDisabled();
});

test('another face, a turn, the back and the unit of a mesh', async ({ page }) => {
  await pieceOfMesh(page, HULL, 'Keel side', 2);
  await expect(dimension(page, 'width')).toHaveText('83.52 mm');
  await field(page, 'Face').selectOption({ index: 0 });
  await expect(dimension(page, 'width')).toHaveText('96 mm');
  await type(field(page, 'Turned by'), '90');
  await field(page, 'Turned by').press('Enter');
  await expect(dimension(page, 'width')).toHaveText('26 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('radio', { name: 'back' }).check({ force: true });
  await expect(dimension(page, 'width')).toHaveText('83.52 mm');
  await add(page, 'Emblem');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await page.locator('.elevation-svg .band[data-key=plate]').focus();
  await field(page, 'Drawn in').selectOption('inches');
  await expect(page.locator('.desk-add [role=alert]')).toContainText('more than 500 mm');
  await expect(fact(page, 'size')).toHaveText('96 × 26 × 18 mm');
});

test('heights can be zoomed and shown whole again', async ({ page }) => {
  await pieceOfMesh(page, HULL, 'Tall');
  const scale = page.locator('.elevation .figure').first();
  const whole = await scale.textContent();
  await page.getByRole('button', { name: 'Heights larger' }).click();
  await expect(scale).not.toHaveText(whole);
  await page.keyboard.press('0');
  await expect(scale).toHaveText(whole);
});
