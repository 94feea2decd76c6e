import { moveInGrid } from '../input/arrowKeys';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import { TrialHead } from './TrialHead';
import { VersionHead } from './VersionHead';
import { WallAfar } from './WallAfar';
import { CELL, type WallProps } from './wallProps';
import { WallRow } from './WallRow';

/** Probes down, trials across, every cell the same pixels at the same magnification. */
export function Wall(props: WallProps) {
  const { prescription, versions, selected } = props;
  const { select, showsFromAfar } = useWallStore();
  const { trials, probes } = prescription;
  return (
    <div className="wall" role="grid" aria-label="Wall" onKeyDown={moveInGrid}>
      <div className="wall-row wall-heads" role="row">
        <div className="wall-side" role="columnheader" aria-label="Probe" />
        <div className="trial-head is-original" role="columnheader" style={{ width: CELL.width }}>
          <strong>Original</strong>
          <span className="figure">as taken</span>
        </div>
        {trials.map((trial, i) => (
          <TrialHead
            key={trial.id}
            trial={trial}
            index={i}
            width={CELL.width}
            prescription={prescription}
            isSelected={trial === selected}
            onSelect={() => select(trial.id)}
          />
        ))}
        {versions.map((version, i) => (
          <VersionHead key={version.id} version={version} letter={trialLetter(trials.length + i)} width={CELL.width} />
        ))}
      </div>
      {showsFromAfar && <WallAfar {...props} />}
      {probes.map((probe, row) => (
        <WallRow key={probe.id} {...props} probe={probe} row={row} />
      ))}
    </div>
  );
}
