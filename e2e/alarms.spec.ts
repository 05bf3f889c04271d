import type { Page } from '@playwright/test';
import type { NewUnit } from '../schema/unit.ts';
import { expect, expectAccessible, post, rigId, type ServerProcess, test, visit } from './server.ts';

const PSI = 6.894757293168;

/** A pick-up that is set already and a trailer of which nothing is known, with an interlocked monitor that comes with presets. */
async function haulRig(own: ServerProcess): Promise<string> {
  const wheel = (position: string) => ({ position, sensor: null, stem: 'metal' as const });
  const limits = { rule: { school: 'share' as const }, lowKpa: 45 * PSI, highKpa: 60 * PSI, hotC: 70 };
  const settings = { loaded: { cold: { kpa: 50 * PSI, tempC: 20 }, limits } };
  const pickUp: NewUnit = {
    name: 'Pick-up',
    kind: 'vehicle',
    axles: [
      { label: 'front', wheels: [wheel('1L'), wheel('1R')], settings },
      { label: 'rear', wheels: [wheel('2L'), wheel('2R')], settings },
    ],
    spares: [],
  };
  const trailer: NewUnit = {
    name: 'Hay trailer',
    kind: 'trailer',
    axles: [{ wheels: [wheel('1L'), wheel('1R')], marking: 'ST225/75R15 117/112M', settings: {} }],
    spares: [],
  };
  const a = await post<{ id: string }>(own, 'units', pickUp);
  const b = await post<{ id: string }>(own, 'units', trailer);
  const monitors = (await (await fetch(`${own.url}/api/monitors`)).json()) as { id: string; name: string }[];
  const monitorId = monitors.find((m) => m.name === 'Four-group cab monitor')?.id as string;
  const rig = await post<{ id: string }>(own, 'rigs', { name: 'Haul', unitIds: [a.id, b.id], loadState: 'loaded', monitorId });
  return rig.id;
}

/** Two years of days, semicolons and decimal commas, with a hole and a line that cannot be. */
function weather(): string {
  const lines = ['Datum;Tmin °C;Tmax °C'];
  for (let i = 0; i < 730; i += 1) {
    const d = new Date(Date.UTC(2024, 0, 1) + i * 86_400_000);
    const wave = -Math.cos((2 * Math.PI * (i - 15)) / 365);
    const coldest = i === 20 ? -15 : 2 + 9 * wave;
    const hottest = i === 200 ? 35 : 14 + 13 * wave;
    const day = `${String(d.getUTCDate()).padStart(2, '0')}.${String(d.getUTCMonth() + 1).padStart(2, '0')}.${d.getUTCFullYear()}`;
    const text = (v: number) => v.toFixed(1).replace('.', ',');
    if (i === 40) lines.push(`${day};;${text(hottest)}`);
    else if (i === 41) lines.push(`${day};30,0;2,0`);
    else lines.push(`${day};${text(coldest)};${text(hottest)}`);
  }
  return `${lines.join('\n')}\n`;
}

async function fill(page: Page, label: string | RegExp, text: string) {
  const field = page.getByLabel(label);
  await field.fill(text);
  await field.press('Enter');
}

test('from the scale to the monitor: weigh, table, climate, rule, drag, conflict, seasons, card', async ({ page, own }) => {
  test.setTimeout(240_000);
  const id = await haulRig(own);
  await visit(page, `${own.url}/rigs/${id}/pressures`);

  // Weigh-in and the maker's table, with a row that cannot be.
  await page.getByRole('button', { name: 'Load and tire' }).nth(2).click();
  await fill(page, 'Left end', '950');
  await fill(page, 'Right end', '967');
  await expect(page.getByText('The heaviest tire carries 967 kg, on the right.')).toBeVisible();
  await page.getByLabel('Row 1: load').fill('900');
  await page.getByLabel('Row 1: pressure').fill('56');
  await page.getByLabel('Row 2: load').fill('1000');
  await page.getByLabel('Row 2: pressure').fill('62');
  await page.getByLabel('Row 3: load').fill('1100');
  await page.getByLabel('Row 3: pressure').fill('60');
  await expect(page.getByText('More load at less pressure than the row before it')).toBeVisible();
  await page.getByRole('button', { name: 'Use this table' }).click();
  await expect(page.getByText(/Its load minimum is 60\.0\spsi cold, by the maker’s table/)).toBeVisible();
  await expectAccessible(page);

  // Too little for the load asks twice; the figure in the end does not.
  await page.getByLabel('B1 cold').fill('55');
  await page.getByLabel('B1 set at').fill('20');
  await expect(page.getByText('B1: Too little for the load. Its load minimum is 60.0 psi cold.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save pressures' })).toBeDisabled();
  await page.getByLabel('B1 cold').fill('80');
  await page.getByRole('button', { name: 'Save pressures' }).click();
  await expect(page.getByText('Not saved yet')).toBeHidden();

  // Now is not cold.
  await page
    .getByRole('radiogroup', { name: 'Axle' })
    .or(page.getByLabel('Axle', { exact: true }))
    .getByText('B1')
    .click();
  await page.getByLabel('Air now').fill('32');
  await expect(page.getByText('Fill to 83.9 psi now')).toBeVisible();
  await page.getByText('Driven', { exact: true }).click();
  await expect(page.getByText('Wait until it is cold')).toBeVisible();

  // The climate from a file that is not perfect.
  await page
    .getByLabel('Read a weather file')
    .setInputFiles({ name: 'home.csv', mimeType: 'text/csv', buffer: Buffer.from(weather()) });
  await expect(page.getByText('728 days from 2024-01-01 to 2025-12-30: coldest −15 °C, hottest 35 °C.')).toBeVisible();
  await page.getByText('2 lines are left out').click();
  await expect(page.getByText('Line 42: minimum or maximum is missing (2024-02-10)')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Use these days' }).click();
  await expect(page.getByLabel('Coldest start')).toHaveValue('-15');
  await expect(page.getByText('In use: home.csv')).toBeVisible();

  // A rule, changed; a limit dragged by keyboard.
  await page.keyboard.press('Escape');
  await page
    .getByRole('link', { name: /Alarms/ })
    .first()
    .click();
  await page.getByRole('button', { name: /^B1 trailer|^B1 hay/ }).click();
  const rule = page.getByRole('form', { name: 'Rule for B1' });
  await rule.getByRole('radio', { name: /A fixed margin/ }).check();
  await expect(page.getByRole('slider', { name: 'B1 low alarm' })).toHaveAttribute('aria-valuetext', /^65\.0\spsi$/);
  await rule.getByRole('radio', { name: /A share of normal/ }).check();
  const low = page.getByRole('slider', { name: 'B1 low alarm' });
  await expect(low).toHaveAttribute('aria-valuetext', /^72\.0\spsi$/);
  await low.focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await expect(low).toHaveAttribute('aria-valuetext', /^74\.0\spsi$/);
  await expect(rule.getByRole('radio', { name: /Floor and ceiling/ })).toBeChecked();
  await expect(rule.getByLabel('Floor', { exact: true })).toHaveValue('74');
  await expect(
    page.getByText(/A cold start at −15\s°C reads 68\.\d\spsi, which is at or below the low limit of 74\.0/),
  ).toBeVisible();
  await page.keyboard.press('PageDown');
  await expect(low).toHaveAttribute('aria-valuetext', /^69\.0\spsi$/);

  // The conflict, and the way out of it.
  await rule.getByRole('radio', { name: /A share of normal/ }).check();
  await expect(rule.getByText('A trade-off is needed.')).toBeVisible();
  await expectAccessible(page);
  await rule.getByRole('button', { name: 'Use limits by season' }).click();
  await expect(page.getByText(/B1: (winter|summer) limits are in force,/)).toBeVisible();
  await expect(rule.getByText('A trade-off is needed.')).toBeHidden();
  const units = (await (await fetch(`${own.url}/api/units`)).json()) as NewUnit[];
  const { seasons } = units.find((u) => u.kind === 'trailer')?.axles[0]?.settings.loaded ?? {};
  expect(seasons?.winter.cold.tempC).toBeLessThan(seasons?.summer.cold.tempC as number);
  await page.getByRole('button', { name: /^Change to/ }).click();
  await expect(page.getByText(/Since \d+ \w+ it is (winter|summer): reset the cold pressure/)).toBeVisible();
  await visit(page, own.url);
  await expect(page.getByText('Due: the season has changed. New pressure and limits for B1.')).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/alarms`);
  // What the monitor makes of it comes a moment later, and moves what is below.
  await expect(page.getByText('Ways out, the best first')).toBeVisible();
  await page.getByRole('button', { name: /^Change to/ }).click();
  await expect(page.getByText(/From \d+ \w+:/)).toBeVisible();

  // The card: seven presses of "done" in an order the monitor takes, a slip explained, printed on A5.
  await page.getByRole('link', { name: 'Next: key them into the monitor' }).click();
  await expect(page.getByText('Step 1 of 7')).toBeVisible();
  await expect(page.getByTestId('card-to')).toHaveText(/45\spsi/);
  await expect(page.getByText('low first, or the monitor refuses the high').first()).toBeVisible();
  await expectAccessible(page);
  const pdf = await page.pdf({ preferCSSPageSize: true });
  // A5 is 148 x 210 mm: 420 x 595 points.
  expect(pdf.toString('latin1')).toMatch(/MediaBox \[0 0 (419|420)[.\d]* 59[45]/);
  expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)).toHaveLength(1);
  for (let step = 1; step <= 7; step += 1) {
    await expect(page.getByText(`Step ${step} of 7`)).toBeVisible();
    await page.getByRole('button', { name: 'Done, next' }).click();
    if (step === 3) {
      await page.reload();
      await expect(page.getByText('Step 4 of 7')).toBeVisible();
    }
  }
  await expect(page.getByText(/Save with a long press/).first()).toBeVisible();
  await page.getByLabel(/^A1, front: low/).fill('84');
  await expect(page.getByText(/left the menu without saving/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'It shows all of this' })).toBeDisabled();
  await page.getByLabel(/^A1, front: low/).fill('45');
  await expectAccessible(page);
  // Not every requirement can be met on this rig: to go on one has to say why, and it is on the report.
  await expect(page.getByText(/^Stop: as they end up in .*, these limits don’t guard this rig\.$/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'It shows all of this' })).toBeDisabled();
  await page.getByRole('button', { name: 'Go on like this' }).click();
  await expect(page.getByText('Say why, in ten characters or more')).toBeVisible();
  await page.getByLabel('Or say why you go on like this').fill('weighed again after the season');
  await page.getByRole('button', { name: 'Go on like this' }).click();
  await expect(page.getByText(/You go on because: “weighed again after the season”/)).toBeVisible();
  await page.getByRole('button', { name: 'It shows all of this' }).click();
  await expect(page.getByText('Nothing to key: the monitor shows all of it already.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('Nothing to key: the monitor shows all of it already.')).toBeVisible();

  // The year, in a worker, stopped and worked out.
  await page.getByText('The year', { exact: true }).click();
  await page.getByRole('button', { name: 'Work it out' }).click();
  await expect(page.getByRole('button', { name: 'Work it out again' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('row', { name: /by season/ }).first()).toBeVisible();
  await expectAccessible(page);
});

test('a limit follows the pointer and the finger, and the day its slider', async ({ page, demo }) => {
  const id = await rigId(demo, 'Drone');
  await visit(page, `${demo.url}/rigs/${id}/alarms`);
  const high = page.getByRole('slider', { name: 'A1 high alarm' });
  // Where it is once the sheet has come to rest.
  await high.hover();
  const before = await high.getAttribute('aria-valuetext');
  const box = await high.boundingBox();
  if (!box) throw new Error('no handle');
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y + 30, { steps: 6 });
  await expect(high).not.toHaveAttribute('aria-valuetext', before as string);
  const during = await high.getAttribute('aria-valuetext');
  await page.mouse.up();
  await expect(high).toHaveAttribute('aria-valuetext', during as string);
  await expect(page.getByText('Not in force yet')).toBeVisible();
  await page.reload();
  await expect(high).toHaveAttribute('aria-valuetext', during as string);
});

test('keying is practised on a monitor that refuses', async ({ page, own }) => {
  const id = await haulRig(own);
  await visit(page, `${own.url}/rigs/${id}/alarms?part=card`);
  await page.getByRole('button', { name: 'Open its limit menu' }).click();
  const shows = page.getByRole('status', { name: 'Practice monitor' });
  await expect(shows).toContainText(/low 84\s?psi/);
  await page.getByRole('button', { name: 'Next value' }).click();
  for (let i = 0; i < 8; i += 1) await page.getByRole('button', { name: '− hold' }).click();
  await expect(page.getByText('Refused: a low must stay under its high')).toBeVisible();
  await expect(shows).toContainText(/high 92\s?psi/);
  await expectAccessible(page);
  // Its pages are confirmed: gone on without that, the value is gone.
  await page.getByRole('button', { name: 'Next value' }).click();
  await expect(shows).toContainText('A2, rear blinks');
  await expect(page.getByText(/gone on once without confirming: that value is gone/)).toBeVisible();
  await page.getByRole('button', { name: '− 1', exact: true }).click();
  await expect(page.getByText(/changed while the card was at another axle: A2/)).toBeVisible();
});

test('limits that a monitor can’t hold stop the owner at Kit, with ways out', async ({ page, own }) => {
  test.setTimeout(120_000);
  const send = <T>(path: string, body: unknown) => post<T>(own, path, body);
  const axle = (n: number, kpa: number) => ({
    wheels: [
      { position: `${n}L`, sensor: null, stem: 'metal' },
      { position: `${n}R`, sensor: null, stem: 'metal' },
    ],
    settings: {
      towing: {
        cold: { kpa, tempC: 18 },
        limits: { rule: { school: 'share' }, lowKpa: kpa * 0.9, highKpa: kpa * 1.2, hotC: 74 },
      },
    },
  });
  const display = (change: object) => ({
    name: 'Shared-pair display',
    groups: 'rearWithTrailer',
    unit: 'bar',
    step: 0.1,
    min: 0.5,
    max: 6.4,
    presetLow: 1.7,
    presetHigh: 2.9,
    presetHotC: 74,
    interlock: true,
    positionsPerUnit: 6,
    rows: [2, 2, 2],
    units: 2,
    showsIds: true,
    canDisconnect: true,
    ...change,
  });
  const car = await send<{ id: string }>('units', {
    name: 'Car',
    kind: 'vehicle',
    axles: [axle(1, 230), axle(2, 240)],
    spares: [],
  });
  const trailer = await send<{ id: string }>('units', { name: 'Cart', kind: 'trailer', axles: [axle(1, 400)], spares: [] });
  const shared = await send<{ id: string }>('monitors', display({}));
  const rig = await send<{ id: string }>('rigs', {
    name: 'Tow',
    unitIds: [car.id, trailer.id],
    loadState: 'towing',
    monitorId: shared.id,
  });

  // A car of 2.4 bar with a trailer of 4.0: on the ladder the wish is thin and the held pair thick, and the rear would ring for ever.
  await visit(page, `${own.url}/rigs/${rig.id}/alarms`);
  const stop = page.getByRole('region', { name: 'What this monitor can’t do' });
  await expect(stop).toContainText('A2 would ring at once and for ever');
  await expect(stop).toContainText('It shares them with B1.');
  await expect(stop).toContainText('Leave B1 out of the monitor’s limits and let Druckwerk alone watch the trailer.');
  await expect(page.getByText(/low in the monitor$/)).toBeVisible();
  await expect(page.getByText(/low wished$/)).toBeVisible();
  await expectAccessible(page);
  await visit(page, `${own.url}/rigs/${rig.id}/first-drive?part=report`);
  await expect(page.getByRole('region', { name: 'Open points' })).toContainText(
    'The monitor ends with limits that need a second look',
  );

  // A display to 5 bar on a trailer of 80 psi: said when it is chosen.
  const heavy = await send<{ id: string }>('units', {
    name: 'Low loader',
    kind: 'trailer',
    axles: [axle(1, 551.58)],
    spares: [],
  });
  await send('monitors', display({ name: 'Five bar display', groups: 'axle', max: 5, min: 1, presetLow: 2.1, presetHigh: 3.3 }));
  const loader = await send<{ id: string }>('rigs', {
    name: 'Loader',
    unitIds: [heavy.id],
    loadState: 'towing',
    monitorId: null,
  });
  await visit(page, `${own.url}/rigs/${loader.id}/kit?part=monitor`);
  await page.getByLabel('Monitor of this rig').selectOption({ label: 'Five bar display' });
  await expect(stop).toContainText('A1 needs limits that this monitor can’t be set to.');
  await expect(stop).toContainText('Ways out, the best first');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Go on like this' }).click();
  await expect(page.getByText('Say why, in ten characters or more')).toBeVisible();
});
