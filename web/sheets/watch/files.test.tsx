import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import type { ImportAnswer } from '#schema/history.ts';
import { keys } from '../../data/queries.ts';
import { setPreferences } from '../../state/preferences.ts';
import { type Asked, mount } from '../../testing/mount.tsx';
import Files from './Files.tsx';

beforeEach(() => setPreferences({ pressure: 'kPa', temp: 'C' }));

const answer: ImportAnswer = {
  bytes: 200,
  lines: 5,
  accepted: 3,
  repeated: 1,
  passedOver: 0,
  refusedCount: 1,
  refused: [{ line: 4, column: '2', detail: '“x” isn’t a number' }],
  from: '2026-05-01T08:00:00.000Z',
  to: '2026-05-01T09:00:00.000Z',
  cancelled: false,
};

function sheet(answers: Parameters<typeof mount>[1] = {}) {
  const m = mount(<Files />, { 'GET /file-shapes': { mapping: null }, 'POST /rigs/r/import-readings': answer, ...answers });
  const choose = (text: string | Uint8Array, name = 'log.csv') =>
    fireEvent.change(screen.getByLabelText('Choose a file'), { target: { files: [new File([text as BlobPart], name)] } });
  const mapping = (asked: Asked | undefined) => JSON.parse(new URLSearchParams(asked?.path.split('?')[1]).get('mapping') ?? '{}');
  const sent = () => m.asked.find((a) => a.method === 'POST');
  const chosen = (label: string) => (screen.getByLabelText(label) as HTMLSelectElement).selectedOptions[0]?.textContent;
  const preview = () =>
    [...screen.getByRole('table', { name: /the first lines say/ }).querySelectorAll('tbody tr')].map((r) =>
      (r.textContent ?? '').replaceAll('\u00a0', ' '),
    );
  return { ...m, choose, mapping, sent, chosen, preview };
}

const table =
  'Zeit;Rad;Druck bar;Temp\n01.05.2026 10:00;vorn links;4,98;21\n01.05.2026 10:05;A1R;5,02;22\n01.05.2026 10:10;A1R;x;22\n';

describe('bringing in a file', () => {
  it('guesses what its columns mean and shows what the first lines say by that', async () => {
    const { choose, chosen, preview } = sheet();
    choose(table);
    await screen.findByRole('button', { name: 'Bring them in' });
    expect([
      chosen('Time'),
      chosen('Wheel or sensor'),
      chosen('Pressure'),
      chosen('Pressure is in'),
      chosen('Decimal sign'),
      chosen('Temperature'),
    ]).toEqual(['Zeit', 'Rad', 'Druck bar', 'bar', 'comma', 'Temp']);
    expect(preview()[0]).toMatch(/vorn links\?498 kPa21 °C$/);
    expect(preview()[1]).toMatch(/A1R502 kPa22 °C$/);
    expect(preview()[2]).toBe('Druck bar: “x” isn’t a number');
  });

  it('asks which wheel a name of the file’s own means, and remembers it with the columns', async () => {
    const { user, choose, mapping, sent } = sheet();
    choose(table);
    await user.selectOptions(await screen.findByLabelText('“vorn links”'), 'A1L');
    await user.click(screen.getByRole('button', { name: 'Bring them in' }));
    await screen.findByText(/3 readings kept, 1 were here already, 1 bad line\./);
    expect(mapping(sent()).wheels).toEqual({ 'vorn links': 'A1L' });
    expect(new URLSearchParams(sent()?.path.split('?')[1]).get('shape')).toBe('csv ; zeit|rad|druck bar|temp');
    // What is sent is the file itself, not what the page made of it.
    expect(sent()?.body).toBeInstanceOf(File);
    const bad = screen.getByRole('list', { name: 'Bad lines' });
    expect(bad.textContent).toBe('Line 4 Druck bar: “x” isn’t a number');
    expect(screen.getByRole('link', { name: 'Look at the charts' })).toBeTruthy();
  });

  it('knows a make of file again', async () => {
    const known = {
      kind: 'csv',
      delimiter: ';',
      header: true,
      decimal: ',',
      time: '0',
      clock: null,
      timeFormat: 'local',
      zone: 'UTC',
      wheel: '1',
      wheels: { 'vorn links': 'A2LO' },
      pressure: '2',
      pressureUnit: 'psi',
      temp: null,
      tempUnit: 'C',
      battery: null,
      rssi: null,
    };
    const { choose, chosen } = sheet({ 'GET /file-shapes': { mapping: known } });
    choose(table);
    await screen.findByText(/a make that is known/);
    expect([chosen('Pressure is in'), chosen('Temperature'), chosen('“vorn links”')]).toEqual(['psi', 'none', 'A2LO']);
  });

  it('takes NDJSON by the names of its fields', async () => {
    const { choose, chosen, preview } = sheet();
    choose('{"time":"2026-05-01T08:00:00Z","sensorId":"A00000","pressureKpa":500,"tempC":20}\nhalf a li', 'log.ndjson');
    await screen.findByRole('button', { name: 'Bring them in' });
    expect([chosen('Time'), chosen('Wheel or sensor'), chosen('Pressure is in')]).toEqual(['time', 'sensorId', 'kPa']);
    expect(preview()[0]).toMatch(/A1L500 kPa20 °C$/);
  });

  it('reads UTF-16, as spreadsheets write it', async () => {
    const { choose, chosen } = sheet();
    const bytes = new Uint8Array([0xff, 0xfe, ...[...table].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8])]);
    choose(bytes);
    await screen.findByRole('button', { name: 'Bring them in' });
    expect(chosen('Pressure')).toBe('Druck bar');
  });

  it('says what is wrong with a file that holds nothing', async () => {
    const { choose } = sheet();
    choose('');
    expect((await screen.findByRole('alert')).textContent).toBe('The file is empty.');
    choose('\n\n \n');
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('There is no line in the file.'));
  });

  it('names a zone that there is none, and does not begin', async () => {
    const { user, choose } = sheet();
    choose(table);
    const zone = await screen.findByLabelText(/^Time zone of that clock/);
    await user.clear(zone);
    await user.type(zone, 'Moon/Base');
    expect(screen.getByRole('alert').textContent).toMatch(/There is no such zone/);
    expect((screen.getByRole('button', { name: 'Bring them in' }) as HTMLButtonElement).disabled).toBe(true);
  });

  it('shows how far it has come while it runs, and lets it be ended', async () => {
    let finish: (a: unknown) => void = () => undefined;
    const { user, choose, client, sent } = sheet({ 'POST /rigs/r/import-readings': () => new Promise((r) => (finish = r)) });
    choose(table);
    await user.click(await screen.findByRole('button', { name: 'Bring them in' }));
    const job = new URLSearchParams(sent()?.path.split('?')[1]).get('job') as string;
    // Another page's import is none of this one's.
    client.setQueryData(keys.importOf('r'), { ...answer, accepted: 77, job: 'another' });
    expect(screen.queryByText(/77 readings kept/)).toBeNull();
    client.setQueryData(keys.importOf('r'), { ...answer, bytes: 60, accepted: 2, job });
    expect(await screen.findByText(/2 readings kept/)).toBeTruthy();
    expect((screen.getByRole('progressbar', { name: 'Read so far' }) as HTMLProgressElement).value).toBe(60);
    expect(screen.getByRole('button', { name: 'Cancel' })).toBeTruthy();
    finish(answer);
    await screen.findByText(/3 readings kept/);
    expect(screen.queryByRole('button', { name: 'Cancel' })).toBeNull();
  });

  it('a refusal is told and the form stays as it was', async () => {
    const { user, choose, chosen } = sheet({ 'POST /rigs/r/import-readings': 400 });
    choose(table);
    await user.selectOptions(await screen.findByLabelText('Pressure is in'), 'psi');
    await user.click(screen.getByRole('button', { name: 'Bring them in' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The server refuses.');
    expect(chosen('Pressure is in')).toBe('psi');
  });
});

it('readings and alarms go out as CSV and NDJSON', () => {
  sheet();
  const out = within(screen.getByRole('region', { name: 'Export' }));
  expect(out.getAllByRole('link').map((a) => a.getAttribute('href'))).toEqual([
    '/api/rigs/r/export-readings?format=csv',
    '/api/rigs/r/export-readings?format=ndjson',
    '/api/rigs/r/export-alarms?format=csv',
    '/api/rigs/r/export-alarms?format=ndjson',
  ]);
});
