import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, rigId, test, visit } from './server.ts';

/** What a screen reader is given of a sheet: names and roles, with the figures that change taken out. Kept as text beside this file. */
const TREES = ['watch', 'alarms', 'pairing'] as const;

for (const sheet of TREES) {
  test(`a screen reader says the ${sheet} sheet in order, with names for everything`, async ({ page, demo }) => {
    await page.addInitScript(`localStorage.setItem('druckwerk.preferences', '{"pressure":"psi","temp":"C"}')`);
    const id = await rigId(demo, 'Linden run');
    await visit(page, `${demo.url}/rigs/${id}/${sheet}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expect(page.getByText('One moment…')).toHaveCount(0);
    // Parts of a sheet come one after the other.
    await expect(async () => {
      const tree = (await page.locator('main').ariaSnapshot())
        // The demo drives on: figures, times and what depends on them differ from one look to the next.
        .replaceAll(/[−-]?\d+([.,:]\d+)?/g, '#')
        .replaceAll(/#(,? ?#)*/g, '#');
      const lines = tree.split('\n').map((l) => l.trimEnd());
      // Nothing without a name that can be pressed or typed into.
      expect(lines.filter((l) => /^\s*- (button|link|textbox|combobox|slider|checkbox|radio)( \[.*\])?:?$/.test(l))).toEqual([]);
      const wanted = readFileSync(join(import.meta.dirname, 'trees', `${sheet}.txt`), 'utf8')
        .trimEnd()
        .split('\n');
      // What must be said, in this order; more may stand between.
      let at = 0;
      for (const line of wanted) {
        const next = lines.findIndex((l, i) => i >= at && l.trim() === line.trim());
        expect(next === -1 ? `missing after line ${at}: ${line.trim()}\n${tree}` : line).toBe(line);
        at = next + 1;
      }
    }).toPass({ timeout: 20_000 });
  });
}

test('titles name the sheet and the rig; wheel and step of Fitting are headings; Find knows a wheel and gives the focus back', async ({
  page,
  demo,
}) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/alarms`);
  await expect(page).toHaveTitle('Alarms · Linden run · Druckwerk');
  await visit(page, demo.url);
  await expect(page).toHaveTitle('Yard · Druckwerk');
  await visit(page, `${demo.url}/rigs/${id}/fitting`);
  await expect(page.getByRole('heading', { level: 2 }).first()).toHaveText(/^[AB]\d/);
  await visit(page, `${demo.url}/rigs/${id}/alarms`);
  const help = page.getByRole('button', { name: /^Help/ });
  await help.focus();
  await page.keyboard.press('/');
  await page.getByPlaceholder(/^A sheet or a part/).fill('B2L');
  await page.keyboard.press('Escape');
  await expect(help).toBeFocused();
  await page.keyboard.press('/');
  await page.getByPlaceholder(/^A sheet or a part/).fill('B2L');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Wheel B2L' })).toBeVisible();
  // Parts and actions too.
  await page.keyboard.press('/');
  await page.getByPlaceholder(/^A sheet or a part/).fill('keying');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/alarms\?part=card/);
  // Arrows walk the plan at once; Tab leaves it at once.
  await visit(page, `${demo.url}/rigs/${id}/watch`);
  await expect(page.locator('[data-position="A1L"]')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[data-position="A1L"]')).toBeFocused();
  await page.keyboard.press('End');
  await expect(page.locator('[data-position="BS1"]')).toBeFocused();
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement?.closest('[data-plan]'))).toBeNull();
  await page.keyboard.press('Shift+Tab');
  await expect(page.locator('[data-position="BS1"]')).toBeFocused();
  // In one column the alarms come first, for the eye, a screen reader and the Tab key alike.
  await page.setViewportSize({ width: 390, height: 844 });
  const alarms = page.getByRole('complementary', { name: 'Alarms' });
  await expect(async () => {
    const [first, last] = [await alarms.boundingBox(), await page.locator('[data-position="A1L"]').boundingBox()];
    expect((first?.y ?? Number.NaN) + (first?.height ?? 0)).toBeLessThan(last?.y ?? Number.NaN);
  }).toPass();
  const inOrder = await alarms.evaluate((a) => {
    const wheel = document.querySelector('[data-position="A1L"]') as Element;
    return (a.compareDocumentPosition(wheel) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;
  });
  expect(inOrder).toBe(true);
});
