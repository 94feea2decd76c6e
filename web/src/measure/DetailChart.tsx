import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useMemo } from 'react';
import { detailCurves, type AcceptedReading } from '@vitrocept/core';

const WIDTH = 262;
const HEIGHT = 92;
const MARGIN = { left: 30, right: 8, top: 8, bottom: 18 };
/** Periods marked on the axis, px. */
const PERIODS = [10, 5, 4, 3, 2.5, 2];
/** Less contrast than this brought back, 0..1, is not seen. */
const LEAST_GAIN = 0.03;

/** Contrast of detail by its size: what the blur leaves, what recovery can bring back, and where noise ends it. */
export function DetailChart({ reading }: { reading: AcceptedReading }) {
  const { method, blurSizePx, directionDeg, path, noiseFloor, measured } = reading;
  const curves = useMemo(
    () =>
      measured.signal === undefined
        ? null
        : detailCurves(method && { method, blurSizePx, directionDeg, path }, measured.signal, noiseFloor[0]),
    [method, blurSizePx, directionDeg, path, noiseFloor, measured.signal],
  );
  if (!curves) return null;
  // What noise drowns is left as it is: recovery takes nothing away.
  const recovered = curves.recovered.map((value, i) => Math.max(value, curves.blur[i]));
  const gains = recovered.some((value, i) => value - curves.blur[i] >= LEAST_GAIN);
  const x = scaleLinear([0, 0.5], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([0, 100], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const drawn = (values: readonly number[]) =>
    line<number>(
      (_, i) => x(curves.f[i]),
      (value) => y(100 * value),
    )([...values]) ?? '';
  const noiseArea = `${drawn(curves.noise)} L ${x(0.5)} ${y(0)} L ${x(0)} ${y(0)} Z`;
  return (
    <section className="card-plain chart-card" aria-label="Recoverable detail">
      <div className="card-head">
        <h2>Detail</h2>
        <span className="text-soft">contrast % by size in px</span>
      </div>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`Contrast of detail. ${detailSentence(reading)}`}>
        {[0, 50, 100].map((tick) => (
          <g key={tick} transform={`translate(0 ${y(tick)})`}>
            <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} className="grid-line" />
            <text x={MARGIN.left - 4} y={3} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        {PERIODS.map((period) => (
          <text key={period} x={x(1 / period)} y={HEIGHT - MARGIN.bottom + 12} textAnchor="middle">
            {period}
          </text>
        ))}
        <path d={noiseArea} className="noise-area" />
        <path d={drawn(curves.blur)} className="noise-line" />
        {gains && <path d={drawn(recovered)} className="recovered-line" />}
      </svg>
      <p className="chart-key text-soft">
        <span className="key-line" /> now{' '}
        {gains ? (
          <>
            <span className="key-line recovered" /> with recovery{' '}
          </>
        ) : (
          '(nothing to be gained) '
        )}
        <span className="key-area" /> noise
      </p>
    </section>
  );
}

function detailSentence({ measured }: AcceptedReading): string {
  return `Finest detail now ${measured.finestNowPx.toFixed(1)} px, with recovery ${measured.finestRecoverablePx.toFixed(1)} px.`;
}
