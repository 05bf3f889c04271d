import { readFileSync } from 'node:fs';
import { idsOf, makeCar } from './masses.ts';
import { expect, expectAccessible, test, visit } from './server.ts';

test('yard: duplicate, archive, export, delete, import: the same rig', async ({ page, own, expected }) => {
  await visit(page, own.url);
  await page.getByRole('button', { name: 'Draw your first rig' }).click();
  await page.getByLabel('What do you call it?').fill('Hay run');
  await page.getByRole('radio', { name: 'Pick-up', exact: true }).check();
  await page.getByRole('radio', { name: 'Trailer, three axles' }).check();
  await page.getByRole('button', { name: 'Draw it' }).click();
  await expect(page.locator('[data-position]')).toHaveCount(11);
  await page.locator('[data-position="A1L"]').click();
  await page.getByLabel(/^Marking on the sidewall/).fill('LT235/80R16 120/116Q');
  await page.getByLabel(/^Marking on the sidewall/).press('Enter');
  await expect(page.getByText('1,400 kg a tire')).toBeVisible();
  await page.locator('[data-position="A2L"]').click();
  await page.getByLabel(/^Behind the front axle/).fill('12 ft 6 in');
  await page.getByLabel(/^Behind the front axle/).press('Enter');
  await expect(page.getByLabel(/^Behind the front axle/)).toHaveValue('3.81');
  await visit(page, page.url().replace('layout', 'pairing'));
  await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
  await page.getByLabel('ID for A1L').fill('4CA1E0');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('A1L is 4C A1 E0.', { exact: true })).toBeVisible();

  await visit(page, own.url);
  await expect(page.getByText('being paired')).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Hay run' }).click();
  await expect(page.getByRole('link', { name: 'Hay run copy', exact: true })).toBeVisible();
  await expect(page.getByText('planned')).toBeVisible();
  await page.getByRole('button', { name: 'Archive Hay run copy' }).click();
  await expect(page.getByText('Archived (1)')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Hay run copy', exact: true })).toBeHidden();
  await page.getByText('Archived (1)').click();
  await page.getByRole('button', { name: 'Back to the yard Hay run copy' }).click();
  await expect(page.getByText('Archived (1)')).toBeHidden();
  await page.getByText('Units, and new combinations of them').click();
  await expectAccessible(page);

  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export Hay run', exact: true }).click();
  const file = await (await download).path();
  const before = readFileSync(file, 'utf8');
  expect(JSON.parse(before).units[0].axles[0].marking).toBe('LT235/80R16 120/116Q');

  await page.getByRole('button', { name: 'Import' }).click();
  await page.getByLabel(/^A file that was exported/).setInputFiles(file);
  await expect(page.getByText('One sensor is on a wheel here already')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Close' }).first().click();
  await page.getByRole('button', { name: 'Delete Hay run', exact: true }).first().click();
  await expect(page.getByRole('link', { name: 'Hay run', exact: true })).toBeHidden();

  expected.push(/400 \(Bad Request\)/);
  await page.getByRole('button', { name: 'Import' }).click();
  await page.getByLabel(/^A file that was exported/).setInputFiles({
    name: 'bad.json',
    mimeType: 'application/json',
    buffer: Buffer.from(before.replace('"version":1', '"version":9')),
  });
  await expect(page.getByText('this program reads version 1')).toBeVisible();
  await page.getByLabel(/^A file that was exported/).setInputFiles(file);
  await expect(page.getByText('comes with 2 units')).toBeVisible();
  await page.getByRole('button', { name: 'Import', exact: true }).last().click();
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  const id = page.url().split('/')[4] as string;
  expect(await (await fetch(`${own.url}/api/rigs/${id}/export`)).text()).toBe(before);
});

test('units are shared: a new combination, a unit taken out of its rigs and brought back', async ({ page, own }) => {
  const post = async (path: string, body: unknown) =>
    (await (
      await fetch(`${own.url}/api${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json()) as { id: string };
  const wheels = (n: number) => ({
    wheels: [
      { position: `${n}L`, sensor: null },
      { position: `${n}R`, sensor: null },
    ],
    settings: {},
  });
  const car = await post('/units', { name: 'Estate car', kind: 'vehicle', axles: [wheels(1), wheels(2)], spares: [] });
  const boat = await post('/units', { name: 'Boat trailer', kind: 'trailer', axles: [wheels(1)], spares: [] });
  await post('/rigs', { name: 'To the lake', unitIds: [car.id, boat.id], loadState: 'towing' });
  await visit(page, own.url);
  await page.getByText('Units, and new combinations of them').click();
  await page.getByRole('checkbox', { name: /^Estate car/ }).check();
  await page.getByRole('button', { name: 'Make a rig of Estate car' }).click();
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  await expect(page.locator('[data-position]')).toHaveCount(4);
  await visit(page, own.url);
  await page.getByText('Units, and new combinations of them').click();
  await expect(page.getByText('in To the lake, Estate car')).toBeVisible();
  await page.getByRole('button', { name: 'Remove and delete Estate car' }).click();
  await expect(page.getByText('Estate car is deleted and out of its rigs.', { exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Estate car' })).toBeHidden();
  await expect(page.getByText('0 of 2 wheels paired')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('0 of 6 wheels paired')).toBeVisible();
  await expect(page.getByText('in To the lake, Estate car')).toBeVisible();
});

test('layout: a second wheel set keeps each set’s sensors, and the plan turns to where one stands', async ({ page, own }) => {
  await visit(page, own.url);
  await page.getByRole('button', { name: 'Draw your first rig' }).click();
  await page.getByLabel('What do you call it?').fill('Errands');
  await page.getByRole('button', { name: 'Draw it' }).click();
  await page.waitForURL(/layout/);
  await visit(page, page.url().replace('layout', 'pairing'));
  await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
  await page.getByLabel('ID for A1L').fill('4CA1E0');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('[data-position="A1L"]')).toContainText('4C A1 E0');
  await visit(page, page.url().replace('pairing', 'layout'));
  await page.getByRole('button', { name: 'Add a second wheel set' }).click();
  await page.getByLabel('The other set is called').fill('winter');
  await page.getByRole('button', { name: 'Put the other set on' }).click();
  await expect(page.locator('[data-position="A1L"]')).toContainText('no sensor');
  await page.getByRole('button', { name: 'Fit summer (1 sensors)' }).click();
  await expect(page.locator('[data-position="A1L"]')).toContainText('4C A1 E0');
  const box = async (p: string) => (await page.locator(`[data-position="${p}"]`).boundingBox()) as { x: number; y: number };
  expect((await box('A1L')).y).toBeLessThan((await box('A1R')).y);
  await page.getByRole('radio', { name: 'Left of it' }).click();
  await expect(page.getByText('You stand left of the rig')).toBeVisible();
  expect((await box('A1L')).y).toBeGreaterThan((await box('A1R')).y);
  await page.getByRole('radio', { name: 'Right of it' }).click();
  expect((await box('A1L')).x).toBeGreaterThan((await box('A2L')).x);
  await page.getByRole('radio', { name: 'Behind' }).click();
  expect((await box('A1L')).x).toBeLessThan((await box('A1R')).x);
  expect((await box('A1L')).y).toBeLessThan((await box('A2L')).y);
});

test('two servers of one name at the broker: the page says so, and a new name ends it', async ({ page, demo }) => {
  // As the server says it while another pushes it out.
  let pushedOut = true;
  await page.route('**/api/gateway', async (route) => {
    const answer = await route.fetch();
    await route.fulfill({ json: { ...((await answer.json()) as object), state: 'lost', pushedOut } });
  });
  // Only the new name ends it: the page asks every few seconds, also between the last look and the press.
  await page.route('**/api/gateway/name', async (route) => {
    pushedOut = false;
    await route.continue();
  });
  await page.goto(demo.url);
  await page.getByText('Readings over MQTT').click();
  await expect(page.getByText('each gets a part of the readings')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take a new name' }).click();
  await expect(page.getByText('has a new name at the broker now').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take a new name' })).toHaveCount(0);
});

test('everything is backed up, downloaded, deleted, looked at and restored', async ({ page, own, expected }) => {
  await makeCar(own, 'Errand', idsOf(0));
  await visit(page, own.url);
  await page.getByText('Backups', { exact: false }).first().click();
  await expect(page.getByText('none yet')).toBeVisible();
  await page.getByRole('button', { name: 'Back up now' }).click();
  await expect(page.getByText('the last one just now')).toBeVisible();
  await expect(page.getByText(/^made by you, /)).toBeVisible();
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^Download the backup of/ }).click();
  const file = await (await download).path();

  await page.getByRole('button', { name: 'Delete Errand' }).click();
  await expect(page.getByRole('link', { name: 'Errand', exact: true })).toBeHidden();
  await page.getByRole('button', { name: 'Restore from a file' }).click();
  expected.push(/400 \(Bad Request\)/);
  const choose = page.getByLabel(/^A backup that was downloaded/);
  await choose.setInputFiles({ name: 'photo.gz', mimeType: 'application/gzip', buffer: Buffer.from('no backup') });
  await expect(page.getByRole('alert')).toHaveText(
    'That file can’t be restored. It isn’t a Druckwerk backup. Nothing was changed.',
  );
  await choose.setInputFiles(file);
  const box = page.getByRole('dialog');
  await expect(box.getByRole('heading', { name: 'In the backup' }).locator('..')).toContainText('Errand');
  await expect(box.getByRole('heading', { name: 'Here now' }).locator('..')).toContainText('No rig');
  await expectAccessible(page);
  await box.getByRole('button', { name: 'Replace everything with this backup' }).click();
  await expect(page.getByText(/^The backup is restored\. What was here is kept in the folder before-restore-/)).toBeVisible();
  await expect(page.getByRole('link', { name: 'Errand', exact: true })).toBeVisible();
  await expect(page.getByText(/^Replaced by a restore and kept in the data folder: before-restore-/)).toBeVisible();
});
