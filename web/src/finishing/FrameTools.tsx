import Button from 'react-bootstrap/Button';
import {
  cropOf,
  enlargeBy,
  LONG_EDGE_PX,
  MOST_ENLARGE,
  MUCH_ENLARGED,
  MOST_STRAIGHTEN_DEG,
  mirror,
  sizeAfter,
  straighten,
  turnQuarter,
  withCrop,
  withGeometry,
  withLongEdge,
  withRatio,
  type Prescription,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { NumberField } from '../parts/NumberField';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import type { LevellingByLine } from './useLevelling';

interface FrameToolsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly ratio: number | null;
  setRatio(ratio: number | null): void;
  readonly levelling: LevellingByLine;
}

/** Crop, straighten, turn and mirror, enlarge. */
export function FrameTools({ frame, prescription, ratio, setRatio, levelling }: FrameToolsProps) {
  const change = useFrameStore((state) => state.change);
  const { geometry } = prescription;
  const crop = cropOf(prescription, frame);
  const factor = geometry?.enlarge ?? 1;
  const degrees = geometry?.straightenDeg ?? 0;
  const size = sizeAfter({ ...prescription, size: undefined }, frame);
  const final = sizeAfter(prescription, frame);
  const ratios: readonly (readonly [string, number])[] = [
    ['as taken', frame.width / frame.height],
    ['1 : 1', 1],
    ['5 : 4', 5 / 4],
    ['4 : 3', 4 / 3],
    ['3 : 2', 3 / 2],
    ['16 : 9', 16 / 9],
    ['4 : 5', 4 / 5],
    ['3 : 4', 3 / 4],
    ['2 : 3', 2 / 3],
    ['9 : 16', 9 / 16],
  ];
  const setCrop = (part: Partial<typeof crop>) => change((old) => withCrop(old, frame, { ...crop, ...part }), 'crop');
  const lies = (geometry?.quarterTurns ?? 0) % 2 === 1;
  return (
    <>
      <div className="tray-block">
        <label htmlFor="crop-ratio">Crop</label>
        <select
          id="crop-ratio"
          value={ratio === null ? '' : String(ratios.findIndex(([, value]) => value === ratio))}
          onChange={({ target }) => {
            if (target.value === '') {
              setRatio(null);
              return;
            }
            const [, value] = ratios[Number(target.value)];
            setRatio(value);
            change((old) => withRatio(old, frame, value));
          }}
        >
          <option value="">free</option>
          {ratios.map(([name], i) => (
            <option key={name} value={i}>
              {name}
            </option>
          ))}
        </select>
        <div className="crop-numbers figure">
          {(['x', 'y', 'width', 'height'] as const).map((side) => (
            <label key={side}>
              {side === 'x' ? 'left' : side === 'y' ? 'top' : side}
              <NumberField
                label={`Crop, ${side === 'x' ? 'left' : side === 'y' ? 'top' : side}`}
                value={crop[side]}
                least={side === 'width' || side === 'height' ? 1 : 0}
                most={side === 'x' || side === 'width' ? frame.width : frame.height}
                onChange={(value) => setCrop({ [side]: value })}
              />
            </label>
          ))}
        </div>
      </div>
      <div className="tray-block">
        <SettingSlider
          name="Straighten"
          unit="°"
          least={-MOST_STRAIGHTEN_DEG}
          most={MOST_STRAIGHTEN_DEG}
          step={0.1}
          value={degrees}
          automatic={0}
          isAuto={degrees === 0}
          restsAt={degrees === 0 ? 'as taken' : undefined}
          help="Turned clockwise by so much."
          onChange={(value) => change((old) => straighten(old, frame, value), 'straighten')}
          onAutomatic={() => change((old) => straighten(old, frame, 0))}
        />
        <Button
          size="sm"
          variant={levelling.isOn ? 'primary' : 'outline-primary'}
          onClick={() => levelling.setOn(!levelling.isOn)}
        >
          {levelling.isOn ? 'Draw along a horizon or a trunk' : 'Straighten by a line'}
        </Button>
      </div>
      <div className="tray-block">
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" onClick={() => change((old) => turnQuarter(old, -1))}>
            Turn left
          </Button>
          <Button size="sm" variant="outline-primary" onClick={() => change((old) => turnQuarter(old, 1))}>
            Turn right
          </Button>
          <Button
            size="sm"
            variant={geometry?.isMirrored ? 'primary' : 'outline-primary'}
            aria-pressed={geometry?.isMirrored ?? false}
            onClick={() => change(mirror)}
          >
            Mirror
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!geometry}
            onClick={() => {
              setRatio(null);
              change((old) => withGeometry(old, () => ({ crop: null, quarterTurns: 0 })));
            }}
          >
            Whole frame again
          </Button>
        </div>
        <p className="figure" role="status">
          {final.width} × {final.height} px
        </p>
      </div>
      <div className="tray-block">
        <SettingSlider
          name="Enlarge"
          unit="×"
          least={1}
          most={MOST_ENLARGE}
          step={0.05}
          value={factor}
          automatic={1}
          isAuto={factor === 1}
          restsAt={factor === 1 ? 'as large as it is' : undefined}
          onChange={(value) => change((old) => enlargeBy(old, value), 'enlarge')}
          onAutomatic={() => change((old) => enlargeBy(old, 1))}
        />
        <div className="crop-numbers figure">
          {(['width', 'height'] as const).map((side) => {
            const own = crop[lies ? (side === 'width' ? 'height' : 'width') : side];
            return (
              <label key={side}>
                {side}
                <NumberField
                  label={`Enlarged, ${side}`}
                  value={size[side]}
                  least={own}
                  most={Math.round(own * MOST_ENLARGE)}
                  onChange={(value) => change((old) => enlargeBy(old, value / own), 'enlarge')}
                />
              </label>
            );
          })}
        </div>
        <label className="figure smaller-edge">
          made smaller, long edge
          <NumberField
            label="Made smaller, long edge"
            value={prescription.size?.longEdgePx ?? Math.max(size.width, size.height)}
            least={LONG_EDGE_PX.least}
            most={Math.max(size.width, size.height)}
            onChange={(longEdgePx) => change((old) => withLongEdge(old, frame, longEdgePx), 'long edge')}
          />
        </label>
        {factor > MUCH_ENLARGED && (
          <p className="hint text-check">
            Over 4 × there is no more detail to show: look at it from the distance it is made for.
          </p>
        )}
      </div>
    </>
  );
}
