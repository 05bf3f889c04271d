import { convert } from '#core/units/units.ts';
import type { Mass, Stated } from '#schema/unit.ts';
import { fieldFigure, parseNumber, plainFigure, useFormat } from '../../parts/format.ts';
import { SavedField } from '../../parts/SavedField.tsx';

/** Pressures over this are a slip of the unit, kPa (a road tire's sidewall ends under it). Assumed. */
const MOST_KPA = 1500;

/** A pressure that stands somewhere, typed in the unit on the screen; empty takes it away. */
export function StatedField({
  label,
  value,
  draft,
  hint,
  onSave,
}: {
  label: string;
  value: Stated | undefined;
  draft: string;
  hint?: string;
  onSave: (value: Stated | undefined) => void;
}) {
  const f = useFormat();
  const text =
    value === undefined ? '' : value.typed?.unit === f.unit ? plainFigure(value.typed.text) : fieldFigure(value.kpa, f.unit);
  const check = (t: string): string | null => {
    if (t.trim() === '') return null;
    const n = parseNumber(t);
    if (n === null) return 'Type a number, such as 65 or 2.4';
    if (n <= 0) return 'Over 0';
    return convert(n, f.unit, 'kPa') > MOST_KPA ? `Over any road tire: is it in ${f.unit}?` : null;
  };
  return (
    <SavedField
      label={label}
      value={text}
      unit={f.unit}
      inputMode="decimal"
      draft={`${draft}.${f.unit}`}
      check={check}
      hint={hint}
      onSave={(t) => {
        const n = parseNumber(t);
        onSave(n === null ? undefined : { kpa: convert(n, f.unit, 'kPa'), typed: { text: plainFigure(t), unit: f.unit } });
      }}
    />
  );
}

/** A mass off a scale, typed in the unit on the screen; empty takes it away. */
export function MassField({
  label,
  value,
  draft,
  fault,
  onSave,
}: {
  label: string;
  value: Mass | undefined;
  draft: string;
  fault?: string | undefined;
  onSave: (value: Mass | undefined) => void;
}) {
  const f = useFormat();
  const text =
    value === undefined
      ? ''
      : value.typed?.unit === f.massUnit
        ? plainFigure(value.typed.text)
        : String(Math.round(convert(value.kg, 'kg', f.massUnit)));
  const check = (t: string): string | null => {
    if (t.trim() === '') return null;
    const n = parseNumber(t);
    if (n === null) return 'Type a number, such as 1850';
    if (n <= 0) return 'Over 0';
    return convert(n, f.massUnit, 'kg') > 20_000 ? 'More than any axle carries' : null;
  };
  return (
    <SavedField
      label={label}
      value={text}
      unit={f.massUnit}
      inputMode="decimal"
      draft={`${draft}.${f.massUnit}`}
      check={check}
      fault={fault}
      onSave={(t) => {
        const n = parseNumber(t);
        onSave(n === null ? undefined : { kg: convert(n, f.massUnit, 'kg'), typed: { text: plainFigure(t), unit: f.massUnit } });
      }}
    />
  );
}
