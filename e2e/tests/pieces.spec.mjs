import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { field, newPiece, saved, type } from './desk.mjs';

const card = (page, name) => page.locator('[data-piece]').filter({ hasText: name });

test('duplicate, rename, delete and bring back', async ({ page }) => {
  await newPiece(page, 'Quay sign');
  await page.goto('/pieces');
  await card(page, 'Quay sign').getByRole('button', { name: 'Duplicate' }).click();
  await expect(card(page, 'Quay sign, copy')).toHaveCount(1);

  await card(page, 'Quay sign, copy').getByRole('button', { name: 'Rename' }).click();
  await page.getByLabel('New name').locator('visible=true').fill('  ');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Give the piece a name')).toBeVisible();
  await page.getByLabel('New name').locator('visible=true').fill('Ğ & <b>Łódź</b>');
  await page.keyboard.press('Enter');
  await expect(card(page, 'Ğ & <b>Łódź</b>')).toHaveCount(1);

  await card(page, 'Ğ & <b>Łódź</b>').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('was deleted')).toBeVisible();
  await expect(card(page, 'Ğ & <b>Łódź</b>')).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(card(page, 'Ğ & <b>Łódź</b>')).toHaveCount(1);
});

test('pieces are found, put in order, chosen together, kept apart, deleted and brought back', async ({
  page,
}) => {
  for (const name of ['Fender tag, Łosoś', 'Fender tag, Ğül', 'Fender tag, Åse']) {
    await newPiece(page, name);
    if (name.endsWith('Ğül')) {
      await type(field(page, 'Width'), '90');
      await saved(page);
    }
  }
  const cards = page.locator('.cards > [data-piece]');
  const names = () => cards.evaluateAll((all) => all.map((one) => one.dataset.name));
  await page.goto('/pieces');
  // The first of one's own stands on the first screen.
  expect((await cards.first().boundingBox()).y).toBeLessThan(500);
  const find = async (words) => {
    await page.getByLabel('Find by name').fill(words);
    await page.keyboard.press('Enter');
    await page.waitForURL((address) => address.searchParams.get('find') === words);
    return names();
  };
  const order = async (word, order) => {
    await page.getByLabel('In which order').selectOption(word);
    await page.waitForURL((address) => address.searchParams.get('order') === order);
    return names();
  };
  expect(await find('TAG losos')).toEqual(['Fender tag, Łosoś']);
  expect(await find('fender')).toHaveLength(3);
  expect(await order('by name', 'name')).toEqual(['Fender tag, Åse', 'Fender tag, Ğül', 'Fender tag, Łosoś']);
  expect((await order('largest first', 'size'))[0]).toBe('Fender tag, Ğül');

  await expect(page.getByRole('button', { name: 'Choose all on this page' })).toBeHidden();
  await page.getByRole('checkbox', { name: 'Choose Fender tag, Åse' }).check();
  await page.getByRole('button', { name: 'Choose all on this page' }).click();
  await expect(page.getByText('3 chosen')).toBeVisible();
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as STL' }).click(),
  ]);
  expect(zip.suggestedFilename()).toMatch(/^pieces-20\d\d-\d\d-\d\d\.zip$/);
  const packed = (await readFile(await zip.path())).toString('latin1');
  const written = (name) => Buffer.from(`fender-tag-${name}.stl`).toString('latin1');
  for (const name of ['åse', 'ğül', 'łosoś']) expect(packed.includes(written(name)), name).toBe(true);

  await page.getByLabel('Name of a drawer').fill('East quay');
  await page.getByRole('button', { name: 'Keep apart' }).click();
  await expect(page.getByRole('link', { name: 'East quay 3' })).toBeVisible();
  await page.getByRole('link', { name: 'At hand' }).click();
  await expect(card(page, 'Fender tag')).toHaveCount(0);
  await page.getByRole('link', { name: 'East quay 3' }).click();
  await expect(cards).toHaveCount(3);

  await page.getByRole('checkbox', { name: 'Choose Fender tag, Åse' }).check();
  await page.getByRole('checkbox', { name: 'Choose Fender tag, Ğül' }).check();
  await page.getByRole('region', { name: 'What is chosen' }).getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('2 pieces were deleted.')).toBeVisible();
  await page.reload();
  await page.getByRole('link', { name: /^Deleted/ }).click();
  await card(page, 'Fender tag, Åse').getByRole('button', { name: 'Bring it back' }).click();
  await page.getByRole('link', { name: 'East quay 2' }).click();
  await expect(cards).toHaveCount(2);
});

test('a piece file goes out and comes back; a broken one is refused with the place', async ({ page }) => {
  await newPiece(page, 'Lantern tag');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('radio', { name: 'Piece file' }).check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /^Download/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('lantern-tag.kalotype.json');
  const text = await readFile(await download.path(), 'utf8');

  await page.goto('/pieces');
  const open = page.getByLabel('Open a piece file');
  await open.setInputFiles({
    name: 'broken.json',
    mimeType: 'application/json',
    buffer: Buffer.from(text.replace('"width": 72.0', '"width": "wide"')),
  });
  await expect(page.getByText('components[0].blank.plate.width')).toBeVisible();
  await open.setInputFiles({ name: 'good.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(page).toHaveTitle('Lantern tag – Kalotype');
});

test('pictures are of the real faces and pages are safe', async ({ page, request }) => {
  const answer = await page.goto('/pieces');
  const policy = answer.headers()['content-security-policy'];
  expect(policy).toContain("script-src 'self'");
  // They load as they come into view.
  for (const image of await page.locator('li[data-piece] img').all()) {
    await image.scrollIntoViewIfNeeded();
    await expect.poll(() => image.evaluate((one) => one.complete && one.naturalWidth > 0)).toBe(true);
  }
  const broken = await page
    .locator('li[data-piece] img')
    .evaluateAll((images) => images.filter((image) => image.naturalWidth === 0).length);
  expect(broken).toBe(0);
  expect(await page.locator('li[data-piece] img').count()).toBeGreaterThan(5);

  // A change that another site's page asks for is not carried out.
  const foreign = await request.post('/api/pieces', {
    data: { name: 'x', units: 'mm' },
    headers: { origin: 'http://elsewhere.example', 'sec-fetch-site': 'cross-site' },
  });
  expect(foreign.status()).toBe(403);
  expect((await request.get('/pieces', { headers: { host: 'elsewhere.example' } })).status()).toBe(403);
  expect((await request.get('/pieces/nothing')).status()).toBe(404);
  expect((await request.post('/api/pieces', { data: { name: 'x' } })).status()).toBe(422);
  expect(
    (
      await request.post('/api/pieces', {
        data: 'x'.repeat(400_000),
        headers: { 'content-type': 'application/json' },
      })
    ).status(),
  ).toBeGreaterThanOrEqual(400);
});
