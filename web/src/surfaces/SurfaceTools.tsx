import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import type { KeyPoint } from '../input/keyPointer';
import type { Placement } from './placement';

interface SurfaceToolsProps {
  /** Px of the page per px of the frame; null while nothing is shown. */
  readonly scale: number | null;
  zoom(factor: number): void;
  onFit(): void;
}

export function SurfaceTools({ scale, zoom, onFit }: SurfaceToolsProps) {
  return (
    <div className="surface-tools">
      <button type="button" onClick={() => zoom(1 / 1.5)} aria-label="Zoom out">
        <ZoomOut size={15} aria-hidden />
      </button>
      <span className="figure" aria-label="Magnification">
        {scale === null ? '–' : Math.round(scale * 100)} %
      </span>
      <button type="button" onClick={() => zoom(1.5)} aria-label="Zoom in">
        <ZoomIn size={15} aria-hidden />
      </button>
      <button type="button" onClick={onFit} aria-label="Fit the whole frame">
        <Maximize2 size={15} aria-hidden />
      </button>
    </div>
  );
}

/** Where the keys point. */
export function KeyPointMark({ point, placement: { scale, x, y } }: { point: KeyPoint; placement: Placement }) {
  return (
    <span
      className={`key-point ${point.isDown ? 'is-down' : ''}`}
      style={{ left: x + (point.x + 0.5) * scale, top: y + (point.y + 0.5) * scale }}
      role="status"
      aria-label={`At ${Math.round(point.x)}, ${Math.round(point.y)} px${point.isDown ? ', drawing' : ''}`}
    />
  );
}

interface PictureNoteProps {
  /** Tries once more what failed; null where nothing did. */
  readonly again: (() => void) | null;
  readonly isComing: boolean;
  readonly hasPicture: boolean;
}

/** Says what of the picture is not there yet, or could not be loaded. */
export function PictureNote({ again, isComing, hasPicture }: PictureNoteProps) {
  if (again) {
    return (
      <span className="surface-note" role="alert">
        The picture could not be loaded.{' '}
        <button type="button" className="link-button" onClick={again}>
          Try again
        </button>
      </span>
    );
  }
  if (!isComing) return null;
  return (
    <span className="surface-note">
      {hasPicture ? 'its finest pixels are still being loaded …' : 'loading the picture …'}
    </span>
  );
}
