import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { inOneWalk } from '#core/fitting/walk.ts';
import { kindAt, withKind } from '#core/kit/kinds.ts';
import { placeName } from '#core/kit/lists.ts';
import { placesOf } from '#core/kit/map.ts';
import { partsOf } from '#core/kit/parts.ts';
import { openPosition } from '#core/pairing/book.ts';
import { needsMetalStem, styleGuide } from '#core/pairing/guide.ts';
import { hasDoubtfulDigit, isSensorKey, lookAlikes, OPEN_ID, readId } from '#core/pairing/ids.ts';
import { type MarkScheme, proposeMarks, styleAt, walkOrder } from '#core/pairing/marks.ts';
import { showsOf } from '#core/pairing/signs.ts';
import { isMotorcycle, type RigWheel } from '#core/rig/positions.ts';
import type { BenchCommand } from '#schema/bench.ts';
import type { SensorKind } from '#schema/common.ts';
import type { Rig } from '#schema/unit.ts';
import { ApiProblem } from '../../data/api.ts';
import { useBench, useBenchCommand, useMonitor, useRecords, useRigs } from '../../data/queries.ts';
import { Field, Notice, Switch } from '../../parts/controls.tsx';
import { flyTo } from '../../parts/fly.ts';
import { idText, inPairs } from '../../parts/format.ts';
import { LoosePartsBox } from '../../parts/LoosePartsBox.tsx';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, SmallPlan, useLie, useNarrow } from '../../parts/RigPlan.tsx';
import { StandSwitch } from '../../parts/StandSwitch.tsx';
import { soundRefused, soundTaken, wakeSound } from '../../parts/sound.ts';
import { placeInWords } from '../../parts/words.ts';
import { useDraft } from '../../state/drafts.ts';
import { freshKey } from '../../state/keys.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { PasteIds } from './PasteIds.tsx';
import { PracticeMonitor } from './PracticeMonitor.tsx';
import { kinds } from './Setup.tsx';
import { placeOfSensor, usePairing } from './usePairing.ts';
import { WalkCard, walkOf } from './WalkCard.tsx';
import { afterWords, idFaultWords, showsZero, signSeen, stepWords, styleNames } from './words.ts';

/** A wait that was begun with a real kit: when, by the clock. */
interface Wait {
  position: string;
  kind: 'answer' | 'off';
  at: number;
}

/** One wheel after the other, in the order and the manner of the style. */
export function GuidePart({ pairing, onChangeWay }: { pairing: NonNullable<Rig['pairing']>; onChangeWay: () => void }) {
  const { rig, units, wheels } = useRig();
  const narrow = useNarrow();
  const lie = useLie();
  const monitor = useMonitor(rig);
  const bench = useBench(rig.id).data;
  const command = useBenchCommand(rig.id);
  const rigs = useRigs();
  const { pair, change, units: allUnits } = usePairing();
  const { changeUnit } = useRecords();
  const order = useMemo(() => walkOrder(pairing, wheels), [pairing, wheels]);
  const open = order.filter((w) => !w.wheel.sensor);
  const key = `pairing.at.${rig.id}`;
  const [at, setAt] = useDraft(key, '');
  // A wheel that was begun is come back to; else the first without a sensor.
  const wheel = wheels.find((w) => w.position === at) ?? open[0] ?? order[0];
  const style = wheel ? styleAt(pairing, wheel) : pairing.style;
  const coded = style === 'factory';
  const select = (position: string) => setAt(position);
  const shows = useMemo(() => showsOf(monitor, pairing), [monitor, pairing]);
  const { mount } = partsOf(rig, 'internal');
  const place = monitor && wheel ? placeName(monitor, placesOf(rig, units, monitor)[wheel.position]) : null;
  const kind: SensorKind = wheel ? kindAt(wheel, rig) : 'cap';
  const guide = styleGuide({
    style,
    limitsFirst: pairing.limitsFirst,
    kinds: [kind],
    lists: monitor?.units ?? 1,
    factoryCoded: coded,
    shows,
    mount,
  });
  // A practice kit is paired the monitor's way alone: its valves need no boots.
  const walking = bench?.open !== true && inOneWalk(style, kind);
  const unfinished = (w: RigWheel): boolean => {
    if (!w.wheel.sensor) return true;
    const own = styleAt(pairing, w);
    return inOneWalk(own, w.wheel.sensor.kind) && bench?.open !== true && walkOf(rig, w, own, w.wheel.sensor.kind).stage >= 0;
  };
  // Each wheel has its own: the plan may have moved on to the next one, where something is typed, before the answer for this one is here.
  const [typed, setTyped, dropTyped] = useDraft(`${key}.typed.${wheel?.position}`, '');
  const [problems, setProblems] = useState<Record<string, string>>({});
  const problem = wheel && problems[wheel.position];
  // What is printed on the coded sensors: proposed, and the owner's own word where it differs.
  const [scheme, setScheme] = useDraft<MarkScheme>(`${key}.scheme`, 'letters');
  const [marks, setMarks] = useDraft<Record<string, string>>(`${key}.marks`, {});
  const proposed = useMemo(() => proposeMarks(wheels, scheme), [wheels, scheme]);
  const mark = wheel ? (marks[wheel.position] ?? wheel.wheel.sensor?.mark ?? proposed[wheel.position] ?? '') : '';
  const card = useRef<HTMLDivElement>(null);
  const plate = useRef<HTMLDivElement>(null);
  const waitKey = `${key}.wait`;
  const [wait, setWait] = useDraft<Wait | null>(waitKey, null);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!wait) return;
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, [wait]);
  const capture = bench?.open && bench.monitor?.capture ? bench.monitor.capture : null;
  const outcome = capture?.outcome;
  // What the monitor did is for the ear as well as the eye.
  useEffect(() => {
    if (outcome === 'whole') soundTaken();
    else if (outcome === 'timedOut') soundRefused();
  }, [outcome]);
  if (!wheel) return null;

  const run = (c: BenchCommand) => {
    void wakeSound();
    command.mutate(c, { onError: toastError });
  };
  const begin = (what: Wait['kind']) => {
    const next = { position: wheel.position, kind: what, at: Date.now() };
    setNow(next.at);
    setWait(next);
  };
  const walk = (by: 1 | -1) => {
    const i = order.indexOf(wheel);
    select((order[(i + by + order.length) % order.length] as typeof wheel).position);
  };
  const refused = needsMetalStem(wheel, kind);
  const i = order.indexOf(wheel);
  const nextWheel = [...order.slice(i + 1), ...order.slice(0, i)].find((w) => (walking ? unfinished(w) : !w.wheel.sensor));
  const setProblem = (text: string | null) =>
    setProblems(({ [wheel.position]: _old, ...others }) => (text === null ? others : { ...others, [wheel.position]: text }));
  const goOn = () => {
    dropTyped();
    setWait((now) => (now?.position === wheel.position ? null : now));
    // In one walk the rest of the wheel comes next: nut, soap, boot. An owner who has gone to another wheel meanwhile stays there.
    const next = walking ? wheel.position : nextWheel?.position;
    if (next) setAt((now) => (now === at ? next : now));
    const field = document.activeElement;
    const typing = field instanceof HTMLInputElement && field.value !== '' && field.value !== typed;
    if (!typing) card.current?.focus();
  };
  /** Write a code into the book; a sensor that is elsewhere is taken from there only when that is meant. */
  const note = async (id: string, takeIt: boolean) => {
    const there = placeOfSensor(allUnits, id);
    const here = there?.unit.id === wheel.unit.id && there.position === wheel.local;
    try {
      await pair(
        wheel,
        {
          id,
          kind,
          style,
          ...(guide.onTheWheel ? {} : { fitted: false }),
          ...(coded
            ? { factoryPosition: wheel.position, ...(mark.trim() === '' ? {} : { mark: mark.trim().toUpperCase() }) }
            : {}),
        },
        there && !here && takeIt ? there : null,
      );
      setProblem(null);
      goOn();
    } catch (error) {
      setProblem(error instanceof ApiProblem && error.errors[0] ? error.errors[0].detail : String(error));
    }
  };
  const pressSave = async (press: 'short' | 'long', takeIt = false) => {
    try {
      const { saved, code } = await command.mutateAsync({ action: 'saveCode', press, intended: wheel.position });
      if (saved === 'needsLongPress') {
        soundRefused();
        setProblem('Not kept: this monitor wants a long press.');
      } else if (saved === 'saved' && code && (code.length === 6 || isSensorKey(code))) await note(code, takeIt);
      else if (saved === 'saved') {
        soundRefused();
        setProblem('The monitor took the short code. Open the position again, capture, and wait for all six digits.');
      }
    } catch (error) {
      toastError(error);
    }
  };

  const read = readId(typed);
  const known = [
    ...(bench?.tray.map((s) => s.id) ?? []),
    ...allUnits.flatMap((u) =>
      [...u.axles.flatMap((a) => a.wheels), ...u.spares.map((s) => s.wheel)].flatMap((w) => w.sensor?.id ?? []),
    ),
    ...allUnits.flatMap((u) => u.loose?.map((s) => s.id) ?? []),
  ];
  const alike = read.id ? lookAlikes(read.id, known) : [];
  const saveTyped = (e: React.FormEvent) => {
    e.preventDefault();
    const fault = idFaultWords(read);
    setProblem(fault);
    if (fault === null && read.id) void note(read.id, false);
  };

  const practising = bench?.open === true;
  const elsewhere = (id: string | null | undefined) => {
    const there = id && (id.length === 6 || isSensorKey(id)) ? placeOfSensor(allUnits, id) : null;
    if (!there || (there.unit.id === wheel.unit.id && there.position === wheel.local)) return null;
    const own = wheels.find((w) => w.unit.id === there.unit.id && w.local === there.position);
    const others = (rigs.data ?? []).filter((r) => r.unitIds.includes(there.unit.id)).map((r) => r.name);
    return {
      ...there,
      name: own ? own.position : `${there.position} of ${there.unit.name}${others.length > 0 ? ` (${others.join(', ')})` : ''}`,
    };
  };
  const takenBy = elsewhere(capture?.code ?? read.id);
  const waited = wait && wait.position === wheel.position ? (now - wait.at) / 1000 : null;
  const limitS = wait?.kind === 'off' ? (guide.offS ?? 10) : guide.waitS;
  const wrongPlace = practising && bench?.monitor && bench.monitor.position !== wheel.position && !capture;
  const long = monitor?.listing === 'long';
  /** The monitor is open at another position than the guide: what it takes now goes there. */
  const openElsewhere =
    practising && capture !== null && bench?.monitor && bench.monitor.position !== wheel.position ? bench.monitor.position : null;
  const readyToSave = capture?.outcome === 'whole' && !refused;
  // A kit that keeps what it took by itself: the book does too.
  const keepsNow =
    practising && shows.save !== 'each' && readyToSave && takenBy === null && openElsewhere === null && !wheel.wheel.sensor
      ? (capture?.code ?? null)
      : null;
  const shown = capture
    ? capture.code
    : typed && !practising
      ? (read.id ?? typed.toUpperCase().slice(0, 6))
      : (wheel.wheel.sensor?.id ?? OPEN_ID);
  const done = wheels.length - open.length;
  // Where in the steps the work stands.
  const codes = guide.steps.map((s) => s.code);
  const stage = capture
    ? capture.outcome === 'whole'
      ? Math.max(codes.indexOf('read'), codes.indexOf('seen'), codes.indexOf('wait'))
      : Math.max(1, codes.indexOf('wait'))
    : wrongPlace || codes[0] === 'fit' || codes[0] === 'toolAt'
      ? 0
      : 1;
  const statusText = capture
    ? capture.outcome === 'whole'
      ? shows.ids
        ? 'all six digits captured'
        : signSeen(shows)
      : capture.outcome === 'short'
        ? `${capture.code.length} of six so far: wait`
        : capture.outcome === 'timedOut'
          ? `no answer in ${Math.round(capture.waitS)} s`
          : `waiting ${Math.floor(capture.elapsedS)} s of ${Math.round(capture.waitS)}`
    : waited !== null
      ? wait?.kind === 'off'
        ? waited < limitS
          ? `off: ${Math.ceil(limitS - waited)} s to go`
          : 'now again'
        : waited < limitS
          ? `waiting ${Math.floor(waited)} s of ${limitS}`
          : `no answer in ${limitS} s`
      : !shows.ids || coded
        ? ''
        : typed.trim() !== '' && !practising && read.id !== wheel.wheel.sensor?.id
          ? 'not saved yet'
          : wheel.wheel.sensor
            ? 'saved'
            : 'open';
  const timedOut = capture?.outcome === 'timedOut' || (waited !== null && wait?.kind === 'answer' && waited >= limitS);
  const markFields = (
    <div className="mt-3">
      <div className="flex flex-wrap items-center gap-3">
        <span className="text-note text-ink2">Marked by</span>
        <Switch label="What the sensors are marked by" value={scheme} options={schemes} onChange={setScheme} />
      </div>
      {scheme === 'tray' ? (
        <p className="mt-2 text-body">
          Lay the tray down with its arrow to the front: the sensor at the place of {wheel.position} goes here.
        </p>
      ) : (
        <Field
          label={`Mark on the sensor for ${wheel.position}`}
          className="mt-2"
          autoCapitalize="characters"
          maxLength={12}
          value={mark}
          onChange={(e) => setMarks({ ...marks, [wheel.position]: e.target.value })}
        />
      )}
    </div>
  );
  const kindFields = (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      <span className="text-note text-ink2">Sensor</span>
      <Switch
        label="Kind of sensor"
        value={kind}
        options={kinds}
        onChange={(k) => void changeUnit(wheel.unit.id, (now) => withKind(now, k, wheel.local)).catch(toastError)}
      />
    </div>
  );
  const stemNotices = (
    <>
      {refused && (
        <div className="mt-3">
          <Notice tone="act">
            {isMotorcycle(wheel.unit) ? (
              <>
                <b>{wheel.position} has a rubber stem: metal only on a motorcycle.</b> A sensor that shears the stem empties the
                tire while riding. Have a metal stem fitted before this sensor goes on.
              </>
            ) : (
              <>
                <b>No: {wheel.position} has a rubber stem.</b> A flow-through sensor cracks it, leaks or shears it off. Have a
                metal stem fitted, or use a cap.
              </>
            )}
          </Notice>
        </div>
      )}
      {!refused && wheel.wheel.stem === 'rubber' && kind === 'cap' && (
        <div className="mt-3">
          <Notice>{wheel.position} has a rubber stem. Many fit a light cap on a sound one; a metal stem is safer.</Notice>
        </div>
      )}
    </>
  );
  const actions = (
    <>
      {takenBy && (
        <div className="mt-3">
          <Notice tone="act">
            <b>
              {shows.ids ? `${inPairs(capture?.code ?? read.id ?? '')} is the sensor` : 'That is the sensor'} of {takenBy.name}{' '}
              already.
            </b>{' '}
            Another sensor answered, now or then. Capture again with the others 3 m away; or, if this one is right, {takenBy.name}{' '}
            must be paired again.
            <span className="mt-2 flex flex-wrap gap-2">
              {capture && (
                <button type="button" className="btn btn-small" onClick={() => run({ action: 'cancelCapture' })}>
                  Capture again
                </button>
              )}
              <button
                type="button"
                className="btn btn-small"
                onClick={() => {
                  if (capture) void pressSave(monitor?.saves === 'longPress' ? 'long' : 'short', true);
                  else if (read.id) void note(read.id, true);
                }}
              >
                Move it to {wheel.position}
              </button>
            </span>
          </Notice>
        </div>
      )}
      {problem && (
        <p className="error mt-2" role="alert">
          {problem}
        </p>
      )}
      {openElsewhere && (
        <div className="mt-3" role="alert">
          <Notice tone="act">
            <b>
              {long || openElsewhere[0] === wheel.position[0]
                ? `The monitor is open at ${openElsewhere}, not ${wheel.position}.`
                : `The monitor’s list ${openElsewhere[0]} is open, at ${openElsewhere}; ${wheel.position} is in list ${wheel.position[0]}.`}
            </b>{' '}
            Saved now, this sensor is on {openElsewhere} in the monitor.
            <button
              type="button"
              className="btn btn-solid mt-2"
              onClick={() => {
                run({ action: 'cancelCapture' });
                run({ action: 'goTo', position: wheel.position });
              }}
            >
              Leave it, and open {wheel.position}
            </button>
          </Notice>
        </div>
      )}

      <div className="mt-3 flex flex-wrap gap-2">
        {practising ? (
          <>
            {wrongPlace && !wheel.wheel.sensor ? (
              <button
                type="button"
                className="btn btn-solid btn-tall grow text-head"
                onClick={() => run({ action: 'goTo', position: wheel.position })}
              >
                Open {wheel.position} on the monitor
              </button>
            ) : shows.save !== 'each' && !openElsewhere ? (
              <p className="text-body text-ink2">This monitor keeps what it took by itself.</p>
            ) : (
              <button
                type="button"
                className={`btn btn-tall grow text-head ${openElsewhere ? '' : 'btn-solid'}`}
                disabled={!readyToSave || takenBy !== null}
                onClick={() => void pressSave(monitor?.saves === 'longPress' ? 'long' : 'short')}
              >
                Save to {wheel.position}
                {monitor?.saves === 'longPress' ? ' (long press)' : ''}
              </button>
            )}
            {capture && (
              <button type="button" className="btn btn-tall" onClick={() => run({ action: 'cancelCapture' })}>
                No answer, leave it
              </button>
            )}
            {capture?.outcome === 'short' && (
              <button
                type="button"
                className="btn btn-tall"
                onClick={() => void pressSave(monitor?.saves === 'longPress' ? 'long' : 'short')}
              >
                Save it now
              </button>
            )}
          </>
        ) : (
          !wheel.wheel.sensor && (
            <>
              {(!shows.ids || coded) && (
                <button
                  type="button"
                  className="btn btn-solid btn-tall grow text-head"
                  disabled={refused}
                  onClick={() => void note(freshKey(), false)}
                >
                  {coded ? `It is on ${wheel.position}` : `${wheel.position} is paired`}
                </button>
              )}
              {walking && showsZero(shows) && (
                <button type="button" className="btn btn-tall grow" onClick={() => begin('off')}>
                  It shows 0: it is off now
                </button>
              )}
              {codes.includes('wait') && (
                <button type="button" className="btn btn-tall grow" onClick={() => begin('answer')}>
                  {waited !== null ? 'Count again' : `Count ${guide.waitS} s`}
                </button>
              )}
            </>
          )
        )}
        {!capture && wheel.wheel.sensor && (
          <button
            type="button"
            className="btn"
            onClick={() =>
              void change(wheel, `${wheel.position} is open.`, (u, time) => openPosition(u, wheel.local, time, false)).then(
                (ok) => {
                  if (ok && practising) run({ action: 'clearCode', position: wheel.position });
                },
              )
            }
          >
            Delete, to open
          </button>
        )}
      </div>
    </>
  );
  const panel = (
    <>
      <KeepsItself
        code={keepsNow}
        onKeep={() => {
          if (plate.current) flyTo(plate.current, `[data-position="${wheel.position}"]`);
          void pressSave(monitor?.saves === 'longPress' ? 'long' : 'short');
        }}
      />
      <div
        ref={plate}
        className={`flex items-center justify-between border px-4 py-2 ${timedOut ? 'border-2 border-magenta' : 'border-ink'}`}
        role="status"
        aria-label={shows.ids ? 'Captured ID' : 'What the monitor shows'}
      >
        <span className="figure text-fig1 leading-none font-bold">
          {shows.ids && !coded ? inPairs(shown) : capture?.outcome === 'whole' ? 'taken' : wheel.wheel.sensor ? 'paired' : 'open'}
          {shows.ids && !coded && capture && shown.length < 6 && (
            <span className="text-ink2">
              {shown.length > 0 ? ' ' : ''}
              {inPairs('_'.repeat(6 - shown.length))}
            </span>
          )}
        </span>
        <span className="text-right text-body text-ink2">{statusText}</span>
      </div>
      {timedOut && (
        <div className="mt-3">
          <Notice tone="act">
            <b>Not found.</b>{' '}
            {guide.offS === null
              ? 'Wake it again: tap it, turn it over, or move it nearer.'
              : `Take it off, wait ${guide.offS} s, and try again.`}{' '}
            {practising ? (
              <button
                type="button"
                className="btn btn-small mt-2"
                onClick={() => {
                  const handled = capture?.handled;
                  run({ action: 'cancelCapture' });
                  if (handled && guide.offS !== null) run({ action: 'unfit', sensorId: handled });
                  begin('off');
                }}
              >
                {guide.offS === null ? 'Try again' : 'It is off'}
              </button>
            ) : (
              <button type="button" className="btn btn-small mt-2" onClick={() => begin('off')}>
                It is off
              </button>
            )}
          </Notice>
        </div>
      )}

      {walking && actions}
    </>
  );
  const typedId = (
    <TypedId closed={!shows.ids} onSubmit={saveTyped}>
      <Field
        label={`ID for ${wheel.position}`}
        className="grow"
        placeholder="4C A1 E0"
        autoCapitalize="characters"
        spellCheck={false}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setProblem(null);
        }}
        hint={
          alike.length > 0
            ? `Did you mean ${alike.map(inPairs).join(' or ')}? B and 8, D and 0 look alike.`
            : read.corrected.length > 0 && read.id
              ? `Read as ${inPairs(read.id)}: ${read.corrected.join(' and ')} taken for a digit.`
              : read.id && hasDoubtfulDigit(read.id)
                ? `${inPairs(read.id)}: look again at every B and 8, D and 0.`
                : undefined
        }
      />
      <button type="submit" className="btn mt-[22px]" disabled={refused}>
        Save
      </button>
    </TypedId>
  );
  return (
    <div className="grid gap-x-8 gap-y-5 xl:grid-cols-[minmax(0,1fr)_420px] xl:grid-rows-[auto_1fr]">
      <div className="min-w-0">
        <div className="mb-3 max-xl:hidden">
          <StandSwitch />
        </div>
        {narrow ? (
          <div className="flex items-center gap-2">
            <button type="button" className="btn" aria-label="Wheel before" onClick={() => walk(-1)}>
              ◂
            </button>
            <div className="min-w-0 grow">
              <SmallPlan
                units={units}
                wheels={wheels}
                ink={(w) => (w === wheel ? 'print' : w.wheel.sensor ? 'steady' : 'bare')}
              />
            </div>
            <button type="button" className="btn" aria-label="Next wheel" onClick={() => walk(1)}>
              ▸
            </button>
          </div>
        ) : (
          <RigPlan
            label="Positions of the rig"
            units={units}
            wheels={wheels}
            lie={lie}
            size={100}
            tallness={74}
            wheel={(w) => (
              <PlainWheel
                wheel={w}
                selected={w === wheel}
                paired={w.wheel.sensor !== null}
                stripe={w.wheel.sensor !== null}
                label={`${w.position}: ${w.wheel.sensor ? idText(w.wheel.sensor) : 'open'}`}
                onSelect={select}
              >
                <span className="figure text-big leading-none font-bold">{w.position}</span>
                <span className="narrow text-note max-md:hidden">{w.wheel.sensor ? idText(w.wheel.sensor) : 'open'}</span>
              </PlainWheel>
            )}
          />
        )}
        <p className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1 text-body max-xl:hidden">
          <span>
            <b>{styleNames[style]}</b>, {pairing.limitsFirst ? 'limits first' : 'pairing first'}
          </span>
          <button type="button" className="underline underline-offset-3" onClick={onChangeWay}>
            Another way, and what to see to first
          </button>
        </p>
        {!guide.onTheWheel && !practising && (
          <div className="mt-4 max-w-[72ch] max-xl:hidden">
            <Zeros />
          </div>
        )}
      </div>
      <div ref={card} tabIndex={-1} className="outline-none xl:row-span-2">
        <div className="flex items-center gap-4">
          <h2 className="figure text-fig4 leading-none font-bold">{wheel.position}</h2>
          <p className="text-body leading-snug text-ink2">
            {placeInWords(wheel.local, wheel.unit.name, wheel.unit.axles.length)}
            <span className="block text-ink">
              wheel {order.indexOf(wheel) + 1} of {order.length}, {done} paired
            </span>
          </p>
        </div>
        {walking ? (
          <WalkCard
            wheel={wheel}
            style={style}
            kind={kind}
            shows={shows}
            place={place}
            mark={coded && scheme !== 'tray' ? mark : null}
            markFields={coded && markFields}
            stopped={refused}
            off={wait?.position === wheel.position && wait.kind === 'off' && waited !== null && waited >= limitS}
            onSensorOn={() => begin('answer')}
            next={nextWheel?.position ?? null}
            onNext={select}
          >
            {wheel.wheel.sensor ? (
              actions
            ) : (
              <div className="mt-3">
                {panel}
                {typedId}
              </div>
            )}
          </WalkCard>
        ) : (
          <>
            <ol className="mt-3">
              {guide.steps.map((s, i) => {
                const { head, why } = stepWords(s.code, wheel.position, kind, shows, mount, place);
                const current = i === stage && !wheel.wheel.sensor;
                return (
                  <li
                    key={s.code}
                    aria-current={current ? 'step' : undefined}
                    className={`flex gap-4 border-t py-2 ${current ? 'border-t-[3px] border-ink' : 'border-rule'}`}
                  >
                    <span className="figure w-4 text-head font-semibold">{i + 1}</span>
                    <span>
                      <span className={`text-body ${current ? 'font-bold' : ''}`}>{head}</span>
                      {why && (current || !narrow) && <span className="block text-body text-ink2">{why}</span>}
                    </span>
                  </li>
                );
              })}
            </ol>
            {panel}
          </>
        )}
        {walking ? (
          <details className="mt-4">
            <summary className="min-h-[32px] cursor-pointer text-body">The sensor on this wheel, and its loose parts</summary>
            {kindFields}
            <LoosePartsBox />
          </details>
        ) : (
          <>
            {coded && markFields}
            {kindFields}
          </>
        )}
        {stemNotices}
        {!walking && actions}
        {open.length === 0 && guide.after.length > 0 && (
          <div className="mt-4">
            <Notice>
              {guide.after.map((code) => (
                <p key={code}>{afterWords[code]}</p>
              ))}
            </Notice>
          </div>
        )}
        {open.length === 0 && (
          <div className="mt-4 flex flex-wrap gap-2">
            <Link className="btn btn-solid" to="?part=check">
              Next: the final check
            </Link>
            <Link className="btn" to={`/rigs/${rig.id}/watch`}>
              Watch
            </Link>
          </div>
        )}
        {!walking && typedId}
        {shows.ids && !coded && !practising && (
          <PasteIds order={order} styleOf={(w) => styleAt(pairing, w)} fitted={guide.onTheWheel} />
        )}
        <div className="mt-6 flex flex-col gap-3 xl:hidden">
          {!guide.onTheWheel && <Zeros />}
          <p className="text-body">
            <b>{styleNames[style]}</b>.{' '}
            <button type="button" className="underline underline-offset-3" onClick={onChangeWay}>
              Another way, and what to see to first
            </button>
          </p>
          <StandSwitch />
        </div>
      </div>
      <div className="min-w-0 xl:col-start-1">
        {bench && practising ? (
          <PracticeMonitor bench={bench} style={style} waitS={guide.waitS} shows={shows} long={long} run={run} />
        ) : (
          <p className="mt-5 border-t border-rule pt-3 text-body">
            Practise with simulated sensors first.{' '}
            <button
              type="button"
              className="btn btn-small ml-1"
              onClick={() => command.mutate({ action: 'open', ids: shows.ids }, { onError: toastError })}
            >
              Lay out the bench kit
            </button>
          </p>
        )}
      </div>
    </div>
  );
}

/** Keeps a code once, as soon as it is there. */
function KeepsItself({ code, onKeep }: { code: string | null; onKeep: () => void }) {
  const kept = useRef<string | null>(null);
  useEffect(() => {
    if (code === null || kept.current === code) {
      if (code === null) kept.current = null;
      return;
    }
    kept.current = code;
    onKeep();
  });
  return null;
}

/** The field for an ID that is read off; folded up where this kit's display shows none. */
function TypedId({
  closed,
  onSubmit,
  children,
}: {
  closed: boolean;
  onSubmit: (e: React.FormEvent) => void;
  children: React.ReactNode;
}) {
  const form = (
    <form onSubmit={onSubmit} noValidate>
      <div className="mt-2 flex items-start gap-2">{children}</div>
    </form>
  );
  return closed ? (
    <details className="mt-6">
      <summary>The sensor has its ID printed on it</summary>
      {form}
    </details>
  ) : (
    <div className="mt-6">
      <h2 className="border-b border-ink pb-1">Or type the ID from the monitor</h2>
      {form}
    </div>
  );
}

const schemes: { value: MarkScheme; text: string }[] = [
  { value: 'letters', text: 'Letters' },
  { value: 'figures', text: 'Figures' },
  { value: 'tray', text: 'A tray' },
];

/** Said beforehand: zeros are right until a sensor sits on its valve. */
function Zeros() {
  return (
    <Notice>
      <b>Right after pairing, before fitting, a sensor reads zero.</b> That is expected. Druckwerk won’t alarm for it until it was
      once heard with pressure; after that a zero is a zero. The monitor itself may alarm; acknowledge it.
    </Notice>
  );
}
