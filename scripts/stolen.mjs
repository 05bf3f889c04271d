import { readFileSync } from 'node:fs';

/**
 * Processor time of this machine since it started, and how much of it the machine under it took for others, in the kernel's own ticks (proc(5), the
 * line `cpu`: user, nice, system, idle, iowait, irq, softirq, steal). Null where the kernel doesn't tell.
 */
export function processorTime(text = readStat()) {
  const line = /^cpu +(.+)$/m.exec(text ?? '');
  if (!line) return null;
  const ticks = line[1].split(/ +/).slice(0, 8).map(Number);
  if (ticks.length < 8 || ticks.some(Number.isNaN)) return null;
  return { all: ticks.reduce((sum, n) => sum + n, 0), stolen: ticks[7] };
}

function readStat() {
  try {
    return readFileSync('/proc/stat', 'utf8');
  } catch {
    return null;
  }
}

/** Share that was taken between two readings, percent; null where it isn't known. */
export const stolenShare = (from, to) =>
  from && to && to.all > from.all ? (100 * (to.stolen - from.stolen)) / (to.all - from.all) : null;
