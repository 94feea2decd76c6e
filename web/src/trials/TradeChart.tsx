import { scaleLinear, scaleSqrt } from 'd3-scale';
import { line } from 'd3-shape';
import type { Figures } from '@vitrocept/core';
import { trialLetter, worstSentence } from '../words';
import { bestTrades, damageOf, gainOf } from './damage';

const WIDTH = 262;
const HEIGHT = 176;
const MARGIN = { left: 34, right: 14, top: 12, bottom: 40 };

interface TradeChartProps {
  /** By trial and probe; null is not known yet. */
  readonly figures: readonly (readonly (Figures | null)[])[];
  readonly selected: number;
  onSelect(trial: number): void;
}

/** All trials at a glance: detail gained against the worst damage at any probe, and the front of best trades. */
export function TradeChart({ figures, selected, onSelect }: TradeChartProps) {
  const marks = figures.flatMap((probes, trial) => {
    const known = probes.filter((probe) => probe !== null);
    const gains = known.map(gainOf).filter((gain) => gain !== null);
    if (known.length < probes.length || gains.length === 0) return [];
    const gain = gains.reduce((sum, value) => sum + value, 0) / gains.length;
    const told = known.map((probe, i) => worstSentence(probe, `At probe ${i + 1}`)).join('\n');
    return [{ trial, gain, damage: Math.max(...known.map(damageOf)), told }];
  });
  const original = { trial: -1, gain: 1, damage: 0, told: 'The original as it was taken.' };
  const all = [original, ...marks];
  const x = scaleLinear(
    [Math.min(0.9, ...all.map(({ gain }) => gain)), Math.max(1.6, ...all.map(({ gain }) => gain))],
    [MARGIN.left, WIDTH - MARGIN.right],
  );
  const y = scaleSqrt([0, Math.max(3, ...all.map(({ damage }) => damage))], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const front = bestTrades(all);
  const waiting = figures.filter((probes) => probes.includes(null)).length;
  const unmeasured = figures.length - marks.length - waiting;
  return (
    <section className="card-plain trade-chart" aria-label="Gained against damage">
      <div className="card-head">
        <h2>Gained against damage</h2>
        {waiting > 0 && <span className="text-soft">{waiting} to come</span>}
        {waiting === 0 && unmeasured > 0 && (
          <span className="text-soft" title="The probes hold too few edges. Place one where an edge runs.">
            {unmeasured} without edges to measure
          </span>
        )}
      </div>
      <svg width={WIDTH} height={HEIGHT} role="group" aria-label="Detail gained against worst damage, one mark a trial">
        <rect
          className="damaged-zone"
          x={MARGIN.left}
          y={MARGIN.top}
          width={WIDTH - MARGIN.left - MARGIN.right}
          height={y(2) - MARGIN.top}
        />
        {(
          [
            ['damaged', 2],
            ['check', 1],
          ] as const
        ).map(([name, level]) => (
          <g key={name}>
            <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} y1={y(level)} y2={y(level)} className="grid-line" />
            <text x={MARGIN.left + 3} y={y(level) - 3}>
              {name}
            </text>
          </g>
        ))}
        <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} y1={y(0)} y2={y(0)} className="axis-line" />
        {x.ticks(4).map((tick) => (
          <text key={tick} x={x(tick)} y={HEIGHT - MARGIN.bottom + 20} textAnchor="middle">
            {tick.toFixed(1)}
          </text>
        ))}
        <text x={WIDTH - MARGIN.right} y={HEIGHT - 6} textAnchor="end">
          edges finer, times
        </text>
        <text transform={`translate(12 ${(HEIGHT - MARGIN.bottom) / 2 + 6}) rotate(-90)`} textAnchor="middle">
          worst damage
        </text>
        <path
          className="trade-front"
          d={
            line<(typeof all)[number]>(
              ({ gain }) => x(gain),
              ({ damage }) => y(damage),
            )(front) ?? ''
          }
        />
        {all.map(({ trial, gain, damage, told }) => (
          <g
            key={trial}
            className={`trade-mark ${trial === selected ? 'is-selected' : ''}`}
            transform={`translate(${x(gain)} ${y(damage)})`}
            role={trial < 0 ? 'img' : 'button'}
            tabIndex={trial < 0 ? undefined : 0}
            aria-label={
              trial < 0
                ? 'Original'
                : `Trial ${trialLetter(trial)}: edges ${gain.toFixed(2)} times finer, worst damage ${damage.toFixed(1)}`
            }
            onClick={() => trial >= 0 && onSelect(trial)}
            onKeyDown={(event) => {
              if (trial < 0 || (event.key !== 'Enter' && event.key !== ' ')) return;
              event.preventDefault();
              event.stopPropagation();
              onSelect(trial);
            }}
          >
            <title>{told}</title>
            <rect x={-8} y={-8} width={16} height={16} rx={2} />
            <text y={4} textAnchor="middle">
              {trial < 0 ? '0' : trialLetter(trial)}
            </text>
          </g>
        ))}
      </svg>
    </section>
  );
}
