import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import {
  add,
  addOther,
  choose,
  dimension,
  exportStl,
  fact,
  field,
  newPiece,
  readStl,
  saved,
  type,
} from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);

/** What the server says of the piece that is open. */
const view = (page) =>
  page.evaluate(async () => {
    const id = location.pathname.split('/').pop();
    const bytes = await (await fetch(`/api/pieces/${id}`)).arrayBuffer();
    const length = new DataView(bytes).getUint32(0, true);
    return JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length)));
  });
const frames = async (page) => {
  const { components } = await view(page);
  return Object.fromEntries(components[0].elements.map((one) => [one.id.split('/')[1], one.frame]));
};

async function addWords(page, words) {
  await add(page, 'Lettering');
  await expect(field(page, 'Words')).toBeFocused();
  await page.keyboard.type(words);
  await saved(page);
}

test('an emblem follows its name, a row is centred, and the plate is as long as both', async ({ page }) => {
  await newPiece(page, 'Berth plate');
  await choose(page, 'Width, fixed or growing', 'grows');
  await type(field(page, 'Width'), '50');
  await type(field(page, 'At most'), '180');
  await addWords(page, 'Å');
  await type(field(page, 'Letters tall'), '9');
  await saved(page);
  await add(page, 'Emblem');
  await choose(page, 'Placed by', 'lettering-1');
  await choose(page, 'On which side', 'right');
  await type(field(page, 'At a distance of'), '2');
  await saved(page);
  await expect(fact(page, 'size')).toContainText('50 ×');
  await element(page, 'lettering-1').click();
  await field(page, 'Words').fill('Marit Ødegård');
  await saved(page);
  await expect(fact(page, 'size')).not.toContainText('50 ×');
  const now = await frames(page);
  expect(now['emblem-1'].x0 - now['lettering-1'].x1).toBeCloseTo(2, 3);
  const { plate } = (await view(page)).components[0];
  expect(now['lettering-1'].x0 + now['emblem-1'].x1).toBeCloseTo(0, 1);
  // The margin of 2 mm, and what the round corners take of the clear area.
  expect(plate.frame.x1 - now['emblem-1'].x1).toBeGreaterThan(1.95);
  expect(plate.frame.x1 - now['emblem-1'].x1).toBeLessThan(3);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  // Pulled by hand the emblem keeps to its name, at another distance.
  const box = await element(page, 'emblem-1').boundingBox();
  const before = (await view(page)).piece.components[0].elements[1].kind.emblem.place.by;
  const drawn = await page.locator('.plan-svg .blank').getAttribute('transform');
  const scale = Number(/scale\((\S+)/.exec(drawn)[1]);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(box.x + box.width / 2 + 14, box.y + box.height / 2 - 6, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await saved(page);
  const pulled = await frames(page);
  const after = (await view(page)).piece.components[0].elements[1].kind.emblem.place.by;
  // By just as much as it was pulled, whatever was answered on the way; to a tenth of a millimetre.
  expect(Math.abs(after.gap - before.gap - 14 / scale)).toBeLessThan(0.06);
  expect(Math.abs(after.shift - before.shift - 6 / scale)).toBeLessThan(0.06);
  expect(pulled['emblem-1'].x0 - pulled['lettering-1'].x1).toBeCloseTo(after.gap, 3);
  const middle = ({ y0, y1 }) => (y0 + y1) / 2;
  expect(middle(pulled['emblem-1']) - middle(pulled['lettering-1'])).toBeCloseTo(after.shift, 3);
  expect(after.element).toBe('lettering-1');
  // Its name taken away, it stays where it is, on its own.
  const alone = (await frames(page))['emblem-1'];
  const width = async () => {
    const { frame } = (await view(page)).components[0].plate;
    return frame.x1 - frame.x0;
  };
  await element(page, 'lettering-1').click();
  await page.keyboard.press('Escape');
  await element(page, 'lettering-1').focus();
  await page.keyboard.press('Delete');
  await saved(page);
  expect((await frames(page))['lettering-1']).toBeUndefined();
  expect((await frames(page))['emblem-1'].y0).toBeCloseTo(alone.y0, 3);
  expect(await width()).toBeGreaterThanOrEqual(50);
  // And back again.
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect((await frames(page))['emblem-1'].x0).toBeCloseTo(alone.x0, 3);
});

test('a plate that may not grow enough says so, and lets itself be told how far', async ({ page }) => {
  await newPiece(page, 'Short plate');
  await choose(page, 'Width, fixed or growing', 'grows');
  await type(field(page, 'Width'), '40');
  await type(field(page, 'At most'), '60');
  await addWords(page, 'FRIÐRIKA ÞORSTEINSDÓTTIR');
  await type(field(page, 'Letters tall'), '9');
  await saved(page);
  await expect(fact(page, 'size')).toContainText('60 ×');
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await page.getByRole('button', { name: /^Let it grow to/ }).click();
  await saved(page);
  await expect(fact(page, 'size')).not.toContainText('60 ×');
  // So long a plate may lift at its ends, which is good to know.
  await expect(page.getByRole('button', { name: /Preflight:/ })).toContainText('1 to know');
  // What grows is not pulled, nor typed into in the plan.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(page.locator('[data-handle=plate-e]')).toHaveCount(0);
  await expect(page.locator('[data-handle=plate-n]')).toHaveCount(1);
  await expect(dimension(page, 'width')).toBeVisible();
});

test('a halo in a colour of its own goes round what is ticked, in steps', async ({ page }) => {
  await newPiece(page, 'Key ring');
  await addWords(page, 'Łucja');
  await type(field(page, 'Letters tall'), '9');
  await add(page, 'Emblem');
  await type(field(page, 'Wide'), '6');
  await saved(page);
  await addOther(page, 'halo');
  await saved(page);
  const wide = async () => {
    const frame = (await frames(page))['halo-1'];
    return frame.x1 - frame.x0;
  };
  const both = await wide();
  await choose(page, 'Round', 'these');
  await field(page, 'star').uncheck();
  await saved(page);
  expect(await wide()).toBeLessThan(both);
  await field(page, 'star').check();
  await saved(page);
  expect(await wide()).toBeCloseTo(both, 6);
  await type(field(page, 'Steps'), '3');
  await type(field(page, 'Each further out by'), '0.7');
  await choose(page, 'Colour', 'signal');
  await saved(page);
  expect(await wide()).toBeCloseTo(both + 4 * 0.7, 2);
  // Letters stand on it: 3 mm of plate, three steps of 0.8, letters of 1.5.
  await expect(fact(page, 'size')).toContainText('6.9 mm');
  await expect(page.getByRole('radio', { name: 'through', exact: true })).toBeHidden();
  expect((await readStl((await exportStl(page)).path)).closed).toBe(true);
});

test('a honeycomb keeps clear of the words, and too fine a one is mended', async ({ page }) => {
  await newPiece(page, 'Coaster');
  await addWords(page, 'TERNA');
  await addOther(page, 'pattern');
  await page.getByRole('radio', { name: 'through', exact: true }).check();
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  const stl = await readStl((await exportStl(page)).path);
  expect(stl.closed).toBe(true);
  const honeycomb = stl.volume;
  for (const motif of ['dots', 'stripes', 'waves', 'scales', 'anchor']) {
    await choose(page, 'Motif', motif);
    await saved(page);
    await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  }
  await choose(page, 'Motif', 'hexagons');
  await type(field(page, 'Left between them'), '0.2');
  await type(field(page, 'From one to the next'), '0.5');
  await saved(page);
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText(/motifs; up to 4000 are drawn/).first()).toBeVisible();
  await page.getByRole('button', { name: /^Make the pitch/ }).click();
  await saved(page);
  await expect(page.getByText(/motifs; up to 4000 are drawn/)).toHaveCount(0);
  await type(field(page, 'Left between them'), '1');
  await type(field(page, 'From one to the next'), '4.8');
  await saved(page);
  expect((await readStl((await exportStl(page)).path)).volume).toBeCloseTo(honeycomb, -1);
});

test('a code says what is typed, in a colour a scanner sees, and in bars where that is wanted', async ({
  page,
}) => {
  await newPiece(page, 'Boat tag');
  await addOther(page, 'code');
  await field(page, 'Says').fill('https://skerry.example/boats/terna');
  await saved(page);
  await page.getByRole('button', { name: /Preflight:/ }).click();
  await expect(page.getByText('a scanner sees only its shadows', { exact: false })).toBeVisible();
  await choose(page, 'Colour', 'lantern');
  await saved(page);
  await choose(page, 'Kind', 'bars');
  await saved(page);
  await field(page, 'Says').fill('Ωmega');
  await saved(page);
  await expect(page.getByText(/Code 128 has no “Ω”/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Make it a QR code' }).click();
  await saved(page);
  await expect(page.getByText(/Code 128 has no “Ω”/)).toHaveCount(0);
  await expect(element(page, 'code-1')).toHaveAttribute('aria-label', 'QR code Ωmega');
});

test('a text counts from copy to copy, and a file for each is taken away', async ({ page }) => {
  await newPiece(page, 'Token');
  await page.getByText('Texts of the piece').click();
  await page.getByRole('button', { name: 'Add a text' }).click();
  await field(page, 'Name of text 1').fill('token');
  await saved(page);
  await field(page, 'and a number that counts from copy to copy').check();
  await type(field(page, 'First number of text 1'), '8');
  await saved(page);
  await addWords(page, '{token}');
  await page.keyboard.press('Escape');
  const before = await frames(page);
  expect(before['lettering-1'].x1).toBeGreaterThan(before['lettering-1'].x0);
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByLabel('How many copies, each with its number').fill('3');
  await page.getByLabel('How many copies, each with its number').press('Tab');
  await expect(page.getByRole('listitem').filter({ hasText: '008' })).toBeVisible();
  await expect(page.getByText('And the same for each of the 2 other copies.')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /^Download/ }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/\.zip$/);
  const packed = (await readFile(await download.path())).toString('latin1');
  for (const number of ['008', '009', '010']) expect(packed).toContain(`${number}.3mf`);
});

test('words run along the outline of the plate, and follow when it changes', async ({ page }) => {
  await newPiece(page, 'Rim of words');
  await addWords(page, 'SKERRY POINT FERRY');
  await type(field(page, 'Letters tall'), '4.5');
  await choose(page, 'Runs', 'outline');
  await saved(page);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await expect(field(page, 'Across, measured from')).toHaveCount(0);
  await choose(page, 'Read', 'upright');
  await type(field(page, 'Their middle at'), '-90');
  await saved(page);
  const below = (await frames(page))['lettering-1'];
  expect(below.y0).toBeCloseTo(-10, 0);
  await choose(page, 'Spread along it', 'spread');
  await type(field(page, 'Spread along it over'), '360');
  await saved(page);
  const all = (await frames(page))['lettering-1'];
  // From margin to margin; where the edge turns sharply a letter comes a little nearer.
  expect(Math.abs(all.x1 - all.x0 - 68)).toBeLessThan(1.5);
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  await choose(page, 'Runs', 'straight');
  await saved(page);
  await expect(field(page, 'Across, measured from')).toBeVisible();
});
