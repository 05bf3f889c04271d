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

/** A place that is named in a file: a pass, a limit that would ring. */
export interface NamedPlace {
  lat: number;
  lon: number;
  heightM: number;
  name: string;
  text: string;
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string);

/** A way with its named places as a GPX 1.1 file. */
export function writeGpx(
  name: string,
  way: readonly { lat: number; lon: number; heightM: number }[],
  places: readonly NamedPlace[],
): string {
  const at = (p: { lat: number; lon: number }) => `lat="${p.lat.toFixed(6)}" lon="${p.lon.toFixed(6)}"`;
  const ele = (p: { heightM: number }) => `<ele>${p.heightM.toFixed(1)}</ele>`;
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<gpx version="1.1" creator="Druckwerk" xmlns="http://www.topografix.com/GPX/1/1">',
    `<metadata><name>${escaped(name)}</name></metadata>`,
    ...places.map((p) => `<wpt ${at(p)}>${ele(p)}<name>${escaped(p.name)}</name><desc>${escaped(p.text)}</desc></wpt>`),
    `<trk><name>${escaped(name)}</name><trkseg>`,
    ...way.map((p) => `<trkpt ${at(p)}>${ele(p)}</trkpt>`),
    '</trkseg></trk>',
    '</gpx>',
    '',
  ].join('\n');
}
