import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link } from 'react-router';
import { PILES } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { useShoots } from '../api/queries';
import { RenameDialog } from '../parts/RenameDialog';
import { BeginRound } from '../rounds/BeginRound';
import { PileMark } from '../sort/pileMarks';
import { KEY_OF_PILE, pileOfFrame } from '../sort/sheetFrame';
import type { Sorting } from '../sort/useSorting';
import { PILE_NAMES } from '../words';

interface SelectionBarProps {
  readonly shootId: string;
  readonly frames: readonly SheetFrame[];
  readonly selected: ReadonlySet<string>;
  readonly sorting: Sorting;
  onSelect(selected: ReadonlySet<string>): void;
}

/** What is chosen of the sheet, by pile or all, and what is done with it. */
export function SelectionBar({ shootId, frames, selected, sorting, onSelect }: SelectionBarProps) {
  const [begins, setBegins] = useState(false);
  const [renames, setRenames] = useState(false);
  const { data: shoots } = useShoots();
  const take = (some: readonly SheetFrame[]) => onSelect(new Set(some.map(({ id }) => id)));
  const chosen = frames.filter(({ id }) => selected.has(id));
  const others = shoots?.filter(({ id }) => id !== shootId) ?? [];
  if (frames.length === 0) return null;
  return (
    <div className="selection-bar" role="group" aria-label="Chosen frames">
      <span className="text-soft">choose</span>
      <button type="button" className="link-button" onClick={() => take(frames)}>
        all
      </button>
      {PILES.map((pile) => {
        const own = frames.filter((frame) => pileOfFrame(frame) === pile);
        return (
          own.length > 0 && (
            <button key={pile} type="button" className="link-button" onClick={() => take(own)}>
              <PileMark pile={pile} /> {PILE_NAMES[pile].toLowerCase()} ({own.length})
            </button>
          )
        );
      })}
      {chosen.length > 0 && (
        <>
          <button type="button" className="link-button" onClick={() => onSelect(new Set())}>
            none
          </button>
          <Button size="sm" onClick={() => setBegins(true)}>
            Use a kept prescription on {chosen.length}
          </Button>
          <Dropdown>
            <Dropdown.Toggle size="sm" variant="outline-primary">
              Put into
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {PILES.map((pile) => (
                <Dropdown.Item key={pile} as="button" onClick={() => sorting.putInto(chosen, pile)}>
                  <PileMark pile={pile} /> {PILE_NAMES[pile]} <kbd>{KEY_OF_PILE[pile]}</kbd>
                </Dropdown.Item>
              ))}
              {others.length > 0 && <Dropdown.Header>move to the shoot</Dropdown.Header>}
              {others.map((shoot) => (
                <Dropdown.Item key={shoot.id} as="button" onClick={() => sorting.move(chosen, shoot)}>
                  {shoot.name}
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
          {chosen.length === 1 && (
            <>
              <button type="button" className="link-button" onClick={() => setRenames(true)}>
                rename
              </button>
              <Link
                to={`/practice?spec=${encodeURIComponent(JSON.stringify({ scene: chosen[0].id }))}`}
                title="A sharp frame becomes the scene of the practice camera: its truth is known"
              >
                photograph it again
              </Link>
            </>
          )}
          <button type="button" className="link-button" onClick={() => sorting.remove(chosen)}>
            remove {chosen.length}
          </button>
        </>
      )}
      {renames && chosen.length === 1 && (
        <RenameDialog
          what="the frame"
          name={chosen[0].name}
          onRename={(name) => sorting.rename(chosen[0], name)}
          onHide={() => setRenames(false)}
        />
      )}
      {begins && <BeginRound frames={chosen} onHide={() => setBegins(false)} />}
    </div>
  );
}
