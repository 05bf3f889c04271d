import { expect, expectAccessible, painted, rigId, test, visit } from './server.ts';

const sheets = [
  'layout',
  'kit',
  'kit?part=box',
  'kit?part=monitor',
  'pressures',
  'alarms',
  'alarms?part=card',
  'alarms?part=year',
  'pairing',
  'pairing?part=book',
  'pairing?part=check',
  'pairing?part=rotation',
  'pairing?part=detective',
  'fitting',
  'radio',
  'first-drive',
  'first-drive?part=gauge',
  'first-drive?part=proof',
  'first-drive?part=report',
  'watch',
  'watch/drive',
  'watch/charts',
  'watch/replay',
  'watch/files',
  'logbook',
  'logbook?part=leaks',
  'logbook?part=season',
  'logbook?part=trip',
  'logbook?part=track',
  'logbook?part=topup',
  'upkeep',
  'upkeep?part=cells',
  'upkeep?part=jobs',
  'upkeep?part=parts',
  'upkeep?job=cell&wheel=A1L',
  'faults',
  'faults?part=roadside',
  'faults?part=table',
  'faults?branch=one&wheel=B1R',
  'lab',
  'bench',
  'bench?part=drills',
];

const SIZES = [
  ['desk', { width: 1280, height: 800 }],
  ['phone', { width: 390, height: 844 }],
  ['phone on its side', { width: 844, height: 390 }],
] as const;

/** What is wrong with how a page lies in its window: cut, on top of each other, or the one act that leads on out of sight. */
function layoutFaults(): string[] {
  const faults: string[] = [];
  const { scrollWidth, clientWidth } = document.documentElement;
  if (scrollWidth > clientWidth) faults.push(`overflows by ${scrollWidth - clientWidth}`);
  const shown = (e: Element) =>
    e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) && e.getClientRects().length > 0;
  const nameOf = (e: Element) => (e.getAttribute('aria-label') ?? e.textContent ?? '').trim().slice(0, 40) || e.tagName;
  /** What sticks to an edge lies over what is scrolled under it, and is meant to. */
  const sticks = (e: Element) =>
    e.closest('.next-step, .thumb-bar, [data-radix-popper-content-wrapper], .drive, [role=region] > ol') !== null;
  const acts = [...document.querySelectorAll('button, a[href], input, select, textarea, summary')].filter(
    (e) => shown(e) && !sticks(e) && e.closest('svg, .sr-only, label') === null && !e.matches('.sr-only'),
  );
  // What scrolls sideways in a box of its own is cut by that box alone.
  const boxes = acts.map((e) => {
    let { left, right, top, bottom } = e.getBoundingClientRect();
    for (let up = e.parentElement; up && up !== document.body; up = up.parentElement) {
      if (getComputedStyle(up).overflowX === 'visible') continue;
      const r = up.getBoundingClientRect();
      left = Math.max(left, r.left);
      right = Math.min(right, r.right);
      top = Math.max(top, r.top);
      bottom = Math.min(bottom, r.bottom);
    }
    return { e, left, right, top, bottom };
  });
  for (let i = 0; i < boxes.length; i += 1)
    for (let j = i + 1; j < boxes.length; j += 1) {
      const [a, b] = [boxes[i], boxes[j]] as [(typeof boxes)[number], (typeof boxes)[number]];
      if (a.e.contains(b.e) || b.e.contains(a.e)) continue;
      const across = Math.min(a.right, b.right) - Math.max(a.left, b.left);
      const down = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      if (across > 3 && down > 3)
        faults.push(`“${nameOf(a.e)}” lies on “${nameOf(b.e)}” by ${Math.round(across)}×${Math.round(down)}`);
    }
  // A word that a button has no room for.
  for (const e of document.querySelectorAll<HTMLElement>('.btn, .switch > button, h1, h2, h3'))
    if (
      shown(e) &&
      e.closest('.sr-only') === null &&
      e.scrollWidth > e.clientWidth + 2 &&
      getComputedStyle(e).display !== 'inline'
    )
      faults.push(`“${nameOf(e)}” is cut`);
  const solid = [...document.querySelectorAll('main .btn-solid')].filter((e) => shown(e) && !(e as HTMLButtonElement).disabled);
  const inView = solid.some((e) => {
    const r = e.getBoundingClientRect();
    return r.top >= 0 && r.bottom <= innerHeight + 1 && r.left >= 0 && r.right <= innerWidth + 1;
  });
  if (solid.length > 0 && !inView) faults.push(`what leads on is out of sight: ${solid.map(nameOf).join(', ')}`);
  return faults;
}

for (const theme of ['day', 'night'] as const) {
  test(`every sheet of the demo is accessible, fits, and shows what leads on: ${theme}`, async ({ page, demo }) => {
    test.setTimeout(300_000);
    await page.addInitScript(`localStorage.setItem('druckwerk.preferences', '{"theme":"${theme}"}')`);
    const id = await rigId(demo, 'Linden run');
    const found: string[] = [];
    for (const path of ['/', ...sheets.map((s) => `/rigs/${id}/${s}`)]) {
      await page.setViewportSize(SIZES[0][1]);
      await visit(page, demo.url + path);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await expect(page.getByText('One moment…')).toHaveCount(0);
      for (const [size, viewport] of SIZES) {
        await page.setViewportSize(viewport);
        await page.evaluate(() => scrollTo(0, 0));
        await painted(page);
        // Colours go by the theme and the layout by the size: these two meet every one of both.
        if ((theme === 'day' && size === 'desk') || (theme === 'night' && size === 'phone')) await expectAccessible(page);
        for (const fault of await page.evaluate(layoutFaults))
          found.push(`${path.replace(`/rigs/${id}/`, '')}, ${size}: ${fault}`);
      }
    }
    expect(found).toEqual([]);
  });
}

test('keys: numbers open sheets, / finds, ? tells the keys, arrows walk the wheels', async ({ page, demo }) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/watch`);
  await expect(page.getByRole('heading', { name: 'Watch' })).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Alarms', level: 1 })).toBeVisible();
  await page.keyboard.press('1');
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Bench', level: 1 })).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'Layout', level: 1 })).toBeVisible();
  await page.keyboard.press('/');
  await page.getByPlaceholder(/^A sheet or a part/).fill('scout');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page.getByText('motorcycle with sidecar')).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Watch' })).toContainText('A figure is in brackets.');
  await expectAccessible(page);
  await page.getByRole('radio', { name: 'Keys' }).click();
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Walk the wheels of the plan');
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await visit(page, `${demo.url}/rigs/${id}/watch`);
  await page.locator('[data-position="A1L"]').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[data-position="A1R"]')).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('[data-position="BS1"]')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Wheel BS1' })).toContainText('3C 42 40');
});

test('the demo says at a glance what is wrong, and silence has an end', async ({ page, demo }) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, demo.url);
  await expect(page.getByText('3 wheels in alarm: A2RO, B1R, B2L')).toBeVisible();
  await page.getByRole('link', { name: 'Linden run', exact: true }).click();
  await expect(page.locator('[data-position="B2L"]')).toHaveAttribute('data-ink', 'act');
  await expect(page.locator('[data-position="B1R"]')).toHaveAttribute('data-ink', 'silent');
  await expect(page.locator('[data-position="B1R"]')).toContainText('(');
  await page.keyboard.press('s');
  await expect(page.getByRole('button', { name: /Silent until/ })).toBeVisible();
  await page.getByRole('button', { name: /Silent until/ }).click();
  await expect(page.getByRole('button', { name: /Silence 10 min/ })).toBeVisible();
  await visit(page, `${demo.url}/rigs/${id}/pressures`);
  await expect(page.getByRole('link', { name: /B2L low\. Open the watch/ })).toBeVisible();
});
