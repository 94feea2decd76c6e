import Button from 'react-bootstrap/Button';
import { GREEN_MAGENTA, KELVIN, withCorrections, type Corrections, type WhiteBalance } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';

interface ColourToolsProps {
  readonly frame: FrameDetail;
  readonly corrections: Corrections;
  readonly isPicking: boolean;
  setPicking(isPicking: boolean): void;
}

const NEUTRAL_LIGHT = { kind: 'temperature', kelvin: KELVIN.neutral, greenMagenta: 0 } as const;

/** Wrong colour: white balance as taken, from a grey place, or by the light's colour. */
export function ColourTools({ frame, corrections: { whiteBalance }, isPicking, setPicking }: ColourToolsProps) {
  const change = useFrameStore((state) => state.change);
  if (frame.channels === 1) return <p className="text-soft">A grey frame has no colour to put right.</p>;
  const set = (next: WhiteBalance, merge?: string) =>
    change((old) => withCorrections(old, (corrections) => ({ ...corrections, whiteBalance: next })), merge);
  const light = whiteBalance.kind === 'temperature' ? whiteBalance : NEUTRAL_LIGHT;
  return (
    <>
      <div className="tray-block">
        <div className="tray-buttons">
          <Button size="sm" variant={isPicking ? 'primary' : 'outline-primary'} onClick={() => setPicking(!isPicking)}>
            {isPicking ? 'Picking …' : 'Pick a grey place'}
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={whiteBalance.kind === 'as-taken'}
            onClick={() => set({ kind: 'as-taken' })}
          >
            As taken
          </Button>
        </div>
        <p className="hint">
          {whiteBalance.kind === 'as-taken' && 'The colours are as they were taken.'}
          {whiteBalance.kind === 'picked' &&
            `Grey at ${whiteBalance.x}, ${whiteBalance.y}: red × ${whiteBalance.gains[0].toFixed(2)}, green × ${whiteBalance.gains[1].toFixed(2)}, blue × ${whiteBalance.gains[2].toFixed(2)}.`}
          {whiteBalance.kind === 'temperature' && 'What this light fell on becomes neutral.'}
        </p>
      </div>
      <div className="tray-sliders two">
        <SettingSlider
          name="Light’s colour"
          unit="K"
          least={KELVIN.least}
          most={KELVIN.most}
          step={50}
          isFineBelow
          value={light.kelvin}
          automatic={KELVIN.neutral}
          isAuto={light.kelvin === KELVIN.neutral}
          restsAt={light.kelvin === KELVIN.neutral ? 'changes nothing' : undefined}
          help="The colour temperature of the light the picture was taken in: lamps 2 800 K, noon 5 500 K, shade 7 500 K."
          onChange={(kelvin) => set({ ...light, kelvin }, 'kelvin')}
          onAutomatic={() => set({ ...light, kelvin: KELVIN.neutral })}
        />
        <SettingSlider
          name="Magenta to green"
          {...GREEN_MAGENTA}
          step={1}
          value={light.greenMagenta}
          automatic={0}
          isAuto={light.greenMagenta === 0}
          restsAt={light.greenMagenta === 0 ? 'changes nothing' : undefined}
          help="The light was greener (above 0) or more magenta (below 0) than daylight."
          onChange={(greenMagenta) => set({ ...light, greenMagenta }, 'green magenta')}
          onAutomatic={() => set({ ...light, greenMagenta: 0 })}
        />
      </div>
    </>
  );
}
