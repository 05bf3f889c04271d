import type { Card, CardReason, CardStep } from '#core/alarms/card.ts';

import { FAILING_C, type HotJudgement, type TripJudgement, type Verdict } from '#core/alarms/judge.ts';
import { asShown, type Mismatch, type Unmet } from '#core/alarms/keying.ts';
import type { Press } from '#core/alarms/menu.ts';
import type { Compromise, Suggestion } from '#core/alarms/suggest.ts';
import type { DailyFault } from '#core/climate/daily.ts';
import { pressureAt, temperatureFor } from '#core/gas/gas.ts';
import { type AxleDay, type AxleFacts, dayEnds } from '#core/pressure/axle.ts';
import { AXLE_ONLY_MARGIN, type End, type LoadMinimum, type WeighingFault } from '#core/pressure/load.ts';
import type { NowAnswer } from '#core/pressure/now.ts';
import type { ColdChoice, ColdFault, ColdSchool } from '#core/pressure/target.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Format } from './format.ts';
import { listed } from './listed.ts';

/** The sentences of the Pressures and Alarms sheets, made from figures. */

const share = (s: number) => `${Math.round(s * 1000) / 10} %`;

const endNames: Record<End, string> = { L: 'left end', C: 'centre wheel', R: 'right end' };

/** How the load of the heaviest tire is known. */
export function loadWords(facts: AxleFacts, f: Format): string {
  const { load } = facts;
  if ('missing' in load) {
    if (load.missing === 'split') return 'The axle’s total doesn’t say how its two wheels share it. Weigh each wheel on its own.';
    if (load.missing === 'ends')
      return `Weigh the ${listed(load.ends.map((e) => endNames[e]))} too. The heaviest wheel of the axle decides.`;
    return 'Not weighed yet. Without its load there is no telling what pressure it needs.';
  }
  const each = `The heaviest tire carries ${f.mass(load.kg)}`;
  if (load.basis === 'axle')
    return `${each}. Only the axle’s total is known, so ${share(AXLE_ONLY_MARGIN)} is added to an even share for the heavier side (assumed). Weigh both ends and this margin goes.`;
  if (load.basis === 'one') return `${each}.`;
  const shared = facts.dual
    ? `: the ${endNames[load.heaviest as End]}’s ${f.mass(load.endKg ?? 0)} on two tires.`
    : `, on the ${endNames[load.heaviest as End].replace(' end', '')}.`;
  return each + shared;
}

const missingWords: Record<LoadMinimum['missing'][number], string> = {
  reference: 'the pressure beside “max load” on the sidewall',
  index: 'the load index (Layout, marking)',
  dualIndex: 'the load index as a dual (Layout, marking)',
  dualRows: 'rows for duals in the table',
  singleRows: 'rows for single tires in the table',
};

/** Where the load minimum is from. */
export function minimumWords(m: LoadMinimum, f: Format): string {
  if (m.kpa === null) return `Missing: ${listed(m.missing.map((c) => missingWords[c]))}.`;
  const is = `Its load minimum is ${f.pressure(m.kpa)} cold`;
  if (m.method === 'tableLowest') return `${is}: the first row of the maker’s table. Its load is below that row.`;
  if (m.method === 'table') {
    if (!m.between) return `${is}, by the maker’s table.`;
    const [a, b] = m.between;
    return `${is}, by the maker’s table: between ${f.mass(a.loadKg)} at ${f.pressure(a.kpa)} and ${f.mass(b.loadKg)} at ${f.pressure(b.kpa)}.`;
  }
  const { referenceKpa, loadKg, capacityKg, derated } = m.formula ?? {
    referenceKpa: 0,
    loadKg: 0,
    capacityKg: 1,
    derated: false,
  };
  return `${is}. An estimate, not the maker’s table: ${f.pressure(referenceKpa)} × ${f.mass(loadKg)} / ${f.mass(capacityKg)}${derated ? ' (index load / 1.10: a passenger tire on a trailer or truck, 49 CFR 571.110/120, from memory)' : ''}. It is in proportion, on the careful side of the usual power law.`;
}

/** What is wrong with a cold pressure. */
export function coldFaultWords(fault: ColdFault, f: Format): string {
  switch (fault.code) {
    case 'overIndex':
      return `The load is more than this tire carries at any pressure (${f.mass(fault.kg ?? 0)}). Take load off, or fit a stronger tire.`;
    case 'overTable':
      return 'The load is beyond the last row of the maker’s table. No pressure carries it.';
    case 'underMinimum':
      return `Too little for the load. Its load minimum is ${f.pressure(fault.kpa ?? 0)} cold.`;
    case 'underPlacard':
      return `Below the placard’s ${f.pressure(fault.kpa ?? 0)}.`;
    case 'overSidewall':
      return `Above the sidewall’s maximum of ${f.pressure(fault.kpa ?? 0)}, which is a cold pressure.`;
    case 'overRim':
      return `Above the ${f.pressure(fault.kpa ?? 0)} that the rim is made for.`;
  }
}

export const coldSchoolNames: Record<ColdSchool, string> = {
  placard: 'Placard',
  byLoad: 'By load',
  rating: 'Rating',
  startLow: 'Start low, run at the rating',
};

/** What a school of cold pressure says. */
export function coldChoiceWords(c: ColdChoice, f: Format): string {
  if (c.missing === 'placard') return 'Type what the placard says (on the door frame, or the trailer’s plate).';
  if (c.missing === 'minimum') return 'Needs the load and the tire’s figures.';
  if (c.missing === 'reference') return 'Needs the pressure beside “max load” on the sidewall.';
  const raised = c.raisedToPlacard ? ' Raised to the placard, because you never go below it.' : '';
  switch (c.school) {
    case 'placard':
      return 'What the vehicle’s maker asks for, as loaded as the placard says.';
    case 'byLoad':
      return `The load minimum of the axle’s heaviest tire. Set both wheels to the same pressure, duals too.${raised}`;
    case 'rating':
      return `What the sidewall says next to its maximum load. Usual on trailers.${raised}`;
    case 'startLow': {
      const less = share(c.lessShare ?? 0);
      const carries =
        c.carriesKg === undefined
          ? ''
          : ` A tire then carries ${f.mass(c.carriesKg)} on the way, ${less} less than its rating${c.tooLittle ? ', and less than it was weighed at' : ''}.`;
      return `Not advised.${carries} A cold start is already at the low alarm, and until the tire is warm it carries less than it is rated for.`;
    }
  }
}

export const weighingFaultWords: Record<WeighingFault['code'], string> = {
  sumOverAxle: 'The ends add up to more than the axle: one of the figures is wrong.',
  sumUnderAxle: 'The ends add up to less than the axle: one of the figures is wrong.',
  lopsided: 'Over 70 % of the axle is on one end. Either a figure is wrong, or the load must be moved.',
};

export const dailyFaultWords: Record<DailyFault['code'], string> = {
  date: 'no date that can be read',
  number: 'not a number with this decimal sign',
  hole: 'minimum or maximum is missing',
  minOverMax: 'the minimum is over the maximum',
  range: 'beyond any weather. Is the unit right?',
  twice: 'this day is already in the file with other figures',
};

/** What to do about a tire that is not cold. */
export function nowWords(a: NowAnswer, target: { kpa: number; tempC: number }, f: Format): { title: string; text: string } {
  const span = (s: { lowKpa: number; highKpa: number }) => `${f.figure(s.lowKpa)} to ${f.pressure(s.highKpa)}`;
  const will = `${f.pressure(target.kpa)} at ${f.temperature(target.tempC)}`;
  const cold = a.cold ? ` Cold it would read about ${f.pressure(a.cold.kpa)}${a.sure ? '' : ` (${span(a.cold)})`}.` : '';
  const unsure = `The air inside is warmer than anything you can read outside the tire, and by how much is uncertain: the right figure is between ${span(a.fillTo)}.`;
  switch (a.advice) {
    case 'wait':
      return { title: 'Wait until it is cold', text: `${unsure}${cold} After three hours at rest the figure is certain.` };
    case 'leave':
      return {
        title: 'Leave it. Never bleed a hot road tire',
        text: `It reads more because it is warm.${cold} Let air out now and it would be too soft when cold. Check again after three hours at rest.`,
      };
    case 'letOut':
      return {
        title: `Let out to ${f.pressure(a.fillTo.kpa)}`,
        text: `It is cold and has more air than it should. Then it will be ${will}.${cold}`,
      };
    case 'add':
      return {
        title: `Fill to ${f.pressure(a.sure ? a.fillTo.kpa : a.fillTo.lowKpa)} now`,
        text: a.sure
          ? `It will be ${will}.${cold}`
          : `It is short of air however warm it is inside. This is the careful end of ${span(a.fillTo)}; set the rest when it is cold.${cold}`,
      };
    case 'right':
      return { title: 'Right as it is', text: `Within 1 psi of ${will}.${cold}` };
    default:
      return { title: `Fill to ${f.pressure(a.fillTo.kpa)} now`, text: `It will be ${will}.` };
  }
}

/** What a pair of limits is judged on. */
export interface Judged {
  coldKpa: number;
  coldTempC: number;
  lowKpa: number;
  highKpa: number | null;
  loadMinimumKpa: number;
  day: AxleDay;
}

/** A spare doesn't run: on its hottest day it is as warm as the air. */
const rests = (day: AxleDay): boolean => day.runningC <= day.hottestC;

/** One verdict as a sentence: what, how much, and why. */
export function verdictWords(verdict: Verdict | 'ok', j: TripJudgement, q: Judged, f: Format): string {
  const pass = (at: boolean) => (at ? ' on the pass' : '');
  const run = rests(q.day) ? 'an afternoon' : 'a hot run on a day';
  switch (verdict) {
    case 'nuisance-low': {
      const from = temperatureFor(q.coldKpa, q.coldTempC, q.lowKpa);
      return `A cold start at ${f.temperature(q.day.coldestC)} reads ${f.pressure(j.coldestStartKpa)}, which is at or below the low limit of ${f.figure(q.lowKpa)}. It alarms on every start at ${f.temperature(from)} or colder, though no air is lost.`;
    }
    case 'nuisance-high':
      return `${run.replace('a', 'A')} of ${f.temperature(q.day.hottestC)} reads ${f.pressure(j.hotRunKpa)}${pass(j.atPass.hotRun)}, which is at or above the high limit of ${f.figure(q.highKpa ?? 0)}. It alarms though nothing is wrong.`;
    case 'unprotected-low':
      return `The low limit of ${f.pressure(q.lowKpa)} is ${f.pressure(q.loadMinimumKpa - q.lowKpa)} below the load minimum (${f.figure(q.loadMinimumKpa)}). By the time it alarms, a cold tire can no longer carry its load.`;
    case 'unprotected-hot':
      return `A hot tire that reads ${f.pressure(q.lowKpa)}${pass(j.atPass.lowAlarmHot)} would read only ${f.pressure(j.lowAlarmHotColdKpa)} cold, ${f.figure(q.loadMinimumKpa - j.lowAlarmHotColdKpa)} below the load minimum. A hot tire has lost more air by the time it reaches a fixed limit.`;
    case 'sleeping-high':
      return `The high limit of ${f.pressure(q.highKpa ?? 0)} is more than 1.25 times the hottest run of ${f.pressure(j.hotRunKpa)}. It would never alarm in time.`;
    case 'ok': {
      const reach = `From a start at ${f.temperature(q.day.coldestC)} (${f.pressure(j.coldestStartKpa)}) to ${run} of ${f.temperature(q.day.hottestC)} (${f.pressure(j.hotRunKpa)}${pass(j.atPass.hotRun)}) there are no false alarms`;
      return q.loadMinimumKpa > 0
        ? `${reach}, and when the low alarm sounds the tire still carries its load.`
        : `${reach}. The load minimum is unknown: weigh the axle on Pressures, or check the low limit against the tire maker’s table.`;
    }
  }
}

export const verdictNames: Record<Verdict, string> = {
  'nuisance-low': 'no false alarm at a cold start',
  'nuisance-high': 'no false alarm on a hot run',
  'unprotected-low': 'enough pressure for the load when the low alarm sounds cold',
  'unprotected-hot': 'enough pressure for the load when the low alarm sounds hot',
  'sleeping-high': 'a high limit near enough to be of use',
};

/** What of the temperature limit is to be known. */
export function hotWords(h: HotJudgement, hotC: number, airC: number, kindName: string, f: Format): string {
  if (h.verdict === 'sleeping-hot')
    return `The temperature limit would sound too late: when a ${kindName} shows ${f.temperature(hotC)} in air of ${f.temperature(airC)}, the air inside is at about ${f.temperature(h.gasWhenRingsC)}, and tires fail at ${f.temperature(FAILING_C.from)} to ${f.temperature(FAILING_C.to)}. A limit of ${f.temperature(Math.floor(h.limitForFailingC))} would sound at ${f.temperature(FAILING_C.from)} inside; an ordinary run shows ${f.temperature(h.ordinaryShownC)}.`;
  if (h.verdict === 'nuisance-hot')
    return `An ordinary hot run shows ${f.temperature(h.ordinaryShownC)} on a ${kindName}, so the limit of ${f.temperature(hotC)} sounds though nothing is wrong.`;
  return `When a ${kindName} shows ${f.temperature(hotC)} in air of ${f.temperature(airC)}, the air inside is at about ${f.temperature(h.gasWhenRingsC)}. A limit of ${f.temperature(Math.floor(h.limitForFailingC))} would sound at ${f.temperature(FAILING_C.from)} inside.`;
}

const pairText = (p: { lowKpa: number; highKpa: number | null }, f: Format) =>
  p.highKpa === null ? `${f.figure(p.lowKpa)} and up` : `${f.figure(p.lowKpa)} to ${f.figure(p.highKpa)}`;

/** What of the temperature limit is to be known, for axles that share it. */
export const hotLine = (codes: readonly string[], text: string): string => `${codes.join(', ')}: ${text}`;

/** What a suggestion says first. */
export function suggestionWords(s: Suggestion, f: Format): string {
  const nearer =
    s.nearer === null || s.nearer.spares.length === 0
      ? ''
      : ` Its low limit is nearer to the cold pressure than this rule’s own ${f.pressure(s.nearer.ownLowKpa)}, which would give up: ${listed(s.nearer.spares.map((v) => verdictNames[v]))}.`;
  if (s.satisfied) return `${pairText(s.best, f)} ${f.unit} meets every requirement and stays close to this rule.${nearer}`;
  return `No pair of limits meets every requirement here. The best, ${pairText(s.best, f)} ${f.unit}, gives up: ${listed(s.givesWay.map((v) => verdictNames[v]))}.${nearer}`;
}

const months = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
/** `11-01` as `1 November`. */
export const dayOfYear = (monthDay: string): string => `${Number(monthDay.slice(3))} ${months[Number(monthDay.slice(0, 2)) - 1]}`;

/** A way out of a conflict. */
export function compromiseWords(c: Compromise, f: Format): { title: string; text: string } {
  const rest =
    c.verdicts.length === 0
      ? 'It meets every requirement.'
      : `It still gives up: ${listed(c.verdicts.map((v) => verdictNames[v]))}.`;
  switch (c.kind) {
    case 'seasonal': {
      const parts = c.seasons.map(
        (s) =>
          `${s.name === 'winter' ? 'Winter' : 'summer'} from ${dayOfYear(s.from)}: ${pairText(s.found, f)} ${f.unit}, with the pressure reset at ${f.temperature(s.setTempC)}`,
      );
      return { title: 'Limits by season', text: `${parts.join('; ')}. ${rest} Druckwerk reminds you at the change.` };
    }
    case 'settingDay':
      return {
        title: `Set the pressure on a ${c.colder ? 'colder' : 'warmer'} day`,
        text: `Set at about ${f.temperature(c.coldTempC)}, with ${pairText(c.found, f)} ${f.unit}. ${rest}`,
      };
    case 'otherSchool':
      return {
        title: 'Another rule',
        text: `${ruleNames[c.rule.school]}${c.rule.school === 'share' && c.rule.hotClimate ? ', hot climate' : ''}: ${pairText(c.found, f)} ${f.unit}. ${rest}`,
      };
    case 'otherTradeOff':
      return { title: 'Another trade-off', text: `${pairText(c.found, f)} ${f.unit}. ${rest}` };
  }
}

const ruleNames: Record<string, string> = {
  share: 'A share of normal',
  margin: 'A fixed margin',
  rating: 'From the tire’s rating',
  rough: 'Rough rounding',
  floorCeiling: 'Floor and ceiling',
  lowOnly: 'Low only',
  baseline: 'Baseline in the monitor',
  regulation: 'As a factory monitor',
};

/** A figure of the monitor in its own unit. */
export const shownFigure = (value: number | null, monitor: Pick<Monitor, 'step' | 'unit'>): string =>
  value === null ? 'none' : `${asShown(value, monitor.step)} ${monitor.unit}`;

/** What a limit that the monitor cannot hold becomes. */
export function unmetWords(u: Unmet, f: Format): string {
  const wanted = f.pressure(u.wantedKpa);
  const got = u.gotKpa === null ? 'none' : f.pressure(u.gotKpa);
  const which = `${u.axle} ${u.field}`;
  switch (u.why) {
    case 'rounded':
      return `${which}: ${got} instead of ${wanted}, because of the monitor’s step.`;
    case 'grouped':
      return `${which}: ${got} instead of ${wanted}, because its group shares the ${u.field === 'low' ? 'highest low' : 'lowest high'}.`;
    case 'conflict':
      return `${which}: ${got} instead of ${wanted}. The limits of its group cross. The low is kept and the highest high is used, so this axle’s high alarm comes late.`;
    case 'range':
      return u.gotKpa === null
        ? `${which}: the monitor has no such limit.`
        : `${which}: ${got} instead of ${wanted}, because the monitor’s range ends there.`;
    case 'impossible':
      return `${which}: stays at ${got}. No order of key presses gets this monitor to ${wanted}.`;
  }
}

const reasons: Record<CardReason, string> = {
  lowFirst: 'low first, or the monitor refuses the high',
  highFirst: 'high first, or the monitor refuses the low',
  thenHigh: 'now there is room to lower the high',
  thenLow: 'now there is room to raise the low',
  makesRoom: 'only to make room; no axle needs it',
  unused: 'your rig doesn’t use this group: as wide as the monitor goes, so that nothing odd can sound',
  again: 'the preset is right: confirm it all the same',
  coldStart: 'below the coldest start, or it sounds on every cold morning',
  secondRound: 'in a second round: the menu has it before the limit that makes room for it',
  shared: 'shared',
  baseline: 'the normal pressure; the monitor derives its own limits',
  oneForAll: 'one temperature serves all wheels',
  plain: '',
};

/** Why a step is where it is in the order. */
export function stepReason(s: CardStep): string {
  return s.why
    .map((r) => (r === 'shared' ? `one value for ${listed(s.axles)}` : reasons[r]))
    .filter(Boolean)
    .join('; ');
}

/** How to get to a step in the menu, and what confirms it. Empty where the menu is unknown. */
export function walkWords(s: CardStep, free: boolean): string {
  const n = s.go ?? 0;
  const times = (k: number) => (k === 1 ? 'once' : k === 2 ? 'twice' : `${k} times`);
  const go = s.go === null || n === 0 ? '' : free ? 'choose it' : n > 0 ? `go on ${times(n)}` : `go back ${times(-n)}`;
  const press = (p: Press) => (p === 'long' ? 'a long press' : 'a short press');
  const { value, page } = s.confirm;
  const confirm = [value ? `confirm with ${press(value)}` : '', page ? `then confirm the page with ${press(page)}` : ''];
  return [go, ...confirm].filter(Boolean).join('; ');
}

/** How a monitor keeps what was keyed. */
export const saveWords: Record<NonNullable<Monitor['saves']>, string> = {
  byItself: 'It saves by itself. Leave the menu and read the limits back.',
  shortPress: 'Save with a short press before you leave the menu, or everything is lost.',
  longPress: 'Save with a long press before you leave the menu, or everything is lost.',
  extraPress: 'Save with one more press after the last value, or everything is lost.',
};

/** Why a figure read back is another one. */
export function mismatchWords(m: Mismatch, card: Pick<Card, 'groups'>): string {
  switch (m.reason) {
    case 'notSaved':
      return 'That is the old value: you left the menu without saving. Key it again and save.';
    case 'swapped':
      return 'That is this group’s other limit. Low and high are swapped.';
    case 'otherGroup': {
      const axles = card.groups.find((g) => g.group === m.group)?.axles ?? [];
      return `That is the figure of ${listed(axles)}. You keyed the wrong axle: the first one that blinks is the tow vehicle’s front axle.`;
    }
    case 'otherUnit':
      return `That is the same pressure in ${m.unit}. The monitor’s unit was changed; set it back first.`;
    case 'stepsShort':
      return `${m.presses} press${m.presses === 1 ? '' : 'es'} short.`;
    case 'stepsOver':
      return `${m.presses} press${m.presses === 1 ? '' : 'es'} too many.`;
    case 'unknown':
      return 'No common mistake explains it. Key this limit again from the start.';
  }
}

/** How the gas law takes the cold figure to the ends of the day: for the row on the Pressures sheet. */
export function dayWords(cold: { kpa: number; tempC: number }, day: AxleDay | null, f: Format): string {
  const at = (tempC: number) => f.pressure(pressureAt(cold.kpa, cold.tempC, tempC));
  if (!day) return `The same air reads ${at(-10)} at ${f.temperature(-10)}, ${at(35)} at ${f.temperature(35)}.`;
  const { coldestKpa, hotKpa } = dayEnds(cold, day);
  return `${f.pressure(coldestKpa ?? cold.kpa)} at a ${f.temperature(day.coldestC)} start, ${f.pressure(hotKpa)} on ${rests(day) ? 'the hottest afternoon' : 'a hot run'}.`;
}
