// Eleven kinds of piece, each from the page of pieces as a new user would make it, with the actions counted:
// a click, a choice from a list and a field typed are one each. None may take more than fifteen.
import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { fact, opened, readStl, saved } from './desk.mjs';

const MOST_ACTIONS = 15;

/** A person who counts what he does. */
class Maker {
  constructor(page) {
    this.page = page;
    this.count = 0;
  }

  async click(target) {
    this.count += 1;
    await target.click();
  }

  async press(name, role = 'button') {
    await this.click(this.page.getByRole(role, { name, exact: true }));
  }

  async choose(label, option) {
    this.count += 1;
    await this.page.getByLabel(label, { exact: true }).selectOption(option);
    await saved(this.page);
  }

  /** Types into a field, and ends with Enter. */
  async type(label, text) {
    this.count += 1;
    const input = this.page.locator('.settings').getByLabel(label, { exact: true });
    await input.fill(text);
    await input.press('Enter');
    await saved(this.page);
  }

  /** A piece by its name. */
  async begin(name) {
    await this.page.goto('/pieces');
    this.count += 1;
    await this.page.getByLabel('Name of the new piece').fill(name);
    await this.press('Start the piece');
    await opened(this.page, name);
  }

  async add(what) {
    await this.click(this.page.locator('.desk-add').getByRole('button', { name: what, exact: true }));
    await saved(this.page);
  }

  /** New words: they are asked for at once. */
  async letter(text) {
    await this.add('Lettering');
    await expect(this.page.locator('.settings').getByLabel('Words', { exact: true })).toBeFocused();
    await this.type('Words', text);
  }

  async relief(word) {
    await this.click(this.page.locator('.settings').getByText(word, { exact: true }).first());
    await saved(this.page);
  }

  band(name) {
    return this.click(this.page.locator('.elevation-svg .band-name', { hasText: name }).first());
  }

  /** That there is nothing to mend, and how many actions it took. */
  async done() {
    await saved(this.page);
    await expect(this.page.getByText('Preflight has nothing to say')).toBeVisible();
    this.counted();
  }

  counted() {
    test.info().annotations.push({ type: 'actions', description: String(this.count) });
    console.log(`      ${this.count} actions: ${test.info().title}`);
    expect(this.count).toBeLessThanOrEqual(MOST_ACTIONS);
  }

  async takeAway(format) {
    await this.page.getByRole('button', { name: 'Export', exact: true }).click();
    await this.page.getByText(format, { exact: true }).click();
    const [download] = await Promise.all([
      this.page.waitForEvent('download'),
      this.page.getByRole('link', { name: /^Download/ }).click(),
    ]);
    return download;
  }
}

const maker = (page) => new Maker(page);

/** The box around what an element is drawn as, within that of the blank. */
async function within(page, id, margin = 0) {
  const path = page.locator(`.plan-svg .element[data-key="component-1/${id}"] path`).first();
  const [own, blank] = [await path.boundingBox(), await page.locator('.plan-svg .blank').boundingBox()];
  expect(own.x).toBeGreaterThan(blank.x + margin);
  expect(own.y).toBeGreaterThan(blank.y + margin);
  expect(own.x + own.width).toBeLessThan(blank.x + blank.width - margin);
  expect(own.y + own.height).toBeLessThan(blank.y + blank.height - margin);
}

for (const name of ['SOLVEIG', 'BO', 'ÅSE-MARIT ŁÓŚĆ']) {
  test(`a fob with a rim, and ${name} between hole and rim`, async ({ page }) => {
    const me = maker(page);
    await me.begin(`Fob ${name}`);
    await me.add('Hole');
    await me.add('Rim');
    await me.letter(name);
    await me.choose('Size', 'fill the clear area');
    await me.done();
    await within(page, 'lettering-1', 4);
    const stl = await readStl(await (await me.takeAway('STL')).path());
    expect(stl.closed).toBe(true);
  });
}

test('a medal with words over and under, an emblem, and words on the back', async ({ page }) => {
  const me = maker(page);
  await me.begin('Medal, Ólafur');
  await me.choose('Outline', 'Ellipse, circle');
  await me.type('Width', '50');
  await me.type('Height', '50');
  await me.letter('TIDE WATCH');
  await me.choose('Runs', 'over a circle');
  await me.letter('ÓLAFUR');
  await me.choose('Runs', 'under a circle');
  await me.add('Emblem');
  await me.click(page.locator('[name=seen][value=back]').locator('..'));
  await me.letter('No 12');
  await me.done();
  await expect(fact(page, 'size')).toContainText('50 × 50');
});

test('two lines in two typefaces and two heights', async ({ page }) => {
  const me = maker(page);
  await me.begin('Berth plate');
  await me.letter('BERTH 7\nMS Łosoś');
  await me.choose('Size', 'fill the clear area');
  await me.click(page.getByText('Each line on its own'));
  await me.choose('Typeface of line 2', 'Zilla Slab Bold');
  await me.type('Size of line 2', '1/2');
  await me.done();
});

test('a coaster in inches within a piece in millimetres', async ({ page }) => {
  const me = maker(page);
  await me.begin('Coaster');
  await me.choose('Outline', 'Ellipse, circle');
  await me.type('Width', '4 in');
  await me.type('Height', '4 in');
  await me.type('Thickness', '5/32 in');
  await me.add('Rim');
  await me.type('Wide', '5/32 in');
  await me.letter('SKERRY POINT');
  await me.choose('Size', 'fill the clear area');
  await me.relief('recessed');
  await me.done();
  await expect(fact(page, 'size')).toContainText('101.6 × 101.6 ×');
});

test('a tag that follows its letters, with a loop, in two colours', async ({ page }) => {
  const me = maker(page);
  await me.begin('Tag, Łucja');
  await me.letter('Łucja');
  await me.choose('Colour', 'Lifebuoy orange');
  await me.band('Plate');
  await me.choose('Outline', 'Contour of the letters');
  await me.add('Loop');
  await me.done();
  await expect(page.getByRole('button', { name: '2 colours, 1 swap' })).toBeVisible();
});

test('a recessed field, its edges and those of the plate rounded', async ({ page }) => {
  const me = maker(page);
  await me.begin('Drawer plate');
  await me.choose('Top edge', 'round');
  await me.add('Recess');
  await me.choose('Edge', 'round');
  await me.letter('ROPES');
  await me.choose('Size', 'fill the clear area');
  await me.done();
});

test('tags for three people as three files', async ({ page }) => {
  const me = maker(page);
  for (const name of ['Åse', 'Gül', 'Łucja']) {
    await page.goto('/pieces');
    await me.click(page.locator('[data-starter="key-fob"] button').first());
    me.count += 1;
    await page.getByLabel('Name of the piece').fill(`Tag for ${name}`);
    me.count += 1;
    await page.locator('.form-fields textarea, .form-fields input').nth(1).fill(name.toUpperCase());
    await expect(page.locator('[data-state]')).toHaveText('saved');
  }
  await page.goto('/pieces');
  for (const name of ['Åse', 'Gül', 'Łucja']) {
    await me.click(page.getByRole('checkbox', { name: `Choose Tag for ${name}` }));
  }
  me.count += 1;
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as 3MF' }).click(),
  ]);
  const packed = (await readFile(await zip.path())).toString('latin1');
  const utf8 = (text) => Buffer.from(text).toString('latin1');
  for (const name of ['åse', 'gül', 'łucja'])
    expect(packed.includes(utf8(`tag-for-${name}`)), name).toBe(true);
  me.counted();
});

test('what to tell a printer with one nozzle', async ({ page }) => {
  const me = maker(page);
  await me.begin('One nozzle');
  await me.letter('QUAY 2');
  await me.choose('Colour', 'Lifebuoy orange');
  await me.press('2 colours, 1 swap');
  await expect(page.getByLabel('Lines for the printer')).toHaveValue(/before layer 16, Z 3\.000 mm/);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await me.press('Copy the lines');
  await expect(page.getByText('The lines are copied.')).toBeVisible();
  me.counted();
});

test('words on somebody else’s mesh', async ({ page }) => {
  const me = maker(page);
  await page.goto('/pieces');
  await me.press('Mesh files', 'link');
  me.count += 1;
  await page.getByLabel('Choose a mesh file').setInputFiles('../demo/ferry-hull.stl');
  // What looks up is chosen already.
  await expect(page.getByRole('radio').first()).toBeChecked();
  await expect(
    page
      .locator('label')
      .filter({ has: page.getByRole('radio') })
      .first(),
  ).toContainText('top');
  await me.press('Make the piece');
  await page.locator('.plan-svg .blank').waitFor();
  await me.letter('ÆGIR');
  await me.done();
});

test('a starter with two inputs', async ({ page }) => {
  const me = maker(page);
  await me.begin('Locker tag');
  await me.letter('{name}');
  await me.click(page.getByRole('button', { name: /Preflight:/ }));
  await me.press('Make it a text of the piece');
  await me.click(page.getByRole('navigation').getByRole('button', { name: 'Keep as a starter' }));
  const dialog = page.getByRole('dialog', { name: 'Keep as a starter' });
  await me.click(dialog.getByRole('checkbox', { name: 'Words' }));
  await me.click(dialog.getByRole('checkbox', { name: 'Width' }));
  await me.click(dialog.getByRole('button', { name: 'Keep it' }));
  await expect(dialog).toBeHidden();
  await page.goto('/pieces');
  const own = page.locator('[data-starter][data-name="Locker tag"]').first();
  await me.click(own.getByRole('button', { name: 'Locker tag', exact: true }));
  me.count += 1;
  await page.getByLabel('Name', { exact: true }).fill('Zoë');
  me.count += 1;
  await page.getByLabel('Width', { exact: true }).fill('80');
  await expect(page.locator('[data-fact=size]')).toContainText('80 ×');
  me.counted();
  await page.goto('/pieces');
  await own.getByRole('button', { name: 'Delete' }).click();
});
