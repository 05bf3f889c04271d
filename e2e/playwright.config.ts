import { defineConfig, devices } from '@playwright/test';

const root = process.getuid?.() === 0;

/** These wait for the clock, or for servers that end and begin again, and leave the cores to others. */
const WAITING = ['cut.spec.ts', 'topup.spec.ts', 'kill.spec.ts', 'masses.spec.ts', 'gateway.spec.ts'];

/** Each leaves most of a core free most of its time, and meets its bounds beside the other. */
const SIDE_BY_SIDE = ['measured-load.spec.ts', 'measured-press.spec.ts'];

/** More than once only where the processors were taken meanwhile (`measured.ts`). */
const MEASURED = { retries: 3, fullyParallel: false };

/**
 * What the browser leaves out: Playwright's own list, since of two lists only the last counts, and the pages of its address bar, which every new
 * window loads though nobody sees it: a tenth of what a browser test computes. And the process it keeps ready for a page that doesn't come.
 */
const LEFT_OUT = [
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsUpgrades',
  'HttpsFirstBalancedModeAutoEnable',
  'LensOverlay',
  'MediaRouter',
  'PaintHolding',
  'ThirdPartyStoragePartitioning',
  'AvoidCorsURLLoaderRestartOnRedirect',
  'OptimizationHints',
  'NetworkTimeServiceQuerying',
  'AimEnabled',
  'PreconnectToSearch',
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
  'SpareRendererForSitePerProcess',
];

export default defineConfig({
  testDir: '.',
  // Three at a time, each with servers of its own, and beside them one of those that wait for the clock most of their time. What is measured comes
  // after the rest: two files side by side, then the others alone.
  workers: 4,
  fullyParallel: true,
  projects: [
    { name: 'waiting', testMatch: WAITING, workers: 1 },
    { name: 'sheets', testIgnore: ['measured*.spec.ts', ...WAITING], workers: 3 },
    { name: 'measured', testMatch: SIDE_BY_SIDE, dependencies: ['waiting', 'sheets'], workers: 2, ...MEASURED },
    { name: 'alone', testMatch: 'measured.spec.ts', dependencies: ['measured'], workers: 1, ...MEASURED },
  ],
  // On a machine that is busy with other things a test may lose a race with it; `npm test` names the ones that were run again.
  retries: 1,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: process.env.DRUCKWERK_TEST_JSON ? [['list'], ['json', { outputFile: process.env.DRUCKWERK_TEST_JSON }]] : [['list']],
  outputDir: '../test-results',
  use: {
    ...devices['Desktop Chrome'],
    // What is tested without a connection allows the page's worker; elsewhere its store would answer in the place of a test.
    serviceWorkers: 'block',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    // A trace takes a third of the time of all tests; it is for those who look for a fault.
    trace: process.env.DRUCKWERK_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
      args: [
        ...(root ? ['--no-sandbox'] : []),
        `--disable-features=${LEFT_OUT.join()}`,
        '--disable-gpu',
        '--disable-dev-shm-usage',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        '--autoplay-policy=user-gesture-required',
      ],
    },
  },
});
