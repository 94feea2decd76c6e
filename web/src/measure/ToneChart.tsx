import { useQuery } from '@tanstack/react-query';
import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import Form from 'react-bootstrap/Form';
import { TONE_BINS } from '@vitrocept/core';
import { api } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { CHANNEL_DASHES } from './channelDashes';

const WIDTH = 262;
const HEIGHT = 54;
const MARGIN = { left: 4, right: 4, top: 4, bottom: 2 };

interface ToneChartProps {
  readonly frame: FrameDetail;
  readonly showsClipping: boolean;
  onShowClipping(shown: boolean): void;
}

/** Histogram of the whole frame per channel, root of the counts; with the switch that hatches clipped places. */
export function ToneChart({ frame, showsClipping, onShowClipping }: ToneChartProps) {
  const { data, error } = useQuery({
    queryKey: ['tones', frame.id],
    queryFn: () => api<number[][]>(`/api/frames/${frame.id}/tones`),
    staleTime: Infinity,
  });
  // The two end bins hold what is clipped and would dwarf everything between.
  const most = max(data ?? [], (counts) => max(counts.slice(1, -1))) ?? 1;
  const x = scaleLinear([0, TONE_BINS - 1], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([0, Math.sqrt(most)], [HEIGHT - MARGIN.bottom, MARGIN.top]).clamp(true);
  return (
    <section className="card-plain chart-card" aria-label="Tones">
      <div className="card-head">
        <h2>Tones</h2>
        <Form.Check
          type="switch"
          id="show-clipping"
          label="show clipping"
          checked={showsClipping}
          onChange={(event) => onShowClipping(event.target.checked)}
        />
      </div>
      {error ? (
        <p className="hint">The tones could not be counted: {error.message}</p>
      ) : (
        <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Histogram of the frame for each channel">
          <line
            x1={MARGIN.left}
            x2={WIDTH - MARGIN.right}
            y1={HEIGHT - MARGIN.bottom}
            y2={HEIGHT - MARGIN.bottom}
            className="grid-line"
          />
          {data?.map((counts, i) => (
            <path
              key={i}
              className="noise-line"
              strokeDasharray={CHANNEL_DASHES[i].dash}
              d={
                line<number>(
                  (_, bin) => x(bin),
                  (count) => y(Math.sqrt(count)),
                )(counts) ?? ''
              }
            />
          ))}
        </svg>
      )}
    </section>
  );
}
