import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AxeBuilder } from '@axe-core/playwright';
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import { carDocument } from '../server/testing-documents.ts';
import './quick.ts';

/** The built server in a process of its own, on a data folder of its own. */
export class ServerProcess {
  readonly folder = mkdtempSync(join(tmpdir(), 'druckwerk-e2e-'));
  /** 0 until the first start; then the one it was given, also after a kill. */
  port = 0;
  readonly demo: boolean;
  #child: ChildProcess | null = null;

  constructor(demo: boolean) {
    this.demo = demo;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    const server = join(import.meta.dirname, this.demo ? '../dist/demo.js' : '../dist/server.js');
    this.#child = spawn(process.execPath, [server], {
      env: { ...process.env, DRUCKWERK_DATA: this.folder, PORT: String(this.port) },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const child = this.#child;
    await new Promise<void>((resolve, reject) => {
      child.stdout?.on('data', (d) => {
        const at = /Druckwerk is at http:\/\/127\.0\.0\.1:(\d+)/.exec(String(d));
        if (!at) return;
        this.port = Number(at[1]);
        resolve();
      });
      child.on('exit', (code) => reject(new Error(`the server ended with ${code}`)));
    });
  }

  /** End it the way a power cut does. */
  async kill(): Promise<void> {
    if (!this.#child || this.#child.exitCode !== null || this.#child.signalCode !== null) return;
    this.#child.removeAllListeners('exit');
    const gone = once(this.#child, 'exit');
    this.#child.kill('SIGKILL');
    await gone;
  }

  /** End it as a service is ended: it finishes what it is doing. */
  async stop(): Promise<void> {
    this.#child?.removeAllListeners('exit');
    const gone = this.#child && once(this.#child, 'exit');
    this.#child?.kill('SIGTERM');
    await gone;
  }

  async remove(): Promise<void> {
    await this.kill();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export interface Fixtures {
  /** A server on an empty data folder. */
  own: ServerProcess;
  /** Messages on the console that a test expects, as when it stops the server. */
  expected: RegExp[];
}
export interface WorkerFixtures {
  /** One server on the demo world for all tests. */
  demo: ServerProcess;
}

const YEAR_MS = 366 * 86_400_000;
/** The demo world of this run; it is emptied with the other results when the next run begins. */
const MADE = join(import.meta.dirname, '../test-results/demo-world');

/** The demo world takes some seconds of a core to make: the first who needs it makes it, the others take a copy. */
async function copyDemoWorld(folder: string): Promise<void> {
  mkdirSync(join(MADE, '..'), { recursive: true });
  if (tryToMake()) {
    const maker = new ServerProcess(true);
    try {
      await maker.start();
      // A chart of a year gathers all of it the first time.
      const span = `from=${new Date(Date.now() - YEAR_MS).toISOString()}&to=${new Date().toISOString()}&points=800`;
      await fetch(`${maker.url}/api/rigs/${await rigId(maker, 'Linden run')}/chart?${span}`);
      await maker.stop();
      // Not moved: the folder for temporary files may be another disk.
      cpSync(maker.folder, join(MADE, 'copying'), { recursive: true });
      renameSync(join(MADE, 'copying'), join(MADE, 'world'));
    } catch (error) {
      // Else everybody would wait for a world that nobody makes.
      rmSync(MADE, { recursive: true, force: true });
      throw error;
    } finally {
      await maker.remove();
    }
  }
  while (!existsSync(join(MADE, 'world'))) await new Promise((r) => setTimeout(r, 100));
  cpSync(join(MADE, 'world'), folder, { recursive: true });
}

/** One of many at once succeeds. */
function tryToMake(): boolean {
  try {
    mkdirSync(MADE);
    return true;
  } catch {
    return false;
  }
}

async function running(demo: boolean, use: (s: ServerProcess) => Promise<void>): Promise<void> {
  const server = new ServerProcess(demo);
  if (demo) await copyDemoWorld(server.folder);
  await server.start();
  await use(server);
  await server.remove();
}

/** A test that fails on any error on the console of its page. */
export const test = base.extend<Fixtures, WorkerFixtures>({
  own: async ({ page }, use) =>
    running(false, async (server) => {
      await use(server);
      // Closed before the server goes, or its end shows as an error on the console.
      for (const p of page.context().pages()) await p.close();
    }),
  // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the names of the fixtures from the pattern
  demo: [async ({}, use) => running(true, use), { scope: 'worker' }],
  // biome-ignore lint/correctness/noEmptyPattern: as above
  expected: async ({}, use) => use([]),
  page: async ({ page, expected }, use) => {
    const errors: string[] = [];
    page.on('console', (m) => m.type() === 'error' && errors.push(`${m.text()} ${m.location().url}`));
    page.on('pageerror', (e) => errors.push(String(e)));
    await use(page);
    expect(errors.filter((e) => !expected.some((r) => r.test(e)))).toEqual([]);
  },
});

export { expect };

/**
 * Axe as it is shipped for pages: half as long to read, each time a page is loaded, as the source that the package exports. It keeps the six private
 * figures of each colour in weak maps, for a quarter of its time; here they are properties under a symbol.
 */
const AXE = `
  class ByProperty {
    at = Symbol();
    has(o) { return Object.hasOwn(o, this.at); }
    get(o) { return o[this.at]; }
    set(o, value) { o[this.at] = value; return this; }
    add(o) { return this.set(o, true); }
  }
  window.ByProperty = ByProperty;
  ${readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8').replace(
    /(?:\w+=new WeakMap,){6}\w+=new WeakSet,/,
    (maps) => maps.replaceAll(/Weak(?:Map|Set)/g, 'window.ByProperty'),
  )}`;

/** The part of axe that reads colours. */
interface AxeColour {
  r: number;
  g: number;
  b: number;
  alpha: number;
  parseString(text: string): unknown;
}

/** Axe reads the few colours of a page thousands of times, for a third of its time: each is read once. */
function readColoursOnce(): void {
  const { prototype } = (window as unknown as { axe: { commons: { color: { Color: { prototype: AxeColour } } } } }).axe.commons
    .color.Color;
  const read = prototype.parseString;
  const known = new Map<string, readonly [number, number, number, number]>();
  prototype.parseString = function parseString(this: AxeColour, text: string) {
    const seen = known.get(text);
    if (seen === undefined) {
      const answer = read.call(this, text);
      known.set(text, [this.r, this.g, this.b, this.alpha]);
      return answer;
    }
    [this.r, this.g, this.b, this.alpha] = seen;
    return this;
  };
}

/** No violation that axe finds. */
export async function expectAccessible(page: Page): Promise<void> {
  // The pages have no frames: all is judged in the page itself, and no second one is opened for it.
  if (!(await page.evaluate(() => 'axe' in window))) {
    await page.evaluate(AXE);
    await page.evaluate(readColoursOnce);
  }
  const { violations } = await new AxeBuilder({ page, axeSource: 'undefined;' })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode()
    .analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`)).toEqual([]);
}

/**
 * Go to an address inside the app as a link there does, so that the app isn't loaded again; a page that shows something else loads it. What is
 * meant to be loaded again says `goto` or `reload`.
 */
export async function visit(page: Page, url: string): Promise<void> {
  const to = new URL(url);
  if (page.url() === 'about:blank' || new URL(page.url()).origin !== to.origin) {
    await page.goto(url);
    return;
  }
  await page.evaluate((path) => {
    history.pushState(null, '', path);
    dispatchEvent(new PopStateEvent('popstate'));
  }, to.pathname + to.search);
  // The sheet that was there is shown until the next is ready; one that takes what its address asks for leaves a shorter address.
  const lag = () => {
    const [shown, at] = [document.querySelector('main')?.dataset.path, location.pathname + location.search];
    return shown === at ? '' : `${shown} is shown at ${at}`;
  };
  await expect.poll(() => page.evaluate(lag)).toBe('');
}

/**
 * Until what the page has just changed is painted. Once in some ten thousand changes of size this browser stops painting while the page goes on.
 * Another page woke it, another size or the front didn't; what may wake it is tried and named, and a page that stays dark fails.
 */
export async function painted(page: Page): Promise<void> {
  const twice = () =>
    page.evaluate(
      () =>
        new Promise<boolean>((done) => {
          requestAnimationFrame(() => requestAnimationFrame(() => done(true)));
          setTimeout(() => done(false), 10_000);
        }),
    );
  if (await twice()) return;
  const state = await page.evaluate(() => `${document.visibilityState}, ${document.hasFocus() ? 'in focus' : 'not in focus'}`);
  console.log(`the browser stopped painting at ${page.url()}, ${state}`);
  const size = page.viewportSize();
  const wake: [string, () => Promise<void>][] = [
    [
      'another page opened and closed',
      async () => {
        const other = await page.context().newPage();
        await other.close();
        await page.bringToFront();
      },
    ],
    [
      'another size',
      async () => {
        if (!size) return;
        await page.setViewportSize({ ...size, height: size.height + 1 });
        await page.setViewportSize(size);
      },
    ],
    ['brought to the front', () => page.bringToFront()],
  ];
  for (const [what, act] of wake) {
    await act();
    if (!(await twice())) continue;
    console.log(`it paints since ${what}`);
    return;
  }
  throw new Error('nothing is painted');
}

/** What can be between two stops of the Tab key. */
const STOPS = 'a[href], button, input, select, textarea, summary, [tabindex]';

/** Reach something the way the keyboard does: by Tab, and by arrows inside a row of choices, a group of radio buttons or a plan. */
export async function reach(page: Page, target: Locator): Promise<void> {
  await expect(target).toBeVisible();
  const where = () =>
    target.evaluate((el, selector) => {
      const at = document.activeElement;
      if (el === at) return 'here';
      const group = el.closest('.switch') ?? (el.matches('[data-position]') ? el.closest('[data-plan]') : null);
      const radio = (e: Element | null) => (e instanceof HTMLInputElement && e.type === 'radio' ? e.name : null);
      if (group?.contains(at) || (radio(el) !== null && radio(el) === radio(at))) return 'near';
      // Half of the stops between can be passed without a look at each.
      const stops = [...document.querySelectorAll<HTMLElement>(selector)].filter(
        (e) =>
          e === el ||
          e === at ||
          (e.tabIndex >= 0 && radio(e) === null && !(e as HTMLButtonElement).disabled && e.checkVisibility()),
      );
      const from = at ? stops.indexOf(at as HTMLElement) : -1;
      return Math.floor((stops.indexOf(el as HTMLElement) - from) / 2);
    }, STOPS);
  for (let i = 0; i < 250; i += 1) {
    const ahead = await where();
    if (ahead === 'here') return;
    if (ahead === 'near') await page.keyboard.press('ArrowRight');
    else for (let k = 0; k < Math.max(1, ahead); k += 1) await page.keyboard.press('Tab');
  }
  throw new Error(`${target} is not reached by the keyboard`);
}

/** Hold back what the page asks for at such an address. @returns lets it go, and all of its kind from then on */
export async function holdBack(page: Page, address: string): Promise<() => void> {
  let letGo: () => void = () => undefined;
  const gone = new Promise<void>((done) => {
    letGo = done;
  });
  await page.route(address, async (route) => {
    await gone;
    await route.continue();
  });
  return letGo;
}

/** Send something to the server's own operations, as a program would. */
export async function post<T>(server: ServerProcess, path: string, body: unknown): Promise<T> {
  const res = await fetch(`${server.url}/api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  expect(res.ok).toBe(true);
  return (await res.json()) as T;
}

/** The rig of a name, from the server. */
export async function rigId(server: ServerProcess, name: string): Promise<string> {
  const rigs = (await (await fetch(`${server.url}/api/rigs`)).json()) as { id: string; name: string }[];
  return rigs.find((r) => r.name === name)?.id as string;
}

/** A car and a trailer of four wheels each, all paired, at 250 kPa. */
export async function makeRig(server: ServerProcess): Promise<string> {
  const car = await post<{ id: string }>(server, 'units', carDocument());
  const trailer = await post<{ id: string }>(server, 'units', {
    ...carDocument(['B00001', 'B00002', 'B00003', 'B00004']),
    name: 'Cart',
    kind: 'trailer',
  });
  return (await post<{ id: string }>(server, 'rigs', { name: 'Errand', unitIds: [car.id, trailer.id], loadState: 'loaded' })).id;
}
/** One reading, posted as a program would. */
export const heard = (server: ServerProcess, sensorId: string, secondsAgo: number, pressureKpa: number, tempC = 20) =>
  post<{ accepted: number }>(server, 'readings', [
    { sensorId, time: new Date(Date.now() - secondsAgo * 1000).toISOString(), pressureKpa, tempC },
  ]);

/** Preferences before the page begins; a page without an address has no store. */
export const preferring = (preferences: object) => `
  try {
    localStorage.setItem('druckwerk.preferences', '${JSON.stringify(preferences)}');
  } catch {}`;
