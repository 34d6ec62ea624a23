// What has to fit: a cap over a pipe that was measured, and a printer that was measured on a gauge.
import { expect, test } from '@playwright/test';
import { add, exportStl, field, opened, readStl, saved } from './desk.mjs';

const room = (page) => page.locator('.settings').getByText(/of room all round/);

async function put(page, label, text) {
  const input = field(page, label);
  await input.fill(text);
  await input.press('Enter');
  await saved(page);
}

async function begin(page, name, blank) {
  await page.goto('/pieces');
  await page.getByLabel('Name of the new piece').fill(name);
  await page.getByLabel('What it starts from').selectOption(blank);
  await page.getByRole('button', { name: 'Start the piece' }).click();
  await opened(page, name);
}

test('a cap over a pipe that was measured, with words on its top and round its skirt', async ({ page }) => {
  await begin(page, 'Sounding pipe 4, Ćesarija', 'cap');
  await put(page, 'The pipe measures, across', '48.1');
  await expect(room(page)).toHaveText('48.1 mm in 48.3 mm: 0.1 mm of room all round');
  // A nominal size in the place of the measured one, and back.
  await page.getByLabel('The pipe’s nominal size').selectOption({ label: 'DN 40, 1 1/2 (48.3 mm)' });
  await expect(room(page)).toHaveText('48.3 mm in 48.5 mm: 0.1 mm of room all round');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(room(page)).toHaveText('48.1 mm in 48.3 mm: 0.1 mm of room all round');

  await add(page, 'Lettering');
  await put(page, 'Words', '4');
  await page.getByLabel('Seen from').selectOption('around');
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toHaveValue('NAME');
  await put(page, 'Words', 'FORE PEAK');
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();

  // An angle round the skirt is taken for a place.
  await page.getByLabel('Across, measured from').selectOption('centre');
  await saved(page);
  await put(page, 'Distance across', '90°');
  const quarter = ((48.3 + 4.8) * Math.PI) / 4;
  await expect(field(page, 'Distance across')).toHaveValue(`${Math.round(quarter * 1000) / 1000} mm`);

  // Words longer than the way round are said so.
  await put(page, 'Words', 'SKERRY POINT ISLAND FERRY COOPERATIVE');
  await page.getByRole('button', { name: /^Preflight:/ }).click();
  await expect(page.getByText(/it runs into itself/)).toBeVisible();
  await page.getByRole('button', { name: /^Preflight:/ }).click();
  await put(page, 'Words', 'AFT');

  // Ribs leave them their room, in a band below them.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByLabel('Grip', { exact: true }).selectOption('ribs');
  const where = page.getByLabel('Where the grip is');
  await expect(where).toHaveValue('band');
  await expect(page.getByRole('alert').filter({ hasText: 'Things go round' })).toHaveCount(0);
  // All the way up there would be none, which is said; and what was refused does not stay shown as if it were so.
  await where.selectOption('all');
  await expect(
    page.getByRole('alert').filter({ hasText: 'Things go round a plain outside only' }),
  ).toBeVisible();
  await expect(where).toHaveValue('band');

  const { path } = await exportStl(page);
  const { closed, size } = await readStl(path);
  expect(closed).toBe(true);
  // A cap is printed on its top, so words there begin sunk.
  expect(size[2]).toBe(19);
});

test('what was read off a gauge changes the pieces made on that printer', async ({ page }) => {
  await page.goto('/printers');
  await page.getByRole('button', { name: 'Add a printer' }).click();
  const own = page.getByRole('region', { name: 'New printer' });
  await own.getByLabel('Name', { exact: true }).fill('Quay North, grey');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('status')).toHaveText('Quay North, grey is kept.');
  // How many filaments it lays at once may be left open.
  const grey = page.getByRole('region', { name: 'Quay North, grey' });
  const filaments = grey.getByLabel('Filaments in a layer');
  for (const count of ['1', '']) {
    await filaments.fill(count);
    const kept = page.waitForResponse('**/api/printers/*');
    await page.keyboard.press('Tab');
    expect((await kept).ok()).toBe(true);
    await page.reload();
    await expect(filaments).toHaveValue(count);
  }

  await begin(page, 'Pipe cap, Łukasz', 'cap');
  await page.getByLabel('Made on').selectOption({ label: 'Quay North, grey' });
  await saved(page);
  await page.getByLabel('Fit', { exact: true }).selectOption('snug');
  await expect(room(page)).toHaveText('42.4 mm in 42.5 mm: 0.05 mm of room all round');
  const piece = page.url();

  // The gauge is a piece like any other.
  await page.goto('/printers');
  const printer = page.getByRole('region', { name: 'Quay North, grey' });
  await printer.getByRole('button', { name: 'a plate in slots' }).click();
  await opened(page, 'Gauge, a plate in slots');
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();

  // A reading that contradicts itself is refused, and nothing of it is lost.
  await page.goto('/printers');
  await printer.getByRole('button', { name: 'Say what went in' }).click();
  const answers = {
    0.15: 'mallet',
    '0.20': 'mallet',
    0.25: 'hand',
    '0.30': 'not',
    0.35: 'hand',
    '0.40': 'itself',
    0.45: 'itself',
    '0.50': 'itself',
  };
  for (const [mm, how] of Object.entries(answers)) {
    await printer.getByLabel(`${mm} mm`).selectOption(how);
  }
  await printer.getByRole('button', { name: 'Take it over' }).click();
  await expect(page.getByRole('alert')).toHaveText(/0.30 mm went in less easily than 0.25 mm/);
  await printer.getByLabel('0.30 mm').selectOption('hand');
  await printer.getByRole('button', { name: 'Take it over' }).click();
  await expect(page.getByRole('status')).toHaveText(/Quay North, grey is kept. 2 pieces follow it./);
  await expect(printer.locator('[data-source]')).toHaveText(/measured on a gauge on \d{4}-\d\d-\d\d/);
  await expect(printer.getByLabel('Snug, mm')).toHaveValue('0.25');

  await page.goto(piece);
  await expect(room(page)).toHaveText('42.4 mm in 42.65 mm: 0.13 mm of room all round');
  // Taken back like any other step.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(room(page)).toHaveText('42.4 mm in 42.5 mm: 0.05 mm of room all round');
});

test('a lid is made of a plate and lies in the rebate of its box', async ({ page }) => {
  await begin(page, 'Key box, Ğülçin', 'box');
  await page.getByLabel('Add a component').selectOption('plate');
  await expect(page.locator('.chips').getByRole('button', { name: 'Plate' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.getByRole('button', { name: 'Make Plate the lid of Box' }).click();
  await expect(page.locator('.settings').getByText('3 mm deep, 0.1 mm of room all round')).toBeVisible();
  await page.locator('.chips').getByRole('button', { name: 'Plate' }).click();
  await expect(field(page, 'Width')).toHaveValue('82.8 mm');
  // A thicker lid takes its rebate along.
  await put(page, 'Thickness', '4');
  await page.getByRole('button', { name: 'Lies in Box' }).click();
  await expect(page.locator('.settings').getByText('4 mm deep, 0.1 mm of room all round')).toBeVisible();
  // The lid follows a box that grows, until it is given a size of its own.
  const chip = (name) => page.locator('.chips').getByRole('button', { name, exact: true });
  await put(page, 'Width inside', '90');
  await chip('Plate').click();
  await expect(field(page, 'Width')).toHaveValue('92.8 mm');
  await put(page, 'Width', '92');
  await chip('Box').click();
  await put(page, 'Width inside', '100');
  await page.getByRole('button', { name: /^Preflight:/ }).click();
  await expect(page.getByText(/so it falls in/)).toBeVisible();
});

test('words spread all round, and the side a cap is printed on', async ({ page }) => {
  await begin(page, 'Mooring post, Ōkalani', 'cap');
  // The cut above the elevation has the faces to choose from.
  await page.getByRole('button', { name: 'skirt, all round' }).first().click();
  await expect(page.getByLabel('Seen from')).toHaveValue('around');
  await add(page, 'Lettering');
  await put(page, 'Words', 'OOOO');
  await page.getByLabel('Runs').selectOption('round');
  await saved(page);
  await expect(field(page, 'Spread over')).toHaveValue('360°');
  await put(page, 'Letters tall', '20');
  await put(page, 'Words', 'SKERRY POINT FERRIES');
  await page.getByRole('button', { name: /^Preflight:/ }).click();
  await page.getByRole('button', { name: /^Make the letters/ }).click();
  await saved(page);
  await expect(page.getByText('are to be spread over 360°')).toBeHidden();

  // A new cap is printed on its top; standing, its top would be a bridge, and that is said.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(field(page, 'Printed')).toHaveValue('on-top');
  await field(page, 'Printed').selectOption('as-made');
  await saved(page);
  await page.getByRole('button', { name: /^Preflight:/ }).click();
  await expect(page.getByText(/of it hang over nothing/)).toBeVisible();
  await page.locator('.settings').getByRole('button', { name: 'Best' }).click();
  await expect(field(page, 'Printed')).toHaveValue('on-top');
  await field(page, 'Printed').selectOption('on-left');
  await saved(page);
  const { path } = await exportStl(page);
  const { closed, size } = await readStl(path);
  expect(closed).toBe(true);
  // As high as it is wide, and as wide as it is high.
  expect(size[2]).toBeGreaterThan(45);
  expect(size[0]).toBeCloseTo(19, 3);
});
