import type { DrillMoment, Harm } from '#core/bench/drills.ts';
import type { SceneId } from '#schema/bench.ts';
import type { Format } from '../../parts/format.ts';

/** What the owner is doing when it rings. */
export function situation(id: SceneId, m: DrillMoment, f: Format): string {
  switch (id) {
    case 'coldNight':
      return `Morning. You haven’t moved since last night, and you have just woken the sensors. The air was ${f.temperature(m.beforeAirC)} then and is ${f.temperature(m.airC)} now. The monitor rings.`;
    case 'nail':
      return `${m.driving ? 'You are driving' : 'You are parked'}, and the air is about ${f.temperature(m.airC)}. Nothing feels wrong.`;
    case 'weakCell':
      return `You are driving in the cold, ${f.temperature(m.airC)}, with the kit fitted last spring.`;
    case 'brake':
      return 'You are driving on a level road, and you have hardly braked.';
    default:
      return 'You are driving at speed.';
  }
}

export const ALARM_LINE: Record<string, (positions: string) => string> = {
  low: (p) => `${p}: LOW`,
  slow: (p) => `${p}: losing air slowly`,
  silent: (p) => `${p}: no reading`,
  apart: (p) => `${p}: hotter than the other wheels on its axle`,
  rapid: (p) => `${p}: losing air fast`,
};

export const QUESTIONS = { means: 'What does it mean?', act: 'What do you do?' } as const;

export const HARM_WORDS: Record<Harm, string> = {
  right: 'Right.',
  idle: 'Harmless, but it takes time.',
  costly: 'Costs money or air.',
  dangerous: 'Dangerous.',
};

/** A choice, and why it is right or what comes of it. */
export const OPTIONS: Record<string, { text: string; why: string }> = {
  // Cold night.
  cold: {
    text: 'The cold lowered every tire. No air was lost.',
    why: 'All tires dropped together, and by what the cold takes: about 1 psi for each 5 °C at 30 psi, more at higher pressures. A leak is one tire.',
  },
  leaks: {
    text: 'Several tires are leaking.',
    why: 'Tires don’t start to leak together overnight. You would look for holes that aren’t there.',
  },
  cells: {
    text: 'The sensors’ batteries are weak.',
    why: 'A weak battery makes a sensor drop out. It doesn’t lower a pressure.',
  },
  wrongLimits: {
    text: 'The monitor has the wrong limits. It needs a reset.',
    why: 'The limits are as you set them. A reset may cost you every pairing.',
  },
  resetCold: {
    text: 'Check one tire with a gauge and set the cold pressures for this weather before you drive.',
    why: 'The load minimum doesn’t fall with the weather. A tire under it must be filled before you drive.',
  },
  lowerLimits: {
    text: 'Lower the limits until it is quiet.',
    why: 'In spring those limits would let a leaking tire run far too low before they ring.',
  },
  warmsUp: {
    text: 'Drive off. They warm up on the way.',
    why: 'A tire that can’t carry its load cold is overloaded for the first half hour, and that is what heats and breaks it.',
  },
  overfill: {
    text: 'Fill each tire well over its cold pressure, so that it never rings again.',
    why: 'On the first warm day they are over it by even more. Fill to the cold pressure, not past it.',
  },
  // Nail.
  leak: { text: 'This tire has a small leak.', why: 'It is one wheel, and it goes on falling with the temperature taken out.' },
  weather: {
    text: 'The weather is changing.',
    why: 'The weather changes all tires. Only this one falls, so you would drive on with a leak.',
  },
  drift: {
    text: 'The sensor is drifting.',
    why: 'A sensor may be off by a little, always the same. It doesn’t fall by more each hour.',
  },
  rubber: { text: 'All tires lose that much through the rubber.', why: 'Rubber loses 1 to 3 % a month. This takes hours.' },
  fillAndLook: {
    text: 'Fill it to its cold pressure, look for a nail, soap the valve, and have it repaired before a long drive.',
    why: 'It is early: there is still air in it, and a small hole is found with soap and repaired.',
  },
  waitForLow: {
    text: 'Wait for the low alarm.',
    why: 'A small hole can become a large one. The low alarm may come on the motorway.',
  },
  fillDaily: {
    text: 'Fill it every morning and carry on.',
    why: 'A leak doesn’t get smaller. You pay with a tire that ran low, or with the next breakdown.',
  },
  sealant: {
    text: 'Put sealant in and forget it.',
    why: 'Sealant is for getting home. It can block the sensor, and the tire still needs a repair.',
  },
  // Weak cell.
  unknown: {
    text: 'Nobody knows what is in that tire now.',
    why: 'The last reading is old. Battery, seat or repeater may be the cause, and so may the tire.',
  },
  lastWasGood: {
    text: 'Its last reading was good, so the tire is fine.',
    why: 'That was a quarter of an hour ago. A tire can go flat in less.',
  },
  burst: {
    text: 'The tire has burst.',
    why: 'A sensor on a burst tire reports a falling pressure first. Silence alone is more often a battery.',
  },
  asleep: { text: 'The sensor is asleep.', why: 'Sensors sleep when you are parked. You are driving, and the others report.' },
  lookAtTire: {
    text: 'Look at the tire at the next safe stop and gauge it. Then check the battery, the seat and the repeater.',
    why: 'First the tire, then the electronics.',
  },
  driveOn: { text: 'Drive on by its last reading.', why: 'That figure looks live and isn’t.' },
  pairAll: {
    text: 'Reset the monitor and pair everything again.',
    why: 'Ten wheels to pair again, and a weak battery is still weak.',
  },
  otherMonitor: { text: 'Buy another monitor.', why: 'The monitor hears all the others.' },
  // Brake.
  hub: {
    text: 'A dragging brake or a failing bearing heats this wheel.',
    why: 'One wheel is hotter than its mate, and temperature and pressure agree. The heat comes from the hub.',
  },
  tooMuchAir: {
    text: 'There is too much air in it.',
    why: 'It holds as much air as before. It is hotter, and hot air presses harder.',
  },
  sun: { text: 'The sun is on that side.', why: 'The sun makes a few degrees. This is more, and it goes on rising.' },
  sensor: { text: 'Temperature readings don’t matter.', why: 'The heat of one wheel is the only sign a failing bearing gives.' },
  stopAndCool: {
    text: 'Stop where it is safe, don’t touch the hub, let it cool, and have brake and bearing checked before you go on.',
    why: 'A bearing that fails can lose the wheel, and a dragging brake can start a fire.',
  },
  bleed: {
    text: 'Let air out until it reads like the other one.',
    why: 'Cold, it is then too low for its load. Never bleed a hot tire to the cold pressure.',
  },
  water: { text: 'Cool the hub with water.', why: 'Hot metal can crack, and steam burns. Let it cool by itself.' },
  tonight: { text: 'Drive on and look at it tonight.', why: 'A bearing that hot may not last until tonight.' },
  // Burst.
  losing: { text: 'The tire is losing air fast.', why: 'This much is gone in a minute. Nothing else takes it that fast.' },
  radio: { text: 'Something disturbs the radio.', why: 'A disturbed radio gives no reading. It doesn’t give a lower one.' },
  sensorOff: {
    text: 'The sensor has come loose.',
    why: 'Perhaps it has. Then the air leaves through the valve, and the tire is just as flat.',
  },
  colder: { text: 'It is getting colder.', why: 'Cold takes hours and lowers all tires.' },
  slowGently: {
    text: 'Hold the wheel straight, slow down gently without hard braking, and stop where it is safe.',
    why: 'Hard braking or steering can throw a vehicle with a flat tire. A tire run flat comes off for inspection.',
  },
  brakeHard: { text: 'Brake hard and stop at once.', why: 'A flat tire has little grip to brake with: the vehicle swerves.' },
  toTheShop: { text: 'Drive slowly to the next tire shop.', why: 'A tire run flat comes apart, and can catch fire.' },
  watchScreen: { text: 'Watch the screen to see whether it is real.', why: 'You are driving. Slow down first.' },
};
