import type { NewUnit, Rig, Unit } from '../schema/unit.ts';
import { carDocument } from '../server/testing-documents.ts';
import { expect, expectAccessible, rigId, type ServerProcess, test, visit } from './server.ts';

const get = async <T>(own: ServerProcess, path: string): Promise<T> =>
  (await (await fetch(`${own.url}/api/${path}`)).json()) as T;
const send = async <T>(own: ServerProcess, method: string, path: string, body: unknown): Promise<T> => {
  const res = await fetch(`${own.url}/api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  expect(`${path} ${res.status}`).toMatch(/ 20[01]$/);
  return (await res.json()) as T;
};

/** A rig as Linden run stands, ten road wheels, with no sensor on any. */
async function bareLinden(own: ServerProcess, demo: ServerProcess, name = 'Linden run'): Promise<Rig> {
  const id = await rigId(demo, name);
  const doc = await get<{ units: NewUnit[]; rig: { name: string } }>(demo, `rigs/${id}/export`);
  for (const u of doc.units) {
    for (const w of [...u.axles.flatMap((a) => a.wheels), ...u.spares.map((s) => s.wheel)]) w.sensor = null;
    u.spares = [];
  }
  return send<Rig>(own, 'POST', 'rigs/import', doc);
}

test.describe('on a phone, by touch', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('held near: ten wheels of Linden run, one cross-answer, one short code, a reload in mid-capture', async ({
    page,
    own,
    demo,
  }) => {
    test.setTimeout(300_000);
    const rig = await bareLinden(own, demo);
    await visit(page, `${own.url}/rigs/${rig.id}/pairing`);
    await page.getByText('Held near the monitor').tap();
    await page.getByText('Other sensors are 3 m away').tap();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Begin, wheel by wheel' }).tap();
    await page.getByRole('button', { name: 'Lay out the bench kit' }).tap();
    const status = page.getByRole('status', { name: 'Captured ID' });
    await page.getByLabel('Other sensors 3 m away').tap();
    const order = ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'A2RO', 'B1L', 'B1R', 'B2L', 'B2R'];
    const hold = page.getByRole('button', { name: /^Hold sensor/ });
    for (const [i, position] of order.entries()) {
      await expect(page.getByText(`wheel ${i + 1} of 10, ${i} paired`)).toBeVisible();
      if (position === 'B1L') await page.getByRole('button', { name: 'Open B1L on the monitor' }).tap();
      await expect(page.getByTestId('monitor-position')).toHaveText(position);
      if (position === 'A1R') {
        // A neighbour answers: the sensor that is on A1L already. It is seen at once.
        await page.getByLabel('Other sensors 3 m away').tap();
        await page.getByLabel('Trouble to practise').selectOption('neighbour');
        await hold.nth(1).tap();
        await expect(page.getByText(/is the sensor of A1L already/)).toBeVisible();
        await expectAccessible(page);
        await page.getByLabel('Other sensors 3 m away').tap();
        await page.getByRole('button', { name: 'Capture again' }).tap();
      }
      if (position === 'A2LO') await page.getByLabel('Trouble to practise').selectOption('short');
      await hold.nth(i).tap();
      if (position === 'A2LO') {
        await expect(status).toContainText('4 of six so far: wait');
        await expect(page.getByRole('button', { name: /^Save to A2LO/ })).toBeDisabled();
        // Closed in mid-capture: it goes on at the same wheel.
        await page.reload();
        await expect(page.getByText('wheel 3 of 10, 2 paired')).toBeVisible();
      }
      await expect(status).toContainText('all six digits captured');
      if (position === 'A2LO') await page.getByText('10x', { exact: true }).tap();
      await page.getByRole('button', { name: new RegExp(`^Save to ${position}`) }).tap();
    }
    await expect(page.getByText('10 of 10 paired')).toBeVisible();
    await page.getByRole('button', { name: 'Fit them all by their labels' }).tap();
    await page.getByRole('link', { name: 'Next: the final check' }).tap();
    await expect(page.getByText('Every position is as it should be: full, none twice, none short.')).toBeVisible();
    await expectAccessible(page);
    // The book and the wheels agree: every sensor is where its label says.
    const units = await get<Unit[]>(own, 'units');
    const bench = await get<{ wheels: { position: string; sensorId: string }[] }>(own, `rigs/${rig.id}/bench`);
    const book = Object.fromEntries(
      rig.unitIds.flatMap((id, i) =>
        (units.find((u) => u.id === id)?.axles ?? []).flatMap((a) =>
          a.wheels.map((w) => [`${'AB'[i]}${w.position}`, w.sensor?.id]),
        ),
      ),
    );
    for (const w of bench.wheels) expect(`${w.position} ${w.sensorId}`).toBe(`${w.position} ${book[w.position]}`);
    // Paired at the table: nothing rings for zeros, and once fitted they are live.
    await visit(page, `${own.url}/rigs/${rig.id}/watch`);
    await expect(page.locator('[data-position="A1L"]')).toBeVisible();
    await expect(page.locator('[data-alarm]')).toHaveCount(0);
  });
});

test.describe('on a phone, a kit with a lamp and no IDs', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('paired by ticks, saved once, checked by pressure, watched by typed readings, an ID added later', async ({
    page,
    own,
    demo,
  }) => {
    const rig = await bareLinden(own, demo, 'Drone');
    const monitor = await send<{ id: string }>(own, 'POST', 'monitors', {
      name: 'Lamp box',
      groups: 'axle',
      unit: 'psi',
      step: 1,
      min: 5,
      max: 90,
      presetLow: null,
      presetHigh: null,
      presetHotC: null,
      interlock: false,
      positionsPerUnit: 4,
      units: 1,
      showsIds: false,
      signs: ['lamp'],
      openShows: 'skipped',
      pairSave: 'end',
      canDisconnect: false,
    });
    await send(own, 'PUT', `rigs/${rig.id}`, { ...rig, monitorId: monitor.id });
    const sheet = `${own.url}/rigs/${rig.id}/pairing`;
    await visit(page, sheet);
    await page.getByRole('radio', { name: /Screwed onto the valve/ }).check();
    await expect(page.getByRole('checkbox', { name: 'A lamp, red to green' })).toBeChecked();
    await page.getByRole('button', { name: 'Begin, wheel by wheel' }).tap();
    // Pairing and fitting are one walk: gauge, boot and nut, the monitor, the sensor, its sign, nut back, soap, boot.
    const step = page.getByTestId('step');
    const next = page.getByRole('button', { name: 'Done, next' });
    for (const position of ['A1L', 'A1R', 'A2L', 'A2R']) {
      await expect(step).toHaveText(`Put a gauge on ${position}`);
      const before = [
        `Take a sensor and mark it ${position}`,
        'Look at the stem',
        'Pull the film, or put the battery in, plus side up',
        'Take the valve cap off',
        'Wipe the valve clean',
        'Turn the dust boot inside out and push it down the stem',
        'Screw the lock nut all the way down',
        `Open ${position} on the monitor: it comes up only in the pairing menu`,
        'Screw the sensor on quickly, by hand, until snug',
        'Wait for the lamp turning from red to green',
      ];
      for (const head of before) {
        await next.tap();
        await expect(step).toHaveText(head);
      }
      if (position === 'A1L') {
        await expect(page.getByText(/waiting \d+ s of 60/)).toBeVisible();
        await expect(page.getByText('Then: Nut back up')).toBeVisible();
        await expectAccessible(page);
      }
      await page.getByRole('button', { name: `${position} is paired` }).tap();
      await expect(step).toHaveText(/^Nut back up/);
      await next.tap();
      await page.getByRole('button', { name: 'No bubbles' }).tap();
      await expect(step).toHaveText(/^Fold the boot back/);
      await next.tap();
      await expect(step).toHaveText(/^A strip of tape/);
      await next.tap();
      await expect(page.getByText(`${position} is paired and fitted.`)).toBeVisible();
      if (position !== 'A2R') await page.getByRole('button', { name: /^Go on with/ }).tap();
    }
    await expect(page.getByText('This monitor keeps nothing until you save at the end.')).toBeVisible();
    // Nothing on the way speaks of digits or IDs, but for the way to add one.
    await expect(page.getByText(/six digits|FF FF/)).toHaveCount(0);

    await page.getByRole('link', { name: 'Next: the final check' }).tap();
    await page.getByRole('button', { name: 'It shows one' }).tap();
    await page.getByRole('button', { name: 'It shows nothing' }).tap();
    await expect(page.getByText('A1R shows no pressure: its sensor wasn’t taken')).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'One back' }).tap();
    for (let i = 0; i < 3; i += 1) await page.getByRole('button', { name: 'It shows one' }).tap();
    await expect(page.getByText('Every position shows a sensor that was paired to it.')).toBeVisible();
    await expect(page.getByRole('link', { name: 'The detective proves which is which' })).toBeVisible();

    // A program that knows the wheel and no ID.
    const reading = (pressureKpa: number, secondsAgo: number) => ({
      wheel: { rigId: rig.id, position: 'A2L' },
      time: new Date(Date.now() - secondsAgo * 1000).toISOString(),
      pressureKpa,
      tempC: 20,
    });
    await send(own, 'POST', 'readings', [reading(60, 20), reading(60, 5)]);
    await visit(page, `${own.url}/rigs/${rig.id}/watch`);
    await expect(page.locator('[data-alarm^="A2L "]')).toBeVisible();

    await visit(page, `${sheet}?part=book`);
    await page.getByRole('button', { name: 'Add the ID of A2L' }).tap();
    await page.getByLabel('Its ID').fill('4CA1E0');
    await page.getByRole('button', { name: 'Add it', exact: true }).tap();
    await expect(page.getByRole('row', { name: /A2L/ })).toContainText('4C A1 E0');
    await send(own, 'POST', 'readings', [{ ...reading(60, 1), wheel: undefined, sensorId: '4CA1E0' }]);
    const { readings } = await get<{ readings: { position: string }[] }>(own, `rigs/${rig.id}/readings`);
    expect(readings.map((r) => r.position)).toEqual(['A2L', 'A2L', 'A2L']);
  });
});

test('wheel chosen on the phone first, by keyboard, with one time-out of 90 s of event time', async ({ page, own, demo }) => {
  test.setTimeout(200_000);
  const rig = await bareLinden(own, demo);
  await visit(page, `${own.url}/rigs/${rig.id}/pairing`);
  const press = async (name: string | RegExp, role: 'button' | 'link' = 'button') => {
    const control = page.getByRole(role, { name }).first();
    await expect(control).toBeEnabled();
    await control.press('Enter');
  };
  await page.getByRole('radio', { name: /Wheel chosen on the phone first/ }).focus();
  await page.keyboard.press('Space');
  await press('Begin, wheel by wheel');
  await press('Lay out the bench kit');
  const status = page.getByRole('status', { name: 'Captured ID' });
  await page.getByLabel('Trouble to practise').selectOption('noAnswer');
  await press(/^Screw sensor 1 onto A1L/);
  await expect(status).toContainText(/waiting \d+ s of 90/);
  await page.getByRole('radio', { name: '60x' }).focus();
  await page.keyboard.press('Enter');
  await expect(status).toContainText('no answer in 90 s');
  await expect(page.getByText('Take it off, wait 10 s, and try again.')).toBeVisible();
  await expectAccessible(page);
  await press('It is off');
  await expect(status).toContainText(/off: \d+ s to go|now again/);
  for (let tries = 0; tries < 8; tries += 1) {
    await press(/^Screw sensor 1 onto A1L/);
    await expect(status).not.toContainText(/to go|now again/);
    await expect(status).toContainText(/all six digits captured|no answer in 90 s/);
    if ((await status.textContent())?.includes('all six digits captured')) break;
    await press('It is off');
    await expect(status).toContainText(/to go|now again/);
  }
  await press(/^Save to A1L/);
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'steady');
  await expect(page.getByText('wheel 2 of 10, 1 paired')).toBeVisible();
});

test('rotation: a five-wheel round of internal sensors, exchanged on the bench monitor to the right end', async ({
  page,
  own,
}) => {
  test.setTimeout(120_000);
  const wheel = (position: string, id: string) => ({ position, sensor: { id, kind: 'internal' as const } });
  const settings = { loaded: { cold: { kpa: 250, tempC: 20 } } };
  const unit = await send<Unit>(own, 'POST', 'units', {
    name: 'Car',
    kind: 'vehicle',
    axles: [
      { wheels: [wheel('1L', 'C00001'), wheel('1R', 'C00002')], settings },
      { wheels: [wheel('2L', 'C00003'), wheel('2R', 'C00004')], settings },
    ],
    spares: [{ wheel: wheel('S1', 'C00005'), settings }],
  });
  const rig = await send<Rig>(own, 'POST', 'rigs', { name: 'Round', unitIds: [unit.id], loadState: 'loaded', monitorId: null });
  await send(own, 'POST', `rigs/${rig.id}/bench`, { action: 'open' });
  await visit(page, `${own.url}/rigs/${rig.id}/pairing?part=rotation`);
  await page.getByRole('button', { name: /Five wheels/ }).click();
  await expect(page.locator('[data-position="AS1"]')).toContainText('from A1L');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Move the wheels on the bench' }).click();
  const exchanges = page.getByRole('button', { name: /^Exchange A/ });
  await expect(exchanges).toHaveCount(4);
  for (let i = 0; i < 4; i += 1) {
    await exchanges.nth(i).click();
    await expect(exchanges.nth(i)).toBeDisabled();
  }
  await page.getByRole('button', { name: 'All done: write it down' }).click();
  await expect(page.getByText('The rotation is written down.', { exact: true })).toBeVisible();
  const bench = await get<{ wheels: { position: string; sensorId: string }[]; monitor: { saved: Record<string, string> } }>(
    own,
    `rigs/${rig.id}/bench`,
  );
  for (const w of bench.wheels) expect(`${w.position} ${bench.monitor.saved[w.position]}`).toBe(`${w.position} ${w.sensorId}`);
  await visit(page, `${own.url}/rigs/${rig.id}/pairing?part=check`);
  await expect(page.getByText('Every position is as it should be')).toBeVisible();
  await visit(page, `${own.url}/rigs/${rig.id}/pairing?part=book`);
  await page.getByRole('button', { name: 'History of A1L' }).click();
  await expect(page.getByRole('dialog')).toContainText('C0 00 01');
  await expect(page.getByRole('dialog')).toContainText('went with its wheel');
  await expectAccessible(page);
});

test('the book: moved to spares, moved, replaced, from a file; the detective on a swapped pair', async ({ page, own }) => {
  test.setTimeout(150_000);
  const wheel = (position: string, id: string) => ({ position, sensor: { id, kind: 'cap' as const }, stem: 'metal' as const });
  const settings = { loaded: { cold: { kpa: 551.58, tempC: 15 } } };
  const unit = await send<Unit>(own, 'POST', 'units', {
    name: 'Trailer',
    kind: 'trailer',
    axles: [
      { wheels: [wheel('1L', 'D00001'), wheel('1R', 'D00002')], settings },
      { wheels: [wheel('2L', 'D00003'), wheel('2R', 'D00004')], settings },
    ],
    spares: [],
  });
  const rig = await send<Rig>(own, 'POST', 'rigs', { name: 'Pair', unitIds: [unit.id], loadState: 'loaded', monitorId: null });
  await send(own, 'POST', `rigs/${rig.id}/bench`, { action: 'open' });
  await visit(page, `${own.url}/rigs/${rig.id}/pairing?part=book`);
  await expect(page.getByRole('table', { name: /^ID book/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take the sensor off A2R and keep it' }).click();
  await expect(page.getByRole('region', { name: 'Spare sensors' })).toContainText('D0 00 04');
  await page.getByRole('button', { name: 'Add the sensor of A2R' }).click();
  await page.getByRole('button', { name: 'D0 00 04, cap' }).click();
  await expect(page.getByRole('row', { name: /A2R/ })).toContainText('D0 00 04');
  await page.getByLabel('Read IDs from a file').setInputFiles({
    name: 'ids.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('wheel,id\nA1L,D0000\nA9L,D00009\nA2L,D00003\n'),
  });
  await expect(page.getByText('Line 2: Only 5 of six digits')).toBeVisible();
  await expect(page.getByText('Line 3: no wheel of this rig')).toBeVisible();

  // Two sensors change their wheels behind the book's back.
  const bench = (body: unknown) => send(own, 'POST', `rigs/${rig.id}/bench`, body);
  await bench({ action: 'unfit', sensorId: 'D00001' });
  await bench({ action: 'fit', sensorId: 'D00004', position: 'A1L' });
  await bench({ action: 'fit', sensorId: 'D00001', position: 'A2R' });
  await bench({ action: 'drive', kmh: 5 });
  await bench({ action: 'run', factor: 60 });
  await visit(page, `${own.url}/rigs/${rig.id}/watch`);
  for (const p of ['A1L', 'A1R', 'A2L', 'A2R'])
    await expect(page.locator(`[data-position="${p}"]`)).toHaveAttribute('data-ink', 'steady', { timeout: 30_000 });
  await visit(page, `${own.url}/rigs/${rig.id}/pairing?part=detective`);
  await expect(page.getByRole('heading', { name: 'The plan' })).toBeVisible();
  await expectAccessible(page);
  const next = page.getByRole('button', { name: 'Take it from the watch' });
  for (let go = 0; go < 4 && (await next.count()) > 0; go += 1) {
    await next.click();
    await page.getByRole('button', { name: 'Let it out on the bench' }).click();
    // Three minutes on the bench: every sensor has sent again.
    const from = Date.parse((await get<{ time: string }>(own, `rigs/${rig.id}/bench`)).time);
    await expect
      .poll(async () => Date.parse((await get<{ time: string }>(own, `rigs/${rig.id}/bench`)).time) - from, { timeout: 30_000 })
      .toBeGreaterThan(180_000);
    await page.getByRole('button', { name: 'Take the new figures' }).click();
  }
  await expect(page.getByText('A1L and A2R are swapped: each reports at the other’s position.')).toBeVisible();
  await page.getByRole('button', { name: 'Put the book right' }).click();
  await expect.poll(async () => (await get<Unit>(own, `units/${unit.id}`)).axles[0]?.wheels[0]?.sensor?.id).toBe('D00004');
});

test('a sensor captured at another position than the guide’s is caught at the Save button, before it is saved', async ({
  page,
  own,
}) => {
  const car = await send<Unit>(own, 'POST', 'units', carDocument([]));
  const rig = await send<Rig>(own, 'POST', 'rigs', { name: 'Errand', unitIds: [car.id], loadState: 'loaded' });
  await visit(page, `${own.url}/rigs/${rig.id}/pairing`);
  await page.getByRole('button', { name: /^Practise first/ }).click();
  await expect(page.getByTestId('monitor-position')).toHaveText('A1L');
  await page.getByRole('button', { name: 'Position ▸' }).click();
  await expect(page.getByTestId('monitor-position')).toHaveText('A1R');
  await page.getByRole('button', { name: 'Hold sensor 1 near' }).click();
  await expect(page.getByText('The monitor is open at A1R, not A1L.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Leave it, and open A1L' }).click();
  await expect(page.getByTestId('monitor-position')).toHaveText('A1L');
  await page.getByRole('button', { name: 'Hold sensor 1 near' }).click();
  await expect(page.getByText('all six digits captured')).toBeVisible();
  await page.getByRole('button', { name: /^Save to A1L/ }).click();
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'steady');
  const [unit] = await get<Unit[]>(own, 'units');
  expect(unit?.axles[0]?.wheels.map((w) => w.sensor !== null)).toEqual([true, false]);
});
