import type { SceneId } from '#schema/bench.ts';
import type { SensorKind } from '#schema/common.ts';
import type { PairingStyle } from '#schema/unit.ts';
import type { MenuStop } from '../alarms/menu.ts';
import type { RandomState } from './random.ts';

/** A wheel as the bench gets it. */
export interface BenchWheelSetup {
  position: string;
  /** Cold target, kPa gauge, and the temperature it was set at. */
  coldKpa: number;
  coldTempC: number;
  /** Air in the tire, litres. */
  airLitres: number;
  /** Load over rated load. */
  loadShare: number;
  /** The other wheel of a dual pair. */
  twin: string | null;
  /** A spare rests: it does not roll. */
  spare: boolean;
}

/** A tire on the bench. */
export interface BenchWheel extends BenchWheelSetup {
  /** Mass of air, kg. It changes only through a hole, the rubber, or a hose. */
  massKg: number;
  /** Gas temperature without a hub's heat, °C. */
  baseC: number;
  /** Hub heat that has reached the gas, K. */
  hubK: number;
  /** Extra heat of the hub, K. */
  hubRiseK: number;
  /** Diameter of the hole, mm; 0 when it is sound. */
  holeMm: number;
  /** Share of gauge pressure lost through the rubber in 30 days. */
  permeation: number;
  /** What the sun on its side adds to the air around it, K. */
  sunK?: number;
}

/** A sensor on the bench: loose in the tray or screwed onto a wheel. */
export interface BenchSensor {
  id: string;
  kind: SensorKind;
  /** The wheel it is really on, whatever the monitor thinks; null in the tray. */
  at: string | null;
  /** Its own share of the gas's rise, and its fixed pressure error, kPa. */
  share: number;
  errorKpa: number;
  /** Temperature of its sensing element now, °C. */
  shownC: number;
  /** Seconds since the bench began, for all that follows. */
  awakeUntilS: number;
  nextSampleS: number;
  nextSendS: number;
  sleepAfterS: number;
  /** Pressure it last sent, kPa; null before the first. */
  sentKpa: number | null;
  /** Metres rolled since it fell asleep. */
  rolledM: number;
  /** Switched off by the owner to see what silence looks like. */
  quiet: boolean;
  usedMah: number;
}

/** The bench's whole state, plain data. */
export interface BenchState {
  random: RandomState;
  /** Event time at second 0, ms since the epoch. */
  startMs: number;
  /** Seconds since then. */
  nowS: number;
  kmh: number;
  airC: number;
  altitudeM: number;
  wheels: BenchWheel[];
  sensors: BenchSensor[];
  /** Its loose sensors have no ID that a display would show. */
  noIds?: boolean;
  /** Asleep, sensors send a life sign now and then. */
  lifeSigns?: boolean;
  /** Letters of units whose repeater has failed: nothing of them is heard. */
  deaf?: string[];
  /** It rolls on a track: tires get hotter, and sooner. */
  track?: boolean;
  /** The scene that is played. */
  scene?: SceneRun;
  /** The simulated monitor, once it was switched on. */
  monitor?: BenchMonitor;
  /** Its limit menu, once it was opened. */
  keyer?: BenchKeyer;
}

/** A scene that is played on a bench: what was drawn for it, and what it began with. */
export interface SceneRun {
  id: SceneId;
  /** Seconds of the bench at its start and its end. */
  startS: number;
  endS: number;
  /** Wheel or unit letter it happens to. */
  at: string;
  /** Its size, in the unit of the scene. */
  size: number;
  airC: number;
  altitudeM: number;
  /** Drives of a long scene: from and to in seconds since its start, speed, side of the sun, K of the sun. */
  drives: { fromS: number; toS: number; kmh: number; sun: 'L' | 'R' | null; sunK: number }[];
  /** Means of the air day by day, K over the first. */
  days: number[];
  done: string[];
}

/** A frame that was heard. */
export interface BenchFrame {
  sensorId: string;
  /** Event time, ms since the epoch. */
  ms: number;
  pressureKpa: number;
  tempC: number;
  batteryV: number;
}

/** Something that went wrong while pairing. It is counted, and told kindly at the end. */
export interface BenchMistake {
  code:
    | 'neighbourSaved'
    | 'shortSaved'
    | 'savedTwice'
    | 'wrongPosition'
    | 'wrongList'
    | 'leftUnsaved'
    | 'savedTooEarly'
    | 'pressTooShort';
  position: string;
  /** The other position or sensor in question. */
  other?: string;
}

/** A capture on its way: who will answer, and when. Seconds since the bench began. */
export interface BenchCapture {
  position: string;
  style: PairingStyle;
  /** The sensor the owner handles. */
  handled: string;
  startS: number;
  waitS: number;
  answers: { atS: number; code: string; sensorId: string }[];
}

/** Trouble that was asked for, to see it once: the next capture has it. */
export type Trouble = 'neighbour' | 'short' | 'noAnswer';

/** The simulated monitor: which position is open, what is saved where. */
export interface BenchMonitor {
  position: string;
  saved: Record<string, string>;
  capture: BenchCapture | null;
  /** Loose sensors were carried 3 m away. */
  tableClear: boolean;
  trouble: Trouble | null;
  mistakes: BenchMistake[];
  /** Which wheel a sensor at the table was meant for: its label. */
  labels: Record<string, string>;
  captures: number;
}

/** A limit menu as the monitor's description has it: one value blinks and is changed by up and down. Values by group and field. */
export interface BenchKeyer {
  stops: MenuStop[];
  /** Which value blinks. */
  at: number;
  shown: Record<string, number>;
  /** Confirmed one by one, where that is asked for. */
  entered: Record<string, number>;
  /** Confirmed with their page. */
  kept: Record<string, number>;
  /** What was saved last; leaving the menu without the save press goes back to it. */
  saved: Record<string, number>;
  refusals: number;
  /** Groups that were changed while the card was at another one. */
  wrongAxle: string[];
  /** Times one went on without confirming. */
  lost: number;
  leftUnsaved: number;
  /** Times the menu closed by itself with something unsaved. */
  timedOut: number;
  /** Wall clock of the last press, s; null: the menu was just opened. */
  pressS: number | null;
}
