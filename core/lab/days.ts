import type { Day } from '../climate/daily.ts';

/** Days of a CSV file with the columns `date`, `temp_max` and `temp_min` (°C), in whatever order. */
export function readDays(text: string): Day[] {
  const [head = '', ...lines] = text.trim().split(/\r?\n/);
  const names = head.split(',');
  const at = (name: string) => names.indexOf(name);
  const [date, most, least] = [at('date'), at('temp_max'), at('temp_min')];
  return lines.map((l) => {
    const cells = l.split(',');
    return { date: cells[date] ?? '', maxC: Number(cells[most]), minC: Number(cells[least]) };
  });
}
