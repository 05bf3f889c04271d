import { carDocument } from '../server/testing-documents.ts';
import { expect, post, type ServerProcess } from './server.ts';

/** A car of four wheels, and a rig of it. @returns the rig's ID */
export async function makeCar(own: ServerProcess, name: string, ids: string[]): Promise<string> {
  const unit = await post<{ id: string }>(own, 'units', { ...carDocument(ids), name });
  return (await post<{ id: string }>(own, 'rigs', { name, unitIds: [unit.id], loadState: 'loaded' })).id;
}
/** Sensors of the car of this number. */
export const idsOf = (rig: number) => [1, 2, 3, 4].map((w) => `B${rig.toString(16).toUpperCase().padStart(4, '0')}${w}`);
/** A reading as a line of NDJSON. */
export const line = (sensorId: string, ms: number, kpa = 250) =>
  `{"sensorId":"${sensorId}","time":"${new Date(ms).toISOString()}","pressureKpa":${kpa},"tempC":20}`;
/** Post lines of readings. */
export const send = (own: ServerProcess, body: string, history = true) =>
  fetch(`${own.url}/api/readings${history ? '?history=true' : ''}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/x-ndjson' },
    body,
  });

/** Ask something small again and again, as a page does. @returns ends it, with how long the slowest took, ms */
export function probe(own: ServerProcess): () => Promise<number> {
  let slowest = 0;
  let on = true;
  const asking = (async () => {
    while (on) {
      const from = performance.now();
      expect((await fetch(`${own.url}/api/rigs`)).ok).toBe(true);
      slowest = Math.max(slowest, performance.now() - from);
      await new Promise((r) => setTimeout(r, 50));
    }
  })();
  return async () => {
    on = false;
    await asking;
    return slowest;
  };
}

/** A GPX file of these heights, a point each so many degrees of latitude. */
export const gpxOf = (heights: number[], everyDeg: number): Buffer =>
  Buffer.from(
    `<gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${heights
      .map((h, i) => `<trkpt lat="${(40 + i * everyDeg).toFixed(6)}" lon="10"><ele>${h}</ele></trkpt>`)
      .join('')}</trkseg></trk></gpx>`,
  );
