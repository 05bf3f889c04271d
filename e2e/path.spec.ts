import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, post, rigId, test } from './server.ts';

/** Clicks and typed fields that the shortest way may take, from New rig to alarms set and nine wheels paired. */
const MOST_CLICKS = 24;
const MOST_FIELDS = 4;

/** An owner's hand that counts what it does. */
class CountingHand {
  readonly log: string[] = [];
  clicks = 0;
  fields = 0;

  async click(target: Locator, what: string): Promise<void> {
    // Playwright waits until a message that lies on it has gone; an owner wonders where it is.
    const under = await target.evaluate((e) => {
      const { left, top, width, height } = e.getBoundingClientRect();
      return document.elementFromPoint(left + width / 2, top + height / 2)?.closest('[data-swipe-direction]')?.textContent ?? '';
    });
    expect(under, `lies on “${what}”`).toBe('');
    await target.click();
    this.clicks += 1;
    this.log.push(`${this.clicks}. press ${what}`);
  }

  async type(target: Locator, text: string, what: string): Promise<void> {
    await target.fill(text);
    await target.blur();
    this.fields += 1;
    this.log.push(`   type ${text} into ${what} (field ${this.fields})`);
  }
}

/** Two halves of the way are the same, whoever pairs: by captures of the practice kit, or by a list of IDs. */
async function upToPairing(page: Page, hand: CountingHand): Promise<void> {
  const button = (name: string | RegExp) => page.getByRole('button', { name });
  const link = (name: string) => page.getByRole('link', { name, exact: true });
  await hand.click(button('Draw your first rig'), 'Draw your first rig');
  await hand.click(page.getByRole('radio', { name: 'Pick-up', exact: true }), 'Pick-up');
  await hand.click(page.getByRole('radio', { name: 'Trailer, two axles' }), 'Trailer, two axles');
  await hand.click(button('Draw it'), 'Draw it');
  await hand.click(link('Next: kit'), 'Next: kit');
  await hand.click(button('All stems are metal'), 'All stems are metal');
  await hand.click(link('Next: the box'), 'Next: the box');
  await hand.click(button(/^All of it is there/), 'All of it is there, next: the monitor');
  await hand.click(button('Mine is like it: Cab display'), 'Mine is like it (monitor)');
  await hand.click(link('Next: pressures'), 'Next: pressures');
  await hand.type(page.getByLabel('A1 cold'), '54', 'A1 cold');
  await hand.type(page.getByLabel('A1 set at'), '18', 'A1 set at');
  await hand.type(page.getByLabel('A2 cold'), '57', 'A2 cold');
  await hand.type(page.getByLabel('B1 cold'), '61', 'B1 cold');
  await expect(page.getByLabel('B1 set at')).toHaveValue('18');
  await hand.click(button('B2 and BS1 the same as B1'), 'B2 and BS1 the same as B1');
  await hand.click(button('Save, next: alarms'), 'Save, next: alarms');
  await hand.click(button('Use for all 5'), 'Use for all 5');
  await hand.click(link('Pairing'), 'Pairing');
}

const display = {
  name: 'Cab display',
  groups: 'axle',
  unit: 'psi',
  step: 1,
  min: 4,
  max: 160,
  presetLow: 84,
  presetHigh: 152,
  presetHotC: 76,
  interlock: true,
  positionsPerUnit: 22,
  rows: Array.from({ length: 11 }, () => 2),
  listing: 'long',
  units: 2,
  showsIds: true,
  canDisconnect: false,
  saves: 'byItself',
  pairSave: 'none',
} as const;

test('from New rig to alarms set and nine wheels paired: the fewest clicks and fields', async ({ page, own }) => {
  test.setTimeout(180_000);
  await post(own, 'monitors', display);
  await page.goto(own.url);
  const hand = new CountingHand();
  await upToPairing(page, hand);
  await hand.click(page.getByRole('button', { name: /^Practise first/ }), 'Practise first, with simulated sensors');
  const order = ['A1L', 'A1R', 'A2L', 'A2R', 'B1L', 'B1R', 'B2L', 'B2R', 'BS1'];
  for (const [i, position] of order.entries()) {
    await expect(page.getByText(`wheel ${i + 1} of 9, ${i} paired`)).toBeVisible();
    await hand.click(page.getByRole('button', { name: /^Hold sensor/ }).nth(i), `Hold sensor ${i + 1} near`);
    await expect(page.locator(`[data-position="${position}"]`)).toHaveAttribute('data-ink', 'steady');
  }
  await expect(page.getByText('9 of 9 paired').first()).toBeVisible();
  const rig = (await (await fetch(`${own.url}/api/rigs/${await rigId(own, 'Pick-up and tandem trailer')}`)).json()) as {
    unitIds: string[];
  };
  const units = (await (await fetch(`${own.url}/api/units`)).json()) as {
    id: string;
    axles: { settings: Record<string, { limits?: object }>; wheels: { sensor: { kind: string } | null }[] }[];
  }[];
  // All of it is there: limits on every axle, and each sensor of the kind that Kit has for its unit.
  const [front, behind] = rig.unitIds.map((id) => units.find((u) => u.id === id));
  for (const axle of [...(front?.axles ?? []), ...(behind?.axles ?? [])]) expect(axle.settings.towing?.limits).toBeDefined();
  expect(new Set(front?.axles.flatMap((a) => a.wheels.map((w) => w.sensor?.kind)))).toEqual(new Set(['cap']));
  expect(new Set(behind?.axles.flatMap((a) => a.wheels.map((w) => w.sensor?.kind)))).toEqual(new Set(['flowThrough']));
  console.log(hand.log.join('\n'));
  if (process.env.DRUCKWERK_PATH_LOG)
    writeFileSync(join(import.meta.dirname, '../docs/shortest-path.txt'), `${hand.log.join('\n')}\n`);
  expect(hand.clicks).toBeLessThanOrEqual(MOST_CLICKS);
  expect(hand.fields).toBeLessThanOrEqual(MOST_FIELDS);
});

test('nine IDs that are written down already are pasted as one list', async ({ page, own }) => {
  await post(own, 'monitors', display);
  await page.goto(own.url);
  const hand = new CountingHand();
  await upToPairing(page, hand);
  await hand.click(page.getByRole('button', { name: 'Begin, wheel by wheel' }), 'Begin, wheel by wheel');
  await hand.click(page.getByText('Paste a list of IDs'), 'Paste a list of IDs');
  const list = ['4CA1E0', '4CA1E1', 'BS1 4CA1E8', '4CA1E2', '4CA1E3', '4CA1E4', '4CA1E5', '4CA1E6', '4CA1E'];
  await page.getByLabel(/^One ID a line/).fill(list.join('\n'));
  await expect(page.getByText('fewer than six digits')).toBeVisible();
  await page.getByRole('button', { name: 'Pair 8 sensors' }).click();
  // What was wrong stays to be mended; what was good is kept.
  await expect(page.getByText('8 of 9 paired')).toBeVisible();
  await expect(page.getByLabel(/^One ID a line/)).toHaveValue('4CA1E');
  await page.getByLabel(/^One ID a line/).fill('4CA1E7');
  await page.getByRole('button', { name: 'Pair 1 sensor' }).click();
  await expect(page.getByText('9 of 9 paired')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(page.getByText('8 of 9 paired')).toBeVisible();
});
