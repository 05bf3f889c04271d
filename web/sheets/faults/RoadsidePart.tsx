import { Link, useSearchParams } from 'react-router';
import { useAlarms, useWatch } from '../../data/queries.ts';
import { Notice, Switch } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { useRig } from '../../state/useRig.ts';

type Kind = 'low' | 'rapid' | 'hot';
const KINDS: readonly { value: Kind; text: string }[] = [
  { value: 'low', text: 'Low tire' },
  { value: 'rapid', text: 'Losing air fast' },
  { value: 'hot', text: 'Hot wheel' },
];

const ROLLING: Record<Kind, readonly string[]> = {
  low: [
    'Ease off. No hard braking, no sharp turn.',
    'Stop where it is level and safe, well off the road.',
    'Hazard lights, vest, triangle. People out on the far side.',
    'Chock the wheels before you kneel at one.',
  ],
  rapid: [
    'Hold the wheel straight, ease off, let it roll out. Brake gently and late.',
    'Stop as soon as it is safe: a flat tire comes apart within a kilometre or two.',
    'Hazard lights, vest, triangle. People out on the far side.',
    'Chock the wheels before you kneel at one.',
  ],
  hot: [
    'Ease off and stop where it is safe, brakes as little as you can.',
    'Don’t touch hub or rim. Don’t pour water on it.',
    'Smoke or flames: everybody away, extinguisher from a distance, call for help.',
    'Chock the wheels. A brake that was hot may not hold when it is cold.',
  ],
};
const PARKED: Record<Kind, readonly string[]> = {
  low: ['It is parked: leave it parked.', 'Level ground, wheels chocked, before you kneel at it.'],
  rapid: [
    'It is parked: leave it parked, and keep your face away from the tire.',
    'Level ground, wheels chocked, before you kneel at it.',
  ],
  hot: ['It is parked: leave it parked until it is cold.', 'Sun on one side heats a tire too, but no hub.'],
};
const THEN: Record<Kind, readonly string[]> = {
  low: [
    'Look: nail, cut, bulge, the sensor loose? Put a gauge on it: a monitor doesn’t replace one.',
    'Under half of its cold pressure, or driven like that: don’t fill it. It comes off and a tire shop looks inside.',
    'Else fill it to its cold pressure and listen. It holds for ten minutes: drive slowly to a tire shop, looking at it on the way.',
    'It doesn’t hold: spare wheel, or call for help. Jack on level ground, on stands, never under it.',
  ],
  rapid: [
    'Wait until the tire is cool to the hand held near it.',
    'Spare wheel, or call for help. Jack on level ground, on stands, never under it.',
    'A tire that ran flat comes off for good, or a tire shop says otherwise.',
    'Sealant is for the tread only. Tell the tire shop that it is in there.',
  ],
  hot: [
    'Wait half an hour. Hold your hand near each hub: is one hotter?',
    'A dragging brake or a failing bearing: a workshop comes, or it is carried. Don’t drive on.',
    'All alike hot: load, speed and pressure. Check the pressures when cold, never let air out hot.',
  ],
};

/** What to do now, from an alarm: cautions first; other words for a rig that is parked. */
export function RoadsidePart() {
  const { rig } = useRig();
  const f = useFormat();
  const [search, setSearch] = useSearchParams();
  const view = useWatch(rig.id).data;
  const open = (useAlarms(rig.id).data ?? []).filter((a) => a.toTime === null && a.severity !== 'note');
  const wheel = search.get('wheel') ?? open.find((a) => a.severity === 'stop')?.position ?? '';
  const own = open.filter((a) => a.position === wheel);
  const has = (kind: Kind) => own.some((a) => a.kind === kind);
  const hotter = own.some((a) => a.kind === 'apart' && a.evidence?.how === 'hotter');
  const seen: Kind = has('rapid') ? 'rapid' : has('low') ? 'low' : has('hot') || hotter ? 'hot' : 'low';
  const asked = search.get('kind');
  const kind = KINDS.find((k) => k.value === asked)?.value ?? seen;
  const v = view?.wheels.find((w) => w.position === wheel);
  const [moving, setMoving] = [
    search.get('now') ?? (view?.moving === false || v?.state === 'asleep' ? 'parked' : 'rolling'),
    setSearch,
  ];
  const put = (change: Record<string, string>) =>
    setMoving({ part: 'roadside', ...(wheel ? { wheel } : {}), kind, now: moving, ...change }, { replace: true });
  return (
    <section aria-label="At the roadside" className="max-w-[760px]">
      <div className="mb-4 flex flex-wrap gap-3">
        <Switch label="What it is" value={kind} options={KINDS} onChange={(k) => put({ kind: k })} />
        <Switch
          label="The rig now"
          value={moving === 'parked' ? 'parked' : 'rolling'}
          options={[
            { value: 'rolling', text: 'On the move' },
            { value: 'parked', text: 'Parked' },
          ]}
          onChange={(now) => put({ now })}
        />
      </div>
      {v && (
        <p className="mb-3 text-head">
          <b>{wheel}</b>
          {v.pressureKpa !== null &&
            `, ${v.state === 'live' ? f.pressure(v.pressureKpa) : `(${f.pressure(v.pressureKpa)}), an old figure`}`}
          {v.loadMinimumKpa !== null && `; load minimum ${f.pressure(v.loadMinimumKpa)} cold`}
        </p>
      )}
      {moving !== 'parked' && (
        <Notice tone="act">Don’t read this while you drive. Somebody else reads it, or you stop first.</Notice>
      )}
      <ol className="mt-4 list-decimal pl-6 text-head leading-snug">
        {[...(moving === 'parked' ? PARKED : ROLLING)[kind], ...THEN[kind]].map((s) => (
          <li key={s} className="border-b border-rule py-2">
            {s}
          </li>
        ))}
      </ol>
      <p className="mt-4 flex flex-wrap gap-2">
        <Link className="btn" to={`/rigs/${rig.id}/logbook?part=topup`}>
          Fill tires
        </Link>
        <Link className="btn" to={`/rigs/${rig.id}/watch`}>
          To the watch
        </Link>
      </p>
      <p className="mt-3 text-body text-ink2">
        The vehicle’s and the tire maker’s instructions, local rules and a licensed shop come before this page.
      </p>
    </section>
  );
}
