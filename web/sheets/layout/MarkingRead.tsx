import type { TireMarking } from '#core/tire/marking.ts';
import { Facts } from '../../parts/Facts.tsx';
import { tryMarking } from '../../state/marking.ts';

const kinds: Record<TireMarking['kind'], string> = {
  passenger: 'Passenger tire',
  lightTruck: 'Light truck tire',
  specialTrailer: 'Trailer tire (ST)',
  commercial: 'Van tire (C)',
  motorcycle: 'Motorcycle tire',
  inch: 'Inch size',
  flotation: 'Flotation size',
};

const tonnes = new Intl.NumberFormat('en-GB');

/** A marking taken apart, each part with what it means. */
export function MarkingRead({ marking }: { marking: string }) {
  const m = tryMarking(marking);
  if (typeof m === 'string') return <p className="error">Cannot be read: {m}.</p>;
  const rows: [string, string][] = [
    [
      kinds[m.kind],
      `${m.construction === 'radial' ? 'radial' : m.construction === 'bias' ? 'bias ply' : 'belted bias'}${m.loadRange ? `, load range ${m.loadRange}` : ''}`,
    ],
    ['Section', `${m.widthMm} mm wide, ${m.assumed.includes('aspectPercent') ? 'about ' : ''}${m.aspectPercent} % of that high`],
    ['Rim', `${m.rimIn} in`],
    ['Over all', `${Math.round(m.diameterMm)} mm`],
  ];
  if (m.loadIndex !== undefined) rows.push([`Load index ${m.loadIndex}`, `${tonnes.format(m.loadKg ?? 0)} kg a tire`]);
  if (m.loadIndexDual !== undefined) rows.push([`In a dual ${m.loadIndexDual}`, `${tonnes.format(m.loadDualKg ?? 0)} kg a tire`]);
  if (m.speedSymbol !== undefined) rows.push([`Speed ${m.speedSymbol}`, `up to ${m.speedKmh} km/h`]);
  rows.push(['Air', `about ${Math.round(m.airLitres)} litres (ring between rim and tread, times 0.8)`]);
  return (
    <div className="text-note">
      <Facts rows={rows} />
      {m.unread.length > 0 && <p className="mt-1">Not understood: {m.unread.join(' ')}</p>}
      {m.loadIndex === undefined && <p className="mt-1 text-ink2">No load index read: type it too, as on the sidewall.</p>}
    </div>
  );
}
