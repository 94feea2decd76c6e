import type { ReactNode } from 'react';
import {
  automaticRecovery,
  changeTrial,
  isBlurMethod,
  METHOD_DESCRIPTIONS,
  SETTINGS,
  STARTING_AMOUNT,
  type Prescription,
  type Recovery,
  type Trial,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { Aperture } from './Aperture';
import { BadlySoft } from './BadlySoft';
import { Balance } from './Balance';
import { HaloLimit } from './HaloLimit';
import { LearnedTexture } from './LearnedTexture';
import { StrongestSafe } from './StrongestSafe';
import { TrialActs } from './TrialActs';
import { TrialName } from './TrialName';
import { Turn } from './Turn';

interface TrialTrayProps {
  readonly frame: FrameDetail;
  readonly trial: Trial;
  readonly index: number;
  readonly prescription: Prescription;
  readonly canAdd: boolean;
  /** The trial judged over all of the mask. */
  readonly maskAudit: ReactNode;
  onChoose(): void;
  onStrip(): void;
  onWhich(): void;
}

/** The settings of the selected trial. */
export function TrialTray({ frame, maskAudit, ...props }: TrialTrayProps) {
  const { trial, index, prescription } = props;
  const change = useFrameStore((state) => state.change);
  const automatic = automaticRecovery(trial.method, prescription.reading, STARTING_AMOUNT, prescription.cleaning);
  const set = (part: Partial<Recovery>, merge: string) =>
    change((old) => changeTrial(old, trial.id, part), merge && `${merge} ${trial.id}`);
  return (
    <>
      <TrialName {...{ trial, index, prescription, automatic, maskAudit, set }} />
      <div className="tray-sliders">
        <Balance prescription={prescription} />
        {METHOD_DESCRIPTIONS[trial.method].settings.map((key) => (
          <SettingSlider
            key={key}
            {...SETTINGS[key]}
            value={trial[key].value}
            automatic={automatic[key].value}
            isAuto={trial[key].auto}
            autoNote={key === 'noiseGuard' && automatic.noiseGuard.value < 50 ? 'cleaned' : undefined}
            onChange={(value) => set({ [key]: { value, auto: false } }, key)}
            onAutomatic={() => set({ [key]: automatic[key] }, '')}
          />
        ))}
        <StrongestSafe frame={frame} prescription={prescription} trial={trial} />
        {METHOD_DESCRIPTIONS[trial.method].followsPath && (
          <Turn trial={trial} read={prescription.reading?.path} set={set} />
        )}
        {METHOD_DESCRIPTIONS[trial.method].shapes.length > 0 && <Aperture trial={trial} set={set} />}
        {isBlurMethod(trial.method) && <LearnedTexture trial={trial} set={set} />}
        {isBlurMethod(trial.method) && <BadlySoft trial={trial} prescription={prescription} set={set} />}
        {trial.method !== 'fine-texture' && (
          <HaloLimit trial={trial} automatic={automatic.haloLimitPercent} set={set} />
        )}
      </div>
      <TrialActs {...props} />
    </>
  );
}
