import { useEffect, useId, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { type Card, keyingCard } from '#core/alarms/card.ts';
import { type Grid, toKpa } from '#core/alarms/grid.ts';
import { rigKeyed } from '#core/alarms/keyed.ts';
import { heldOn } from '#core/alarms/rig-held.ts';
import { putSeason, seasonOn } from '#core/alarms/seasons.ts';
import type { Compromise, Pair } from '#core/alarms/suggest.ts';
import { dayAsShown, dayEnds } from '#core/pressure/axle.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { AlarmRule, Climate, Season, Setting } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { useRecords } from '../../data/queries.ts';
import { Notice } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { HeldStops } from '../../parts/HeldStops.tsx';
import { Ladder, type LadderAxle, type MoveLimit } from '../../parts/Ladder.tsx';
import { reasonWords } from '../../parts/words.ts';
import { unmetWords } from '../../parts/words-limits.ts';
import { dropDraft, keepDraft, readDraft } from '../../state/drafts.ts';
import { checkedBy } from '../../state/forms.ts';
import { asBefore, type Holder, withSettings } from '../../state/holders.ts';
import { type AxlePlan, guardedPlan, usePlans } from '../../state/plans.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { cardAxles } from './cardAxles.ts';
import { DaySliders } from './DaySliders.tsx';
import { gridOf, snap } from './gridOf.ts';
import { JudgedList } from './JudgedList.tsx';
import { type AxleJudgement, broken, judgeAxle, type TrialLimits } from './judged.ts';
import { NoCold, RulePanel } from './RulePanel.tsx';
import { attempt, type Draft, inUnits, isLate, ownFigures, type Read, readRule, span, type Typed, toTyped } from './ruleText.ts';
import { SeasonBox, today } from './SeasonBox.tsx';
import { SharedSuggest } from './SharedSuggest.tsx';
import { SuggestBox } from './SuggestBox.tsx';

/** Two limits that a ladder shows apart: further than the rounding to a step. */
const apart = (held: number | null, wish: number | null | undefined): boolean =>
  held !== (wish ?? null) && (held === null || wish == null || Math.abs(held - wish) > 8);

/** Each axle as a ladder, its rule, and what is to be said against it. */
export function LimitsPart({ monitor }: { monitor: Monitor | null }) {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const [tried, setTried] = useState<Climate | null>(null);
  const days = usePlans(whole, tried);
  // Limits are keyed for what the monitor shows, and that may be corrected already.
  const correctsToC = monitor?.correctsToC;
  const plans = useMemo(() => days.map((p) => ({ ...p, day: p.day && dayAsShown(p.day, correctsToC) })), [days, correctsToC]);
  const { putUnits, changeRig } = useRecords();
  const [code, setCode] = useState(() => plans.find((h) => !h.setting.limits)?.code ?? plans[0]?.code ?? '');
  const current = plans.find((h) => h.code === code) ?? plans[0];
  const limitsNow = current?.setting.limits;
  const stored = useMemo(
    // A monitor that derives its limits is asked for its own rule first.
    () => toTyped(limitsNow, f, monitor?.groups === 'baseline' ? 'baseline' : 'share'),
    [limitsNow, f, monitor],
  );
  const form = useForm<Typed, unknown, Read>({
    defaultValues: stored,
    resolver: checkedBy(validators.rule, (typed: Typed) => readRule(typed, f)),
    mode: 'onChange',
  });
  const draftOf = (c: string) => `alarms.${rig.id}.${rig.loadState}.${c}`;
  const draftKey = draftOf(current?.code ?? '');
  // A rule that was typed and not put in force yet is kept for its axle, whatever is looked at meanwhile.
  // Before the page is painted: what is typed into the first picture of it is kept too.
  useLayoutEffect(() => {
    const draft = readDraft<Draft>(draftKey);
    form.reset(stored);
    if (draft)
      for (const name of ['school', 'hotClimate', 'values', 'hot'] as const)
        form.setValue(name, inUnits(draft, f)[name], { shouldDirty: true });
  }, [stored, form, draftKey, f]);
  useLayoutEffect(() => {
    const subscription = form.watch((value, { type }) => {
      if (type === 'change') keepDraft(draftKey, { typed: value, pressure: f.unit, temp: f.temp });
    });
    return () => subscription.unsubscribe();
  }, [form, draftKey, f]);
  useWatch({ control: form.control });
  // Asked for as it is: what was put back before the first picture came before anything listened.
  const typed = form.getValues();
  const [, draw] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn again with what was put back
  useEffect(() => draw((n) => n + 1), [stored, draftKey]);
  /** What the form had before each limit that was moved, for the way back. */
  const past = useRef<Typed[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the way back is one axle's
  useEffect(() => {
    past.current = [];
  }, [code]);
  const formId = useId();
  const [drag, setDrag] = useState<{ code: string; lowKpa: number | null; highKpa: number | null } | null>(null);
  const [sure, setSure] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a consent holds for one axle and one rule
  useEffect(() => setSure(false), [code, JSON.stringify(typed)]);

  const grid: Grid = gridOf(monitor, f.unit);
  const stepKpa = toKpa(grid.step, grid.unit);
  const coldKpa = current?.setting.cold?.kpa;
  const read = useMemo(() => readRule(typed, f), [typed, f]);
  const trial = useMemo(() => (read.problems.length > 0 ? null : attempt(read.value.rule, coldKpa)), [read, coldKpa]);
  const pair = trial !== null && typeof trial !== 'string' ? trial : null;

  /** Limits as they are shown: dragged, in trial, or in force. */
  const shownOf = (h: AxlePlan): TrialLimits | undefined => {
    if (drag && drag.code === h.code) return { ...drag, hotC: h.setting.limits?.hotC ?? 70 };
    if (h.code === current?.code && pair) return { lowKpa: pair.lowKpa, highKpa: pair.highKpa, hotC: read.value.hotC };
    return h.setting.limits;
  };
  // What guards the tires is what the monitor ends with: judged is that, whatever was wished.
  const held = new Map(
    (monitor
      ? heldOn(
          monitor,
          plans.map((h) => {
            const wish = shownOf(h);
            return guardedPlan(h, wish ? { rule: h.setting.limits?.rule ?? { school: 'share' }, ...wish } : undefined);
          }),
          rigKeyed(rig, whole.units, monitor),
        )
      : []
    ).map((x) => [x.axle, x]),
  );
  const heldOf = (h: AxlePlan): TrialLimits | undefined => {
    const wish = shownOf(h);
    const own = held.get(h.code);
    if (!wish || !own) return wish;
    // A high that nobody wants and that is out of the way says nothing.
    const idle = wish.highKpa === null && !own.verdicts.some((v) => v === 'rings-always' || v === 'nuisance-high');
    return { ...wish, lowKpa: own.heldLowKpa, highKpa: idle ? null : own.heldHighKpa };
  };
  const judged = plans.flatMap((h): AxleJudgement[] => {
    const j = judgeAxle(h, heldOf(h));
    return j ? [j] : [];
  });
  const against = current ? broken(judged.find((j) => j.plan.code === current.code) ?? null) : [];
  const late = pair !== null && isLate(pair, coldKpa);
  const consentFor = (h: AxlePlan, p: { lowKpa: number | null }): string | null => {
    const cold = h.setting.cold?.kpa;
    if (p.lowKpa === null || cold === undefined) return null;
    const minimum = h.facts.minimum?.kpa ?? null;
    if (minimum !== null && p.lowKpa < minimum - 0.05)
      return `The low alarm of ${f.pressure(p.lowKpa)} is below the load minimum of ${h.code} (${f.pressure(minimum)}). By the time it sounds, the tire can no longer carry its load.`;
    return minimum === null && isLate({ lowKpa: p.lowKpa, highKpa: null, why: [] }, cold)
      ? `Low is ${Math.round((1 - p.lowKpa / cold) * 100)} % below the cold pressure. By the time it sounds, the tire may no longer carry its load.`
      : null;
  };
  const consent = current && pair ? consentFor(current, pair) : null;

  /** What the rule would give on every axle that has a cold pressure; null as soon as one of them cannot take it without a second look. */
  const everywhere = useMemo(() => {
    const able = plans.filter((h) => h.setting.cold);
    if (read.problems.length > 0 || able.length < 2) return null;
    const ok = able.every((h) => {
      const p = attempt(read.value.rule, h.setting.cold?.kpa);
      if (typeof p === 'string') return false;
      const minimum = h.facts.minimum?.kpa ?? null;
      return !isLate(p, h.setting.cold?.kpa) && (p.lowKpa === null || minimum === null || p.lowKpa >= minimum - 0.05);
    });
    return ok ? able.map((h) => h.code) : null;
  }, [plans, read]);

  /** Put settings in force, with the way back. */
  const store = async (change: (h: Holder) => Setting | undefined, said: string): Promise<boolean> => {
    const before = whole.units;
    const units = withSettings(whole, rig.loadState, change);
    try {
      const saved = await putUnits(units);
      if (saved.length > 0) toast(said, { undo: () => putUnits(asBefore(before, saved)).then(() => undefined, toastError) });
      return true;
    } catch (error) {
      toastError(error);
      return false;
    }
  };
  const put = async ({ rule, hotC }: Read, codes: readonly string[]) => {
    const draft: Draft = { typed: form.getValues(), pressure: f.unit, temp: f.temp };
    for (const c of codes) dropDraft(draftOf(c));
    const hadSeasons = plans.some((h) => codes.includes(h.code) && h.setting.seasons);
    const said =
      codes.length === 1 && pair
        ? `${codes[0]} alarms at ${span(pair, f)} ${f.unit}.`
        : `The rule is in force on ${codes.join(', ')}.`;
    const done = await store(
      (h) => {
        if (!codes.includes(h.code)) return undefined;
        const result = attempt(rule, h.setting.cold?.kpa);
        if (typeof result === 'string') return undefined;
        const { seasons: _gone, ...rest } = h.setting;
        return { ...rest, limits: { rule, hotC, lowKpa: result.lowKpa, highKpa: result.highKpa } };
      },
      hadSeasons ? `${said} It holds all the year: the seasons are given up.` : said,
    );
    if (!done) {
      keepDraft(draftKey, draft);
      return;
    }
    const next = plans.find((h) => !codes.includes(h.code) && !h.setting.limits && h.setting.cold);
    if (next) setCode(next.code);
  };
  const use = form.handleSubmit((value) => (current ? put(value, [current.code]) : undefined));
  const putEverywhere = form.handleSubmit((value) => (everywhere ? put(value, everywhere) : undefined));

  /** Bring a rule into the form, as if it had been typed. */
  const type = (next: Typed, kept = true) => {
    if (kept) past.current = [...past.current.slice(-30), structuredClone(form.getValues())];
    for (const name of ['school', 'hotClimate', 'values', 'hot'] as const)
      form.setValue(name, next[name], { shouldDirty: true, shouldValidate: true });
    keepDraft(draftKey, { typed: next, pressure: f.unit, temp: f.temp } satisfies Draft);
  };
  const take = (own: Pair) => {
    if (coldKpa !== undefined) type(ownFigures(form.getValues(), own, coldKpa, f));
  };
  const move: MoveLimit = (c, field, kpa, done) => {
    const h = plans.find((x) => x.code === c);
    const at = h && shownOf(h);
    if (!h || !at || at.lowKpa === null || h.setting.cold === undefined) return;
    const value = snap(kpa, field, h.setting.cold.kpa, grid);
    const own = { lowKpa: field === 'low' ? value : at.lowKpa, highKpa: field === 'high' ? value : at.highKpa };
    // The axle of a limit that is touched is selected at once: when it is let go, the form is that axle's.
    setDrag(done ? null : { code: c, ...own });
    if (done && c === current?.code) take(own);
  };
  const putSeasons = async (c: Extract<Compromise, { kind: 'seasonal' }>) => {
    if (!current) return;
    const { cold, limits } = current.setting;
    if (!cold) return;
    const season = (name: 'winter' | 'summer'): Season | null => {
      const s = c.seasons.find((x) => x.name === name);
      if (!s) return null;
      const { lowKpa, highKpa } = s.found;
      const rule: AlarmRule =
        highKpa === null
          ? { school: 'lowOnly', lowShare: 1 - lowKpa / cold.kpa }
          : { school: 'floorCeiling', floorKpa: lowKpa, ceilingKpa: highKpa };
      return {
        from: s.from,
        coldestC: s.coldestC,
        hottestC: s.hottestC,
        cold: { kpa: cold.kpa, tempC: s.setTempC, ...(cold.typed ? { typed: cold.typed } : {}) },
        limits: { rule, lowKpa, highKpa, hotC: limits?.hotC ?? (Number.isFinite(read.value.hotC) ? read.value.hotC : 70) },
      };
    };
    const winter = season('winter');
    const summer = season('summer');
    if (!winter || !summer) return;
    dropDraft(draftKey);
    await store((h) => {
      if (h.code !== current.code) return undefined;
      const seasons = { inForce: 'winter' as const, winter, summer };
      return putSeason({ ...h.setting, seasons }, seasonOn(seasons, today()));
    }, `${current.code} has limits by season. Reset its cold pressure for the current season.`);
  };
  const keepClimate = (climate: Climate) => {
    if (JSON.stringify(climate) === JSON.stringify(rig.climate)) return setTried(null);
    const before = rig.climate;
    changeRig(rig.id, (now) => ({ ...now, climate }))
      .then(() => {
        setTried(null);
        toast('The day is noted', {
          undo: async () => {
            await changeRig(rig.id, ({ climate: _now, ...rest }) => (before ? { ...rest, climate: before } : rest)).catch(
              toastError,
            );
          },
        });
      })
      .catch(toastError);
  };

  /** Figures in the form that are not in force yet. */
  const isDraft =
    form.formState.isDirty &&
    limitsNow !== undefined &&
    (pair === null ||
      pair.lowKpa !== limitsNow.lowKpa ||
      pair.highKpa !== limitsNow.highKpa ||
      read.value.hotC !== limitsNow.hotC);
  const discard = () => {
    past.current = [];
    dropDraft(draftKey);
    form.reset(stored);
  };
  useHotkeys('mod+z', () => {
    const before = past.current.pop();
    if (before) type(before, false);
    else if (isDraft) discard();
  });
  useHotkeys('esc', () => isDraft && discard(), { enableOnFormTags: true });

  const card: Card | null = useMemo(
    () => (monitor ? keyingCard(monitor, cardAxles(plans, rig.loadState), rigKeyed(rig, whole.units, monitor)) : null),
    [monitor, plans, rig, whole.units],
  );
  const ladder = plans.map((h): LadderAxle => {
    const shown = shownOf(h);
    const own = held.get(h.code);
    const { cold } = h.setting;
    return {
      code: h.code,
      name: h.name,
      coldKpa: cold?.kpa ?? null,
      coldTempC: cold?.tempC ?? null,
      coldText: cold ? f.exact(cold.kpa, cold.typed).replace(`\u00a0${f.unit}`, '') : '',
      lowKpa: shown?.lowKpa ?? null,
      highKpa: shown?.highKpa ?? null,
      ...(own && apart(own.heldLowKpa, shown?.lowKpa) ? { heldLowKpa: own.heldLowKpa } : {}),
      ...(own && apart(own.heldHighKpa, shown?.highKpa) ? { heldHighKpa: own.heldHighKpa } : {}),
      minimumKpa: h.facts.minimum?.kpa ?? null,
      maxColdKpa: h.facts.maxColdKpa ?? null,
      ...(h.first.place === 'S' ? { spare: true } : {}),
      ...(cold ? dayEnds(cold, h.day) : { coldestKpa: null, hotKpa: null }),
      // Without a climate only the run is known, and a spare has none.
      ...(h.first.place === 'S' && !h.day ? { hotKpa: null } : {}),
      ...(h.setting.limits && (drag?.code === h.code || (h.code === current?.code && isDraft))
        ? { inForce: h.setting.limits }
        : {}),
      marked: broken(judged.find((j) => j.plan.code === h.code) ?? null).length > 0,
    };
  });
  const climate = tried ?? rig.climate;
  const without = plans.filter((h) => !h.setting.limits);
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_352px]">
      <div className="min-w-0">
        {correctsToC !== undefined && (
          <div className="mb-3">
            <Notice>
              This monitor corrects its pressures to {f.temperature(correctsToC)} by itself. A cold start and a hot run read alike
              on it, so its limits are judged at that temperature.
            </Notice>
          </div>
        )}
        <Ladder axles={ladder} selected={current?.code ?? ''} onSelect={setCode} onMove={move} stepKpa={stepKpa} />
        {climate ? (
          <div className="mt-3">
            <DaySliders climate={climate} rigId={rig.id} onTry={setTried} onKeep={keepClimate} />
          </div>
        ) : (
          <p className="mt-2 max-w-[80ch] text-body">
            How cold your mornings and how hot your afternoons get is still unknown: “hot run” is 10 % over cold here (common
            practice, no source), and nothing is judged.{' '}
            <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pressures`}>
              Say it on Pressures
            </Link>
            .
          </p>
        )}
        <HeldStops monitor={monitor} />
        {monitor && (
          <SharedSuggest
            monitor={monitor}
            plans={plans}
            onTake={(axles, pair) =>
              void store(
                (h) => {
                  const { cold, limits } = h.setting;
                  if (!axles.includes(h.code) || !cold || !limits) return undefined;
                  const { lowKpa, highKpa } = pair;
                  const rule: AlarmRule =
                    highKpa === null
                      ? { school: 'lowOnly', lowShare: 1 - lowKpa / cold.kpa }
                      : { school: 'floorCeiling', floorKpa: lowKpa, ceilingKpa: highKpa };
                  return { ...h.setting, limits: { ...limits, rule, lowKpa, highKpa } };
                },
                `${axles.join(' and ')} share one pair now.`,
              )
            }
          />
        )}
        {judged.length > 0 && (
          <section aria-label="Judgement" className="mt-5">
            <h2 className="pb-2">What these limits do</h2>
            <JudgedList list={judged} onSelect={setCode} />
          </section>
        )}
        {plans.some((h) => h.setting.seasons) && (
          <div className="mt-4 flex flex-col gap-3">
            {plans.map((h) => (
              <SeasonBox
                key={h.code}
                plan={h}
                onPut={(said, change) => void store((x) => (x.code === h.code ? change(x.setting) : undefined), said)}
              />
            ))}
          </div>
        )}
        <table className="sheet-table mt-5">
          <caption className="pb-2 text-left text-body font-bold">Limits in force, {rig.loadState}</caption>
          <thead>
            <tr>
              <th scope="col">Axle</th>
              <th scope="col">Cold</th>
              <th scope="col">Low</th>
              <th scope="col">High</th>
              <th scope="col">Hot</th>
              <th scope="col" className="max-md:hidden">
                Why
              </th>
            </tr>
          </thead>
          <tbody>
            {plans.map((h) => {
              const { cold, limits } = h.setting;
              const why = limits && cold ? attempt(limits.rule, cold.kpa) : null;
              return (
                <tr key={h.code}>
                  <td className="font-semibold">{h.code}</td>
                  <td className="narrow whitespace-nowrap">{cold ? f.exact(cold.kpa, cold.typed) : 'not set'}</td>
                  <td className="narrow font-semibold whitespace-nowrap">
                    {limits ? (limits.lowKpa === null ? 'none' : f.pressure(limits.lowKpa)) : 'no rule'}
                  </td>
                  <td className="narrow font-semibold whitespace-nowrap">
                    {limits ? (limits.highKpa === null ? 'none' : f.pressure(limits.highKpa)) : ''}
                  </td>
                  <td className="narrow whitespace-nowrap">{limits ? f.temperature(limits.hotC) : ''}</td>
                  <td className="text-note text-ink2 max-md:hidden">
                    {why !== null && typeof why !== 'string'
                      ? [...new Set(why.why.map((r) => reasonWords(r, f)))].join('; ')
                      : ''}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {card && card.unmet.length > 0 && (
          <div className="mt-3 text-body">
            <p className="font-semibold">What the {monitor?.name} makes of them</p>
            <ul className="mt-1 text-ink2">
              {card.unmet.map((u) => (
                <li key={`${u.axle} ${u.field}`}>{unmetWords(u, f)}</li>
              ))}
            </ul>
          </div>
        )}
      </div>
      {current && (
        <form id={formId} onSubmit={use} noValidate aria-label={`Rule for ${current.code}`}>
          <h2 className="border-b border-ink pb-2">
            Rule for {current.code}, {current.name}
          </h2>
          {coldKpa === undefined ? (
            <NoCold plan={current} rigId={rig.id} />
          ) : (
            <>
              <RulePanel
                plan={current}
                form={form}
                typed={typed}
                hotC={read.value.hotC}
                trial={trial}
                pair={pair}
                consent={consent}
                sure={sure}
                onSure={setSure}
                monitor={monitor}
                card={card}
              />
              {climate && current.day && (against.length > 0 || form.formState.isDirty) && read.problems.length === 0 && (
                <div className="mt-4">
                  <SuggestBox
                    plan={current}
                    rule={read.value.rule}
                    grid={grid}
                    climate={climate}
                    onTake={take}
                    onSeasons={(c) => void putSeasons(c)}
                    onRule={(rule) =>
                      type({ ...toTyped({ rule, lowKpa: null, highKpa: null, hotC: 70 }, f), hot: form.getValues('hot') })
                    }
                  />
                </div>
              )}
            </>
          )}
        </form>
      )}
      <div className="next-step xl:col-span-2">
        {current && coldKpa !== undefined && (
          <>
            {(isDraft || !current.setting.limits) && (
              <button
                type="submit"
                form={formId}
                className="btn btn-solid"
                disabled={pair === null || (consent !== null && !sure) || form.formState.isSubmitting}
              >
                Use for {current.code}
              </button>
            )}
            {everywhere && (without.length > 1 || form.formState.isDirty) && !late && (
              <button
                type="button"
                className={`btn ${without.length > 1 ? 'btn-solid' : ''}`}
                onClick={() => void putEverywhere()}
              >
                Use for all {everywhere.length}
              </button>
            )}
            {isDraft && (
              <>
                <button type="button" className="btn" onClick={discard}>
                  Discard <span className="kbd">Esc</span>
                </button>
                <span className="text-body" role="status">
                  Draft{pair ? ` ${span(pair, f)} ${f.unit}` : ''}: not in force yet
                </span>
              </>
            )}
          </>
        )}
        {without.length === 0 && !isDraft && (
          <>
            {monitor && (
              <Link className="btn btn-solid" to="?part=card">
                Next: key them into the monitor
              </Link>
            )}
            <Link className={`btn ${monitor ? '' : 'btn-solid'}`} to={`/rigs/${rig.id}/pairing`}>
              {monitor ? 'Pairing' : 'Next: pairing'}
            </Link>
          </>
        )}
      </div>
    </div>
  );
}
