import { useRef } from 'react';
import { moveInGrid } from '../input/arrowKeys';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import { TrialHead } from './TrialHead';
import { VersionHead } from './VersionHead';
import { WallAfar } from './WallAfar';
import { useCellSize } from './useCellSize';
import type { WallProps } from './wallProps';
import { WallRow } from './WallRow';

/** Probes down, trials across, every cell the same pixels at the same magnification. */
export function Wall(props: WallProps) {
  const { prescription, versions, selected } = props;
  const { select, showsFromAfar } = useWallStore();
  const { trials, probes } = prescription;
  const room = useRef<HTMLDivElement>(null);
  const columns = 1 + trials.length + versions.length;
  const cell = useCellSize(room, columns, probes.length + (showsFromAfar ? 1 : 0));
  return (
    <div className="wall" ref={room} role="grid" aria-label="Wall" onKeyDown={moveInGrid}>
      <div className="wall-row wall-heads" role="row">
        <div className="wall-side" role="columnheader" aria-label="Probe" />
        <div className="trial-head is-original" role="columnheader" style={{ width: cell.width }}>
          <strong>Original</strong>
          <span className="figure">as taken</span>
        </div>
        {trials.map((trial, i) => (
          <TrialHead
            key={trial.id}
            trial={trial}
            index={i}
            width={cell.width}
            prescription={prescription}
            isSelected={trial === selected}
            onSelect={() => select(trial.id)}
          />
        ))}
        {versions.map((version, i) => (
          <VersionHead key={version.id} version={version} letter={trialLetter(trials.length + i)} width={cell.width} />
        ))}
      </div>
      {showsFromAfar && <WallAfar {...props} cell={cell} />}
      {probes.map((probe, row) => (
        <WallRow key={probe.id} {...props} cell={cell} probe={probe} row={row} />
      ))}
    </div>
  );
}
