import Button from 'react-bootstrap/Button';
import { gradeSentence, type AlarmOutcome, type PlaceGrade } from '@vitrocept/core';
import type { PracticeGrade } from '@vitrocept/server';
import { useGrade, usePracticeCase, useTruth } from '../api/practiceQueries';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import './practice.css';

/** Of a frame that the practice camera took: what is chosen, held against the truth. */
export function GradeCard({ frame }: { frame: FrameDetail }) {
  const { data: known } = usePracticeCase(frame.id);
  const saveNow = useFrameStore((state) => state.saveNow);
  const grade = useGrade(frame.id);
  if (!known) return null;
  const found = grade.data ?? known.grade;
  const ask = async () => {
    if ((await saveNow(frame.id)) !== null) await grade.mutateAsync();
  };
  return (
    <section className="card-plain" aria-label="Practice grade">
      <div className="card-head">
        <h2>Practice</h2>
        <TruthButton frame={frame} />
      </div>
      <Button size="sm" disabled={grade.isPending} onClick={() => void ask().catch(() => undefined)}>
        {grade.isPending ? 'Grading, about half a minute …' : found ? 'Grade it again' : 'Grade it'}
      </Button>
      {grade.error && (
        <p className="text-damaged" role="alert">
          {grade.error.message}
        </p>
      )}
      {found && <Graded found={found} frame={frame} />}
    </section>
  );
}

function Graded({ found: { grade, probes, squares }, frame }: { found: PracticeGrade; frame: FrameDetail }) {
  return (
    <>
      <p role="status">{gradeSentence(grade)}</p>
      <dl className="facts">
        <dt>PSNR</dt>
        <dd className="figure">
          {grade.psnr.toFixed(1)} dB ({grade.gain < 0 ? '−' : '+'}
          {Math.abs(grade.gain).toFixed(1)})
        </dd>
        <dt>SSIM</dt>
        <dd className="figure">{grade.ssim.toFixed(3)}</dd>
        <dt>Invented</dt>
        <dd className="figure">{(100 * grade.invented).toFixed(0)} % of the detail</dd>
        <dt>Halo</dt>
        <dd className="figure">{grade.halo.toFixed(1)} levels</dd>
        <dt>Colour</dt>
        <dd className="figure">{grade.colour.toFixed(1)} levels</dd>
      </dl>
      {probes.length > 0 && (
        <ul className="practice-probes">
          {probes.map((place, i) => (
            <li key={`${place.x} ${place.y}`}>
              <OutcomeMark outcome={place.outcome} /> {place.name || `probe ${i + 1}`}: {place.outcome}
            </li>
          ))}
        </ul>
      )}
      <AlarmMap squares={squares} frame={frame} />
      {squares.length > 0 && (
        <p className="hint">
          Unproven detail is judged as if all of the recovery were taken: the smaller the amount, the less of it is
          there.
        </p>
      )}
    </>
  );
}

const SHOWN: readonly AlarmOutcome[] = ['right alarm', 'missed', 'false alarm', 'rightly quiet'];

/** Where the audit was right: shapes, never colours alone. */
function AlarmMap({ squares, frame }: { squares: readonly PlaceGrade[]; frame: FrameDetail }) {
  const judged = squares.filter(({ outcome }) => outcome !== 'not judged');
  if (judged.length === 0) return <p className="hint">Nothing was recovered, so the audit had nothing to judge.</p>;
  const count = (outcome: AlarmOutcome) => judged.filter((place) => place.outcome === outcome).length;
  return (
    <>
      <svg
        className="alarm-map"
        viewBox={`0 0 ${frame.width} ${frame.height}`}
        role="img"
        aria-label={SHOWN.map((outcome) => `${outcome} ${count(outcome)}`).join(', ')}
      >
        <image
          href={`/api/frames/${frame.id}/view.jpg?side=480`}
          width={frame.width}
          height={frame.height}
          opacity={0.45}
        />
        {judged.map(({ x, y, width, height, outcome }) => (
          <g key={`${x} ${y}`} transform={`translate(${x + width / 2} ${y + height / 2}) scale(3.2)`}>
            <Shape outcome={outcome} />
          </g>
        ))}
      </svg>
      <ul className="alarm-legend">
        {SHOWN.map((outcome) => (
          <li key={outcome}>
            <OutcomeMark outcome={outcome} /> {outcome} <span className="figure">{count(outcome)}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

const OutcomeMark = ({ outcome }: { outcome: AlarmOutcome }) => (
  <svg className="outcome-mark" viewBox="-7 -7 14 14" aria-hidden>
    <Shape outcome={outcome} />
  </svg>
);

/** Solid where there is damage, open where there is none; square where the audit spoke, round where it was silent. */
function Shape({ outcome }: { outcome: AlarmOutcome }) {
  switch (outcome) {
    case 'right alarm':
      return <rect x={-5} y={-5} width={10} height={10} className="is-damage" />;
    case 'false alarm':
      return <rect x={-5} y={-5} width={10} height={10} className="is-fine" />;
    case 'missed':
      return <circle r={5.5} className="is-damage" />;
    case 'rightly quiet':
      return <circle r={4} className="is-fine" />;
    case 'not judged':
      return <path d="M-5 0h10" className="is-fine" />;
  }
}

/** The truth beside the trials on the Wall, as a version made elsewhere. */
function TruthButton({ frame }: { frame: FrameDetail }) {
  const truth = useTruth(frame.id);
  if (truth.isSuccess) return <span className="text-soft">the truth is on the Wall</span>;
  return (
    <span>
      <button type="button" className="link-button" disabled={truth.isPending} onClick={() => truth.mutate()}>
        truth on the Wall
      </button>
      {truth.error && <span className="text-damaged"> {truth.error.message}</span>}
    </span>
  );
}
