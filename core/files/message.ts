import type { GatewayFields } from '#schema/gateway.ts';
import { type FileReading, type LineFault, plainFields, readLine } from './columns.ts';

/**
 * Read a message of a gateway by its fields, as a line of a file is read.
 * @param topic it came under
 * @param payload a JSON object, or a figure alone when the pressure is asked for by the field `value`
 * @param names names in messages, with the sensor each is
 * @param arrivedMs when it came, ms since the epoch: its time when it carries none
 * @returns the reading, its `wheel` the sensor's ID; what is wrong; or null for a name that is to be skipped
 */
export function readMessage(
  topic: string,
  payload: string,
  fields: GatewayFields,
  names: Readonly<Record<string, string>>,
  arrivedMs: number,
): FileReading | LineFault | null {
  let value: unknown;
  try {
    value = JSON.parse(payload);
  } catch {
    return { column: '', detail: 'isn’t JSON' };
  }
  if (typeof value === 'number') value = { value };
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return { column: '', detail: 'isn’t an object' };
  const object = value as Record<string, unknown>;
  const levels = topic.split('/');
  const cell = (name: string): string | undefined => {
    if (name === ARRIVED) return String(arrivedMs);
    const level = /^topic:(\d+)$/.exec(name);
    if (level) return levels[Number(level[1]) - 1];
    let at: unknown = object;
    // A dot may be a part of the name too.
    for (const key of Object.hasOwn(object, name) ? [name] : name.split('.')) {
      if (typeof at !== 'object' || at === null || !Object.hasOwn(at, key)) return undefined;
      at = (at as Record<string, unknown>)[key];
    }
    return at === null || at === undefined || typeof at === 'object' ? undefined : String(at);
  };
  return readLine(cell, {
    ...plainFields,
    wheel: fields.sensor,
    wheels: names,
    time: fields.time ?? ARRIVED,
    timeFormat: fields.time === null ? 'epochMs' : fields.timeFormat,
    pressure: fields.pressure,
    pressureUnit: fields.pressureUnit,
    temp: fields.temp,
    tempUnit: fields.tempUnit,
    battery: fields.battery,
    rssi: fields.rssi,
  });
}

/** The name of a field that isn't in the message: its time of arrival. */
const ARRIVED = '\u0000arrived';
