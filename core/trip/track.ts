/** A point of a recorded or planned way. */
export interface TrackPoint {
  lat: number;
  lon: number;
  /** Height, m; null where the file has none. */
  heightM: number | null;
}

/** A place on the way: how far along, km, and how high, m. */
export interface ProfilePoint {
  km: number;
  heightM: number;
  /** Where it is, degrees; left out where only kilometres are known. */
  lat?: number | undefined;
  lon?: number | undefined;
}

const EARTH_KM = 6371.0088;
const rad = (deg: number) => (deg * Math.PI) / 180;

/** Distance of two places on the mean sphere, km (haversine formula; mean radius of the IUGG, from memory). */
export function distanceKm(a: Pick<TrackPoint, 'lat' | 'lon'>, b: Pick<TrackPoint, 'lat' | 'lon'>): number {
  const dLat = rad(b.lat - a.lat);
  const dLon = rad(b.lon - a.lon);
  const h = Math.sin(dLat / 2) ** 2 + Math.cos(rad(a.lat)) * Math.cos(rad(b.lat)) * Math.sin(dLon / 2) ** 2;
  return 2 * EARTH_KM * Math.asin(Math.min(1, Math.sqrt(h)));
}

/**
 * The height over the way. Points without a height count for the distance alone. A long way is thinned to at most `most` stretches, each with its
 * lowest and highest place, so that no pass is lost.
 * @returns empty where no point has a height
 */
export function profileOf(points: readonly TrackPoint[], most = 500): ProfilePoint[] {
  const all: ProfilePoint[] = [];
  let km = 0;
  points.forEach((p, i) => {
    const before = points[i - 1];
    if (before) km += distanceKm(before, p);
    if (p.heightM !== null) all.push({ km, heightM: p.heightM, lat: p.lat, lon: p.lon });
  });
  return all.length <= 2 * most ? all : thinned(all, most);
}

/** A profile of at most `most` stretches, each with its lowest and highest place, its start and its end. */
export function thinned(all: readonly ProfilePoint[], most: number): ProfilePoint[] {
  const out: ProfilePoint[] = [all[0] as ProfilePoint];
  const each = all.length / most;
  for (let s = 0; s < most; s += 1) {
    const part = all.slice(Math.floor(s * each), Math.floor((s + 1) * each));
    let low = part[0] as ProfilePoint;
    let high = low;
    for (const p of part) {
      if (p.heightM < low.heightM) low = p;
      if (p.heightM > high.heightM) high = p;
    }
    out.push(...(low.km <= high.km ? [low, high] : [high, low]));
  }
  out.push(all.at(-1) as ProfilePoint);
  return out.filter((p, i) => i === 0 || p.km !== out[i - 1]?.km);
}

/** Points further apart than this have nothing recorded between them: a tunnel, a ferry, a recorder that was off, km. Ours. */
const GAP_KM = 3;

/** Stretches without a point: they count as straight lines. */
export function gapsOf(points: readonly TrackPoint[]): { count: number; km: number } {
  let count = 0;
  let km = 0;
  points.forEach((p, i) => {
    const before = points[i - 1];
    const d = before ? distanceKm(before, p) : 0;
    if (d <= GAP_KM) return;
    count += 1;
    km += d;
  });
  // A way of a few places is all gaps, and means it so.
  return count > points.length / 4 ? { count: 0, km: 0 } : { count, km };
}

/** Air gets cooler by this with height, K a metre (U.S. Standard Atmosphere 1976 / ISO 2533). */
export const LAPSE_K_PER_M = 0.0065;
