import type { ReactNode } from 'react';
import type { Prescription, Probe, Size } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import type { Column } from '../surfaces/tileKeys';
import { NoiseCell, type NoiseFoot } from './NoiseCell';

/** What every view of the Noise step is given. */
export interface NoiseView {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly probes: readonly Probe[];
  /** Shown beneath, and alone while a key is held. */
  readonly beneath: Prescription;
  readonly isHeld: boolean;
}

export interface NoiseColumn {
  readonly name: string;
  readonly head: ReactNode;
  readonly column: Column;
  readonly foot: NoiseFoot;
  /** What was removed is shown: the places where more than noise went are drawn over it. */
  readonly drawsPlaces?: boolean;
  readonly isSelected?: boolean;
}

interface NoiseGridProps extends Omit<NoiseView, 'prescription'> {
  readonly label: string;
  readonly original: Prescription;
  readonly columns: readonly NoiseColumn[];
  readonly cell: Size;
}

/** Probes down; the original and some ways to show it cleaned across. */
export function NoiseGrid({ label, frame, probes, beneath, isHeld, original, columns, cell }: NoiseGridProps) {
  return (
    <div className="wall" role="grid" aria-label={label}>
      <div className="wall-row wall-heads" role="row">
        <div className="wall-side" role="columnheader" aria-label="Probe" />
        <div className="trial-head is-original" role="columnheader" style={{ width: cell.width }}>
          <strong>Original</strong>
          <span className="figure">as taken</span>
        </div>
        {columns.map(({ name, head }) => (
          <div key={name} className="trial-head noise-head" role="columnheader" style={{ width: cell.width }}>
            {head}
          </div>
        ))}
      </div>
      {probes.map((probe, row) => (
        <div key={probe.id} className="wall-row" role="row">
          <div className="wall-side" role="rowheader">
            <span className="probe-number">{row + 1}</span>
          </div>
          <div role="gridcell" className="is-pinned">
            <NoiseCell
              {...cell}
              frame={frame}
              column={original}
              beneath={original}
              isHeld={false}
              probe={probe}
              rank={row}
              label={`Original at probe ${row + 1}`}
              foot="magnification"
            />
          </div>
          {columns.map(({ name, column, foot, drawsPlaces, isSelected }, i) => (
            <div key={name} role="gridcell" className={isSelected ? 'is-selected' : ''}>
              <NoiseCell
                {...cell}
                frame={frame}
                column={column}
                beneath={beneath}
                isHeld={isHeld}
                probe={probe}
                rank={20 + row * 10 + i}
                label={`${name} at probe ${row + 1}`}
                foot={foot}
                drawsPlaces={drawsPlaces}
              />
            </div>
          ))}
        </div>
      ))}
    </div>
  );
}
