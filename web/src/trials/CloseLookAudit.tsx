import { LEAST_TAKEN_BACK, paintBack, type Figure, type Figures, type Probe } from '@vitrocept/core';
import { VerdictMark } from '../parts/AuditMarks';
import { PsfDrawing } from '../parts/PsfDrawing';
import { Unfinished } from '../parts/Unfinished';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { tileEngine } from '../surfaces/tileEngine';
import type { Column } from '../surfaces/tileKeys';
import { figureText, limitText, MEASURE_NAMES, MEASURES, worstSentence, type Measure } from '../words';

interface CloseLookAuditProps {
  readonly trial: Column;
  readonly probe: Probe;
  /** Null while it is being audited. */
  readonly figures: Figures | null;
  readonly tileKeys: readonly string[];
}

/** Every measure at the probe, with its place and what can be done there. */
export function CloseLookAudit({ trial, probe, figures, tileKeys }: CloseLookAuditProps) {
  const failure = tileKeys.map((key) => tileEngine.failureOf(key)).find((sentence) => sentence !== null);
  if (!figures) {
    return (
      <aside className="close-look-audit" aria-label="Audit at this probe">
        <Unfinished failure={failure ?? null} text="being audited …" />
      </aside>
    );
  }
  return (
    <aside className="close-look-audit" aria-label="Audit at this probe">
      <p>{worstSentence(figures, 'Here')}</p>
      <dl>
        {MEASURES.map((measure) => (
          <MeasureLine key={measure} measure={measure} figure={figures[measure]} trial={trial} probe={probe} />
        ))}
        <div>
          <dt>Detail gained</dt>
          <dd className="figure">
            {figures.gain
              ? `edges ${figures.gain.before.toFixed(1)} → ${figures.gain.after.toFixed(1)} px`
              : 'too few edges'}
          </dd>
        </div>
      </dl>
      <FittedNote parts={tileKeys} />
      <p className="text-soft">
        A mark says that the photograph does not back a place, not that it is wrong. One stroke: check. A cross:
        damaged. Judged at full strength.
      </p>
    </aside>
  );
}

interface MeasureLineProps {
  readonly measure: Measure;
  readonly figure: Figure;
  readonly trial: Column;
  readonly probe: Probe;
}

function MeasureLine({ measure, figure, trial, probe }: MeasureLineProps) {
  const change = useFrameStore((state) => state.change);
  const { pans, pan } = useWallStore();
  const offset = pans[probe.id] ?? { x: 0, y: 0 };
  const { at, verdict } = figure;
  return (
    <div>
      <dt>
        <VerdictMark verdict={verdict} /> {MEASURE_NAMES[measure]}
      </dt>
      <dd>
        <span className="figure">{figureText(measure, figure)}</span>{' '}
        <span className="text-soft">
          {verdict === 'not measurable' ? 'not measurable here' : `${verdict} · ${limitText(measure)}`}
        </span>
        {at && (verdict === 'check' || verdict === 'damaged') && (
          <span className="mark-acts">
            <button
              type="button"
              className="link-button"
              onClick={() => pan(probe.id, at.x - probe.x - offset.x, at.y - probe.y - offset.y)}
            >
              go there
            </button>
            {!trial.outside && (
              <button type="button" className="link-button" onClick={() => change((old) => paintBack(old, at, 24))}>
                paint original back here
              </button>
            )}
          </span>
        )}
      </dd>
    </div>
  );
}

/** How far a change without a blur model can be told as blur taken back. */
function FittedNote({ parts }: { parts: readonly string[] }) {
  const fitted = parts.map((key) => tileEngine.auditOf(key)?.fitted).find((blur) => blur);
  if (!fitted) return null;
  const { psf, takenBack } = fitted;
  const path = { side: psf.width, lengthPx: 1, values: Array.from(psf.data) };
  return (
    <p className="fitted-note">
      <PsfDrawing method="camera-shake" blurSizePx={psf.width} directionDeg={0} path={path} side={64} />
      <span>
        Taken back: <span className="figure">{Math.round(100 * takenBack)} %</span> of the change can be told as a blur
        undone{takenBack < LEAST_TAKEN_BACK ? '; too little to vouch for detail' : ''}. Drawn: that blur.
      </span>
    </p>
  );
}
