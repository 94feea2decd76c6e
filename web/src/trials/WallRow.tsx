import type { Probe } from '@vitrocept/core';
import { WallCell } from '../parts/WallCell';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import type { CellSize } from './useCellSize';
import type { WallProps } from './wallProps';

interface WallRowProps extends WallProps {
  readonly probe: Probe;
  readonly row: number;
  readonly cell: CellSize;
}

/** One probe: the original, every trial and every version at the same place. */
export function WallRow({ probe, row, cell: size, ...props }: WallRowProps) {
  const { frame, prescription, columns, versions, selected, figures, beneath, isHeld } = props;
  const { magnification, pans, pan, isHoldingOne, enter } = useWallStore();
  const { trials } = prescription;
  const offset = pans[probe.id] ?? { x: 0, y: 0 };
  const cell = {
    frame,
    original: beneath,
    centre: { x: probe.x + offset.x, y: probe.y + offset.y },
    magnification,
    ...size,
    onPan: (x: number, y: number) => pan(probe.id, x, y),
  };
  return (
    <div className="wall-row" role="row">
      <ProbeName probe={probe} row={row} />
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
}

function ProbeName({ probe, row }: { readonly probe: Probe; readonly row: number }) {
  const change = useFrameStore((state) => state.change);
  return (
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
  );
}
