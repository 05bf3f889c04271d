import { describe, expect, it } from 'vitest';
import { distanceKm, profileOf, type TrackPoint } from './track.ts';

describe('distances', () => {
  it('one degree along a meridian is 111.195 km: 2 * pi * 6371.0088 / 360, worked by hand', () => {
    expect(distanceKm({ lat: 47, lon: 10 }, { lat: 48, lon: 10 })).toBeCloseTo(111.195, 3);
  });
  it('along the equator as much, at 60 degrees half of it', () => {
    expect(distanceKm({ lat: 0, lon: 10 }, { lat: 0, lon: 11 })).toBeCloseTo(111.195, 3);
    // cos 60° = 0.5; the great circle is a hair shorter than the parallel.
    expect(distanceKm({ lat: 60, lon: 10 }, { lat: 60, lon: 11 })).toBeCloseTo(55.595, 2);
  });
  it('a quarter round the earth is 10,007.6 km: pi / 2 * 6371.0088', () => {
    expect(distanceKm({ lat: 0, lon: 0 }, { lat: 0, lon: 90 })).toBeCloseTo(10_007.557, 2);
  });
});

describe('a profile', () => {
  const way = (heights: (number | null)[]): TrackPoint[] =>
    heights.map((heightM, i) => ({ lat: 47 + i / 100, lon: 10, heightM }));
  it('has the height over the kilometres; a point without one counts for the way', () => {
    const p = profileOf(way([300, null, 500]));
    expect(p.map((x) => x.heightM)).toEqual([300, 500]);
    expect(p[1]?.km).toBeCloseTo(2.2239, 3);
    expect(profileOf(way([null, null]))).toEqual([]);
  });
  it('keeps the pass and the valley of a long way', () => {
    const heights = Array.from({ length: 100_000 }, (_, i) => (i === 61_234 ? 2404 : i === 8_001 ? 12 : 500));
    const p = profileOf(way(heights));
    expect(p.length).toBeLessThanOrEqual(1002);
    expect(Math.max(...p.map((x) => x.heightM))).toBe(2404);
    expect(Math.min(...p.map((x) => x.heightM))).toBe(12);
    expect(p.every((x, i) => i === 0 || x.km >= (p[i - 1]?.km ?? 0))).toBe(true);
  });
});
