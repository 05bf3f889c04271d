import { expect, expectAccessible, painted, rigId, test, visit } from './server.ts';

test('rules lab: own rule, a seed, progress, stop, figures, a day, CSV; the same seed gives the same', async ({ page, demo }) => {
  test.setTimeout(150_000);
  const id = await rigId(demo, 'Wing');
  await visit(page, `${demo.url}/rigs/${id}/lab`);
  await page.getByLabel('Own rule: low').fill('70');
  await expect(page.getByText('Low must be 1 to 60 % under cold.')).toBeVisible();
  await page.getByLabel('Own rule: low').fill('8');
  await page.getByLabel('Seed', { exact: true }).fill('1.5');
  await expect(page.getByText('0 to 1,000,000')).toBeVisible();
  await page.getByLabel('Seed', { exact: true }).fill('417');

  // Stopped, it can be begun again.
  const begin = page.getByRole('button', { name: /^Run the lab/ });
  await begin.click();
  await page.getByRole('button', { name: 'Stop' }).click();
  // The press that stops begins nothing: looked at once, for a run that had begun again would end by itself.
  await painted(page);
  expect(await begin.count()).toBe(1);
  await begin.click();
  await expect(begin).toBeVisible({ timeout: 90_000 });
  const chart = page.getByRole('img', { name: /^False alarms a wheel-year against leaks heard in time/ });
  await expect(chart).toHaveAttribute('aria-label', /Druckwerk’s watch: .*your limits: .*your own rule: /);
  const table = page.getByRole('region', { name: 'All figures' });
  await expect(table.getByRole('row')).toHaveCount(1 + (await chart.getAttribute('aria-label'))!.split(';').length);
  await expectAccessible(page);

  // A day on which the own rule alarmed for nothing, and the one after.
  const day = page.getByRole('region', { name: 'A day with a false alarm' });
  await day.getByLabel('Of which rule').selectOption('your own rule');
  await expect(day.getByRole('img', { name: /^Pressure of [AB]\d/ })).toBeVisible();
  const first = await day.getByText(/alarms?\. /).textContent();
  await day.getByRole('button', { name: 'Next day' }).click();
  await expect(day.getByText(/^2 of /)).toBeVisible();
  await expect(day.getByText(/alarms?\. /)).not.toHaveText(first as string);

  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export CSV' }).click();
  expect((await download).suggestedFilename()).toBe('Wing rules.csv');

  // Whoever comes back finds the figures; with the same seed they are the same again.
  const before = await table.textContent();
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: /Bench/ }).first().click();
  await expect(page.getByRole('heading', { name: 'Bench', level: 1 })).toBeVisible();
  await page.goBack();
  await expect(table).toHaveText(before as string);
  await page.reload();
  await expect(page.getByLabel('Seed', { exact: true })).toHaveValue('417');
  await begin.click();
  await expect(begin).toBeVisible({ timeout: 90_000 });
  await expect(table).toHaveText(before as string);
});
