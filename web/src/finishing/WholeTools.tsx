import {
  NO_VIGNETTE,
  VIGNETTE,
  VIGNETTE_KEYS,
  WHOLE,
  WHOLE_KEYS,
  withVignette,
  withWhole,
  type FinishingFault,
  type Prescription,
} from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { faultOf } from './useFinishingFaults';

interface WholeToolsProps {
  readonly prescription: Prescription;
  readonly faults: readonly FinishingFault[];
}

/** For the whole picture: local contrast, haze, saturation, vignette. */
export function WholeTools({ prescription, faults }: WholeToolsProps) {
  const change = useFrameStore((state) => state.change);
  const { finishing } = prescription;
  const vignette = finishing?.vignette ?? NO_VIGNETTE;
  return (
    <>
      <div className="tray-sliders">
        {WHOLE_KEYS.map((key) => {
          const value = finishing?.[key] ?? 0;
          return (
            <SettingSlider
              key={key}
              {...WHOLE[key]}
              value={value}
              automatic={0}
              isAuto={value === 0}
              restsAt={value === 0 ? 'changes nothing' : undefined}
              fault={faultOf(faults, null, key)}
              onChange={(next) => change((old) => withWhole(old, key, next), `whole ${key}`)}
              onAutomatic={() => change((old) => withWhole(old, key, 0))}
            />
          );
        })}
      </div>
      <fieldset className="tray-sliders vignette">
        <legend>Vignette</legend>
        {VIGNETTE_KEYS.map((key) => {
          const isRest = key === 'cornerPercent' && vignette[key] === 0;
          return (
            <SettingSlider
              key={key}
              {...VIGNETTE[key]}
              value={vignette[key]}
              automatic={NO_VIGNETTE[key]}
              isAuto={vignette[key] === NO_VIGNETTE[key]}
              restsAt={isRest ? 'none' : vignette[key] === NO_VIGNETTE[key] ? 'as usual' : undefined}
              onChange={(next) => change((old) => withVignette(old, { [key]: next }), `vignette ${key}`)}
              onAutomatic={() => change((old) => withVignette(old, { [key]: NO_VIGNETTE[key] }))}
            />
          );
        })}
      </fieldset>
    </>
  );
}
