import type { OutsideVersion } from '@vitrocept/server';
import type { Figures, Prescription, Region, Trial } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { VersionHead } from './VersionHead';
import { moveInGrid } from '../input/arrowKeys';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import type { Column } from '../surfaces/tileKeys';
import { WallCell } from '../parts/WallCell';
import { trialLetter } from '../words';
import { TrialHead } from './TrialHead';

const CELL = { width: 177, height: 124 };

interface WallProps {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly columns: {
    readonly original: Prescription;
    readonly trials: readonly Prescription[];
    readonly outside: readonly Column[];
  };
  readonly versions: readonly OutsideVersion[];
  readonly selected: Trial | null;
  /** By column and probe; null while they are not known. */
  readonly figures: readonly (readonly (Figures | null)[])[];
  /** What cells show beneath, and alone while a key is held. */
  readonly beneath: Prescription;
  readonly isHeld: boolean;
  /** Seen whole from afar. */
  readonly subject: Region;
}

/** Probes down, trials across, every cell the same pixels at the same magnification. */
export function Wall({
  frame,
  prescription,
  columns,
  versions,
  selected,
  figures,
  beneath,
  isHeld,
  subject,
}: WallProps) {
  const change = useFrameStore((state) => state.change);
  const { magnification, pans, pan, select, isHoldingOne, enter, showsFromAfar } = useWallStore();
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
      {showsFromAfar && (
        <div className="wall-row" role="row">
          <div className="wall-side" role="rowheader">
            <span className="row-name">from afar</span>
          </div>
          {[columns.original, ...columns.trials, ...columns.outside].map((column, i) => (
            <div
              key={i === 0 ? 'original' : (trials[i - 1] ?? versions[i - 1 - trials.length]).id}
              role="gridcell"
              className={i === 0 ? 'is-pinned' : selected && trials[i - 1] === selected ? 'is-selected' : ''}
            >
              <WallCell
                frame={frame}
                original={beneath}
                prescription={column}
                centre={{ x: subject.x + subject.width / 2, y: subject.y + subject.height / 2 }}
                magnification={100 * Math.min(CELL.width / subject.width, CELL.height / subject.height, 1)}
                {...CELL}
                showOriginal={isHeld}
                showOriginalUnderPointer={isHoldingOne}
                rank={5000 + i}
                staysDraft
                figures={null}
                isUnnamed
                label={i === 0 ? 'Original from afar' : `Trial ${trialLetter(i - 1)} from afar`}
                onPan={() => undefined}
              />
            </div>
          ))}
        </div>
      )}
      {probes.map((probe, row) => {
        const offset = pans[probe.id] ?? { x: 0, y: 0 };
        const cell = {
          frame,
          original: beneath,
          centre: { x: probe.x + offset.x, y: probe.y + offset.y },
          magnification,
          ...CELL,
          onPan: (x: number, y: number) => pan(probe.id, x, y),
        };
        return (
          <div key={probe.id} className="wall-row" role="row">
            <div className="wall-side" role="rowheader">
              <input
                className="probe-name"
                value={probe.name}
                placeholder={`probe ${row + 1}`}
                aria-label={`Name of probe ${row + 1}`}
                maxLength={80}
                onChange={(event) => {
                  const name = event.target.value;
                  change(
                    (old) => ({
                      ...old,
                      probes: old.probes.map((other) => (other.id === probe.id ? { ...other, name } : other)),
                    }),
                    `name ${probe.id}`,
                  );
                }}
              />
              <span className="probe-number">{row + 1}</span>
            </div>
            <div role="gridcell" className="is-pinned">
              <WallCell
                {...cell}
                original={columns.original}
                prescription={columns.original}
                showOriginal={false}
                rank={row}
                figures={null}
                label={`Original at probe ${row + 1}`}
                isEntry={row === 0}
              />
            </div>
            {trials.map((trial, i) => (
              <div key={trial.id} role="gridcell" className={trial === selected ? 'is-selected' : ''}>
                <WallCell
                  {...cell}
                  prescription={columns.trials[i]}
                  showOriginal={isHeld}
                  showOriginalUnderPointer={isHoldingOne}
                  figures={figures[i]?.[row] ?? null}
                  onOpen={() => enter({ name: 'close', trialId: trial.id, probeId: probe.id })}
                  rank={(trial === selected ? 0 : 100) + row * 10 + i}
                  label={`Trial ${trialLetter(i)} at probe ${row + 1}`}
                />
              </div>
            ))}
            {versions.map((version, i) => (
              <div key={version.id} role="gridcell">
                <WallCell
                  {...cell}
                  prescription={columns.outside[i]}
                  showOriginal={isHeld}
                  showOriginalUnderPointer={isHoldingOne}
                  rank={100 + row * 10 + trials.length + i}
                  figures={figures[trials.length + i]?.[row] ?? null}
                  onOpen={() => enter({ name: 'close', trialId: version.id, probeId: probe.id })}
                  label={`Outside version ${trialLetter(trials.length + i)} at probe ${row + 1}`}
                />
              </div>
            ))}
          </div>
        );
      })}
    </div>
  );
}
