import { useMemo } from 'react';
import { toolsOf } from '#core/log/tools.ts';
import { useLiveState } from '../../../data/live.ts';
import { useWatch } from '../../../data/queries.ts';
import { parseNumber, useFormat } from '../../../parts/format.ts';
import { useDraft } from '../../../state/drafts.ts';
import { useRig } from '../../../state/useRig.ts';
import { RoundDone } from './RoundDone.tsx';
import { RoundPlan } from './RoundPlan.tsx';
import { RoundWheel } from './RoundWheel.tsx';
import { fillWheels, freshRound, type Round } from './round.ts';

/** A round with the pump: what each tire is filled to now, wheel after wheel, and the log writes itself. */
export function TopUpPart() {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const view = useWatch(rig.id).data;
  const [round, setRound, dropRound] = useDraft<Round>(`topup.${rig.id}`, freshRound());
  const air = parseNumber(round.air);
  const airC = air === null ? null : f.temp === 'F' ? ((air - 32) * 5) / 9 : air;
  // With the stream lost the last figures stay on the page: none of them is one of now.
  const stream = useLiveState();
  const live = stream === 'open';
  const lost = stream === 'lost';
  const list = useMemo(
    () => (view ? fillWheels(view, whole, airC).map((w) => (live ? w : { ...w, fresh: false })) : []),
    [view, whole, airC, live],
  );
  const tools = useMemo(() => toolsOf(rig.log ?? [], rig.tools), [rig.log, rig.tools]);
  if (!view) return <p className="text-ink2">One moment…</p>;
  if (list.length === 0) return <p>Set the cold pressures first: then it can be worked out what each tire is filled to.</p>;
  const props = { view, list, round, setRound, tools, whole };
  if (round.queue.length === 0) return <RoundPlan {...props} />;
  const current = list.find((w) => w.view.position === round.at);
  if (!current)
    return <RoundDone {...props} onClose={() => dropRound({ ...freshRound(), tool: round.tool, flow: round.flow })} />;
  return (
    <>
      {lost && (
        <p role="alert" className="mb-2 font-semibold">
          The stream is lost: no figure here is live. Trying again…
        </p>
      )}
      <RoundWheel key={current.view.position} {...props} current={current} />
    </>
  );
}
