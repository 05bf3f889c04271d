import { expect, rigId, type ServerProcess, test, visit } from './server.ts';

async function newRig(page: import('@playwright/test').Page, own: ServerProcess, template: string): Promise<string> {
  await visit(page, own.url);
  await page.getByRole('button', { name: /Draw your first rig|New rig/ }).click();
  await page.getByLabel('What do you call it?').fill('Trial');
  await page.getByRole('radio', { name: template, exact: true }).check();
  await page.getByRole('button', { name: 'Draw it' }).click();
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  return rigId(own, 'Trial');
}

test('layout: dual, axle, trailer, spare, each undone and redone', async ({ page, own }) => {
  await newRig(page, own, 'Car');
  const wheels = page.locator('[data-position]');
  await expect(wheels).toHaveCount(4);
  await page.getByRole('button', { name: 'A2: Make dual' }).click();
  await expect(wheels).toHaveCount(6);
  await expect(page.locator('[data-position="A2RO"]')).toBeVisible();
  await page.getByRole('button', { name: 'Add trailer' }).click();
  await expect(page.locator('[data-position="B1L"]')).toBeVisible();
  await page.getByRole('button', { name: 'Add axle to B' }).click();
  await expect(page.locator('[data-position="B2R"]')).toBeVisible();
  await page.locator('[data-position="B1L"]').click();
  await page.getByRole('button', { name: 'Add spare' }).click();
  await expect(page.locator('[data-position="BS1"]')).toBeVisible();
  await page.getByLabel('Name of the unit').fill('Hay wagon');
  await page.getByLabel('Name of the unit').press('Enter');
  await expect(page.getByRole('heading', { name: 'B Hay wagon' })).toBeVisible();
  for (const gone of ['[data-position="BS1"]', '[data-position="B2R"]', '[data-position="B1L"]', '[data-position="A2RO"]']) {
    if (gone.includes('BS1')) {
      await page.getByRole('button', { name: 'Undo', exact: false }).first().click();
      await expect(page.getByRole('heading', { name: 'B Hay wagon' })).toBeHidden();
    }
    await page.keyboard.press('Control+z');
    await expect(page.locator(gone)).toHaveCount(0);
  }
  await page.keyboard.press('Control+Shift+z');
  await expect(page.locator('[data-position="A2RO"]')).toBeVisible();
  await page.reload();
  await expect(wheels).toHaveCount(6);
});

test('a deleted rig comes back whole', async ({ page, own }) => {
  await newRig(page, own, 'Car');
  await visit(page, own.url);
  await page.getByRole('button', { name: 'Delete Trial' }).click();
  await expect(page.getByRole('heading', { name: 'Know your tires before they tell you' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Trial', exact: true })).toBeVisible();
});

test('alarms: a late low asks twice, a rule that cannot be says why at its field', async ({ page, own }) => {
  const id = await newRig(page, own, 'Car');
  await visit(page, `${own.url}/rigs/${id}/pressures`);
  for (const axle of ['A1', 'A2']) {
    await page.getByLabel(`${axle} cold`).fill('33');
    await page.getByLabel(`${axle} set at`).fill('20');
  }
  // A slip of the decimal sign asks twice.
  await page.getByLabel('A2 cold').fill('3.3');
  await expect(page.getByText('A2 3.3 psi: very unusual for a road tire.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save pressures' })).toBeDisabled();
  await page.getByLabel('A2 cold').fill('33');
  await page.getByRole('button', { name: 'Save pressures' }).click();
  await page.getByRole('link', { name: 'Next: alarms' }).click();
  const use = page.getByRole('button', { name: 'Use for A1' });
  await page.getByLabel(/^A fixed margin/).check();
  await expect(page.getByText('Low is 45 % below the cold pressure')).toBeVisible();
  await expect(use).toBeDisabled();
  await page.getByLabel('I have held it against the tire maker’s load table').check();
  await expect(use).toBeEnabled();
  await page.getByLabel(/^From the tire’s rating/).check();
  await expect(use).toBeDisabled();
  await page.getByLabel('Rating (cold, on the sidewall)').fill('80');
  await expect(page.getByText('puts the low alarm at or over the cold pressure')).toBeVisible();
  await expect(use).toBeDisabled();
  await page.getByLabel(/^Low only/).check();
  await page.getByLabel('Low, under').fill('120');
  await expect(page.getByText('Between 0 and 100 %')).toBeVisible();
  await page.getByLabel('Low, under').fill('12');
  // Typed and not yet in force: kept for its axle while another is looked at, and through a reload.
  await page.getByRole('button', { name: /^A2 / }).click();
  await expect(page.getByRole('heading', { name: /Rule for A2/ })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: /^A1 / }).click();
  await expect(page.getByLabel('Low, under')).toHaveValue('12');
  await use.click();
  await expect(page.getByText('A1 alarms at 29.0 and up psi.', { exact: true })).toBeVisible();
  // A new cold pressure takes its limits along.
  await visit(page, `${own.url}/rigs/${id}/pressures`);
  await page.getByLabel('A1 cold').fill('35');
  await page.getByRole('button', { name: 'Save pressures' }).click();
  await expect(page.getByText('Pressures saved.', { exact: true })).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/alarms`);
  await expect(page.getByRole('row', { name: /^A1/ })).toContainText('30.8 psi');
});

test('pairing: an ID that is none, FFFFFF, one that is taken, and rubber under a flow-through are refused in words', async ({
  page,
  own,
  expected,
}) => {
  expected.push(/400 \(Bad Request\)/);
  const id = await newRig(page, own, 'Car');
  await page.locator('[data-position="A1R"]').click();
  await page.getByRole('radio', { name: 'Rubber' }).click();
  await expect(page.getByText('metal is safer')).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/pairing`);
  await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
  const typed = page.getByLabel('ID for A1L');
  const save = page.getByRole('button', { name: 'Save', exact: true });
  for (const [wrong, said] of [
    ['4CA1E', 'Only 5 of six digits'],
    ['4CA1E07', '7 digits: an ID has six'],
    ['ZZZZZZ', 'must be six hexadecimal digits'],
    ['ff ff ff', 'means the position is open'],
  ] as const) {
    await typed.fill(wrong);
    await save.click();
    await expect(page.getByText(said)).toBeVisible();
  }
  await typed.fill('4C A1 EO');
  await expect(page.getByText('Read as 4C A1 E0: O taken for a digit.')).toBeVisible();
  await typed.fill('4c a1 e0');
  await save.click();
  await expect(page.getByText('A1L is 4C A1 E0.', { exact: true })).toBeVisible();
  const next = page.getByLabel('ID for A1R');
  await next.fill('4CA1E0');
  await expect(page.getByText('4C A1 E0 is the sensor of A1L already.')).toBeVisible();
  await save.click();
  await expect(page.getByText('4CA1E0 is already the sensor of 1L')).toBeVisible();
  await expect(next).toHaveValue('4CA1E0');
  await next.fill('4CA1EB');
  await save.click();
  await page.locator('[data-position="A2L"]').click();
  await page.getByLabel('ID for A2L').fill('4CA1E8');
  await expect(page.getByText('Did you mean 4C A1 EB? B and 8, D and 0 look alike.')).toBeVisible();
  await page.locator('[data-position="A1R"]').click();
  await page.getByRole('radio', { name: 'Flow-through' }).click();
  await expect(page.getByText('No: A1R has a rubber stem.')).toBeVisible();
  await expect(save).toBeDisabled();
  await page.locator('[data-position="A1L"]').click();
  await page.getByRole('button', { name: 'Delete, to open' }).click();
  await expect(page.getByText('A1L is open.', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(page.locator('[data-position="A1L"]')).toContainText('4C A1 E0');
});

test('the bench: mend, fill, quiet, put away; afterwards nothing of it looks live', async ({ page, own }) => {
  const id = await newRig(page, own, 'Motorcycle');
  await visit(page, `${own.url}/rigs/${id}/pairing`);
  await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
  for (const [position, code] of [
    ['A1C', '4CA1E0'],
    ['A2C', '4CA1E1'],
  ]) {
    await page.getByLabel(`ID for ${position}`).fill(code as string);
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.locator(`[data-position="${position}"]`)).toHaveAttribute('data-ink', 'steady');
  }
  await visit(page, `${own.url}/rigs/${id}/bench`);
  await page.getByRole('button', { name: 'Open the bench' }).click();
  await page.getByRole('button', { name: 'Drive', exact: true }).click();
  await page.getByRole('radio', { name: '60x' }).click();
  await page.getByRole('button', { name: 'Let air out of A1C' }).click();
  await expect(page.locator('[data-position="A1C"]')).toContainText('leaks');
  await page.getByRole('button', { name: 'Close the hole' }).click();
  await expect(page.locator('[data-position="A1C"]')).not.toContainText('leaks');
  await page.getByRole('button', { name: 'Fill to cold target' }).click();
  await page.getByRole('button', { name: 'Silence the sensor' }).click();
  await expect(page.locator('[data-position="A1C"]')).toContainText('quiet');
  await page.getByLabel('Speed').fill('900');
  await expect(page.getByText('Over 0 to 250 km/h')).toBeVisible();
  await page.getByRole('link', { name: 'See it on the watch' }).click();
  await expect(page.locator('[data-position="A2C"]')).toHaveAttribute('data-ink', 'steady');
  await visit(page, `${own.url}/rigs/${id}/bench`);
  await page.getByRole('button', { name: 'Close the bench' }).click();
  await expect(page.getByRole('button', { name: 'Open the bench' })).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/watch`);
  await expect(page.locator('[data-position="A2C"]')).toContainText('not heard yet');
});

test('two windows: what one saves shows in the other; a stale save is refused and loses nothing', async ({
  page,
  own,
  context,
  expected,
}) => {
  const id = await newRig(page, own, 'Car');
  const other = await context.newPage();
  await other.goto(`${own.url}/rigs/${id}/layout`);
  await other.getByRole('button', { name: 'A1: Make dual' }).click();
  await expect(page.locator('[data-position="A1RO"]')).toBeVisible();
  // This window no longer hears of the other's changes.
  expected.push(/409 \(Conflict\)/, /ERR_FAILED/);
  // Its stream is its own then, and can be cut.
  await page.addInitScript('delete window.SharedWorker');
  await page.route('**/live?*', (route) => route.abort());
  await page.goto(`${own.url}/rigs/${id}/pressures`);
  await page.getByLabel('A1 cold').fill('34.5');
  await page.getByLabel('A1 set at').fill('12');
  await other.getByRole('button', { name: 'A2: Make dual' }).click();
  await expect(other.locator('[data-position="A2RO"]')).toBeVisible();
  await page.getByRole('button', { name: 'Save pressures' }).click();
  await expect(
    page.getByText('This unit was changed elsewhere in the meantime. You sent version 2, version 3 is stored.', { exact: true }),
  ).toBeVisible();
  await expect(page.getByLabel('A1 cold')).toHaveValue('34.5');
  await page.getByRole('button', { name: 'Save pressures' }).click();
  await expect(page.getByText('Pressures saved.', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('A1 cold')).toHaveValue('34.5');
});
