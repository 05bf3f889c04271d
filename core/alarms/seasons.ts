import type { SeasonName, Setting } from '#schema/unit.ts';

/** Which season a day of the year falls into. */
export function seasonOn(seasons: NonNullable<Setting['seasons']>, monthDay: string): SeasonName {
  const { winter, summer } = seasons;
  const [first, last, inside] =
    winter.from < summer.from ? ([winter.from, summer.from, 'winter'] as const) : ([summer.from, winter.from, 'summer'] as const);
  const other: SeasonName = inside === 'winter' ? 'summer' : 'winter';
  return monthDay >= first && monthDay < last ? inside : other;
}

/** The setting with another season in force: its pressure and limits become those in force. */
export function putSeason(setting: Setting, name: SeasonName): Setting {
  const { seasons } = setting;
  if (!seasons) return setting;
  const { cold, limits } = seasons[name];
  return { ...setting, cold, limits, seasons: { ...seasons, inForce: name } };
}

/** The setting without seasons: what is in force stays, for all the year. */
export function withoutSeasons({ seasons: _gone, ...rest }: Setting): Setting {
  return rest;
}

/** Whether the season in force is not that of the day. */
export const seasonIsOver = (setting: Setting, monthDay: string): boolean =>
  setting.seasons !== undefined && seasonOn(setting.seasons, monthDay) !== setting.seasons.inForce;
