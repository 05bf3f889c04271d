import { expect, expectAccessible, makeRig, post, test, visit } from './server.ts';

test('a spent cell on the bench is found by mouse, the job is done, and log, sensor, forecast, parts and calendar know it', async ({
  page,
  own,
}) => {
  test.setTimeout(120_000);
  const id = await makeRig(own);
  const bench = (command: object) => post(own, `rigs/${id}/bench`, command);
  await bench({ action: 'open' });
  await bench({ action: 'drive', kmh: 60 });
  await bench({ action: 'run', factor: 600 });
  const view = async () =>
    (await (await fetch(`${own.url}/api/rigs/${id}/watch`)).json()) as { wheels: { position: string; state: string }[] };
  await expect.poll(async () => (await view()).wheels.filter((w) => w.state === 'live').length, { timeout: 60_000 }).toBe(8);
  // Each wheel needs a habit before it can be missed: twenty minutes of driving.
  const clock = async () => Date.parse(((await view()) as unknown as { time: string }).time);
  const began = await clock();
  await expect.poll(async () => (await clock()) - began, { timeout: 60_000 }).toBeGreaterThan(20 * 60_000);
  await bench({ action: 'quiet', position: 'A1L', quiet: true });
  const stateOf = async (p: string) => (await view()).wheels.find((w) => w.position === p)?.state;
  await expect.poll(() => stateOf('A1L'), { timeout: 60_000 }).toBe('silent');
  // From its alarm to the search.
  await visit(page, `${own.url}/rigs/${id}/watch`);
  await page.getByRole('link', { name: 'Find the fault' }).first().click();
  await expect(page.getByRole('heading', { name: 'Faults', level: 1 })).toBeVisible();
  await expect(page.getByLabel('Wheel')).toHaveValue('A1L');
  await expect(page.getByText('The others are heard')).toBeVisible();
  await expectAccessible(page);
  // What a spent cell shows: only a meter and a new cell tell.
  const next = page.getByRole('region', { name: 'Next test' });
  for (let i = 0; i < 14; i += 1) {
    if ((await page.getByRole('region', { name: 'What to do' }).count()) > 0) break;
    const question = (await next.getByRole('heading').textContent()) ?? '';
    const answer = /measure it/.test(question)
      ? 'Under 2.6 V'
      : /new battery/.test(question)
        ? 'It is heard'
        : /Exchange it/.test(question)
          ? 'The fault went with the sensor'
          : /wake tool/.test(question)
            ? 'Nothing is read'
            : /Open it and look/.test(question)
              ? 'Clean and dry'
              : /Look at the monitor/.test(question)
                ? 'All as it should be'
                : /Read the ID/.test(question)
                  ? 'The right one'
                  : 'Still not';
    await next.getByRole('button', { name: answer }).click();
    // Halfway a reload loses nothing.
    if (i === 1) await page.reload();
  }
  const todo = page.getByRole('region', { name: 'What to do' });
  await expect(todo.getByRole('heading', { name: 'Battery spent' })).toBeVisible();
  await expectAccessible(page);
  await todo.getByRole('link', { name: 'Do it step by step' }).click();

  // The job, with parts counted down.
  await expect(page.getByRole('heading', { name: 'Battery of an external sensor' })).toBeVisible();
  await expect(page.getByText('CR1632: not counted yet')).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/upkeep?part=parts`);
  await page.getByLabel('CR1632 cells on hand').fill('3');
  await page.getByLabel('CR1632 cells on hand').press('Tab');
  await visit(page, `${own.url}/rigs/${id}/upkeep?job=cell&wheel=A1L`);
  await expect(page.getByText('CR1632: 3 on hand')).toBeVisible();
  await page.getByLabel('How it opens').selectOption('A lid by hand');
  await expect(page.getByText('Turn the lid off by hand.')).toBeVisible();
  await page.getByRole('checkbox').first().check();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Done at A1L' }).click();
  await expect(page.getByText(/^Battery of an external sensor: done at A1L/).first()).toBeVisible();
  const rig = (await (await fetch(`${own.url}/api/rigs/${id}`)).json()) as {
    log: { kind: string; position: string }[];
    upkeep: { onHand: Record<string, number> };
  };
  expect(rig.log.at(-1)).toMatchObject({ kind: 'cell', position: 'A1L' });
  expect(rig.upkeep.onHand).toEqual({ CR1632: 2 });
  // The owner's day, as the browser has it.
  const today = new Date().toLocaleDateString('sv-SE');
  const units = (await (await fetch(`${own.url}/api/units`)).json()) as {
    axles: { wheels: { position: string; sensor: { cellSince?: string } }[] }[];
  }[];
  expect(units[0]?.axles[0]?.wheels[0]?.sensor.cellSince).toBe(today);
  await visit(page, `${own.url}/rigs/${id}/upkeep?part=cells`);
  await expect(page.locator('[data-cell="A1L"]')).toContainText(/in (11|12) months/);
  await expect(page.locator('[data-cell="A1R"]')).toContainText('not noted');
  const due = (await (await fetch(`${own.url}/api/rigs/${id}/due`)).json()) as {
    kind: string;
    positions: string[];
    date: string;
  }[];
  expect(due).toEqual([expect.objectContaining({ kind: 'cells', positions: ['A1L'] })]);
  expect(Number(due[0]?.date.slice(0, 4))).toBe(Number(today.slice(0, 4)) + 1);
});

test.describe('at phone size', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

  test('a repeater without supply is found by keyboard alone; “can’t” and “it didn’t help” lead on', async ({ page, own }) => {
    const id = await makeRig(own);
    await visit(page, `${own.url}/rigs/${id}/faults`);
    await expect(page.getByRole('heading', { name: 'What do you see?' })).toBeVisible();
    await expectAccessible(page);
    const press = async (name: RegExp | string) => {
      const button = page.getByRole('button', { name }).first();
      await expect(button).toBeVisible();
      for (let i = 0; i < 80; i += 1) {
        if (await button.evaluate((el) => el === document.activeElement)) break;
        await page.keyboard.press('Tab');
      }
      await page.keyboard.press('Enter');
    };
    await press(/^Several sensors, or all/);
    const next = page.getByRole('region', { name: 'Next test' });
    await expect(next).toBeVisible();
    await press('Can’t do this now');
    await expect(page.getByText(/: can’t be done now$/)).toBeVisible();
    for (let i = 0; i < 16; i += 1) {
      if ((await page.getByRole('region', { name: 'What to do' }).count()) > 0) break;
      const question = (await next.getByRole('heading').textContent()) ?? '';
      const answer = /repeater’s lamp/.test(question)
        ? 'Dead or weak'
        : /fuse out/.test(question)
          ? 'Blown or loose'
          : /middle of the silent wheels/.test(question)
            ? 'They are heard'
            : /charger out/.test(question)
              ? 'It stays on'
              : /Look at the monitor/.test(question)
                ? 'All as it should be'
                : /Step through/.test(question)
                  ? 'All are there'
                  : /same day/.test(question) || /handled last/.test(question)
                    ? 'No'
                    : /Measure the battery/.test(question)
                      ? '2.6 V or more'
                      : 'Still not';
      await press(answer);
    }
    const todo = page.getByRole('region', { name: 'What to do' });
    await expect(todo.getByRole('heading', { name: 'The repeater has no supply' })).toBeVisible();
    await expectAccessible(page);
    await press('It didn’t help');
    await expect(page.getByRole('heading', { name: 'The repeater has no supply' })).toHaveCount(0);
    // One answer changed, the odds follow.
    await press(/^Change /);
    await expect(next.or(todo)).toBeVisible();
    await press('Begin again');
    await expect(page.getByRole('heading', { name: 'What do you see?' })).toBeVisible();
  });
});

test('the tables are shown and can be changed; at the roadside parked and rolling differ', async ({ page, own }) => {
  const id = await makeRig(own);
  await visit(page, `${own.url}/rigs/${id}/faults?part=table`);
  await page.getByLabel('Weight of The sensor is broken').fill('0');
  await page.getByLabel('Weight of The sensor is broken').press('Tab');
  await expect(page.getByText('0.1 to 1000')).toBeVisible();
  await page.getByLabel('Weight of The sensor is broken').fill('400');
  await page.getByLabel('Weight of The sensor is broken').press('Tab');
  await expect(page.getByText('Changed.', { exact: true })).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/faults?branch=one&wheel=A1L`);
  await expect(page.locator('[data-cause]').first()).toContainText('The sensor is broken');
  await visit(page, `${own.url}/rigs/${id}/faults?part=roadside&wheel=A1L`);
  await page.getByRole('radio', { name: 'Losing air fast' }).click();
  await expect(page.getByText(/Brake gently and late/)).toBeVisible();
  await page.getByRole('radio', { name: 'Parked' }).click();
  await expect(page.getByText(/leave it parked/)).toBeVisible();
  await expect(page.getByText(/Brake gently and late/)).toHaveCount(0);
  await expectAccessible(page);

  // A job that comes back, and the age of a tire, are due like all else.
  await visit(page, `${own.url}/rigs/${id}/upkeep?job=spare`);
  await page.getByLabel('Comes back every').fill('3');
  await page.getByLabel('Comes back every').press('Tab');
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await expect(page.getByText(/^Look after the spare: done/).first()).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/upkeep`);
  await expect(page.locator('[data-due="job"]')).toContainText('Look after the spare');
  await page.getByLabel('A1 made in').fill('6019');
  await page.getByLabel('A1 made in').press('Tab');
  await expect(page.getByText('Week 01 to 53, year of two figures')).toBeVisible();
  await page.getByLabel('A1 made in').fill('2319');
  await page.getByLabel('A1 made in').press('Tab');
  await expect(page.getByText('June 2019')).toBeVisible();
  const old = page.locator('[data-due="tireAge"]');
  await expect(old).toContainText('Tires of A1 are six years old');
  await expect(old).toContainText('overdue');
  await expectAccessible(page);
  await old.getByRole('link', { name: 'Do it' }).click();
  await expect(page.getByRole('heading', { name: 'Have old tires looked at' })).toBeVisible();
  await page.getByLabel('Note', { exact: true }).fill('All may stay');
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await expect(page.getByText(/^Have old tires looked at: done/).first()).toBeVisible();
  await visit(page, `${own.url}/rigs/${id}/upkeep`);
  await expect(old).toContainText('last looked at on');
  await expect(old).not.toContainText('overdue');
});
