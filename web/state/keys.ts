import { sensorKey } from '#core/pairing/ids.ts';

/** What a sensor is kept under while no display has shown its ID. */
export const freshKey = (): string => sensorKey(crypto.getRandomValues(new Uint8Array(11)));
