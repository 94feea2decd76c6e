import { Link } from 'react-router';
import type { SheetFrame } from '@vitrocept/server';
import { exposureText } from '../parts/exposureText';
import { PILE_NAMES } from '../words';
import { cropAddress } from './cropOf';
import { PileMark } from './pileMarks';
import { faultSentence, pileOfFrame } from './sheetFrame';

/** px; cards are as wide as this at least. */
export const CARD = { width: 228, cropHeight: 150, height: 254, gap: 10 };

interface FrameCardProps {
  readonly frame: SheetFrame;
  readonly width: number;
  readonly isWhole: boolean;
  readonly isSelected: boolean;
  onSelect(isRange: boolean): void;
}

/** A frame on the sheet: its subject at 100 % or all of it, and what a look at it told. */
export function FrameCard({ frame, width, isWhole, isSelected, onSelect }: FrameCardProps) {
  const { state, sortedAs, error, exposure, alsoIn, pileByHand } = frame;
  const pile = pileOfFrame(frame);
  return (
    <div className={`frame-place ${isSelected ? 'is-selected' : ''}`} data-frame={frame.id} style={{ width }}>
      <Link to={`/frames/${frame.id}`} className="card-plain frame-card">
        <div className={`frame-picture ${isWhole ? '' : 'is-crop'}`}>
          <img
            key={isWhole ? 'whole' : 'crop'}
            src={isWhole ? `/api/frames/${frame.id}/view.jpg?side=480` : cropAddress(frame, width, CARD.cropHeight)}
            alt=""
          />
          {frame.hasChoice && <span className="chosen-mark">recovery chosen</span>}
        </div>
        <div className="frame-name">
          <strong title={frame.name}>{frame.name}</strong>
          <span className="figure">{exposure.iso ? `ISO ${exposure.iso}` : ''}</span>
        </div>
        <div className="text-soft frame-line">{exposureText(exposure)}</div>
        {state === 'waiting' && <div className="text-soft frame-line">being measured …</div>}
        {state === 'failed' && (
          <div className="frame-line" title={error ?? ''}>
            Not measured: {error}
          </div>
        )}
        {sortedAs && (
          <>
            <div className="frame-line">{faultSentence(frame)}</div>
            <div className="text-soft frame-line">
              {pile && <PileMark pile={pile} />} {pile && PILE_NAMES[pile]}
              {pileByHand && ' by hand'} · noise {sortedAs.noisePercent.toFixed(1)} %
            </div>
          </>
        )}
        {alsoIn.length > 0 && (
          <div className="text-soft frame-line" title={`The same file lies in ${alsoIn.join(', ')}.`}>
            also in {alsoIn.join(', ')}
          </div>
        )}
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
