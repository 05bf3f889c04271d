import { judgeGauge } from '#core/fitting/gauge.ts';
import { gaugePairs } from '#core/report/report.ts';
import { settingOf } from '#core/rig/positions.ts';
import { convert, KPA_PER_PSI } from '#core/units/units.ts';
import type { PressureUnit } from '#schema/common.ts';
import type { FirstDrive, Stated } from '#schema/unit.ts';
import { useMonitor, useRecords, useWatch } from '../../data/queries.ts';
import { Field, Notice, Switch } from '../../parts/controls.tsx';
import { fieldFigure, parseNumber, useFormat } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { withSettings } from '../../state/holders.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { blameWords, gaugeVerdictWords } from './words.ts';

/** Gauges as their owners know them, kPa (stick gauge 2 to 3 psi, class 1.6 and 2.5 of a 700 kPa span: EN 837-1, from memory). */
const gauges = [
  { value: 'dial16', text: 'Dial, class 1.6', errorKpa: 11.2, stepKpa: 10 },
  { value: 'dial25', text: 'Dial, class 2.5', errorKpa: 17.5, stepKpa: 10 },
  { value: 'digital', text: 'Digital', errorKpa: KPA_PER_PSI, stepKpa: 0.5 * KPA_PER_PSI },
  { value: 'stick', text: 'Stick', errorKpa: 2.5 * KPA_PER_PSI, stepKpa: KPA_PER_PSI },
] as const;

const UNITS = ['kPa', 'bar', 'psi'] as const satisfies readonly PressureUnit[];

/** Several readings of one wheel stand apart by a blank or a semicolon. */
const readings = (text: string): (number | null)[] =>
  text
    .split(/[;\s]+/)
    .filter(Boolean)
    .map(parseNumber);

/** The unit a figure would fit, when it does not fit its own. */
export function otherUnit(value: number, unit: PressureUnit, nearKpa: number): PressureUnit | null {
  const off = Math.abs(convert(value, unit, 'kPa') / nearKpa - 1);
  if (off < 0.5) return null;
  return (
    (['psi', 'bar', 'kPa'] as const).find((u) => u !== unit && Math.abs(convert(value, u, 'kPa') / nearKpa - 1) < 0.25) ?? null
  );
}

/** Sensors against a gauge, cold and at rest. */
export default function GaugePart() {
  const whole = useRig();
  const { rig, units, wheels } = whole;
  const f = useFormat();
  const watch = useWatch(rig.id).data;
  const { changeRig, putUnits } = useRecords();
  const monitor = useMonitor(rig);
  // A gauge and a monitor may each have a unit of their own.
  const [unitsOf, setUnits] = useDraft<{ gauge?: PressureUnit; sensor?: PressureUnit }>(`gauge.${rig.id}.units`, {});
  const gaugeUnit = unitsOf.gauge ?? f.unit;
  const sensorUnit = unitsOf.sensor ?? monitor?.unit ?? f.unit;
  const key = `gauge.${rig.id}.${gaugeUnit}.${sensorUnit}`;
  const [typed, setTyped] = useDraft<Record<string, string>>(key, {});
  const put = (name: string, text: string) => setTyped({ ...typed, [name]: text });
  const gauge = rig.firstDrive?.gauge ?? { errorKpa: gauges[2].errorKpa, stepKpa: gauges[2].stepKpa };
  const chosen = gauges.find((g) => Math.abs(g.errorKpa - gauge.errorKpa) < 0.01)?.value ?? 'digital';
  const change = (work: (d: FirstDrive) => FirstDrive) =>
    changeRig(rig.id, (r) => ({ ...r, firstDrive: work(r.firstDrive ?? {}) })).catch(toastError);
  const paired = wheels.filter((w) => w.wheel.sensor);
  const air = typed.air === undefined ? String(Math.round(convert(watch?.airC ?? 20, 'C', f.temp))) : typed.air;
  const airN = parseNumber(air);
  const airC = airN === null ? null : convert(airN, f.temp, 'C');
  const sensorOf = (position: string): { kpa: number; text: string } | null => {
    const own = typed[`${position} sensor`];
    if (own !== undefined && own.trim() !== '') {
      const n = parseNumber(own);
      return n === null ? null : { kpa: convert(n, sensorUnit, 'kPa'), text: own };
    }
    const view = watch?.wheels.find((v) => v.position === position);
    return view && view.pressureKpa !== null && view.state !== 'silent' && view.state !== 'notFitted'
      ? { kpa: view.pressureKpa, text: fieldFigure(view.pressureKpa, sensorUnit) }
      : null;
  };
  const faultOf = (position: string): string | undefined => {
    const text = typed[position] ?? '';
    if (text.trim() === '') return undefined;
    const list = readings(text);
    if (list.some((n) => n === null)) return 'Type a number, several with a blank between';
    if (list.length > 5) return 'At most five';
    const near =
      sensorOf(position)?.kpa ??
      settingOf(wheels.find((w) => w.position === position) as (typeof wheels)[number], rig.loadState).cold?.kpa;
    const first = list[0] as number;
    const other = near ? otherUnit(first, gaugeUnit, near) : null;
    if (other) return `${text.trim()} ${gaugeUnit}? Did you mean ${other}?`;
    if (list.some((n) => (n as number) < 0 || convert(n as number, gaugeUnit, 'kPa') > 1500)) return 'No tire reads that';
    return sensorOf(position) === null ? 'What does the sensor say? Type it beside.' : undefined;
  };
  const sensorFault = (position: string): string | undefined => {
    const text = typed[`${position} sensor`] ?? '';
    if (text.trim() === '') return undefined;
    const n = parseNumber(text);
    if (n === null) return 'Type a number';
    const near = settingOf(wheels.find((w) => w.position === position) as (typeof wheels)[number], rig.loadState).cold?.kpa;
    const other = near ? otherUnit(n, sensorUnit, near) : null;
    return other ? `${text.trim()} ${sensorUnit}? Did you mean ${other}?` : undefined;
  };
  const ready = paired.filter(
    (w) => (typed[w.position] ?? '').trim() !== '' && faultOf(w.position) === undefined && sensorFault(w.position) === undefined,
  );
  const compare = async () => {
    if (airC === null) return;
    const before = rig.firstDrive;
    const at = new Date().toISOString();
    const noted = Object.fromEntries(
      ready.map((w) => [
        w.position,
        {
          gauge: readings(typed[w.position] ?? '').map(
            (n): Stated => ({ kpa: convert(n as number, gaugeUnit, 'kPa'), typed: { text: String(n), unit: gaugeUnit } }),
          ),
          sensorKpa: (sensorOf(w.position) as { kpa: number }).kpa,
          airC,
          at,
        },
      ]),
    );
    if (!(await change((d) => ({ ...d, gauge: d.gauge ?? gauge, readings: { ...d.readings, ...noted } })))) return;
    // What is wrong, or was typed meanwhile, stays.
    const kept = new Set(ready.flatMap(({ position }) => [position, `${position} sensor`]));
    setTyped((now) => {
      const rest = Object.entries(now).filter(([field, text]) => !kept.has(field) || text !== typed[field]);
      return rest.some(([field]) => field !== 'air') ? Object.fromEntries(rest) : {};
    });
    toast(ready.length === 1 ? 'One wheel is compared.' : `${ready.length} wheels are compared.`, {
      undo: async () => {
        await changeRig(rig.id, ({ firstDrive: _now, ...r }) => (before ? { ...r, firstDrive: before } : r)).catch(toastError);
      },
    });
  };
  const pairs = gaugePairs(rig, units, monitor?.correctsToC);
  const set = judgeGauge(pairs, gauge);
  const raise = async (position: string, byKpa: number) => {
    const wheel = wheels.find((w) => w.position === position);
    try {
      const units = withSettings(whole, rig.loadState, (h) => {
        const { limits } = h.setting;
        if (h.first.holder !== wheel?.holder || !limits || limits.lowKpa === null) return undefined;
        const lowKpa = limits.lowKpa + byKpa;
        const rule =
          limits.highKpa === null
            ? { school: 'lowOnly' as const, lowShare: 1 - lowKpa / (h.setting.cold?.kpa ?? lowKpa * 2) }
            : { school: 'floorCeiling' as const, floorKpa: lowKpa, ceilingKpa: limits.highKpa };
        return { ...h.setting, limits: { ...limits, rule, lowKpa } };
      });
      await putUnits(units);
      toast(`The low limit of ${position}’s axle is ${f.pressure(byKpa)} higher. Key it into the monitor.`);
    } catch (error) {
      toastError(error);
    }
  };
  if (paired.length === 0) return <p>No wheel has a sensor yet: pair and fit them first.</p>;
  return (
    <>
      <div className="flex flex-wrap items-end gap-4">
        <Switch
          label="Your gauge"
          value={chosen}
          options={gauges.map((g) => ({ value: g.value, text: g.text }))}
          onChange={(v) => {
            const g = gauges.find((x) => x.value === v);
            if (g) void change((d) => ({ ...d, gauge: { errorKpa: g.errorKpa, stepKpa: g.stepKpa } }));
          }}
        />
        <Field
          label="Air, all at rest for 3 hours"
          unit={`°${f.temp}`}
          className="w-[190px]"
          value={air}
          error={airC === null || airC < -60 || airC > 60 ? 'Type the temperature' : undefined}
          onChange={(e) => put('air', e.target.value)}
        />
      </div>
      <div className="mt-3 flex flex-wrap gap-4">
        {(
          [
            ['gauge', 'Gauge shows', gaugeUnit],
            ['sensor', 'Monitor shows', sensorUnit],
          ] as const
        ).map(([which, label, unit]) => (
          <span key={which} className="flex items-center gap-2">
            <span className="text-note text-ink2">{label}</span>
            <Switch
              label={label}
              value={unit}
              options={UNITS.map((u) => ({ value: u, text: u }))}
              onChange={(u) => setUnits({ ...unitsOf, [which]: u })}
            />
          </span>
        ))}
      </div>
      <div className="mt-4 grid gap-x-8 gap-y-2 md:grid-cols-2">
        {paired.map((w) => (
          <div key={w.position} className="grid grid-cols-[64px_1fr_1fr] items-start gap-3 border-b border-rule py-2">
            <b className="figure pt-6 text-big">{w.position}</b>
            <Field
              label={`${w.position} gauge`}
              unit={gaugeUnit}
              inputMode="decimal"
              value={typed[w.position] ?? ''}
              error={faultOf(w.position)}
              onChange={(e) => put(w.position, e.target.value)}
            />
            <Field
              label={`${w.position} sensor`}
              unit={sensorUnit}
              error={sensorFault(w.position)}
              inputMode="decimal"
              placeholder={sensorOf(w.position)?.text ?? ''}
              value={typed[`${w.position} sensor`] ?? ''}
              onChange={(e) => put(`${w.position} sensor`, e.target.value)}
            />
          </div>
        ))}
      </div>
      <button
        type="button"
        className="btn btn-solid mt-4 btn-tall"
        disabled={
          ready.length === 0 ||
          airC === null ||
          paired.some((w) => (faultOf(w.position) ?? sensorFault(w.position)) !== undefined)
        }
        onClick={() => void compare()}
      >
        Compare {ready.length > 0 ? ready.length : ''}
      </button>
      {pairs.length > 0 && (
        <section aria-label="Compared" className="mt-6">
          <Notice tone={set.blame === 'nobody' ? 'look' : 'act'}>
            <b>{blameWords(set, f)}</b> Spread over the set: {f.pressure(set.spreadKpa)}.
          </Notice>
          <table className="sheet-table mt-3">
            <thead>
              <tr>
                <th scope="col">Wheel</th>
                <th scope="col">Gauge</th>
                <th scope="col">Sensor</th>
                <th scope="col">Sensor less gauge</th>
                <th scope="col">Verdict</th>
              </tr>
            </thead>
            <tbody>
              {set.wheels.map((j, i) => (
                <tr key={j.position}>
                  <td className="figure text-head font-bold">{j.position}</td>
                  <td className="narrow">{pairs[i]?.gaugeKpa.map((g) => f.figure(g)).join(', ')}</td>
                  <td className="narrow">{f.figure(pairs[i]?.sensorKpa ?? 0)}</td>
                  <td className="figure text-head font-semibold">{f.figure(j.differenceKpa)}</td>
                  <td>
                    {gaugeVerdictWords(j, f)}
                    {j.raiseLowKpa > 0 && (
                      <button type="button" className="btn btn-small ml-2" onClick={() => void raise(j.position, j.raiseLowKpa)}>
                        Raise it
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 max-w-[72ch] text-note text-ink2">
            Within 1 psi is good, up to 4 psi is tolerated, never more than half the way from cold to the low limit (common
            practice, no source). A monitor does not replace a gauge.
          </p>
        </section>
      )}
    </>
  );
}
