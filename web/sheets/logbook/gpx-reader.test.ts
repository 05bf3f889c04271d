import { describe, expect, it } from 'vitest';
import { writeGpx } from './gpx.ts';
import { GpxReader } from './gpx-reader.ts';

/** What is read where the text comes in pieces of a length. */
function read(text: string, piece = text.length || 1, most?: number) {
  const reader = new GpxReader(most);
  for (let i = 0; i < text.length; i += piece) reader.write(text.slice(i, i + piece));
  return reader.end();
}
const gpx = (inner: string) =>
  `<?xml version="1.0"?>\n<gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1">${inner}</gpx>`;
const track = (inner: string) => gpx(`<trk><trkseg>${inner}</trkseg></trk>`);

describe('a GPX file', () => {
  // A degree of latitude is 111.195 km on the mean sphere, so a hundredth 1.112.
  const three = track(
    `<trkpt lat="47" lon="10"><ele> 310.5 </ele><time>2026-04-01T08:00:00Z</time></trkpt>
     <trkpt lat="47.01" lon="10"><!-- a tunnel --><name>a &lt; b</name></trkpt>
     <trkpt lat="47.02" lon="10"><ele><![CDATA[-3]]>.2</ele></trkpt>`,
  );
  it.each([three.length, 1, 7, 100])('is read in pieces of %i letters', (piece) => {
    const way = read(three, piece);
    expect(way.profile.map((p) => [p.lat, p.lon, p.heightM])).toEqual([
      [47, 10, 310.5],
      [47.02, 10, -3.2],
    ]);
    expect(way.profile[1]?.km).toBeCloseTo(2.224, 3);
    expect(way).toMatchObject({ withoutHeight: 1, bad: 0, gaps: { count: 0, km: 0 } });
  });
  it('that this app writes is read again', () => {
    const way = [
      { lat: 47.000001, lon: -10.5, heightM: 310 },
      { lat: 47.1, lon: -10.25, heightM: 1940.4 },
    ];
    const text = writeGpx('To the pass & back <2>', way, [{ ...way[1], name: 'Highest "place"', text: '60 < 62' } as never]);
    expect(read(text).profile.map(({ lat, lon, heightM }) => ({ lat, lon, heightM }))).toEqual(way);
  });
  it('has its elements under any prefix, and its routes where it has no tracks', () => {
    const text = `<g:gpx xmlns:g="http://www.topografix.com/GPX/1/1"><g:rte><g:rtept lat="1" lon="2"><g:ele>5</g:ele></g:rtept></g:rte></g:gpx>`;
    expect(read(text).profile).toEqual([{ km: 0, heightM: 5, lat: 1, lon: 2 }]);
    const both = gpx(
      '<rte><rtept lat="1" lon="2"><ele>5</ele></rtept></rte><trk><trkseg><trkpt lat="3" lon="4"><ele>6</ele></trkpt></trkseg></trk>',
    );
    expect(read(both).profile.map((p) => p.lat)).toEqual([3]);
  });
  it('takes the height of the point, not one of what is added to it, nor that of a place beside the way', () => {
    const text = gpx(
      `<wpt lat="1" lon="1"><ele>9</ele></wpt><trk><trkseg>
       <trkpt lat="47" lon="10"><ele>310</ele><extensions><x:fix xmlns:x="urn:x"><x:ele>7</x:ele></x:fix></extensions></trkpt>
       <trkpt lat="47" lon="10.01"><extensions><ele>8</ele></extensions></trkpt></trkseg></trk>`,
    );
    expect(read(text)).toMatchObject({ profile: [{ heightM: 310 }], withoutHeight: 1 });
  });
  it('leaves out points without a place, and passes over heights that can’t be', () => {
    const text = track(
      '<trkpt lat="90.1" lon="0"><ele>1</ele></trkpt><trkpt lon="0"><ele>1</ele></trkpt><trkpt lat="0" lon="180.1"><ele>1</ele></trkpt>' +
        '<trkpt lat="90" lon="-180"><ele>9000</ele></trkpt><trkpt lat="90" lon="-180"><ele>-500</ele></trkpt>' +
        '<trkpt lat="90" lon="-180"><ele>9001</ele></trkpt><trkpt lat="90" lon="-180"><ele>high</ele></trkpt>',
    );
    expect(read(text)).toMatchObject({ bad: 3, withoutHeight: 2 });
  });
  it('says what is wrong', () => {
    for (const text of ['', 'time,kPa\n1,2', '<html><body/></html>', '{"type":"gpx"}', '<kml><gpx/></kml>'])
      expect(() => read(text)).toThrow('That file isn’t GPX. Choose a file with the ending .gpx.');
    expect(() => read(three.slice(0, -20))).toThrow('This file is damaged at line 4, or ends too early.');
    expect(() => read(three.replace('</ele>', '</elo>'))).toThrow('This file is damaged at line 2, or ends too early.');
    expect(() => read(gpx(''))).toThrow('This file has no track and no route.');
    expect(() => read(track('<trkpt lat="1" lon="1"/>'))).toThrow('This file has no heights.');
    const point = '<trkpt lat="1" lon="1"><ele>1</ele></trkpt>';
    const many = track(point.repeat(1001));
    expect(() => read(many, many.length, 1000)).toThrow('This file has 1,001 points; up to 1,000 are read.');
    expect(read(many, many.length, 1001).profile.length).toBeGreaterThan(0);
  });
});
