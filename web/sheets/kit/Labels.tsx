import { useRef } from 'react';
import { placeName } from '#core/kit/lists.ts';
import { placesOf } from '#core/kit/map.ts';
import { shownIdOf } from '#core/pairing/ids.ts';
import { useMonitor } from '../../data/queries.ts';
import { inPairs } from '../../parts/format.ts';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { useRig } from '../../state/useRig.ts';

/** Size of a label and of the strip, mm. Three labels fit across A4 and Letter alike. */
const LABEL = { width: 58, height: 24 };
const ACROSS = 3;

/** A strip of labels to print and cut: code, where the wheel is, and its sensor's ID, black on white. */
export default function Labels() {
  const { rig, units, wheels } = useRig();
  const monitor = useMonitor(rig);
  const places = monitor ? placesOf(rig, units, monitor) : {};
  const strip = useRef<SVGSVGElement>(null);
  const rows = Math.ceil(wheels.length / ACROSS);
  const width = LABEL.width * ACROSS;
  const height = LABEL.height * rows + 6;
  const download = () => {
    if (!strip.current) return;
    const text = `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(strip.current)}\n`;
    const url = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }));
    const link = document.createElement('a');
    link.href = url;
    link.download = `${rig.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}-labels.svg`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(url), 1000);
  };
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
        <button type="button" className="btn btn-solid" onClick={() => window.print()}>
          Print labels
        </button>
        <button type="button" className="btn" onClick={download}>
          Download as SVG
        </button>
        <p className="max-w-[60ch] text-body text-ink2">
          Print at 100 %, cut along the dashed lines. Stickers wear off, in the wet above all: seal them with clear varnish, or
          scratch the code into the sensor, which also tempts thieves less.
        </p>
      </div>
      <div className="max-w-full overflow-x-auto border border-rule bg-white print:overflow-visible print:border-0">
        <svg
          ref={strip}
          xmlns="http://www.w3.org/2000/svg"
          viewBox={`-0.5 -0.5 ${width + 1} ${height + 1}`}
          style={{ width: `${width + 1}mm`, height: `${height + 1}mm` }}
          role="img"
          aria-label={`Label strip of ${rig.name}: ${wheels.map((w) => w.position).join(', ')}`}
          fontFamily="'Archivo Variable', Archivo, Arial, sans-serif"
        >
          <rect width={width} height={height} fill="#fff" />
          {wheels.map((w, i) => {
            const x = (i % ACROSS) * LABEL.width;
            const y = Math.floor(i / ACROSS) * LABEL.height;
            return (
              <g key={w.position}>
                <rect
                  x={x}
                  y={y}
                  width={LABEL.width}
                  height={LABEL.height}
                  fill="none"
                  stroke="#000"
                  strokeWidth="0.2"
                  strokeDasharray="1.5 1"
                />
                <text x={x + 3} y={y + 9.5} fontSize="9" fontWeight="700" fill="#000">
                  {w.position}
                </text>
                <text x={x + LABEL.width - 3} y={y + 9} fontSize="5" fontWeight="600" textAnchor="end" fill="#000">
                  {w.wheel.sensor ? inPairs(shownIdOf(w.wheel.sensor) ?? '') : '__ __ __'}
                </text>
                {placeName(monitor, places[w.position]) && (
                  <text x={x + LABEL.width - 3} y={y + 13} fontSize="3.4" textAnchor="end" fill="#000">
                    on the monitor: {placeName(monitor, places[w.position])}
                  </text>
                )}
                <SmallPlan
                  units={units}
                  wheels={wheels}
                  ink={(v) => (v.position === w.position ? 'print' : 'plain')}
                  print={{ x: x + 3, y: y + 12, width: LABEL.width - 6, height: 10.5 }}
                />
              </g>
            );
          })}
          <text x="0.5" y={height - 1.5} fontSize="3" fill="#000">
            {rig.name}. Left is as seen from the driver’s seat. The arrow is the road ahead.
          </text>
        </svg>
      </div>
    </>
  );
}
