import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { seasonIsOver } from '#core/alarms/seasons.ts';
import { withoutSensors } from '#core/rig/exchange.ts';
import { axleOf, settingOf, watchedWheels, wheelsOf } from '#core/rig/positions.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { addressOf } from '../../data/address.ts';
import { unitsOf, useMonitors, useRecords, useRigs, useUnits, useWatch } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Field } from '../../parts/controls.tsx';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { inkOf } from '../../parts/words.ts';
import { holdersOf, nextStep, type Progress, progressOf, SKIPPABLE, sheets } from '../../state/sheets.ts';
import { toast, toastError } from '../../state/toast.ts';
import Backups from './Backups.tsx';
import Gateway from './Gateway.tsx';
import { ImportBox } from './ImportBox.tsx';
import { NewRigBox } from './NewRigBox.tsx';
import { PastVersions } from './PastVersions.tsx';
import Phone from './Phone.tsx';
import { usedAt } from './used.ts';

/** Where a rig stands in its life. */
function lifeOf(progress: Record<string, Progress>, heard: boolean, allPaired: boolean): string {
  if (heard) return 'watched';
  if (allPaired) return progress.fitting?.state === 'done' ? 'fitted' : 'paired';
  return progress.pairing?.state === 'part' ? 'being paired' : 'planned';
}

function RigCard({ rig, units, monitor }: { rig: Rig; units: Unit[]; monitor: string | undefined }) {
  const watch = useWatch(rig.id);
  const { removeRig, putRig, changeRig, addUnit, addRig } = useRecords();
  const [skipping, setSkipping] = useState(false);
  const [past, setPast] = useState(false);
  const [why, setWhy] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const whole = { rig, units, wheels: watchedWheels(rig, units), allWheels: wheelsOf(units) };
  const { wheels } = whole;
  const views = new Map(watch.data?.wheels.map((w) => [w.position, w]));
  const progress = progressOf(whole, watch.data);
  const active = watch.data?.wheels.filter((w) => w.active.length > 0) ?? [];
  // A wheel in alarm comes before all work.
  const next = active.length > 0 ? { path: 'watch', text: 'Open the watch' } : nextStep(progress);
  const today = new Date();
  const monthDay = `${String(today.getMonth() + 1).padStart(2, '0')}-${String(today.getDate()).padStart(2, '0')}`;
  const due = holdersOf(whole)
    .filter((w) => seasonIsOver(settingOf(w, rig.loadState), monthDay))
    .map((w) => axleOf(w.position));
  const paired = wheels.filter((w) => w.wheel.sensor).length;
  const life = lifeOf(progress, watch.data?.wheels.some((w) => w.state === 'live') ?? false, paired === wheels.length);
  const act = async (work: () => Promise<void>) => {
    try {
      await work();
    } catch (error) {
      toastError(error);
    }
  };
  const titleOf = (path: string) => sheets.find((s) => s.path === path)?.title ?? path;
  const takeUp = async (path: string) => {
    await changeRig(rig.id, ({ skipped, ...r }) => {
      const { [path]: _gone, ...rest } = skipped ?? {};
      return Object.keys(rest).length > 0 ? { ...r, skipped: rest } : r;
    });
  };
  const leaveOut = (e: React.FormEvent) => {
    e.preventDefault();
    if (why.trim().length < 3) {
      setFault('Say why in a few words');
      return;
    }
    const { path } = next;
    void act(async () => {
      await changeRig(rig.id, (r) => ({
        ...r,
        skipped: { ...r.skipped, [path]: { why: why.trim(), at: new Date().toISOString() } },
      }));
      setSkipping(false);
      setWhy('');
      setFault(null);
      toast(`${titleOf(path)} is left out.`, { undo: () => takeUp(path).catch(toastError) });
    });
  };
  const remove = () =>
    act(async () => {
      const back = await removeRig(rig);
      toast(`${rig.name} is deleted.`, { undo: () => back().catch(toastError) });
    });
  const archive = () =>
    act(async () => {
      const saved = await putRig({ ...rig, archived: !rig.archived });
      toast(`${rig.name} is ${saved.archived ? 'archived' : 'back in the yard'}.`, {
        undo: () => putRig({ ...saved, archived: rig.archived ?? false }).then(() => undefined, toastError),
      });
    });
  // A sensor is on one wheel only: the copy has everything but those.
  const duplicate = () =>
    act(async () => {
      const unitIds: string[] = [];
      for (const { id: _id, version: _version, ...unit } of units) unitIds.push((await addUnit(withoutSensors(unit))).id);
      const { id: _id, version: _version, ...rest } = rig;
      const copy = await addRig({ ...rest, name: `${rig.name.slice(0, 74)} copy`, unitIds });
      toast(`${copy.name} is there, without sensors.`);
    });
  return (
    <article className="flex flex-col border border-ink p-4">
      <div className="flex min-h-[76px] items-center">
        <SmallPlan units={units} wheels={wheels} ink={(w) => inkOf(views.get(w.position))} />
      </div>
      <h2 className="mt-3 font-display text-head font-semibold">
        <Link to={`/rigs/${rig.id}/watch`} className="underline-offset-4 hover:underline">
          {rig.name}
        </Link>
      </h2>
      <p className="text-body text-ink2">{rig.note ?? units.map((u) => u.name).join(', ')}</p>
      <p className="mt-2 text-body">
        {active.length > 0 ? (
          <span className="bg-ink px-2 py-[2px] font-semibold text-paper">
            {active.length === 1 ? '1 wheel in alarm' : `${active.length} wheels in alarm`}:{' '}
            {active.map((w) => w.position).join(', ')}
          </span>
        ) : (
          <span>
            <b>{life}</b>, {paired} of {wheels.length} wheels paired,{' '}
            {progress.alarms?.state === 'done' ? 'alarms set' : 'alarms not all set'}
          </span>
        )}
      </p>
      {due.length > 0 && (
        <p className="mt-1 text-body">
          <b>Due:</b> the season has changed. New pressure and limits for {due.join(', ')}.
        </p>
      )}
      {monitor && <p className="text-note text-ink2">{monitor}</p>}
      <div className="mt-auto flex flex-wrap items-center gap-2 pt-4">
        <Link to={`/rigs/${rig.id}/${next.path}`} className="btn btn-solid">
          {next.text}
        </Link>
        <Link to={`/rigs/${rig.id}/layout`} className="btn">
          Layout
        </Link>
        {SKIPPABLE.includes(next.path) && (
          <button type="button" className="btn" onClick={() => setSkipping(true)}>
            Leave it out
            <span className="sr-only">
              : {next.text}, {rig.name}
            </span>
          </button>
        )}
      </div>
      {Object.entries(rig.skipped ?? {}).map(([path, s]) => (
        <p key={path} className="mt-2 text-note text-ink2">
          {titleOf(path)} left out: {s.why}{' '}
          <button type="button" className="underline underline-offset-3" onClick={() => void act(() => takeUp(path))}>
            Take it up
            <span className="sr-only">
              : {titleOf(path)}, {rig.name}
            </span>
          </button>
        </p>
      ))}
      <Box open={skipping} title={`Leave out ${titleOf(next.path)}`} onClose={() => setSkipping(false)}>
        <form noValidate onSubmit={leaveOut}>
          <Field
            label="Why?"
            placeholder="no trailer this year"
            value={why}
            error={fault ?? undefined}
            onChange={(e) => setWhy(e.target.value)}
            hint="It is kept with the rig, and you can take the stage up again."
          />
          <button type="submit" className="btn btn-solid mt-3">
            Leave it out
          </button>
        </form>
      </Box>
      {past && <PastVersions rig={rig} units={units} onClose={() => setPast(false)} />}
      <p className="mt-3 flex flex-wrap gap-x-3 border-t border-rule pt-2 text-note">
        <button type="button" className="underline underline-offset-3" onClick={() => void duplicate()}>
          Duplicate<span className="sr-only"> {rig.name}</span>
        </button>
        <a className="underline underline-offset-3" href={addressOf('rig.export', { params: { rig: rig.id } })} download>
          Export<span className="sr-only"> {rig.name}</span>
        </a>
        <button type="button" className="underline underline-offset-3" onClick={() => setPast(true)}>
          Past versions<span className="sr-only"> of {rig.name}</span>
        </button>
        <button type="button" className="underline underline-offset-3" onClick={() => void archive()}>
          {rig.archived ? 'Back to the yard' : 'Archive'}
          <span className="sr-only"> {rig.name}</span>
        </button>
        <button type="button" className="ml-auto underline underline-offset-3" onClick={() => void remove()}>
          Delete<span className="sr-only"> {rig.name}</span>
        </button>
      </p>
    </article>
  );
}

/** All units, in whichever rigs: one car may pull three trailers. */
function UnitList({ units, rigs }: { units: Unit[]; rigs: Rig[] }) {
  const { removeUnit, addRig } = useRecords();
  const [chosen, setChosen] = useState<string[]>([]);
  const navigate = useNavigate();
  const toggle = (id: string) => setChosen((l) => (l.includes(id) ? l.filter((x) => x !== id) : [...l, id]));
  const names = chosen.flatMap((id) => units.find((u) => u.id === id)?.name ?? []);
  const combine = async () => {
    try {
      const trailer = units.some((u) => chosen.slice(1).includes(u.id));
      const rig = await addRig({
        name: names.join(' + ').slice(0, 80),
        unitIds: chosen,
        loadState: trailer ? 'towing' : 'loaded',
      });
      navigate(`/rigs/${rig.id}/layout`);
    } catch (error) {
      toastError(error);
    }
  };
  const remove = async (unit: Unit) => {
    try {
      const back = await removeUnit(unit);
      toast(`${unit.name} is deleted${rigsOf(unit).length > 0 ? ' and out of its rigs' : ''}.`, {
        undo: () => back().catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  const rigsOf = (unit: Unit) => rigs.filter((r) => r.unitIds.includes(unit.id));
  return (
    <details className="mt-8">
      <summary className="text-body font-bold">Units, and new combinations of them</summary>
      <p className="my-2 max-w-[70ch] text-body text-ink2">
        A rig is a combination. Choose units from the front to the back; what is fitted and set on a unit applies in every rig it
        is part of.
      </p>
      <ul className="max-w-[860px] border-t border-ink">
        {units.map((u) => (
          <li key={u.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2 text-body">
            <label className="flex min-w-[220px] grow items-center gap-2">
              <input
                type="checkbox"
                className="size-[18px] accent-ink"
                checked={chosen.includes(u.id)}
                onChange={() => toggle(u.id)}
              />
              <b>{u.name}</b>
              {chosen.includes(u.id) && <span className="text-ink2">{chosen.indexOf(u.id) + 1} from the front</span>}
            </label>
            <span className="grow text-ink2">
              {rigsOf(u).length === 0
                ? 'in no rig'
                : `in ${rigsOf(u)
                    .map((r) => r.name)
                    .join(', ')}`}
            </span>
            <button type="button" className="underline underline-offset-3" onClick={() => void remove(u)}>
              {rigsOf(u).length > 0 ? 'Remove and delete' : 'Delete'}
              <span className="sr-only"> {u.name}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-3">
        <button type="button" className="btn" disabled={chosen.length === 0} onClick={() => void combine()}>
          {chosen.length === 0 ? 'Choose units to combine' : `Make a rig of ${names.join(' + ')}`}
        </button>
      </p>
    </details>
  );
}

const steps: [string, string][] = [
  ['Draw your rig', 'Vehicle, trailers, every wheel. Two minutes.'],
  ['Key cold pressures, pick an alarm rule', 'Druckwerk does the arithmetic and says why.'],
  ['Pair the sensors and watch', 'Practise on a simulated kit first: nothing can go wrong there.'],
];

/** All rigs. */
export default function Yard() {
  const rigs = useRigs();
  const units = useUnits();
  const monitors = useMonitors();
  const [making, setMaking] = useState(false);
  const [importing, setImporting] = useState(false);
  if (rigs.error || units.error) {
    return (
      <div>
        <h1>Yard</h1>
        <p className="my-3">{(rigs.error ?? units.error)?.message}</p>
        <button type="button" className="btn" onClick={() => void Promise.all([rigs.refetch(), units.refetch()])}>
          Try again
        </button>
      </div>
    );
  }
  if (!rigs.data || !units.data) return <p className="text-ink2">One moment…</p>;
  const empty = rigs.data.length === 0;
  const used = usedAt();
  const inOrder = [...rigs.data].sort((a, b) => (used[b.id] ?? 0) - (used[a.id] ?? 0));
  const shown = inOrder.filter((r) => !r.archived);
  const archived = inOrder.filter((r) => r.archived);
  const card = (rig: Rig) => (
    <RigCard
      key={rig.id}
      rig={rig}
      units={unitsOf(rig, units.data)}
      monitor={monitors.data?.find((m) => m.id === rig.monitorId)?.name}
    />
  );
  return (
    <div className="mx-auto max-w-[1240px]">
      <div className="mb-5 flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
        <div>
          <h1>{empty ? 'Know your tires before they tell you' : 'Yard'}</h1>
          <p className="lede mt-1.5 max-w-[66ch]">
            Druckwerk sets up and watches tire sensors that you fit yourself: which pressure, which alarm, which sensor on which
            wheel, and what to do when an alarm sounds.
          </p>
        </div>
        {!empty && (
          <div className="flex gap-2">
            <button type="button" className="btn" onClick={() => setImporting(true)}>
              Import
            </button>
            <button type="button" className="btn btn-solid" onClick={() => setMaking(true)}>
              New rig
            </button>
          </div>
        )}
      </div>
      {empty ? (
        <>
          <ol className="grid gap-4 md:grid-cols-3">
            {steps.map(([head, text], i) => (
              <li key={head} className="border border-ink p-5">
                <span className="figure text-fig2 leading-none font-bold">{i + 1}</span>
                <h2 className="mt-3 font-display text-head font-semibold">{head}</h2>
                <p className="mt-1 text-ink2">{text}</p>
              </li>
            ))}
          </ol>
          <p className="mt-6">
            <button type="button" className="btn btn-solid" onClick={() => setMaking(true)}>
              Draw your first rig
            </button>{' '}
            <button type="button" className="btn" onClick={() => setImporting(true)}>
              Import one
            </button>
          </p>
          <p className="mt-3 text-body text-ink2">
            To look around first, start the demo world beside it: npm run demo. It never touches your data.
          </p>
        </>
      ) : (
        <div className="grid gap-4 sm:grid-cols-2 xl:grid-cols-3">{shown.map(card)}</div>
      )}
      {archived.length > 0 && (
        <details className="mt-6">
          <summary className="text-body font-bold">Archived ({archived.length})</summary>
          <div className="mt-3 grid gap-4 sm:grid-cols-2 xl:grid-cols-3">{archived.map(card)}</div>
        </details>
      )}
      {units.data.length > 0 && <UnitList units={units.data} rigs={rigs.data} />}
      <Phone />
      <Gateway />
      <Backups />
      <p className="mt-6 max-w-[80ch] text-note text-ink2">
        A monitor does not replace a gauge, an eye on the tread, or the placard. Follow the vehicle’s and the tire maker’s
        instructions, local codes and licensed shops above this app.
      </p>
      {making && <NewRigBox onClose={() => setMaking(false)} />}
      {importing && <ImportBox onClose={() => setImporting(false)} />}
    </div>
  );
}
