import { endsOf, weighingFaults } from '#core/pressure/load.ts';
import { targetForColdStart } from '#core/pressure/target.ts';
import type { LoadState } from '#schema/common.ts';
import type { Axle, Setting, Spare, Stated, TireFacts, Weighing } from '#schema/unit.ts';
import { Notice, Switch } from '../../parts/controls.tsx';
import { fieldFigureUp, useFormat } from '../../parts/format.ts';
import {
  coldChoiceWords,
  coldFaultWords,
  coldSchoolNames,
  loadWords,
  minimumWords,
  weighingFaultWords,
} from '../../parts/words-limits.ts';
import { useHolderEdit } from '../../state/edits.ts';
import type { AxlePlan } from '../../state/plans.ts';
import { setPreferences } from '../../state/preferences.ts';
import { MassField, StatedField } from './fields.tsx';
import { TableEditor } from './TableEditor.tsx';

const endLabels = { L: 'Left end', C: 'Centre wheel', R: 'Right end' } as const;

function withoutEmpty<T extends object>(value: T): T | undefined {
  const kept = Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as T;
  return Object.keys(kept).length === 0 ? undefined : kept;
}

/** What an axle must carry, what its tires can, and the cold pressure each school takes from that. */
export function AxleDetail({
  plan,
  loadState,
  onTake,
}: {
  plan: AxlePlan;
  loadState: LoadState;
  /** Put a figure into the axle's cold field, as text in the unit on the screen. */
  onTake: (text: string) => void;
}) {
  const f = useFormat();
  const edit = useHolderEdit();
  const { facts, setting, code } = plan;
  const holder = plan.first.holder;
  const spare = plan.first.place === 'S';
  const ends = endsOf(facts.places);
  const faults = weighingFaults(setting.weighing ?? {});
  const draft = (name: string) => `pressures.${plan.first.unit.id}.${code}.${loadState}.${name}`;
  const fact = (name: string) => `pressures.${plan.first.unit.id}.${code}.${name}`;

  const putSetting = (said: string, change: (s: Setting) => Setting) =>
    edit(plan, said, (h: Axle | Spare) => {
      h.settings = { ...h.settings, [loadState]: change(h.settings[loadState] ?? {}) };
    });
  const putWeighing = (field: keyof Weighing, value: Weighing[keyof Weighing]) =>
    putSetting(`${code}: weight ${value ? 'noted' : 'taken away'}`, ({ weighing, ...rest }) => {
      const next = withoutEmpty({ ...weighing, [field]: value });
      return next ? { ...rest, weighing: next } : rest;
    });
  const putTire = (said: string, change: Partial<Record<keyof TireFacts, TireFacts[keyof TireFacts] | undefined>>) =>
    edit(plan, said, (h: Axle | Spare) => {
      const next = withoutEmpty({ ...h.tire, ...change });
      if (next) h.tire = next as TireFacts;
      else delete h.tire;
    });
  const putPlacard = (placard: Stated | undefined) =>
    putSetting(`${code}: placard ${placard ? 'noted' : 'taken away'}`, ({ placard: _old, ...rest }) =>
      placard ? { ...rest, placard } : rest,
    );

  const { minimum } = facts;
  const cold = setting.cold;
  const atColdest = minimum?.kpa && plan.day && cold ? targetForColdStart(minimum.kpa, cold.tempC, plan.day.coldestC) : null;
  const stops = minimum?.faults ?? [];
  return (
    <div className="grid gap-x-8 gap-y-6 border-b border-rule bg-paper2 px-4 py-4 lg:grid-cols-3">
      <section aria-label={`Load of ${code}`}>
        <div className="mb-2 flex items-baseline justify-between gap-3">
          <h2 className="text-body">What it must carry</h2>
          <Switch
            label="Unit of mass"
            value={f.massUnit}
            options={[
              { value: 'kg', text: 'kg' },
              { value: 'lb', text: 'lb' },
            ]}
            onChange={(mass) => setPreferences({ mass })}
          />
        </div>
        {spare ? (
          <p className="text-body text-ink2">
            A spare carries nothing until it is fitted: set it for the heaviest axle it may go to.
          </p>
        ) : (
          <>
            <div className="grid grid-cols-2 gap-3">
              {ends.length > 1 && (
                <div className="col-span-2 max-w-[calc(50%-6px)]">
                  <MassField
                    label="Whole axle"
                    value={setting.weighing?.axle}
                    draft={draft('axle')}
                    fault={faults.filter((x) => x.field === 'axle').map((x) => weighingFaultWords[x.code])[0]}
                    onSave={(v) => void putWeighing('axle', v)}
                  />
                </div>
              )}
              {ends.map(({ end, tires }) => (
                <MassField
                  key={end}
                  label={ends.length === 1 ? 'This wheel' : `${endLabels[end]}${tires > 1 ? `, ${tires} tires` : ''}`}
                  value={setting.weighing?.[end]}
                  draft={draft(end)}
                  fault={faults.filter((x) => x.field === end).map((x) => weighingFaultWords[x.code])[0]}
                  onSave={(v) => void putWeighing(end, v)}
                />
              ))}
            </div>
            <p className="mt-2 text-note text-ink2">{loadWords(facts, f)}</p>
          </>
        )}
        <div className="mt-4 max-w-[220px]">
          <StatedField
            label={plan.first.unit.kind === 'trailer' ? 'Placard (plate of the trailer)' : 'Placard (door frame)'}
            value={setting.placard}
            draft={draft('placard')}
            onSave={(v) => void putPlacard(v)}
          />
        </div>
      </section>
      <section aria-label={`Tires of ${code}`}>
        <h2 className="mb-2 text-body">What the tire says</h2>
        <p className="mb-2 text-note">
          {facts.marking
            ? `${holder.marking}: ${facts.capacityKg === null ? 'no load index read' : `carries ${f.mass(facts.capacityKg)} a tire${facts.dual ? ' as a dual' : ''}`}.`
            : 'No marking that can be read yet: type it on Layout.'}
        </p>
        <div className="grid grid-cols-2 gap-3">
          <StatedField
            label="Max load at (cold)"
            value={holder.tire?.reference}
            draft={fact('reference')}
            hint="as on the sidewall"
            onSave={(reference) => void putTire(`${code}: sidewall noted`, { reference })}
          />
          <StatedField
            label="Max pressure (cold)"
            value={holder.tire?.maxCold}
            draft={fact('maxCold')}
            hint="only if it is another figure"
            onSave={(maxCold) => void putTire(`${code}: sidewall noted`, { maxCold })}
          />
          <StatedField
            label="Rim made for"
            value={holder.tire?.rimMax}
            draft={fact('rimMax')}
            hint="if it is known"
            onSave={(rimMax) => void putTire(`${code}: rim noted`, { rimMax })}
          />
        </div>
        {facts.marking?.kind === 'passenger' && plan.first.unit.kind === 'vehicle' && (
          <label className="mt-2 flex items-center gap-2 text-body">
            <input
              type="checkbox"
              className="size-[18px] accent-ink"
              checked={holder.tire?.onTruck === true}
              onChange={(e) =>
                void putTire(`${code}: index load ${e.target.checked ? 'divided by 1.10' : 'as it is'}`, {
                  onTruck: e.target.checked || undefined,
                })
              }
            />
            A car tire under a pick-up, van or motorhome
          </label>
        )}
        <h2 className="mt-4 mb-2 text-body">The maker’s load table</h2>
        <TableEditor
          table={holder.tire?.table ?? []}
          dual={facts.dual}
          code={code}
          draft={fact('table')}
          onSave={(table) =>
            putTire(`${code}: table of ${table.length} rows in use`, { table: table.length > 0 ? table : undefined })
          }
        />
      </section>
      <section aria-label={`Cold pressure of ${code}`}>
        <h2 className="mb-2 text-body">What follows</h2>
        {minimum && <p className="text-body">{minimumWords(minimum, f)}</p>}
        {stops.length > 0 && (
          <div className="mt-2">
            <Notice tone="act">
              <b>Stop.</b> {stops.map((s) => coldFaultWords({ code: s, stop: true, kg: facts.capacityKg ?? 0 }, f)).join(' ')}
            </Notice>
          </div>
        )}
        {atColdest !== null && minimum?.kpa && atColdest > minimum.kpa + 0.5 && (
          <p className="mt-2 text-body">
            To carry it at a {f.temperature(plan.day?.coldestC ?? 0)} start too, set {f.pressure(atColdest)} at{' '}
            {f.temperature(cold?.tempC ?? 20)}.
          </p>
        )}
        <ul className="mt-3 border-t border-ink">
          {facts.choices.map((c) => (
            <li key={c.school} className="flex items-start justify-between gap-3 border-b border-rule py-2">
              <span className="text-note">
                <b className="text-body">{coldSchoolNames[c.school]}</b>
                <span className="block text-ink2">{coldChoiceWords(c, f)}</span>
              </span>
              <span className="shrink-0 text-right">
                <span className="figure block text-head font-semibold">{c.kpa === null ? '–' : f.pressure(c.kpa)}</span>
                {c.kpa !== null && c.school !== 'startLow' && (
                  <button
                    type="button"
                    className="btn btn-small mt-1"
                    onClick={() => onTake(fieldFigureUp(c.kpa as number, f.unit))}
                  >
                    Take it
                  </button>
                )}
              </span>
            </li>
          ))}
        </ul>
        <p className="mt-2 text-note text-ink2">
          The placard and the tire maker’s table come before anything here. Set both wheels of an axle to the same pressure, duals
          too.
        </p>
      </section>
    </div>
  );
}
