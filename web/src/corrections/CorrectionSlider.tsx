import { CORRECTIONS, takenAsIs, withCorrection, type CorrectionKey, type Corrections } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';

/** One correction that is a number; its notch is where it changes nothing. */
export function CorrectionSlider({ name, corrections }: { name: CorrectionKey; corrections: Corrections }) {
  const change = useFrameStore((state) => state.change);
  const { neutral, ...description } = CORRECTIONS[name];
  const { value, auto } = corrections[name];
  return (
    <SettingSlider
      {...description}
      value={value}
      automatic={neutral}
      isAuto={auto || value === neutral}
      restsAt={value === neutral ? 'changes nothing' : undefined}
      onChange={(next) => change((old) => withCorrection(old, name, next), `correction ${name}`)}
      onAutomatic={() => change((old) => takenAsIs(old, name))}
    />
  );
}
