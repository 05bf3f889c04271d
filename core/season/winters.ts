/** Nights of one cold season, dates in order. */
export interface Winter {
  nights: number;
  first: string;
  last: string;
}

const DAY_MS = 86_400_000;
/** Two nights further apart than this belong to two winters, days. Ours. */
const APART_DAYS = 90;

/** Dates put together as winters: a pause of more than 90 days ends one. @param nights ISO dates in order */
export function wintersOf(nights: readonly string[]): Winter[] {
  const out: Winter[] = [];
  for (const date of nights) {
    const last = out.at(-1);
    if (last && (Date.parse(date) - Date.parse(last.last)) / DAY_MS <= APART_DAYS) {
      last.nights += 1;
      last.last = date;
    } else out.push({ nights: 1, first: date, last: date });
  }
  return out;
}
