import type { LearntTool } from '#core/log/tools.ts';
import { runMinutes } from '#core/topup/plan.ts';
import { type RoundOrder, roundMinutes } from '#core/topup/round.ts';
import type { WatchView } from '#schema/alarm.ts';
import { useRecords, useWatchCommands, type WholeRig } from '../../../data/queries.ts';
import { Field, Notice, Switch } from '../../../parts/controls.tsx';
import { parseNumber, useFormat } from '../../../parts/format.ts';
import { HeadRow } from '../../../parts/HeadRow.tsx';
import { Wide } from '../../../parts/Wide.tsx';
import { toastError } from '../../../state/toast.ts';
import { addWords, byWords, type FillWheel, HANDLING_MIN, queueOf, type Round, shortOnes, USUAL_FLOW } from './round.ts';

export interface RoundProps {
  view: WatchView;
  list: readonly FillWheel[];
  round: Round;
  setRound: (change: (now: Round) => Round) => void;
  tools: readonly LearntTool[];
  whole: WholeRig;
}

const ORDERS: readonly { value: RoundOrder; text: string }[] = [
  { value: 'lowest', text: 'Lowest first' },
  { value: 'walk', text: 'Shortest walk' },
  { value: 'named', text: 'As listed' },
];

const over0 = (text: string): number | null => {
  const n = parseNumber(text);
  return n !== null && n > 0 ? n : null;
};
/** What is wrong with a figure that may be left out. */
const faultOf = (text: string, most: number): string | undefined => {
  const n = over0(text);
  return text.trim() === '' || (n !== null && n <= most) ? undefined : `Over 0, up to ${most}`;
};

const minutes = (n: number) => `${Math.max(1, Math.round(n))} min`;

/** Before the round: which wheels, in which order, with which pump, and how long that takes. */
export function RoundPlan({ view, list, round, setRound, tools, whole }: RoundProps) {
  const f = useFormat();
  const { rig } = whole;
  const commands = useWatchCommands(rig.id);
  const { changeRig } = useRecords();
  const short = shortOnes(list);
  const picked = round.picked ?? short;
  const queue = queueOf(list, picked, round.order, whole);
  const put = (change: Partial<Round>) => setRound((now) => ({ ...now, ...change }));
  const known = tools.find((t) => t.name === round.tool.trim());
  const kept = rig.tools?.find((t) => t.name === round.tool.trim());
  const flow = over0(round.flow) ?? known?.flowLitresPerMin ?? USUAL_FLOW;
  const mostRun = over0(round.mostRun) ?? kept?.mostRunMin ?? null;
  const rest = over0(round.rest) ?? kept?.restMin ?? mostRun ?? 0;
  const byPosition = new Map(list.map((w) => [w.view.position, w]));
  const running = queue.map((p) => {
    const w = byPosition.get(p) as FillWheel;
    return w.shortKpa !== null && w.shortKpa > 0 ? runMinutes(w.shortKpa, w.airLitres, flow) : 0;
  });
  const time = roundMinutes(running, HANDLING_MIN, mostRun, rest);
  const faults = [faultOf(round.flow, 5000), faultOf(round.mostRun, 600), faultOf(round.rest, 600)];
  const airFault = round.air.trim() !== '' && parseNumber(round.air) === null ? 'A temperature' : undefined;
  const noTemp = list.some((w) => w.figure?.by === 'none' && picked.includes(w.view.position));
  const hot = list.some((w) => w.figure?.by === 'tire' && view.airC !== null && w.figure.tempC > view.airC + 8);
  const begin = async () => {
    try {
      const name = round.tool.trim();
      if (name !== '' && (round.flow.trim() !== '' || round.mostRun.trim() !== '' || !kept))
        await changeRig(rig.id, (now) => ({
          ...now,
          tools: [
            ...(now.tools ?? []).filter((t) => t.name !== name),
            {
              name,
              ...((over0(round.flow) ?? kept?.flowLitresPerMin)
                ? { flowLitresPerMin: over0(round.flow) ?? kept?.flowLitresPerMin }
                : {}),
              ...(mostRun === null ? {} : { mostRunMin: mostRun, restMin: rest }),
            },
          ].slice(-20),
        }));
      const watched = queue.filter((p) => byPosition.get(p)?.view.sensorId != null);
      if (watched.length > 0) await commands.topUp(watched);
      put({ queue, picked, at: queue[0] ?? null, startedAt: view.time, before: {}, to: {}, gauge: {}, done: {} });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <section aria-label="Top-up round" className="grid gap-x-8 gap-y-5 xl:grid-cols-[minmax(0,1fr)_336px]">
      <div className="min-w-0">
        <div className="mb-3">
          <Switch label="Order of the round" value={round.order} options={ORDERS} onChange={(order) => put({ order })} />
        </div>
        <Wide label="What each tire is filled to now">
          <table className="sheet-table [&_td]:py-0! [&_th]:py-0!">
            <HeadRow names={['Wheel', `Now, ${f.unit}`, `Fill to, ${f.unit}`, 'Add', 'Takes', 'By']} wide="By" />
            <tbody className="narrow">
              {[...queue, ...list.map((w) => w.view.position).filter((p) => !queue.includes(p))].map((p) => {
                const w = byPosition.get(p) as FillWheel;
                const turn = queue.indexOf(p);
                const by = byWords(w, f);
                return (
                  <tr key={p} data-position={p} className="[&>*]:align-middle">
                    <th scope="row" className="border-b-rule! text-ink!">
                      <label className="flex min-h-[40px] items-center gap-2 text-body">
                        <input
                          type="checkbox"
                          checked={picked.includes(p)}
                          disabled={w.figure === null}
                          onChange={(e) => put({ picked: e.target.checked ? [...picked, p] : picked.filter((x) => x !== p) })}
                        />
                        {p}
                      </label>
                    </th>
                    <td className="figure text-head">
                      {w.nowKpa === null ? '–' : w.fresh ? f.figure(w.nowKpa) : `(${f.figure(w.nowKpa)})`}
                    </td>
                    <td className="figure text-head font-bold">{w.figure === null ? '–' : f.figure(w.figure.kpa)}</td>
                    <td className="md:whitespace-nowrap">
                      {addWords(w, f)}
                      <span className="block text-note leading-tight text-ink2 md:hidden">{by}</span>
                    </td>
                    <td className="whitespace-nowrap">
                      {turn < 0 || (time.each[turn] ?? 0) === 0 ? '–' : minutes(time.each[turn] as number)}
                      {turn >= 0 &&
                        (time.restBefore[turn] ?? 0) > 0 &&
                        `, after ${minutes(time.restBefore[turn] as number)} rest`}
                    </td>
                    <td className="whitespace-nowrap text-ink2 max-md:hidden">{by}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </Wide>
        {view.moving === true && (
          <div className="mt-3">
            <Notice tone="act">The rig is on the move. Stop where it is level, chock the wheels, and fill then.</Notice>
          </div>
        )}
        <p className="mt-3 text-body" aria-live="polite">
          {queue.length === 0
            ? short.length === 0
              ? 'No tire is short by more than 1 psi. Choose one to fill it all the same.'
              : 'Choose the wheels to fill.'
            : `${queue.length === 1 ? '1 wheel' : `${queue.length} wheels`}, about ${minutes(time.total)} at ${Math.round(flow)} l a minute.`}
        </p>
        <p className="next-step">
          <button
            type="button"
            className="btn btn-solid btn-tall max-md:w-full"
            disabled={queue.length === 0 || faults.some(Boolean) || airFault !== undefined}
            onClick={() => void begin()}
          >
            {queue.length === 0 ? 'Begin the round' : `Begin with ${queue[0]}`}
          </button>
        </p>
      </div>
      <div className="flex flex-col gap-3">
        <Field
          label="Pump or gauge"
          placeholder="such as garage pump"
          list="round-tools"
          maxLength={60}
          value={round.tool}
          onChange={(e) => put({ tool: e.target.value })}
          hint={
            known?.offsetKpa != null && Math.abs(known.offsetKpa) > 0.5
              ? `It reads ${f.pressure(Math.abs(known.offsetKpa))} ${known.offsetKpa > 0 ? 'over' : 'under'} the sensors, by ${known.pairs} readings.`
              : undefined
          }
        />
        <datalist id="round-tools">
          {tools.map((t) => (
            <option key={t.name} value={t.name} />
          ))}
        </datalist>
        <Field
          label="It delivers"
          unit="l/min"
          inputMode="decimal"
          placeholder={String(known?.flowLitresPerMin ?? USUAL_FLOW)}
          value={round.flow}
          error={faults[0]}
          onChange={(e) => put({ flow: e.target.value })}
        />
        <div className="grid grid-cols-2 items-start gap-3">
          <Field
            label="Runs at most"
            unit="min"
            inputMode="decimal"
            placeholder={kept?.mostRunMin === undefined ? 'any time' : String(kept.mostRunMin)}
            value={round.mostRun}
            error={faults[1]}
            onChange={(e) => put({ mostRun: e.target.value })}
          />
          <Field
            label="then rests"
            unit="min"
            inputMode="decimal"
            placeholder={rest === 0 ? '' : String(rest)}
            value={round.rest}
            error={faults[2]}
            onChange={(e) => put({ rest: e.target.value })}
          />
        </div>
        <Field
          label="Air beside the rig, after three hours at rest"
          unit={`°${f.temp}`}
          inputMode="text"
          value={round.air}
          error={airFault}
          onChange={(e) => put({ air: e.target.value })}
          hint={noTemp && round.air.trim() === '' ? 'A tire that isn’t heard now has no temperature. Type the air’s.' : undefined}
        />
        <Notice>
          {hot
            ? 'These tires are warm. Each is filled to what its cold pressure reads at its own temperature. Never bleed a hot road tire down to the cold figure.'
            : 'Set pressures cold. A warm tire reads more than its cold figure: filled to it while warm, it is too soft when cold.'}
        </Notice>
        <p className="text-body text-ink2">
          While you fill, these wheels don’t alarm for low or loss; every other wheel is watched as ever. It ends by itself.
        </p>
      </div>
    </section>
  );
}
