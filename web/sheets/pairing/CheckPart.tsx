import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { type CheckPosition, finalCheck, HEARD } from '#core/pairing/check.ts';
import { OPEN_ID, shownIdOf } from '#core/pairing/ids.ts';
import { showsOf } from '#core/pairing/signs.ts';
import { settingOf } from '#core/rig/positions.ts';
import { useBench, useMonitor, useRecords } from '../../data/queries.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { dayHere, idText, inPairs, useFormat } from '../../parts/format.ts';
import { placeInWords } from '../../parts/words.ts';
import { useDraft } from '../../state/drafts.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { findingWords, styleNames } from './words.ts';

/** All positions, stepped through as the monitor does; what is found; and the sheet to print. */
export function CheckPart() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const bench = useBench(rig.id).data;
  const practising = bench?.open === true;
  const key = `pairing.check.${rig.id}`;
  const [typed, setTyped, dropTyped] = useDraft<Record<string, string>>(key, {});
  const [marks, setMarks, dropMarks] = useDraft<Record<string, string>>(`${key}.marks`, {});
  const [at, setAt] = useState(0);
  const { changeRig } = useRecords();
  const put = (position: string, shows: string) => setTyped({ ...typed, [position]: shows });
  const monitor = useMonitor(rig);
  const shows = showsOf(monitor, rig.pairing);
  const savedAt = (position: string): string => bench?.monitor?.saved[position] ?? OPEN_ID;
  const showsAt = (position: string): string | null => (practising ? savedAt(position) : (typed[position] ?? null));
  const positions = wheels.map(
    (w): CheckPosition => ({
      position: w.position,
      shows: showsAt(w.position),
      book: w.wheel.sensor ? (practising ? w.wheel.sensor.id : (shownIdOf(w.wheel.sensor) ?? w.wheel.sensor.id)) : null,
      factoryPosition: w.wheel.sensor?.factoryPosition,
      mark: w.wheel.sensor?.mark,
      markRead: marks[w.position],
    }),
  );
  const findings = finalCheck(positions);
  const wrong = findings.filter((x) => x.code !== 'notRead');
  const unread = findings.filter((x) => x.code === 'notRead').length;
  const wheel = wheels[at] ?? wheels[0];
  const sensor = wheel?.wheel.sensor ?? null;
  const book = sensor ? (shownIdOf(sensor) ?? HEARD) : OPEN_ID;
  const bareWheels = wheels.filter((w) => !w.wheel.sensor).map((w) => w.position);
  const cold = wheel && settingOf(wheel, rig.loadState).cold;
  const bare = sensor !== null && shownIdOf(sensor) === null;
  const next = () => setAt((i) => (i + 1) % wheels.length);
  const noted = useRef(false);
  const right = findings.length === 0 && bareWheels.length === 0;
  const sensors = Object.fromEntries(wheels.flatMap((w) => (w.wheel.sensor ? [[w.position, w.wheel.sensor.id]] : [])));
  const same = JSON.stringify(rig.checked?.sensors) === JSON.stringify(sensors);
  // What was seen to be right is kept with the rig: the pairing is done then, and only as long as these sensors stay.
  useEffect(() => {
    if (!right || same || noted.current) return;
    noted.current = true;
    changeRig(rig.id, (now) => ({ ...now, checked: { at: new Date().toISOString(), sensors } })).catch(toastError);
  });
  if (!wheel) return null;
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-2">
      <section aria-label="Step through" className="print:hidden">
        <div className="border-2 border-ink p-4">
          <p className="text-body text-ink2">
            Position {at + 1} of {wheels.length}, {placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}
          </p>
          <p className="figure mt-1 text-fig3 leading-none font-bold">{wheel.position}</p>
          {bare || !shows.ids ? (
            <>
              <p className="figure mt-2 text-fig1 leading-none font-semibold">
                {practising
                  ? savedAt(wheel.position) === OPEN_ID
                    ? 'nothing'
                    : 'a sensor'
                  : sensor
                    ? cold && sensor.fitted !== false
                      ? `about ${f.pressure(cold.kpa)}?`
                      : 'a pressure?'
                    : 'open'}
              </p>
              <p className="mt-1 text-body text-ink2">
                {practising
                  ? 'on the practice monitor'
                  : sensor?.fitted === false
                    ? 'Its sensor isn’t on its valve yet, so 0 is right.'
                    : 'Step to this position on the monitor. Does it show a pressure that fits this wheel?'}
              </p>
            </>
          ) : (
            <>
              <p className="figure mt-2 text-fig2 leading-none font-semibold">
                {inPairs(practising ? savedAt(wheel.position) : book)}
              </p>
              <p className="mt-1 text-body text-ink2">
                {practising
                  ? `on the practice monitor; the book says ${inPairs(book)}`
                  : 'says the book. Does the monitor show the same?'}
              </p>
            </>
          )}
          <div className="mt-4 flex flex-wrap gap-2">
            {practising ? (
              <button type="button" className="btn btn-solid btn-tall grow" onClick={next}>
                Next position
              </button>
            ) : (
              <button
                type="button"
                className="btn btn-solid btn-tall grow"
                onClick={() => {
                  put(wheel.position, book);
                  next();
                }}
              >
                {bare ? 'It shows one' : 'It shows this'}
              </button>
            )}
            <button type="button" className="btn btn-tall" onClick={() => setAt((i) => (i + wheels.length - 1) % wheels.length)}>
              One back
            </button>
          </div>
          {sensor?.mark !== undefined && (
            <div className="mt-3">
              <Field
                label={`Mark on the sensor that is on ${wheel.position}`}
                placeholder={sensor.mark}
                autoCapitalize="characters"
                maxLength={12}
                value={marks[wheel.position] ?? ''}
                onChange={(e) => {
                  const { [wheel.position]: _old, ...rest } = marks;
                  setMarks(e.target.value.trim() === '' ? rest : { ...rest, [wheel.position]: e.target.value });
                }}
                hint="Leave it empty when you can’t read it."
              />
            </div>
          )}
          {!practising && bare && (
            <button
              type="button"
              className="btn mt-3 btn-tall"
              onClick={() => {
                put(wheel.position, OPEN_ID);
                next();
              }}
            >
              It shows nothing
            </button>
          )}
          {!practising && !bare && (
            <div className="mt-3">
              <Field
                label={`It shows something else at ${wheel.position}`}
                placeholder="type what it shows"
                value={typed[wheel.position] !== undefined && typed[wheel.position] !== book ? typed[wheel.position] : ''}
                onChange={(e) => put(wheel.position, e.target.value)}
              />
            </div>
          )}
        </div>
        <div className="mt-4" aria-live="polite">
          {wrong.length > 0 ? (
            <Notice tone="act">
              {wrong.map((x) => (
                <p key={`${x.position} ${x.code}`}>{findingWords(x)}</p>
              ))}
            </Notice>
          ) : unread > 0 ? (
            <p className="text-body">{unread === 1 ? 'One position to go.' : `${unread} positions to go.`}</p>
          ) : (
            <p className="text-head font-semibold">
              {bareWheels.length > 0
                ? `What is paired is right. ${bareWheels.join(', ')} ${bareWheels.length === 1 ? 'is' : 'are'} still open.`
                : shows.ids
                  ? 'Every position is as it should be: full, none twice, none short.'
                  : 'Every position shows a sensor that was paired to it.'}
            </p>
          )}
          {!shows.ids && (
            <p className="mt-2 max-w-[60ch] text-body">
              Without IDs two wheels of the same pressure could be swapped and look right.{' '}
              <Link className="underline underline-offset-3" to="?part=detective">
                The detective proves which is which
              </Link>
              : a little air out of the fewest wheels.
            </p>
          )}
        </div>
        {right && (
          <p className="next-step">
            <Link className="btn btn-solid" to={`/rigs/${rig.id}/fitting`}>
              Next: fitting
            </Link>
          </p>
        )}
        {!practising && Object.keys(typed).length > 0 && (
          <button
            type="button"
            className="btn btn-small mt-3"
            onClick={() => {
              dropTyped();
              dropMarks();
              setAt(0);
            }}
          >
            Start the check again
          </button>
        )}
      </section>
      <section aria-label="Pairing sheet">
        <div className="mb-2 flex items-center justify-between gap-3">
          <h2>Pairing sheet, {rig.name}</h2>
          <button type="button" className="btn print:hidden" onClick={() => window.print()}>
            Print it
          </button>
        </div>
        <table className="sheet-table">
          <thead>
            <tr>
              <th scope="col">Wheel</th>
              <th scope="col">Where</th>
              <th scope="col">{shows.ids ? 'ID' : 'Sensor'}</th>
              <th scope="col">Since</th>
              <th scope="col">Seen</th>
            </tr>
          </thead>
          <tbody>
            {wheels.map((w) => {
              const found = findings.find((x) => x.position === w.position || (x.code === 'swapped' && x.other === w.position));
              return (
                <tr key={w.position}>
                  <td className="figure text-head font-bold">{w.position}</td>
                  <td className="text-note text-ink2">
                    {placeInWords(w.local, w.unit.name, w.unit.axles.length).replace(', as seen from the driver’s seat', '')}
                    {w.wheel.sensor?.style ? `; ${styleNames[w.wheel.sensor.style].toLowerCase()}` : ''}
                  </td>
                  <td className="figure text-head font-semibold whitespace-nowrap">
                    {w.wheel.sensor ? idText(w.wheel.sensor) : 'open'}
                  </td>
                  <td className="narrow whitespace-nowrap">{w.wheel.sensor?.pairedAt ? dayHere(w.wheel.sensor.pairedAt) : ''}</td>
                  <td className="text-note">{found ? (found.code === 'notRead' ? '' : 'look') : 'right'}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <p className="mt-2 text-note text-ink2">Left is as seen from the driver’s seat, looking forward.</p>
      </section>
    </div>
  );
}
