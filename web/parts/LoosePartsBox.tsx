import { kindAt } from '#core/kit/kinds.ts';
import { partsOf, USUAL_PARTS } from '#core/kit/parts.ts';
import type { SensorKind } from '#schema/common.ts';
import type { LooseParts } from '#schema/unit.ts';
import { useRecords } from '../data/queries.ts';
import { toastError } from '../state/toast.ts';
import { useRig } from '../state/useRig.ts';
import { SavedField } from './SavedField.tsx';
import { kindNames } from './words.ts';

const boots: { value: LooseParts['boot']; text: string }[] = [
  { value: 'none', text: 'no boot' },
  { value: 'small', text: 'boot, small seal' },
  { value: 'large', text: 'boot, large seal' },
];

/** What a line of the box says in short, so that it can be folded up. */
export const partsText = (kind: SensorKind, p: LooseParts): string =>
  kind === 'internal'
    ? p.mount === 'band'
      ? 'on a band, opposite the valve'
      : 'on the valve'
    : [
        boots.find((b) => b.value === p.boot)?.text,
        p.antiTheft ? 'one-piece anti-theft' : p.lockNut ? 'lock nut' : 'no nut',
        ...(kind === 'flowThrough' ? [p.setScrew ? 'set screw' : 'no set screw'] : []),
        `${p.cell}, ${p.cellMonths} months`,
      ].join(', ');

/** Loose parts by kind of sensor: set once, folded up afterwards. */
export function LoosePartsBox() {
  const { rig, wheels } = useRig();
  const { changeRig } = useRecords();
  const kinds = [...new Set(wheels.map((w) => kindAt(w, rig)))];
  const set = (kind: SensorKind, change: Partial<LooseParts>) => {
    void changeRig(rig.id, (now) => ({
      ...now,
      fitting: {
        ...now.fitting,
        parts: { ...now.fitting?.parts, [kind]: { ...partsOf(now, kind), ...change } },
      },
    })).catch(toastError);
  };
  return (
    <div className="mb-4 flex flex-col gap-2">
      {kinds.map((kind) => {
        const own = partsOf(rig, kind);
        const box = (name: 'lockNut' | 'setScrew' | 'antiTheft', text: string) => (
          <label className="flex min-h-[44px] items-center gap-2">
            <input
              type="checkbox"
              className="size-[20px] accent-ink"
              checked={own[name]}
              disabled={name === 'lockNut' && own.antiTheft}
              onChange={(e) => {
                // Read now: by the time the change is made the box shows what is stored again.
                const { checked } = e.target;
                set(kind, { [name]: checked });
              }}
            />
            {text}
          </label>
        );
        return (
          <details key={kind} className="border-b border-rule pb-2 text-body">
            <summary className="min-h-[32px] cursor-pointer">
              <b>{kindNames[kind]}</b>: {partsText(kind, own)}
            </summary>
            <div className="mt-1 flex flex-wrap items-center gap-x-5 gap-y-2">
              {kind === 'internal' ? (
                <label className="flex min-h-[44px] items-center gap-2">
                  Fitted
                  <select
                    className="input w-auto!"
                    value={own.mount}
                    onChange={(e) => set(kind, { mount: e.target.value as LooseParts['mount'] })}
                  >
                    <option value="valve">on the valve</option>
                    <option value="band">on a band round the rim, opposite the valve</option>
                  </select>
                </label>
              ) : (
                <>
                  <label className="flex min-h-[44px] items-center gap-2">
                    Dust boot
                    <select
                      className="input w-auto!"
                      value={own.boot}
                      onChange={(e) => set(kind, { boot: e.target.value as LooseParts['boot'] })}
                    >
                      {boots.map((b) => (
                        <option key={b.value} value={b.value}>
                          {b.text}
                        </option>
                      ))}
                    </select>
                  </label>
                  {box('lockNut', 'Lock nut')}
                  {kind === 'flowThrough' && box('setScrew', 'Set screw')}
                  {kind === 'cap' && box('antiTheft', 'One-piece anti-theft kind')}
                  <SavedField
                    label="Cell"
                    className="w-[110px]"
                    value={own.cell}
                    draft={`parts.${rig.id}.${kind}.cell`}
                    check={(t) => (t.trim() === '' || t.length > 12 ? '1 to 12 characters, such as CR2032' : null)}
                    onSave={(t) => set(kind, { cell: t.trim() })}
                  />
                </>
              )}
              <SavedField
                label={kind === 'internal' ? 'Lasts' : 'A cell lasts'}
                unit="months"
                className="w-[130px]"
                inputMode="numeric"
                value={String(own.cellMonths)}
                draft={`parts.${rig.id}.${kind}.months`}
                check={(t) =>
                  /^\d{1,3}$/.test(t.trim()) && Number(t) >= 1 && Number(t) <= 180 ? null : 'Whole months, 1 to 180'
                }
                onSave={(t) => set(kind, { cellMonths: Number(t) })}
              />
              {own !== USUAL_PARTS[kind] && rig.fitting?.parts?.[kind] && (
                <button type="button" className="underline underline-offset-3" onClick={() => set(kind, USUAL_PARTS[kind])}>
                  As usual
                </button>
              )}
            </div>
          </details>
        );
      })}
    </div>
  );
}
