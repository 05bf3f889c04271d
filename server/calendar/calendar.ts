import ical, { ICalAlarmType, ICalCalendarMethod, ICalEventRepeatingFreq } from 'ical-generator';
import { dayIn } from '#core/calendar/day.ts';
import { type CellSigns, type Due, dueOf } from '#core/calendar/due.ts';
import type { JobId } from '#core/upkeep/jobs.ts';
import type { DueEntry } from '#schema/calendar.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { zoneHere } from '../time-zone.ts';

const DAY_MS = 86_400_000;

/** Kinds of which there may be several, each of other wheels. */
const OF_WHEELS: ReadonlySet<string> = new Set(['cells', 'sealedCells', 'tireAge']);

const JOB_TITLES: Record<JobId, string> = {
  cell: 'New sensor batteries',
  sealedCell: 'Sealed sensor batteries',
  wake: 'Wake the internal sensors',
  retighten: 'Tighten the sensors again',
  gauge: 'Compare gauge and sensors',
  spare: 'Look after the spare',
  stems: 'Stems at the tire change',
  oldTires: 'Have old tires looked at',
  storage: 'Store for the season',
  monitorCharge: 'Charge the monitor',
  monitorReset: 'Reset the monitor',
  monitorMount: 'Look at the monitor’s place',
  repeaterCharge: 'Charge the repeater',
  repeaterFuse: 'Fuse and supply of the repeater',
  repeaterReset: 'Reset the repeater',
};

/** A pressure as its owner typed it, else in kPa. */
const pressure = (kpa: number, typed: { text: string; unit: string } | undefined): string =>
  typed ? `${typed.text} ${typed.unit}` : `${kpa.toFixed(0)} kPa`;

const list = (positions: readonly string[]): string =>
  positions.length > 6 ? `${positions.slice(0, 5).join(', ')} and ${positions.length - 5} more` : positions.join(', ');

/** What is to be done, and how, in words. */
function words(d: Due): Pick<DueEntry, 'title' | 'text'> {
  switch (d.kind) {
    case 'cells':
      return {
        title: `New sensor batteries: ${list(d.positions)}`,
        text: `${d.cell} with a new seal for ${d.positions.join(', ')}, in since ${d.since}. Don’t wait for the low-battery sign.`,
      };
    case 'sealedCells':
      return {
        title: `Sensors near the end of their battery: ${list(d.positions)}`,
        text: `Sealed batteries of ${d.positions.join(', ')}, in since ${d.since}. Have new sensors fitted with the next tires.`,
      };
    case 'winter':
    case 'summer':
      return {
        title: `Reset the cold pressures for ${d.kind}`,
        text: `Cold: ${(d.resets ?? []).map((r) => `${r.axle} ${pressure(r.kpa, r.typed)} at ${Math.round(r.tempC)} °C`).join(', ')}. Key the limits for ${d.kind} too.`,
      };
    case 'warranty':
      return { title: 'The kit’s warranty ends', text: 'Test every sensor and the monitor before this day.' };
    case 'cellSign':
      return {
        title: `The low-battery sign is on: ${list(d.positions)}`,
        text: `New battery with a new seal for ${d.positions.join(', ')}. Frames fail first on cold mornings.`,
      };
    case 'cellMissed':
      return {
        title: `Dropped out again and again: ${list(d.positions)}`,
        text: `${d.positions.join(', ')} went silent three times or more in the last month. A new battery first, then Faults.`,
      };
    case 'tireAge':
      return d.last !== undefined
        ? {
            title: `Have the tires of ${list(d.positions)} looked at again`,
            text: `Made in the week of ${d.since}, last looked at on ${d.last}. A tire shop looks at them each year, whatever the tread.`,
          }
        : {
            title: `Tires of ${list(d.positions)} are six years old`,
            text: `Made in the week of ${d.since}. Have a tire shop look at them each year from now on, whatever the tread.`,
          };
    case 'job': {
      const title = JOB_TITLES[d.job as JobId];
      return { title, text: d.since ? `Last done on ${d.since}.` : 'Not done yet, as far as the log knows.' };
    }
    case 'retighten':
      return {
        title: 'Tighten the sensors again after the first drive',
        text: `Snug by hand and nut, not more, and soapy water: ${d.positions.join(', ')}.`,
      };
    case 'gauge':
      return { title: 'Compare gauge and sensors', text: `Last compared on ${d.since}. Within 1 psi is good.` };
  }
}

/** What is due on a rig, the first first, in words. */
export const dueEntries = (rig: Rig, units: readonly Unit[], nowMs: number, signs?: CellSigns): DueEntry[] => {
  const zone = zoneHere();
  const today = dayIn(zone, new Date(nowMs).toISOString());
  return dueOf(rig, units, today, signs, zone).map((d) => ({
    kind: d.kind,
    date: d.date,
    yearly: d.yearly,
    positions: d.positions,
    ...(d.job ? { job: d.job } : {}),
    overdue: d.date < today,
    ...words(d),
  }));
};

/**
 * The same as a calendar (RFC 5545): a whole day each, with a reminder in the morning of the day before. An event keeps its identity while
 * it is about the same job, so that a calendar that is subscribed to moves it instead of adding another.
 */
export function calendarOf(rig: Rig, units: readonly Unit[], nowMs: number, signs?: CellSigns): string {
  const calendar = ical({
    name: `Druckwerk: ${rig.name}`,
    prodId: { company: 'Druckwerk', product: 'Logbook', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: DAY_MS / 1000,
  });
  for (const d of dueEntries(rig, units, nowMs, signs)) {
    const start = new Date(`${d.date}T00:00:00Z`);
    const event = calendar.createEvent({
      id: `${rig.id}-${d.kind}${d.job ? `-${d.job}` : OF_WHEELS.has(d.kind) ? `-${d.positions[0]}` : ''}@druckwerk`,
      start,
      end: new Date(start.getTime() + DAY_MS),
      allDay: true,
      timezone: 'UTC',
      stamp: new Date(nowMs),
      summary: d.title,
      description: d.text,
      ...(d.yearly ? { repeating: { freq: ICalEventRepeatingFreq.YEARLY } } : {}),
    });
    // Nine in the morning of the day before.
    event.createAlarm({ type: ICalAlarmType.display, trigger: 15 * 3600, description: d.title });
  }
  return calendar.toString();
}
