import { useMemo } from 'react';
import { asTaken, cleanedOnly, type Prescription, type Probe } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import type { Column } from '../../surfaces/tileKeys';
import { NoiseCell } from './NoiseCell';

const CELL = { width: 298, height: 190 };
const COLUMNS = ['Original', 'Cleaned', 'Removed, × 4'] as const;

interface CleaningRowsProps {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly probes: readonly Probe[];
  readonly beneath: Prescription;
  readonly isHeld: boolean;
}

/** At every probe: the original, cleaned, and what was removed, which must look like noise. */
export function CleaningRows({ frame, prescription, probes, beneath, isHeld }: CleaningRowsProps) {
  const shown = useMemo((): Column[] => {
    const cleaned = cleanedOnly(prescription);
    return [asTaken(prescription), cleaned, { ...cleaned, shows: 'removed' }];
  }, [prescription]);
  return (
    <div className="wall" role="grid" aria-label="Cleaning at the probes">
      <div className="wall-row wall-heads" role="row">
        <div className="wall-side" role="columnheader" aria-label="Probe" />
        {COLUMNS.map((name, i) => (
          <div key={name} className="trial-head" role="columnheader" style={{ width: CELL.width }}>
            <strong>{name}</strong>
            {i === 2 && <span className="text-soft">must look like noise and show no edges</span>}
          </div>
        ))}
      </div>
      {probes.map((probe, row) => (
        <div key={probe.id} className="wall-row" role="row">
          <div className="wall-side" role="rowheader">
            <span className="probe-number">{row + 1}</span>
          </div>
          {shown.map((column, i) => (
            <div key={COLUMNS[i]} role="gridcell">
              <NoiseCell
                {...CELL}
                frame={frame}
                column={i === 2 && !prescription.cleaning ? shown[0] : column}
                beneath={i === 0 ? shown[0] : beneath}
                isHeld={isHeld && i > 0}
                probe={probe}
                rank={row * 3 + i}
                label={`${COLUMNS[i]} at probe ${row + 1}`}
                drawsPlaces={i === 2}
                foot={i === 0 ? 'magnification' : i === 1 ? 'sentence' : 'check'}
              />
            </div>
          ))}
        </div>
      ))}
    </div>
  );
}
