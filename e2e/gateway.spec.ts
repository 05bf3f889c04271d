import { once } from 'node:events';
import { type AddressInfo, createServer } from 'node:net';
import { Aedes } from 'aedes';
import mqtt from 'mqtt';
import { idsOf, makeCar } from './masses.ts';
import { expect, expectAccessible, test, visit } from './server.ts';

test('a gateway with names of its own and a clock that is wrong: set up, each name put on its wheel, the clock pointed out', async ({
  page,
  own,
}) => {
  const broker = await Aedes.createBroker();
  const listening = createServer(broker.handle).listen(0, '127.0.0.1');
  await once(listening, 'listening');
  const { port } = listening.address() as AddressInfo;
  const gateway = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`);
  const say = (wheel: string, minutes: number, kpa = 251) =>
    gateway.publishAsync(
      'shed/tires',
      JSON.stringify({
        'sensor.name': wheel,
        at: new Date(Date.now() + minutes * 60_000).toISOString(),
        kpa,
        volts: 2.9,
        dbm: -71,
      }),
      { qos: 1 },
    );
  try {
    const rig = await makeCar(own, 'Errand', idsOf(0));
    await visit(page, own.url);
    const fold = page.locator('details', { hasText: 'Readings over MQTT' });
    await fold.locator('summary').click();
    await fold.getByRole('button', { name: 'Set it up' }).click();
    const fill = (label: string, text: string) => fold.getByLabel(label, { exact: true }).fill(text);
    await fill('Address of the broker', `mqtt://127.0.0.1:${port}`);
    await fill('Topic', 'shed/+');
    await fill('Field of the sensor’s ID', 'sensor.name');
    await fill('Field of the time', 'at');
    await fill('Field of the pressure', 'kpa');
    await fill('Field of the temperature', '');
    await fill('Field of the battery, V', 'volts');
    await fill('Field of the signal, dBm', 'dbm');
    await expectAccessible(page);
    await fold.getByRole('button', { name: 'Save and connect' }).click();
    await expect(fold.locator('summary')).toContainText('connected');

    await say('front left', 0);
    await say('front right', 0);
    const heard = (name: string) => fold.getByRole('listitem').filter({ hasText: `“${name}”` });
    await expect(heard('front left')).toContainText('heard once');
    await expect(fold.locator('summary')).toContainText('2 sensors to pair');
    await heard('front left').getByLabel('Which wheel?').selectOption('Errand: A1L');
    await heard('front left')
      .getByRole('button', { name: /^Put it there/ })
      .click();
    await expect(page.getByText('“front left” is on Errand: A1L.').first()).toBeVisible();
    await expect(heard('front left')).toContainText('Errand: A1L');
    await expect(fold.locator('summary')).toContainText('connected');
    await expect(async () => {
      await say('front left', 0);
      await expect(fold).toContainText(/[1-9]\d* readings? stored/, { timeout: 3000 });
    }).toPass();
    const wheel = async () =>
      (
        (await (await fetch(`${own.url}/api/rigs/${rig}/watch`)).json()) as {
          wheels: { position: string; pressureKpa: number }[];
        }
      ).wheels.find((w) => w.position === 'A1L')?.pressureKpa;
    expect(await wheel()).toBe(251);
    await expectAccessible(page);

    // An hour ahead: nothing of it is watched, and the page says why.
    await say('front left', 60, 240);
    await expect(fold.getByText('60 min ahead of this computer’s clock')).toBeVisible();
    await expectAccessible(page);
    expect(await wheel()).toBe(251);
    await say('front left', 0.1, 252);
    await expect(fold.getByText('ahead of this computer’s clock')).toHaveCount(0);
    await expect.poll(wheel).toBe(252);

    await fold.getByRole('button', { name: 'Remove the name front left' }).click();
    await expect(fold.getByRole('heading', { name: 'Names in the messages' })).toHaveCount(0);
    const said = page.locator('.toasts > li', { hasText: 'is on no wheel now' });
    await said.getByRole('button', { name: 'Undo' }).click();
    await expect(heard('front left')).toContainText('Errand: A1L');
  } finally {
    gateway.end(true);
    await new Promise<void>((done) => broker.close(() => done()));
    listening.close();
  }
});
