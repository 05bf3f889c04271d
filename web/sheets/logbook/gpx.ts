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
