import { useEffect, useRef } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { PILES } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { exposureText } from '../parts/exposureText';
import { PILE_NAMES } from '../words';
import { cropAddress } from './cropOf';
import { PileMark } from './pileMarks';
import { usePlace } from './usePlace';
import { faultSentence, KEY_OF_PILE, pileOfFrame } from './sheetFrame';

/** No crop is asked for that is larger, px. */
const MOST_WIDE = 2600;
const MOST_HIGH = 1600;

interface LargeLookProps {
  readonly frames: readonly SheetFrame[];
  readonly at: number;
  readonly isSelected: boolean;
  onGo(at: number): void;
  onSelect(): void;
  onPutInto(frame: SheetFrame, pile: (typeof PILES)[number]): void;
}

/** One frame after the other, its subject at 100 %, all of it beside. */
export function LargeLook({ frames, at, isSelected, onGo, onSelect, onPutInto }: LargeLookProps) {
  const stage = useRef<HTMLDivElement>(null);
  const place = usePlace(stage);
  const wide = Math.min(MOST_WIDE, Math.floor(place.width));
  const high = Math.min(MOST_HIGH, Math.floor(place.height));
  const frame = frames[at];
  const next = frames[at + 1];
  // The next one is there when it is asked for.
  useEffect(() => {
    if (next && wide > 0) new Image().src = cropAddress(next, wide, high);
  }, [next, wide, high]);
  const pile = pileOfFrame(frame);
  return (
    <section className="large-look" aria-label="One after the other">
      <div className="large-stage" ref={stage}>
        {wide > 0 && <img key={frame.id} src={cropAddress(frame, wide, high)} alt={`${frame.name}, at 100 %`} />}
      </div>
      <aside className="card-plain">
        <img src={`/api/frames/${frame.id}/view.jpg?side=480`} alt={`${frame.name}, all of it`} />
        <h2>
          {frame.name}{' '}
          <span className="text-soft">
            {at + 1} of {frames.length}
          </span>
        </h2>
        <div>{faultSentence(frame)}</div>
        {frame.sortedAs && (
          <div className="text-soft">
            noise {frame.sortedAs.noisePercent.toFixed(1)} % · finest detail now {frame.sortedAs.finestNowPx.toFixed(1)}{' '}
            px, to be had {frame.sortedAs.finestRecoverablePx.toFixed(1)} px
          </div>
        )}
        <div className="text-soft">
          {[frame.exposure.iso && `ISO ${frame.exposure.iso}`, exposureText(frame.exposure)]
            .filter(Boolean)
            .join(' · ')}
        </div>
        <div className="large-piles" role="group" aria-label="Pile">
          {PILES.map((own) => (
            <Button
              key={own}
              size="sm"
              variant="outline-primary"
              aria-pressed={pile === own}
              active={pile === own}
              onClick={() => onPutInto(frame, own)}
            >
              <kbd>{KEY_OF_PILE[own]}</kbd> <PileMark pile={own} /> {PILE_NAMES[own]}
            </Button>
          ))}
        </div>
        {frame.pileByHand && frame.sortedAs && (
          <div className="text-soft">by hand; measured as {PILE_NAMES[frame.sortedAs.pile].toLowerCase()}</div>
        )}
        <label>
          <input type="checkbox" checked={isSelected} onChange={onSelect} /> chosen <kbd>Space</kbd>
        </label>
        <div className="large-going">
          <Button size="sm" variant="outline-primary" disabled={at === 0} onClick={() => onGo(at - 1)}>
            ← before
          </Button>
          <Button size="sm" variant="outline-primary" disabled={!next} onClick={() => onGo(at + 1)}>
            next →
          </Button>
          <Link to={`/frames/${frame.id}`}>open</Link>
        </div>
      </aside>
    </section>
  );
}
