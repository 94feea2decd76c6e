import { SHAPES, type Recovery, type ShapeKey } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';

const COUNTS = Array.from({ length: SHAPES.blades.most - SHAPES.blades.least + 1 }, (_, i) => SHAPES.blades.least + i);

/** The shape a point of light took: round, squeezed, or the polygon of the diaphragm's blades. */
export function Aperture({ trial, set }: { trial: Recovery; set(part: Partial<Recovery>, merge: string): void }) {
  const { blades, bladesDeg = 0, squeezePercent = 0 } = trial;
  const slider = (key: ShapeKey, most = SHAPES[key].most) => (
    <SettingSlider
      {...SHAPES[key]}
      most={most}
      value={trial[key] ?? 0}
      onChange={(next) => set({ [key]: next }, key)}
    />
  );
  return (
    <>
      <div className="setting">
        <div className="setting-head">
          <label htmlFor="aperture">Aperture</label>
        </div>
        <select
          id="aperture"
          title={SHAPES.blades.help}
          value={blades ?? 'round'}
          onChange={({ target }) =>
            set(
              target.value === 'round'
                ? { blades: undefined, bladesDeg: undefined }
                : { blades: Number(target.value), bladesDeg, squeezePercent: undefined, squeezeDeg: undefined },
              '',
            )
          }
        >
          <option value="round">round</option>
          {COUNTS.map((count) => (
            <option key={count} value={count}>
              {count} blades
            </option>
          ))}
        </select>
      </div>
      {blades === undefined ? slider('squeezePercent') : slider('bladesDeg', Math.floor(360 / blades))}
      {blades === undefined && squeezePercent > 0 && slider('squeezeDeg')}
    </>
  );
}
