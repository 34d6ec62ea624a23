import { expect, test } from '@playwright/test';
import { add, exportStl, newPiece } from './desk.mjs';

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
  await expect(page.getByRole('alert')).toHaveText('This OBJ file cannot be read: line 2: “2” names no vertex before it.');
});
