import type { TripAxle, tripOutlook } from '#core/trip/outlook.ts';
import type { ProfilePoint } from '#core/trip/track.ts';
import type { Format } from '../../parts/format.ts';
import type { NamedPlace } from './gpx.ts';

/** Places of a trip worth a name on a map: the top with its pressures, and where a fixed limit first rings for physics alone. */
export function placesOf(
  profile: readonly ProfilePoint[],
  axles: readonly TripAxle[],
  out: ReturnType<typeof tripOutlook>,
  f: Format,
): NamedPlace[] {
  const at = (i: number, name: string, text: string): NamedPlace[] => {
    const p = profile[i];
    return p?.lat === undefined || p.lon === undefined ? [] : [{ lat: p.lat, lon: p.lon, heightM: p.heightM, name, text }];
  };
  const top = profile.reduce((best, p, i) => (p.heightM > (profile[best]?.heightM ?? 0) ? i : best), 0);
  const there = axles
    .map((a, k) => {
      const x = out.stages[top]?.axles[k];
      return x ? `${a.axle} ${f.figure(x.restKpa)} at rest, ${f.figure(x.runningKpa)} running` : '';
    })
    .filter(Boolean);
  return [
    ...at(top, 'Highest place', `${there.join('; ')} (${f.unit})`),
    ...axles.flatMap((a, k) =>
      (['low', 'high'] as const).flatMap((kind) => {
        const first = out.stages.findIndex((s) => s.axles[k]?.rings.includes(kind));
        return first < 0 ? [] : at(first, `${a.axle} ${kind}`, `From here a fixed ${kind} limit rings for physics alone.`);
      }),
    ),
  ];
}
