import { describe, expect, it } from 'vitest';
import type { NewUnit, Settings } from '#schema/unit.ts';
import { settingChanges } from './changes.ts';

const limits = (lowKpa: number) => ({ rule: { school: 'share' as const }, lowKpa, highKpa: 600, hotC: 70 });
const unit = (settings: Settings[], spare?: Settings): NewUnit => ({
  name: 'Van',
  kind: 'vehicle',
  axles: settings.map((s, i) => ({ settings: s, wheels: [{ position: `${i + 1}L`, sensor: null }] })),
  spares: spare ? [{ wheel: { position: 'S1', sensor: null }, settings: spare }] : [],
});

describe('settings that changed', () => {
  it('names axle, load state and both figures; what is the same but for rounding is no change', () => {
    const cold = { kpa: 500, tempC: 18 };
    const before = unit([{ loaded: { cold, limits: limits(450) } }, { loaded: { cold } }], { loaded: { cold } });
    const after = unit(
      [{ loaded: { cold, limits: limits(440) }, empty: { cold } }, { loaded: { cold: { kpa: 500 + 1e-9, tempC: 18 } } }],
      { loaded: { cold: { kpa: 480, tempC: 18 } } },
    );
    expect(
      settingChanges(before, after).map((c) => [c.axle, c.loadState, c.from.lowKpa, c.to.lowKpa, c.from.coldKpa, c.to.coldKpa]),
    ).toEqual([
      ['1', 'empty', null, null, null, 500],
      ['1', 'loaded', 450, 440, 500, 500],
      ['S1', 'loaded', null, null, 500, 480],
    ]);
    expect(settingChanges(after, after)).toEqual([]);
  });
  it('a temperature at which the cold pressure holds is a change; an axle that is new is none', () => {
    const before = unit([{ loaded: { cold: { kpa: 500, tempC: 18 } } }]);
    const after = unit([{ loaded: { cold: { kpa: 500, tempC: 5 } } }, { loaded: { cold: { kpa: 500, tempC: 5 } } }]);
    expect(settingChanges(before, after).map((c) => [c.axle, c.from.coldTempC, c.to.coldTempC])).toEqual([['1', 18, 5]]);
  });
});
