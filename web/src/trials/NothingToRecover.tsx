import Button from 'react-bootstrap/Button';
import { Link, useNavigate } from 'react-router';
import { addAllMethods, METHOD_DESCRIPTIONS, tryBoth, type AcceptedReading, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';
import { FrameSurface } from '../surfaces/FrameSurface';
import { LEFT_ALONE_WORDS } from '../words';

/** From here on noise is worth cleaning, % at mid-tone. */
const NOISY_PERCENT = 0.5;

interface NothingToRecoverProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly reading: AcceptedReading;
}

/** The original large, why it is left alone, and what could still be tried. */
export function NothingToRecover({ frame, prescription, reading }: NothingToRecoverProps) {
  const change = useFrameStore((state) => state.change);
  const navigate = useNavigate();
  const { noisePercent, runnerUp, leftAlone, finestNowPx } = reading.measured;
  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const isNoisy = noisePercent >= NOISY_PERCENT && !prescription.cleaning;
  return (
    <div className="nothing-to-recover">
      <div className="nothing-picture">
        <FrameSurface frame={frame} label="The original" />
      </div>
      <section className="nothing-why" aria-label="Nothing to recover">
        <h2>Nothing to recover</h2>
        <p>
          {reading.auto
            ? (leftAlone && LEFT_ALONE_WORDS[leftAlone]) || 'No blur was found that could be taken back.'
            : 'Set by hand to nothing.'}{' '}
          Detail of {finestNowPx.toFixed(1)} px is there now.
        </p>
        <p className="text-soft">What could still be tried:</p>
        <div className="nothing-acts">
          {isNoisy && (
            <Button size="sm" onClick={() => void navigate('../noise')}>
              Clean the noise ({noisePercent.toFixed(1)} %)
            </Button>
          )}
          {runnerUp && (
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => change((old) => tryBoth(old, [runnerUp], middle, newId))}
            >
              Try {METHOD_DESCRIPTIONS[runnerUp].name} all the same
            </Button>
          )}
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() =>
              change((old) => {
                const probes = old.probes.length > 0 ? old.probes : [{ id: newId(), name: '', ...middle }];
                return addAllMethods({ ...old, probes }, newId);
              })
            }
          >
            All methods on Automatic
          </Button>
          <Link to="../measure">Measure another place</Link>
        </div>
      </section>
    </div>
  );
}
