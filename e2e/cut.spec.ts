// A file of its own, so that its minute of waiting begins early.
import { type AddressInfo, connect, createServer, type Socket } from 'node:net';
import { expect, heard, makeRig, type ServerProcess, test } from './server.ts';

/** A line between page and server that can hang as a dead network does: nothing comes, nothing is closed. */
async function lineTo(server: ServerProcess) {
  let hung = false;
  const sockets = new Set<Socket>();
  const proxy = createServer((client) => {
    const far = connect(server.port, '127.0.0.1');
    for (const [a, b] of [
      [client, far],
      [far, client],
    ] as const) {
      sockets.add(a);
      a.on('data', (d) => !hung && b.write(d));
      a.on('error', () => undefined);
      a.on('close', () => {
        sockets.delete(a);
        b.destroy();
      });
    }
  });
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve));
  return {
    url: `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`,
    hang() {
      hung = true;
    },
    heal() {
      hung = false;
      for (const s of sockets) s.destroy();
    },
    close() {
      for (const s of sockets) s.destroy();
      proxy.close();
    },
  };
}

test('a stream that is cut for a minute is shown within seconds and heals without a gap', async ({ page, own, expected }) => {
  test.setTimeout(150_000);
  expected.push(/Failed to load resource|ERR_/);
  const rig = await makeRig(own);
  await heard(own, 'A00001', 100, 250);
  const line = await lineTo(own);
  await page.goto(`${line.url}/rigs/${rig}/watch`);
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'steady');
  // A part that is on its way when the line hangs is a case of its own (watch.spec.ts).
  await expect(page.getByRole('img', { name: /Gap of each wheel/ })).toBeVisible();
  line.hang();
  const cut = Date.now();
  await expect(page.getByText('Nothing on this page is live')).toBeVisible({ timeout: 12_000 });
  console.log(`a hung line is shown after ${Date.now() - cut} ms`);
  await expect(page.locator('[data-position="A1L"]')).toHaveAttribute('data-ink', 'old');
  // A minute of readings that the page cannot hear.
  for (let s = 60; s > 0; s -= 5) await heard(own, 'A00001', s, 251 + (s % 3));
  await heard(own, 'A00002', 1, 100);
  await new Promise((resolve) => setTimeout(resolve, Math.max(0, 60_000 - (Date.now() - cut))));
  line.heal();
  await expect(page.locator('[data-position="A1R"]')).toContainText('14.5', { timeout: 15_000 });
  await expect(page.locator('[data-position="A1R"]')).toHaveAttribute('data-ink', 'act');
  await page.getByRole('link', { name: 'Charts' }).click();
  await page.getByRole('button', { name: 'Table' }).click();
  await expect(page.getByRole('region', { name: 'Figures of the chart' }).getByRole('row', { name: /A1L/ })).toHaveCount(13);
  await page.goto('about:blank');
  line.close();
});
