import { gpx } from '@tmcw/togeojson';
import { describe, expect, it } from 'vitest';
import { gapsOf, profileOf, thinned } from '#core/trip/track.ts';
import { writeGpx } from './gpx.ts';

const way = [
  { lat: 47.000001, lon: -10.5, heightM: 310 },
  { lat: 47.1, lon: -10.25, heightM: 1940.4 },
  { lat: 47.2, lon: -10, heightM: -3.2 },
];

describe('a GPX file', () => {
  it('that is written is read by another program', () => {
    const text = writeGpx('To the pass & back <2>', way, [
      { lat: 47.1, lon: -10.25, heightM: 1940.4, name: 'Highest "place"', text: 'A1 60 < 62' },
    ]);
    const { features } = gpx(new DOMParser().parseFromString(text, 'application/xml') as never) as {
      features: { geometry: { type: string; coordinates: number[][] }; properties: Record<string, unknown> }[];
    };
    expect(features.map((x) => x.geometry.type)).toEqual(['LineString', 'Point']);
    const [line, point] = features;
    expect(line?.properties.name).toBe('To the pass & back <2>');
    expect(line?.geometry.coordinates).toEqual([
      [-10.5, 47.000001, 310],
      [-10.25, 47.1, 1940.4],
      [-10, 47.2, -3.2],
    ]);
    expect(point?.properties).toMatchObject({ name: 'Highest "place"', desc: 'A1 60 < 62' });
  });
  it('with a gap says how long it is; a way of a few places is meant so', () => {
    // A degree of latitude is 111.195 km on the mean sphere.
    const near = Array.from({ length: 100 }, (_, i) => ({ lat: 47 + i / 10_000, lon: 10, heightM: 500 }));
    const gap = gapsOf([...near, ...near.map((p) => ({ ...p, lat: p.lat + 0.1 }))]);
    expect(gap.count).toBe(1);
    expect(gap.km).toBeCloseTo(111.195 * (0.1 - 0.0099), 1);
    expect(gapsOf(way)).toEqual({ count: 0, km: 0 });
  });
  it('keeps where each place is, also thinned', () => {
    const profile = profileOf(way);
    expect(profile.map((p) => [p.lat, p.lon])).toEqual(way.map((p) => [p.lat, p.lon]));
    const long = Array.from({ length: 5000 }, (_, i) => ({
      km: i,
      heightM: i === 2345 ? 2500 : 500,
      lat: 47,
      lon: 10 + i / 1e4,
    }));
    const few = thinned(long, 50);
    expect(few.length).toBeLessThanOrEqual(102);
    expect(few.find((p) => p.heightM === 2500)).toMatchObject({ km: 2345, lon: 10.2345 });
  });
});
