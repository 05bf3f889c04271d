import { FieldError } from '../errors.ts';
import { loadOfIndex, SPEED_SYMBOL_KMH } from './load-index.ts';

/** What sort of size a marking is. */
export type TireKind = 'passenger' | 'lightTruck' | 'specialTrailer' | 'commercial' | 'motorcycle' | 'inch' | 'flotation';

/** How the carcass is built: radial, bias (a dash or D) or belted bias. */
export type Construction = 'radial' | 'bias' | 'beltedBias';

/** What a marking says. */
export interface TireMarking {
  kind: TireKind;
  /** Section width, mm. */
  widthMm: number;
  /** Height of the section over its width, per cent. */
  aspectPercent: number;
  /** Nominal rim diameter, inches. */
  rimIn: number;
  construction: Construction;
  /** Load index of a single tire, and what it means, kg. */
  loadIndex?: number;
  loadKg?: number;
  /** The same when it runs as one of a dual pair. */
  loadIndexDual?: number;
  loadDualKg?: number;
  speedSymbol?: string;
  speedKmh?: number;
  /** Overall diameter by definition: rim and twice the section height (ISO 4000-1, from memory), mm. */
  diameterMm: number;
  /** Air it holds, litres: an estimate (`airVolumeLitres`). */
  airLitres: number;
  /** Letter of the load range, as on many trailer and light truck tires. */
  loadRange?: string;
  /** Ply rating. */
  plies?: number;
  /** Words that were understood and carry no figure. */
  marks: ('extraLoad' | 'tubeless' | 'tubeType' | 'mudAndSnow' | 'winter' | 'motorcycle' | 'runFlat')[];
  /** Figures that the marking does not give and that were assumed. */
  assumed: 'aspectPercent'[];
  /** What could not be read. */
  unread: string[];
}

/**
 * Air in a tire, litres: `pi/4 * (outer^2 - rim^2) * 0.8 * width`; the shape factor of 0.8 is assumed.
 * @param diameterMm overall diameter, mm
 * @param rimIn rim diameter, inches
 * @param widthMm section width, mm
 */
export function airVolumeLitres(diameterMm: number, rimIn: number, widthMm: number): number {
  const rimMm = rimIn * 25.4;
  return ((Math.PI / 4) * (diameterMm ** 2 - rimMm ** 2) * 0.8 * widthMm) / 1e6;
}

/** A size before its description. */
interface Size {
  kind: TireKind;
  widthMm: number;
  /** As written, or null: then `assumedAspect` or the diameter stands in. */
  aspectPercent: number | null;
  assumedAspect?: number;
  diameterMm: number | null;
  rimIn: number;
  construction: Construction;
  /** The part of the marking it took. */
  text: string;
}

const construction = (letter: string): Construction => (letter.includes('R') ? 'radial' : letter === 'B' ? 'beltedBias' : 'bias');
const prefixKind: Record<string, TireKind> = { P: 'passenger', LT: 'lightTruck', ST: 'specialTrailer', T: 'passenger' };
const suffixKind: Record<string, TireKind> = { LT: 'lightTruck', ST: 'specialTrailer', C: 'commercial', CP: 'commercial' };

// A rim is a whole or half number of inches; a letter or digit behind it belongs to the next word.
const RIM = String.raw`(\d{1,2}(?:\.5)?)`;
const METRIC = new RegExp(
  String.raw`(?:^|\s)(P|LT|ST|T)?\s?(\d{2,3})\s?/\s?(\d{2,3})\s?(ZR|R|B|D|-)\s?(?:F\s?)?${RIM}\s?(LT|ST|CP|C)?(?=[\s(]|$)`,
);
const FULL = new RegExp(String.raw`(?:^|\s)(P|LT|ST)?\s?(1[2-9]\d|2[0-4]\d)\s?(ZR|R|-)\s?${RIM}\s?(LT|CP|C)?(?=[\s(]|$)`);
const FLOTATION = new RegExp(
  String.raw`(?:^|\s)(LT)?\s?(\d{2}(?:\.\d{1,2})?)\s?X\s?(\d{1,2}(?:\.\d{1,2})?)\s?(R|B|D|-)\s?${RIM}\s?(LT|C)?(?=[\s(]|$)`,
);
const INCH = new RegExp(
  String.raw`(?:^|\s)(LT|ST)?\s?(\d{1,2}(?:\.\d{1,2})?)(?:\/\d{1,2}(?:\.\d{1,2})?)?\s?(R|B|D|-)\s?${RIM}\s?(LT|ST|C|MH)?(?=[\s(]|$)`,
);

/** Metric without a height ("155 R 13") runs at 82 %, as such sizes are built (assumed). */
const FULL_ASPECT = 82;
/** Old inch sizes are about as high as wide; the low-section ones (4.80, 5.30, …) about 88 % (assumed). */
const inchAspect = (width: string): number => (/^\d+(\.(00|25|50|75|0|5))?$/.test(width) ? 100 : 88);

function readSize(text: string): Size | null {
  const metric = METRIC.exec(text);
  if (metric) {
    const [all, prefix, width, aspect, letter, rim, suffix] = metric as unknown as string[];
    const dash = letter === '-' || letter === 'B';
    return {
      kind: suffixKind[suffix ?? ''] ?? prefixKind[prefix ?? ''] ?? (dash ? 'motorcycle' : 'passenger'),
      widthMm: Number(width),
      aspectPercent: Number(aspect),
      diameterMm: null,
      rimIn: Number(rim),
      construction: construction(letter as string),
      text: all as string,
    };
  }
  const flotation = FLOTATION.exec(text);
  if (flotation) {
    const [all, , diameter, width, letter, rim] = flotation as unknown as string[];
    return {
      kind: 'flotation',
      widthMm: Number(width) * 25.4,
      aspectPercent: null,
      diameterMm: Number(diameter) * 25.4,
      rimIn: Number(rim),
      construction: construction(letter as string),
      text: all as string,
    };
  }
  const full = FULL.exec(text);
  if (full) {
    const [all, prefix, width, letter, rim, suffix] = full as unknown as string[];
    return {
      kind: suffixKind[suffix ?? ''] ?? prefixKind[prefix ?? ''] ?? 'passenger',
      widthMm: Number(width),
      aspectPercent: null,
      assumedAspect: FULL_ASPECT,
      diameterMm: null,
      rimIn: Number(rim),
      construction: construction(letter as string),
      text: all as string,
    };
  }
  const inch = INCH.exec(text);
  if (inch) {
    const [all, prefix, width, letter, rim, suffix] = inch as unknown as string[];
    return {
      kind: suffixKind[suffix ?? ''] ?? prefixKind[prefix ?? ''] ?? 'inch',
      widthMm: Number(width) * 25.4,
      aspectPercent: null,
      assumedAspect: inchAspect(width as string),
      diameterMm: null,
      rimIn: Number(rim),
      construction: construction(letter as string),
      text: all as string,
    };
  }
  return null;
}

const SERVICE = /(?:^|\s)\(?(\d{2,3})(?:\s?\/\s?(\d{2,3}))?\s?(A[1-8]|[B-HJ-NP-WY])?\)?(?=\s|$)/;

const words: [RegExp, TireMarking['marks'][number]][] = [
  [/(?:^|\s)(XL|EXTRA LOAD|REINF(?:ORCED)?|RF)(?=\s|$)/, 'extraLoad'],
  [/(?:^|\s)(TL|TUBELESS)(?=\s|$)/, 'tubeless'],
  [/(?:^|\s)(TT|TUBE TYPE)(?=\s|$)/, 'tubeType'],
  [/(?:^|\s)(M\+S|M&S|M\/S)(?=\s|$)/, 'mudAndSnow'],
  [/(?:^|\s)(3PMSF)(?=\s|$)/, 'winter'],
  [/(?:^|\s)(M\/C)(?=\s|$)/, 'motorcycle'],
  [/(?:^|\s)(ROF|RSC|RUN ?FLAT)(?=\s|$)/, 'runFlat'],
];

/**
 * Read what stands on a sidewall: passenger metric, LT, ST, C, motorcycle (metric, with dash too), old inch and flotation sizes.
 * @param marking such as `LT235/80R16 120/116Q`, in any case and spacing
 * @throws FieldError at `/marking` when no width and rim can be read
 */
export function readMarking(marking: string): TireMarking {
  let rest = ` ${marking.toUpperCase().replaceAll('×', 'X').replaceAll(',', '.').replace(/\s+/g, ' ').trim()} `;
  const marks: TireMarking['marks'] = [];
  for (const [pattern, mark] of words) {
    if (!pattern.test(rest)) continue;
    marks.push(mark);
    rest = rest.replace(pattern, ' ');
  }
  const size = readSize(rest);
  if (!size || size.widthMm <= 0 || size.rimIn <= 0) {
    throw new FieldError('/marking', 'no width and rim can be read in it; a size looks like 205/55 R16, ST205/75R15 or 4.80-12');
  }
  rest = rest.replace(size.text, ' ');
  const assumed: TireMarking['assumed'] = [];
  const kind = marks.includes('motorcycle') ? 'motorcycle' : size.kind;
  const rimMm = size.rimIn * 25.4;
  let { aspectPercent, diameterMm } = size;
  if (diameterMm !== null) aspectPercent = ((diameterMm - rimMm) / 2 / size.widthMm) * 100;
  else {
    if (aspectPercent === null) {
      assumed.push('aspectPercent');
      aspectPercent = size.assumedAspect ?? 100;
    }
    diameterMm = rimMm + (2 * aspectPercent * size.widthMm) / 100;
  }
  const out: TireMarking = {
    kind,
    widthMm: round(size.widthMm, 1),
    aspectPercent: round(aspectPercent as number, 1),
    rimIn: size.rimIn,
    construction: size.construction,
    diameterMm: round(diameterMm, 1),
    airLitres: round(airVolumeLitres(diameterMm, size.rimIn, size.widthMm), 1),
    marks,
    assumed,
    unread: [],
  };
  const range = /(?:^|\s)(?:LOAD RANGE|LR)\s?([A-N])(?=\s|$)/.exec(rest);
  if (range) {
    out.loadRange = range[1] as string;
    rest = rest.replace(range[0], ' ');
  }
  const plies = /(?:^|\s)(\d{1,2})\s?(?:PR|PLY)(?=\s|$)/.exec(rest);
  if (plies) {
    out.plies = Number(plies[1]);
    rest = rest.replace(plies[0], ' ');
  }
  const service = SERVICE.exec(rest);
  if (service) {
    const [all, single, dual, speed] = service as unknown as string[];
    const loadKg = loadOfIndex(Number(single));
    const loadDualKg = dual === undefined ? null : loadOfIndex(Number(dual));
    if (loadKg !== null && (dual === undefined || loadDualKg !== null)) {
      rest = rest.replace(all as string, ' ');
      out.loadIndex = Number(single);
      out.loadKg = loadKg;
      if (dual !== undefined && loadDualKg !== null) {
        out.loadIndexDual = Number(dual);
        out.loadDualKg = loadDualKg;
      }
      if (speed !== undefined) {
        out.speedSymbol = speed;
        out.speedKmh = SPEED_SYMBOL_KMH[speed] as number;
      }
    }
  }
  out.unread = rest.split(' ').filter((w) => w !== '');
  return out;
}

const round = (value: number, digits: number): number => Math.round(value * 10 ** digits) / 10 ** digits;
