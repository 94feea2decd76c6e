import { MOST_HALO_PERCENT, type Recovery, type Trial } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';

interface HaloLimitProps {
  readonly trial: Trial;
  readonly automatic: number | null;
  set(part: Partial<Recovery>, merge: string): void;
}

/** How far an edge may overshoot, or no limit at all. */
export function HaloLimit({ trial, automatic, set }: HaloLimitProps) {
  const { haloLimitPercent } = trial;
  return (
    <div className="halo-limit">
      {haloLimitPercent === null ? (
        <div className="setting">
          <div className="setting-head">
            <span>Halo limit</span>
            <span className="figure">off</span>
          </div>
        </div>
      ) : (
        <SettingSlider
          name="Halo limit"
          unit="%"
          least={0}
          most={MOST_HALO_PERCENT}
          step={1}
          value={haloLimitPercent}
          automatic={automatic ?? undefined}
          help="How far an edge may overshoot, in percent of the contrast around it."
          onChange={(value) => set({ haloLimitPercent: value }, 'haloLimit')}
        />
      )}
      <label className="off-switch">
        <input
          type="checkbox"
          checked={haloLimitPercent !== null}
          onChange={(event) => set({ haloLimitPercent: event.target.checked ? automatic : null }, '')}
        />{' '}
        limit halos
      </label>
    </div>
  );
}
