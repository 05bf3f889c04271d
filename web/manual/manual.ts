/** A page of the manual: one sheet. `docs/manual/` is written from these (`npm run manual`). */
export interface ManualPage {
  /** The path of the sheet; `yard` for all rigs. */
  path: string;
  title: string;
  /** What the sheet is for. */
  about: string;
  /** Its picture in `docs/screenshots/`. */
  picture?: string;
  /** What owners ask first. */
  questions: readonly (readonly [question: string, answer: string])[];
  cautions: readonly string[];
}

export const manual: readonly ManualPage[] = [
  {
    path: 'yard',
    title: 'Yard',
    about: 'All your rigs, what each needs next, and what concerns the whole installation: phones, gateways, backups.',
    picture: 'yard.png',
    questions: [
      [
        'How do I begin?',
        'Press “New rig”, choose what is in front and what is behind it, and press “Draw it”. Then follow the button at the foot of each sheet.',
      ],
      [
        'My car pulls two trailers. Is that one rig or two?',
        'Two rigs that share the car. Open “Units, and new combinations of them”, choose the car and the other trailer. What is fitted on the car is fitted in both.',
      ],
      [
        'Can I use it on my phone?',
        'Open “Use it on a phone” at the foot of the page. The phone is paired by a code that is shown on this screen. Over https it also works without a connection.',
      ],
      ['I deleted a rig by mistake.', 'Press “Undo” in the message. Later, restore a backup: one is made each day by itself.'],
      [
        'What does “Leave it out” do?',
        'It takes a stage out of the list of things to do, with your reason. You can take it up again at any time.',
      ],
    ],
    cautions: ['A monitor does not replace a gauge, an eye on the tread, or the placard.'],
  },
  {
    path: 'layout',
    title: 'Layout',
    about: 'The rig as it is: vehicles and trailers, axles, wheels and spares, tire markings and distances.',
    questions: [
      [
        'Which side is left?',
        'Left as seen from the driver’s seat, looking forward, whatever the country. “As you stand” turns the plan to where you are.',
      ],
      [
        'Must I type the tire’s marking?',
        'No, but with it Druckwerk knows what the tire carries, how much air is in it, and the force on a stem. Without it these stay estimates.',
      ],
      [
        'My trailer has three axles and no spare.',
        'Press “Add axle to B”. Select a wheel of the trailer and press “Remove spare” beside the plan.',
      ],
      [
        'What are the distances for?',
        'Only for Radio: how far each sensor is from the dash. Leave them empty if you don’t need that sheet.',
      ],
      [
        'I have summer and winter wheels.',
        'Add a second wheel set to the unit. Each keeps its own sensors, pressures and limits; the set that is not on the rig is not watched.',
      ],
    ],
    cautions: [],
  },
  {
    path: 'kit',
    title: 'Kit',
    about: 'What came in the box, what may go on which stem, and what your monitor can do.',
    picture: 'kit.png',
    questions: [
      [
        'May I put a sensor on a rubber stem?',
        'A light cap on a sound rubber stem is what many do; metal is safer. A flow-through sensor never, and on a motorcycle nothing.',
      ],
      [
        'My monitor isn’t in the list.',
        'They are invented. Choose the nearest, or describe your own: positions, groups, steps and presets are on its leaflet or in its menu.',
      ],
      [
        'The kit was set up by somebody else.',
        'Use “Read back”: switch on, wait ten minutes, and type what the monitor shows. Then only what differs has to be changed.',
      ],
      [
        'Why does it ask for the kind of sensor?',
        'Kinds differ in what they show of the heat, in how they are paired, and in their loose parts. What you choose here is used on every later sheet.',
      ],
      [
        'What if a part is missing?',
        'Type what you counted. What is missing, and what is left as a spare, is said at the top of the box.',
      ],
    ],
    cautions: [
      'A flow-through sensor on rubber cracks the stem, leaks or shears off. Have a metal stem fitted.',
      'On a motorcycle use metal stems only: a sensor that shears a rubber one empties the tire while riding.',
    ],
  },
  {
    path: 'pressures',
    title: 'Pressures',
    about: 'The cold pressure of each axle, its load minimum, and what to fill to when the tire isn’t cold.',
    picture: 'pressures.png',
    questions: [
      [
        'What is cold?',
        'Not driven for three hours, or less than about a mile. The temperature belongs to the figure: 65 psi at 18 °C is another fill than at 5 °C.',
      ],
      [
        'Where do I get the figure?',
        'From the placard on the door frame; for a loaded rig from the tire maker’s load table, by the heaviest wheel of the axle.',
      ],
      [
        'My tire is warm. What do I fill to?',
        '“Now, and not cold” works it out from its temperature. Never bleed a hot road tire to the cold pressure.',
      ],
      [
        'Why does it ask “I mean it”?',
        'The figure can’t carry the load, or is over what tire or rim allow, or looks like the wrong unit.',
      ],
      [
        'What is “Load and tire”?',
        'Weights, the sidewall’s figures and the maker’s table of this axle. With them the load minimum is known, and alarms can be judged by it.',
      ],
    ],
    cautions: [
      'Never bleed a hot road tire to the cold pressure: it is too soft when cold.',
      'The placard and the tire maker’s table come before anything here.',
    ],
  },
  {
    path: 'alarms',
    title: 'Alarms',
    about: 'A rule for each axle, what its limits do on your coldest and hottest day, and the keys for your monitor.',
    picture: 'alarms.png',
    questions: [
      [
        'Which rule should I take?',
        'Start with a share of normal. Look at what these limits do; if one is marked, let Druckwerk suggest a pair.',
      ],
      [
        'What does the ladder show?',
        'From below: what can’t carry the load, the low limit, the coldest start, the cold pressure, the hot run, and the high limit. Limits can be dragged.',
      ],
      [
        'My monitor has one pair for the whole trailer.',
        'The keying card knows: it takes the highest low and the lowest high, and says what each axle gives up.',
      ],
      [
        'It refuses a high limit below the low one.',
        'That is its interlock. The card puts the keys in an order that never crosses.',
      ],
      ['How do I take a change back?', 'Before it is in force: Escape or “Discard”. After that: “Undo” in the message.'],
    ],
    cautions: ['A low limit below the load minimum sounds when the tire can no longer carry its load.'],
  },
  {
    path: 'pairing',
    title: 'Pairing',
    about: 'Which sensor is on which wheel, the way your kit does it; the ID book, the final check, rotation.',
    picture: 'pairing.png',
    questions: [
      ['Can I practise first?', 'Yes. “Practise first” lays out a simulated kit with a monitor that makes the usual mistakes.'],
      [
        'Another sensor answered.',
        'Move the others 3 m away or let them sleep for ten minutes, and capture again. An ID that is on another wheel already is said at once.',
      ],
      [
        'I have the IDs on paper.',
        'Open “Paste a list of IDs”: one a line in the order of the wheels, or each with its position.',
      ],
      [
        'My kit shows no IDs.',
        'Say so under “What does the display show”. Then a press for each wheel is enough, and the check goes by pressure.',
      ],
      ['When is pairing done?', 'When you have stepped through all positions in the final check and each showed its own sensor.'],
    ],
    cautions: ['Right after pairing every sensor reads zero until it is on its valve. That is expected.'],
  },
  {
    path: 'fitting',
    title: 'Fitting',
    about: 'A card for each wheel, step by step: boot, nut, sensor, soap test, notes and photos.',
    picture: 'fitting.png',
    questions: [
      [
        'It hisses when I screw it on.',
        'A short hiss is normal. Be quick, and type how long it hissed: what was lost goes on the top-up list.',
      ],
      ['How tight?', 'Sensor by hand until snug, nut back against it, a quarter turn with the wrench. Don’t over-tighten.'],
      ['There are bubbles.', 'Press “Bubbles”: what to try comes in order, and the wheel stays on the list until it is cured.'],
      [
        'Do I need the lock nuts?',
        'They are optional; who swaps wheels often leaves them off. Say so under loose parts and the steps go.',
      ],
      ['Can I stop in between?', 'At any time. Each tick is kept, also without a connection.'],
    ],
    cautions: [
      'Work on level ground, chock the wheels, and use stands when a wheel is off.',
      'After the first drive tighten every nut again, a quarter turn at most.',
    ],
  },
  {
    path: 'radio',
    title: 'Radio',
    about: 'Which sensors reach the dash, with a repeater and without, and where the repeater belongs.',
    picture: 'radio.png',
    questions: [
      [
        'Do I need a repeater?',
        'A short rig often does without. The sheet estimates each wheel; a signal that was measured at the seat wins.',
      ],
      [
        'Where do I put it?',
        '“Find the best place” tries every 5 cm. Low, forward, centred, near the wheels it serves, not behind metal.',
      ],
      ['How sure is this?', 'Only the loss in free space is law. Everything else is assumed; measure when you can.'],
      [
        'It has its own battery.',
        'Mount it where it can be lifted out to charge. Charge it four hours first; it sleeps after ten minutes still.',
      ],
      ['What goes to plus?', 'Red, through a fuse, to constant 12 V; black to minus.'],
    ],
    cautions: ['Level and chock the trailer before you work under it. Wear gloves and glasses when you drill.'],
  },
  {
    path: 'first-drive',
    title: 'First drive',
    about: 'All sensors heard, gauge against sensor, one alarm proved, and a report of it all.',
    questions: [
      ['How long until all are heard?', '2 to 10 minutes for a rig, 6 to 7 as a rule; some kits speak only while rolling.'],
      [
        'My gauge says something else.',
        'Within 1 psi is good, up to 4 is tolerated. Compare cold and at rest; which of the two is wrong shows over several wheels.',
      ],
      [
        'Why prove an alarm?',
        'A promised sound may not come. Let a little air out once, standing still, see the alarm, and refill.',
      ],
      ['The spare isn’t heard.', 'It doesn’t roll, so it reports rarely. It isn’t asked for here.'],
      [
        'What is the report for?',
        'For you in a year, for a buyer, for a shop: what was set, fitted, measured and proved, dated.',
      ],
    ],
    cautions: ['Prove the alarm standing still, and refill before you drive.'],
  },
  {
    path: 'watch',
    title: 'Watch',
    about: 'Every tire as it is now, what is wrong, how much, and what to do.',
    picture: 'watch.png',
    questions: [
      [
        'What do the marks on a wheel mean?',
        'The column is the pressure now, the notches are the limits, the triangle is the cold pressure, the dashed line what it should read now.',
      ],
      [
        'All tires read low this morning.',
        'If all dropped together, the cold did it. Druckwerk says so and asks for no stop; your monitor may sound all the same.',
      ],
      ['A figure is in brackets.', 'It is old: the sensor is asleep or isn’t reporting. What the tire has now is unknown.'],
      [
        'How do I stop the sound?',
        'Acknowledge the alarm, shelve it for a time, or silence all for ten minutes. The mark stays until the cause is gone.',
      ],
      [
        'My monitor has no link to this machine.',
        'Press “Type readings” and type what it shows. They are judged like any others.',
      ],
    ],
    cautions: ['Do not work the screen while driving.', 'A tire run flat or very low comes off for inspection by a tire shop.'],
  },
  {
    path: 'logbook',
    title: 'Logbook',
    about: 'What happened to the rig; what each wheel loses; top-up, season, trip and track day.',
    picture: 'logbook.png',
    questions: [
      ['What is written by itself?', 'Drives, alarms, paired sensors, changed limits, and air that was put in.'],
      ['How do I see a slow leak?', 'Under Leaks: the cold start of each day with the weather taken out, and how long it lasts.'],
      [
        'How does the top-up round work?',
        'It gives each tire its figure at its own temperature and goes on by itself. These wheels don’t alarm meanwhile.',
      ],
      [
        'I drive over a pass.',
        'Under Trip, type the stages or read a track. It shows the pressures on the way and what would sound.',
      ],
      [
        'What do I let out on a track day?',
        'Type cold and hot figures. Go by the peak: after a cool-down lap the pit reading is too low.',
      ],
    ],
    cautions: ['Never bleed a hot road tire to the cold pressure. On a track day set the road pressures again before you leave.'],
  },
  {
    path: 'upkeep',
    title: 'Upkeep',
    about: 'What is due, how long each battery lasts, every job step by step, and the parts on hand.',
    picture: 'upkeep.png',
    questions: [
      [
        'When do I change the batteries?',
        'Once a year, or when a sensor drops out on cold mornings. The forecast goes by use, cold and the battery’s own voltage.',
      ],
      [
        'Must I pair again after a new battery?',
        'No. The same sensor keeps its ID. The usual mistake is a pinched O-ring: take a new one each time.',
      ],
      ['How do I get reminded?', 'Take the list of what is due into your calendar by its address.'],
      [
        'How old may a tire be?',
        'Type the four figures after DOT under Due. From six years on a tire shop looks at it each year; when that is done, the job “Have old tires looked at” counts the next year.',
      ],
      [
        'I rotated the wheels.',
        'External sensors go back by position. Internal ones travel with the wheel: Pairing, Rotation says what to exchange.',
      ],
    ],
    cautions: ['Never solder to a bare lithium cell. Ventilate, and keep cells away from children.'],
  },
  {
    path: 'faults',
    title: 'Faults',
    about: 'Say what you see; you are asked for the test that tells the most for its minutes.',
    picture: 'faults.png',
    questions: [
      ['Why this test first?', 'It tells the most in the fewest minutes, from what is known so far. You can pick another.'],
      ['I can’t do that here.', 'Press “Can’t do this now”. The next best is asked.'],
      [
        'Where do the chances come from?',
        'Common practice and guesses, no source. They are in the table and you can change them.',
      ],
      [
        'One sensor is silent.',
        'Choose “One wheel isn’t heard”. The swap test shows whether the fault follows the sensor or stays with the valve.',
      ],
      ['I stand at the roadside.', '“At the roadside” has what to do now, cautions first.'],
    ],
    cautions: ['Until a sensor is heard nobody watches its tire. Look at it at every stop.'],
  },
  {
    path: 'lab',
    title: 'Rules lab',
    about: 'Every rule, and the watch, on your own rig and in your weather: false alarms a year against leaks found in time.',
    picture: 'lab.png',
    questions: [
      ['What does it need?', 'Cold pressures and a year of weather, from a file or a typical year, both on Pressures.'],
      ['What is a false alarm here?', 'One on a day on which no tire lost air and none was under its load minimum.'],
      ['Why do figures have brackets?', 'A hundred draws of what nobody knows of your rig: the tenth and the ninetieth.'],
      ['Can I try my own rule?', 'Type how far low and high are from cold, in percent, and run it again.'],
      ['Do the same figures come again?', 'With the same seed, yes.'],
    ],
    cautions: ['It compares rules. It does not say that a tire is safe.'],
  },
  {
    path: 'bench',
    title: 'Bench',
    about: 'A simulated kit on your own rig to practise on: it drives, warms, cools and leaks by physics.',
    questions: [
      [
        'Are these my readings?',
        'No. While the bench is open its clock drives this rig’s watch, and everything is marked as practice.',
      ],
      ['How do I see an alarm?', 'Run the time, let air out of a wheel, and open the watch; or play a scene and find the wheel.'],
      ['What are drills?', 'Five situations that play until something sounds; then you say what it means and what to do.'],
      ['Can it spoil my history?', 'No. What the bench said is forgotten when it is closed.'],
      ['It runs too slowly.', 'Up to 600 times faster, at the foot of the page.'],
    ],
    cautions: ['Close the bench before you drive: real readings are stored but not judged while it is open.'],
  },
];
