import { tzOffset } from '@date-fns/tz';

/** A day without a time, as `2026-11-26`. */
const DAY = /^\d{4}-\d{2}-\d{2}$/;

/**
 * The day of a moment where its owner is, `2026-11-26`; a day stays that day. East of Greenwich the UTC day is yesterday's for a part of the
 * morning, west of it tomorrow's for a part of the evening.
 * @param time ISO 8601
 * @param zone IANA name, such as `Pacific/Auckland`
 */
export function dayIn(zone: string, time: string): string {
  if (DAY.test(time)) return time;
  const ms = Date.parse(time);
  return new Date(ms + tzOffset(zone, new Date(ms)) * 60_000).toISOString().slice(0, 10);
}
