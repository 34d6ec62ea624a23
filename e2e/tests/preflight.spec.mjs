import { expect, test } from '@playwright/test';
import { add, field, newPiece, saved, type } from './desk.mjs';

const element = (page, id) => page.locator(`.plan-svg .element[data-key$="${id}"]`);
const verdict = (page) => page.getByRole('button', { name: /Preflight:/ });

/** Sets fields of the open piece as its page would, and shows it anew. */
async function setAll(page, fields) {
  await page.evaluate(async (fields) => {
    const id = location.pathname.split('/').pop();
    const edits = fields.map(([target, field, value]) => ({
      set: { target: `component-1/${target}`, field, value },
    }));
    const body = JSON.stringify({ edits });
    const headers = { 'content-type': 'application/json' };
    const answer = await fetch(`/api/pieces/${id}/edits`, { method: 'POST', headers, body });
    if (!answer.ok) throw new Error(await answer.text());
  }, fields);
  await page.reload();
  await saved(page);
}

async function faulty(page) {
  await newPiece(page, 'Crew tag');
  await add(page, 'Rim');
  await add(page, 'Lettering');
  await page.keyboard.type('ÆGIR');
  await saved(page);
  await setAll(page, [
    ['rim-1', 'width', 0.3],
    ['lettering-1', 'relief', { raised: { by: 0.2 } }],
  ]);
}

test('what will not print is said, shown where it is, and mended in one step', async ({ page }) => {
  await faulty(page);
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
  await verdict(page).click();
  const list = page.locator('.findings');
  const rim = list.getByRole('listitem').filter({ hasText: 'The rim is thinner than a line' });
  await expect(rim).toContainText('0.3 mm, limit 0.9 mm (the printer’s)');
  // Pointed at in the list it stands out in the plan.
  await rim.hover();
  await expect(page.locator('.trouble.is-pointed')).toHaveCount(1);
  // What would be done is shown before it is.
  await list.getByRole('button', { name: 'Mend all that can be…' }).click();
  await expect(list).toContainText('Make the rim 0.95 mm wide');
  await expect(list).toContainText('Make the lettering two layers, 0.4 mm');
  await expect(list).toContainText('Nothing would be left.');
  await list.getByRole('button', { name: 'Do all of it' }).click();
  await expect(page.getByText('Preflight has nothing to say')).toBeVisible();
  // One step back takes all of it back.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
});

test('a finding is left for a reason that stays with the piece, and taken up again', async ({ page }) => {
  await faulty(page);
  await verdict(page).click();
  const list = page.locator('.findings');
  const rim = list.getByRole('listitem').filter({ hasText: 'The rim is thinner' });
  await rim.getByRole('button', { name: 'Leave it…' }).click();
  await expect(rim.getByLabel('Why it is left as it is')).toBeFocused();
  await page.keyboard.type('It is milled off again.');
  await page.keyboard.press('Enter');
  await expect(verdict(page)).toContainText('1 to look at, 1 left');
  await page.reload();
  await verdict(page).click();
  await expect(list).toContainText('Left as it is: It is milled off again.');
  await list.getByRole('button', { name: 'Take it up again' }).click();
  await expect(verdict(page)).toContainText('1 to mend, 1 to look at');
});

test('what is lost in print is drawn over the name, and follows it', async ({ page }) => {
  await newPiece(page, 'Thin name');
  await add(page, 'Lettering');
  await page.keyboard.type('HAL');
  await saved(page);
  await setAll(page, [
    ['lettering-1', 'size', { height: 10 }],
    ['lettering-1', 'style.heavier', -0.8],
  ]);
  await page.getByRole('button', { name: 'As printed' }).click();
  const lost = page.locator('.lost-in-print');
  await expect(lost).toHaveAttribute('d', /M/);
  const before = await lost.getAttribute('d');
  await element(page, 'lettering-1').focus();
  await type(field(page, 'Letters tall'), '9');
  await saved(page);
  await expect(lost).not.toHaveAttribute('d', before);
  await page.getByRole('button', { name: 'As printed' }).click();
  await expect(lost).toHaveCount(0);
});
