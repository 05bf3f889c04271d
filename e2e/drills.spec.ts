import { expect, expectAccessible, rigId, test, visit } from './server.ts';

test('five drills by keyboard: answered, explained, kept over a reload, scored by what mistakes harm', async ({ page, demo }) => {
  const id = await rigId(demo, 'Linden run');
  await visit(page, `${demo.url}/rigs/${id}/bench?part=drills`);
  await page.getByRole('button', { name: 'Begin the drills' }).press('Enter');
  const answer = async (question: string, text: RegExp) =>
    page.getByRole('region', { name: question }).getByRole('button', { name: text }).press('Enter');
  const next = () => page.getByRole('button', { name: /^(Next drill|See how it went)$/ }).press('Enter');

  // The cold: right, then a dangerous one, which is explained beside the right one.
  await expect(page.locator('[data-drill="coldNight"]')).toContainText('LOW');
  await expect(page.getByRole('region', { name: 'What do you do?' })).toHaveCount(0);
  await answer('What does it mean?', /^The cold lowered every tire/);
  await expect(page.getByText('Right.', { exact: true })).toBeVisible();
  await answer('What do you do?', /^Lower the limits/);
  await expect(page.getByText('Dangerous.', { exact: true })).toBeVisible();
  await expect(page.getByText('This was right.')).toBeVisible();
  await expectAccessible(page);
  await next();

  // What was answered is still there after a reload.
  await expect(page.locator('[data-drill="nail"]')).toContainText('losing air slowly');
  await answer('What does it mean?', /^All tires lose that much/);
  await page.reload();
  await expect(page.getByText('Costs money or air.', { exact: true })).toBeVisible();
  await answer('What do you do?', /^Fill it to its cold pressure/);
  await next();
  await expect(page.locator('[data-drill="weakCell"]')).toContainText('no reading');
  await answer('What does it mean?', /^The tire has burst/);
  await answer('What do you do?', /^Look at the tire/);
  await next();
  await expect(page.locator('[data-drill="brake"]')).toContainText('hotter than the other wheels');
  await answer('What does it mean?', /^A dragging brake/);
  await answer('What do you do?', /^Stop where it is safe/);
  await next();
  await expect(page.locator('[data-drill="burst"]')).toContainText('losing air fast');
  await answer('What does it mean?', /^The tire is losing air fast/);
  await answer('What do you do?', /^Hold the wheel straight/);
  await next();
  const result = page.getByRole('region', { name: 'How it went' });
  await expect(result).toContainText('1 dangerous, 1 costly: 4 points against you.');
  await expect(result).toContainText('7 of 10 answers were right, 1 would only have taken time.');
  await expect(result.getByRole('listitem')).toHaveCount(3);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Begin again with other drills' }).press('Enter');
  await expect(page.locator('[data-drill="coldNight"]')).toBeVisible();
});
