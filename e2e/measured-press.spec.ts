import type { Page } from '@playwright/test';
import { test } from './measured.ts';
import { expect, painted, rigId } from './server.ts';

const CHART = 'canvas[role="img"]';

/** What the browser counts of the presses on a page. */
interface Pressed {
  took: Map<number, number>;
  before: number;
}
/** Presses of all kinds since the page began, those under 16 ms too; TypeScript doesn't know it yet. */
type Counting = Performance & { interactionCount: number };

/** Presses until the next picture, by the browser's own event timing, ms: those of 16 ms and more, and how many there were in all. */
async function pressed(page: Page, work: () => Promise<void>): Promise<{ ms: number[]; made: number }> {
  await page.evaluate(() => {
    const w = window as unknown as Pressed;
    w.took = new Map();
    w.before = (performance as Counting).interactionCount;
    new PerformanceObserver((list) => {
      for (const e of list.getEntries() as PerformanceEventTiming[])
        if (e.interactionId) w.took.set(e.interactionId, Math.max(w.took.get(e.interactionId) ?? 0, e.duration));
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
  });
  await work();
  await page.waitForTimeout(600);
  return page.evaluate(() => {
    const { took, before } = window as unknown as Pressed;
    return { ms: [...took.values()], made: (performance as Counting).interactionCount - before };
  });
}

/** As a person presses who looks at what comes: the next one when this shows something else than before, and has been painted. */
async function shows(page: Page, selector: string, attribute: string, before: string | null): Promise<void> {
  // Seen by the page itself: asked from outside it is seen up to a second later, in which nothing is measured.
  await page.evaluate(
    ([selector, attribute, before]) =>
      new Promise<void>((seen, failed) => {
        const look = () => {
          if ((document.querySelector(selector)?.getAttribute(attribute) ?? before) === before) return;
          changes.disconnect();
          seen();
        };
        const changes = new MutationObserver(look);
        changes.observe(document, { subtree: true, childList: true, attributeFilter: [attribute] });
        setTimeout(() => failed(new Error(`${selector} is as it was`)), 15_000);
        look();
      }),
    [selector, attribute, before ?? ''] as const,
  );
  await painted(page);
  await page.waitForTimeout(100);
}

const at95 = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.ceil(list.length * 0.95) - 1] ?? 0;

test('a press is answered by a picture: ladder, sheets and chart ranges, at full and at a quarter speed', async ({
  page,
  demo,
}) => {
  test.setTimeout(240_000);
  const id = await rigId(demo, 'Linden run');
  const session = await page.context().newCDPSession(page);
  for (const rate of [1, 4]) {
    await page.goto(`${demo.url}/rigs/${id}/watch/charts`);
    await expect(page.locator('canvas').first()).toBeVisible();
    await session.send('Emulation.setCPUThrottlingRate', { rate });
    const { ms: ranges, made } = await pressed(page, async () => {
      for (let i = 0; i < 2; i += 1)
        for (const name of ['1 h', '1 day', '1 week', '1 month', '1 year', '6 h']) {
          const before = await page.locator(CHART).first().getAttribute('aria-label');
          await page.getByRole('radio', { name, exact: true }).click();
          await shows(page, CHART, 'aria-label', before);
        }
    });
    await session.send('Emulation.setCPUThrottlingRate', { rate: 1 });
    await page.goto(`${demo.url}/rigs/${id}/alarms`);
    const low = page.getByRole('slider', { name: 'A1 low alarm' });
    await low.focus();
    await session.send('Emulation.setCPUThrottlingRate', { rate });
    const { ms: ladder } = await pressed(page, async () => {
      for (let i = 0; i < 20; i += 1) {
        await page.keyboard.press(i % 4 < 2 ? 'ArrowDown' : 'ArrowUp');
        await page.waitForTimeout(rate === 1 ? 60 : 120);
      }
    });
    await session.send('Emulation.setCPUThrottlingRate', { rate: 1 });
    await page.keyboard.press('Escape');
    await page.locator('h1').click();
    await session.send('Emulation.setCPUThrottlingRate', { rate });
    const { ms: sheets } = await pressed(page, async () => {
      for (const key of ['2', '3', '4', '5', '6', '7', '8', '9', '2', '4', '9', '5']) {
        const before = await page.locator('main').getAttribute('data-path');
        await page.keyboard.press(key);
        await shows(page, 'main', 'data-path', before);
      }
    });
    await session.send('Emulation.setCPUThrottlingRate', { rate: 1 });
    console.log(
      `at 1/${rate} speed, 95 % of presses until the next picture: chart ranges ${at95(ranges)} ms of ${ranges.length}, ladder ${at95(ladder)} ms of ${ladder.length}, sheets ${at95(sheets)} ms of ${sheets.length}; each range in turn: ${ranges.join(' ')}`,
    );
    // At full speed several take under 16 ms, and are counted but not timed; at a quarter all are timed.
    expect(made).toBe(12);
    expect(ranges.length).toBeGreaterThan(rate === 1 ? 0 : 8);
    // At a quarter 100 is what is meant, and measured alone; beside other work a picture comes later.
    expect(at95(ranges)).toBeLessThan(rate === 1 ? 100 : 200);
  }
});
