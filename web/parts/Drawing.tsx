import type { FittingStep } from '#core/fitting/cards.ts';
import type { SensorKind } from '#schema/common.ts';

/** What is seen in the drawing of a step. */
interface Parts {
  cap?: boolean;
  boot?: 'down' | 'over' | 'arriving';
  nut?: 'down' | 'up';
  sensor?: 'arriving' | 'on';
  own?: 'off' | 'on';
  screw?: 'out' | 'in';
  cloth?: boolean;
  wrench?: boolean;
  bubbles?: boolean;
  tape?: boolean;
  film?: boolean;
  wheel?: boolean;
  mark?: boolean;
}

const drawings: Record<FittingStep, Parts> = {
  mark: { sensor: 'arriving', mark: true },
  lookAtStem: { cap: true },
  film: { sensor: 'arriving', film: true },
  capOff: { cap: true },
  valveClean: { cloth: true },
  boot: { boot: 'arriving' },
  lockNut: { boot: 'down', nut: 'down' },
  ownCapOff: { boot: 'down', nut: 'down', sensor: 'arriving', own: 'off' },
  setScrewOut: { boot: 'down', nut: 'down', sensor: 'arriving', screw: 'out' },
  sensorOn: { boot: 'down', nut: 'down', sensor: 'on' },
  nutBack: { boot: 'down', nut: 'up', sensor: 'on', wrench: true },
  lockTool: { boot: 'down', sensor: 'on', wrench: true },
  setScrewIn: { boot: 'down', nut: 'up', sensor: 'on', screw: 'in' },
  soap: { boot: 'down', nut: 'up', sensor: 'on', bubbles: true },
  ownCapOn: { boot: 'down', nut: 'up', sensor: 'on', own: 'on' },
  bootOver: { boot: 'over', nut: 'up', sensor: 'on' },
  tape: { boot: 'over', nut: 'up', sensor: 'on', tape: true },
  shop: { wheel: true },
  shopBalance: { wheel: true, tape: true },
  shopWake: { wheel: true },
};

/** A step as a line drawing: the stem stands on the rim, parts come from above. */
export function Drawing({ step, kind, text }: { step: FittingStep; kind: SensorKind; text: string }) {
  const p = drawings[step];
  const flow = kind === 'flowThrough';
  const top = p.sensor === 'arriving' ? 14 : 56;
  return (
    <svg
      viewBox="0 0 220 190"
      className="h-[190px] w-full max-w-[260px]"
      role="img"
      aria-label={text}
      fill="none"
      stroke="var(--ink)"
      strokeWidth="2.5"
    >
      {p.wheel ? (
        <>
          <circle cx="110" cy="92" r="76" />
          <circle cx="110" cy="92" r="48" />
          <circle cx="110" cy="92" r="8" />
          <rect x="98" y="18" width="24" height="16" fill="var(--cyan)" />
          <path d="M110 34v14" />
          {p.tape && <rect x="94" y="138" width="32" height="9" fill="var(--yellow)" />}
        </>
      ) : (
        <>
          {/* Rim and stem. */}
          <path d="M20 172C70 150 150 150 200 172" />
          <path d="M20 182C70 160 150 160 200 182" />
          <path d="M100 158V96h20v62" />
          <path d="M100 104h20M100 112h20M100 120h20" strokeWidth="1.2" />
          {p.cap && <rect x="98" y={step === 'capOff' ? 40 : 76} width="24" height="24" />}
          {p.cloth && <path d="M60 84c16-14 30 8 46-4s30 4 54-6M64 94c14-10 28 8 44-2" />}
          {p.boot === 'arriving' && <path d="M92 40c-4 16-4 26 4 34h28c8-8 8-18 4-34z" />}
          {p.boot === 'down' && <path d="M92 156c-2-14 2-20 6-24h24c4 4 8 10 6 24" />}
          {p.boot === 'over' && <path d="M84 158c-6-50 2-92 12-104h28c10 12 18 54 12 104" strokeDasharray="6 4" />}
          {p.nut && <rect x="94" y={p.nut === 'down' ? 134 : 104} width="32" height="13" fill="var(--paper)" />}
          {p.sensor && (
            <>
              <rect x="86" y={top} width="48" height={flow ? 46 : 38} rx="4" fill="var(--cyan)" />
              {flow && p.own !== 'off' && <rect x="100" y={top - 12} width="20" height="12" fill="var(--paper)" />}
              {p.own === 'off' && <rect x="152" y={top} width="20" height="14" />}
              {flow && p.screw && <path d={p.screw === 'out' ? `M134 ${top + 30}h26` : `M134 ${top + 30}h8`} strokeWidth="5" />}
              {p.sensor === 'arriving' && <path d={`M60 ${top + 6}v52m-8-10 8 12 8-12`} />}
            </>
          )}
          {p.mark && <path d="M98 34h24M98 42h16" stroke="var(--paper)" strokeWidth="3" />}
          {p.film && <path d="M134 34h34l8-8" strokeDasharray="4 3" />}
          {p.wrench && <path d="M126 110h66m0-8v16M126 102l-8 8 8 8" />}
          {p.bubbles && (
            <>
              <circle cx="74" cy="104" r="6" />
              <circle cx="66" cy="88" r="4" />
              <circle cx="146" cy="96" r="5" />
              <circle cx="154" cy="112" r="4" />
            </>
          )}
          {p.tape && <path d="M138 162l34 10" stroke="var(--yellow)" strokeWidth="9" />}
        </>
      )}
    </svg>
  );
}
