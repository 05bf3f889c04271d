import { expect, expectAccessible, heard, holdBack, makeRig, post, preferring, rigId, test } from './server.ts';

const psi = preferring({ pressure: 'psi' });

test('a typed round at phone size: bar for psi is caught, eight wheels are done by Enter alone, and judged at once', async ({
  page,
  own,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.addInitScript(psi);
  const rig = await makeRig(own);
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await expect(page.getByRole('heading', { name: 'Watch' })).toBeVisible();
  const from = Date.now();
  await page.keyboard.press('r');
  const box = page.getByRole('dialog', { name: 'Type readings' });
  await expect(box.getByRole('textbox').first()).toBeFocused();
  // 2.5 bar is 36.3 psi.
  await page.keyboard.type('2.5');
  await page.keyboard.press('Enter');
  await expect(box.getByRole('alert')).toContainText('Is 2.5 in bar? That would be 36.3 psi');
  await expectAccessible(page);
  await box.getByRole('button', { name: 'It reads 36.3 psi' }).click();
  for (const figure of ['36', '36.5', '36', '28', '36', '37']) {
    await page.keyboard.type(figure);
    await page.keyboard.press('Enter');
  }
  // Two digits swapped.
  await page.keyboard.type('63');
  await page.keyboard.press('Enter');
  await expect(box.getByRole('alert')).toContainText('A low tire, or two digits swapped?');
  await box.getByRole('button', { name: 'It reads 36.0 psi' }).click();
  await box.getByRole('button', { name: 'Keep 8 of 8' }).click();
  await expect(box).toHaveCount(0);
  expect(Date.now() - from).toBeLessThan(30_000);
  await expect(page.getByRole('heading', { name: '1 alarm open' })).toBeVisible();
  await expect(page.locator('[data-alarm$=" low"]')).toContainText('Reads 28.0 psi');
});

test('what was typed is still there after the page is gone', async ({ page, own }) => {
  await page.addInitScript(psi);
  const rig = await makeRig(own);
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await page.getByRole('button', { name: /Type readings/ }).click();
  await page.keyboard.type('36.4');
  await page.reload();
  await page.getByRole('button', { name: /Type readings/ }).click();
  await expect(page.getByRole('dialog').getByRole('textbox').first()).toHaveValue('36.4');
});

test('a CSV file with five bad lines: mapped, brought in, the bad ones named, and drawn', async ({ page, own }) => {
  const rig = await makeRig(own);
  const start = Date.now() - 3 * 3_600_000;
  const stamp = (i: number) => new Date(start + i * 60_000).toISOString();
  const lines = ['Zeit;Rad;Druck (bar);Temperatur'];
  for (let i = 0; i < 60; i += 1) lines.push(`${stamp(i)};${i % 2 ? 'A1L' : 'vorn rechts'};2,5${i % 10};2${i % 10},5`);
  lines[5] = `${stamp(4)};A1L;viel;20,0`;
  lines[12] = `${stamp(11)};C9L;2,5;20,0`;
  lines[20] = 'irgendwann;A1L;2,5;20,0';
  lines[33] = `${stamp(32)};A1L;99,0;20,0`;
  lines.push(`${stamp(60)};A1L`);
  await page.goto(`${own.url}/rigs/${rig}/watch/files`);
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'readings.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\r\n')) });
  await expect(page.getByRole('combobox', { name: 'Pressure is in' })).toHaveValue('bar');
  await expect(page.getByRole('combobox', { name: 'Decimal sign' })).toHaveValue(',');
  await page.getByRole('combobox', { name: '“vorn rechts”' }).selectOption('A1R');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Bring them in' }).click();
  await expect(page.getByText('56 readings kept, 0 were here already, 5 bad lines')).toBeVisible();
  const bad = page.getByRole('list', { name: 'Bad lines' });
  for (const line of [6, 13, 21, 34, 62]) await expect(bad.getByText(`Line ${line}`, { exact: true })).toBeVisible();

  // The same make again: known, and nothing is kept twice.
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'again.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\r\n')) });
  await expect(page.getByText('a make that is known')).toBeVisible();
  await page.getByRole('button', { name: 'Bring them in' }).click();
  await expect(page.getByText('0 readings kept, 56 were here already, 5 bad lines')).toBeVisible();

  await page.getByRole('link', { name: 'Look at the charts' }).click();
  await expect(page.getByRole('img', { name: /Pressure as read/ })).toBeVisible();
  await page.getByRole('button', { name: 'Table' }).click();
  await expect(page.getByRole('region', { name: 'Figures of the chart' }).getByRole('row')).toHaveCount(57);
  for (const q of ['Gap', 'Cold-equivalent', 'Temperature']) {
    await page.getByRole('radio', { name: q }).click();
    await expect(page.getByRole('img', { name: /taken out|Temperature/ })).toBeVisible();
  }
  // Both wheels at one moment, by keys: at the end the last readings, at the beginning nothing of the wheel that spoke later.
  await page.getByRole('radio', { name: 'Pressure', exact: true }).click();
  const moment = page.getByRole('slider', { name: 'Moment' });
  const values = page.getByRole('region', { name: 'At one moment' }).getByRole('listitem');
  await expect(values).toHaveText([/^A1L\d+\.\d$/, /^A1R\d+\.\d$/]);
  await moment.focus();
  const atEnd = await moment.getAttribute('aria-valuetext');
  await page.keyboard.press('Home');
  await expect(moment).not.toHaveAttribute('aria-valuetext', atEnd as string);

  // A wheel is drawn strong, then alone; then each axle has a chart.
  const wheel = page.getByRole('complementary', { name: 'Wheels drawn' }).locator('[data-position="A1R"]');
  await wheel.press('Enter');
  await expect(wheel).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Only these' }).click();
  await expect(values).toHaveCount(1);
  await page.getByRole('button', { name: 'Pick none' }).click();
  await expect(values).toHaveCount(2);
  await page.getByRole('radio', { name: 'By axle' }).click();
  await expect(page.getByRole('img', { name: /^A1: Pressure as read/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('radio', { name: 'One chart' }).click();
  await page.getByRole('radio', { name: 'Temperature' }).click();

  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV', exact: true }).click();
  expect((await download).suggestedFilename()).toBe('Errand temperature.csv');
  const picture = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PNG', exact: true }).click();
  expect((await picture).suggestedFilename()).toBe('Errand temperature.png');
  await expectAccessible(page);
});

test('replay: with a higher limit it would have rung', async ({ page, own }) => {
  await page.addInitScript(psi);
  const rig = await makeRig(own);
  const lines = Array.from({ length: 60 }, (_, m) => ({
    sensorId: 'A00001',
    time: new Date(Date.now() - (90 - m) * 60_000).toISOString(),
    pressureKpa: m > 30 && m < 45 ? 238 : 250,
    tempC: 20,
  }));
  await post(own, 'readings?history=true', lines as unknown as object);
  await page.goto(`${own.url}/rigs/${rig}/watch/replay`);
  await page.getByRole('radio', { name: '6 h' }).click();
  await page.getByRole('textbox', { name: 'low of axle A1' }).fill('35');
  await page.getByRole('button', { name: 'Would it have rung?' }).click();
  const result = page.getByRole('region', { name: 'What would have rung' });
  await expect(result).toContainText('60 readings');
  await expect(result).toContainText('A1L low');
  await page
    .getByRole('radio', { name: '1000×' })
    .or(page.getByRole('button', { name: 'Load the readings and play' }))
    .first()
    .click();
  await page.getByRole('radio', { name: '1000×' }).click();
  const rings = page.getByRole('region', { name: 'What rings in this stretch' });
  await expect(rings).toContainText('A1L low', { timeout: 40_000 });
  await rings
    .getByRole('button', { name: /A1L low/ })
    .first()
    .click();
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'act');
  await expectAccessible(page);
});

test('a unit is disconnected and rests, and is connected again', async ({ page, own }) => {
  const rig = await makeRig(own);
  for (const unit of ['A', 'B']) for (let n = 1; n <= 4; n += 1) await heard(own, `${unit}0000${n}`, 20, 250);
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await expect(page.locator('[data-position="B1L"]')).toHaveAttribute('data-ink', 'steady');
  await page.getByRole('button', { name: 'Disconnect Cart' }).click();
  await expect(page.locator('[data-position="B1L"]')).toHaveAttribute('data-ink', 'resting');
  await heard(own, 'B00001', 1, 100);
  await expect(page.locator('[data-position="B1L"]')).toContainText('14.5');
  await expect(page.getByRole('heading', { name: 'No alarm is open' })).toBeVisible();
  await page.getByRole('button', { name: 'Connect Cart' }).click();
  await expect(page.locator('[data-position="B1L"]')).toHaveAttribute('data-ink', 'notHeard');
});

for (const theme of ['day', 'night']) {
  test(`alarms open: accessible, told, acknowledged, silenced by keys, ${theme}`, async ({ page, own }) => {
    await page.addInitScript(preferring({ theme }));
    const rig = await makeRig(own);
    for (let n = 1; n <= 4; n += 1) await heard(own, `A0000${n}`, 60, 250);
    await page.goto(`${own.url}/rigs/${rig}/watch`);
    await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'steady');
    await heard(own, 'A00001', 1, 150);
    await expect(page.getByRole('alert')).toContainText('A1L is losing air fast');
    await expect(page.locator('[data-alarm="A1L rapid low"]')).toBeVisible();
    await expectAccessible(page);
    await page.keyboard.press('s');
    await expect(page.getByRole('button', { name: /Silent until/ })).toBeVisible();
    await page.keyboard.press('a');
    await expect(page.getByText(/The mark stays until the cause is gone/)).toBeVisible();
    // One alarm is shelved: its end is shown, and the log says how it ended.
    await page.getByText('Shelve A1L for a time').click();
    await page.getByRole('button', { name: 'Shelve for 30 min' }).click();
    // Shortly before midnight it is until tomorrow.
    await expect(page.getByText(/^Shelved until (\d+ \w+, )?\d\d:\d\d\. If it gets worse/)).toBeVisible();
    await page.getByText(/^Shelved alarms, 2/).click();
    await expect(page.getByText('shelved now')).toHaveCount(2);
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Stop shelving A1L' }).click();
    await expect(page.getByText('ended by you')).toHaveCount(2);
    await page.keyboard.press('n');
    await expect(page.locator('[data-position="A1L"]')).toBeFocused();
    await expect(page.getByRole('region', { name: 'Wheel A1L' })).toBeVisible();
    await page.getByRole('link', { name: 'Drive view' }).click();
    await expect(page.locator('[data-call="stop"]')).toContainText('A1L');
    await expectAccessible(page);
    // On whatever sheet one is, the next one is told.
    await page.getByRole('link', { name: 'Leave' }).click();
    await page.getByRole('link', { name: 'Charts' }).click();
    await expect(page.getByRole('heading', { name: 'Wheels drawn' })).toBeVisible();
    await heard(own, 'A00002', 1, 150);
    await expect(page.getByRole('alert')).toContainText('A1R is losing air fast');
    await expect(page.getByRole('link', { name: /A1R.*Open the watch/ })).toBeVisible();
    await expectAccessible(page);
  });
}

test('of two messages the earlier one lies on no alarm', async ({ page, own }) => {
  const rig = await makeRig(own);
  await page.goto(`${own.url}/rigs/${rig}/pressures`);
  const messages = page.locator('.toasts > li');
  for (const [i, psi] of ['37', '38'].entries()) {
    await page.getByLabel('A1 cold').fill(psi);
    await page.getByRole('button', { name: 'Save pressures' }).click();
    await expect(messages).toHaveCount(i + 1);
  }
  // There is nothing else to say: both are shown, the last one on top.
  for (const m of await messages.all()) await expect(m).toBeVisible();
  await heard(own, 'A00001', 1, 150);
  const alarm = page.locator('#notices > *').first();
  await expect(alarm).toContainText('A1L');
  await expect(messages.first()).toBeHidden();
  await expect(messages.last()).toBeVisible();
  for (const size of [
    { width: 1280, height: 800 },
    { width: 390, height: 844 },
  ]) {
    await page.setViewportSize(size);
    const [below, above] = [await alarm.boundingBox(), await messages.last().boundingBox()];
    expect((above?.y ?? Number.NaN) + (above?.height ?? 0)).toBeLessThanOrEqual(below?.y ?? 0);
  }
});

test('a sensor taken off is asked about, and filling does not ring', async ({ page, own }) => {
  const rig = await makeRig(own);
  await heard(own, 'A00001', 120, 250);
  await heard(own, 'A00001', 60, 0);
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await expect(page.getByText('Did you take the sensor off A1L?')).toBeVisible();
  await page.getByRole('button', { name: 'Yes, it is off' }).click();
  await expect(page.getByText('its sensor is off the valve, as you said')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'No alarm is open' })).toBeVisible();
  await heard(own, 'A00002', 30, 250);
  await page.getByRole('link', { name: 'Fill tires' }).click();
  await page.getByRole('checkbox', { name: 'A1R' }).check();
  await page.getByRole('button', { name: 'Begin with A1R' }).click();
  await expect(page.getByRole('region', { name: 'Filling A1R' })).toBeVisible();
  await heard(own, 'A00002', 1, 200);
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await expect(page.locator('[data-position="A1R"]')).toContainText('filling');
  await expect(page.locator('[data-position="A1R"]')).toContainText('below target');
  await expect(page.getByRole('heading', { name: 'No alarm is open' })).toBeVisible();
  await page.getByRole('button', { name: /End filling/ }).click();
  await expect(page.getByRole('heading', { name: '1 alarm open' })).toBeVisible();
});

test('a page asks for each thing once, and misses nothing of what comes before its stream is there', async ({ page, own }) => {
  const rig = await makeRig(own);
  await heard(own, 'A00001', 60, 230);
  const asked: string[] = [];
  page.on('request', (r) => {
    const { pathname, search } = new URL(r.url());
    // That one it asks for again and again.
    if (pathname.startsWith('/api/') && pathname !== '/api/health') asked.push(`${pathname.replace(rig, ':rig')}${search}`);
  });
  // The stream waits until the page has read all it shows.
  const letGo = await holdBack(page, '**/live.worker*.js');
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  const wheel = page.locator('[data-position="A1L"]');
  await expect(wheel).toContainText('33.4');
  await heard(own, 'A00001', 30, 200);
  letGo();
  await expect(wheel).toContainText('29.0');
  await heard(own, 'A00001', 10, 210);
  await expect(wheel).toContainText('30.5');
  expect(asked.filter((path, i) => asked.indexOf(path) !== i)).toEqual([]);
  expect(asked).toContain('/api/rigs/:rig/watch');
});

test('a chart whose part of the page does not come holds up nothing, and comes with the line', async ({
  page,
  own,
  expected,
}) => {
  expected.push(/Failed to load resource|ERR_/);
  const rig = await makeRig(own);
  await heard(own, 'A00001', 60, 250);
  await page.route('**/assets/LastHour*.js', (route) => route.abort('internetdisconnected'));
  await page.route('**/api/health', (route) => route.abort('internetdisconnected'));
  const asked = page.waitForRequest('**/api/health');
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  await asked;
  await heard(own, 'A00001', 30, 150);
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'act');
  await expect(page.getByRole('img', { name: /Gap of each wheel/ })).toBeHidden();
  await page.unrouteAll();
  await expect(page.getByRole('img', { name: /Gap of each wheel/ })).toBeVisible();
});

test('a module that parts share and that did not come is not waited for in vain: the page says what helps', async ({
  page,
  own,
  expected,
}) => {
  expected.push(/Failed to load resource|ERR_|Failed to fetch|An error occurred/);
  const rig = await makeRig(own);
  await heard(own, 'A00001', 60, 250);
  let down = true;
  await page.route('**/assets/*ChartPart*.js', (route) => (down ? route.abort('connectionreset') : route.continue()));
  await page.goto(`${own.url}/rigs/${rig}/watch`);
  const box = page.getByRole('alert').filter({ hasText: 'could not be shown' });
  await expect(box).toContainText('The connection dropped while it was being fetched');
  // The wheels and the alarms go on.
  await heard(own, 'A00001', 30, 150);
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'act');
  down = false;
  await box.getByRole('button', { name: 'Load the page again' }).click();
  await expect(page.getByRole('img', { name: /Gap of each wheel/ })).toBeVisible();
});

test('a scene is played on the bench and its wheel found on the watch', async ({ page, demo }) => {
  const id = await rigId(demo, 'Smoker');
  await page.goto(`${demo.url}/rigs/${id}/bench`);
  await page.getByRole('button', { name: 'Open the bench' }).click();
  await page.getByRole('combobox', { name: 'Scene' }).selectOption('burst');
  await page.getByRole('button', { name: 'Play the scene' }).click();
  await expect(page.getByRole('progressbar', { name: 'How much of the scene is over' })).toBeVisible();
  await page.getByRole('radio', { name: '60x' }).click();
  await expectAccessible(page);
  // The burst comes after half an hour of the bench's time.
  await page.getByRole('radio', { name: '600x' }).click();
  await page.getByRole('link', { name: 'See it on the watch' }).click();
  await expect(page.locator('[data-alarm*="rapid"]').or(page.locator('[data-alarm*="low"]')).first()).toBeVisible({
    timeout: 60_000,
  });
  await page.goto(`${demo.url}/rigs/${id}/bench`);
  await page.getByRole('button', { name: 'Close the bench' }).click();
});

test.describe('notices', () => {
  // They come through the page's worker.
  test.use({ serviceWorkers: 'allow' });
  test('the system is told of a new stop when the owner allowed it, through a worker', async ({ page, own, context }) => {
    const rig = await makeRig(own);
    await heard(own, 'A00001', 30, 250);
    await context.grantPermissions(['notifications'], { origin: own.url });
    await page.goto(`${own.url}/rigs/${rig}/watch/drive`);
    await expect(page.getByText('No alarm is open.')).toBeVisible();
    await heard(own, 'A00001', 1, 190);
    await expect(page.getByText('Stop: A1L is losing air fast', { exact: true }).last()).toBeVisible();
    const told = () =>
      page.evaluate(async () => {
        const registration = await navigator.serviceWorker.getRegistration();
        return ((await registration?.getNotifications()) ?? []).map((n) => `${n.tag}: ${n.title}`);
      });
    await expect.poll(told).toEqual(['A1L: Stop: A1L is losing air fast']);
    // Grown worse it is the same alarm: no second notice.
    await heard(own, 'A00001', 0, 150);
    await page.waitForTimeout(500);
    expect(await told()).toHaveLength(1);
  });
});
