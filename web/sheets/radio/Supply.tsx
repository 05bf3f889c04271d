import { batteryDays, gaugeMm2, voltageDrop } from '#core/radio/supply.ts';
import { Field, Notice, Switch } from '../../parts/controls.tsx';
import { parseLength, parseNumber } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { useRig } from '../../state/useRig.ts';

interface Typed {
  kind: 'wired' | 'battery';
  feed: 'constant' | 'switched';
  length: string;
  area: string;
  draw: string;
  fuse: string;
  capacity: string;
  hours: string;
}

/** Wire as it is sold: square millimetres, or a gauge number. */
export function areaOf(text: string): number | null {
  const awg = /^(?:awg\s*)?(\d{1,2})\s*(?:awg|ga)$|^awg\s*(\d{1,2})$/i.exec(text.trim());
  if (awg) return gaugeMm2(Number(awg[1] ?? awg[2]));
  const n = parseNumber(text.replace(/\s*mm.?$/i, ''));
  return n !== null && n > 0 && n <= 50 ? n : null;
}

/** Does the repeater get its voltage, and for how long? */
export function Supply() {
  const { rig } = useRig();
  const key = `radio.supply.${rig.id}`;
  const [t, setT] = useDraft<Typed>(key, {
    kind: 'wired',
    feed: 'constant',
    length: '',
    area: '',
    draw: '80',
    fuse: '',
    capacity: '2000',
    hours: '4',
  });
  const put = (part: Partial<Typed>) => setT({ ...t, ...part });
  const length = t.length.trim() === '' ? null : parseLength(t.length);
  const area = t.area.trim() === '' ? null : areaOf(t.area);
  const draw = parseNumber(t.draw);
  const fuse = t.fuse.trim() === '' ? null : parseNumber(t.fuse);
  const errors = {
    length:
      t.length.trim() === ''
        ? undefined
        : length === null
          ? 'Type metres, or feet as in 20 ft'
          : length <= 0
            ? 'A cable has a length'
            : length > 60
              ? 'Longer than any rig'
              : undefined,
    area: t.area.trim() !== '' && area === null ? 'Type mm², such as 1.5, or a gauge, such as 16 AWG' : undefined,
    draw: draw === null || draw <= 0 || draw > 5000 ? 'Milliampere, such as 80' : undefined,
    fuse: t.fuse.trim() !== '' && (fuse === null || fuse <= 0 || fuse > 40) ? 'Ampere, such as 1' : undefined,
  };
  const drop =
    length !== null && length > 0 && area !== null && draw !== null && draw > 0
      ? voltageDrop(2 * length, area, draw / 1000)
      : null;
  const capacity = parseNumber(t.capacity);
  const hours = parseNumber(t.hours);
  const days =
    capacity !== null && hours !== null && draw !== null && capacity > 0 && hours > 0 && draw > 0
      ? batteryDays(capacity, draw, hours)
      : null;
  return (
    <section aria-label="Supply" className="mt-8">
      <h2 className="border-b border-ink pb-2">Supply</h2>
      <div className="mt-3 flex flex-wrap gap-3">
        <Switch
          label="Supply of the repeater"
          value={t.kind}
          options={[
            { value: 'wired', text: 'Wired, 12 or 24 V' },
            { value: 'battery', text: 'Its own battery' },
          ]}
          onChange={(kind) => put({ kind })}
        />
        {t.kind === 'wired' && (
          <Switch
            label="Feed"
            value={t.feed}
            options={[
              { value: 'constant', text: 'Constant' },
              { value: 'switched', text: 'Switched' },
            ]}
            onChange={(feed) => put({ feed })}
          />
        )}
      </div>
      <div className="mt-3 grid max-w-[760px] grid-cols-2 items-start gap-3 sm:grid-cols-4">
        {t.kind === 'wired' ? (
          <>
            <Field
              label="Cable, one way"
              unit="m"
              value={t.length}
              error={errors.length}
              onChange={(e) => put({ length: e.target.value })}
            />
            <Field
              label="Wire"
              unit="mm²"
              value={t.area}
              error={errors.area}
              hint="or 16 AWG"
              onChange={(e) => put({ area: e.target.value })}
            />
            <Field
              label="It draws"
              unit="mA"
              value={t.draw}
              error={errors.draw}
              onChange={(e) => put({ draw: e.target.value })}
            />
            <Field label="Fuse" unit="A" value={t.fuse} error={errors.fuse} onChange={(e) => put({ fuse: e.target.value })} />
          </>
        ) : (
          <>
            <Field label="Battery" unit="mAh" value={t.capacity} onChange={(e) => put({ capacity: e.target.value })} />
            <Field
              label="It draws"
              unit="mA"
              value={t.draw}
              error={errors.draw}
              onChange={(e) => put({ draw: e.target.value })}
            />
            <Field label="Driven a day" unit="h" value={t.hours} onChange={(e) => put({ hours: e.target.value })} />
          </>
        )}
      </div>
      <div className="mt-3 max-w-[76ch] text-body" aria-live="polite">
        {t.kind === 'wired' ? (
          <>
            {drop !== null && (
              <p>
                {drop.toFixed(drop < 0.1 ? 3 : 2)} V are lost out and back:{' '}
                {drop > 0.36 ? 'too much at 12 V (over 3 %), take a thicker wire.' : 'fine.'}
              </p>
            )}
            {t.feed === 'switched' && (
              <div className="mt-2">
                <Notice>
                  <b>A switched feed dies with the ignition or the lamps.</b> A repeater wants constant supply, or it comes up
                  late each time.
                </Notice>
              </div>
            )}
            {fuse !== null && fuse > 5 && (
              <p className="mt-2">A fuse of {fuse} A protects the wire poorly: 1 to 3 A, close to the battery.</p>
            )}
            {t.fuse.trim() === '' && <p className="mt-2 text-ink2">Fuse it, 1 to 3 A, close to the battery.</p>}
            <p className="mt-2 text-ink2">
              Red to plus, black to minus, ring terminals. Plugs are keyed; the collar goes finger-tight.
            </p>
          </>
        ) : (
          <p>
            {days !== null && `It lasts about ${Math.floor(days)} days. `}Charge it 4 hours first, and mount it where it can be
            lifted out. Its own level is worth a look.
          </p>
        )}
      </div>
    </section>
  );
}
