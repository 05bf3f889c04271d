import type { Unit } from '../schema/unit.ts';
import { expect, expectAccessible, holdBack, makeRig, post, rigId, test, visit } from './server.ts';

const gpx = (heights: (number | null)[]) =>
  `<?xml version="1.0"?><gpx version="1.1" creator="test" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${heights
    .map((h, i) => `<trkpt lat="${47 + i / 1000}" lon="10">${h === null ? '' : `<ele>${h}</ele>`}</trkpt>`)
    .join('')}</trkseg></trk></gpx>`;

test('log: bar for psi is asked about, the future refused, written down, found, deleted, put back, exported', async ({
  page,
  demo,
}) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/logbook`);
  const write = page.getByRole('region', { name: 'Write it down' });
  await write.getByLabel('When; empty is now').fill('2031-05-01T10:00');
  await write.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByText('This is in the future. Write it down once it is done.')).toBeVisible();
  await expect(page.getByText('What it was filled to')).toBeVisible();
  await write.getByLabel('When; empty is now').fill('2026-05-01T10:00');
  await write.getByLabel('Wheel').selectOption('A1L');
  await write.getByLabel('After').fill('4.3');
  await write.getByLabel('Gauge or pump').fill('foot pump');
  await write.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByText(/4\.3 psi is far from the cold pressure of A1L/)).toBeVisible();
  await page.getByRole('button', { name: /^Take \d+\.\d psi/ }).click();
  // What was typed is still there after a reload.
  await page.reload();
  await expect(write.getByLabel('Gauge or pump')).toHaveValue('foot pump');
  await write.getByRole('button', { name: 'Write it down' }).click();
  const line = page.locator('[data-what="entry"]').filter({ hasText: 'foot pump' });
  await expect(line).toContainText(/A1LFilled: \d+\.\d\spsi, with foot pump/);
  await expectAccessible(page);
  await page.getByLabel('Search').fill('no such thing');
  await expect(page.getByText('No matches')).toBeVisible();
  await page.getByLabel('Search').fill('foot');
  await expect(line).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export CSV' }).click();
  expect((await download).suggestedFilename()).toBe('Linden run log.csv');
  await page.getByRole('button', { name: /^Delete Filled/ }).click();
  await expect(line).toHaveCount(0);
  await page.getByRole('listitem').filter({ hasText: 'The entry is deleted.' }).getByRole('button', { name: 'Undo' }).click();
  await expect(line).toBeVisible();
});

test('log: photos, what the app writes down by itself, and what is due as a calendar', async ({ page, own }) => {
  const rig = await makeRig(own);
  await visit(page, `${own.url}/rigs/${rig}/upkeep`);
  await expect(page.getByText(/^Nothing has a day yet\./)).toBeVisible();
  await visit(page, `${own.url}/rigs/${rig}/logbook`);
  await expect(page.getByText(/^Drives, alarms, paired sensors/)).toBeVisible();
  const write = page.getByRole('region', { name: 'Write it down' });
  await write.getByLabel('What').selectOption('New sensor battery');
  await write.getByLabel('Wheel').selectOption('A1L');
  await write.locator('input[type="file"]').setInputFiles({
    name: 'cell.png',
    mimeType: 'image/png',
    buffer: Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  });
  await expect(write.getByRole('img')).toBeVisible();
  // A photo that waits in the form outlives a reload too.
  await page.reload();
  await expect(write.getByRole('img')).toBeVisible();
  await write.getByRole('button', { name: 'Write it down' }).click();
  const line = page.locator('[data-what="entry"]');
  await expect(line).toContainText('A1LNew sensor battery');
  await expect(line.getByRole('img')).toBeVisible();
  await expectAccessible(page);
  // A limit that is changed, and a round that is typed, are in the log without a word from their owner.
  await visit(page, `${own.url}/rigs/${rig}/alarms`);
  const [unit] = (await (await fetch(`${own.url}/api/units`)).json()) as Unit[];
  const limits = unit?.axles[0]?.settings.loaded?.limits;
  if (!unit || !limits) throw new Error('no limits');
  limits.lowKpa = 220;
  const saved = await fetch(`${own.url}/api/units/${unit.id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(unit),
  });
  expect(saved.status).toBe(200);
  await post(own, `rigs/${rig}/typed`, { readings: [{ position: 'A1R', pressureKpa: 248, tempC: null }] });
  await visit(page, `${own.url}/rigs/${rig}/logbook`);
  await expect(page.getByText(/^Settings changed: low limit 32\.6\spsi to 31\.9\spsi \(loaded\)/)).toBeVisible();
  await expect(page.getByText(/^Readings typed: A1R 36\.0 psi/)).toBeVisible();
  await page.getByLabel('Show').selectOption('Limits and proof');
  await expect(page.locator('[data-what]')).toHaveCount(1);
  await visit(page, `${own.url}/rigs/${rig}/upkeep`);
  const due = page.locator('[data-due="cells"]');
  await expect(due).toContainText('New sensor batteries: A1L');
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save as a calendar file' }).click();
  const file = await (await download).path();
  expect(await (await import('node:fs/promises')).readFile(file, 'utf8')).toMatch(/^BEGIN:VCALENDAR\r\n/);
  expect(await (await fetch(await page.getByLabel('Address').inputValue())).text()).toContain(
    'SUMMARY:New sensor batteries: A1L',
  );
});

test('trip and season: typed stages, a stage that goes back, a GPX without heights and one over a pass', async ({
  page,
  demo,
}) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/logbook?part=trip`);
  await page.getByLabel('Air at the start').fill('24');
  await page.getByLabel('Height, m').nth(0).fill('310');
  await page.getByLabel('km').nth(1).fill('0');
  await page.getByLabel('Height, m').nth(1).fill('1940');
  await expect(page.getByText('After the stage before: over 0 km')).toBeVisible();
  await page.getByLabel('km').nth(1).fill('42');
  await expect(page.getByRole('img', { name: /^Pressure of A1 along the way/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('radio', { name: 'GPX file' }).click();
  const file = page.getByLabel('GPX file with heights');
  const choose = (name: string, text: string) =>
    file.setInputFiles({ name, mimeType: 'application/gpx+xml', buffer: Buffer.from(text) });
  await choose('flat.gpx', gpx([null, null]));
  await expect(page.getByText('This file has no heights. Record the way with heights, or type the stages.')).toBeVisible();
  await choose('letter.gpx', 'dear keeper');
  await expect(page.getByText('That file isn’t GPX. Choose a file with the ending .gpx.')).toBeVisible();
  // While a file is read: what is typed stays, and another file takes its place.
  const letGo = await holdBack(page, '**/gpx.worker*.js');
  await choose('first.gpx', gpx([900, 910]));
  await expect(page.getByText('Reading first.gpx…')).toBeVisible();
  await choose(
    'pass.gpx',
    gpx([...Array.from({ length: 400 }, (_, i) => 200 + i * 5), null, ...Array.from({ length: 400 }, (_, i) => 2200 - i * 5)]),
  );
  await expect(page.getByText('Reading pass.gpx…')).toBeVisible();
  await page.getByLabel('Air at the start').fill('23');
  letGo();
  await expect(page.getByText(/pass\.gpx: 89 km, 200 to 2200 m\. 1 point without a height was passed over\./)).toBeVisible();
  await expect(page.getByLabel('Air at the start')).toHaveValue('23');
  await page.getByRole('radio', { name: 'B1' }).click();
  await expect(page.getByRole('img', { name: /^Pressure of B1 along the way/ })).toBeVisible();
  // The trailer stays at home; the trip is kept, and exported so that it is read again.
  await page.getByRole('checkbox', { name: 'Hive trailer' }).uncheck();
  await expect(page.getByRole('region', { name: 'Pressures by axle' }).getByRole('row')).toHaveCount(3);
  await page.getByLabel('Name').fill('Over the pass');
  await page.getByRole('button', { name: 'Keep the trip' }).click();
  await expect(page.getByText('The trip is kept.', { exact: true })).toBeVisible();
  const exported = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export GPX' }).click();
  const path = await (await exported).path();
  const text = await (await import('node:fs/promises')).readFile(path, 'utf8');
  expect(text).toMatch(/<wpt [^>]+><ele>2200\.0<\/ele><name>Highest place<\/name>/);
  await file.setInputFiles({ name: 'again.gpx', mimeType: 'application/gpx+xml', buffer: Buffer.from(text) });
  await expect(page.getByText(/again\.gpx: 89 km, 200 to 2200 m\./)).toBeVisible();
  await page.evaluate(() => localStorage.clear());
  await page.reload();
  await expect(page.getByLabel('Trip', { exact: true })).not.toHaveValue('');
  await expect(page.getByText(/pass\.gpx: 89 km/)).toBeVisible();
  await page.getByRole('button', { name: 'Delete the trip' }).click();
  await page.getByRole('listitem').filter({ hasText: 'The trip is deleted.' }).getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Name')).toHaveValue('Over the pass');
  await expectAccessible(page);
  // A file is for the trip that was open when it was chosen.
  const read = await holdBack(page, '**/gpx.worker*.js');
  await choose('other.gpx', gpx([900, 910]));
  await expect(page.getByText('Reading other.gpx…')).toBeVisible();
  await page.getByLabel('Trip', { exact: true }).selectOption('A new trip');
  await page.getByRole('radio', { name: 'GPX file' }).click();
  await expect(page.getByLabel('GPX file with heights')).toBeVisible();
  await expect(page.getByText('Reading other.gpx…')).toHaveCount(0);
  read();
  await page.getByLabel('Trip', { exact: true }).selectOption({ label: 'Over the pass' });
  await expect(page.getByText(/pass\.gpx: 89 km/)).toBeVisible();

  // Every school's low limit in a year of days.
  await page.getByRole('radio', { name: 'Season' }).click();
  const table = page.getByRole('region', { name: 'Cold starts by axle' });
  await expect(table.getByRole('row')).toHaveCount(5);
  const before = await table.textContent();
  await page.getByLabel('Low limits').selectOption('As a factory monitor, 25 % under');
  await expect(table).not.toHaveText(before as string);
});

test('track day: 3 and 1 out, the rears are left, the next session by its peak, later ones by the pit and what it fell', async ({
  page,
  demo,
}) => {
  const id = await rigId(demo, 'Drone');
  await visit(page, `${demo.url}/rigs/${id}/logbook?part=track`);
  // A day on the hill is there; the trade's own day is another.
  await page.getByLabel('Day', { exact: true }).selectOption('A new day');
  await page.getByLabel('Target, hot').fill('30');
  const type = (session: number, reading: string, position: string, psi: string) =>
    page.getByLabel(`Session ${session}, ${reading}, ${position}, psi`).fill(psi);
  const wheels = ['A1L', 'A1R', 'A2L', 'A2R'];
  for (const [i, position] of wheels.entries()) {
    await type(1, 'cold', position, '24');
    await type(1, 'peak on the lap', position, ['33', '31', '28', '28'][i] as string);
  }
  const advice = (position: string) => page.locator(`[data-advice="${position}"]`);
  await expect(advice('A1L')).toHaveText(/let 3\.0\spsi out/);
  await expect(advice('A1R')).toHaveText(/let 1\.0\spsi out/);
  await expect(advice('A2L')).toHaveText(/leave it: 2\.0\spsi under/);
  // What the corners say, by the way round.
  const says = page.getByRole('region', { name: 'What it says' });
  await expect(says).toContainText(/A1L rose the most, by 9\.0\spsi\./);
  await page.getByLabel('It goes').selectOption('counter-clockwise');
  await expect(says).toContainText(/A1L rose the most, .* doesn’t load it most/);
  await expect(says).toContainText(/The fronts rose 4\.0\spsi more than the rears/);
  // A wheel may have a target of its own.
  await page.getByLabel('Target, A2L, psi').fill('27');
  await expect(advice('A2L')).toHaveText(/let 1\.0\spsi out/);
  await page.getByRole('button', { name: 'Add a session' }).click();
  await type(2, 'peak on the lap', 'A1L', '31');
  await type(2, 'in the pit', 'A1L', '30');
  await expect(advice('A1L')).toHaveText(/let 1\.0\spsi out/);
  await page.getByRole('button', { name: 'Add a session' }).click();
  await type(3, 'in the pit', 'A1L', '29.5');
  await expect(advice('A1L')).toHaveText(/let 0\.5\spsi out/);
  await expect(page.getByText(/^the pit reading and 1\.0\spsi$/)).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('Session 1, air, °C').fill('15');
  await page.getByLabel('Session 3, air, °C').fill('21');
  await expect(page.getByRole('region', { name: 'What it says' })).toContainText(
    /6\s°C warmer .* that alone makes 0\.\d\spsi more/,
  );
  // Cleared by mistake, it comes back.
  await page.getByRole('button', { name: 'Clear the day' }).click();
  await expect(page.getByLabel('Session 1, cold, A1L, psi')).toHaveValue('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Session 1, cold, A1L, psi')).toHaveValue('24');
  // Kept, it is in the record of the rig and in the log, figure for figure; deleted by mistake, it comes back.
  await page.getByLabel('Where').fill('Heidmoor');
  await page.getByRole('button', { name: 'Keep the day' }).click();
  await expect(page.getByText('The day is kept.', { exact: true })).toBeVisible();
  await page.evaluate(() => localStorage.clear());
  await page.reload();
  await expect(page.getByLabel('Day', { exact: true })).not.toHaveValue('');
  await expect(page.getByLabel('Session 3, in the pit, A1L, psi')).toHaveValue('29.5');
  await page.getByRole('button', { name: 'Delete the day' }).click();
  await page.getByRole('listitem').filter({ hasText: 'The day is deleted.' }).getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Where')).toHaveValue('Heidmoor');

  // Track mode, its end and what it reminds of.
  await page.getByRole('button', { name: 'Switch track mode on' }).click();
  await expect(page.getByText(/^Track mode until /)).toBeVisible();
  await visit(page, `${demo.url}/rigs/${id}/watch`);
  await page.getByRole('button', { name: 'The track day is over' }).click();
  await expect(page.getByText(/set the road pressures cold before you drive home/)).toBeVisible();
  await expectAccessible(page);
  await visit(page, `${demo.url}/rigs/${id}/watch/drive`);
  await expect(page.getByText('Set the road pressures before you drive home')).toBeVisible();
  await visit(page, `${demo.url}/rigs/${id}/logbook?part=track`);
  await page.getByRole('button', { name: 'Road pressures are set' }).click();
  await expect(page.getByRole('button', { name: 'Switch track mode on' })).toBeVisible();
  await visit(page, `${demo.url}/rigs/${id}/logbook`);
  await expect(page.getByText(/Track day: Heidmoor, 3 sessions/)).toBeVisible();
});

test('track day: a target that can’t carry the load is said at the field, and what was typed stays', async ({ page, own }) => {
  const weighing = { L: { kg: 400 }, R: { kg: 400 } };
  const unit = await post<{ id: string }>(own, 'units', {
    name: 'Coupe',
    kind: 'vehicle',
    axles: [
      {
        marking: '205/55 R16 91V',
        tire: { reference: { kpa: 250 } },
        settings: { loaded: { cold: { kpa: 200, tempC: 15 }, weighing } },
        wheels: ['1L', '1R'].map((position) => ({ position, sensor: null })),
      },
    ],
    spares: [],
  });
  const rig = await post<{ id: string }>(own, 'rigs', { name: 'Coupe', unitIds: [unit.id], loadState: 'loaded' });
  await visit(page, `${own.url}/rigs/${rig.id}/logbook?part=track`);
  await page.getByLabel('Target, hot').fill('8');
  await expect(page.getByText(/^Under the load minimum, \d+\.\d\spsi cold$/)).toBeVisible();
  await expect(page.getByLabel('Target, hot')).toHaveValue('8');
  await page.getByLabel('Target, hot').fill('25');
  await page.getByLabel('Session 1, cold, A1L, psi').fill('22');
  await page.getByLabel('Session 1, peak on the lap, A1L, psi').fill('40');
  await expect(page.getByText(/^under the load minimum, \d+\.\d\spsi$/)).toBeVisible();
});

test('losses: what works them out comes with the line, and the log is there meanwhile', async ({ page, demo, expected }) => {
  expected.push(/leaks\.worker/);
  let dropped = 0;
  await page.route(/leaks\.worker/, (route) => {
    dropped += 1;
    return dropped <= 2 ? route.abort() : route.continue();
  });
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/logbook`);
  await expect.poll(() => dropped).toBeGreaterThan(0);
  await expect(page.getByRole('region', { name: 'Log', exact: true })).toBeVisible();
  await page.getByRole('radio', { name: 'Leaks' }).click();
  await expect(page.getByRole('row', { name: /^B2L Fell lately/ })).toBeVisible();
  expect(dropped).toBeGreaterThan(1);
});
