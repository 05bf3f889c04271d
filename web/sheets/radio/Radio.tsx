import { useQuery } from '@tanstack/react-query';
import { proxy, wrap } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import {
  estimateRig,
  isAllowed,
  type Placed,
  REPEATER_Z,
  seatIsGood,
  verdictOf,
  type Way,
  type WheelEstimate,
} from '#core/radio/estimate.ts';
import { RADIO } from '#core/radio/parameters.ts';
import { type Scene, sceneOf, USUAL } from '#core/radio/scene.ts';
import { unitLetter } from '#core/rig/positions.ts';
import type { BodyMaterial, Rig, Unit } from '#schema/unit.ts';
import { ask } from '../../data/api.ts';
import { useMonitor, useRecords } from '../../data/queries.ts';
import { Notice, SheetHead, Switch } from '../../parts/controls.tsx';
import { parseLength, parseNumber } from '../../parts/format.ts';
import { SavedField } from '../../parts/SavedField.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import type { RadioWork } from './radio.worker.ts';
import { Supply } from './Supply.tsx';

const materials: { value: BodyMaterial; text: string }[] = [
  { value: 'steel', text: 'Steel' },
  { value: 'aluminium', text: 'Aluminium' },
  { value: 'wood', text: 'Wood, fibre' },
];
const assumedTexts: Record<Scene['assumed'][number]['code'], string> = {
  wheelbase: 'wheelbase',
  hitch: 'where its coupling sits',
  trailerAxle: 'how far its axle is behind the coupling',
  body: 'what its body is made of',
  towVehicle: 'what pulls it: steel, 4.5 m from its dash to the coupling',
};

/** The two schools, and where each holds; the low end decides. */
const verdictWords: Record<
  NonNullable<ReturnType<typeof verdictOf>>['verdict'],
  (v: NonNullable<ReturnType<typeof verdictOf>>) => string
> = {
  without: () => 'Even at its worst that is enough: the school “a short rig does fine without” holds here.',
  needed: () => 'Even at its best that is too little: the school “never skip it” holds here.',
  uncertain: (v) =>
    `Uncertain: ${v.worst} is heard at ${percent(v.low)} to ${percent(v.high)} of its frames, depending on the real losses. Try it without a repeater, and put one up if a wheel isn’t heard.`,
};

const percent = (p: number) => `${p > 0.995 && p < 1 ? '99+' : Math.round(p * 100)} %`;
const wait = (s: number) =>
  !Number.isFinite(s)
    ? 'never'
    : s < 90
      ? `${Math.round(s)} s`
      : s < 5400
        ? `${Math.round(s / 60)} min`
        : `${Math.round(s / 3600)} h`;
const lossText = (w: Way) =>
  w.losses
    .map(
      (l) =>
        `${{ tireRim: 'tire and rim', body: 'body', tank: 'tank', dualInner: 'inner dual', measured: 'measured' }[l.code]} ${l.least === l.most ? l.least : `${l.least} to ${l.most}`} dB`,
    )
    .join(', ');

/** Which sensors the dash can hear, with a repeater and without, and where to put one. */
export default function Radio() {
  const { rig, units, wheels: allOfRig } = useRig();
  const spares = allOfRig.filter((w) => w.place === 'S').map((w) => w.position);
  const { changeRig, changeUnit } = useRecords();
  const monitor = useMonitor(rig);
  const periodS = monitor?.updateS ?? RADIO.sendS;
  const onlyRepeater = monitor?.link === 'repeater';
  const scene = useMemo(
    () => sceneOf(units, rig.towVehicle, { onlyRepeater, unwatched: rig.unwatched }),
    [units, rig.towVehicle, rig.unwatched, onlyRepeater],
  );
  const [drag, setDrag] = useState<{ x: number; y: number } | null>(null);
  const [placed, setPlaced] = useState<{ of: string; found: Placed } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const measured = useQuery({
    queryKey: ['rssi', rig.id],
    queryFn: () => ask('readings', { params: { rig: rig.id }, query: { step: 3600 } }),
  }).data;
  const bare0 = useMemo(() => estimateRig(scene, null), [scene]);
  const signals = useMemo(() => {
    const out: Record<string, number> = {};
    for (const w of scene.wheels) {
      const list = (measured?.readings ?? []).flatMap((r) =>
        r.position === w.position && r.rssiDbm !== undefined ? [r.rssiDbm] : [],
      );
      if (list.length > 0) out[w.position] = list.sort((a, b) => a - b)[list.length >> 1] as number;
    }
    return out;
  }, [measured, scene]);
  const corrections = useMemo(
    () =>
      Object.fromEntries(
        bare0.flatMap((w) => {
          const dbm = signals[w.position];
          return dbm === undefined ? [] : [[w.position, dbm - (w.direct.marginDb.mid + RADIO.monitorDbm)]];
        }),
      ),
    [bare0, signals],
  );
  const bare = useMemo(() => estimateRig(scene, null, corrections, undefined, periodS), [scene, corrections, periodS]);
  const spot = drag ?? rig.repeater ?? null;
  const allowed = spot === null || isAllowed(scene, { ...spot, z: REPEATER_Z });
  // A signal belongs to the place it was measured at.
  const seatDb = drag === null ? rig.repeater?.seatDb : undefined;
  const helped = useMemo(
    () => (spot ? estimateRig(scene, { x: spot.x, y: spot.y, z: REPEATER_Z }, corrections, seatDb, periodS) : null),
    [scene, spot, corrections, seatDb, periodS],
  );
  const keep = async (next: { x: number; y: number } | null) => {
    setDrag(null);
    if (next && !isAllowed(scene, { ...next, z: REPEATER_Z })) {
      toast('Not there: against a wheel, on a tank, or off the frame.');
      return;
    }
    const before = rig.repeater;
    try {
      await changeRig(rig.id, ({ repeater: _old, ...r }) =>
        next ? { ...r, repeater: { x: Math.round(next.x * 100) / 100, y: Math.round(next.y * 100) / 100 } } : r,
      );
      toast(next ? 'The repeater is placed there.' : 'No repeater.', {
        undo: async () => {
          await changeRig(rig.id, ({ repeater: _now, ...r }) => (before ? { ...r, repeater: before } : r)).catch(toastError);
        },
      });
    } catch (error) {
      toastError(error);
    }
  };
  const search = async () => {
    worker.current?.terminate();
    const own = new Worker(new URL('./radio.worker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    setShare(0);
    own.onerror = () => {
      setShare(null);
      toast('The calculation stopped. Try it again.');
    };
    const found = await wrap<RadioWork>(own).place(
      scene,
      proxy((s: number) => {
        if (worker.current === own) setShare(s);
      }),
    );
    if (worker.current !== own) return;
    worker.current = null;
    own.terminate();
    setShare(null);
    // A field belongs to one scene: a changed one makes it stale.
    setPlaced(found && { of: JSON.stringify(scene), found });
    if (found) await keep(found.place);
  };
  const stop = () => {
    worker.current?.terminate();
    worker.current = null;
    setShare(null);
  };
  const putBody = (unit: Unit, change: (b: NonNullable<Unit['body']>) => NonNullable<Unit['body']>) =>
    void changeUnit(unit.id, (u) => ({
      ...u,
      body: change(u.body ?? { material: u.kind === 'vehicle' ? 'steel' : 'wood' }),
    })).catch(toastError);
  const putTow = (change: (t: NonNullable<Rig['towVehicle']>) => NonNullable<Rig['towVehicle']>) =>
    void changeRig(rig.id, (r) => ({
      ...r,
      towVehicle: change(r.towVehicle ?? { dashToCouplingM: USUAL.dashToCouplingM, body: 'steel' }),
    })).catch(toastError);
  const worst = (list: readonly WheelEstimate[]) => list.reduce((a, b) => (b.chance.mid < a.chance.mid ? b : a));
  const verdict = verdictOf(bare);
  const worstBare = bare.length > 0 ? worst(bare) : null;
  const worstHelped = helped && helped.length > 0 ? worst(helped) : null;
  return (
    <>
      <SheetHead title="Radio">
        Which sensors of this rig the dash can hear, with a repeater and without. An estimate: only the free-space loss is law,
        everything else is assumed and can be corrected by a measured signal.
      </SheetHead>
      <RigFromAbove
        scene={scene}
        field={placed && placed.of === JSON.stringify(scene) ? placed.found.field : null}
        spot={spot}
        allowed={allowed}
        onDrag={setDrag}
        onDrop={(p) => void keep(p)}
      />
      {spares.length > 0 && (
        <p className="mt-1 text-note text-ink2">
          {spares.join(', ')}, the spare, isn’t drawn: where it hangs is unknown. It reports rarely.
        </p>
      )}
      <div className="next-step print:hidden">
        {share === null ? (
          <button type="button" className="btn btn-solid" onClick={() => void search()}>
            Find the best place
          </button>
        ) : (
          <>
            <progress className="ink-progress" value={share} max={1} aria-label="Search for the best place" />
            <span className="figure">{Math.round(share * 100)} %</span>
            <button type="button" className="btn" onClick={stop}>
              Stop
            </button>
          </>
        )}
        {spot ? (
          <button type="button" className="btn" onClick={() => void keep(null)}>
            No repeater
          </button>
        ) : (
          <button
            type="button"
            className="btn"
            onClick={() => {
              const frame = scene.frames.at(-1);
              if (frame) void keep({ x: frame.x0 + 0.2, y: 0 });
            }}
          >
            Put one up by hand
          </button>
        )}
      </div>
      {worstBare && (
        <p className="mt-3 max-w-[80ch] text-body">
          {onlyRepeater ? (
            <>
              <b>These sensors reach the phone only through their repeater.</b>{' '}
            </>
          ) : (
            <>
              <b>Without:</b> the worst wheel is {worstBare.position}, heard at {percent(worstBare.chance.mid)} of its frames:
              once it is awake its first reading takes about {wait(worstBare.firstS.mid)}.{' '}
            </>
          )}
          {worstHelped && (
            <>
              <b>With it there:</b> {worstHelped.position}, {percent(worstHelped.chance.mid)}, about{' '}
              {wait(worstHelped.firstS.mid)}.{' '}
            </>
          )}
          {verdict && !onlyRepeater && verdictWords[verdict.verdict](verdict)} Sensors wake one by one and the monitor
          {monitor?.scanS ? ` takes ${wait(monitor.scanS)} for a scan` : ' scans in turn'}, so a whole rig takes 2 to 10 minutes
          all the same.
        </p>
      )}
      {rig.repeater && (
        <div className="mt-3 flex flex-wrap items-end gap-4">
          <SavedField
            label="The repeater’s signal at the seat (empty: not measured)"
            unit="dB"
            className="w-[300px]"
            inputMode="text"
            value={rig.repeater.seatDb === undefined ? '' : String(rig.repeater.seatDb)}
            draft={`radio.${rig.id}.seat`}
            check={(t) => {
              const n = parseNumber(t);
              return t.trim() === '' || (n !== null && n <= 0 && n >= -120) ? null : 'Between -120 and 0 dB, such as -72';
            }}
            onSave={(t) => {
              const n = parseNumber(t);
              void changeRig(rig.id, (r) => {
                if (!r.repeater) return r;
                const { seatDb: _old, ...place } = r.repeater;
                return { ...r, repeater: n === null ? place : { ...place, seatDb: n } };
              }).catch(toastError);
            }}
          />
          {rig.repeater.seatDb !== undefined && (
            <p className="pb-2 text-body" role="status">
              {seatIsGood(rig.repeater.seatDb) ? (
                'Good: it is between 0 and -80 dB.'
              ) : (
                <b>Weaker than -80 dB: move the repeater nearer to the seat, and measure again.</b>
              )}
            </p>
          )}
        </div>
      )}
      <Wide label="Table of ways" className="mt-4">
        <table className="sheet-table">
          <caption className="sr-only">Each wheel’s way to the dash</caption>
          <thead>
            <tr>
              <th scope="col">Wheel</th>
              <th scope="col" className="max-md:hidden">
                Way
              </th>
              <th scope="col">Heard without</th>
              <th scope="col">First, next</th>
              <th scope="col">Heard with</th>
              <th scope="col">First, next</th>
              <th scope="col">Measured</th>
            </tr>
          </thead>
          <tbody>
            {bare.map((w, i) => {
              const h = helped?.[i];
              return (
                <tr key={w.position}>
                  <td className="figure text-head font-bold">{w.position}</td>
                  <td className="text-note text-ink2 max-md:hidden">
                    {w.direct.distanceM.toFixed(1)} m; {lossText(w.direct)}
                  </td>
                  <td className="narrow whitespace-nowrap">
                    <b>{percent(w.chance.mid)}</b> ({percent(w.chance.low)} to {percent(w.chance.high)})
                  </td>
                  <td className="narrow whitespace-nowrap">
                    {wait(w.firstS.mid)}, {wait(w.nextS)}
                  </td>
                  <td className="narrow whitespace-nowrap">{h && <b>{percent(h.chance.mid)}</b>}</td>
                  <td className="narrow whitespace-nowrap">{h && `${wait(h.firstS.mid)}, ${wait(h.nextS)}`}</td>
                  <td className="narrow whitespace-nowrap">
                    {signals[w.position] === undefined
                      ? ''
                      : `${signals[w.position]} dBm, ${(corrections[w.position] ?? 0) >= 0 ? '+' : '−'}${Math.abs(Math.round(corrections[w.position] ?? 0))} dB`}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Wide>
      <section aria-label="What stands in the way" className="mt-6">
        <h2 className="border-b border-ink pb-2">What stands in the way</h2>
        {units.map((u, i) => (
          <div key={u.id} className="flex flex-wrap items-end gap-4 border-b border-rule py-3">
            <b className="min-w-[160px] pb-1">
              {unitLetter(i)} {u.name}
            </b>
            <Switch
              label={`Body of ${u.name}`}
              value={u.body?.material ?? (u.kind === 'vehicle' ? 'steel' : 'wood')}
              options={materials}
              onChange={(material) => putBody(u, (b) => ({ ...b, material }))}
            />
            <SavedField
              label={`Metal tank or box of ${u.name}, behind its ${u.kind === 'vehicle' ? 'front axle' : 'coupling'}`}
              unit="m"
              value={u.body?.tankM === undefined ? '' : String(u.body.tankM)}
              check={(t) => {
                if (t.trim() === '') return null;
                const m = parseLength(t);
                return m === null ? 'Type metres, or feet as in 6 ft' : m < 0 || m > 30 ? 'Between 0 and 30 m' : null;
              }}
              onSave={(t) => {
                const m = t === '' ? null : parseLength(t);
                putBody(u, ({ tankM: _old, ...b }) => (m === null ? b : { ...b, tankM: m }));
              }}
            />
          </div>
        ))}
        {units[0]?.kind === 'trailer' && (
          <div className="flex flex-wrap items-end gap-4 border-b border-rule py-3">
            <b className="min-w-[160px] pb-1">Tow vehicle</b>
            <Switch
              label="Body of the tow vehicle"
              value={rig.towVehicle?.body ?? 'steel'}
              options={materials}
              onChange={(body) => putTow((t) => ({ ...t, body }))}
            />
            <SavedField
              label="From its dash to its coupling"
              unit="m"
              value={rig.towVehicle === undefined ? '' : String(rig.towVehicle.dashToCouplingM)}
              check={(t) => {
                if (t.trim() === '') return null;
                const m = parseLength(t);
                return m === null ? 'Type metres, or feet as in 15 ft' : m < 0.5 || m > 20 ? 'Between 0.5 and 20 m' : null;
              }}
              onSave={(t) => {
                const m = t === '' ? null : parseLength(t);
                putTow((x) => (m === null ? x : { ...x, dashToCouplingM: m }));
              }}
            />
          </div>
        )}
        {scene.assumed.length > 0 && (
          <p className="mt-2 max-w-[80ch] text-body">
            Taken as usual, since nobody has said otherwise:{' '}
            {scene.assumed.map((a) => (a.unit === '' ? '' : `${a.unit}, `) + assumedTexts[a.code]).join('; ')}.
          </p>
        )}
      </section>
      <section aria-label="Mounting" className="mt-8 max-w-[80ch]">
        <h2 className="border-b border-ink pb-2">Mounting</h2>
        <ol className="mt-2 list-decimal pl-5 text-body">
          <li>Level and chock the trailer before you work under it.</li>
          <li>Low, forward and centred, facing the tow vehicle, near the wheels it serves; not behind metal or mirrors.</li>
          <li>Mark, punch, look behind the frame: no cable, no tank, no brake line.</li>
          <li>Gloves and glasses. Pilot hole 3/32 in (2.4 mm); the last turns by hand.</li>
          <li>The monitor belongs on the dash, not in a cubby by the gear lever.</li>
        </ol>
        <div className="mt-3">
          <Notice>
            It sleeps after 10 minutes still. Losses here come from no published source; a phone-linked repeater that shows better
            than −80 dBm at the seat is good.
          </Notice>
        </div>
      </section>
      <Supply />
      <p className="mt-6 print:hidden">
        <Link className="btn" to={`/rigs/${rig.id}/first-drive`}>
          Next: first drive
        </Link>
      </p>
    </>
  );
}

/** The rig to scale from above, road ahead to the left; the field of the repeater's places as halftone. */
function RigFromAbove({
  scene,
  field,
  spot,
  allowed,
  onDrag,
  onDrop,
}: {
  scene: Scene;
  field: Placed['field'] | null;
  spot: { x: number; y: number } | null;
  allowed: boolean;
  onDrag: (p: { x: number; y: number }) => void;
  onDrop: (p: { x: number; y: number }) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const x0 = Math.min(-1.2, ...scene.bodies.map((b) => b.x0 - 0.3));
  const x1 = Math.max(...scene.wheels.map((w) => w.x + 1.4), ...scene.bodies.map((b) => b.x1 + 0.3));
  const scale = 74;
  const width = (x1 - x0) * scale;
  const height = 3 * scale;
  const px = (x: number) => (x - x0) * scale;
  const py = (y: number) => height / 2 - y * scale;
  // Names stand off the outline.
  const outside = {
    top: Math.min(height / 2, ...scene.bodies.map((b) => py(b.y1))),
    bottom: Math.max(height / 2, ...scene.bodies.map((b) => py(b.y0))),
  };
  const at = (e: React.PointerEvent): { x: number; y: number } | null => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    return { x: x0 + ((e.clientX - box.left) / box.width) * (x1 - x0), y: (0.5 - (e.clientY - box.top) / box.height) * 3 };
  };
  const most = Math.max(0.01, ...(field ?? []).map((c) => c.worst ?? 0));
  return (
    <div className="overflow-x-auto">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with one thing in it that can be moved */}
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        className="w-full min-w-[560px]"
        style={{ maxHeight: 300 }}
        role="group"
        aria-label="The rig from above, to scale"
      >
        <path
          d={`M${px(Math.min(...scene.wheels.map((w) => w.x)))} ${py(0)}H${px(Math.max(...scene.wheels.map((w) => w.x)))}`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
        {scene.bodies.map((b) => (
          <g key={b.unit}>
            <rect
              x={px(b.x0)}
              y={py(b.y1)}
              width={(b.x1 - b.x0) * scale}
              height={(b.y1 - b.y0) * scale}
              fill="var(--paper2)"
              stroke="var(--ink)"
              strokeWidth={b.material === 'steel' ? 3 : 1.5}
              strokeDasharray={b.material === 'wood' ? '7 4' : undefined}
            />
            <text x={px(b.x0) + 10} y={py(-0.3)} fontSize="15" fill="var(--ink2)">
              {b.unit < 0 ? 'tow vehicle,' : unitLetter(b.unit)} {b.material === 'wood' ? 'wood, fibre' : b.material}
            </text>
          </g>
        ))}
        {scene.tanks.map((t) => (
          <rect
            key={t.x0}
            x={px(t.x0)}
            y={py(t.y1)}
            width={(t.x1 - t.x0) * scale}
            height={(t.y1 - t.y0) * scale}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="3"
          />
        ))}
        {(field ?? []).map(
          (c) =>
            c.worst !== null && (
              <circle
                key={`${c.x} ${c.y}`}
                cx={px(c.x)}
                cy={py(c.y)}
                r={1 + (6 * c.worst) / most}
                fill="var(--cyan)"
                opacity="0.75"
              />
            ),
        )}
        {scene.wheels.map((w) => (
          <g key={w.position}>
            <rect x={px(w.x - w.z)} y={py(w.y) - 9} width={2 * w.z * scale} height={18} fill="var(--ink)" />
            <text
              x={px(w.x)}
              y={
                w.inner
                  ? py(w.y) + 5
                  : w.y >= 0
                    ? Math.min(py(w.y) - 13, outside.top - 8)
                    : Math.max(py(w.y) + 25, outside.bottom + 20)
              }
              textAnchor="middle"
              fontSize="14"
              fontWeight="700"
              fill={w.inner ? 'var(--paper)' : 'var(--ink)'}
            >
              {w.position}
            </text>
          </g>
        ))}
        <path
          d={`M${px(scene.receiver.x)} ${py(scene.receiver.y) - 12}l11 20h-22z`}
          fill="var(--paper)"
          stroke="var(--ink)"
          strokeWidth="2.5"
        />
        <text x={px(scene.receiver.x) + 14} y={py(scene.receiver.y) + 6} fontSize="15" fill="var(--ink)">
          monitor
        </text>
        {spot && (
          // biome-ignore lint/a11y/useSemanticElements: it is moved on a drawing, in two directions
          <g
            role="button"
            tabIndex={0}
            aria-label={`Repeater, ${spot.x.toFixed(1)} m behind the front axle, ${Math.abs(spot.y).toFixed(1)} m ${spot.y >= 0 ? 'left' : 'right'} of the middle. Arrow keys move it.`}
            className="cursor-move touch-none"
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={(e) => {
              const p = e.buttons > 0 ? at(e) : null;
              if (p) onDrag(p);
            }}
            onPointerUp={(e) => {
              const p = at(e);
              if (p) onDrop(p);
            }}
            onKeyDown={(e) => {
              const step = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] }[e.key];
              if (!step) return;
              e.preventDefault();
              onDrop({ x: spot.x + (step[0] as number), y: spot.y + (step[1] as number) });
            }}
          >
            <rect x={px(spot.x) - 22} y={py(spot.y) - 22} width={44} height={44} fill="transparent" />
            <circle
              cx={px(spot.x)}
              cy={py(spot.y)}
              r={11}
              fill={allowed ? 'var(--yellow)' : 'var(--paper)'}
              stroke={allowed ? 'var(--ink)' : 'var(--magenta)'}
              strokeWidth="3"
            />
            <text x={px(spot.x)} y={py(spot.y) - 17} textAnchor="middle" fontSize="15" fontWeight="700" fill="var(--ink)">
              repeater
            </text>
          </g>
        )}
      </svg>
    </div>
  );
}
