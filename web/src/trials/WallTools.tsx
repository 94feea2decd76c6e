import type { Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { HoldButtons } from '../parts/HoldButtons';
import { MagnificationChoice } from '../parts/MagnificationChoice';
import { useWallStore } from '../stores/wallStore';
import { VersionArea } from './VersionArea';

interface WallToolsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly hasColumns: boolean;
  onLikeness(): void;
}

/** Under the Wall: magnification, stages to hold, rooms, versions from elsewhere. */
export function WallTools({ frame, prescription, hasColumns, onLikeness }: WallToolsProps) {
  const { showsFromAfar, setFromAfar } = useWallStore();
  return (
    <div className="wall-tools">
      <MagnificationChoice />
      <HoldButtons prescription={prescription} />
      <label>
        <input type="checkbox" checked={showsFromAfar} onChange={(event) => setFromAfar(event.target.checked)} /> whole
        subject
      </label>
      {hasColumns && (
        <button type="button" className="hold-button" onClick={onLikeness}>
          likeness <kbd>P</kbd>
        </button>
      )}
      <VersionArea frame={frame} />
      <span className="text-soft" title="Drag a cell to move the picture in it; the row follows">
        double-click: close look
      </span>
    </div>
  );
}
