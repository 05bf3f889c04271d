import type { ColumnMapping } from './columns.ts';

/** How a table of readings as this app writes it is read: columns in the order of time, wheel, pressure, temperature, volts, level. */
export const plainMapping = (change: Partial<ColumnMapping> = {}): ColumnMapping => ({
  kind: 'csv',
  delimiter: ',',
  header: true,
  decimal: '.',
  time: '0',
  clock: null,
  timeFormat: 'iso',
  zone: 'UTC',
  wheel: '1',
  wheels: {},
  pressure: '2',
  pressureUnit: 'kPa',
  temp: '3',
  tempUnit: 'C',
  battery: '4',
  rssi: '5',
  ...change,
});
