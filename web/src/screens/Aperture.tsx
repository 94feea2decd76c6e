import type { Recovery } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';

/** The shape a point of light took: round, or the polygon of the diaphragm's blades. */
export function Aperture({ trial, set }: { trial: Recovery; set(part: Partial<Recovery>, merge: string): void }) {
  const { blades, bladesDeg = 0 } = trial;
  return (
    <>
      <div className="setting">
        <div className="setting-head">
          <label htmlFor="aperture">Aperture</label>
        </div>
        <select
          id="aperture"
          title="Look at a point of light in the background: is it round, or has it corners?"
          value={blades ?? 'round'}
          onChange={({ target }) =>
            set(
              target.value === 'round'
                ? { blades: undefined, bladesDeg: undefined }
                : { blades: Number(target.value), bladesDeg },
              '',
            )
          }
        >
          <option value="round">round</option>
          {[5, 6, 7, 8, 9, 10, 11].map((count) => (
            <option key={count} value={count}>
              {count} blades
            </option>
          ))}
        </select>
      </div>
      {blades !== undefined && (
        <SettingSlider
          name="Blades turned"
          unit="°"
          least={0}
          most={Math.floor(360 / blades)}
          step={1}
          help="Direction of a corner; 0 is to the right, counter-clockwise."
          value={bladesDeg}
          onChange={(next) => set({ bladesDeg: next }, 'bladesDeg')}
        />
      )}
    </>
  );
}
