import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { FrameSummary } from '@vitrocept/server';
import { useShoot } from '../api/queries';
import { Arrivals, DropArea } from './DropArea';
import { PileBar } from './PileBar';
import { PsfDrawing } from '../parts/PsfDrawing';
import { useBringIn } from './useBringIn';
import { exposureText } from '../parts/exposureText';
import { causeSentence, PILE_NAMES } from '../words';
import { filesForNextSheet } from './filesForNextSheet';
import { SelectionBar } from './SelectionBar';
import { pressed } from './selection';

/** The contact sheet of one shoot. */
export function ShootSheet() {
  const { shootId = '' } = useParams();
  const { data: shoot, error, isPending } = useShoot(shootId);
  const { arrivals, bringIn, isBusy, clear } = useBringIn();
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  /** The frame that was pressed last: with Shift all from there on are taken. */
  const last = useRef<string | null>(null);

  useEffect(() => {
    const files = filesForNextSheet.take(shootId);
    if (files.length > 0) void bringIn(shootId, files);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- files wait once per shoot
  }, [shootId]);

  if (error) return <main className="page text-damaged">{error.message}</main>;
  if (isPending) return <main className="page text-soft">Loading …</main>;
  return (
    <main className="page">
      <div className="sheet-head">
        <div>
          <h1>{shoot.name}</h1>
          <PileBar piles={shoot.piles} />
        </div>
        <DropArea text="Drop more frames here" onFiles={(files) => void bringIn(shootId, files)} />
      </div>
      <Arrivals arrivals={arrivals} isBusy={isBusy} onClear={clear} />
      {shoot.frames.length === 0 && arrivals.length === 0 && (
        <p className="text-soft">
          This shoot is empty. Drop JPEG, PNG or TIFF files above; each is measured as it comes in.
        </p>
      )}
      <SelectionBar frames={shoot.frames} selected={selected} onSelect={setSelected} />
      <div className="sheet">
        {shoot.frames.map((frame) => (
          <FrameCard
            key={frame.id}
            frame={frame}
            isSelected={selected.has(frame.id)}
            onSelect={(isRange) => setSelected(pressed(shoot.frames, selected, frame.id, isRange, last))}
          />
        ))}
      </div>
    </main>
  );
}

const MEASURED_WORDS = { subject: 'its subject', richest: 'where most detail is', whole: 'whole frame' };

interface FrameCardProps {
  readonly frame: FrameSummary;
  readonly isSelected: boolean;
  onSelect(isRange: boolean): void;
}

function FrameCard({ frame, isSelected, onSelect }: FrameCardProps) {
  const { state, reading, proposal, error } = frame.firstReading;
  return (
    <div className={`frame-place ${isSelected ? 'is-selected' : ''}`}>
      <Link to={`/frames/${frame.id}`} className="card-plain frame-card">
        <div className="frame-picture">
          <img src={`/api/frames/${frame.id}/view.jpg?side=480`} alt="" loading="lazy" />
        </div>
        <div className="frame-name">
          <strong>{frame.name}</strong>
          <span className="figure">{frame.exposure.iso ? `ISO ${frame.exposure.iso}` : ''}</span>
        </div>
        <div className="text-soft exposure">{exposureText(frame.exposure)}</div>
        {state === 'waiting' && <div className="text-soft frame-reading">being measured …</div>}
        {state === 'failed' && <div className="frame-reading">Not measured: {error}</div>}
        {reading && (
          <div className="frame-reading">
            <PsfDrawing
              method={reading.cause?.method ?? null}
              blurSizePx={reading.cause?.blurSizePx ?? 0}
              directionDeg={reading.cause?.directionDeg ?? 0}
              path={reading.cause?.path}
              side={34}
            />
            <div>
              <div>
                {causeSentence(
                  reading.cause?.method ?? null,
                  reading.cause?.blurSizePx ?? 0,
                  reading.cause?.directionDeg ?? 0,
                )}
              </div>
              <div className="text-soft">
                {PILE_NAMES[reading.pile]} · noise {reading.noisePercent.toFixed(1)} %
                {state === 'sorted' ? ' · at a first look' : proposal && ` · ${MEASURED_WORDS[proposal.over]}`}
              </div>
            </div>
          </div>
        )}
        {frame.hasChoice && <div className="chosen-mark">recovery chosen</div>}
      </Link>
      <input
        type="checkbox"
        className="frame-check"
        aria-label={`Choose ${frame.name}`}
        checked={isSelected}
        onChange={(event) => onSelect((event.nativeEvent as MouseEvent).shiftKey)}
      />
    </div>
  );
}
