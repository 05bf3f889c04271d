import type { Alarm } from '#schema/alarm.ts';

/** What a kind of alarm is called in a list. */
export const kindWords: Record<Alarm['kind'], string> = {
  low: 'low',
  high: 'high',
  hot: 'hot',
  rapid: 'losing air fast',
  slow: 'slow loss',
  silent: 'not reporting',
  stuck: 'stuck sensor',
  apart: 'differs from its axle',
  battery: 'weak battery',
};
