// What the tests share: a fresh piece, and reading of downloaded STL files.
import { expect } from '@playwright/test';
import { readFile } from 'node:fs/promises';

/** Makes a new piece from the page of pieces and waits for its page. */
export async function newPiece(page, name, units = 'mm') {
  await page.goto('/pieces');
  await page.getByLabel('Name of the new piece').fill(name);
  if (units === 'in') await page.locator('[name=units][value=in]').check();
  await page.getByRole('button', { name: 'Start the piece' }).click();
  await opened(page, name);
}

export async function opened(page, name) {
  await expect(page).toHaveTitle(`${name} – Kalotype`);
  await expect(page.locator('.plan-svg .blank')).toBeVisible();
}

export const field = (page, label) => page.locator('.settings').getByLabel(label, { exact: true });
export const fact = (page, name) => page.locator(`[data-fact=${name}]`);
export const dimension = (page, key) => page.locator(`[data-dimension="${key}"] .label`);
export const saved = (page) => expect(page.locator('.desk-head [data-state]')).toHaveText('saved');

/** Adds a thing, and waits until it is what the settings are of. */
export async function add(page, what) {
  await page.locator('.desk-add').getByRole('button', { name: what }).click();
  await saved(page);
}

/** The same of a thing that has no button of its own. */
export async function addOther(page, what) {
  await page.getByLabel('Add another thing').selectOption(what);
  await saved(page);
}

/** Types into a field as a person does, in place of what stood there. */
export async function type(locator, text) {
  await locator.click();
  await locator.press('ControlOrMeta+a');
  await locator.pressSequentially(text);
}

/** A binary STL: triangles as arrays of three corners, volume, bounds and whether it is closed. */
export async function readStl(path) {
  const bytes = await readFile(path);
  const count = bytes.readUInt32LE(80);
  expect(bytes.length).toBe(84 + 50 * count);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const edges = new Map();
  let volume = 0;
  for (let i = 0; i < count; i += 1) {
    const corners = [0, 1, 2].map((c) =>
      [0, 1, 2].map((a) => bytes.readFloatLE(84 + 50 * i + 12 + 12 * c + 4 * a)),
    );
    const [p, q, r] = corners;
    volume +=
      (p[0] * (q[1] * r[2] - q[2] * r[1]) +
        p[1] * (q[2] * r[0] - q[0] * r[2]) +
        p[2] * (q[0] * r[1] - q[1] * r[0])) /
      6;
    for (const corner of corners) {
      for (let a = 0; a < 3; a += 1) {
        low[a] = Math.min(low[a], corner[a]);
        high[a] = Math.max(high[a], corner[a]);
      }
    }
    const names = corners.map(String);
    for (let k = 0; k < 3; k += 1) {
      const edge = `${names[k]}|${names[(k + 1) % 3]}`;
      edges.set(edge, (edges.get(edge) ?? 0) + 1);
    }
  }
  const closed = [...edges].every(
    ([edge, uses]) => uses === 1 && edges.get(edge.split('|').reverse().join('|')) === 1,
  );
  return { count, volume, size: high.map((v, a) => v - low[a]), closed };
}

/** Downloads the STL, all colours in one, through the export sheet. */
export async function exportStl(page) {
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'STL', exact: true }).check();
  const isColoured = await page.getByRole('radio', { name: 'in one' }).isVisible();
  if (isColoured) await page.getByRole('radio', { name: 'in one' }).check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /Download STL/ }).click(),
  ]);
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  return { name: download.suggestedFilename(), path: await download.path() };
}

/** Chooses from a list of the settings by its label. */
export const choose = (page, label, value) =>
  page.locator('.settings').getByLabel(label, { exact: true }).selectOption(value);
