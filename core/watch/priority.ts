import type { AlarmKind, Severity } from '#schema/alarm.ts';

const PRIORITY: Record<AlarmKind, Severity> = {
  low: 'stop',
  rapid: 'stop',
  hot: 'stop',
  high: 'look',
  slow: 'look',
  apart: 'look',
  stuck: 'look',
  silent: 'look',
  battery: 'note',
};

/**
 * What a kind of alarm asks for when nothing more is known: air lost and a hot tire are reasons to stop, the rest to look at the next halt.
 * Stop and look sound, a note doesn't.
 */
export const severityOf = (kind: AlarmKind): Severity => PRIORITY[kind];

const URGENCY: Record<Severity, number> = { stop: 0, look: 1, note: 2 };

/** Whether one priority asks for more than another. */
export const isMoreUrgent = (a: Severity, b: Severity): boolean => URGENCY[a] < URGENCY[b];
