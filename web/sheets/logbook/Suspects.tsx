import type { WheelLeak } from '#core/leak/history.ts';
import { type SuspectCode, type SuspectWhy, suspectsOf } from '#core/leak/suspects.ts';
import { entriesOf } from '#core/upkeep/since.ts';
import { Notice } from '../../parts/controls.tsx';
import { useRig } from '../../state/useRig.ts';

const LOOK: Record<SuspectCode, { title: string; how: string }> = {
  core: { title: 'Valve core', how: 'Sensor off, soapy water into the valve: bubbles mean the core. Turn it snug or renew it.' },
  seat: {
    title: 'The sensor’s seat',
    how: 'Soapy water around sensor and nut. Off, look at its seal, on again until snug, not more.',
  },
  nail: { title: 'A nail or cut in the tread', how: 'Look all round, wet the tread. Leave a nail in until a tire shop has it.' },
  bead: { title: 'The bead', how: 'Soapy water along both edges of the rim. A tire shop cleans and seats it again.' },
  repair: { title: 'The repaired place', how: 'Wet it: a plug or patch that bubbles goes back to the tire shop.' },
  stem: {
    title: 'The stem',
    how: 'Bend it a little to each side with soapy water at its foot. Have a cracked one renewed, in metal.',
  },
  extension: {
    title: 'The valve extension',
    how: 'Take it off and try the valve without it. Its seal and thread are the usual fault.',
  },
  rim: { title: 'The rim', how: 'Bubbles from the metal itself: a crack or corrosion. The wheel comes off the road.' },
};
const WHY: Record<SuspectWhy, string> = {
  handled: 'it was handled shortly before',
  newTire: 'a new tire was fitted shortly before',
  repaired: 'there was a puncture',
  sudden: 'it fell at once',
  steady: 'it loses slowly and evenly',
  rubberStem: 'it is a rubber stem',
  oldStem: 'the stem is old',
  onRubber: 'a flow-through hangs on it',
  innerDual: 'the valve is reached through one',
};

/** Where to look first on a wheel that loses air, and what speaks for it. */
export function Suspects({ leak, nowMs }: { leak: WheelLeak; nowMs: number }) {
  const { rig, wheels } = useRig();
  const w = wheels.find((x) => x.position === leak.position);
  if (!w) return null;
  const list = suspectsOf({
    leak,
    wheel: w.wheel,
    inner: w.place.endsWith('I'),
    log: entriesOf(rig.log, leak.position),
    nowMs,
  });
  return (
    <section aria-label={`Where to look on ${leak.position}`}>
      <h2 className="mb-1 text-body">Where to look first on {leak.position}</h2>
      <ol className="mb-3 list-decimal pl-5 text-body">
        {list.slice(0, 5).map((s) => (
          <li key={s.code} className="py-[3px]">
            <b>{LOOK[s.code].title}</b>
            {s.why.length > 0 && <span className="text-ink2"> ({s.why.map((y) => WHY[y]).join(', ')})</span>}: {LOOK[s.code].how}
          </li>
        ))}
      </ol>
      <Notice>
        On level ground, wheels chocked, on a stand and not on the jack alone. A tire that was driven very low comes off for
        inspection by a tire shop.
      </Notice>
    </section>
  );
}
