import sharp from 'sharp';
import type { NewUnit, Rig, Unit } from '../schema/unit.ts';
import { expect, expectAccessible, type ServerProcess, test, visit } from './server.ts';

const PSI = 6.894757293168;
const send = async <T>(own: ServerProcess, method: string, path: string, body: unknown): Promise<T> => {
  const res = await fetch(`${own.url}/api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  expect(`${path} ${res.status}`).toMatch(/ 20[01]$/);
  return (await res.json()) as T;
};

/** A flatbed with caps in front and flow-through sensors on its duals, set, paired, and on the bench. */
async function flatbed(own: ServerProcess): Promise<Rig> {
  const settings = {
    loaded: {
      cold: { kpa: 60 * PSI, tempC: 15 },
      limits: { rule: { school: 'share' as const }, lowKpa: 54 * PSI, highKpa: 75 * PSI, hotC: 70 },
    },
  };
  const wheel = (position: string, id: string, kind: 'cap' | 'flowThrough') => ({
    position,
    sensor: { id, kind },
    stem: 'metal' as const,
    stemForm: 'short' as const,
  });
  const unit: NewUnit = {
    name: 'Flatbed',
    kind: 'vehicle',
    axles: [
      { wheels: [wheel('1L', 'E00001', 'cap'), wheel('1R', 'E00002', 'cap')], settings, airLitres: 40 },
      {
        wheels: [
          wheel('2LO', 'E00003', 'flowThrough'),
          wheel('2LI', 'E00004', 'flowThrough'),
          wheel('2RI', 'E00005', 'flowThrough'),
          wheel('2RO', 'E00006', 'flowThrough'),
        ],
        settings,
        airLitres: 40,
      },
    ],
    spares: [],
  };
  const u = await send<Unit>(own, 'POST', 'units', unit);
  const rig = await send<Rig>(own, 'POST', 'rigs', { name: 'Flatbed', unitIds: [u.id], loadState: 'loaded', monitorId: null });
  await send(own, 'POST', `rigs/${rig.id}/bench`, { action: 'open' });
  return rig;
}

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('from the box of parts to a report: fitted, bubbles once, gauge and sensor, an alarm proved, printed', async ({
    page,
    own,
    expected,
  }) => {
    test.setTimeout(300_000);
    expected.push(/415 \(Unsupported Media Type\)/);
    const rig = await flatbed(own);
    await visit(page, `${own.url}/rigs/${rig.id}/fitting`);
    await expect(page.getByRole('heading', { name: 'Fitting', level: 1 })).toBeVisible();
    await expectAccessible(page);

    /** Tick the card of the wheel that is open to its end. */
    const fitWheel = async (bubblesFirst: boolean) => {
      for (let i = 0; i < 20; i += 1) {
        const next = page.getByRole('button', { name: 'Done, next' });
        const none = page.getByRole('button', { name: 'No bubbles' });
        await expect(next.or(none).or(page.getByText(/is fitted\.$/))).toBeVisible();
        if (await page.getByText(/is fitted\.$/).isVisible()) return;
        const at = await page.getByText(/^Step \d+ of \d+$/).textContent();
        if (await none.isVisible()) {
          if (bubblesFirst) {
            await page.getByRole('button', { name: 'Bubbles', exact: true }).tap();
            await expect(page.getByText(/it leaks\.$/)).toBeVisible();
            await expectAccessible(page);
          }
          await none.tap();
        } else await next.tap();
        await expect(page.getByText(at as string, { exact: true })).toHaveCount(0);
      }
    };
    // A cap on a front wheel, and a flow-through on a dual inner.
    await expect(page.getByText('Step 1 of 11')).toBeVisible();
    await fitWheel(true);
    await page.getByRole('button', { name: /^\d\. A2LI/ }).tap();
    await expect(page.getByText('Metal stem only')).toBeVisible();
    await fitWheel(false);
    await page.getByLabel('Hissed for').fill('20');
    await page.getByLabel('Hissed for').blur();
    await expect(page.getByRole('region', { name: 'Top-up list' })).toContainText(/A2LI lost about/);

    // A photo, and what is none.
    const photo = page.getByLabel('Add a photo');
    await photo.setInputFiles({ name: 'note.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('only text') });
    await expect(page.getByText('That file isn’t an image. Send a JPEG, PNG or WebP.')).toBeVisible();
    const picture = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#888888' } })
      .jpeg()
      .toBuffer();
    await photo.setInputFiles({ name: 'wheel.jpg', mimeType: 'image/jpeg', buffer: picture });
    await expect(page.getByRole('img', { name: 'A2LI, number 1' })).toBeVisible();
    await page.reload();
    await expect(page.getByText('2 of 6 fitted')).toBeVisible();

    // Gauge against sensor: one bad sensor, then a bad gauge.
    await visit(page, `${own.url}/rigs/${rig.id}/first-drive?part=gauge`);
    await expect(page.getByRole('button', { name: /^Compare/ })).toBeVisible();
    await expectAccessible(page);
    const all = ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'A2RO'];
    await page.getByLabel('A1L sensor').fill('60');
    await page.getByLabel('A1L gauge').fill('4.1');
    await expect(page.getByText('4.1 psi? Did you mean bar?')).toBeVisible();
    for (const p of all) {
      await page.getByLabel(`${p} gauge`).fill('60');
      await page.getByLabel(`${p} sensor`).fill(p === 'A2RI' ? '68' : '60');
    }
    await page.getByRole('button', { name: 'Compare 6' }).tap();
    await expect(page.getByText('A2RI differs from the others. That points at the sensor, not the gauge.')).toBeVisible();
    for (const p of all) {
      await page.getByLabel(`${p} gauge`).fill('60');
      await page.getByLabel(`${p} sensor`).fill('69');
    }
    await page.getByRole('button', { name: 'Compare 6' }).tap();
    await expect(page.getByText(/a common offset points at the gauge, not at the sensors/)).toBeVisible();
    await expectAccessible(page);

    // An alarm proved on the bench.
    await send(own, 'POST', `rigs/${rig.id}/bench`, { action: 'drive', kmh: 5 });
    await send(own, 'POST', `rigs/${rig.id}/bench`, { action: 'run', factor: 60 });
    await visit(page, `${own.url}/rigs/${rig.id}/first-drive`);
    await page.getByRole('button', { name: /^Start: switch on/ }).tap();
    await expect(page.getByText(/6 of 6 heard/)).toBeVisible({ timeout: 40_000 });
    await expectAccessible(page);
    await page.getByText('Prove an alarm', { exact: true }).tap();
    await page.getByRole('button', { name: 'Begin with A1L' }).tap();
    await page.getByRole('button', { name: 'Let it out on the bench' }).tap();
    await expect(page.getByText(/It came: A1L, .* on the bench\./)).toBeVisible({ timeout: 40_000 });
    await expectAccessible(page);

    // The report: every ID, printed on A4 and Letter, kept, compared.
    await page.getByText('Report', { exact: true }).tap();
    await expect(page.getByRole('heading', { name: 'Commissioning report, Flatbed' })).toBeVisible();
    for (const id of ['E0 00 01', 'E0 00 02', 'E0 00 03', 'E0 00 04', 'E0 00 05', 'E0 00 06'])
      await expect(page.getByText(id, { exact: true })).toBeVisible();
    await expect(page.getByText(/The low alarm of A1L came after \d+ s, on the bench\./)).toBeVisible();
    await expectAccessible(page);
    for (const format of ['A4', 'Letter'] as const) expect((await page.pdf({ format })).length).toBeGreaterThan(10_000);
    await expect(page.getByLabel('Compare with').getByRole('option')).toHaveCount(2);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save as a page' }).tap(),
    ]);
    const html = await (await import('node:fs/promises')).readFile(await download.path(), 'utf8');
    expect(html).toContain('E0 00 04');
    expect(html).toContain('data:image/jpeg;base64,');
    expect(html).not.toContain('/api/');
    await visit(page, `${own.url}/rigs/${rig.id}/fitting`);
    await page.getByRole('button', { name: /^\d\. A1L/ }).tap();
    await page.getByLabel('Note on A1L').fill('new boot');
    // The page is left only once the note is kept.
    const kept = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes('/api/units/'));
    await page.getByLabel('Note on A1L').blur();
    await kept;
    await visit(page, `${own.url}/rigs/${rig.id}/first-drive?part=report`);
    await expect(page.getByLabel('Compare with').getByRole('option')).toHaveCount(3);
    await page.getByLabel('Compare with').selectOption({ index: 2 });
    await expect(page.getByText(/A1L note/)).toBeVisible();
  });

  test('radio: the repeater placed by search, by keyboard and by drag; a tank changes it; a cable of 0 m is refused', async ({
    page,
    own,
  }) => {
    test.setTimeout(120_000);
    const rig = await flatbed(own);
    await visit(page, `${own.url}/rigs/${rig.id}/radio`);
    await expect(page.getByRole('heading', { name: 'Radio', level: 1 })).toBeVisible();
    await expect(page.getByText(/Taken as usual, since nobody has said otherwise: A, wheelbase/)).toBeVisible();
    await page.getByRole('button', { name: 'Find the best place' }).click();
    const repeater = page.getByRole('button', { name: /^Repeater, / });
    await expect(repeater).toBeVisible({ timeout: 60_000 });
    await expectAccessible(page);
    const at = async () => ((await (await fetch(`${own.url}/api/rigs/${rig.id}`)).json()) as Rig).repeater;
    const first = await at();
    await repeater.focus();
    await page.keyboard.press('ArrowRight');
    await expect.poll(async () => ((await at())?.x ?? 0) - (first?.x ?? 0)).toBeCloseTo(0.1, 2);
    const box = await repeater.boundingBox();
    if (!box) throw new Error('no repeater');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 6);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 20, box.y + box.height / 2 + 16, { steps: 5 });
    await page.mouse.up();
    await expect.poll(async () => JSON.stringify(await at())).not.toBe(JSON.stringify(first));
    await page.getByRole('radio', { name: 'Wood, fibre' }).click();
    await expect(page.getByText('Taken as usual, since nobody has said otherwise: A, wheelbase.')).toBeVisible();
    await page.getByLabel('Cable, one way').fill('0');
    await expect(page.getByText('A cable has a length')).toBeVisible();
    await page.getByLabel('Cable, one way').fill('10');
    await page.getByLabel('Wire').fill('16 AWG');
    await page.getByLabel('It draws').fill('1000');
    await expect(page.getByText('0.26 V are lost out and back: fine.')).toBeVisible();
    await expectAccessible(page);
  });
});
