import type { BranchId } from '#core/faults/tables.ts';

/** What the owner sees, as they would say it. */
export const BRANCH_WORDS: Record<BranchId, { title: string; about: string }> = {
  one: { title: 'One sensor isn’t heard', about: 'Dashes, brackets or an old figure at one wheel.' },
  many: { title: 'Several sensors, or all, aren’t heard', about: 'A whole unit or the whole display stays empty.' },
  wrong: { title: 'A figure is wrong', about: 'It reads wrong, jumps, doesn’t move, or two wheels seem exchanged.' },
  rings: { title: 'An alarm doesn’t end', about: 'The monitor rings or shows its mark again and again.' },
  quiet: { title: 'No alarm comes', about: 'A tire is low, or you let air out, and the monitor stays quiet.' },
  lamp: { title: 'The vehicle’s own tire lamp is on', about: 'The lamp in the instrument panel, not your kit.' },
};

interface CauseWords {
  name: string;
  /** What to do about it. */
  repair: string;
  /** How one knows that it helped. */
  proof: string;
  /** A guided job on Upkeep that does it. */
  job?: string;
}

/** Causes by branch. */
export const CAUSE_WORDS: Record<BranchId, Record<string, CauseWords>> = {
  one: {
    display: {
      name: 'Another page, list or mode is shown',
      repair:
        'Choose the right trailer’s list, connect the unit, leave the four-wheel mode. Some displays show the spare every 10 seconds.',
      proof: 'The wheel’s figure comes up.',
    },
    asleep: {
      name: 'It sleeps',
      repair: 'Roll 30 m or tap the wheel. Sensors fall asleep 5 to 15 minutes after a stop.',
      proof: 'It is heard on the move, within ten minutes.',
    },
    seat: {
      name: 'Loose on its valve',
      repair: 'Screw it off, look at its seal, screw it on until snug, the nut against it, soapy water.',
      proof: 'It is heard within two minutes, and no bubbles.',
    },
    cell: {
      name: 'Battery spent',
      repair: 'Put a new battery in, with a new seal.',
      proof: 'It is heard within two minutes.',
      job: 'cell',
    },
    damp: {
      name: 'Damp or corroded contacts',
      repair: 'Open it, dry it, clean the contacts, bend them a little toward the battery, new seal.',
      proof: 'It is heard within two minutes, and still after rain.',
      job: 'cell',
    },
    place: {
      name: 'Saved to another position, or no longer saved',
      repair: 'Read the position back, delete the code, pair it again with the other sensors out of the way.',
      proof: 'The right ID shows at the right position.',
    },
    reach: {
      name: 'Too far, or screened',
      repair: 'Mount the monitor on the dash, away from metal, or add a repeater near these wheels.',
      proof: 'It is heard at the dash on the move.',
    },
    noise: {
      name: 'A transmitter nearby',
      repair: 'Wait, or drive on a little. Where it lasts, unplug chargers and cameras one by one, then pair again.',
      proof: 'It is heard in another place.',
    },
    dead: { name: 'The sensor is broken', repair: 'Fit a new sensor and pair it.', proof: 'The new one is heard.' },
  },
  many: {
    display: {
      name: 'Unit disconnected, another list or mode',
      repair: 'Connect the unit, choose the right trailer’s list, leave the four-wheel mode, switch the backlight on.',
      proof: 'The wheels’ figures come up.',
    },
    monitorOff: {
      name: 'The monitor only looks alive on its charger',
      repair: 'Switch it on, push the plug home, try another socket. Some sockets die with the ignition.',
      proof: 'It stays on with the charger pulled out.',
      job: 'monitorCharge',
    },
    asleep: {
      name: 'They sleep',
      repair: 'Drive. Sensors sleep 5 to 15 minutes after a stop; only those handled last still send.',
      proof: 'All are heard within ten minutes of driving.',
    },
    repeater: {
      name: 'The repeater has no supply',
      repair: 'Charge it, or check its fuse, plug and ground.',
      proof: 'The unit’s wheels are heard at the seat.',
      job: 'repeaterCharge',
    },
    reach: {
      name: 'The monitor’s place',
      repair: 'Out of the cubby, onto the dash, away from metal and electronics.',
      proof: 'All are heard on the move.',
      job: 'monitorMount',
    },
    noise: {
      name: 'A transmitter nearby',
      repair: 'Drive on a little, or wait. Where it lasts, pair again elsewhere.',
      proof: 'They are heard in another place.',
    },
    reset: {
      name: 'The monitor lost its pairings',
      repair: 'Pair all wheels again, then read the limits back.',
      proof: 'Every position has its ID.',
      job: 'monitorReset',
    },
    cells: {
      name: 'Batteries of one age, all spent',
      repair: 'Put new batteries in all of them.',
      proof: 'All are heard.',
      job: 'cell',
    },
  },
  wrong: {
    warm: {
      name: 'The tire is warm, or colder than when it was set',
      repair: 'Compare cold, three hours at rest. Leave a hot tire as it is.',
      proof: 'Cold, it reads its cold pressure.',
    },
    air: {
      name: 'The tire really is like that',
      repair: 'Fill it, cold. Look for a leak.',
      proof: 'Gauge and sensor agree at the cold pressure.',
    },
    swapped: {
      name: 'Two sensors are exchanged',
      repair: 'Exchange their positions in the monitor, or the sensors on the wheels.',
      proof: 'Let a little air out: the right figure follows.',
    },
    gauge: { name: 'The gauge is wrong', repair: 'Use another gauge, write its offset down.', proof: 'Two gauges agree.' },
    seat: {
      name: 'The sensor isn’t seated',
      repair: 'Off, look at the seal, on until snug. After pairing one may show zero until this is done.',
      proof: 'It reads what the gauge reads, and no bubbles.',
    },
    stuck: {
      name: 'An old figure, or a frozen sensor',
      repair: 'Drive ten minutes. Where it doesn’t move while the others do, new battery, then a new sensor.',
      proof: 'It rises with the others on a drive.',
    },
    jumps: { name: 'A weak battery', repair: 'Put a new battery in.', proof: 'It is steady beside its neighbours.', job: 'cell' },
    offset: {
      name: 'The sensor reads wrong',
      repair: 'Up to 1 psi is good, up to 4 psi is tolerated: write it down. More: a new sensor.',
      proof: 'Another sensor on this wheel agrees with the gauge.',
    },
    unit: {
      name: 'Another unit, or a corrected figure',
      repair: 'Set the monitor to your unit. A display that corrects to one temperature shows no real pressure.',
      proof: 'It reads what the gauge reads.',
    },
  },
  rings: {
    low: {
      name: 'The tire really is low',
      repair: 'Don’t drive on. Fill it cold, look for the leak.',
      proof: 'Gauge at the cold pressure, the mark is gone.',
    },
    limit: {
      name: 'A limit is too close, or another axle’s',
      repair: 'Read the limits back and key those of the card.',
      proof: 'Cold and hot, this wheel stays quiet.',
    },
    cold: {
      name: 'A cold morning',
      repair: 'No air is lost. Reset the cold pressures for the season, or the low limit within what the load allows.',
      proof: 'It is quiet on the next cold morning.',
    },
    mark: {
      name: 'Only silenced: its mark stays',
      repair: 'Acknowledge it the way your monitor wants. The mark goes when its cause is gone.',
      proof: 'It doesn’t come back.',
    },
    notHeard: {
      name: 'A sensor isn’t heard',
      repair: 'Go on with “One sensor isn’t heard”.',
      proof: 'It is heard again.',
    },
    hub: {
      name: 'A hot hub: brake or bearing',
      repair: 'Stop. Don’t touch the hub. A workshop looks at brake and bearing before you go on.',
      proof: 'After a drive its hub is as warm as the others.',
    },
    cellSign: { name: 'The low-battery sign', repair: 'Put a new battery in.', proof: 'The sign is gone.', job: 'cell' },
  },
  quiet: {
    sound: { name: 'Its sound is off', repair: 'Switch it on, and louder.', proof: 'A provoked alarm is heard at the seat.' },
    limit: { name: 'The limit is far away', repair: 'Key the limits of the card.', proof: 'Let a little air out: it rings.' },
    saved: {
      name: 'The limits weren’t saved',
      repair: 'Key them again, with the save press at the end; read them back.',
      proof: 'Read back after switching off and on, they are right.',
    },
    asleep: { name: 'The sensor sleeps', repair: 'Roll or tap, then try again.', proof: 'It rings awake.' },
    delay: {
      name: 'It takes its time',
      repair: 'Wait: some report once a minute, some every few minutes at rest.',
      proof: 'It rings within ten minutes.',
    },
    other: {
      name: 'Another sensor is saved there',
      repair: 'Read the IDs back and pair this wheel again.',
      proof: 'The right figure falls when air is let out.',
    },
    offUnit: {
      name: 'The unit is disconnected',
      repair: 'Connect it in the monitor and on Watch.',
      proof: 'Its wheels show figures of now.',
    },
  },
  lamp: {
    low: {
      name: 'A tire is low',
      repair: 'Fill all to the door label, cold; look at the tire that was low. Then drive 5 to 10 minutes at about 80 km/h.',
      proof: 'The lamp goes out on the drive.',
    },
    cold: {
      name: 'A cold morning',
      repair: 'Fill all to the door label while they are cold.',
      proof: 'The lamp goes out on the drive.',
    },
    notReset: {
      name: 'It wants its reset',
      repair:
        'Fill all, then reset by its key or menu, then drive. A system that goes by wheel speed needs it after every filling.',
      proof: 'The lamp stays out.',
    },
    rotated: {
      name: 'Wheels were exchanged',
      repair: 'Let the vehicle learn the places again, by its menu or tool.',
      proof: 'Each figure is at its wheel.',
    },
    taught: {
      name: 'New sensors it doesn’t know',
      repair: 'Have them taught, with the vehicle’s own tool.',
      proof: 'All four are read.',
    },
    sensor: {
      name: 'One of its sensors is silent',
      repair: 'A shop reads which one. Sealed batteries last 5 to 10 years: renew it with the tire.',
      proof: 'All four are read.',
    },
    sealant: {
      name: 'Sealant in a sensor',
      repair: 'The tire comes off, the sensor is cleaned or renewed.',
      proof: 'All four are read.',
    },
    supply: {
      name: 'The 12 V battery is weak, or was just changed',
      repair: 'About 12.5 V at rest, 13.5 V and more running is healthy. Less running: alternator.',
      proof: 'The lamp stays out for a week.',
    },
    system: {
      name: 'The vehicle’s receiver',
      repair: 'A workshop with the vehicle’s own reader. Cheap code readers see the engine only.',
      proof: 'The reader finds no fault.',
    },
  },
};

interface TestWords {
  /** What to do, as a sentence. */
  act: string;
  /** What to know while doing it. */
  hint: string;
  /** A short name for the list. */
  name: string;
  outcomes: Record<string, string>;
}

const HEARD = { heard: 'It is heard', notHeard: 'Still not' };
const THEY = { heard: 'They are heard', notHeard: 'Still not' };

/** Tests by branch. */
export const TEST_WORDS: Record<BranchId, Record<string, TestWords>> = {
  one: {
    look: {
      act: 'Look at the monitor: is the unit connected, the right list open, no four-wheel mode on, and not just the spare’s page?',
      hint: 'Some displays change to the spare every 10 seconds.',
      name: 'Page, list and mode',
      outcomes: { yes: 'Something was off', no: 'All as it should be' },
    },
    tap: {
      act: 'Tap the tire beside the valve a few times and wait a minute.',
      hint: 'A rubber mallet or the heel of your hand.',
      name: 'Tap the wheel',
      outcomes: HEARD,
    },
    wake: {
      act: 'Roll about 30 m and wait two minutes.',
      hint: 'Internal sensors wake only by rolling, a tool, or a step of pressure.',
      name: 'Roll 30 m',
      outcomes: HEARD,
    },
    refit: {
      act: 'Unscrew the sensor, wait 10 seconds, screw it on again until snug.',
      hint: 'A short hiss is normal. Give it two minutes. Chock the wheels first; the hub may be hot.',
      name: 'Off and on again',
      outcomes: HEARD,
    },
    volts: {
      act: 'Take its battery out and measure it.',
      hint: 'A fresh 3 V cell reads 3.2 to 3.3 V. Under 2.6 V it is spent.',
      name: 'Measure the battery',
      outcomes: { low: 'Under 2.6 V', good: '2.6 V or more' },
    },
    newCell: {
      act: 'Put a new battery in, plus side up, the seal in its groove.',
      hint: 'Pull the film off a new one. Give it two minutes.',
      name: 'New battery',
      outcomes: HEARD,
    },
    contacts: {
      act: 'Open it and look at the contacts: green, white, wet, bent?',
      hint: 'Damp behind the lid counts too.',
      name: 'Contacts',
      outcomes: { bad: 'Corroded or damp', clean: 'Clean and dry' },
    },
    dry: {
      act: 'Dry it, wipe the contacts, bend them a little toward the battery, close it and fit it.',
      hint: 'Give it two minutes.',
      name: 'Dry and clean it',
      outcomes: HEARD,
    },
    near: {
      act: 'Carry the monitor to the wheel.',
      hint: 'Within a metre; stand still for two minutes.',
      name: 'Monitor to the wheel',
      outcomes: HEARD,
    },
    front: {
      act: 'Fit this sensor on a front wheel, or have the wheel at the front, and look at the dash.',
      hint: 'The sensor that is nearest to the monitor is heard most easily.',
      name: 'Nearer to the dash',
      outcomes: HEARD,
    },
    pair: {
      act: 'Pair it again: delete its position, then as at the first time.',
      hint: 'All other sensors still for ten minutes, or well away.',
      name: 'Pair it again',
      outcomes: HEARD,
    },
    readBack: {
      act: 'Read the ID at this position and compare it with the sensor’s mark and your ID book.',
      hint: 'All F is an open position.',
      name: 'Read the ID back',
      outcomes: { differs: 'Another ID, or none', right: 'The right one' },
    },
    swap: {
      act: 'Exchange it with the sensor of a wheel that is heard.',
      hint: 'Does the fault go with the sensor or stay with the wheel? A sensor that is coded for a position goes on reporting its own: look there.',
      name: 'Swap with a neighbour',
      outcomes: { goes: 'The fault went with the sensor', stays: 'It stayed at the wheel', both: 'Both are heard now' },
    },
    away: {
      act: 'Drive on a kilometre, away from masts and other rigs.',
      hint: 'A passing transmitter is gone by then.',
      name: 'Another place',
      outcomes: HEARD,
    },
    later: {
      act: 'Leave it for an hour and look again.',
      hint: 'Count this as a few minutes of your time.',
      name: 'An hour later',
      outcomes: HEARD,
    },
    tool: {
      act: 'Hold a wake tool, or a monitor that reads any sensor, to it.',
      hint: 'A tire shop has one.',
      name: 'Read it with a tool',
      outcomes: { none: 'Nothing is read', read: 'It is read' },
    },
    another: {
      act: 'Fit and pair another sensor on this wheel.',
      hint: 'A spare one, or one from the box.',
      name: 'Another sensor',
      outcomes: HEARD,
    },
  },
  many: {
    look: {
      act: 'Look at the monitor: is the unit connected, the right list open, no four-wheel mode on, the backlight on?',
      hint: 'A dark screen may only be its backlight.',
      name: 'Page, list and mode',
      outcomes: { yes: 'Something was off', no: 'All as it should be' },
    },
    power: {
      act: 'Pull its charger out and see whether it stays on; push the plug home again.',
      hint: 'On a charger a monitor may show a picture though it is switched off.',
      name: 'Really on?',
      outcomes: { off: 'It went dark', on: 'It stays on' },
    },
    socket: {
      act: 'Charge it from another socket for ten minutes, and switch it on.',
      hint: 'A 12 V socket may die with the ignition, or the plug not be home.',
      name: 'Another socket',
      outcomes: THEY,
    },
    handled: {
      act: 'Are only those heard that somebody handled last?',
      hint: 'Then the others merely sleep.',
      name: 'Who was handled last',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    roll: { act: 'Drive a few minutes.', hint: 'First figures take 2 to 10 minutes.', name: 'Drive', outcomes: THEY },
    repeaterPower: {
      act: 'Look at the repeater’s lamp, or measure its supply.',
      hint: 'It sleeps after ten minutes still. 12 V steady, or its own battery charged.',
      name: 'The repeater’s supply',
      outcomes: { dead: 'Dead or weak', good: 'Good' },
    },
    fuse: {
      act: 'Take its fuse out and look at it.',
      hint: 'Pull on its ring terminals too.',
      name: 'The repeater’s fuse',
      outcomes: { blown: 'Blown or loose', good: 'Good' },
    },
    readBack: {
      act: 'Step through the positions: are the IDs there?',
      hint: 'All F, dashes or skipped positions are open.',
      name: 'Read the IDs back',
      outcomes: { open: 'Positions are open', kept: 'All are there' },
    },
    near: {
      act: 'Take the monitor to the middle of the silent wheels.',
      hint: 'Two minutes.',
      name: 'Monitor to the wheels',
      outcomes: THEY,
    },
    carry: {
      act: 'Move the monitor to the top of the dash, away from metal and chargers.',
      hint: 'A cubby or a tray of metal screens it.',
      name: 'Another place on the dash',
      outcomes: THEY,
    },
    away: {
      act: 'Drive on a kilometre.',
      hint: 'Away from masts, other rigs, electric fences.',
      name: 'Another place',
      outcomes: THEY,
    },
    volts: {
      act: 'Measure the battery of one of them.',
      hint: 'Under 2.6 V it is spent.',
      name: 'Measure a battery',
      outcomes: { low: 'Under 2.6 V', good: '2.6 V or more' },
    },
    ages: {
      act: 'Were their batteries put in on the same day, a year ago or more?',
      hint: 'Then they end together, first on cold mornings.',
      name: 'Age of the batteries',
      outcomes: { old: 'Yes', young: 'No' },
    },
    newCell: {
      act: 'Put a new battery into one of them.',
      hint: 'Film off, plus side up. Give it two minutes.',
      name: 'One new battery',
      outcomes: { heard: 'That one is heard', notHeard: 'Still not' },
    },
    pairOne: {
      act: 'Pair one of them again.',
      hint: 'As at the first time, the others well away.',
      name: 'Pair one again',
      outcomes: { heard: 'That one is heard', notHeard: 'Still not' },
    },
    later: {
      act: 'Leave it for an hour and look again.',
      hint: 'Count this as a few minutes of your time.',
      name: 'An hour later',
      outcomes: THEY,
    },
  },
  wrong: {
    units: {
      act: 'Look at the unit that the monitor shows: psi, bar, kPa?',
      hint: '30 psi is 2.07 bar.',
      name: 'Unit',
      outcomes: { yes: 'It was another one', no: 'The right one' },
    },
    rested: {
      act: 'Has it rested three hours, out of the sun?',
      hint: 'A drive adds about a tenth.',
      name: 'Cold or not',
      outcomes: { warm: 'Driven or in the sun', rested: 'Cold' },
    },
    age: {
      act: 'How old is the figure?',
      hint: 'A monitor may go on showing the last values, which look live and aren’t.',
      name: 'Age of the figure',
      outcomes: { old: 'Over ten minutes', young: 'Of now' },
    },
    gauge: {
      act: 'Put a gauge on this wheel.',
      hint: 'Within 1 psi is good.',
      name: 'Gauge',
      outcomes: { agrees: 'It agrees', differs: 'It differs' },
    },
    second: {
      act: 'Put a second gauge on it.',
      hint: 'From another maker, or a shop’s.',
      name: 'Second gauge',
      outcomes: { agree: 'The two agree', differ: 'They differ' },
    },
    letOut: {
      act: 'Let a little air out of this wheel, standing still: which figure falls?',
      hint: 'From 2.0 to 1.7 bar at most, and fill it again.',
      name: 'Let a little out',
      outcomes: { this: 'This one', other: 'Another wheel’s', none: 'None' },
    },
    refit: {
      act: 'Unscrew the sensor, wait 10 seconds, screw it on again.',
      hint: 'After pairing one may show zero until this is done.',
      name: 'Off and on again',
      outcomes: { right: 'It reads right', same: 'As before' },
    },
    soap: {
      act: 'Soapy water around the sensor.',
      hint: 'Bubbles: it isn’t seated.',
      name: 'Soapy water',
      outcomes: { bubbles: 'Bubbles', none: 'None' },
    },
    volts: {
      act: 'Measure its battery.',
      hint: 'Under 2.6 V it is spent.',
      name: 'Measure the battery',
      outcomes: { low: 'Under 2.6 V', good: '2.6 V or more' },
    },
    newCell: {
      act: 'Put a new battery in.',
      hint: 'Plus side up, the seal in its groove.',
      name: 'New battery',
      outcomes: { right: 'It reads right', same: 'As before' },
    },
    cool: {
      act: 'Look again when it has stood three hours in the shade.',
      hint: 'Count this as a few minutes of your time.',
      name: 'Cold, later',
      outcomes: { right: 'It reads right', same: 'As before' },
    },
    fill: {
      act: 'Fill the tire to its cold pressure by the gauge.',
      hint: 'Cold. Top-up on Logbook says what it reads now.',
      name: 'Fill it',
      outcomes: { right: 'It reads right', same: 'As before' },
    },
    exchange: {
      act: 'Exchange this sensor with its neighbour’s.',
      hint: 'Does the error go with the sensor?',
      name: 'Swap with a neighbour',
      outcomes: { goes: 'It went with the sensor', stays: 'It stayed at the wheel', both: 'Both read right' },
    },
    another: {
      act: 'Fit another sensor on this wheel.',
      hint: 'A spare one, or its neighbour’s for a minute.',
      name: 'Another sensor',
      outcomes: { right: 'It reads right', same: 'As before' },
    },
    steady: {
      act: 'Was it off by about the same on other days too?',
      hint: 'Look at Charts.',
      name: 'Always by the same',
      outcomes: { yes: 'Yes', no: 'No, or unknown' },
    },
    all: {
      act: 'Are all wheels off by about the same?',
      hint: 'Then it is the gauge or the unit, not one sensor.',
      name: 'All alike?',
      outcomes: { yes: 'Yes, all', no: 'No, this one' },
    },
  },
  rings: {
    reads: {
      act: 'What does the mark say?',
      hint: 'Its sign or word, not the sound.',
      name: 'What it says',
      outcomes: { low: 'Low', hot: 'Hot', notHeard: 'Not heard', cell: 'Battery', high: 'High' },
    },
    gauge: {
      act: 'Put a gauge on this wheel.',
      hint: 'Cold if you can.',
      name: 'Gauge',
      outcomes: { low: 'It is low', right: 'It is right' },
    },
    morning: {
      act: 'Does it come on cold mornings and go with the drive?',
      hint: 'Every tire falls about 1 psi for each 5 °C or so.',
      name: 'Cold mornings',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    warmed: {
      act: 'Drive a quarter of an hour, if the gauge says that you can.',
      hint: 'The drive warms the tires.',
      name: 'Drive it warm',
      outcomes: { ends: 'It ends', stays: 'It stays' },
    },
    limits: {
      act: 'Read back the limits of this axle and compare them with your card.',
      hint: 'The first axle that blinks is mostly the tow vehicle’s front.',
      name: 'Read the limits back',
      outcomes: { wrong: 'They differ', right: 'As on the card' },
    },
    ack: {
      act: 'Acknowledge it, with a long press too.',
      hint: 'Silencing stops the sound; the mark stays until the cause is gone.',
      name: 'Acknowledge',
      outcomes: { ends: 'It ends', stays: 'It stays' },
    },
    offOn: {
      act: 'Switch the monitor off and on again.',
      hint: 'A mark that was only silenced goes with that.',
      name: 'Off and on',
      outcomes: { ends: 'It ends', stays: 'It stays' },
    },
    fill: {
      act: 'Fill the tire to its cold pressure.',
      hint: 'Top-up on Logbook says what it reads now.',
      name: 'Fill it',
      outcomes: { ends: 'It ends', stays: 'It stays' },
    },
    feel: {
      act: 'Hold your hand near the hubs after a short drive: is one hotter?',
      hint: 'Don’t touch it: a dragging brake burns.',
      name: 'Heat of the hubs',
      outcomes: { hot: 'One is hotter', alike: 'All alike' },
    },
    heard: {
      act: 'Is the wheel’s figure one of now?',
      hint: 'Look at its age.',
      name: 'Heard now',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    newCell: {
      act: 'Put a new battery into its sensor.',
      hint: 'New seal in its groove.',
      name: 'New battery',
      outcomes: { ends: 'It ends', stays: 'It stays' },
    },
  },
  quiet: {
    sound: {
      act: 'Is its sound on, and loud enough?',
      hint: 'Press it until it beeps.',
      name: 'Sound',
      outcomes: { off: 'It was off', on: 'It is on' },
    },
    heard: {
      act: 'Is the wheel’s figure one of now?',
      hint: 'It must have moved since you let air out.',
      name: 'Heard now',
      outcomes: { old: 'An old one', now: 'Of now' },
    },
    unit: {
      act: 'Is the unit connected in the monitor?',
      hint: 'Disconnected, its wheels don’t ring.',
      name: 'Unit connected',
      outcomes: { off: 'It was off', on: 'It is on' },
    },
    readBack: {
      act: 'Read back the limits of this axle.',
      hint: 'After switching it off and on.',
      name: 'Read the limits back',
      outcomes: { factory: 'The factory’s', far: 'Far from the pressure', right: 'As on the card' },
    },
    wake: {
      act: 'Tap or roll, then let a little more out.',
      hint: 'Standing still, and fill it again after.',
      name: 'Wake it',
      outcomes: { rings: 'It rings', quiet: 'Still quiet' },
    },
    minutes: {
      act: 'Wait four minutes.',
      hint: 'Some report once a minute, some less often.',
      name: 'Wait',
      outcomes: { rings: 'It rings', quiet: 'Still quiet' },
    },
    ids: {
      act: 'Read the ID at this position.',
      hint: 'Compare it with your ID book.',
      name: 'Read the ID back',
      outcomes: { differs: 'Another one', right: 'The right one' },
    },
    sameUnit: {
      act: 'Are all wheels of its unit old, while others are of now?',
      hint: 'Then the unit is disconnected, or its repeater is.',
      name: 'Its whole unit?',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    falls: {
      act: 'Let a little out: whose figure falls?',
      hint: 'From 2.0 to 1.7 bar at most, and fill it again.',
      name: 'Whose figure falls',
      outcomes: { this: 'This wheel’s', other: 'Another’s, or none' },
    },
    drive: {
      act: 'With the low limit just over its pressure, drive around the yard.',
      hint: 'Set the limit back after that.',
      name: 'Drive a little',
      outcomes: { rings: 'It rings', quiet: 'Still quiet' },
    },
    keyAgain: {
      act: 'Key the limits of this axle again, with every save press, and try once more.',
      hint: 'LOW before HIGH coming down.',
      name: 'Key the limits again',
      outcomes: { rings: 'It rings', quiet: 'Still quiet' },
    },
    test: {
      act: 'Unscrew one sensor: does the low alarm come?',
      hint: 'A short hiss; screw it on again.',
      name: 'Sensor off',
      outcomes: { rings: 'It rings', quiet: 'Still quiet' },
    },
  },
  lamp: {
    blinks: {
      act: 'Switch the ignition on: does the lamp blink for about a minute before it stays?',
      hint: 'Blinking means a fault of the system, steady a pressure.',
      name: 'Blinking or steady',
      outcomes: { blinking: 'It blinks', steady: 'Steady from the start' },
    },
    done: {
      act: 'What was done shortly before?',
      hint: 'In the days before the lamp came.',
      name: 'What was done',
      outcomes: {
        nothing: 'Nothing',
        filled: 'Tires filled',
        moved: 'Wheels rotated',
        wheels: 'New tires or wheels',
        sealant: 'Sealant used',
        battery: '12 V battery changed',
      },
    },
    gauge: {
      act: 'Put a gauge on all tires and compare with the door label.',
      hint: 'Cold.',
      name: 'Gauge all',
      outcomes: { low: 'One or more are low', right: 'All are right' },
    },
    morning: {
      act: 'Did it come on a cold morning?',
      hint: 'It may go out after some kilometres.',
      name: 'A cold morning',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    fill: {
      act: 'Fill all to the door label, cold, and drive 5 to 10 minutes at about 80 km/h.',
      hint: 'Within the law and the weather.',
      name: 'Fill and drive',
      outcomes: { out: 'It goes out', on: 'It stays on' },
    },
    reset: {
      act: 'Reset it by its key or menu with the right pressures in, then drive ten minutes.',
      hint: 'The vehicle’s manual says how; by ignition or by menu.',
      name: 'Reset and drive',
      outcomes: { out: 'It goes out', on: 'It stays on' },
    },
    volts: {
      act: 'Measure the 12 V battery at rest and running.',
      hint: 'About 12.5 V at rest and 13.5 V or more running is healthy.',
      name: '12 V battery',
      outcomes: { weak: 'Weak', good: 'Healthy' },
    },
    valve: {
      act: 'Take the valve caps off and look: dried white or coloured foam?',
      hint: 'It comes out with the first puff of air.',
      name: 'Traces of sealant',
      outcomes: { traces: 'Traces', clean: 'Clean' },
    },
    places: {
      act: 'Compare each figure in the panel with a gauge at that wheel.',
      hint: 'Only where the panel shows figures.',
      name: 'Figures and places',
      outcomes: { differ: 'Two are exchanged', right: 'Each is right, or it shows none' },
    },
    others: {
      act: 'Are other warnings on too?',
      hint: 'Brakes, stability, charging.',
      name: 'Other lamps',
      outcomes: { yes: 'Yes', no: 'No' },
    },
    teach: {
      act: 'Have the sensors taught again, with the vehicle’s tool.',
      hint: 'A tire shop does it in minutes.',
      name: 'Teach the sensors',
      outcomes: { out: 'It goes out', on: 'It stays on' },
    },
    reader: {
      act: 'Have each sensor read with a tire tool.',
      hint: 'Cheap code readers see the engine only.',
      name: 'Tire tool',
      outcomes: { silentSensor: 'One is silent', allHeard: 'All are read', noAnswer: 'The vehicle doesn’t answer' },
    },
    workshop: {
      act: 'Have a workshop read the vehicle’s own memory of faults.',
      hint: 'With the vehicle’s own reader.',
      name: 'Memory of faults',
      outcomes: { stored: 'A fault of the system is stored', none: 'None' },
    },
    clean: {
      act: 'Have the tire taken off and the sensor cleaned.',
      hint: 'Sealant blocks its port.',
      name: 'Sensor cleaned',
      outcomes: { out: 'It goes out', on: 'It stays on' },
    },
  },
};
