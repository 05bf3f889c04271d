import type { TrackPoint } from '#core/trip/track.ts';

/** The most points of one file. */
export const MOST_POINTS = 500_000;

export interface GpxRead {
  points: TrackPoint[];
  /** Points that have no height, or no place. */
  withoutHeight: number;
  bad: number;
}

/**
 * The points of a GPX 1.1 file: tracks, or where it has none its routes.
 * @throws Error in words for the owner where it isn't one or has no points
 */
export function readGpx(text: string): GpxRead {
  const doc = new DOMParser().parseFromString(text, 'application/xml');
  if (doc.querySelector('parsererror') || doc.documentElement.localName !== 'gpx')
    throw new Error('That file isn’t GPX. Choose a file with the ending .gpx.');
  const tracks = doc.getElementsByTagNameNS('*', 'trkpt');
  const all = tracks.length > 0 ? tracks : doc.getElementsByTagNameNS('*', 'rtept');
  if (all.length === 0) throw new Error('This file has no track and no route.');
  if (all.length > MOST_POINTS)
    throw new Error(
      `This file has ${all.length.toLocaleString('en-GB')} points; up to ${MOST_POINTS.toLocaleString('en-GB')} are read.`,
    );
  const out: GpxRead = { points: [], withoutHeight: 0, bad: 0 };
  for (const el of all) {
    const [lat, lon] = [Number.parseFloat(el.getAttribute('lat') ?? ''), Number.parseFloat(el.getAttribute('lon') ?? '')];
    if (!(Math.abs(lat) <= 90 && Math.abs(lon) <= 180)) {
      out.bad += 1;
      continue;
    }
    let heightM: number | null = null;
    for (const child of el.children) if (child.localName === 'ele') heightM = Number.parseFloat(child.textContent ?? '');
    if (heightM === null || !(heightM >= -500 && heightM <= 9000)) {
      heightM = null;
      out.withoutHeight += 1;
    }
    out.points.push({ lat, lon, heightM });
  }
  if (out.points.every((p) => p.heightM === null))
    throw new Error('This file has no heights. Record the way with heights, or type the stages.');
  return out;
}
