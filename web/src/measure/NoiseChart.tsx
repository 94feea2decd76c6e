import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import type { NoiseLine } from '@vitrocept/core';
import { CHANNEL_DASHES } from './channelDashes';

const WIDTH = 190;
const HEIGHT = 92;
const MARGIN = { left: 30, right: 6, top: 6, bottom: 20 };
/** Standard deviation of the noise against tone, per channel, both in percent of clipping (linear light). */
export function NoiseChart({ noise }: { noise: readonly NoiseLine[] }) {
  const tones = Array.from({ length: 41 }, (_, i) => i / 40);
  const sigma = ({ a, b }: NoiseLine, tone: number) => 100 * Math.sqrt(Math.max(0, a * tone + b));
  const most = max(noise, (channel) => sigma(channel, 1)) ?? 1;
  const x = scaleLinear([0, 100], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([0, Math.max(0.5, most)], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice(3);
  return (
    <figure className="noise-chart">
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Noise against tone for each channel">
        {y.ticks(3).map((tick) => (
          <g key={tick} transform={`translate(0 ${y(tick)})`}>
            <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} className="grid-line" />
            <text x={MARGIN.left - 4} y={3} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        {noise.map((channel, i) => (
          <path
            key={CHANNEL_DASHES[i].name}
            className="noise-line"
            strokeDasharray={CHANNEL_DASHES[i].dash}
            d={
              line<number>(
                (tone) => x(tone * 100),
                (tone) => y(sigma(channel, tone)),
              )(tones) ?? ''
            }
          />
        ))}
        <text x={MARGIN.left} y={HEIGHT - 5}>
          noise % against tone %
        </text>
      </svg>
      <figcaption className="text-soft">{noise.length === 1 ? 'grey' : '── R   ‒ ‒ G   ··· B'}</figcaption>
    </figure>
  );
}
