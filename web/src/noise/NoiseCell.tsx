import { cleaningFigures, regionOfProbe, type CleaningCheck, type Prescription, type Probe } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import type { Column } from '../surfaces/tileKeys';
import { WallCell } from '../parts/WallCell';
import { useWallStore } from '../stores/wallStore';
import { cleaningSentence } from '../words';
import { CheckFoot, CheckPlaces } from './CheckMarks';
import { useCleaningChecks } from './useCleaningChecks';

export type NoiseFoot = 'check' | 'sentence' | 'magnification';

interface NoiseCellProps {
  readonly frame: WorkerFrame;
  readonly column: Column;
  /** Shown beneath, and while a key is held. */
  readonly beneath: Prescription;
  readonly isHeld: boolean;
  readonly probe: Probe;
  readonly width: number;
  readonly height: number;
  readonly rank: number;
  readonly label: string;
  /** What was removed is shown: the places where more than noise went are drawn over it. */
  readonly drawsPlaces?: boolean;
  readonly foot: NoiseFoot;
}

/** One cell of the Noise step: a probe's pixels as a column shows them, and what the check says. */
export function NoiseCell(props: NoiseCellProps) {
  const { frame, column, beneath, isHeld, probe, width, height, rank, label, drawsPlaces } = props;
  const { magnification, pans, pan } = useWallStore();
  const offset = pans[probe.id] ?? { x: 0, y: 0 };
  const checks = useCleaningChecks(frame, column, probe, 200 + rank);
  const region = regionOfProbe(probe);
  const isNothingRemoved = drawsPlaces && !column.cleaning;
  return (
    <WallCell
      frame={frame}
      original={beneath}
      prescription={column}
      centre={{ x: probe.x + offset.x, y: probe.y + offset.y }}
      magnification={magnification}
      width={width}
      height={height}
      showOriginal={isHeld}
      rank={rank}
      label={label}
      figures={null}
      foot={footOf(props, checks, magnification)}
      overlay={
        isNothingRemoved
          ? () => <rect className="nothing-removed" width="100%" height="100%" />
          : drawsPlaces && checks
            ? (place, scale) => <CheckPlaces checks={checks} view={region} scale={scale} place={place} />
            : undefined
      }
      onPan={(x, y) => pan(probe.id, x, y)}
    />
  );
}

function footOf(
  { foot, column, probe, width }: NoiseCellProps,
  checks: readonly CleaningCheck[] | null,
  magnification: number,
) {
  if (foot === 'magnification') return <span className="figure">{magnification} %</span>;
  if (!column.cleaning) return <span className="text-soft">nothing is cleaned yet</span>;
  const figures = checks && cleaningFigures(checks, regionOfProbe(probe));
  if (foot === 'check') return <CheckFoot figures={figures} isNarrow={width < 240} />;
  return <span>{figures ? cleaningSentence(figures) : ''}</span>;
}
