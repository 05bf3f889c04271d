import type { Page } from '@playwright/test';
import { expect, expectAccessible, post, type ServerProcess, test, visit } from './server.ts';

/** A car with limits on both axles, and a monitor described by what differs from a plain dash display. */
async function carWith(own: ServerProcess, monitor: object): Promise<string> {
  const axle = (n: number, kpa: number) => ({
    wheels: [
      { position: `${n}L`, sensor: null, stem: 'metal' },
      { position: `${n}R`, sensor: null, stem: 'metal' },
    ],
    settings: {
      loaded: {
        cold: { kpa, tempC: 18 },
        limits: { rule: { school: 'share' }, lowKpa: kpa * 0.9, highKpa: kpa * 1.25, hotC: 71 },
      },
    },
  });
  const car = await post<{ id: string }>(own, 'units', {
    name: 'Car',
    kind: 'vehicle',
    axles: [axle(1, 270), axle(2, 330)],
    spares: [],
  });
  const made = await post<{ id: string }>(own, 'monitors', {
    name: 'Described display',
    groups: 'axle',
    unit: 'bar',
    step: 0.1,
    min: 0.7,
    max: 6.4,
    presetLow: 1.7,
    presetHigh: 2.9,
    presetHotC: 74,
    hotStep: 1,
    interlock: true,
    positionsPerUnit: 6,
    rows: [2, 2, 2],
    units: 1,
    showsIds: true,
    canDisconnect: false,
    ...monitor,
  });
  const rig = await post<{ id: string }>(own, 'rigs', {
    name: 'Errands',
    unitIds: [car.id],
    loadState: 'loaded',
    monitorId: made.id,
  });
  return `${own.url}/rigs/${rig.id}/alarms?part=card`;
}

/** Key the card on the practice monitor as its steps say, and nothing else. */
async function keyByCard(page: Page, press: (button: string) => Promise<void>): Promise<number> {
  const times = (text: string | undefined) =>
    text === undefined ? 0 : text === 'once' ? 1 : text === 'twice' ? 2 : Number(/\d+/.exec(text)?.[0]);
  const step = page.getByRole('region', { name: 'This step' });
  let steps = 0;
  for (; await step.isVisible(); steps += 1) {
    // biome-ignore lint/performance/useDomNodeTextContent: the lines as the owner sees them
    const text = await step.innerText();
    const heading = /\n(.+): (low temperature|low|high|normal|temperature)\n/.exec(text);
    if (/Choose it/.test(text))
      await page.getByLabel('Choose a value').selectOption({ label: `${heading?.[1]}: ${heading?.[2]}` });
    for (let i = times(/Go on (once|twice|\d+ times)/.exec(text)?.[1]); i > 0; i -= 1) await press('Next value');
    for (let i = times(/Go back (once|twice|\d+ times)/.exec(text)?.[1]); i > 0; i -= 1) await press('Back');
    const [, count = '0', way] = /(\d+) press(?:es)? (up|down)/.exec(text) ?? [];
    const sign = way === 'up' ? '+' : '−';
    const ten = (await page.getByRole('button', { name: `${sign} hold`, exact: true }).count()) > 0 ? 'hold' : '10';
    for (let i = Math.floor(Number(count) / 10); i > 0; i -= 1) await press(`${sign} ${ten}`);
    for (let i = Number(count) % 10; i > 0; i -= 1) await press(`${sign} 1`);
    const confirm = [/onfirm with a (short|long) press/, /confirm the page with a (short|long) press/];
    for (const c of confirm) {
      const kind = c.exec(text)?.[1];
      if (kind) await press(kind === 'long' ? 'Hold OK' : 'OK');
    }
    await press('Done, next');
  }
  return steps;
}

/** Press a button, and wait until what it did is shown: the practice monitor answers from the server. */
const presser = (page: Page, how: 'click' | 'tap') => async (name: string) => {
  const button = page.getByRole('button', { name, exact: true });
  if (name === 'Done, next') return button[how]();
  const answered = page.waitForResponse((r) => r.url().endsWith('/bench') && r.request().method() === 'POST');
  await button[how]();
  await answered;
};

const all = 'All of it is as the card says, and saved.';

test('a menu by limit, its highs first, every value confirmed', async ({ page, own }) => {
  await visit(
    page,
    await carWith(own, {
      saves: 'shortPress',
      menu: { walk: 'limit', first: 'high', wrap: 'forward', confirmValue: 'short', repeat: 6 },
    }),
  );
  await page.getByRole('button', { name: 'Open its limit menu' }).click();
  const press = presser(page, 'click');
  await expect(page.getByText('once through the menu')).toBeVisible();
  expect(await keyByCard(page, press)).toBe(5);
  await expect(page.getByText('No slip so far.')).toBeVisible();
  await press('OK');
  await expect(page.getByText(all)).toBeVisible();
  // Read back: a temperature in the other unit is told as such.
  const hot = page.getByLabel(/All wheels: temperature, should show 71\s°C/);
  await hot.fill('160');
  await expect(
    page.getByText('That is the same temperature in °F. The monitor’s unit was changed; set it back first.'),
  ).toBeVisible();
  await hot.fill('71');
  await page.getByRole('button', { name: 'It shows all of this' }).click();
  await expect(page.getByText('Nothing to key: the monitor shows all of it already.')).toBeVisible();
});

test('a menu by group with the low first: a second round is told, each page is confirmed, the end takes a long press', async ({
  page,
  own,
}) => {
  await visit(
    page,
    await carWith(own, {
      saves: 'longPress',
      menu: { walk: 'group', first: 'low', wrap: 'forward', confirmPage: 'short', timeoutS: 600, groups: 3, setUnused: true },
      presetHigh: 2.3,
    }),
  );
  await page.getByRole('button', { name: 'Open its limit menu' }).click();
  const press = presser(page, 'click');
  await expect(page.getByText(/2 times round the menu: its order and the interlock are against each other/)).toBeVisible();
  await expect(page.getByText(/Don’t pause for 600 s/)).toBeVisible();
  await expect(page.getByRole('cell', { name: /so that nothing odd can sound/ }).first()).toBeVisible();
  await expectAccessible(page);
  await keyByCard(page, press);
  // A short press isn't enough here, and says so.
  await press('OK');
  await expect(page.getByText('One press refused.')).toBeVisible();
  await press('Hold OK');
  await expect(page.getByText(all)).toBeVisible();
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('a menu by wheel, any value chosen directly, kept when one leaves', async ({ page, own }) => {
    test.setTimeout(180_000);
    await visit(
      page,
      await carWith(own, {
        groups: 'wheel',
        step: 0.1,
        interlock: false,
        saves: 'byItself',
        menu: { walk: 'group', first: 'low', wrap: 'both', order: 'free' },
      }),
    );
    await page.getByRole('button', { name: 'Open its limit menu' }).tap();
    const press = presser(page, 'tap');
    expect(await keyByCard(page, press)).toBe(9);
    await press('Leave');
    await expect(page.getByText(all)).toBeVisible();
    await expectAccessible(page);
  });
});

test('a baseline, tire by tire, of wheels whose sensor is paired', async ({ page, own }) => {
  await visit(
    page,
    await carWith(own, {
      groups: 'baseline',
      presetLow: null,
      presetHigh: null,
      derives: { lowShare: 0.11, highShare: 0.22 },
      baselineBy: 'wheel',
      presetBaseline: 2.2,
      learnedOnly: true,
      saves: 'extraPress',
      menu: { walk: 'group', first: 'low', wrap: 'both', confirmValue: 'long' },
    }),
  );
  await expect(page.getByText(/This monitor’s menu shows only wheels whose sensor is paired, and 4 are not/)).toBeVisible();
  await page.getByRole('button', { name: 'Open its limit menu' }).click();
  const press = presser(page, 'click');
  expect(await keyByCard(page, press)).toBe(5);
  await press('OK');
  await expect(page.getByText(all)).toBeVisible();
  // The normal pressure is what is read back.
  await expect(page.getByLabel(/A1 wheel 1: normal, should show 2.7\s?bar/)).toBeVisible();
  await visit(page, page.url().replace('alarms?part=card', 'kit?part=readback'));
  await page.getByLabel('A2 normal pressure on the monitor').fill('2.2');
  await page.getByLabel('Temperature limit on the monitor, °C').fill('71');
  await expect(page.getByRole('complementary', { name: 'What to change' })).toContainText(
    /A2 normal pressure: key 3.3\s?bar instead of 2.2 bar/,
  );
  await expect(page.getByText('as planned', { exact: true })).toBeVisible();
  await expectAccessible(page);
});
