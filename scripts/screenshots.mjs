// Takes the pictures of docs/screenshots from a fresh demo world. Usage: node scripts/screenshots.mjs [folder]
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findChromium, installPackages, root } from './bootstrap.mjs';

installPackages();
const executablePath = findChromium();
if (!executablePath) process.exit(1);
const { build } = await import('./build.mjs');
await build();
const { chromium } = await import('@playwright/test');

const folder = process.argv[2] ?? join(root, 'docs/screenshots');
const data = mkdtempSync(join(tmpdir(), 'druckwerk-shots-'));
mkdirSync(folder, { recursive: true });
const port = 4687;
const server = spawn(process.execPath, [join(root, 'dist/demo.js')], {
  env: { ...process.env, DRUCKWERK_DATA: data, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.on('data', (d) => String(d).includes('Druckwerk is at') && resolve()));

const base = `http://127.0.0.1:${port}`;
const rigs = await (await fetch(`${base}/api/rigs`)).json();
const id = (name) => rigs.find((r) => r.name === name).id;
const linden = id('Linden run');
const desk = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };
const only = process.argv[3];

/** Name, address, size, night?, what to do before the picture. */
const shots = [
  ['yard', '/', desk],
  ['kit', `/rigs/${linden}/kit`, desk],
  [
    'pressures',
    `/rigs/${linden}/pressures`,
    desk,
    false,
    (page) => page.getByRole('button', { name: 'Load and tire' }).nth(2).click(),
  ],
  ['alarms', `/rigs/${linden}/alarms`, desk],
  [
    'pairing',
    `/rigs/${linden}/pairing`,
    desk,
    false,
    async (page) => {
      await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
      await page.getByTestId('monitor-position').waitFor();
    },
  ],
  ['fitting', `/rigs/${linden}/fitting`, desk],
  ['radio', `/rigs/${linden}/radio`, desk],
  ['watch', `/rigs/${linden}/watch`, desk],
  ['watch-drive', `/rigs/${linden}/watch/drive`, { width: 1024, height: 640 }, true],
  ['logbook', `/rigs/${linden}/logbook`, desk, false, (page) => page.locator('[data-what="event"]').first().waitFor()],
  ['logbook-leaks', `/rigs/${linden}/logbook?part=leaks`, desk, false, (page) => page.waitForTimeout(2000)],
  [
    'logbook-topup-phone',
    `/rigs/${linden}/logbook?part=topup`,
    phone,
    false,
    async (page) => {
      await page.getByLabel('Pump or gauge').fill('garage pump');
      await page.getByRole('button', { name: /^Begin with/ }).click();
      await page.waitForTimeout(1200);
    },
  ],
  ['logbook-track', `/rigs/${id('Drone')}/logbook?part=track`, desk],
  ['logbook-trip', `/rigs/${linden}/logbook?part=trip`, desk, false, (page) => page.waitForTimeout(900)],
  [
    'lab',
    `/rigs/${linden}/lab`,
    desk,
    false,
    async (page) => {
      await page.getByLabel('Own rule: low').fill('8');
      await page.getByLabel('High').fill('30');
      await page.getByLabel('Seed').fill('71204');
      await page.getByRole('button', { name: 'Run the lab' }).click();
      await page.getByRole('button', { name: 'Run the lab again' }).waitFor({ timeout: 120_000 });
      await page.waitForTimeout(1200);
    },
  ],
  ['upkeep', `/rigs/${linden}/upkeep?part=cells`, desk, false, (page) => page.waitForTimeout(1500)],
  ['upkeep-job', `/rigs/${linden}/upkeep?job=cell&wheel=A1L`, desk],
  [
    'faults',
    `/rigs/${linden}/faults?branch=one&wheel=B1R`,
    desk,
    false,
    async (page) => {
      await page.getByRole('button', { name: 'All as it should be' }).click();
      await page.waitForTimeout(500);
    },
  ],
  [
    'pairing-phone',
    `/rigs/${id('Scout')}/pairing`,
    phone,
    false,
    async (page) => {
      await page.getByRole('radio', { name: /^Screwed onto the valve/ }).check();
      await page.getByRole('button', { name: 'Begin, wheel by wheel' }).click();
      // As far as the boot: pairing and fitting are one walk.
      for (let i = 0; i < 12; i += 1) {
        const step = (await page.getByTestId('step').textContent()) ?? '';
        if (step.startsWith('Turn the dust boot')) break;
        await page.getByRole('button', { name: 'Done, next' }).click();
        await page.waitForTimeout(300);
      }
      await page.evaluate(() => window.scrollTo(0, 0));
    },
  ],
];

const browser = await chromium.launch({
  executablePath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage', '--disable-background-networking'],
});
try {
  for (const [name, path, viewport, night, before] of shots) {
    if (only && !name.startsWith(only)) continue;
    const page = await browser.newPage({ locale: 'en-GB', viewport, hasTouch: viewport === phone });
    await page.addInitScript(
      `localStorage.setItem('druckwerk.preferences', ${JSON.stringify(JSON.stringify({ theme: night ? 'night' : 'day' }))})`,
    );
    await page.goto(base + path, { waitUntil: 'load' });
    await page.locator('h1').first().waitFor();
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(700);
    if (before) {
      await before(page);
      await page.waitForTimeout(300);
    }
    await page.screenshot({ path: join(folder, `${name}.png`) });
    await page.close();
  }
} finally {
  await browser.close();
  server.kill('SIGTERM');
  await new Promise((resolve) => server.on('exit', resolve));
  rmSync(data, { recursive: true, force: true });
}
