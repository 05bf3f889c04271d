import type { Locator, Page } from '@playwright/test';
import type { NewMonitor } from '../schema/monitor.ts';
import { expect, expectAccessible, post, reach, type ServerProcess, test, visit } from './server.ts';

/** How the owner works the page: with a mouse, with a finger, or with the keyboard alone. */
class Hand {
  readonly page: Page;
  readonly how: 'mouse' | 'touch' | 'keys';
  constructor(page: Page, how: Hand['how']) {
    this.page = page;
    this.how = how;
  }
  async press(target: Locator): Promise<void> {
    await expect(target).toBeEnabled();
    if (this.how === 'mouse') await target.click();
    else if (this.how === 'touch') await target.tap();
    else {
      await reach(this.page, target);
      await this.page.keyboard.press((await target.getAttribute('role')) === 'radio' ? 'Space' : 'Enter');
    }
  }
  async check(target: Locator): Promise<void> {
    if (this.how === 'keys') {
      await reach(this.page, target);
      if (!(await target.isChecked())) await this.page.keyboard.press('Space');
    } else await target.check();
  }
  async fill(target: Locator, text: string): Promise<void> {
    if (this.how === 'keys') {
      await reach(this.page, target);
      await this.page.keyboard.press('Control+a');
      await this.page.keyboard.type(text);
    } else await target.fill(text);
  }
  async choose(target: Locator, label: string): Promise<void> {
    if (this.how === 'keys') {
      await reach(this.page, target);
      await this.page.keyboard.type(label);
    } else await target.selectOption({ label });
  }
}

const box = (name: string, change: Partial<NewMonitor>): NewMonitor => ({
  name,
  groups: 'axle',
  unit: 'psi',
  step: 1,
  min: 3,
  max: 140,
  presetLow: 27,
  presetHigh: 51,
  presetHotC: 74,
  interlock: true,
  positionsPerUnit: 4,
  units: 1,
  showsIds: true,
  canDisconnect: false,
  ...change,
});

interface Way {
  rig: string;
  template: string | string[];
  monitor: NewMonitor;
  style: RegExp;
  kind: 'Cap' | 'Flow-through' | 'Internal';
  rule: RegExp;
  /** Cold pressure of each axle, psi. */
  cold: Record<string, string>;
  /** Wheels in the order of the walk. */
  wheels: string[];
  /** What the owner does where the monitor is to show that it took a sensor. */
  sign: (hand: Hand, page: Page, position: string, index: number) => Promise<void>;
  /** Pairing and fitting are one walk. */
  walk: boolean;
  /** Words that this kit's pages may not have. */
  without: RegExp;
}

/** The owner's way from New rig to the signed report, with the kit at hand and no bench. */
async function goThrough(page: Page, own: ServerProcess, how: Hand['how'], way: Way): Promise<void> {
  const hand = new Hand(page, how);
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  const sheet = async (path: string) => {
    await visit(page, `${own.url}/rigs/${id}/${path}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expect(page.getByText('One moment…')).toHaveCount(0);
    if (/^(fitting|first-drive)/.test(path)) await speaksOfThisKit();
  };
  /** The page says nothing of what this kit hasn't got. */
  const speaksOfThisKit = async () => {
    const text = (await page.locator('main').textContent()) ?? '';
    expect(text.match(way.without)?.[0] ?? null).toBeNull();
  };
  await post(own, 'monitors', way.monitor);

  // New rig.
  await visit(page, own.url);
  await hand.press(button('Draw your first rig'));
  await hand.fill(page.getByLabel('What do you call it?'), way.rig);
  for (const name of [way.template].flat()) await hand.check(page.getByLabel(name, { exact: true }));
  await hand.press(button('Draw it'));
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  const id = new URL(page.url()).pathname.split('/')[2] as string;
  await expect(page.locator('[data-position]')).toHaveCount(way.wheels.length);

  // Kit: metal stems, the monitor.
  await sheet('kit');
  await hand.press(page.getByRole('radio', { name: 'Metal', exact: true }));
  await hand.press(button(/^All stems of .* like this/));
  await expect(page.getByText(/^All stems of .* are like/).first()).toBeVisible();
  await sheet('kit?part=monitor');
  await hand.choose(page.getByLabel('Monitor of this rig'), way.monitor.name);
  await expect(page.getByRole('button', { name: new RegExp(`Row 1, place 1: ${way.wheels[0]}`) })).toBeVisible();
  await expect(page.getByText('Too few positions')).toHaveCount(0);

  // Pressures and alarms.
  await sheet('pressures');
  for (const [axle, psi] of Object.entries(way.cold)) {
    await hand.fill(page.getByLabel(`${axle} cold`), psi);
    await hand.fill(page.getByLabel(`${axle} set at`), '17');
  }
  await hand.press(button('Save pressures'));
  await expect(page.getByText('Pressures saved.', { exact: true })).toBeVisible();
  await sheet('alarms');
  await hand.check(page.getByLabel(way.rule));
  await hand.press(Object.keys(way.cold).length > 1 ? button(/^Use for all/) : button(/^Use for/));
  await expect(page.getByRole('link', { name: 'Next: key them into the monitor' })).toBeVisible();

  // The card, key by key.
  await sheet('alarms?part=card');
  const saved = page.getByRole('region', { name: 'Save and read back' });
  const done = button('Done, next');
  for (let i = 0; i < 30 && !(await saved.isVisible()); i += 1) {
    const step = await page.getByText(/^Step \d+ of \d+$/).textContent();
    await hand.press(done);
    await expect(page.getByText(step as string, { exact: true })).toHaveCount(0);
  }
  await hand.press(button('It shows all of this'));
  await expect(page.getByText('Nothing to key: the monitor shows all of it already.')).toBeVisible();

  // Pairing, and fitting with it where they are one.
  await sheet('pairing');
  await hand.press(page.getByRole('radio', { name: way.kind, exact: true }));
  await hand.check(page.getByRole('radio', { name: way.style }));
  await hand.press(button('Begin, wheel by wheel'));
  await expect(button('Begin, wheel by wheel')).toHaveCount(0);
  if (how !== 'keys') await expectAccessible(page);
  for (const [i, position] of way.wheels.entries()) {
    await speaksOfThisKit();
    if (way.walk) await walkWheel(hand, page, position, () => way.sign(hand, page, position, i));
    else await way.sign(hand, page, position, i);
    if (way.walk && i < way.wheels.length - 1) await hand.press(button(/^Go on with/));
  }
  await hand.press(page.getByRole('link', { name: 'Next: the final check' }));
  await expect(page.getByRole('heading', { name: /^Pairing sheet/ })).toBeVisible();
  await speaksOfThisKit();
  if (!way.walk) await fitAll(hand, page, sheet, way.wheels);

  // The first drive: ticked by eye, a gauge at every wheel, the monitor's own alarm.
  await sheet('first-drive');
  await hand.press(button(/^Start: switch on/));
  for (const position of way.wheels) await hand.press(button(`The monitor shows ${position}`));
  await expect(page.getByText(`${way.wheels.length} of ${way.wheels.length} heard`)).toBeVisible();
  await sheet('first-drive?part=gauge');
  await hand.fill(page.getByLabel(/^Air, all at rest/), '17');
  for (const position of way.wheels) {
    const psi = way.cold[position.slice(0, 2)] as string;
    await hand.fill(page.getByLabel(`${position} gauge`), psi);
    await hand.fill(page.getByLabel(`${position} sensor`), psi);
  }
  await hand.press(button(`Compare ${way.wheels.length}`));
  await expect(page.getByRole('region', { name: 'Compared' })).toBeVisible();
  await sheet('first-drive?part=proof');
  await hand.press(button(/^Begin with/));
  await hand.press(button('It rings'));
  await expect(page.getByText(/The monitor rang for/)).toBeVisible();
  if (way.kind !== 'Internal') {
    await sheet('fitting');
    await hand.press(button('Done after the drive'));
    await expect(page.getByText(/Tightened again after the first drive/)).toBeVisible();
  }

  // The report.
  await sheet('first-drive?part=report');
  await expect(page.getByRole('region', { name: 'Open points' })).toContainText('None.');
  await hand.fill(page.getByLabel('Your name or initials'), 'keeper');
  await hand.press(button('Sign it with nothing open'));
  await expect(page.getByText(/Signed by/)).toContainText('keeper');
  if (how !== 'keys') await expectAccessible(page);
  // Nobody had to invent an ID.
  expect(await page.locator('main').textContent()).not.toMatch(/\bK[0-9A-Z]{11}\b/);
  await visit(page, own.url);
  await expect(page.getByRole('article')).toContainText('fitted');
}

/** One wheel from its gauge to its boot, by the steps of the walk. */
async function walkWheel(hand: Hand, page: Page, position: string, sign: () => Promise<void>): Promise<void> {
  const step = page.getByTestId('step');
  const finished = page.getByText(`${position} is paired and fitted.`);
  await expect(step).toHaveText(`Put a gauge on ${position}`);
  for (let i = 0; i < 30; i += 1) {
    await expect(step.or(finished)).toBeVisible();
    if (await finished.isVisible()) return;
    const at = (await step.textContent()) as string;
    const next = page.getByRole('button', { name: 'Done, next' });
    const soap = page.getByRole('button', { name: 'No bubbles' });
    if (await next.isVisible()) await hand.press(next);
    else if (await soap.isVisible()) await hand.press(soap);
    else await sign();
    await expect(page.getByTestId('step').getByText(at, { exact: true })).toHaveCount(0);
  }
  throw new Error(`${position} is not finished`);
}

/** The cards of Fitting where pairing was work of its own. */
async function fitAll(hand: Hand, page: Page, sheet: (path: string) => Promise<void>, wheels: readonly string[]): Promise<void> {
  await sheet('fitting');
  const finished = page.getByText(`${wheels.length} of ${wheels.length} fitted`);
  for (let i = 0; i < 60 && !(await finished.isVisible()); i += 1) {
    const next = page.getByRole('button', { name: 'Done, next' });
    const soap = page.getByRole('button', { name: 'No bubbles' });
    const other = page.getByRole('button', { name: /^Next wheel: / });
    await expect(next.or(soap).or(other).or(finished)).toBeVisible();
    const before = await page.locator('main').textContent();
    if (await other.isVisible()) await hand.press(other);
    else if (await soap.isVisible()) await hand.press(soap);
    else if (await next.isVisible()) await hand.press(next);
    await expect.poll(() => page.locator('main').textContent()).not.toBe(before);
  }
  await expect(finished).toBeVisible();
}

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('caps coded by position, no ID anywhere: from New rig to the signed report', async ({ page, own }) => {
    test.setTimeout(200_000);
    await goThrough(page, own, 'touch', {
      rig: 'Errand',
      template: 'Car',
      monitor: box('Coded box', { showsIds: false, signs: ['pressure'], openShows: 'dashes', styles: ['factory'] }),
      style: /^Coded by position/,
      kind: 'Cap',
      rule: /^A share of normal/,
      cold: { A1: '33', A2: '35' },
      wheels: ['A1L', 'A1R', 'A2L', 'A2R'],
      walk: true,
      sign: (hand, p, position) => hand.press(p.getByRole('button', { name: `It is on ${position}` })),
      without: /six digits|FF FF|lamp|error tone|long press/i,
    });
  });

  test('a trailer alone, its sensors on a phone through a repeater: from New rig to the signed report', async ({ page, own }) => {
    test.setTimeout(200_000);
    await goThrough(page, own, 'touch', {
      rig: 'Hay trailer',
      template: ['No vehicle: the trailer alone', 'Light trailer without a spare'],
      monitor: box('Phone', {
        link: 'repeater',
        batteryAs: 'percent',
        styles: ['phoneFirst'],
        pairSave: 'none',
        saves: 'byItself',
      }),
      style: /^Wheel chosen on the phone first/,
      kind: 'Flow-through',
      rule: /^A share of normal/,
      cold: { A1: '61' },
      wheels: ['A1L', 'A1R'],
      walk: true,
      sign: async (hand, p, position, i) => {
        await hand.fill(p.getByLabel(`ID for ${position}`), `4CA1E${i + 2}`);
        await hand.press(p.getByRole('button', { name: 'Save', exact: true }));
      },
      without: /lamp|error tone|long press/i,
    });
  });
});

test('low only on a motorcycle, by Tab alone: from New rig to the signed report', async ({ page, own }) => {
  test.setTimeout(300_000);
  await goThrough(page, own, 'keys', {
    rig: 'Tourer',
    template: 'Motorcycle',
    monitor: box('Pair of dials', {
      showsIds: false,
      signs: ['pressure', 'beep'],
      openShows: 'dashes',
      presetHigh: null,
      positionsPerUnit: 2,
      rows: [1, 1],
    }),
    style: /^Screwed onto the valve/,
    kind: 'Cap',
    rule: /^Low only/,
    cold: { A1: '34', A2: '37' },
    wheels: ['A1C', 'A2C'],
    walk: true,
    sign: (hand, p, position) => hand.press(p.getByRole('button', { name: `${position} is paired` })),
    without: /six digits|FF FF|lamp/i,
  });
});

test('internal sensors and a wake tool, a beep and nothing else: from New rig to the signed report', async ({ page, own }) => {
  test.setTimeout(200_000);
  await goThrough(page, own, 'mouse', {
    rig: 'Saloon',
    template: 'Car',
    monitor: box('Horn box', { showsIds: false, signs: ['beep'], openShows: 'code', styles: ['wakeTool'] }),
    style: /^Wake tool/,
    kind: 'Internal',
    rule: /^A share of normal/,
    cold: { A1: '33', A2: '33' },
    wheels: ['A1L', 'A2L', 'A2R', 'A1R'],
    walk: false,
    sign: (hand, p, position) => hand.press(p.getByRole('button', { name: `${position} is paired` })),
    without: /six digits|FF FF|lamp|dust boot|lock nut/i,
  });
});
