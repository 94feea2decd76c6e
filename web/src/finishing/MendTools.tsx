import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { MOST_MEND_PX, MOST_MENDS, type Mend } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import type { Mending } from './useMending';

/** Small places covered from their surroundings. */
export function MendTools({ mends, mending }: { mends: readonly Mend[]; mending: Mending }) {
  const { picked } = mending;
  return (
    <>
      <div className="tray-block">
        <SettingSlider
          name="Brush"
          unit="px"
          least={3}
          most={MOST_MEND_PX}
          step={1}
          isFineBelow
          value={mending.sizePx}
          onChange={mending.setSizePx}
        />
        <p className="hint">
          {mends.length >= MOST_MENDS
            ? `${MOST_MENDS} places are mended: remove one first.`
            : 'Press on a drop or paint along a hair, a little wider than it is. A line that a recovery invented is better taken back:'}{' '}
          <Link to="../trials">paint the original back in Trials</Link>
        </p>
      </div>
      <div className="tray-block local-list">
        <ol aria-label="Mended places">
          {mends.map((mend, i) => (
            <li key={mend.id} className={mend === picked ? 'is-picked' : ''}>
              <button type="button" className="link-button" onClick={() => mending.pick(mend.id)}>
                {mend.stroke.points.length > 2 ? 'stroke' : 'spot'} {i + 1}
              </button>
              <button
                type="button"
                className="link-button"
                aria-label={`Remove mended place ${i + 1}`}
                onClick={() => mending.remove(mend.id)}
              >
                ×
              </button>
            </li>
          ))}
        </ol>
      </div>
      {picked && (
        <div className="tray-block">
          <SettingSlider
            name="Source turned"
            unit="°"
            least={-180}
            most={180}
            step={1}
            value={picked.turnDeg}
            automatic={0}
            isAuto={picked.turnDeg === 0}
            restsAt={picked.turnDeg === 0 ? 'as it lies' : undefined}
            onChange={(value) => mending.turn(picked.id, value)}
            onAutomatic={() => mending.turn(picked.id, 0)}
          />
          <Button size="sm" variant="outline-primary" onClick={() => mending.again(picked)}>
            Find a source again
          </Button>
          <p className="hint">Drag the dashed ring to take it from elsewhere.</p>
        </div>
      )}
    </>
  );
}
