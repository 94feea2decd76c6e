import Button from 'react-bootstrap/Button';
import {
  BLUR_METHODS,
  METHOD_DESCRIPTIONS,
  MOST_BLUR_PX,
  offered,
  withMeasuredReading,
  withReadingOverruled,
  type AcceptedReading,
  type Method,
  SETTINGS,
} from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { causeSentence } from '../words';

const LEAST_BLUR_PX = 0.5;

/** What was read, set by hand where the eye knows better. */
export function Overrule({ reading }: { reading: AcceptedReading }) {
  const change = useFrameStore((state) => state.change);
  const overrule = (part: Partial<AcceptedReading>, merge: string) =>
    change((old) => withReadingOverruled(old, part), merge);
  return (
    <>
      <div className="tray-block overrule">
        <label htmlFor="cause">Cause of the blur</label>
        <select
          id="cause"
          value={reading.method ?? 'none'}
          onChange={(event) => {
            const method = event.target.value === 'none' ? null : (event.target.value as Method);
            overrule({ method, blurSizePx: method ? Math.max(LEAST_BLUR_PX, reading.blurSizePx) : 0, sizes: [] }, '');
          }}
        >
          <option value="none">Nothing to recover</option>
          {offered(BLUR_METHODS, reading.path).map((method) => (
            <option key={method} value={method}>
              {METHOD_DESCRIPTIONS[method].name}
            </option>
          ))}
        </select>
        <div className="tray-buttons">
          {reading.auto ? (
            <span className="auto-mark">automatic</span>
          ) : (
            <Button size="sm" variant="outline-primary" onClick={() => change(withMeasuredReading)}>
              Back to Automatic:{' '}
              {causeSentence(reading.measured.method, reading.measured.blurSizePx, reading.measured.directionDeg)}
            </Button>
          )}
        </div>
      </div>
      {reading.method && <BlurSliders reading={reading} overrule={overrule} />}
    </>
  );
}

interface BlurSlidersProps {
  readonly reading: AcceptedReading;
  overrule(part: Partial<AcceptedReading>, merge: string): void;
}

function BlurSliders({ reading, overrule }: BlurSlidersProps) {
  return (
    <>
      <SettingSlider
        name="Blur size"
        unit="px"
        value={reading.blurSizePx}
        least={LEAST_BLUR_PX}
        most={MOST_BLUR_PX}
        isFineBelow
        step={0.1}
        automatic={reading.measured.method === reading.method ? reading.measured.blurSizePx : undefined}
        onChange={(blurSizePx) => overrule({ blurSizePx, sizes: [] }, 'blur size')}
      />
      {reading.method === 'straight-movement' && (
        <SettingSlider
          name="Direction"
          unit="°"
          value={reading.directionDeg}
          least={0}
          most={SETTINGS.directionDeg.most}
          step={0.5}
          automatic={reading.measured.method === reading.method ? reading.measured.directionDeg : undefined}
          onChange={(directionDeg) => overrule({ directionDeg }, 'direction')}
        />
      )}
    </>
  );
}
