import { useMemo } from 'react';
import { DRILLS, type Drill, type DrillQuestion, playDrill, scoreOf, shuffled } from '#core/bench/drills.ts';
import { benchWheels } from '#core/bench/setup.ts';
import { settingOf } from '#core/rig/positions.ts';
import { useFormat } from '../../parts/format.ts';
import { PlainWheel } from '../../parts/PlainWheel.tsx';
import { RigPlan, useLie } from '../../parts/RigPlan.tsx';
import { useDraft } from '../../state/drafts.ts';
import { useRig } from '../../state/useRig.ts';
import { ALARM_LINE, HARM_WORDS, OPTIONS, QUESTIONS, situation } from './drillWords.ts';

interface Course {
  seed: number;
  at: number;
  answers: Record<string, Partial<Record<DrillQuestion['code'], string>>>;
}
const fresh = (): Course => ({ seed: Math.floor(Math.random() * 1e6), at: 0, answers: {} });

/** Five drills: what does this alarm mean, and what do you do? Each is played on a bench of this rig. */
export function Drills() {
  const { rig, units, wheels } = useRig();
  const [course, setCourse] = useDraft<Course | null>(`drills.${rig.id}`, null);
  const setups = useMemo(() => benchWheels(units, rig.loadState), [units, rig.loadState]);
  const limitsOf = useMemo(
    () => (position: string) => {
      const wheel = wheels.find((w) => w.position === position);
      const setting = wheel ? settingOf(wheel, rig.loadState) : {};
      const setup = setups.find((s) => s.position === position);
      return {
        lowKpa: null,
        highKpa: null,
        hotC: setting.limits?.hotC ?? 70,
        coldKpa: setup?.coldKpa ?? null,
        coldTempC: setup?.coldTempC ?? 20,
        sensorKind: wheel?.wheel.sensor?.kind ?? ('cap' as const),
      };
    },
    [wheels, setups, rig.loadState],
  );
  const seed = course?.seed ?? 0;
  const drill = course ? DRILLS[course.at] : undefined;
  const moment = useMemo(
    () => (drill ? playDrill(drill, seed + DRILLS.indexOf(drill), setups, limitsOf) : null),
    [drill, seed, setups, limitsOf],
  );

  if (!course)
    return (
      <section aria-label="Drills" className="max-w-[66ch]">
        <p>
          Five alarms on your own rig, each played on the bench until it rings. You say what it means and what you would do. What
          counts are the mistakes that cost money, and most of all those that hurt somebody.
        </p>
        <p className="mt-3">
          <button type="button" className="btn btn-solid" onClick={() => setCourse(fresh())}>
            Begin the drills
          </button>
        </p>
        <p className="mt-3 text-body text-ink2">Nothing here touches your watch, its alarms or its readings.</p>
      </section>
    );
  if (!drill) return <Result course={course} again={() => setCourse(fresh())} />;
  return (
    <DrillPart
      drill={drill}
      moment={moment}
      course={course}
      answer={(code, option) =>
        setCourse({
          ...course,
          answers: { ...course.answers, [drill.id]: { ...course.answers[drill.id], [code]: option } },
        })
      }
      next={() => setCourse({ ...course, at: course.at + 1 })}
    />
  );
}

function DrillPart({
  drill,
  moment,
  course,
  answer,
  next,
}: {
  drill: Drill;
  moment: ReturnType<typeof playDrill>;
  course: Course;
  answer: (code: DrillQuestion['code'], option: string) => void;
  next: () => void;
}) {
  const { units, wheels } = useRig();
  const f = useFormat();
  const lie = useLie();
  const given = course.answers[drill.id] ?? {};
  const last = course.at === DRILLS.length - 1;
  const nextButton = (
    <button type="button" className="btn btn-solid" onClick={next}>
      {last ? 'See how it went' : 'Next drill'}
    </button>
  );
  if (!moment)
    return (
      <section aria-label={`Drill ${course.at + 1}`}>
        <p className="mb-3 max-w-[60ch]">
          Drill {course.at + 1} of {DRILLS.length} compares two wheels of one axle, and this rig has no such axle.
        </p>
        {nextButton}
      </section>
    );
  const byPosition = new Map(moment.wheels.map((w) => [w.position, w]));
  // The second question comes when the first is answered: each alone is answered better.
  const open = drill.questions.filter((_, i) => i === 0 || given[drill.questions[0].code] !== undefined);
  const done = drill.questions.every((q) => given[q.code] !== undefined);
  return (
    <section aria-label={`Drill ${course.at + 1}`}>
      <h2 className="mb-1">
        Drill {course.at + 1} of {DRILLS.length}
      </h2>
      <p className="mb-3 max-w-[70ch]">{situation(drill.id, moment, f)}</p>
      <div className="grid gap-x-8 gap-y-5 xl:grid-cols-[minmax(0,1fr)_420px]">
        <div className="min-w-0">
          <p className="mb-3 border-l-[6px] border-magenta bg-ink px-3 py-2 text-head font-bold text-paper" data-drill={drill.id}>
            {ALARM_LINE[drill.kind]?.(moment.positions.join(', '))}
          </p>
          <RigPlan
            label="What the monitor shows"
            units={units}
            wheels={wheels}
            lie={lie}
            size={96}
            tallness={lie === 'up' ? 64 : 84}
            wheel={(w) => {
              const shown = byPosition.get(w.position);
              return (
                <PlainWheel
                  wheel={w}
                  selected={moment.positions.includes(w.position)}
                  paired={shown !== undefined}
                  onSelect={() => undefined}
                >
                  <span className="narrow text-note font-semibold">{w.position}</span>
                  {shown && (
                    <>
                      <span
                        className={`figure leading-none ${shown.ageS > 300 ? 'text-head' : 'text-big font-bold max-md:text-head'}`}
                      >
                        {shown.ageS > 300 ? `(${f.figure(shown.kpa)})` : f.figure(shown.kpa)}
                      </span>
                      <span className="narrow text-note leading-tight">
                        {shown.ageS > 300
                          ? `${Math.round(shown.ageS / 60)} min old`
                          : `was ${f.figure(shown.beforeKpa)}; ${f.temperature(shown.tempC)}`}
                      </span>
                    </>
                  )}
                </PlainWheel>
              );
            }}
          />
          <p className="mt-3 text-body text-ink2">
            Pressures in {f.unit}; “was” is{' '}
            {moment.minutes < 100 ? `${moment.minutes} minutes` : `${Math.round(moment.minutes / 60)} hours`} ago.
          </p>
        </div>
        <div className="flex flex-col gap-5">
          {open.map((q) => (
            <Question key={`${drill.id} ${q.code}`} question={q} seed={course.seed} given={given[q.code]} answer={answer} />
          ))}
          {done && <p>{nextButton}</p>}
        </div>
      </div>
    </section>
  );
}

function Question({
  question,
  seed,
  given,
  answer,
}: {
  question: DrillQuestion;
  seed: number;
  given: string | undefined;
  answer: (code: DrillQuestion['code'], option: string) => void;
}) {
  const options = shuffled(question, seed);
  const right = question.options.find((o) => o.harm === 'right');
  const chosen = question.options.find((o) => o.code === given);
  return (
    <section aria-label={QUESTIONS[question.code]}>
      <h3 className="mb-2">{QUESTIONS[question.code]}</h3>
      <ul className="flex flex-col gap-2">
        {options.map((o) => {
          const shown = given !== undefined && (o.code === given || o === right);
          return (
            <li key={o.code}>
              <button
                type="button"
                className={`w-full border p-3 text-left text-body disabled:cursor-default ${
                  shown
                    ? o.harm === 'right'
                      ? 'border-l-[10px] border-ink border-l-cyan'
                      : 'border-[3px] border-magenta'
                    : 'border-ink'
                } ${given !== undefined && !shown ? 'border-rule text-ink2' : ''}`}
                aria-pressed={o.code === given}
                disabled={given !== undefined}
                onClick={() => answer(question.code, o.code)}
              >
                {OPTIONS[o.code]?.text}
              </button>
              {shown && (
                <p className="mt-1 text-body">
                  <b>{o.code === given ? HARM_WORDS[o.harm] : 'This was right.'}</b> {OPTIONS[o.code]?.why}
                </p>
              )}
            </li>
          );
        })}
      </ul>
      <p role="status" className="sr-only">
        {chosen ? `${HARM_WORDS[chosen.harm]} ${OPTIONS[chosen.code]?.why}` : ''}
      </p>
    </section>
  );
}

function Result({ course, again }: { course: Course; again: () => void }) {
  const score = scoreOf(course.answers);
  const { dangerous, costly, idle } = score.mistakes;
  const wrong = DRILLS.flatMap((d) =>
    d.questions.flatMap((q) => {
      const o = q.options.find((x) => x.code === course.answers[d.id]?.[q.code]);
      return o && o.harm !== 'right' ? [{ key: `${d.id} ${q.code}`, kind: d.kind, option: o }] : [];
    }),
  );
  return (
    <section aria-label="How it went" className="max-w-[70ch]">
      <h2 className="mb-2">How it went</h2>
      <p className="text-head font-semibold">
        {score.points === 0
          ? 'No mistake that matters.'
          : `${dangerous} dangerous, ${costly} costly: ${score.points} points against you.`}
      </p>
      <p className="mt-1">
        {score.right} of {score.asked} answers were right{idle > 0 ? `, ${idle} would only have taken time` : ''}. A dangerous one
        counts 3, a costly one 1.
      </p>
      {wrong.length > 0 && (
        <ul className="mt-3">
          {wrong.map(({ key, kind, option }) => (
            <li key={key} className="border-t border-rule py-2 text-body">
              <b>
                {ALARM_LINE[kind]?.('')
                  ?.replace(/^: /, '')
                  .replace(/^./, (c) => c.toUpperCase())}
                .
              </b>{' '}
              You chose: {OPTIONS[option.code]?.text} {HARM_WORDS[option.harm]} {OPTIONS[option.code]?.why}
            </li>
          ))}
        </ul>
      )}
      <p className="mt-4">
        <button type="button" className="btn btn-solid" onClick={again}>
          Begin again with other drills
        </button>
      </p>
    </section>
  );
}
