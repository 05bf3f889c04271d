import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { expect, expectAccessible, reach, rigId, test, visit } from './server.ts';

async function press(page: Page, target: Locator, key = 'Enter'): Promise<void> {
  await reach(page, target);
  await page.keyboard.press(key);
}
async function type(page: Page, target: Locator, text: string): Promise<void> {
  await reach(page, target);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

test('by keyboard alone: a rig from nothing, its map, its box, a refusal, labels, undo ten steps and redo', async ({
  page,
  own,
}) => {
  test.setTimeout(400_000);
  await visit(page, own.url);
  await press(page, page.getByRole('button', { name: 'Draw your first rig' }));
  await page.getByLabel('What do you call it?').waitFor();
  await page.keyboard.type('Hay run');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  const wheels = page.locator('[data-position]');
  await expect(wheels).toHaveCount(4);

  // Ten steps: dual rears, a trailer, two more axles, spare, names, stems.
  await press(page, page.getByRole('button', { name: 'A2: Make dual' }));
  await expect(wheels).toHaveCount(6);
  await press(page, page.getByRole('button', { name: 'Add trailer' }));
  await expect(wheels).toHaveCount(8);
  await press(page, page.getByRole('button', { name: 'Add axle to B' }));
  await expect(wheels).toHaveCount(10);
  await press(page, page.getByRole('button', { name: 'Add axle to B' }));
  await expect(wheels).toHaveCount(12);
  await press(page, page.locator('[data-position="B1L"]'));
  await press(page, page.getByRole('radio', { name: 'Rubber' }), 'Space');
  await expect(page.locator('[data-position="B1L"]')).toContainText('rubber stem');
  await press(page, page.getByRole('button', { name: 'Add spare' }));
  await expect(wheels).toHaveCount(13);
  await type(page, page.getByLabel('Name of the unit'), 'Hay wagon');
  await expect(page.getByRole('heading', { name: 'B Hay wagon' })).toBeVisible();
  await type(page, page.getByLabel('Your word for it'), 'first');
  await expect(page.getByRole('button', { name: /^Undo/ }).first()).toHaveAttribute('title', 'axle named');
  await type(page, page.getByLabel(/^Marking on the sidewall/), 'ST225/75R15 117/112M');
  await expect(page.getByText('1,285 kg a tire')).toBeVisible();
  await type(page, page.getByLabel('Name of the rig'), 'Hay run north');
  await expect(page.getByText('Hay run north')).toBeVisible();
  const id = await rigId(own, 'Hay run north');
  const exported = async () => (await fetch(`${own.url}/api/rigs/${id}/export`)).text();
  const whole = await exported();
  // Inside a text Ctrl+Z is the text's own: leave it first.
  await reach(page, page.getByRole('button', { name: /^Undo/ }));
  for (let i = 0; i < 10; i += 1) {
    const before = await exported();
    await page.keyboard.press('Control+z');
    await expect.poll(exported).not.toBe(before);
  }
  await expect(wheels).toHaveCount(4);
  for (let i = 0; i < 10; i += 1) {
    const before = await exported();
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(exported).not.toBe(before);
  }
  await expect(wheels).toHaveCount(13);
  expect(await exported()).toBe(whole);

  // Refused with the reason.
  await page.keyboard.press('Escape');
  await press(page, page.getByRole('link', { name: /Kit/ }));
  await press(page, page.locator('[data-position="B1L"]'));
  await expect(page.getByText('A flow-through is too heavy for rubber')).toBeVisible();
  await expect(page.getByText('Flow-through on this stem: no.')).toBeVisible();
  await expectAccessible(page);
  await reach(page, page.getByLabel('Why you’re going ahead'));
  await page.keyboard.type('only for the way to the shop');
  await press(page, page.getByRole('button', { name: 'Note it' }));
  await expect(page.getByText(/Overridden on \d{4}-\d\d-\d\d/)).toBeVisible();

  // The box lacks one O-ring.
  await press(page, page.getByRole('radio', { name: 'Box' }), 'Space');
  for (const [piece, n] of [
    ['Cap sensors', '6'],
    ['Flow-through sensors', '7'],
    ['O-rings', '12'],
  ] as const) {
    await type(page, page.getByLabel(`${piece} in the box`), n);
    await expect(page.getByRole('row', { name: new RegExp(`^${piece}`) })).toContainText(
      piece === 'O-rings' ? '1 missing' : 'right',
    );
  }
  await expect(page.getByText('Missing: 1 o-rings')).toBeVisible();
  await expectAccessible(page);

  // The position map.
  await press(page, page.getByRole('radio', { name: 'Monitor' }), 'Space');
  await reach(page, page.getByLabel('Monitor of this rig'));
  await page.keyboard.type('Four');
  await expect(page.getByRole('button', { name: 'Row 2, place 1: A2LO' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Row 2, place 2: B2L' })).toBeVisible();
  // No row is left for the spare: it takes a place that is free among the duals.
  await expect(page.getByRole('button', { name: 'Row 2, place 1: BS1' })).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Row 3, place 2: B3L' }));
  await press(
    page,
    page.getByRole('region', { name: 'List 2 of the monitor' }).getByRole('button', { name: 'Row 3, place 1: not used' }),
  );
  await expect(page.getByText('B2 and B3 are on different positions.')).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Back to what is proposed' }));
  await expect(page.getByText('are on different positions')).toBeHidden();
  await expectAccessible(page);

  // Labels, as a drawing and on paper.
  await press(page, page.getByRole('radio', { name: 'Labels' }), 'Space');
  await expect(page.getByRole('img', { name: /^Label strip of Hay run north: A1L, A1R/ })).toBeVisible();
  const download = page.waitForEvent('download');
  await press(page, page.getByRole('button', { name: 'Download as SVG' }));
  const svg = readFileSync(await (await download).path(), 'utf8');
  expect(svg).toMatch(/^<\?xml[^>]*>\s*<svg/);
  expect(svg.match(/>(A|B)(\d(LO|LI|RI|RO|L|R)|S1)</g)).toHaveLength(13);
  expect(svg).not.toContain('var(--');
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  await expectAccessible(page);

  // Out as a file, away, and in again: the same rig.
  const last = await exported();
  await press(page, page.getByRole('link', { name: 'All rigs' }));
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  const file = page.waitForEvent('download');
  await press(page, page.getByRole('link', { name: 'Export Hay run north' }));
  const path = await (await file).path();
  expect(readFileSync(path, 'utf8')).toBe(last);
  await press(page, page.getByRole('button', { name: 'Delete Hay run north' }));
  await expect(page.getByRole('link', { name: 'Hay run north', exact: true })).toBeHidden();
  await press(page, page.getByRole('button', { name: 'Import one' }));
  const chooser = page.waitForEvent('filechooser');
  await press(page, page.getByLabel(/^A file that was exported/));
  await (await chooser).setFiles(path);
  await expect(page.getByText('comes with 2 units')).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Import', exact: true }));
  await expect(page.getByRole('heading', { name: 'Layout' })).toBeVisible();
  const back = await rigId(own, 'Hay run north');
  expect(await (await fetch(`${own.url}/api/rigs/${back}/export`)).text()).toBe(last);
});

test('kit: buying compared, a monitor described, an inherited kit read back, counts from a table', async ({ page, own }) => {
  await visit(page, own.url);
  await page.getByRole('button', { name: 'Draw your first rig' }).click();
  await page.getByLabel('What do you call it?').fill('Errands');
  await page.getByRole('button', { name: 'Draw it' }).click();
  await page.waitForURL(/layout/);
  const kit = page.url().replace('layout', 'kit');
  await visit(page, `${kit}?part=buying`);
  const total = (n: number) =>
    page
      .getByRole('row', { name: /^Total/ })
      .getByRole('cell')
      .nth(n);
  await expect(total(0)).toHaveText('type the prices');
  await page.getByLabel('A cap sensor, your price').fill('20');
  await page.getByLabel('A battery CR1632, your price').fill('2,50');
  // 4 * 20 + 4 * 4 * 2.5
  await expect(total(0)).toHaveText('120.00');
  await page.getByLabel('Over how many years').fill('2');
  await expect(total(0)).toHaveText('90.00');
  await page.getByLabel('Over how many years').fill('0');
  await expect(page.getByText('1 to 20')).toBeVisible();
  await expectAccessible(page);

  await visit(page, `${kit}?part=monitor`);
  await page.getByRole('button', { name: 'Describe your own' }).click();
  await page.getByRole('button', { name: 'Use this monitor' }).click();
  await expect(page.getByText('Give it a name')).toBeVisible();
  await page.getByLabel('What do you call it?').fill('Little box');
  await page.getByLabel('Positions for one vehicle or trailer').fill('x');
  await page.getByRole('button', { name: 'Use this monitor' }).click();
  await expect(page.getByText('Type a number')).toBeVisible();
  await page.getByLabel('Positions for one vehicle or trailer').fill('2');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Use this monitor' }).click();
  await expect(page.getByText('Too few positions.')).toBeVisible();
  await expect(page.getByText('A2L: the monitor has no row for this axle')).toBeVisible();

  // It was described wrongly: it has four places in two rows, and beeps. The same monitor is changed, not another one made.
  await page.getByRole('button', { name: 'Edit it' }).click();
  await page.getByLabel('Positions for one vehicle or trailer').fill('4');
  await page.getByLabel('Positions row by row').fill('2 3');
  await page.getByRole('button', { name: 'Save the monitor' }).click();
  await expect(page.getByText('Must add up to 4, the positions of one list')).toBeVisible();
  await page.getByLabel('Positions row by row').fill('2, 2');
  await page.getByLabel('A beep').check();
  await page.getByRole('button', { name: 'Save the monitor' }).click();
  await expect(page.getByText('Too few positions.')).toBeHidden();
  await expect(page.getByText('shows sensor IDs, a beep when it took a sensor')).toBeVisible();
  await expect(page.getByLabel('Monitor of this rig').getByRole('option', { name: 'Little box' })).toHaveCount(1);
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByLabel('Monitor of this rig')).toHaveValue('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('shows sensor IDs, a beep when it took a sensor')).toBeVisible();

  await visit(page, `${kit}?part=readback`);
  await page.getByLabel('ID that the monitor shows for A1L').fill('4ca1e0');
  await expect(page.getByText('A1L holds 4C A1 E0: take it into the plan')).toBeVisible();
  await page.getByLabel('ID that the monitor shows for A1R').fill('FFFFFF');
  await expect(page.getByText('open, as planned')).toBeVisible();
  await page.getByLabel('ID that the monitor shows for A2L').fill('12345');
  await expect(page.getByText('six hexadecimal digits, or FFFFFF')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('ID that the monitor shows for A1L')).toHaveValue('4ca1e0');
  await expectAccessible(page);

  // What somebody set with care becomes the plan.
  await page.getByLabel('A1 low on the monitor').fill('28');
  await page.getByLabel('A1 high on the monitor').fill('41');
  await page.getByRole('button', { name: 'Take its limits over as the plan' }).click();
  await expect(page.getByText('The limits on the monitor are the plan now.', { exact: true })).toBeVisible();
  await expect(page.getByRole('row', { name: /^A1 / }).last()).toContainText('as planned');

  await visit(page, `${kit}?part=box`);
  await page
    .getByLabel('Read counts from a CSV')
    .setInputFiles({ name: 'k.csv', mimeType: 'text/csv', buffer: Buffer.from('item,pieces\r\noRing,9\r\ngold,1\r\n') });
  await expect(page.getByText('Line 3: “gold” is not a piece of a kit')).toBeVisible();
  await page.getByRole('button', { name: 'Take them over' }).click();
  await expect(page.getByLabel('O-rings in the box')).toHaveValue('9');
  await expect(page.getByText('Left over as spares: 5 o-rings')).toBeVisible();
  await expectAccessible(page);
});
