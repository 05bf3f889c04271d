import type { Axle, Climate, Cold, Setting, Spare, UnitKind } from '#schema/unit.ts';
import { dayOf } from '../alarms/judge.ts';
import { FieldError } from '../errors.ts';
import { type Place, placeOf } from '../rig/positions.ts';
import { readMarking, type TireMarking } from '../tire/marking.ts';
import { DEFAULT_HOT_SHARE, type LearnedRise, riseForShare } from './hot-run.ts';
import { capacityOf, type LoadMinimum, loadMinimum, type NoLoad, type TireLoad, tireLoad } from './load.ts';
import { type ColdChoice, type ColdFault, coldChoices, coldFaults } from './target.ts';

/** All that an axle's own figures say about its pressure in one load state. */
export interface AxleFacts {
  /** What its marking says; null when there is none or it cannot be read. */
  marking: TireMarking | null;
  places: Place[];
  dual: boolean;
  load: TireLoad | NoLoad;
  /** Its load minimum; null while the load is unknown. */
  minimum: LoadMinimum | null;
  capacityKg: number | null;
  placardKpa?: number;
  referenceKpa?: number;
  maxColdKpa?: number;
  rimMaxKpa?: number;
  choices: ColdChoice[];
}

function marked(text: string | undefined): TireMarking | null {
  if (text === undefined) return null;
  try {
    return readMarking(text);
  } catch (error) {
    if (error instanceof FieldError) return null;
    throw error;
  }
}

/** A passenger tire on a trailer, or on a truck as its owner says, carries less than its index. */
export const isDerated = (marking: TireMarking | null, unitKind: UnitKind, onTruck: boolean | undefined): boolean =>
  marking?.kind === 'passenger' && (unitKind === 'trailer' || onTruck === true);

/**
 * Work out an axle: its load, what carries it, and what each school of cold pressure gives.
 * @param setting what is set for the load state in question
 */
export function axleFacts(holder: Axle | Spare, unitKind: UnitKind, setting: Setting): AxleFacts {
  const marking = marked(holder.marking);
  const places = 'wheels' in holder ? holder.wheels.map((w) => placeOf(w.position) as Place) : [];
  const dual = places.some((p) => p.length === 2);
  const load = tireLoad(setting.weighing, places);
  const { tire } = holder;
  const derate = isDerated(marking, unitKind, tire?.onTruck);
  const index = { dual, indexKg: marking?.loadKg, indexDualKg: marking?.loadDualKg, derate };
  const referenceKpa = tire?.reference?.kpa;
  const minimum = 'kg' in load ? loadMinimum({ loadKg: load.kg, ...index, table: tire?.table, referenceKpa }) : null;
  const capacityKg = capacityOf(index);
  const placardKpa = setting.placard?.kpa;
  const maxColdKpa = tire?.maxCold?.kpa ?? referenceKpa;
  return {
    marking,
    places,
    dual,
    load,
    minimum,
    capacityKg,
    ...(placardKpa === undefined ? {} : { placardKpa }),
    ...(referenceKpa === undefined ? {} : { referenceKpa }),
    ...(maxColdKpa === undefined ? {} : { maxColdKpa }),
    ...(tire?.rimMax === undefined ? {} : { rimMaxKpa: tire.rimMax.kpa }),
    choices: coldChoices({
      placardKpa,
      minimumKpa: minimum?.kpa,
      referenceKpa,
      capacityKg,
      loadKg: 'kg' in load ? load.kg : undefined,
    }),
  };
}

/** What is wrong with a cold pressure on an axle. */
export const faultsOfCold = (coldKpa: number, facts: AxleFacts): ColdFault[] =>
  coldFaults(coldKpa, {
    minimumKpa: facts.minimum?.kpa,
    placardKpa: facts.placardKpa,
    maxColdKpa: facts.maxColdKpa,
    rimMaxKpa: facts.rimMaxKpa,
    faults: facts.minimum?.faults,
    capacityKg: facts.capacityKg,
  });

/** The day of a spare: it doesn't run, so the hottest it gets is the afternoon's air. */
export const atRest = (day: AxleDay): AxleDay => ({ ...day, runningC: day.hottestC, hotShare: 0 });

/** The day of an axle: what limits are compared with. */
export interface AxleDay {
  coldestC: number;
  hottestC: number;
  /** Gas of the running tire on the hottest afternoon, °C. */
  runningC: number;
  /** What a run adds, as a share of the cold pressure, and where that is from. */
  hotShare: number;
  hotShareFrom: 'typed' | 'learned' | 'practice';
  altitudeSetM: number;
  passM?: number;
}

/** A day as a display sees it that brings its pressures to one temperature by itself: cold starts and hot runs read alike. */
export const dayAsShown = (day: AxleDay, correctsToC: number | undefined): AxleDay =>
  correctsToC === undefined ? day : { ...day, coldestC: correctsToC, runningC: correctsToC };

/**
 * The day of an axle from the rig's climate. The rise of a run is the owner's own figure, else what the rig's readings showed, else
 * common practice. An axle with seasons lives in the air of the one in force.
 */
export function axleDay(
  cold: Pick<Cold, 'kpa' | 'tempC'>,
  climate: Climate,
  learned?: LearnedRise | null | undefined,
  seasons?: Setting['seasons'],
): AxleDay {
  const { coldestC, hottestC } = seasons?.[seasons.inForce] ?? climate;
  const hotShare = climate.hotShare ?? learned?.share ?? DEFAULT_HOT_SHARE;
  return {
    coldestC,
    hottestC,
    runningC: hottestC + riseForShare(cold.kpa, cold.tempC, hotShare),
    hotShare,
    hotShareFrom: climate.hotShare !== undefined ? 'typed' : learned ? 'learned' : 'practice',
    altitudeSetM: climate.altitudeSetM ?? 0,
    ...(climate.passM === undefined ? {} : { passM: climate.passM }),
  };
}

/**
 * Where a day takes a cold pressure, kPa gauge: the lower start and the higher run of home and pass. Without a climate only the run is
 * known, from the setting temperature up.
 */
export function dayEnds(cold: Pick<Cold, 'kpa' | 'tempC'>, day: AxleDay | null): { coldestKpa: number | null; hotKpa: number } {
  const q = { coldKpa: cold.kpa, coldTempC: cold.tempC };
  if (!day) {
    const runningC = cold.tempC + riseForShare(cold.kpa, cold.tempC, DEFAULT_HOT_SHARE);
    return { coldestKpa: null, hotKpa: dayOf({ ...q, coldestC: cold.tempC, runningC }).hotRunKpa };
  }
  const at = { ...q, coldestC: day.coldestC, runningC: day.runningC, altitudeSetM: day.altitudeSetM };
  const home = dayOf(at);
  const pass = day.passM === undefined ? home : dayOf({ ...at, altitudeReadM: day.passM });
  return {
    coldestKpa: Math.min(home.coldestStartKpa, pass.coldestStartKpa),
    hotKpa: Math.max(home.hotRunKpa, pass.hotRunKpa),
  };
}
