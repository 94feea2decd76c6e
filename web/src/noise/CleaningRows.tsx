import { useMemo } from 'react';
import { asTaken, cleanedOnly } from '@vitrocept/core';
import { NoiseGrid, type NoiseColumn, type NoiseView } from './NoiseGrid';

const CELL = { width: 298, height: 190 };

/** At every probe: the original, cleaned, and what was removed, which must look like noise. */
export function CleaningRows({ prescription, ...view }: NoiseView) {
  const original = useMemo(() => asTaken(prescription), [prescription]);
  const columns = useMemo((): NoiseColumn[] => {
    const cleaned = cleanedOnly(prescription);
    return [
      { name: 'Cleaned', head: <strong>Cleaned</strong>, column: cleaned, foot: 'sentence' },
      {
        name: 'Removed, × 4',
        head: (
          <>
            <strong>Removed, × 4</strong>
            <span className="noise-help">must look like noise and show no edges</span>
          </>
        ),
        // While nothing is cleaned nothing is removed.
        column: prescription.cleaning ? { ...cleaned, shows: 'removed' } : cleaned,
        foot: 'check',
        drawsPlaces: true,
      },
    ];
  }, [prescription]);
  return <NoiseGrid {...view} label="Cleaning at the probes" original={original} columns={columns} cell={CELL} />;
}
