import { ambientAtAltitude } from '#core/air/atmosphere.ts';
import { gasNow, nowAgainstCold, REST_HOURS } from '#core/pressure/now.ts';
import { convert } from '#core/units/units.ts';
import type { SensorKind } from '#schema/common.ts';
import { Field, Notice, Switch } from '../../parts/controls.tsx';
import { parseLength, parseNumber, useFormat } from '../../parts/format.ts';
import { nowWords } from '../../parts/words-limits.ts';
import { useDraft } from '../../state/drafts.ts';
import type { AxlePlan } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';

interface Typed {
  code: string;
  air: string;
  rest: 'rested' | 'driven';
  hours: string;
  gauge: string;
  sensor: string;
  altitude: string;
  units: string;
}

const kindNames: Record<SensorKind, string> = { cap: 'cap', flowThrough: 'flow-through', internal: 'internal sensor' };

/** A tire that is not at its setting temperature: what a figure means cold, and what to fill to now. */
export function NowNotCold({ plans }: { plans: readonly AxlePlan[] }) {
  const { rig } = useRig();
  const f = useFormat();
  const key = `now.${rig.id}`;
  const units = `${f.unit} ${f.temp}`;
  const blank: Typed = { code: '', air: '', rest: 'rested', hours: '0', gauge: '', sensor: '', altitude: '', units };
  const [kept, keep] = useDraft<Typed>(key, blank);
  // Figures typed in other units would mean something else now.
  const typed = kept.units === units ? kept : { ...blank, ...kept, air: '', gauge: '', sensor: '', units };
  const put = (part: Partial<Typed>) => keep({ ...typed, ...part });
  const set = plans.filter((p) => p.setting.cold);
  const plan = set.find((p) => p.code === typed.code) ?? set[0];
  const cold = plan?.setting.cold;
  if (!plan || !cold) return null;
  const kind = plan.first.wheel.sensor?.kind ?? null;
  const degrees = (t: string) => {
    const n = parseNumber(t);
    return n === null ? null : convert(n, f.temp, 'C');
  };
  const airC = degrees(typed.air);
  const sensorC = degrees(typed.sensor);
  const gauge = parseNumber(typed.gauge);
  const hours = typed.rest === 'rested' ? REST_HOURS : parseNumber(typed.hours);
  const wrong = (text: string, value: number | null, least: number, most: number) =>
    text.trim() === ''
      ? undefined
      : value === null
        ? 'Type a number'
        : value < least || value > most
          ? 'That cannot be'
          : undefined;
  const setM = rig.climate?.altitudeSetM ?? 0;
  const hereM = typed.altitude.trim() === '' ? setM : parseLength(typed.altitude);
  const errors = {
    air: wrong(typed.air, airC, -60, 60),
    gauge: wrong(typed.gauge, gauge, 0, convert(2500, 'kPa', f.unit)),
    sensor: wrong(typed.sensor, sensorC, -60, 200),
    hours: typed.rest === 'driven' ? wrong(typed.hours, hours, 0, 100) : undefined,
    altitude: wrong(typed.altitude, hereM, -430, 6000),
  };
  const fine = Object.values(errors).every((e) => e === undefined);
  const answer =
    fine && airC !== null && hours !== null && hereM !== null
      ? nowAgainstCold(
          gasNow({
            airC,
            restHours: hours,
            sensor: typed.rest === 'driven' && sensorC !== null && kind ? { kind, tempC: sensorC } : undefined,
          }),
          cold,
          gauge === null ? null : convert(gauge, f.unit, 'kPa'),
          { ambientAbsKpa: ambientAtAltitude(setM), toAmbientAbsKpa: ambientAtAltitude(hereM) },
        )
      : null;
  const words = answer && nowWords(answer, cold, f);
  return (
    <section aria-label="Now is not cold" className="mt-8">
      <h2 className="border-b border-ink pb-2">Now is not cold</h2>
      <p className="lede mt-1.5 max-w-[72ch]">
        What to fill to now so that it is right at its setting temperature, and what a gauge figure means.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Switch
          label="Axle"
          value={plan.code}
          options={set.map((p) => ({ value: p.code, text: p.code }))}
          onChange={(code) => put({ code })}
        />
        <Switch
          label="Driven or at rest"
          value={typed.rest}
          options={[
            { value: 'rested', text: 'Not driven for 3 hours' },
            { value: 'driven', text: 'Driven' },
          ]}
          onChange={(rest) => put({ rest })}
        />
      </div>
      <div className="mt-3 grid gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-3">
          <Field
            label="Air now"
            unit={`°${f.temp}`}
            value={typed.air}
            error={errors.air}
            onChange={(e) => put({ air: e.target.value })}
          />
          <Field
            label="Gauge reads"
            unit={f.unit}
            inputMode="decimal"
            value={typed.gauge}
            error={errors.gauge}
            onChange={(e) => put({ gauge: e.target.value })}
          />
          <Field
            label="Where you stand"
            unit="m"
            value={typed.altitude}
            placeholder={String(Math.round(setM))}
            error={errors.altitude}
            onChange={(e) => put({ altitude: e.target.value })}
          />
          {typed.rest === 'driven' && (
            <>
              <Field
                label="Stopped for"
                unit="hours"
                inputMode="decimal"
                value={typed.hours}
                error={errors.hours}
                onChange={(e) => put({ hours: e.target.value })}
              />
              {kind && (
                <Field
                  label={`The ${kindNames[kind]} shows`}
                  unit={`°${f.temp}`}
                  value={typed.sensor}
                  error={errors.sensor}
                  hint="if it is awake"
                  onChange={(e) => put({ sensor: e.target.value })}
                />
              )}
            </>
          )}
        </div>
        <div aria-live="polite">
          {words ? (
            <Notice tone={answer?.advice === 'leave' || answer?.advice === 'wait' ? 'act' : 'look'}>
              <p className="text-head leading-tight font-bold">{words.title}</p>
              <p className="mt-1">{words.text}</p>
            </Notice>
          ) : (
            <p className="text-body text-ink2">
              {plan.code} is set to {f.exact(cold.kpa, cold.typed)} at {f.temperature(cold.tempC)}. Type the air’s temperature.
            </p>
          )}
        </div>
      </div>
    </section>
  );
}
