import type { Cleaning, Handles } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { TrapezoidChart } from '../parts/TrapezoidChart';
import { useCounts } from '../surfaces/useCounts';

/** Shadows are where noise is worst. */
const FIRST_BAND: Handles = [0, 0, 0.35, 0.6];

interface ToneBandProps {
  readonly frame: FrameDetail;
  readonly band: Cleaning['band'];
  onChange(band: Cleaning['band'], merge: string): void;
}

/** The tones that are cleaned: a trapezoid over the histogram, or all of them. */
export function ToneBand({ frame, band, onChange }: ToneBandProps) {
  const counts = useCounts(frame, 'tone');
  return (
    <div className="tray-block tone-band">
      <label>
        <input
          type="checkbox"
          checked={band !== null}
          onChange={(event) => onChange(event.target.checked ? FIRST_BAND : null, '')}
        />{' '}
        only in a tone band
      </label>
      {band ? (
        <TrapezoidChart
          label="Tone band of the cleaning"
          counts={counts}
          band={band}
          onChange={(next) => onChange(next, 'cleaning band')}
        />
      ) : (
        <span className="text-soft">All tones are cleaned alike.</span>
      )}
    </div>
  );
}
