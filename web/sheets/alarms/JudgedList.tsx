import type { SensorKind } from '#schema/common.ts';
import { useFormat } from '../../parts/format.ts';
import { hotLine, hotWords, verdictWords } from '../../parts/words-limits.ts';
import { type AxleJudgement, broken } from './judged.ts';

const kindNames: Record<SensorKind, string> = { cap: 'cap', flowThrough: 'flow-through', internal: 'internal sensor' };

/** What is to be said of every axle's limits, axle by axle. */
export function JudgedList({ list, onSelect }: { list: readonly AxleJudgement[]; onSelect: (code: string) => void }) {
  const f = useFormat();
  // One sentence for all axles that share kind, limit and day: the warmest run of them is given.
  const hot = new Map<string, string[]>();
  const groups = new Map<string, AxleJudgement[]>();
  for (const j of list) {
    if (!j.hot || j.hot.verdict === 'ok') continue;
    const key = `${j.hot.kind} ${j.hot.hotC} ${j.hot.verdict}`;
    groups.set(key, [...(groups.get(key) ?? []), j]);
  }
  for (const members of groups.values()) {
    const warmest = members.reduce((a, b) => ((b.hot?.ordinaryShownC ?? 0) > (a.hot?.ordinaryShownC ?? 0) ? b : a)).hot;
    if (warmest)
      hot.set(
        hotWords(warmest, warmest.hotC, warmest.airC, kindNames[warmest.kind], f),
        members.map((m) => m.plan.code),
      );
  }
  return (
    <>
      <ul className="border-t border-ink">
        {list.map((j) => {
          const against = broken(j);
          const heads = against.length > 0 ? against : (['ok'] as const);
          return (
            <li key={j.plan.code} className="flex gap-3 border-b border-rule py-2">
              <button
                type="button"
                className={`narrow h-fit min-w-[46px] border px-1 py-[3px] text-body font-bold ${against.length > 0 ? 'border-ink bg-ink text-paper' : 'border-rule'}`}
                aria-label={`Select ${j.plan.code}`}
                onClick={() => onSelect(j.plan.code)}
              >
                {j.plan.code}
              </button>
              <div className="text-body">
                {typeof j.trip === 'string' ? (
                  <p>This day cannot be worked out: {j.trip}.</p>
                ) : (
                  heads.map((v) => (
                    <p key={v} className={v === 'ok' ? 'text-ink2' : ''}>
                      {verdictWords(v, j.trip as Exclude<typeof j.trip, string>, j.question, f)}
                    </p>
                  ))
                )}
              </div>
            </li>
          );
        })}
      </ul>
      <ul className="mt-2 text-note text-ink2">
        {[...hot].map(([text, codes]) => (
          <li key={text} className="py-1">
            {hotLine(codes, text)}
          </li>
        ))}
      </ul>
    </>
  );
}
