import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { PILES, type Pile } from '@vitrocept/core';
import type { FrameSummary } from '@vitrocept/server';
import { BeginRound } from '../rounds/BeginRound';
import { PILE_NAMES } from '../words';

interface SelectionBarProps {
  readonly frames: readonly FrameSummary[];
  readonly selected: ReadonlySet<string>;
  onSelect(selected: ReadonlySet<string>): void;
}

/** What is chosen of the sheet, by pile or all, and what is done with it. */
export function SelectionBar({ frames, selected, onSelect }: SelectionBarProps) {
  const [begins, setBegins] = useState(false);
  const ofPile = (pile: Pile) => frames.filter(({ firstReading }) => firstReading.reading?.pile === pile);
  const take = (some: readonly FrameSummary[]) => onSelect(new Set(some.map(({ id }) => id)));
  const chosen = frames.filter(({ id }) => selected.has(id));
  if (frames.length === 0) return null;
  return (
    <div className="selection-bar" role="group" aria-label="Chosen frames">
      <span className="text-soft">choose</span>
      <button type="button" className="link-button" onClick={() => take(frames)}>
        all
      </button>
      {PILES.filter((pile) => ofPile(pile).length > 0).map((pile) => (
        <button key={pile} type="button" className="link-button" onClick={() => take(ofPile(pile))}>
          {PILE_NAMES[pile].toLowerCase()} ({ofPile(pile).length})
        </button>
      ))}
      {chosen.length > 0 && (
        <>
          <button type="button" className="link-button" onClick={() => onSelect(new Set())}>
            none
          </button>
          <Button size="sm" onClick={() => setBegins(true)}>
            Use a kept prescription on {chosen.length}
          </Button>
        </>
      )}
      {begins && <BeginRound frames={chosen} onHide={() => setBegins(false)} />}
    </div>
  );
}
