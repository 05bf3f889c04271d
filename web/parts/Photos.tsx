import { useState } from 'react';
import { addressOf } from '../data/address.ts';
import { ask } from '../data/api.ts';

/** Photos of a wheel: taken with the phone, kept beside the data, without place or camera. */
export function Photos({
  position,
  ids,
  onChange,
}: {
  position: string;
  ids: readonly string[];
  onChange: (ids: string[]) => void;
}) {
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const add = async (file: File) => {
    setFault(null);
    if (file.size > 25_000_000) {
      setFault(`${file.name} is ${Math.round(file.size / 1e6)} MB. A photo may be at most 25 MB.`);
      return;
    }
    setBusy(true);
    try {
      const { id } = await ask('addPhoto', { raw: file });
      onChange([...ids, id]);
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  return (
    <div className="mt-3">
      <div className="flex flex-wrap gap-2">
        {ids.map((id, i) => (
          <figure key={id} className="relative">
            <img
              src={addressOf('photo', { params: { id } })}
              alt={`${position}, number ${i + 1}`}
              className="h-[96px] border border-ink object-cover"
            />
            <button
              type="button"
              className="btn btn-small absolute top-0 right-0"
              aria-label={`Take photo ${i + 1} of ${position} away`}
              onClick={() => onChange(ids.filter((x) => x !== id))}
            >
              ×
            </button>
          </figure>
        ))}
      </div>
      <label className="btn mt-2 cursor-pointer focus-within:outline-3 focus-within:outline-cyan">
        {busy ? 'One moment…' : 'Add a photo'}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          disabled={busy || ids.length >= 8}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void add(file);
            e.target.value = '';
          }}
        />
      </label>
      {fault && (
        <p className="error" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
}
