import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';

interface OverviewToolsProps {
  /** How many times the whole frame is enlarged. */
  readonly times: number;
  zoom(factor: number): void;
  onFit(): void;
  /** Null where no probes are placed. */
  readonly onLarge: (() => void) | null;
}

export function OverviewTools({ times, zoom, onFit, onLarge }: OverviewToolsProps) {
  return (
    <div className="overview-tools">
      <button type="button" onClick={() => zoom(1 / 1.6)} disabled={times <= 1} aria-label="Overview smaller">
        <ZoomOut size={14} aria-hidden />
      </button>
      <span className="figure">× {times.toFixed(1)}</span>
      <button type="button" onClick={() => zoom(1.6)} aria-label="Overview larger">
        <ZoomIn size={14} aria-hidden />
      </button>
      <button type="button" onClick={onFit} disabled={times <= 1} aria-label="Whole frame in the Overview">
        <Maximize2 size={14} aria-hidden />
      </button>
      {onLarge && (
        <button type="button" className="link-button" onClick={onLarge}>
          Place on the large view
        </button>
      )}
    </div>
  );
}
