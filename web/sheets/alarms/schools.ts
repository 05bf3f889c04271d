import { DEFAULT_MARGIN_KPA, DEFAULT_ROUND_KPA } from '#core/alarms/limits.ts';

import type { AlarmRule } from '#schema/unit.ts';

export type School = AlarmRule['school'];

/** A figure the owner may change in a school. */
export interface Parameter {
  key: 'lowShare' | 'highShare' | 'marginKpa' | 'ratingKpa' | 'roundKpa' | 'floorKpa' | 'ceilingKpa';
  label: string;
  kind: 'share' | 'pressure';
  /** What holds when nothing is typed; null: it must be typed. */
  usual: number | null;
}

export interface SchoolText {
  school: School;
  title: string;
  about: string;
  parameters: Parameter[];
  caution?: string;
}

const lowShare = (usual: number): Parameter => ({ key: 'lowShare', label: 'Low, under', kind: 'share', usual });
const highShare = (usual: number): Parameter => ({ key: 'highShare', label: 'High, over', kind: 'share', usual });

/** The schools in the order in which they are shown. */
export const schools: SchoolText[] = [
  {
    school: 'share',
    title: 'A share of normal',
    about: '10 % under cold, 20 % over; 25 % over in a hot climate',
    parameters: [lowShare(0.1), highShare(0.2)],
  },
  {
    school: 'margin',
    title: 'A fixed margin',
    about: '15 psi either side of cold',
    parameters: [{ key: 'marginKpa', label: 'Margin', kind: 'pressure', usual: DEFAULT_MARGIN_KPA }],
    caution: 'Made for tires of 50 psi and more: on a 30 psi tire it halves the pressure before it rings.',
  },
  {
    school: 'rating',
    title: 'From the tire’s rating',
    about: '15 % under the maximum rating, 25 % over',
    parameters: [
      { key: 'ratingKpa', label: 'Rating (cold, on the sidewall)', kind: 'pressure', usual: null },
      lowShare(0.15),
      highShare(0.25),
    ],
  },
  {
    school: 'rough',
    title: 'Rough rounding',
    about: 'about 10 % under and 25 % over, in round figures',
    parameters: [{ key: 'roundKpa', label: 'Round to', kind: 'pressure', usual: DEFAULT_ROUND_KPA }],
  },
  {
    school: 'floorCeiling',
    title: 'Floor and ceiling',
    about: 'a floor never to go under, a ceiling well under the sidewall maximum',
    parameters: [
      { key: 'floorKpa', label: 'Floor', kind: 'pressure', usual: null },
      { key: 'ceilingKpa', label: 'Ceiling', kind: 'pressure', usual: null },
    ],
  },
  { school: 'lowOnly', title: 'Low only', about: 'a little under normal, no high alarm', parameters: [lowShare(0.1)] },
  {
    school: 'baseline',
    title: 'Baseline in the monitor',
    about: 'you key the normal pressure, the monitor works out its own limits',
    parameters: [],
    caution:
      'Druckwerk then has no limit of its own here: it rings low only at 25 % under cold, the latest a factory monitor may, and never high. Key this rig’s pressure: left at the factory’s figure it guards another rig’s.',
  },
  {
    school: 'regulation',
    title: 'As a factory monitor',
    about: '25 % under the recommended cold pressure, or a floor where that is higher',
    parameters: [lowShare(0.25), { key: 'floorKpa', label: 'Floor, if there is one', kind: 'pressure', usual: 0 }],
    caution: 'It is the latest a factory monitor may warn, not the earliest it could.',
  },
];

/** A low alarm further than this under cold asks twice: a factory monitor must warn at 25 % (49 CFR 571.138 S4.2, from memory). */
export const LATE_SHARE = 0.25;

/** Hot limits over this never ring before a tire is lost: tires fail at about 77 to 93 °C (common practice, no source). */
export const USELESS_HOT_C = 93;
