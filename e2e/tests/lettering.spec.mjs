import { expect, test } from '@playwright/test';
import { add, choose, exportStl, fact, field, newPiece, readStl, saved, type } from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);
const number = async (locator) => Number.parseFloat(await locator.inputValue());

async function addWords(page, words) {
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  // Enter ends the words, Shift Enter begins another line.
  const [first, ...others] = words.split('\n');
  await page.keyboard.type(first);
  for (const line of others) {
    await page.keyboard.press('Shift+Enter');
    await page.keyboard.type(line);
  }
  await saved(page);
}

test('two lines fill the clear area, each with its own face and size', async ({ page }) => {
  await newPiece(page, 'Two lines');
  await addWords(page, 'SKERRY\nPoint quay');
  await choose(page, 'Size', 'clear-area');
  await saved(page);
  const tall = () => page.getByLabel('Letters come out').innerText();
  const both = Number.parseFloat(await tall());
  await page.getByText('Each line on its own').click();
  await type(field(page, 'Size of line 2'), '0.5');
  await expect.poll(async () => Number.parseFloat(await tall())).toBeGreaterThan(both * 1.2);
  await choose(page, 'Typeface of line 2', 'pacifico');
  await saved(page);
  await page.getByRole('radio', { name: 'left', exact: true }).check();
  await saved(page);
  // Nothing leaves the clear area, whatever is typed.
  await field(page, 'Words').fill('A\nmuch longer name than before');
  await saved(page);
  // Letters so small are too thin to print, and that is all there is to say.
  await expect(page.getByRole('button', { name: /Preflight:/ })).toContainText('1 to mend');
  await expect(page.getByText('over the edge')).toHaveCount(0);
});

test('a medallion gets words over and under a circle, moved by their handles', async ({ page }) => {
  await newPiece(page, 'Round');
  await choose(page, 'Outline', 'ellipse');
  await type(field(page, 'Width'), '50');
  await type(field(page, 'Height'), '50');
  await addWords(page, 'TIDE WATCH');
  await type(field(page, 'Letters tall'), '6');
  await choose(page, 'Runs', 'clockwise');
  await type(field(page, 'Radius'), '15');
  await saved(page);
  const span = Number.parseFloat(await page.getByLabel('Part of the circle').innerText());
  expect(span).toBeGreaterThan(90);
  // The handle at the middle of the words pulls the radius.
  const handle = await page.locator('[data-handle=circle-radius]').boundingBox();
  await page.mouse.move(handle.x + 4, handle.y + 4);
  await page.mouse.down();
  await page.mouse.move(handle.x + 4, handle.y - 12, { steps: 5 });
  await page.mouse.up();
  await saved(page);
  expect(await number(field(page, 'Radius'))).toBeGreaterThan(15.8);
  await type(field(page, 'Radius'), '15');
  await saved(page);
  // The round one at the end turns them.
  const turn = await page.locator('[data-handle=circle-turn]').boundingBox();
  await page.mouse.move(turn.x + 4, turn.y + 4);
  await page.mouse.down();
  await page.mouse.move(turn.x - 16, turn.y + 60, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect(await number(field(page, 'Its middle at'))).toBeLessThan(88);
  await type(field(page, 'Its middle at'), '90');
  await addWords(page, 'QUAY');
  await type(field(page, 'Letters tall'), '6');
  await choose(page, 'Runs', 'upright');
  await type(field(page, 'Radius'), '15');
  await choose(page, 'Edges', 'round');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
  expect(stl.size[2]).toBeCloseTo(4.5, 3);
});

test('words are typed straight into the plan', async ({ page }) => {
  await newPiece(page, 'In place');
  await addWords(page, 'ÅSE');
  await page.keyboard.press('Escape');
  await element(page, 'lettering-1').dblclick();
  const editor = page.getByLabel('Words, typed in the plan');
  await expect(editor).toBeFocused();
  await page.keyboard.type('Łucja');
  await page.keyboard.press('Shift+Enter');
  await page.keyboard.type('& Ğül');
  await page.keyboard.press('Enter');
  await expect(editor).toHaveCount(0);
  await saved(page);
  await expect(element(page, 'lettering-1')).toHaveAttribute('aria-label', 'Lettering, Łucja & Ğül');
  await page.keyboard.press('ControlOrMeta+z');
  await expect(element(page, 'lettering-1')).toHaveAttribute('aria-label', 'Lettering, ÅSE');
});

test('a blank follows its letters, and says by how much it must to hold together', async ({ page }) => {
  await newPiece(page, 'Contour');
  await addWords(page, 'Łucja');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await choose(page, 'Outline', 'contour');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await element(page, 'lettering-1').focus();
  await field(page, 'Words').fill('Ł   j');
  await saved(page);
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await page.getByRole('button', { name: /Set it to/ }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await add(page, 'Loop');
  await saved(page);
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
});

test('the chooser shows the words in every face and says what speaks against one', async ({ page }) => {
  await newPiece(page, 'Faces');
  await addWords(page, 'Ωλα');
  await page.locator('[aria-haspopup=listbox]').click();
  const options = page.locator('.face-list [role=option]');
  await expect(options).toHaveCount(17);
  await expect(page.locator('[data-typeface=anton]')).toContainText('lacks λ α');
  await expect(page.locator('[data-typeface=noto-serif] path')).toHaveAttribute('d', /^M/);
  await page.locator('[data-typeface=noto-serif]').click();
  await expect(page.locator('#typeface-name')).toHaveText('Noto Serif Black');
  await field(page, 'Words').fill('Gül');
  await type(field(page, 'Letters tall'), '3');
  await saved(page);
  await page.locator('[aria-haspopup=listbox]').click();
  await expect(page.locator('[data-typeface=pacifico]')).toContainText('strokes under 0.4 mm');
});

test('a typeface of one’s own is added, used, and missed when it is gone', async ({ page }) => {
  await page.goto('/typefaces');
  const input = page.getByLabel('Choose a font file');
  await input.setInputFiles({
    name: 'broken.ttf',
    mimeType: 'font/ttf',
    buffer: Buffer.from('no font at all'),
  });
  await expect(page.getByText('This is not a font that can be read')).toBeVisible();
  await input.setInputFiles({ name: 'huge.ttf', mimeType: 'font/ttf', buffer: Buffer.alloc(41 << 20) });
  await expect(page.getByText('40 MB at most')).toBeVisible();
  // A variable font in WOFF2, with its weight.
  await input.setInputFiles(
    '../web/node_modules/@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2',
  );
  await expect(page.locator('form').getByText('scripts.sil.org/OFL')).toBeVisible();
  await page.getByLabel('Weight').fill('900');
  await expect(page.getByLabel('Called')).toHaveValue('Hanken Grotesk 900');
  await page.getByLabel('Called').fill('Harbour heavy');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Harbour heavy' })).toBeVisible();

  await newPiece(page, 'Own face');
  await addWords(page, 'HAVN');
  const before = await fact(page, 'volume').innerText();
  await page.locator('[aria-haspopup=listbox]').click();
  await page.locator('.face-list [role=option]').filter({ hasText: 'Harbour heavy' }).click();
  await expect(fact(page, 'volume')).not.toHaveText(before);
  await saved(page);
  const address = page.url();
  await page.goto('/typefaces');
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Harbour heavy' })
    .getByRole('button', { name: 'Delete' })
    .click();
  await expect(page.getByText('Harbour heavy')).toHaveCount(0);
  await page.goto(address);
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText('not among yours here')).toBeVisible();
});

test('a longer name gives way as it was told, and that is said; words are turned and mirrored', async ({
  page,
}) => {
  await newPiece(page, 'Berth of Friðrika');
  await addWords(page, 'EVA');
  const asked = await field(page, 'Letters tall').inputValue();
  await field(page, 'Words').fill('FRIÐRIKA ÅSDÓTTIR');
  await saved(page);
  const said = page.locator('[data-shrunk]');
  await expect(said).toBeVisible();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  // The height that was asked for stands, and comes back with a shorter name.
  await expect(field(page, 'Letters tall')).toHaveValue(asked);
  const tall = async () => Number((await said.textContent()).match(/[\d.]+/)[0]);
  const alone = await tall();
  await field(page, 'Where there is no room').selectOption('line');
  await saved(page);
  await expect(async () => expect(await tall()).toBeGreaterThan(1.2 * alone)).toPass();
  await field(page, 'Where there is no room').selectOption('width');
  await saved(page);
  await expect(page.locator('.settings').getByLabel('At least this share wide')).toHaveValue('0.75');
  await expect(async () => expect(await tall()).toBeGreaterThan(1.2 * alone)).toPass();
  await field(page, 'Where there is no room').selectOption('nothing');
  await saved(page);
  await expect(said).toBeHidden();
  await expect(page.getByRole('button', { name: /Preflight: .*to mend/ })).toBeVisible();
  await field(page, 'Where there is no room').selectOption('size');
  await saved(page);
  await field(page, 'Words').fill('EVA');
  await saved(page);
  await expect(said).toBeHidden();
  // Turned upright it gives way to the height of the face.
  await type(field(page, 'Turned by'), '90');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await page.getByLabel('Mirrored').check();
  await saved(page);
  const made = await readStl((await exportStl(page)).path);
  expect(made.closed).toBe(true);
  // A second lettering lands beside the first, not on it.
  await add(page, 'Lettering');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const [first, second] = await Promise.all(
    ['lettering-1', 'lettering-2'].map((id) =>
      element(page, id).evaluate((one) => {
        const { left, right, top, bottom } = one.getBoundingClientRect();
        return { left, right, top, bottom };
      }),
    ),
  );
  const apart =
    first.right <= second.left ||
    second.right <= first.left ||
    first.bottom <= second.top ||
    second.bottom <= first.top;
  expect(apart).toBe(true);
});
